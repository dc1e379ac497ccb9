"""Set points made from what is wanted, and what is said of them."""

from dataclasses import dataclass, replace

from skavit.core.heat.fitting import HeatFit, HeatLoss, fit_heat
from skavit.core.heat.week import EVEN, Weight
from skavit.core.plan.days import DAILY
from skavit.core.plan.document import Plan
from skavit.core.plan.heat import SetPoint
from skavit.core.plan.heat_edits import groups, heat_of
from skavit.core.text.wording import Words, count, days_text
from skavit.units.trades import CannotFit, FitOption, Fitted

HEAVY = 50.0
# A fit of so many set points takes a second or two at the worst.
POINTS_AT_ONCE = 360


def check_fit(plan: Plan) -> None:
    """Raise :class:`CannotFit` where there is nothing to fit yet."""
    if not any(zone.wanted for zone in heat_of(plan).zones):
        raise CannotFit("No temperature is wanted yet. Accepted: at least one set point.")


def fit_size(plan: Plan) -> float:
    """How large a fit is, in parts of what a page may wait for."""
    return sum(len(zone.wanted) for zone in heat_of(plan).zones) / POINTS_AT_ONCE


def fit_set_points(plan: Plan, year: int, words: Words) -> Fitted:
    """Make the set points that are wanted into those that the unit holds."""
    found = fit_heat(plan, year)
    return Fitted(plan=found.plan, lines=fit_lines(found.plan, found.losses, words), exact=not found.losses)


def fit_lines(plan: Plan, losses: tuple[HeatLoss, ...], words: Words) -> list[str]:
    """What a fit made and what it could not hold, a line each."""
    heat = heat_of(plan)
    made = count(sum(len(zone.keyed) for zone in heat.zones), "set point")
    if not losses:
        return [f"{made} keyed: the unit holds just what is wanted."]
    return [f"{made} keyed. Not everything can be held:", *(loss_text(plan, loss, words) for loss in losses)]


def loss_text(plan: Plan, loss: HeatLoss, words: Words) -> str:
    """What a fit could not hold, and how far off the nearest is."""
    sides = ((loss.too_warm_kh, "too warm"), (loss.too_cold_kh, "too cold"))
    told = [f"{words.kelvin_hours(kh)} a year {word}" for kh, word in sides if round(kh)]
    name = heat_of(plan).zones[loss.zone - 1].name
    return f"{name}: {loss.reason}. Nearest: {' and '.join(told) or 'less than a degree and hour a year off'}."


@dataclass(frozen=True, slots=True, kw_only=True)
class Aim:
    """What a fit spares most where it cannot hold everything."""

    name: str
    when: str  # one would choose it
    weight: Weight = EVEN
    one_day: bool = False  # the same on every day


AIMS = (
    Aim(name="Nearest", when="least error, warm and cold alike"),
    Aim(name="Never too cold", when="people must not freeze", weight=Weight(cold=HEAVY)),
    Aim(name="Never too warm", when="the bill counts most", weight=Weight(warm=HEAVY)),
    Aim(name="The same every day", when="quickest to key and to explain", one_day=True),
)


def _made(plan: Plan, aim: Aim, year: int) -> HeatFit:
    if aim.one_day:
        plan = replace(plan, unit=replace(plan.unit, limits=replace(plan.unit.limits, day_groups=(DAILY,))))
    return fit_heat(plan, year, aim.weight)


def fit_options(plan: Plan, year: int, words: Words) -> list[FitOption]:
    """Each aim with its set points, and what it loses; one that makes the same as one before is left out."""
    found: list[FitOption] = []
    seen = []
    for aim in AIMS:
        if aim.one_day and not plan.unit.limits.holds_days(DAILY):
            continue
        made = _made(plan, aim, year)
        heat = heat_of(made.plan)
        if heat.zones in seen:
            continue
        seen.append(heat.zones)
        found.append(
            FitOption(
                name=aim.name,
                when=aim.when,
                plan=replace(plan, heat=heat),  # with the unit's own limits
                lines=[line for zone in heat.zones for line in group_lines(zone.name, zone.keyed, words)],
                losses=[loss_text(plan, loss, words) for loss in made.losses] or ["Just what is wanted."],
            )
        )
    return found


def group_lines(name: str, points: tuple[SetPoint, ...], words: Words) -> list[str]:
    """The day groups of a zone, a line each."""
    return [
        f"{name}, {days_text(days)}: "
        + ", ".join(f"{words.clock(point.at.seconds)} {words.warmth(point.c)}" for point in own)
        for days, own in groups(points)
    ]
