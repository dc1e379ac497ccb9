"""The single faults that may be put into a unit."""

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from skavit.core.causes.clocks import clock_faults, stopped_clocks
from skavit.core.causes.fault import Cause, Fault, run_of, seams
from skavit.core.causes.of_rooms import heat_faults
from skavit.core.causes.of_water import water_faults
from skavit.core.causes.shown import Hold, Shown, Simulator
from skavit.core.causes.things import things_of
from skavit.core.ground.arrays import DAY_S, HALF_DAY_S, MINUTE_S
from skavit.core.ground.budget import Budget
from skavit.core.plan.clock_settings import NAMED_RULES, ByHand, DstRule, NamedRule
from skavit.core.plan.days import DAILY, Days, Holiday, Once, Weekdays, holiday_mask
from skavit.core.plan.entry import Entry
from skavit.core.plan.sun_settings import NO_ADJUST
from skavit.core.plan.times import ClockTime, LimitedTime, SunTime, day_of, sun_time_of
from skavit.core.site.clock import standard_offset_s

# Places that are tried, in degrees away from the unit's own, and latitudes; common practice, no source.
DEGREES_NORTH, DEGREES_EAST = (5, 10), (7.5, 15, 30)
LATITUDES = range(-60, 61, 15)
HOURS_TOLD = (-120, -60, 60, 120)  # minutes by which the unit was told another time zone
MAX_STRAY_LOOKS = 8
HOLIDAY_DAYS = 366
# What faults of single entries may cost, in the steps of an audit: a unit of 16 entries takes 5,000 a try.
ENTRY_STEPS = 4_000_000
STEPS_A_TRY, STEPS_AN_ENTRY = 2_000, 200


def faults(unit: Simulator, budget: Budget | None = None) -> Iterator[Fault]:
    """Each single fault worth a try, the unit as it is planned first. A budget that is spent has ``ended``."""
    yield Fault(cause=Cause.NONE, shown=unit.right)
    yield from clock_faults(unit)
    yield from stopped_clocks(unit)
    yield from _held(unit)
    yield from _settings(unit)
    yield from _entries(unit, budget or Budget(ENTRY_STEPS))
    yield from _strays(unit)
    yield from water_faults(unit)
    yield from heat_faults(unit)


# Modes


