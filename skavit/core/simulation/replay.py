"""Both sides over a range of dates: what is wanted, what the unit will do, and where the two differ."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from functools import cached_property
from typing import Any

import numpy as np

from skavit.core.ground.arrays import DAY_S, Ints
from skavit.core.ground.errors import RangeError
from skavit.core.ground.spans import Spans, difference
from skavit.core.plan.days import Weekdays
from skavit.core.plan.document import Plan
from skavit.core.plan.times import day_number, day_of
from skavit.core.plan.window import Window
from skavit.core.simulation.events import Events, make_events
from skavit.core.simulation.output import Hand, armed, in_force, overridden, program_spans, seams
from skavit.core.simulation.wanted import look_back_days, wanted
from skavit.core.site.almanac import almanac
from skavit.core.site.clock import UnitClock, WallClock, unit_clock, zone_clock
from skavit.core.sun import FIRST_YEAR, LAST_YEAR

# Before the span the unit has run its program so long, from an output that was off (docs/plan-file.md, "Replay").
RUN_UP_DAYS = 375
# Where every entry acts each week, whatever came before is forgotten after so long.
WEEKLY_RUN_UP_DAYS = 21
# Events are kept so far beyond the span, so that what follows the last ON of it is known.
RUN_ON_DAYS = 2
MAX_RANGE_YEARS = 50
MAX_WORK = 7_500_000


class ChannelReplay:
    """One channel: both sides as spans of instants within the range, and their differences."""

    def __init__(self, name: str, wanted_spans: Spans, actual: Spans, wanted_before: Spans, hand: Hand) -> None:
        self.name, self.wanted, self.actual = name, wanted_spans, actual
        self.wanted_with_run_up = wanted_before
        self.hand = hand  # the program, and what was done to it by hand

    @property
    def program(self) -> Spans:
        """What its output does if nobody touches the unit, run-up included."""
        return self.hand.program

    @cached_property
    def extra(self) -> Spans:
        """On and not wanted."""
        return difference(self.actual, self.wanted)

    @cached_property
    def missing(self) -> Spans:
        """Wanted and not on."""
        return difference(self.wanted, self.actual)

    @property
    def wrong_s(self) -> int:
        """Seconds in which it is on and not wanted, or wanted and not on."""
        return self.extra.total_s + self.missing.total_s

    @property
    def extra_h(self) -> float:
        """Hours on and not wanted."""
        return self.extra.total_s / 3600

    @property
    def missing_h(self) -> float:
        """Hours wanted and not on."""
        return self.missing.total_s / 3600


@dataclass(frozen=True, slots=True, kw_only=True)
class Replay:
    """A plan run over the local dates ``first`` to ``last`` (days since 1970), instants ``start`` to ``end``."""

    plan: Plan
    first: int
    last: int
    start: int
    end: int
    site_clock: WallClock
    unit_clock: UnitClock
    events: Events  # of the entries that stand in the unit; from the run-up to two days beyond the span
    channels: tuple[ChannelReplay, ...]
    # What others work out of it and ask for again, by their name for it: it lives as long as the run does.
    kept: dict[str, Any] = field(init=False, default_factory=dict, compare=False, repr=False)

    @property
    def wrong_s(self) -> int:
        """Seconds that are wrong, of all channels."""
        return sum(channel.wrong_s for channel in self.channels)

    def under(self, plan: Plan) -> "Replay":
        """The same dates under another plan of the same windows: what is wanted is not worked out again."""
        known = [channel.wanted_with_run_up for channel in self.channels]
        return replay(plan, day_of(self.first), day_of(self.last), known)

    def of_set(self, keying: int) -> "Replay":
        """The same range as if one of the plan's sets of entries was in the unit all the time."""
        if not self.plan.unit.keyings:
            return self
        name = f"set {keying}"
        if name not in self.kept:
            self.kept[name] = replay(self.plan.with_only_set(keying), day_of(self.first), day_of(self.last))
        found: Replay = self.kept[name]
        return found

    def ending(self, last: date) -> "Replay":
        """The same run over a shorter range, which ends with the date ``last``: as if it had been run for that alone.

        Raises :class:`RangeError` for a date beyond its range.
        """
        day = day_number(last)
        if not self.first <= day <= self.last:
            raise RangeError(f"{last} lies outside the range; accepted: {day_of(self.first)} to {day_of(self.last)}")
        end = int(self.site_clock.first(np.array([(day + 1) * DAY_S], dtype=np.int64))[0])
        channels = tuple(
            ChannelReplay(
                channel.name,
                channel.wanted.cut(self.start, end),
                channel.actual.cut(self.start, end),
                channel.wanted_with_run_up,
                channel.hand,
            )
            for channel in self.channels
        )
        until = int(np.searchsorted(self.events.instant, end + RUN_ON_DAYS * DAY_S))
        events = self.events.where(slice(0, until))  # they stand by time: nothing is copied
        return replace(self, last=day, end=end, events=events, channels=channels)

    @property
    def arrays(self) -> tuple[Ints, ...]:
        """The large arrays of it, for telling what it holds in memory."""
        events = self.events
        sides = [
            s for c in self.channels for s in (c.wanted, c.actual, c.program, c.wanted_with_run_up, c.extra, c.missing)
        ]
        own = (events.instant, events.slot, events.share, events.day, events.cause)
        return (*own, *(side for spans in sides for side in (spans.on, spans.off)))


