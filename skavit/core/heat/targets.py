"""What each zone is held at: set points wanted by the site's clock, keyed ones by the unit's, and what is done by hand.

Meaning: docs/plan-file.md, "Heat". A target is degrees Celsius; NaN is no target at all.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import assert_never

import numpy as np

from skavit.core.ground.arrays import DAY_S, HOUR_S, Bools, Floats, Ints
from skavit.core.ground.errors import RangeError
from skavit.core.ground.spans import Spans, from_switchings
from skavit.core.plan.days import Days, Weekdays
from skavit.core.plan.heat import (
    Frost,
    Heat,
    HeatAuto,
    HeatOff,
    HeatOverride,
    HeatSetting,
    Hold,
    HolidayDays,
    HolidayUntil,
    SetPoint,
    Warmth,
    Zone,
)
from skavit.core.simulation.replay import RUN_UP_DAYS, WEEKLY_RUN_UP_DAYS, Replay
from skavit.core.site.almanac import almanac
from skavit.core.site.clock import UnitClock, WallClock

NONE = float("nan")
# Set points times dates, run-up included: so many take some 800 MB while they are worked out.
MOST_POINTS = 14_000_000
FAR = 2**60  # an end that nobody has set


@dataclass(frozen=True, slots=True)
class Targets:
    """A temperature from each of the rising ``at`` on until the next; the last until ``until``."""

    at: Ints  # (n,) instants, at least one
    c: Floats  # (n,)
    until: int

    def cut(self, low: int, high: int) -> "Targets":
        """The same within [low, high): the first is at ``low``, each later one is a change of value."""
        first = max(int(np.searchsorted(self.at, low, side="right")) - 1, 0)
        last = int(np.searchsorted(self.at, high, side="left"))
        at, c = self.at[first:last].copy(), self.c[first:last]
        at[0] = low
        keep = np.concatenate([[True], ~_same(c[1:], c[:-1])])
        return Targets(at[keep], c[keep], high)

    def value_at(self, instants: Ints) -> Floats:
        """The target at each instant within its range."""
        found: Floats = self.c[np.maximum(np.searchsorted(self.at, instants, side="right") - 1, 0)]
        return found

    @property
    def lengths(self) -> Ints:
        """Seconds for which each holds."""
        return np.diff(np.append(self.at, self.until))

    def where(self, states: Bools) -> Spans:
        """When the pieces stand for which ``states`` is true; shape (n,)."""
        return from_switchings(self.at, states, self.until)


def _same(a: Floats, b: Floats) -> Bools:
    found: Bools = (a == b) | (np.isnan(a) & np.isnan(b))
    return found


@dataclass(frozen=True, kw_only=True)
class ZoneReplay:
    """One zone: both sides within the range, and what they differ by."""

    zone: Zone
    wanted: Targets
    actual: Targets
    program: Targets  # what it would be held at if nobody touched it
    keyed_at: Ints  # instants at which a keyed set point acts, whatever its value; run-up included

    @cached_property
    def both(self) -> tuple[Targets, Floats]:
        """(actual, wanted at the same pieces): cut wherever either changes."""
        return _beside(self.actual, self.wanted)

    @cached_property
    def both_by_program(self) -> tuple[Targets, Floats]:
        """The same with the program, as if nobody touched it."""
        return _beside(self.program, self.wanted)

    @property
    def too_warm_kh(self) -> float:
        """Kelvin hours above what is wanted."""
        return _kelvin_hours(*self.both, 1)

    @property
    def too_cold_kh(self) -> float:
        """Kelvin hours below what is wanted."""
        return _kelvin_hours(*self.both, -1)

    def program_kh(self, sign: int) -> float:
        """Kelvin hours of the program above (1) or below (-1) what is wanted."""
        return _kelvin_hours(*self.both_by_program, sign)

    @property
    def off(self) -> Spans:
        """When it has no target."""
        return self.actual.where(np.isnan(self.actual.c))

    @property
    def off_h(self) -> float:
        """Hours without a target."""
        return self.off.total_s / 3600

    def apart(self, sign: int) -> Spans:
        """When it is held warmer (1) or colder (-1) than wanted."""
        pieces, wanted = self.both
        return pieces.where((pieces.c - wanted) * sign > 0)


def _beside(one: Targets, other: Targets) -> tuple[Targets, Floats]:
    """(one, the other at the same pieces): cut wherever either changes."""
    at = np.union1d(other.at, one.at)
    return Targets(at, one.value_at(at), one.until), other.value_at(at)


def apart(one: Targets, other: Targets) -> Spans:
    """When two differ."""
    pieces, beside = _beside(one, other)
    return pieces.where(~_same(pieces.c, beside))


def _kelvin_hours(pieces: Targets, wanted: Floats, sign: int) -> float:
    over = np.nan_to_num(np.maximum((pieces.c - wanted) * sign, 0), nan=0.0)
    return float((over * pieces.lengths).sum()) / HOUR_S


@dataclass(frozen=True, slots=True, kw_only=True)
class Done:
    """Something done by hand, and the instants between which it applies."""

    override: HeatOverride
    begin: int
    end: int


@dataclass(frozen=True, kw_only=True)
class Warmed:
    """The heating side of a plan over the range of a replay."""

    heat: Heat
    run: Replay
    zones: tuple[ZoneReplay, ...]
    done: tuple[Done, ...]  # all that applies at some time, zone by zone


def under_right_clock(warmed: Warmed) -> Warmed:
    """The same range with the unit's clock right."""
    run = warmed.run
    if run.unit_clock.right is run.site_clock and run.plan.unit.clock.is_right:
        return warmed
    right = targets(replace(run, unit_clock=UnitClock(right=run.site_clock, sun=run.site_clock)))
    assert right is not None
    return right


