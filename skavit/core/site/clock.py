"""Wall clocks: what a clock shows at an instant, and when it first shows given digits.

Instants are whole seconds of UTC since 1970-01-01; *digits* are the same count made from the date and time shown.
A unit's clock shows at the instant t what a right clock under the same rule would show at t + e(t), so its own
daylight-saving change and the dates of its sun times follow its error (docs/plan-file.md, "Clock").
"""

from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from functools import cached_property, lru_cache
from typing import assert_never
from zoneinfo import ZoneInfo

import numpy as np

from skavit.core.ground.arrays import DAY_S, HOUR_S, Ints
from skavit.core.ground.spans import Spans, union
from skavit.core.plan.clock_settings import ByHand, ChangeDay, ClockSettings, NamedRule, OwnRule
from skavit.core.plan.times import ClockTime, day_number, day_of

_BEGINNING = -(2**62)


@dataclass(frozen=True)
class WallClock:
    """A clock without error: from each of ``starts`` on it is ``offsets`` seconds ahead of UTC."""

    starts: Ints  # (n,) instants, rising; the first holds for all time before
    offsets: Ints  # (n,)

    def digits(self, instants: Ints) -> Ints:
        """What it shows at the instants."""
        return instants + self.offset(instants)

    def offset(self, instants: Ints) -> Ints:
        """Seconds ahead of UTC at the instants."""
        found: Ints = self.offsets[self.starts.searchsorted(instants, side="right") - 1]
        return found

    def first(self, digits: Ints) -> Ints:
        """The instants at which it first shows the digits; where it jumps over them, the jump.

        The first piece whose end comes after the digits shows them, or begins at the jump over them; a running
        maximum makes a repeated hour count the first time only.
        """
        piece = self._ends.searchsorted(digits, side="right")
        found: Ints = np.maximum(self.starts[piece], digits - self.offsets[piece])
        return found

    @cached_property
    def _ends(self) -> Ints:
        """The digits at which each piece but the last has ended."""
        found: Ints = np.maximum.accumulate(self.starts[1:] + self.offsets[:-1])
        return found

    def apart(self, other: "WallClock", low: int, high: int) -> dict[int, Spans]:
        """Where it shows another time than ``other`` between two instants, by how many seconds it is ahead then."""
        turns = np.unique(np.concatenate([[low, high], self.starts, other.starts]))
        turns = turns[(turns >= low) & (turns <= high)]
        at, until = turns[:-1], turns[1:]
        ahead = self.offset(at) - other.offset(at)
        return {int(by): union(at[ahead == by], until[ahead == by]) for by in np.unique(ahead[ahead != 0])}


@dataclass(frozen=True, slots=True, kw_only=True)
class UnitClock:
    """A unit's clock: a rule, and how far it runs from it."""

    right: WallClock
    sun: WallClock  # the digits its sun times are put into; differs from `right` where only the clock was moved
    error_s: float = 0
    rate: float = 0  # seconds gained per second from `set_on` on
    set_on: int = 0

    def ahead_s(self, instants: Ints) -> "np.ndarray[tuple[int, ...], np.dtype[np.float64]]":
        """e(t): seconds by which it is ahead of a right clock under its rule."""
        found = self.error_s + self.rate * np.maximum(instants - self.set_on, 0)
        return np.asarray(found, dtype=float)

    def shows(self, instants: Ints) -> Ints:
        """The digits it shows at the instants."""
        return self.right.digits(instants + np.floor(self.ahead_s(instants) + 0.5).astype(np.int64))

    def acts(self, digits: Ints) -> Ints:
        """The instants, to the whole second, at which it first shows the digits."""
        return self.unhurried(self.right.first(digits))

    def unhurried(self, moments: Ints) -> Ints:
        """The instants t with t + e(t) = moments: the error taken out again."""
        if not self.error_s and not self.rate:
            return moments
        plain = moments - self.error_s
        drifted = self.set_on + (plain - self.set_on) / (1 + self.rate)
        found: Ints = np.floor(np.where(plain > self.set_on, drifted, plain) + 0.5).astype(np.int64)
        return found


@lru_cache(maxsize=512)
def zone_clock(timezone: str, first_year: int, last_year: int) -> WallClock:
    """The legal clock of a zone over whole years, from the pinned zone data."""
    zone = ZoneInfo(timezone)

    def offset(instant: int) -> int:
        moment = datetime(1970, 1, 1, tzinfo=UTC) + timedelta(seconds=instant)
        return int((moment.astimezone(zone).utcoffset() or timedelta()).total_seconds())

    start = day_number(date(first_year, 1, 1)) * DAY_S
    stop = day_number(date(last_year + 1, 1, 1)) * DAY_S
    starts, offsets = [_BEGINNING], [offset(start)]
    # No zone changes twice within a day and back, so a look a day finds every change.
    for later in range(start + DAY_S, stop + DAY_S, DAY_S):
        now = offset(later)
        if now == offsets[-1]:
            continue
        low, high = later - DAY_S, later
        while high - low > 1:
            middle = (low + high) // 2
            low, high = (middle, high) if offset(middle) == offsets[-1] else (low, middle)
        starts.append(high)
        offsets.append(now)
    return WallClock(np.array(starts, dtype=np.int64), np.array(offsets, dtype=np.int64))


@lru_cache(maxsize=4096)
def standard_offset_s(timezone: str, year: int) -> int:
    """Local standard time of a year: the smaller of the zone's UTC offsets on 15 January and 15 July."""
    zone = ZoneInfo(timezone)
    moments = (datetime(year, month, 15, 12, tzinfo=UTC).astimezone(zone) for month in (1, 7))
    return min(int((moment.utcoffset() or timedelta()).total_seconds()) for moment in moments)


