"""Entries made from windows, and what is said of them."""

from dataclasses import replace

from skavit.core.fitting import Fit, Loss, Other, fit, season_programs
from skavit.core.ground.budget import Budget
from skavit.core.plan.document import Plan
from skavit.core.text.wording import Words, count
from skavit.server.bounds import CHANNELS_AT_ONCE, WINDOWS_AT_ONCE
from skavit.switching.pages.seasonal.page import entry_lines
from skavit.units.pages.seasonal_tabs import seasonal_label
from skavit.units.trades import FitOption, Fitted, TooLong


def fit_size(plan: Plan) -> float:
    """How large a fit is, in parts of what a page may wait for."""
    windows = sum(len(channel.windows) for channel in plan.channels)
    return max(windows / WINDOWS_AT_ONCE, len(plan.channels) / CHANNELS_AT_ONCE)


def fit_entries(plan: Plan, year: int, budget: Budget | None = None) -> Fitted:
    """Make the entries from the windows, within the unit's limits. Raises :class:`TooLong` where a budget does not do."""
    found = _fit(plan, year, budget)
    return Fitted(plan=found.plan, lines=fit_lines(plan, found.plan, found.losses), exact=not found.losses)


def _fit(plan: Plan, year: int, budget: Budget | None) -> Fit:
    found = fit(plan, year, budget)
    if budget is not None and found.ended:
        raise TooLong
    return found


def fit_lines(before: Plan, plan: Plan, losses: tuple[Loss, ...]) -> list[str]:
    """What a fit made, and what it could not hold, a sentence each."""
    made = count(len(plan.unit.entries), "entry", "entries")
    lines = []
    if before.unit.keyings:
        lines.append("One set of entries for the whole year: the seasonal settings were removed.")
    if not losses:
        return [*lines, f"{made} made; eleven years replayed, nothing is lost."]
    for loss in losses:
        name = plan.channels[loss.channel - 1].name
        lost = f"{loss.hours_a_year:.1f} h a year" if loss.hours_a_year >= 0.05 else "under 3 min a year"
        lines.append(f"{made} made. {name}: {lost} differ. {loss.reason[:1].upper()}{loss.reason[1:]}.")
    return [*lines, "What else the unit could hold stands under Other ways to fit."]


def fit_options(plan: Plan, year: int, words: Words, budget: Budget | None = None) -> list[FitOption]:
    """The fit, and other entries that the unit could hold, the least wrong first. Raises :class:`TooLong`."""
    found = _fit(plan, year, budget)
    reasons = [f"{found.plan.channels[loss.channel - 1].name}: {loss.reason}" for loss in found.losses]
    hours = sum(loss.hours_a_year for loss in found.losses) if found.losses else None
    first = "Just what is wanted" if hours is None else "Nearest to what is wanted"
    options = [_option(first, found.plan, hours, "; ".join(reasons), words)]
    seasons = season_programs(plan, year, budget) if hours else None
    if hours and seasons and seasons.hours_a_year < hours:
        options.append(_of_seasons(seasons, words))
    for number, other in enumerate(found.others, start=1):
        options.append(_option(f"Another way, {number}", other.plan, other.hours_a_year, other.lost, words))
    return options


def _of_seasons(found: Other, words: Words) -> FitOption:
    """A program for each part of the year, a line each."""
    plan = found.plan
    programs = plan.unit.keyings
    lines = [
        f"{seasonal_label(program)}: {'; '.join(entry_lines(plan, program.entries, words)) or 'nothing is keyed'}"
        for program in programs
    ]
    names = {program.name for program in programs}
    option = _option(
        "A summer and a winter program" if names == {"Summer", "Winter"} else "A program for each part of the year",
        plan,
        found.hours_a_year,
        found.lost,
        words,
    )
    when = f"Choose it where somebody keys the next program on each of these {len(programs)} dates, every year."
    return replace(option, when=when, lines=lines)


def _option(name: str, plan: Plan, hours: float | None, lost: str, words: Words) -> FitOption:
    return FitOption(
        name=name,
        when="",
        plan=plan,
        lines=entry_lines(plan, plan.unit.entries, words),
        losses=[f"{'nothing' if hours is None else f'{hours:,.1f} h a year'} lost", *([lost] if lost else [])],
    )