def targets(run: Replay) -> Warmed | None:
    """What each zone of a plan is held at over the range of its replay, worked out once; None where the plan has none.

    Raises :class:`RangeError` for more set points than can be told.
    """
    heat = run.plan.heat
    if heat is None:
        return None
    if "heat" not in run.kept:
        run.kept["heat"] = _warmed(run, heat)
    found: Warmed = run.kept["heat"]
    return found


def _warmed(run: Replay, heat: Heat) -> Warmed:
    points = sum(len(zone.wanted) + len(zone.keyed) for zone in heat.zones)
    if points * (run.last - run.first + RUN_UP_DAYS) > MOST_POINTS:
        raise RangeError(f"{points} set points over this range are too many; accepted: a shorter range")
    unit_first = int(run.unit_clock.shows(np.array([run.start]))[0]) // DAY_S
    unit_last = int(run.unit_clock.shows(np.array([run.end]))[0]) // DAY_S + 1
    wanted_days, keyed_days = _Days(run, run.first, run.last + 1), _Days(run, unit_first, unit_last)
    zones: list[ZoneReplay] = []
    done: list[Done] = []
    for index, zone in enumerate(heat.zones):
        wanted_at, wanted_c = wanted_days.acts(zone.wanted, run.site_clock.first)
        keyed_at, keyed_c = keyed_days.acts(zone.keyed, run.unit_clock.acts)
        program = _stood(keyed_at, keyed_c, heat.frost_c, run)
        own = standing(heat.of_zone(index), keyed_at, run.site_clock)
        done += own
        actual = _by_hand(program, heat.frost_c, own)
        zones.append(
            ZoneReplay(
                zone=zone,
                wanted=_stood(wanted_at, wanted_c, heat.frost_c, run).cut(run.start, run.end),
                actual=actual.cut(run.start, run.end),
                program=program.cut(run.start, run.end),
                keyed_at=keyed_at,
            )
        )
    return Warmed(heat=heat, run=run, zones=tuple(zones), done=tuple(done))