def standard_offsets_s(timezone: str, days: Ints) -> Ints:
    """Local standard time's offset on each local date; shape of ``days``."""
    years = days.astype("datetime64[D]").astype("datetime64[Y]").astype(np.int64) + 1970
    found, where = np.unique(years, return_inverse=True)
    return np.array([standard_offset_s(timezone, int(year)) for year in found], dtype=np.int64)[where]


def nth_weekday(year: int, month: int, week: int, weekday: int) -> int:
    """The day number of the ``week``-th weekday of a month; week 5 is the last."""
    first = day_number(date(year, month, 1))
    day = first + (weekday - (first + 3)) % 7 + (week - 1) * 7
    in_month = day_number(date(year + month // 12, month % 12 + 1, 1))
    while day >= in_month:
        day -= 7
    return day


_SUNDAY = 6
# The legal rules. US: Energy Policy Act of 2005, sec. 110 (15 U.S.C. 260a), and before 2007 Public Law 99-359 of
# 1986. EU: Directive 2000/84/EC, articles 2 and 3, which has both changes at 01:00 UTC.
_US = OwnRule(ChangeDay(3, 2, _SUNDAY, ClockTime(7200)), ChangeDay(11, 1, _SUNDAY, ClockTime(7200)), 60)
_US_1987 = OwnRule(ChangeDay(4, 1, _SUNDAY, ClockTime(7200)), ChangeDay(10, 5, _SUNDAY, ClockTime(7200)), 60)


def _rule_changes(rule: OwnRule, timezone: str, years: range) -> list[tuple[int, int]]:
    """(instant, seconds ahead of standard from then on) of a rule in the site's standard time."""
    found = []
    for year in years:
        standard = standard_offset_s(timezone, year)
        shift = rule.shift_min * 60
        for change, before, after in ((rule.start, 0, shift), (rule.end, shift, 0)):
            day = nth_weekday(year, change.month, change.week, change.weekday)
            found.append((day * DAY_S + change.time.seconds - standard - before, after))
    return sorted(found)


def _eu_changes(years: range) -> list[tuple[int, int]]:
    months = ((3, HOUR_S), (10, 0))
    return [(nth_weekday(y, month, 5, _SUNDAY) * DAY_S + HOUR_S, ahead) for y in years for month, ahead in months]


def _ahead_of_standard(timezone: str, years: range, changes: list[tuple[int, int]], initial_s: int) -> WallClock:
    """Local standard time of each year, plus what the changes (in order) add from their instants on."""
    standards = np.array([standard_offset_s(timezone, year) for year in years], dtype=np.int64)
    new_years = np.array([day_number(date(year, 1, 1)) for year in years[1:]], dtype=np.int64) * DAY_S - standards[:-1]
    at = np.array([at for at, _ in changes], dtype=np.int64)
    aheads = np.array([initial_s, *(ahead for _, ahead in changes)], dtype=np.int64)
    starts = np.concatenate([[_BEGINNING], np.union1d(new_years, at)]).astype(np.int64)
    offsets = standards[np.searchsorted(new_years, starts, side="right")]
    offsets = offsets + aheads[np.searchsorted(at, starts, side="right")]
    turns = np.concatenate([[True], offsets[1:] != offsets[:-1]])
    return WallClock(starts[turns], offsets[turns])


def _by_hand_changes(rule: ByHand, site: WallClock) -> list[tuple[int, int]]:
    on = site.first(np.array([change.on for change in rule.changes], dtype=np.int64))
    return [(int(at), change.shift_min * 60) for at, change in zip(on, rule.changes, strict=True)]


@lru_cache(maxsize=256)
def unit_clock(settings: ClockSettings, timezone: str, first_year: int, last_year: int) -> UnitClock:
    """The clock of a unit at a site in ``timezone``, over whole years of its own dates."""
    site = zone_clock(timezone, first_year, last_year)
    years = range(first_year, last_year + 1)
    standard = _ahead_of_standard(timezone, years, [], 0)
    rule = settings.dst
    sun = None
    match rule:
        case ByHand():
            right = _ahead_of_standard(timezone, years, _by_hand_changes(rule, site), rule.initial_min * 60)
            sun = None if rule.sun_follows else standard
        case NamedRule():
            right = _named(rule.name, timezone, years, site, standard)
        case OwnRule():
            right = _from_rule(rule, timezone, years)
        case _:
            assert_never(rule)
    set_on = 0
    if settings.set_on is not None:
        year = day_of(settings.set_on // DAY_S).year
        set_on = int(zone_clock(timezone, year, year).first(np.array([settings.set_on]))[0])
    return UnitClock(
        right=right,
        sun=sun or right,
        error_s=settings.error_s,
        rate=settings.fast_s_per_day / DAY_S,
        set_on=set_on,
    )


def _named(name: str, timezone: str, years: range, site: WallClock, standard: WallClock) -> WallClock:
    match name:
        case "zone":
            return site
        case "none":
            return standard
        case "eu":
            return _ahead_of_standard(timezone, years, _eu_changes(years), 0)
        case "us":
            return _from_rule(_US, timezone, years)
        case "us-1987":
            return _from_rule(_US_1987, timezone, years)
    raise ValueError(name)


def _from_rule(rule: OwnRule, timezone: str, years: range) -> WallClock:
    changes = _rule_changes(rule, timezone, years)
    # Before its first change the clock is as the last change of a year leaves it.
    return _ahead_of_standard(timezone, years, changes, changes[-1][1])
