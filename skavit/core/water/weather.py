"""Daily weather from a CSV file, read strictly: a bad row is named by its line (docs/plan-file.md, "Weather")."""

import csv
import io
import re
from dataclasses import dataclass, field
from datetime import date
from typing import NoReturn

import numpy as np

from skavit.core.ground.arrays import Floats, Ints
from skavit.core.ground.errors import UserError, quoted
from skavit.core.ground.strict_json import MAX_BYTES
from skavit.core.plan.times import day_number
from skavit.core.text.quantities import DEPTH, SPEED, TEMPERATURE, Measure

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
Units = dict[str, tuple[float, float]]  # a value of the format is a value of the unit, times the first, plus the second


def _units(measure: Measure) -> Units:
    own = {measure.unit.lower(): (1.0, 0.0)}
    return own | {unit: (factor, -measure.zero.get(unit, 0.0) * factor) for unit, factor in measure.others.items()}


_PERCENT: Units = {"%": (1, 0), "pct": (1, 0)}
# Names that people write with a unit behind, such as `rain (in)`: the column, and the units. A watt through a day is 0.0864 MJ.
QUANTITIES: dict[str, tuple[str, Units]] = {
    "tmin": ("tmin_c", _units(TEMPERATURE)),
    "tmax": ("tmax_c", _units(TEMPERATURE)),
    "rh_min": ("rh_min_pct", _PERCENT),
    "rh_max": ("rh_max_pct", _PERCENT),
    "rain": ("rain_mm", _units(DEPTH)),
    "et0": ("et0_mm", _units(DEPTH)),
    "wind": ("wind_m_s", _units(SPEED) | {"kn": (1852 / 3600, 0)}),
    "radiation": ("radiation_mj_m2", {"mj/m2": (1, 0), "w/m2": (0.0864, 0), "kwh/m2": (3.6, 0)}),
}
_NAMED = re.compile(r"(?P<name>[a-z0-9_ ]+?)\s*[(\[]\s*°?\s*(?P<unit>[^)\]]+?)\s*[)\]]")


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
    first = text.partition("\n")[0]
    between = max(",;\t", key=first.count)
    rows = csv.reader(io.StringIO(text, newline=""), strict=True, delimiter=between)
    days: list[int] = []
    values: list[list[float]] = []
    columns: list[_Column] = []
    try:
        for row in rows:
            if not columns:
                columns = _header([name.strip() for name in row])
                continue
            day, found = _row(rows.line_num, columns, row, comma=between != ",")
            if days and day != days[-1] + 1:
                place = [column.name for column in columns].index("date")
                _refuse(rows.line_num, "date", row[place], "the date after that of the line before")
            days.append(day)
            values.append(found)
            if len(days) > MAX_DAYS:
                raise WeatherError(rows.line_num, f"more than {MAX_DAYS} dates", "at most 50 years")
    except csv.Error as error:
        raise WeatherError(rows.line_num, str(error), "comma-separated values") from error
    if not days:
        raise WeatherError(max(rows.line_num, 1), "no dates", f"a header with {', '.join(REQUIRED)}, and a row a date")
    table = np.array(values, dtype=np.float64).T
    measured = [column.name for column in columns if column.name != "date"]
    return Weather(days=np.array(days, dtype=np.int64), columns=dict(zip(measured, table, strict=True)))


@dataclass(frozen=True, slots=True)
class _Column:
    """A column of the file: the format's name, and what makes a value of the file one of the format."""

    name: str
    factor: float = 1.0
    added: float = 0.0


def _header(names: list[str]) -> list[_Column]:
    columns = [_column(name) for name in names]
    found = [column.name for column in columns]
    for place, name in enumerate(found):
        if name in found[:place]:
            raise WeatherError(1, f"column {name} stands twice", "each column once")
    for name in REQUIRED:
        if name not in found:
            raise WeatherError(1, f"no column {name}", f"a header with {', '.join(REQUIRED)}")
    return columns


def _column(name: str) -> _Column:
    """A column by the format's name, or by a name with its unit in brackets."""
    plain = name.lower()
    if plain in ("date", *BOUNDS):
        return _Column(plain)
    match = _NAMED.fullmatch(plain)
    known = QUANTITIES.get(match["name"].replace(" ", "_")) if match else None
    if match is None or known is None:
        raise WeatherError(
            1, f"unknown column {quoted(name)}", f"{', '.join(['date', *BOUNDS])}; or with its unit, such as rain (in)"
        )
    unit = match["unit"].replace("²", "2").replace(" ", "")
    if unit not in known[1]:
        raise WeatherError(1, f"unknown unit {quoted(match['unit'])} of {match['name']}", ", ".join(known[1]))
    return _Column(known[0], *known[1][unit])


def _row(line: int, columns: list[_Column], row: list[str], *, comma: bool) -> tuple[int, list[float]]:
    """The date of a row and its values in the order of the header; ``comma``: decimals may stand behind one."""
    if len(row) != len(columns):
        raise WeatherError(line, f"{len(row)} values", f"{len(columns)}, one for each column")
    cells = {column.name: cell.strip() for column, cell in zip(columns, row, strict=True)}
    try:
        day = day_number(date.fromisoformat(cells["date"])) if len(cells["date"]) == len("2027-01-31") else None
    except ValueError:
        day = None
    if day is None:
        _refuse(line, "date", cells["date"], "a date such as 2027-01-31")
    measured = [column for column in columns if column.name != "date"]
    found = {column.name: _number(line, column, cells[column.name], comma=comma) for column in measured}
    for low, high in (("tmin_c", "tmax_c"), ("rh_min_pct", "rh_max_pct")):
        if low in found and high in found and found[low] > found[high]:
            _refuse(line, low, cells[low], f"at most {high}, {cells[high]}")
    return day, list(found.values())


def _number(line: int, column: _Column, cell: str, *, comma: bool) -> float:
    low, high = BOUNDS[column.name]
    accepted = f"a number from {low:g} to {high:g}"
    try:
        value = float(cell.replace(",", ".") if comma else cell) * column.factor + column.added
    except ValueError:
        _refuse(line, column.name, cell, accepted)
    if not low <= value <= high or "_" in cell:
        _refuse(line, column.name, cell, accepted)
    return value


def _refuse(line: int, name: str, cell: str, accepted: str) -> NoReturn:
    raise WeatherError(line, f"{name} {quoted(cell)} is not accepted" if cell else f"{name} is empty", accepted)
