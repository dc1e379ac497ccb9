"""Daily weather from a CSV file, read strictly: a bad row is named by its line (docs/plan-file.md, "Weather")."""

import csv
import io
from dataclasses import dataclass, field
from datetime import date
from typing import NoReturn

import numpy as np

from skavit.core.ground.arrays import Floats, Ints
from skavit.core.ground.errors import UserError, quoted
from skavit.core.ground.strict_json import MAX_BYTES
from skavit.core.plan.times import day_number

MAX_DAYS = 50 * 366
REQUIRED = ("date", "tmin_c", "tmax_c")
# What each column may hold.
BOUNDS: dict[str, tuple[float, float]] = {
    "tmin_c": (-90, 60),
    "tmax_c": (-90, 60),
    "rh_min_pct": (0, 100),
    "rh_max_pct": (0, 100),
    "wind_m_s": (0, 120),
    "radiation_mj_m2": (0, 60),
    "rain_mm": (0, 2_000),
    "et0_mm": (-50, 50),
}


class WeatherError(UserError):
    """A line of a weather file is wrong."""

    def __init__(self, line: int, wrong: str, accepted: str) -> None:
        self.line, self.wrong, self.accepted = line, wrong, accepted
        super().__init__(f"line {line}: {wrong}; accepted: {accepted}")


@dataclass(frozen=True, slots=True, kw_only=True)
class Weather:
    """Consecutive dates; ``days`` of shape (n,), days since 1970-01-01, and each known column of the same shape."""

    days: Ints
    columns: dict[str, Floats] = field(default_factory=dict)

    def column(self, name: str) -> Floats | None:
        """A column, or None where the weather has none."""
        return self.columns.get(name)

    @property
    def rain_mm(self) -> Floats:
        """The rain of each date; none where nobody measured it."""
        found = self.columns.get("rain_mm")
        return np.zeros(self.days.shape) if found is None else found


def read_weather(data: bytes) -> Weather:
    """Weather from the bytes of a CSV file; raises :class:`WeatherError`."""
    if len(data) > MAX_BYTES:
        raise WeatherError(1, "a file larger than 16 MB", "a file of at most 16 MB")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise WeatherError(data[: error.start].count(b"\n") + 1, "no UTF-8", "CSV in UTF-8") from error
    rows = csv.reader(io.StringIO(text, newline=""), strict=True)
    days: list[int] = []
    values: list[list[float]] = []
    names: list[str] = []
    try:
        for row in rows:
            if not names:
                names = _header([name.strip() for name in row])
                continue
            day, found = _row(rows.line_num, names, row)
            if days and day != days[-1] + 1:
                _refuse(rows.line_num, "date", row[names.index("date")], "the date after that of the line before")
            days.append(day)
            values.append(found)
            if len(days) > MAX_DAYS:
                raise WeatherError(rows.line_num, f"more than {MAX_DAYS} dates", "at most 50 years")
    except csv.Error as error:
        raise WeatherError(rows.line_num, str(error), "comma-separated values") from error
    if not days:
        raise WeatherError(max(rows.line_num, 1), "no dates", f"a header with {', '.join(REQUIRED)}, and a row a date")
    table = np.array(values, dtype=np.float64).T
    measured = [name for name in names if name != "date"]
    return Weather(days=np.array(days, dtype=np.int64), columns=dict(zip(measured, table, strict=True)))


def _header(names: list[str]) -> list[str]:
    known = ["date", *BOUNDS]
    for place, name in enumerate(names):
        if name not in known:
            raise WeatherError(1, f"unknown column {quoted(name)}", ", ".join(known))
        if name in names[:place]:
            raise WeatherError(1, f"column {name} stands twice", "each column once")
    for name in REQUIRED:
        if name not in names:
            raise WeatherError(1, f"no column {name}", f"a header with {', '.join(REQUIRED)}")
    return names


def _row(line: int, names: list[str], row: list[str]) -> tuple[int, list[float]]:
    """The date of a row and its values in the order of the header."""
    if len(row) != len(names):
        raise WeatherError(line, f"{len(row)} values", f"{len(names)}, one for each column")
    cells = dict(zip(names, (cell.strip() for cell in row), strict=True))
    try:
        day = day_number(date.fromisoformat(cells["date"])) if len(cells["date"]) == len("2027-01-31") else None
    except ValueError:
        day = None
    if day is None:
        _refuse(line, "date", cells["date"], "a date such as 2027-01-31")
    found = {name: _number(line, name, cells[name]) for name in names if name != "date"}
    for low, high in (("tmin_c", "tmax_c"), ("rh_min_pct", "rh_max_pct")):
        if low in found and high in found and found[low] > found[high]:
            _refuse(line, low, cells[low], f"at most {high}, {cells[high]}")
    return day, list(found.values())


def _number(line: int, name: str, cell: str) -> float:
    low, high = BOUNDS[name]
    accepted = f"a number from {low:g} to {high:g}"
    try:
        value = float(cell)
    except ValueError:
        _refuse(line, name, cell, accepted)
    if not low <= value <= high or "_" in cell:
        _refuse(line, name, cell, accepted)
    return value


def _refuse(line: int, name: str, cell: str, accepted: str) -> NoReturn:
    raise WeatherError(line, f"{name} {quoted(cell)} is not accepted" if cell else f"{name} is empty", accepted)