def check_range(first: date, last: date) -> tuple[int, int]:
    """The range as day numbers; raises :class:`RangeError`."""
    if last < first:
        raise RangeError(f"the range {first} to {last} is reversed; accepted: a last date at or after the first")
    if not first.year > FIRST_YEAR or not last.year < LAST_YEAR:
        raise RangeError(f"{first} to {last}; accepted: years {FIRST_YEAR + 1} to {LAST_YEAR - 1}")
    if last.year - first.year > MAX_RANGE_YEARS or (last - first).days > MAX_RANGE_YEARS * 366:
        raise RangeError(f"the range {first} to {last} is too long; accepted: at most {MAX_RANGE_YEARS} years")
    return day_number(first), day_number(last)


def _clock_years(plan: Plan, first: int, last: int) -> tuple[int, int]:
    """The calendar years that the unit's clock may show in the range, with one to spare."""
    settings = plan.unit.clock
    drift_days = 0
    if settings.set_on is not None:
        drift_days = int(abs(settings.fast_s_per_day) * max(last - settings.set_on // DAY_S, 0) // DAY_S) + 1
    ahead = int(settings.error_s // DAY_S)
    low, high = first + min(ahead, 0) - drift_days, last + max(ahead, 0) + 1 + drift_days
    edge = day_number(date(FIRST_YEAR, 1, 1)) + 400, day_number(date(LAST_YEAR, 1, 1)) - 400
    if low < edge[0] or high > edge[1]:
        raise RangeError(
            "unit.clock: the unit would show a year that the sun tables do not reach; "
            f"accepted: years {FIRST_YEAR + 2} to {LAST_YEAR - 2}"
        )
    return day_of(low).year - 1, day_of(high).year + 1


def run_up_days(plan: Plan) -> int:
    """How many days before the span the events must be known, so that the output at its start is.

    The last event alone tells the output. Where each entry acts every week, it lies in the last one; a holiday, a
    season, another keying or a sun that does not rise may leave months without any.
    """
    unit = plan.unit
    weekly = all(isinstance(entry.days, Weekdays) for entry in unit.entries)
    if weekly and not (unit.holidays or unit.keyings or unit.sun.skips_without_sun):
        return WEEKLY_RUN_UP_DAYS
    return RUN_UP_DAYS


def replay(plan: Plan, first: date, last: date, known: Sequence[Spans] | None = None) -> Replay:
    """Run both sides over ``[first 00:00, last + 1 day 00:00)`` local.

    ``known`` is what is wanted of each channel where that has been worked out before, for the same range. Raises :class:`RangeError` for a range that is reversed or asks for too much.
    """
    low, high = check_range(first, last)
    rules = len(plan.unit.all_entries) + sum(len(channel.windows) for channel in plan.channels)
    if rules * (high - low + RUN_UP_DAYS) > MAX_WORK:
        raise RangeError(f"{rules} windows and entries over this range are too much; accepted: a shorter range")
    # Both clocks over the same years: a unit that keeps the law's time then has the very clock of its site.
    years = _clock_years(plan, low - RUN_UP_DAYS, high)
    years = min(first.year - 3, years[0]), max(last.year + 2, years[1])
    site_clock = zone_clock(plan.site.timezone, *years)
    start, end = (int(i) for i in site_clock.first(np.array([low, high + 1], dtype=np.int64) * DAY_S))
    clock = unit_clock(plan.unit.clock, plan.site.timezone, *years)
    # Pulses are made whole only from where they can show: the range, or an override that may keep an output.
    whole_from = min([start, *(override.at - DAY_S for override in plan.overrides)]) - DAY_S
    known_from = max(whole_from - run_up_days(plan) * DAY_S, start - RUN_UP_DAYS * DAY_S)
    every = make_events(plan, clock, known_from, end + RUN_ON_DAYS * DAY_S, whole_from)
    keyed = seams(plan, low - RUN_UP_DAYS, high + RUN_ON_DAYS, site_clock)
    events = in_force(plan, every, keyed)
    channels = []
    alike: dict[tuple[Window, ...], Spans] = {}  # what is wanted by the same windows is worked out once
    for number, channel in enumerate(plan.channels):
        if known is not None:
            want = known[number]
        elif channel.windows in alike:
            want = alike[channel.windows]
        else:
            back = (start - known_from) // DAY_S + 1 + look_back_days(channel)
            book = almanac(plan.site, low - back, high + 2)
            span = book.rows(low - back, high + 1)
            want = wanted(channel, book, np.arange(span.start, span.stop), site_clock, start)
            alike[channel.windows] = want
        want = armed(plan, number, want, site_clock)
        own = every.of_channel(number)
        program = armed(plan, number, program_spans(plan, own, keyed, end), site_clock)
        hand = overridden(plan, number, program, in_force(plan, own, keyed).instant, site_clock, end)
        actual = hand.output().cut(start, end)
        channels.append(ChannelReplay(channel.name, want.cut(start, end), actual, want, hand))
    return Replay(
        plan=plan,
        first=low,
        last=high,
        start=start,
        end=end,
        site_clock=site_clock,
        unit_clock=clock,
        events=events,
        channels=tuple(channels),
    )
