"""What needs somebody at a unit, and by when: from its plan, its kind, what its year shows, and what its last visit says.

A date is the day by which somebody should have been there; without one it is now. A date that has passed stays until a
visit comes after it.
"""

from collections.abc import Collection, Iterator
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

import numpy as np

from skavit.core.ground.arrays import DAY_S, YEAR_DAYS
from skavit.core.kinds.daylight import lawful_name
from skavit.core.kinds.kind import Kind
from skavit.core.kinds.parts import Power
from skavit.core.plan.clock_settings import ByHand, NamedRule
from skavit.core.plan.days import Holiday, Once, dated_in
from skavit.core.plan.document import Plan
from skavit.core.plan.seasonal import stretches
from skavit.core.plan.times import day_number, day_of
from skavit.core.site.clock import zone_clock
from skavit.core.site.clock_check import clock_changes
from skavit.core.water.seasons import next_season

YEARS_AHEAD = 2


class Sort(StrEnum):
    """What there is to do, the most pressing first."""

    BY_HAND = "by-hand"
    SUSPENDED = "suspended"
    NOT_KEYED = "not-keyed"
    RESERVE = "reserve"
    CLOCK_CHANGE = "clock-change"
    SEASON = "season"
    SUN = "sun"
    SEASON_LEFT = "season-left"
    HOLIDAYS = "holidays"
    LINK = "link"
    BATTERY = "battery"
    LAY_UP = "lay-up"
    START_UP = "start-up"
    FINDINGS = "findings"
    PLANNED = "planned"


