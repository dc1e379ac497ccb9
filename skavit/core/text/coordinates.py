"""Coordinates as people type them: decimal degrees, or degrees, minutes and seconds with a hemisphere."""

import re

from skavit.core.ground.errors import PlanError, quoted

_PARTS = re.compile(
    r"""(?P<lead>[NSEW])?\s*(?P<sign>[+\-\u2212])?\s*
    (?P<deg>\d{1,3}(?:\.\d+)?)\s*(?:[°:\s]\s*
    (?:(?P<min>\d{1,2}(?:\.\d+)?)\s*(?:['\u2032\u2019:\s]\s*)?
    (?:(?P<sec>\d{1,2}(?:\.\d+)?)\s*(?:["\u2033\u201d]|'')?)?)?)?
    \s*(?P<tail>[NSEW])?""",
    re.VERBOSE | re.IGNORECASE,
)
FORMS = {
    "latitude": "degrees from -90 to 90, such as -39.4902 or 39°29'25\"S",
    "longitude": "degrees from -180 to 180, such as 176.9180 or 176°55'05\"E",
}


def parse_degrees(text: str, axis: str) -> float:
    """Degrees of a latitude or longitude (``axis``), north and east positive; raises :class:`PlanError`."""
    limit, letters = (90, "NS") if axis == "latitude" else (180, "EW")
    match = _PARTS.fullmatch(text.strip().replace(",", "."))

    def refuse(wrong: str) -> PlanError:
        return PlanError(axis, wrong, FORMS[axis])

    if match is None:
        raise refuse(f"{quoted(text)} is no {axis}")
    letter = (match["lead"] or match["tail"] or "").upper()
    if (match["lead"] and match["tail"]) or (letter and match["sign"]):
        raise refuse(f"{quoted(text)} gives its side twice")
    if letter and letter not in letters:
        raise refuse(f"{letter} is no side of a {axis}")
    minutes, seconds = float(match["min"] or 0), float(match["sec"] or 0)
    if minutes >= 60 or seconds >= 60:
        raise refuse("minutes and seconds go to 59")
    degrees = float(match["deg"]) + minutes / 60 + seconds / 3600
    if degrees > limit:
        raise refuse(f"{quoted(text)} is beyond {limit} degrees")
    return -degrees if letter in ("S", "W") or match["sign"] in ("-", "\u2212") else degrees


def degrees_text(latitude: float, longitude: float) -> str:
    """A place as 39.4900 S, 176.9100 E."""
    return f"{abs(latitude):.4f} {'N' if latitude >= 0 else 'S'}, {abs(longitude):.4f} {'E' if longitude >= 0 else 'W'}"
