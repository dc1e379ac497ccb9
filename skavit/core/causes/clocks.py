"""Faults of a unit's clock: how far it may be out follows from what its display read, where somebody read it."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date

import numpy as np

from skavit.core.causes.fault import Cause, Fault, run_of, seams
from skavit.core.causes.looks import Look
from skavit.core.causes.shown import READ_S, Shown, Simulator, Stopped
from skavit.core.ground.arrays import DAY_S, HALF_DAY_S, HOUR_S, MINUTE_S
from skavit.core.plan.times import ClockTime, day_number, day_of

# What is tried where nobody read the display; common practice, no source.
MINUTES_OUT = (5, 10, 15, 20, 30, 45)
DAYS_OUT = (1, 2, 3, 7)
WEEKS_OUT = (1, 2, 3, 4)  # where the weekday was read and is right
MAX_READ = 6  # different readings of a display that are each tried as an error


def clock_faults(unit: Simulator) -> Iterator[Fault]:
    """A clock that is out by an hour, by half a day, by its date, by minutes, or that drifts."""
    readings = _readings(unit)
    for by in (HOUR_S, -HOUR_S):
        yield from _clock(unit, Cause.CLOCK_HOUR, by)
    for by in (HALF_DAY_S, -HALF_DAY_S):
        yield from _clock(unit, Cause.CLOCK_HALF_DAY, by)
    dates = _dates_out(readings)
    if all(r.look.date is None for r in readings):
        # A weekday alone leaves the date open: only by whole weeks, if it is right.
        weekday_read = any(r.look.weekday is not None for r in readings)
        dates = (*dates, *_usual_dates_out(unit, WEEKS_OUT if weekday_read else ()))
    for by in dict.fromkeys(dates):
        yield from _clock(unit, Cause.CLOCK_DATE, by)
    timed = any(r.ahead_s is not None for r in readings)
    for by in _minutes_out(readings) if timed else _usual_minutes_out():
        yield from _clock(unit, Cause.CLOCK_MINUTES, by)
    yield from _drifting(unit, readings)


def _clock(unit: Simulator, cause: Cause, by: float) -> Iterator[Fault]:
    shown = run_of(unit, unit.with_clock(error_s=unit.plan.unit.clock.error_s + by))
    if shown is not None:
        yield Fault(cause=cause, shown=shown, ahead_s=by, size=abs(by))


@dataclass(frozen=True, slots=True, kw_only=True)
class _Reading:
    """A display that was read, and what it says of the clock: seconds by which it is ahead beside what the plan says of it."""

    look: Look
    ahead_s: int | None  # by the time, within half a day either way; None where it was not read
    with_date_s: int | None  # by the date too; None where it was not read
    must: int  # the digits that the unit must have shown, to the minute


def _readings(unit: Simulator) -> tuple[_Reading, ...]:
    must = (unit.right.digits(unit.looked.instants) // MINUTE_S * MINUTE_S).tolist()
    return tuple(_reading(unit, look, digits) for look, digits in zip(unit.looked.looks, must, strict=True))


def _reading(unit: Simulator, look: Look, must: int) -> _Reading:
    clock = unit.right.run.unit_clock.right

    def ahead(shown: int) -> int:
        """In true seconds: between the two may lie a change of the clock."""
        at, right = clock.first(np.array([shown, must])).tolist()
        return int(at - right)

    time = dated = None
    by = 0
    if isinstance(look.shows, ClockTime):
        by = (look.shows.seconds // MINUTE_S * MINUTE_S - must + HALF_DAY_S) % DAY_S - HALF_DAY_S
        time = ahead(must + by)
    if isinstance(look.date, int):
        dated = ahead(look.date * DAY_S + (must + by) % DAY_S)
    return _Reading(look=look, ahead_s=time, with_date_s=dated, must=must)


def _dates_out(readings: tuple[_Reading, ...]) -> tuple[int, ...]:
    """By how many seconds a clock with another date may be ahead."""
    read = [r.with_date_s for r in readings if r.with_date_s is not None and abs(r.with_date_s) >= DAY_S - READ_S]
    # A time that is right but for the minute of reading is on another date, and no more.
    found = [round(by / DAY_S) * DAY_S if abs(by - round(by / DAY_S) * DAY_S) <= READ_S else by for by in read]
    for reading in readings:
        if isinstance(reading.look.weekday, int) and reading.with_date_s is None:
            days = (reading.look.weekday - day_of(reading.must // DAY_S).weekday()) % 7
            found += [days * DAY_S, (days - 7) * DAY_S] if days else []
    return tuple(dict.fromkeys(found))[:MAX_READ]


def _usual_dates_out(unit: Simulator, weeks: tuple[int, ...]) -> tuple[int, ...]:
    """Return by how many seconds a clock is usually out where nobody read the date.

    Some days, so many ``weeks``, a year, day and month turned round.
    """
    day = unit.looked.looks[0].at // DAY_S
    most = dict.fromkeys([*DAYS_OUT, *(7 * count for count in weeks)])
    days = [by * way for by in most for way in (1, -1)] + [other - day for other in _slips_of_date(day_of(day))]
    return tuple(by * DAY_S for by in days)


def _slips_of_date(day: date) -> list[int]:
    """Day numbers of a date with its year one out, or its day and month turned round."""
    found = []
    for year, month, of_month in (
        (day.year - 1, day.month, day.day),
        (day.year + 1, day.month, day.day),
        (day.year, day.day, day.month),
    ):
        if month <= 12 and (month, of_month) != (2, 29) and (year, month, of_month) != (day.year, day.month, day.day):
            found.append(day_number(date(year, month, of_month)))
    return found


def _minutes_out(readings: tuple[_Reading, ...]) -> tuple[int, ...]:
    """By how many seconds a clock that is out by minutes or hours may be ahead."""
    read = [r.ahead_s for r in readings if r.ahead_s is not None]
    found = [
        by for by in dict.fromkeys(read) if not _near(by, 0) and not _near(by, HOUR_S) and not _near(by, HALF_DAY_S)
    ]
    # Nine hours behind may as well be fifteen ahead where nobody read the date.
    other = [by - DAY_S if by > 0 else by + DAY_S for by in found if abs(by) > HALF_DAY_S // 2]
    return tuple((found + other)[:MAX_READ])


def _usual_minutes_out() -> tuple[int, ...]:
    return tuple(by * way * MINUTE_S for by in MINUTES_OUT for way in (1, -1))


def _near(by: int, amount: int) -> bool:
    return abs(abs(by) - amount) <= READ_S


def _drifting(unit: Simulator, readings: tuple[_Reading, ...]) -> Iterator[Fault]:
    """A clock that goes too fast or too slow: it is further out at each look."""
    read = [r for r in readings if r.ahead_s is not None]
    if len(read) < 2:
        return
    first, last = read[0], read[-1]
    days = (last.look.at - first.look.at) / DAY_S
    gained = (last.ahead_s or 0) - (first.ahead_s or 0)
    if days < 1 or abs(gained) <= READ_S or abs(gained / days) > HOUR_S:
        return
    error = unit.plan.unit.clock.error_s + (first.ahead_s or 0)
    plan = unit.with_clock(error_s=error, fast_s_per_day=gained / days, set_on=first.look.at)
    shown = run_of(unit, plan)
    if shown is not None:
        ahead = last.ahead_s or 0
        yield Fault(cause=Cause.CLOCK_MINUTES, shown=shown, ahead_s=ahead, size=abs(ahead), drifts=True)


def stopped_clocks(unit: Simulator) -> Iterator[Fault]:
    """A clock that lost its time and flashes, or stands still: from before all looks, or from one of them on."""
    looked = unit.looked
    for start in (-1, *seams(unit)):
        at = int(looked.instants[0]) - DAY_S // 2 if start == -1 else start
        yield Fault(cause=Cause.CLOCK_STOPPED, shown=Shown(unit.right.run, stopped=Stopped(start=at)))
    times = [look.shows.seconds for look in looked.looks if isinstance(look.shows, ClockTime)]
    if len(times) < 2 or len(set(times)) > 1:
        return
    first = next(i for i, look in enumerate(looked.looks) if isinstance(look.shows, ClockTime))
    must = int(unit.right.digits(looked.instants[first : first + 1])[0])
    stood_s = (must % DAY_S - times[0]) % DAY_S
    stopped = Stopped(start=int(looked.instants[first]) - stood_s, digits=must - stood_s)
    yield Fault(cause=Cause.CLOCK_STOPPED, shown=Shown(unit.right.run, stopped=stopped), size=1)
