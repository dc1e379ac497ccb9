"""What a plan can ask of a kind and its keys do not say: a sentence for each, none for a kind that is sound."""

from collections.abc import Iterator

from skavit.core.kinds.fields import acts_daily, field_text, fields_of, has_several
from skavit.core.kinds.kind import Kind
from skavit.core.kinds.offsets import AS_CLOCK_TIMES, IN_MINUTES
from skavit.core.sun import SunEvent

_PLACE = {
    "coordinates": (("latitude", "the latitude"), ("longitude", "the longitude")),
    "region": (("region", "the region"),),
    "table": (("table", "the latitude of its table"),),
}
_CORRECTION = {"minutes": IN_MINUTES, "clock-time": AS_CLOCK_TIMES}
_OWN_RULE = ("from_month", "from_week", "to_month", "to_week")


def lacks(kind: Kind) -> tuple[str, ...]:
    """What the keys of a kind do not say of what it can do; empty without keys, where the sheet has words alone."""
    if not kind.keys:
        return ()
    parts = (_clock, _sun, _memory, _beside, _watering, _heating)
    return tuple(f"The keys do not say {what}" for part in parts for what in part(kind))


def _unsaid(kind: Kind, name: str, *fields: str) -> list[str]:
    """The fields that a dialogue does not ask for, as one says them."""
    return [field_text(field) for field in fields if field not in fields_of(kind, name)]


def _clock(kind: Kind) -> Iterator[str]:
    yield from (f"the {field} of the clock" for field in _unsaid(kind, "clock", "hour", "minute"))
    if kind.clock.has_date:
        yield from (f"the {field} of the date" for field in _unsaid(kind, "date", "year", "month", "day"))
    elif not acts_daily(kind):
        yield from _unsaid(kind, "clock", "weekday")
    if len(kind.clock.rules) > 1:
        if _unsaid(kind, "rule", "rule"):
            yield "how a rule for daylight saving is chosen"
        elif "own" in kind.clock.rules and _unsaid(kind, "rule", *_OWN_RULE):
            yield "the months and weeks of a rule of its own"


def _sun(kind: Kind) -> Iterator[str]:
    asked = fields_of(kind, "place")
    yield from (f"how {what} is chosen" for field, what in _PLACE.get(kind.sun.place, ()) if field not in asked)
    corrections = _CORRECTION.get(kind.sun.offset, ())
    if kind.sun.place != "none":
        yield from (f"the correction of {field}" for field in _unsaid(kind, "correction", *corrections))
        if kind.sun.per_channel and kind.channels > 1 and corrections and _unsaid(kind, "correction", "channel"):
            yield "which output a correction is for"


def _memory(kind: Kind) -> Iterator[str]:
    if kind.watering is not None or kind.heating is not None:
        return
    asked = fields_of(kind, "slot")
    if not asked:
        yield "how an entry is keyed"
        return
    if kind.channels > 1 and "channel" not in asked:
        yield "how output 2 is chosen" if kind.channels == 2 else f"how outputs 2 to {kind.channels} are chosen"
    halves = ("on_", "off_") if kind.slot.shape == "pair" else ("",)
    for half in halves:
        yield from (f"the {field_text(half + f)} of an entry" for f in ("hour", "minute") if half + f not in asked)
    if kind.sun_events and not any(f"{half}event" in asked for half in halves):
        yield f"how an entry takes {_named(kind.sun_events)}"
    elif kind.sun_events and kind.sun.offset == "entry" and not any(f"{half}offset" in asked for half in halves):
        yield "the offset of an entry"
    single = {"single": "action", "run": "run"}.get(kind.slot.shape)
    if single and single not in asked:
        yield "whether an entry is ON or OFF" if single == "action" else "how long an entry runs"
    if not acts_daily(kind) and not asked & {"days", "mon"} and kind.limits.day_groups:
        yield "the days of an entry"


def _named(events: tuple[SunEvent, ...]) -> str:
    return " or ".join(event.name.lower() for event in events)


def _beside(kind: Kind) -> Iterator[str]:
    if kind.limits.holidays and _unsaid(kind, "holidays", "from_month", "from_day", "to_month", "to_day"):
        yield "the dates of a holiday"
    if len(kind.channel_modes) > 1 and _unsaid(kind, "channels", "channel_mode"):
        yield "how its channels switch"
    if len(kind.operating) > 1 and _unsaid(kind, "operating", "operating"):
        yield "its mode of operation"


def _watering(kind: Kind) -> Iterator[str]:
    has = kind.watering
    if has is None:
        return
    for name, what, fields in (
        ("starts", "a start", ("hour", "minute")),
        ("runs", "a run time", ("minutes", "station")),
        ("days", "the days", ("mon", "day_rule")),
        ("season", "the season", ("pct",) if has.limits.adjust_max_pct is not None else ()),
        ("months", "a month's percentage", ("month", "pct") if has.limits.monthly else ()),
    ):
        if fields:
            wanted = [field for field in ("program", *fields) if has_several(kind, field)]
            yield from (f"the {field} of {what}" for field in _unsaid(kind, name, *wanted))


def _heating(kind: Kind) -> Iterator[str]:
    if kind.heating is None:
        return
    wanted = [field for field in ("zone", "days", "hour", "minute", "degrees") if has_several(kind, field)]
    yield from (f"the {field} of a period" for field in _unsaid(kind, "points", *wanted))
