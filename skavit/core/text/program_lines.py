"""Programs of a watering controller as they are typed on a line: `A 04:30 05:50 tue thu sat; 1 18, 2 24; 130 %`."""

import re
from datetime import date
from typing import Any

from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.plan.water import Program
from skavit.core.text.typed import clock_word, date_typed, days_typed

PROGRAM_FORM = (
    "a name, start times, days or nothing; each station and its minutes; a percentage or nothing, such as: "
    "A 4:30am 5:50am tue thu sat; 1 18, 2 24; 130 %"
)
_TIME = re.compile(
    r"\d{1,2}[:.]\d{2}(?:\s?[ap]\.?m\.?)?|\d{1,2}\s?[ap]\.?m\.?|(?:dawn|sunrise|sunset|dusk)(?:[+-]\d+)?", re.IGNORECASE
)
_EVERY = re.compile(r"every (\d{1,3})(?:st|nd|rd|th)?(?: days?)?(?: from (.+))?", re.IGNORECASE)
_RUN = re.compile(r"(\d{1,3})\s*[:=]?\s+(\d+(?:\.\d+)?)(?:\s*min)?")
_PCT = re.compile(r"(\d+(?:\.\d+)?)\s*(?:%|percent|pct)")


def program_typed(text: str, path: str, stations: int, today: date) -> Program:
    """The program of a line; raises :class:`PlanError` with ``path`` for what is none.

    Interval days without a first date count from ``today``.
    """
    node = Node(text, path)
    head, *rest = (part.strip() for part in text.split(";"))
    name, _, tail = head.partition(" ")
    times = [match[0] for match in _TIME.finditer(tail)]
    days = " ".join(_TIME.sub(" ", tail).replace(",", " ").split())
    if not name or not times or not 1 <= len(rest) <= 2:
        node.refuse(PROGRAM_FORM)
    starts = [time.lower() if time[0].isalpha() else clock_word(time) for time in times]
    runs = [_run(part.strip(), node) for part in rest[0].split(",") if part.strip()]
    raw: dict[str, Any] = {"name": name, "days": _days(days, text, path, today), "starts": starts, "runs": runs}
    if len(rest) == 2 and rest[1]:
        match = _PCT.fullmatch(rest[1])
        if match is None:
            node.refuse(PROGRAM_FORM, f"{rest[1]!r} is no percentage")
        raw["adjust_pct"] = float(match[1])
    for run in runs:
        if not 1 <= run["station"] <= stations:
            raise PlanError(path, f"there is no station {run['station']}", f"a station from 1 to {stations}")
    try:
        return Program.read(Node(raw, path))
    except PlanError as error:
        raise PlanError(path, error.wrong, error.accepted) from error


def _run(text: str, node: Node) -> dict[str, Any]:
    match = _RUN.fullmatch(text)
    if match is None:
        node.refuse(PROGRAM_FORM, f"{text!r} is no station with its minutes")
    return {"station": int(match[1]), "run_min": float(match[2])}


def _days(text: str, line: str, path: str, today: date) -> Any:
    low = text.lower()
    if low in ("odd", "even", "odd dates", "even dates", "odd days", "even days"):
        return {"parity": low.split()[0]}
    if (match := _EVERY.fullmatch(low)) is not None:
        first = date_typed(match[2], path, today) if match[2] else today
        return {"every": int(match[1]), "from": first.isoformat()}
    return days_typed(text.split(), line, path, PROGRAM_FORM)
