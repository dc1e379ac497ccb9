"""Causes in words: what is wrong, and the one question or look that tells it from the next."""

from skavit.core.causes.fault import Cause, Fault
from skavit.core.causes.ranking import Likely, Telling
from skavit.core.causes.things import things_of
from skavit.core.causes.water_texts import OF_WATER, water_check, water_text
from skavit.core.ground.arrays import DAY_S
from skavit.core.memory import slot_names
from skavit.core.plan.clock_settings import ByHand
from skavit.core.plan.document import Plan
from skavit.core.plan.entry import Entry
from skavit.core.plan.times import day_of
from skavit.core.text.coordinates import degrees_text
from skavit.core.text.wording import (
    FULL_DAYS,
    Words,
    ahead_text,
    capital,
    count,
    days_text,
    rule_text,
    switching_text,
    weekday_date,
)

_TEXT = {
    Cause.NONE: "Nothing: the unit does as it is keyed.",
    Cause.HOLIDAY_RUNNING: "A holiday is running: the program does not act.",
    Cause.CORRECTION_LOST: "The sun correction is not in the unit.",
}
# What to ask or read where no moment tells a cause from the next.
_PROOF = {
    Cause.NONE: "Read its slots and its mode: they must be as planned.",
    Cause.CLOCK_STOPPED: "Does the display flash, or stand still for minutes?",
    Cause.LEFT_ON: "Does the display say automatic for this output, or on by hand?",
    Cause.LEFT_OFF: "Does the display say automatic for this output, or off by hand?",
    Cause.HOLIDAY_RUNNING: "Does the display show a holiday?",
    Cause.CORRECTION_LOST: "Read the correction, or today's sunrise and sunset, off the unit.",
    Cause.WRONG_PLACE: "Read the place, or today's sunrise and sunset, off the unit.",
    Cause.RULE_DIFFERS: "Read its setting for daylight saving.",
}
_OF_CLOCK = "Read time, date and weekday off the display."
_LEFT = (Cause.LEFT_ON, Cause.LEFT_OFF, Cause.HOLIDAY_RUNNING)


def cause_text(fault: Fault, plan: Plan, words: Words) -> str:
    """What is wrong with a unit that has this fault, in a sentence."""
    if _is_of_water(fault):
        return water_text(fault, plan, words)
    if fault.cause in _TEXT:
        return _TEXT[fault.cause]
    if fault.cause in (Cause.POINT_LOST, Cause.POINT_HALF_DAY):
        return _point_text(fault, plan, words)
    if fault.cause in (Cause.LEFT_ON, Cause.LEFT_OFF):
        return _left_text(fault, plan)
    return _entry_text(fault, fault.entry, plan, words) if fault.entry is not None else _setting_text(fault, words)


def _is_of_water(fault: Fault) -> bool:
    """Whether it is told as watering is: its programs, its valves, its being suspended."""
    return fault.program is not None or fault.cause in OF_WATER or (fault.cause is Cause.LEFT_OFF and fault.water)


def _setting_text(fault: Fault, words: Words) -> str:
    if fault.rule is not None:
        by_hand = isinstance(fault.rule, ByHand)
        rule = words.said("daylight saving all year") if by_hand else rule_text(fault.rule, words)
        return f"Its {words.summer} is set to another rule: {rule}."
    return _place_text(fault) if fault.sun is not None else _clock_text(fault, words)


def _clock_text(fault: Fault, words: Words) -> str:
    stopped, days = fault.shown.stopped, round(abs(fault.ahead_s) / DAY_S, 3)
    way = "ahead" if fault.ahead_s > 0 else "behind"
    if stopped is not None and stopped.digits is None:
        text = "has lost its time: nothing acts until it is set"
    elif stopped is not None and stopped.digits is not None:
        text = f"stands still at {words.minute(stopped.digits % DAY_S)}"
    elif fault.cause is Cause.CLOCK_HALF_DAY:
        text = "is twelve hours out: AM is set for PM"
    elif fault.cause is Cause.CLOCK_DATE and days == int(days):
        text = f"is right, its date is {count(int(days), 'day')} {way}"
    elif fault.drifts:
        fast = fault.shown.run.plan.unit.clock.fast_s_per_day > 0
        text = f"is {ahead_text(fault.ahead_s)}, and goes too {'fast' if fast else 'slow'}"
    else:
        text = f"is {ahead_text(fault.ahead_s)}"
    return f"The clock {text}."