class _Days:
    """The dates on which set points act, run-up included; what those of one rule have in common is found once."""

    def __init__(self, run: Replay, first: int, last: int) -> None:
        # Where each set point acts every week the last week tells what holds at the start; two for a clock that jumps.
        points = [p for zone in (run.plan.heat.zones if run.plan.heat else ()) for p in (*zone.wanted, *zone.keyed)]
        weekly = all(isinstance(point.days, Weekdays) and point.days.mask for point in points)
        back = WEEKLY_RUN_UP_DAYS if weekly else RUN_UP_DAYS
        self.begins = run.start - RUN_UP_DAYS * DAY_S
        book = almanac(run.plan.site, first - back, last)
        self.calendar, self.rows = book.calendar, book.rows(first - back, last)
        self._held: dict[Days, Ints] = {}

    def _midnights(self, days: Days) -> Ints:
        if days not in self._held:
            span = self.rows
            self._held[days] = self.calendar.midnight[span][days.matches(self.calendar)[span]]
        return self._held[days]

    def acts(self, points: Sequence[SetPoint], find: Callable[[Ints], Ints]) -> tuple[Ints, Floats]:
        """(instants, temperatures) of set points in order of time; of several at one instant the later in the list."""
        if not points:
            return np.zeros(0, dtype=np.int64), np.zeros(0)
        digits = [self._midnights(point.days) + point.at.seconds for point in points]
        at = find(np.concatenate(digits))
        c = np.repeat([float(point.c) for point in points], [each.size for each in digits])
        order = at.argsort(kind="stable")
        at, c = at[order], c[order]
        keep = np.concatenate([at[1:] != at[:-1], [True]]) & (at >= self.begins) if at.size else np.zeros(0, dtype=bool)
        return at[keep], c[keep]


def _stood(at: Ints, c: Floats, frost_c: float, run: Replay) -> Targets:
    """What set points come to: before the first of them the zone is at its frost protection."""
    begin = run.start - RUN_UP_DAYS * DAY_S - 1
    return Targets(np.concatenate([[begin], at]), np.concatenate([[frost_c], c]), run.end)


def standing(done: Sequence[HeatOverride], keyed_at: Ints, clock: WallClock) -> list[Done]:
    """When each thing done by hand applies; a later one replaces an earlier, whatever was left of it."""
    at = clock.first(np.array([each.at for each in done], dtype=np.int64)).tolist()
    found = []
    for place, (each, begin) in enumerate(zip(done, at, strict=True)):
        following = at[place + 1] if place + 1 < len(at) else FAR
        end = min(_ends(each, begin, keyed_at, clock), following)
        if end > begin:
            found.append(Done(override=each, begin=begin, end=end))
    return found


def _by_hand(program: Targets, frost_c: float, done: Sequence[Done]) -> Targets:
    """The program under what is done by hand."""
    if not done:
        return program
    begin, end = (np.array([getattr(each, name) for each in done], dtype=np.int64) for name in ("begin", "end"))
    value = np.array([_set_to(each.override.setting, frost_c) for each in done])
    # What the program does meanwhile is not done; where a setting ends it goes on from its state then.
    place = np.searchsorted(begin, program.at, side="right") - 1
    free = (place < 0) | (program.at > end[np.maximum(place, 0)])
    back = end[~np.isin(end, begin)]
    instants = np.concatenate([program.at[free], begin, back])
    order = instants.argsort(kind="stable")
    c = np.concatenate([program.c[free], value, program.value_at(back)])
    return Targets(instants[order], c[order], program.until)


def _set_to(setting: HeatSetting, frost_c: float) -> float:
    """The target that a setting gives; of automatic, which stands for no time at all, none."""
    match setting:
        case Warmth(c=c) | Hold(c=c):
            return float(c)
        case Frost() | HolidayUntil() | HolidayDays():
            return frost_c
        case HeatOff() | HeatAuto():
            return NONE
        case _:
            assert_never(setting)


def _ends(done: HeatOverride, begin: int, keyed_at: Ints, clock: WallClock) -> int:
    """The instant at which a setting ends by itself."""
    match done.setting:
        case Warmth():
            place = int(np.searchsorted(keyed_at, begin, side="right"))
            return int(keyed_at[place]) if place < keyed_at.size else FAR
        case Hold(minutes=minutes):
            return begin + round(minutes * 60)
        case Frost() | HeatOff():
            return FAR
        case HeatAuto():
            return begin
        case HolidayUntil() | HolidayDays():
            return int(clock.first(np.array([holiday_ends(done)]))[0])
        case _:
            assert_never(done.setting)


def holiday_ends(done: HeatOverride) -> int:
    """The digits of the site's clock at which a holiday ends: as typed in, or the midnight that ends its last day."""
    match done.setting:
        case HolidayUntil(until=until):
            return until
        case HolidayDays(days=days, counted_from=counted):
            return (done.at // DAY_S + days + (counted == "tomorrow")) * DAY_S
        case _:
            raise ValueError(done.setting)