# Findings that are a thing to do of their own; the other serious ones are told together.
_BY_FINDING = {
    "not-in-auto": Sort.BY_HAND,
    "held-long": Sort.BY_HAND,
    "random-left-on": Sort.BY_HAND,
    "left-off": Sort.SUSPENDED,
    "reserve-short": Sort.RESERVE,
    "sun-differs": Sort.SUN,
    "left-high": Sort.SEASON_LEFT,
    "holiday-moves": Sort.HOLIDAYS,
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Shows:
    """What a unit's year shows, as it is kept: a finding's slug, and whether it is a danger or a warning."""

    code: str
    serious: bool
    lasts: bool = True  # whether it shows today


@dataclass(frozen=True, slots=True, kw_only=True)
class Known:
    """What visits say of a unit; day numbers of the site's calendar."""

    today: int
    visited: int | None = None  # when somebody was last there
    battery: int | None = None  # from when its battery is
    battery_low: bool = False  # seen low or flat since
    battery_months: int | None = None  # which those of its kind have lasted, by the record
    batteries: int = 0  # on so many of which that rests
    links_end: int | None = None  # the first day on which a link to it ends
    left: str = ""  # the mode in which it was left, where that is another than automatic
    suspended: bool = False  # left so without an end
    suspended_until: int | None = None
    keyed_anew: bool = False  # the plan keys something else by now than is in it


@dataclass(frozen=True, slots=True, kw_only=True)
class Due:
    """One thing to do; without a day it is now."""

    sort: Sort
    day: int | None = None
    count: int = 0  # of findings, where several are told together; of batteries, on which a date rests


def due_of(plan: Plan, kind: Kind | None, shows: Collection[Shows], known: Known) -> tuple[Due, ...]:
    """All that is to be done at a unit, each sort once: what is due now goes before what is due on a day."""
    found: dict[Sort, Due] = {}
    for due in (*_by_findings(shows), *_by_visits(known), *_by_plan(plan, kind, known)):
        before = found.get(due.sort)
        if before is None or (before.day is not None and (due.day is None or due.day < before.day)):
            found[due.sort] = due
    order = list(Sort)
    return tuple(sorted(found.values(), key=lambda due: (due.day is not None, due.day or 0, order.index(due.sort))))


def _by_findings(shows: Collection[Shows]) -> Iterator[Due]:
    others = 0
    for one in shows:
        if one.code in _BY_FINDING:
            sort = _BY_FINDING[one.code]
            over = sort in (Sort.BY_HAND, Sort.SUSPENDED) and not one.lasts
            # A holiday with its year is told by the day on which it has run out.
            if sort is not Sort.HOLIDAYS and not over:
                yield Due(sort=sort)
        else:
            others += one.serious
    if others:
        yield Due(sort=Sort.FINDINGS, count=others)


def _by_visits(known: Known) -> Iterator[Due]:
    if known.left:
        yield Due(sort=Sort.BY_HAND)
    if known.suspended:
        yield Due(sort=Sort.SUSPENDED, day=known.suspended_until)
    if known.keyed_anew:
        yield Due(sort=Sort.NOT_KEYED)


def _by_plan(plan: Plan, kind: Kind | None, known: Known) -> Iterator[Due]:
    change = _clock_change(plan, kind, known)
    if change is not None:
        yield Due(sort=Sort.CLOCK_CHANGE, day=change)
    once = [holiday.start.day + holiday.days for holiday in plan.unit.holidays if isinstance(holiday.start, Once)]
    if once:
        yield Due(sort=Sort.HOLIDAYS, day=max(once))
    if plan.water is not None and plan.water.lay_up is not None:
        yield from _winter(plan.water.lay_up, known)
    turned = _next_program(plan, known)
    if turned is not None:
        yield Due(sort=Sort.SEASON, day=turned)
    if known.battery_low:
        yield Due(sort=Sort.BATTERY)
    elif known.battery is not None:
        months = known.battery_months or (kind.power if kind else Power()).battery_months
        yield Due(sort=Sort.BATTERY, day=months_after(known.battery, months), count=known.batteries)
    if known.links_end is not None:
        yield Due(sort=Sort.LINK, day=known.links_end)


def _clock_change(plan: Plan, kind: Kind | None, known: Known) -> int | None:
    """The first day after the last visit on which somebody must move the unit's clock."""
    since = _since(known)
    rule = plan.unit.clock.dst
    if isinstance(rule, ByHand):
        return min((change.on // DAY_S for change in rule.changes if change.on // DAY_S > since), default=None)
    year = day_of(since).year
    if kind is None or (rule == NamedRule("none") and not kind.moved_by_hand):
        return None  # standard time all year is what the plan says
    if lawful_name(kind, plan.site.timezone, year):
        return None
    law = zone_clock(plan.site.timezone, year - 1, year + YEARS_AHEAD)
    start, end = (
        int(at) for at in law.first(np.array([since + 1, day_number(date(year + YEARS_AHEAD, 1, 1))]) * DAY_S)
    )
    return min(((change.digits + change.by_s) // DAY_S for change in clock_changes(law, start, end)), default=None)


def _next_program(plan: Plan, known: Known) -> int | None:
    """The first day after the last visit on which another seasonal program is to be keyed."""
    since = _since(known)
    turns = [turn.first for turn in stretches(plan.unit.keyings, since, since + YEARS_AHEAD * YEAR_DAYS)[1:2]]
    season = next_season(plan.water, since) if plan.water is not None else None
    return min([*turns, *([season] if season is not None else [])], default=None)


def _winter(winter: Holiday, known: Known) -> Iterator[Due]:
    """The first days after the last visit on which a unit is to be laid up, and to be started up again."""
    since = _since(known)
    year = day_of(since).year
    starts = dated_in(winter.start, range(year - 1, year + YEARS_AHEAD))
    for sort, days in ((Sort.LAY_UP, starts), (Sort.START_UP, [start + winter.days for start in starts])):
        coming = min((day for day in days if day > since), default=None)
        if coming is not None:
            yield Due(sort=sort, day=coming)


def _since(known: Known) -> int:
    """The day from which on something is still to be done: that of the last visit, else yesterday."""
    return known.today - 1 if known.visited is None else known.visited


def months_after(day: int, months: int) -> int:
    """So many months after a day; where the month is shorter, its last day."""
    start = day_of(day)
    year, month = divmod(start.year * 12 + start.month - 1 + months, 12)
    following = date(year + (month == 11), (month + 1) % 12 + 1, 1)
    last = day_of(day_number(following) - 1).day
    return day_number(date(year, month + 1, min(start.day, last)))