def _left_text(fault: Fault, plan: Plan) -> str:
    """What is left on or off by hand."""
    named = [things_of(plan)[number - 1] for number in fault.channels]
    mode = named[0].states[fault.cause is Cause.LEFT_OFF]
    if named[0].sort == "room":
        return f"{named[0].name} is set {'warm' if mode == 'warm' else 'cold'} by hand: its program does not act."
    who = "All channels are" if len(named) == len(plan.channels) > 1 else f"{named[0].name} is"
    return f"{who} left {mode} by hand: the program does not act."


def _point_text(fault: Fault, plan: Plan, words: Words) -> str:
    zone = plan.heat.zones[fault.station].name if plan.heat and fault.station is not None else ""
    at = words.time(fault.at) if fault.at else ""
    days = f", {days_text(fault.days)}" if fault.days else ""
    keyed = "not in the unit" if fault.as_keyed is None else f"keyed as {words.time(fault.as_keyed)}"
    return f"{zone}: the set point of {at}{days} is {keyed}."


def _place_text(fault: Fault) -> str:
    sun, site = fault.shown.run.plan.unit.sun, fault.shown.run.plan.site
    if sun.utc_offset_min is not None and fault.sun is not None and fault.sun.source == "site":
        return "The unit was told another time zone: its sun times are hours out."
    latitude = site.latitude if sun.latitude is None else sun.latitude
    if latitude * site.latitude < 0:
        return "The unit stands on the other side of the equator, by the place that is set in it."
    if sun.longitude is None:
        return f"Another place is set in the unit, such as {abs(latitude):.0f} degrees {'N' if latitude >= 0 else 'S'}."
    return f"Another place is set in the unit, such as {degrees_text(latitude, sun.longitude)}."


def _named(fault: Fault, entry: Entry, plan: Plan, words: Words) -> str:
    """Slot 3 (OFF 22:40, every day)."""
    own = words.of_slots(slot_names(plan.unit.sets[fault.keying], plan.unit.limits))
    return f"{own.slot_of(fault.slot or 0)} ({switching_text(entry.action, entry.at, entry.days, words)})"


def _entry_text(fault: Fault, entry: Entry, plan: Plan, words: Words) -> str:
    if fault.slot is None:
        return f"One more entry is in the unit: {entry.action.upper()} at about {words.time(entry.at)}, {days_text(entry.days)}."
    if fault.days is not None:
        return f"{capital(_named(fault, entry, plan, words))} acts {days_text(fault.days)} only."
    keyed = "not in the unit" if fault.as_keyed is None else f"keyed as {words.time(fault.as_keyed)}"
    return f"{capital(_named(fault, entry, plan, words))} is {keyed}."


def check_text(likely: Likely, plan: Plan, words: Words) -> str:
    """The one question or look that tells a cause from the next."""
    fault, telling = likely.fault, likely.telling
    if _is_of_water(fault):
        return water_check(fault, plan, words)
    if fault.cause in (Cause.POINT_LOST, Cause.POINT_HALF_DAY):
        return "Read its set points off the unit."
    if telling is not None and (telling.channel is None or fault.cause not in _LEFT):
        return _telling_text(telling, plan, words)
    if fault.entry is None:
        return words.said(_PROOF.get(fault.cause, _OF_CLOCK))
    if fault.slot is not None:
        return f"Read {_named(fault, fault.entry, plan, words)} off the unit."
    last = len(plan.unit.entries)
    return f"Step on past slot {last}: one more is filled." if last else "Step through the slots: one is filled."


def _telling_text(telling: Telling, plan: Plan, words: Words) -> str:
    when = f"{weekday_date(telling.at // DAY_S)}, {words.minute(telling.at % DAY_S)}"
    if telling.channel is None:
        first, second = (_display_text(digits, telling, words) for digits in (telling.first, telling.second))
        return f"Read the display: on {when} it reads {first}, with the next cause {second}."
    thing = things_of(plan)[telling.channel - 1]
    first, second = thing.states if telling.first else thing.states[::-1]
    return f"Look at {thing.name} on {when}: {first} with this, {second} with the next cause."


def _display_text(digits: int, telling: Telling, words: Words) -> str:
    if digits < 0:
        return "nothing"
    time, day = words.minute(digits % DAY_S), digits // DAY_S
    if telling.first < 0 or telling.second < 0 or telling.first // DAY_S == telling.second // DAY_S:
        return time
    found = day_of(day)
    return f"{time} on {FULL_DAYS[found.weekday()]} {weekday_date(day)[4:]} {found.year}"
