"""What is done to a unit that holds temperatures beyond an edit of its plan: set points made from what is wanted."""

from skavit.core.ground.errors import UserError
from skavit.core.heat.fitting import HeatLoss, fit_heat
from skavit.core.heat.week import EVEN, Weight
from skavit.core.plan.document import Plan
from skavit.core.plan.heat_edits import heat_of
from skavit.core.text.wording import Words, count
from skavit.crews.models import Membership
from skavit.now import year_at
from skavit.units.models import PlanRevision, Unit
from skavit.units.services.revisions import edit


class CannotFit(UserError):
    """Nothing can be fitted yet."""


def fit_set_points(
    unit: Unit, membership: Membership, base: int, *, now: int, weight: Weight = EVEN
) -> tuple[PlanRevision, tuple[HeatLoss, ...]]:
    """Key the set points that are wanted; gives what the unit cannot hold too. Raises :class:`CannotFit`."""
    losses: list[HeatLoss] = []

    def change(plan: Plan) -> Plan:
        if not any(zone.wanted for zone in heat_of(plan).zones):
            raise CannotFit("No temperature is wanted yet. Accepted: at least one set point.")
        found = fit_heat(plan, year_at(plan.site, now), weight)
        losses.extend(found.losses)
        return found.plan

    revision = edit(unit, membership, base, change, "set points fitted", now=now)
    return revision, tuple(losses)


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
