"""A summer and a winter program, where a window is empty for weeks: each keyed on its dates (`unit.keyings`).

A unit whose days name no dates runs a window's ON in the weeks in which its OFF comes first. Keyed without that window
for those weeks, it does just what is wanted in both halves of the year.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace

from skavit.core.fitting.layouts import WindowLayouts
from skavit.core.fitting.proof import Other, other, proof
from skavit.core.fitting.search import fit
from skavit.core.fitting.shifting import month_day_of
from skavit.core.fitting.trial import Range, Trial
from skavit.core.ground.budget import Budget
from skavit.core.plan.days import Narrowed, Yearly, dated_in
from skavit.core.plan.document import Plan
from skavit.core.plan.seasonal import SeasonalProgram
from skavit.core.plan.times import day_of

# A window that is empty for fewer days is not worth a visit; more programs than these nobody keys.
LEAST_DAYS, MOST_PROGRAMS = 14, 4
# Days by which the dates of the sun move from year to year: a window that is on then for minutes is not missed.
OTHER_YEARS = 2
JUNE, DECEMBER = 621, 1221
COMMON_YEAR = 2027


@dataclass(frozen=True, slots=True, kw_only=True)
class _Season:
    """Dates of each year, both included, and the windows (channel, place) that are empty in them."""

    first: int  # month and day, as month * 100 + day
    last: int
    empty: frozenset[tuple[int, int]]


def season_programs(plan: Plan, first_year: int, budget: Budget | None = None) -> Other | None:
    """A program for each part of the year, with what it loses; None where one program for the year is all there is.

    That is so where no window is empty for :data:`LEAST_DAYS` days and more, where the unit's days may name dates, and
    where more than :data:`MOST_PROGRAMS` would be needed.
    """
    if plan.unit.limits.day_groups is None or plan.unit.sun.source in ("photocell", "none"):
        return None
    seasons = list(_seasons(Trial(plan, first_year, budget)))
    if not 1 < len(seasons) <= MOST_PROGRAMS:
        return None
    keyed = []
    for season in seasons:
        windows = _without(plan, season.empty)
        entries = fit(windows, first_year, budget, _dates(season, first_year)).plan.unit.entries
        keyed.append(SeasonalProgram(start=Yearly(season.first), name=_name(plan, season), entries=entries))
    unit = replace(plan.unit, entries=(), keyings=tuple(keyed))
    return other(proof(replace(plan, unit=unit), first_year))


def _without(plan: Plan, empty: frozenset[tuple[int, int]]) -> Plan:
    """The plan without some of its windows."""
    channels = tuple(
        replace(channel, windows=tuple(w for place, w in enumerate(channel.windows) if (number, place) not in empty))
        for number, channel in enumerate(plan.channels)
    )
    return replace(plan, channels=channels)


def _seasons(trial: Trial) -> Iterator[_Season]:
    """Split the year on each date from which other windows are empty, in the order of the dates."""
    away: dict[tuple[int, int], list[tuple[int, int]]] = {}
    for number, channel in enumerate(trial.plan.channels):
        for place, window in enumerate(channel.windows):
            rules = WindowLayouts(trial, window, trial.plan.unit.limits, number).empty_seasons()
            spans = [rule.between for rule in rules if isinstance(rule, Narrowed) and rule.between]
            weeks = [span for span in spans if _days(*span) >= LEAST_DAYS]
            away[number, place] = [(_after(first, -OTHER_YEARS), _after(last, OTHER_YEARS)) for first, last in weeks]
    every = [span for spans in away.values() for span in spans]
    away = {window: [_widened(span, every) for span in spans] for window, spans in away.items()}
    starts = {first for spans in away.values() for first, _ in spans}
    starts |= {_after(last) for spans in away.values() for _, last in spans}
    order = sorted(starts)
    for first, following in zip(order, [*order[1:], *order[:1]], strict=True):
        empty = frozenset(window for window, spans in away.items() if any(_within(first, span) for span in spans))
        yield _Season(first=first, last=_after(following, -1), empty=empty)


def _widened(span: tuple[int, int], every: list[tuple[int, int]]) -> tuple[int, int]:
    """The dates of a season, begun and ended with another that begins shortly before it or ends shortly after it."""
    first = max((other for other, _ in every), key=lambda other: _near(other, span[0]))
    last = max((other for _, other in every), key=lambda other: _near(span[1], other))
    return first, last


def _near(earlier: int, later: int) -> int:
    """How many days one month and day lies before another, where those are few; -1 where not."""
    days = _days(earlier, later) - 1
    return days if days < LEAST_DAYS else -1


def _within(month_day: int, span: tuple[int, int]) -> bool:
    first, last = span
    return first <= month_day <= last if first <= last else month_day >= first or month_day <= last


def _days(first: int, last: int) -> int:
    """How many dates lie from one month and day to another, both included."""
    return (_day(last) - _day(first)) % 365 + 1


def _after(month_day: int, by: int = 1) -> int:
    return month_day_of(_day(month_day) + by)


def _day(month_day: int, year: int = COMMON_YEAR) -> int:
    (found,) = dated_in(Yearly(month_day), range(year, year + 1))
    return found


def _dates(season: _Season, year: int) -> Range:
    """One run of a season that begins in that year."""
    return day_of(_day(season.first, year)), day_of(_day(season.last, year + (season.last < season.first)))


def _name(plan: Plan, season: _Season) -> str:
    """Return Summer or Winter by the solstice that lies in the season, or nothing."""
    north = plan.site.latitude >= 0
    if _within(JUNE if north else DECEMBER, (season.first, season.last)):
        return "Summer"
    return "Winter" if _within(DECEMBER if north else JUNE, (season.first, season.last)) else ""