def _ends(unit: Simulator) -> tuple[int, ...]:
    """Where it may have ended: after the last look that the unit as planned does not explain."""
    explained, at = unit.explained, unit.looked.instants
    if all(explained) or not any(explained) or not explained[-1]:
        return ()
    last = len(explained) - 1 - explained[::-1].index(False)
    return (int(at[last] + at[last + 1]) // 2,)


def _held(unit: Simulator) -> Iterator[Fault]:
    """Left on or off, or away on holiday: a channel or all, since before the looks or since between two of them."""
    things = things_of(unit.plan)
    numbers = [n for n, thing in enumerate(things, 1) if thing.sort in ("channel", "room")]
    each = [(number,) for number in numbers]
    begun = int(unit.looked.instants[0]) - DAY_S // 2
    causes = (Cause.LEFT_ON, Cause.LEFT_OFF, *([Cause.HOLIDAY_RUNNING] if _may_be_holiday(unit) else []))
    for size, channels in enumerate([*each, *([tuple(numbers)] if len(each) > 1 else [])]):
        for start in (begun, *seams(unit)):
            for cause in causes:
                hold = Hold(channels=channels, on=cause is Cause.LEFT_ON, start=start)
                # Left so by hand in between is what people do; a holiday that began just then is a guess.
                guessed = cause is Cause.HOLIDAY_RUNNING and start != begun
                shown = Shown(unit.right.run, hold=hold)
                yield Fault(cause=cause, shown=shown, channels=channels, size=size, guessed=guessed)
            for end in _ends(unit) if _may_be_holiday(unit) else ():
                over = Shown(unit.right.run, hold=Hold(channels=channels, on=False, start=start, end=end))
                yield Fault(cause=Cause.HOLIDAY_RUNNING, shown=over, channels=channels, size=size, guessed=True)
    if unit.plan.channels and _may_be_holiday(unit):
        yield from _holidays(unit)


def _may_be_holiday(unit: Simulator) -> bool:
    """Whether a holiday would run on the date of a look: one of those that are keyed, or where none is any."""
    keyed = unit.plan.unit.holidays
    days = np.array([look.at // DAY_S for look in unit.looked.looks], dtype=np.int64)
    return not keyed or bool(holiday_mask(keyed, days).any())


def _holidays(unit: Simulator) -> Iterator[Fault]:
    """A holiday in which no entry acts keeps the output that it found."""
    own = unit.plan.unit
    for at in dict.fromkeys(look.at // DAY_S + by for look in unit.looked.looks[:2] for by in (-1, 0)):
        holiday = Holiday(start=Once(at), days=HOLIDAY_DAYS)
        shown = run_of(unit, replace(unit.plan, unit=replace(own, holidays=(*own.holidays, holiday))))
        if shown is not None:
            yield Fault(cause=Cause.HOLIDAY_RUNNING, shown=shown, size=len(unit.plan.channels) + 1, guessed=True)


# Settings that were lost, or keyed for elsewhere


def _settings(unit: Simulator) -> Iterator[Fault]:
    plan = unit.plan
    if any(plan.adjust_of(number) != NO_ADJUST for number in range(1, len(plan.channels) + 1)):
        bare = replace(
            plan,
            unit=replace(plan.unit, sun=replace(plan.unit.sun, adjust=None)),
            channels=tuple(replace(channel, adjust=None) for channel in plan.channels),
        )
        yield Fault(cause=Cause.CORRECTION_LOST, shown=Shown(unit.run(bare)))
    if any(sun_time_of(entry.at) for entry in plan.unit.all_entries):
        yield from _places(unit)
    for name in NAMED_RULES:
        if plan.unit.clock.dst != NamedRule(name):
            yield from _rule(unit, NamedRule(name), 0)
    if not isinstance(plan.unit.clock.dst, ByHand):
        yield from _rule(unit, ByHand(changes=(), initial_min=60), 1)


def _rule(unit: Simulator, rule: DstRule, size: int) -> Iterator[Fault]:
    shown = run_of(unit, unit.with_clock(dst=rule))
    if shown is not None:
        at = unit.looked.instants[[0, -1]]
        apart = shown.digits(at) != unit.right.digits(at)
        yield Fault(cause=Cause.RULE_DIFFERS, shown=shown, rule=rule, size=size, began=bool(apart[1] and not apart[0]))


def _places(unit: Simulator) -> Iterator[Fault]:
    site, sun = unit.plan.site, unit.plan.unit.sun
    if sun.source in ("photocell", "none"):
        return
    north = site.latitude if sun.latitude is None else sun.latitude
    east = site.longitude if sun.longitude is None else sun.longitude
    turned = [(-north, east), (north, -east), (-north, -east), *([(east, north)] if abs(east) <= 90 else [])]
    moved = [(north + by * way, east) for by in DEGREES_NORTH for way in (1, -1) if abs(north + by * way) <= 90]
    moved += [(north, (east + by * way + 180) % 360 - 180) for by in DEGREES_EAST for way in (1, -1)]
    moved += [(float(latitude), east) for latitude in LATITUDES]
    if sun.source == "table":
        turned, moved = ([(a, 0.0) for a in dict.fromkeys(a for a, _ in some)] for some in (turned[:1], moved))
        found = [replace(sun, latitude=latitude) for latitude, _ in turned + moved]
    else:
        found = [replace(sun, source="coordinates", latitude=a, longitude=b) for a, b in turned + moved]
        standard = standard_offset_s(site.timezone, unit.first.year) // MINUTE_S
        found += [replace(sun, utc_offset_min=standard + by) for by in HOURS_TOLD]
    for size, other in enumerate(found):
        if other != sun:
            shown = Shown(unit.run(replace(unit.plan, unit=replace(unit.plan.unit, sun=other))))
            yield Fault(cause=Cause.WRONG_PLACE, shown=shown, sun=other, size=size, guessed=size >= len(turned))


# Single entries


def _entries(unit: Simulator, budget: Budget) -> Iterator[Fault]:
    wrong = {glance.channel + 1 for glance in unit.otherwise if glance.channel < len(unit.plan.channels)}
    looked = {look.at // DAY_S for look in unit.looked.looks}
    placed = [(k, i, entry) for k, entries in enumerate(unit.plan.unit.sets) for i, entry in enumerate(entries)]
    placed.sort(key=lambda place: not wrong & set(place[2].channels))
    cost = STEPS_A_TRY + len(placed) * STEPS_AN_ENTRY
    for keying, slot, entry in placed:
        for cause, other in _slips(entry, looked):
            if not budget.take(cost):
                return
            shown = Shown(unit.run(unit.with_entry(keying, slot, other)))
            as_keyed = None if cause is Cause.ENTRY_LOST else other.at
            days = other.days if cause is Cause.ENTRY_DAYS else None
            yield Fault(
                cause=cause, shown=shown, keying=keying, slot=slot + 1, entry=entry, as_keyed=as_keyed, days=days
            )


def _slips(entry: Entry, looked: set[int]) -> Iterator[tuple[Cause, Entry]]:
    """What may have become of one entry; ``looked`` are the days of the looks."""
    if entry.disabled:
        return
    for bit in sorted({(day + by + 3) % 7 for day in looked for by in (-1, 0)}):
        if isinstance(entry.days, Weekdays) and entry.days.mask & (1 << bit) and entry.days.mask != 1 << bit:
            yield Cause.ENTRY_DAYS, replace(entry, days=Weekdays(entry.days.mask & ~(1 << bit)))
    yield Cause.ENTRY_LOST, replace(entry, disabled=True)
    match entry.at:
        case ClockTime() as at if entry.repeat is None:
            yield Cause.ENTRY_HALF_DAY, replace(entry, at=at.later(HALF_DAY_S))
        case SunTime(event):
            yield Cause.SUN_SWAPPED, replace(entry, at=replace(entry.at, event=event.swapped))
        case LimitedTime(at=SunTime() as sun):
            yield Cause.SUN_SWAPPED, replace(entry, at=replace(sun, event=sun.event.swapped))


def _strays(unit: Simulator) -> Iterator[Fault]:
    """One entry more, a leftover: just before a look that shows what the unit as planned would not."""
    digits = unit.right.digits(unit.looked.instants).tolist()
    switched = [glance for glance in unit.otherwise if glance.channel < len(unit.plan.channels)]
    for glance in switched[:MAX_STRAY_LOOKS]:
        channels = (glance.channel + 1,)
        for at in _before(digits, glance.look):
            for size, days in enumerate((DAILY, _weekday(at))):
                time = ClockTime(at % DAY_S // MINUTE_S * MINUTE_S)
                stray = Entry(channels=channels, on=glance.on, at=time, days=days)
                shown = Shown(unit.run(unit.plan.with_entries((*unit.plan.unit.entries, stray))))
                yield Fault(cause=Cause.ENTRY_STRAY, shown=shown, entry=stray, channels=channels, size=size)


def _before(digits: list[int], look: int) -> tuple[int, ...]:
    """Digits at which a stray entry may have acted before a look: some minutes, and half the way from the hour of another."""
    at = digits[look]
    others = [at - (at - other) % DAY_S for other in digits if (at - other) % DAY_S > 2 * MINUTE_S]
    return (at - 2 * MINUTE_S, *((at + max(others)) // 2 for _ in others[:1]))


def _weekday(digits: int) -> Days:
    return Weekdays(1 << day_of(digits // DAY_S).weekday())
