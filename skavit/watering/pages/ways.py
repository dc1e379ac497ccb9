"""Other ways to fit the programs, each with what it uses and what it loses."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date

from skavit.core.plan.document import Plan
from skavit.core.plan.water import Water
from skavit.core.plan.water_edits import water_of
from skavit.core.sheet.water_seasons import program_text
from skavit.core.simulation.replay import replay
from skavit.core.text.wording import Words
from skavit.core.water.fitting import fit_water
from skavit.core.water.year import water_year
from skavit.units.models import Unit
from skavit.watering.services import loss_text

# So many stations are fitted in several ways while a page waits; more would keep it waiting.
STATIONS_AT_ONCE = 16


@dataclass(frozen=True, slots=True, kw_only=True)
class Way:
    """One way to fit."""

    slug: str
    name: str
    when: str  # one would choose it
    bound: Callable[[Water], Water]


def _limits(**changes: object) -> Callable[[Water], Water]:
    return lambda water: replace(water, limits=replace(water.limits, **changes))  # type: ignore[arg-type]


WAYS = (
    Way(slug="need", name="As the soil asks", when="least water, any rule for days", bound=lambda water: water),
    Way(slug="weekdays", name="On weekdays", when="people know them by heart", bound=_limits(days=("any",))),
    Way(slug="one", name="One program", when="quickest to key and to explain", bound=_limits(programs=1)),
    Way(slug="season", name="Without months", when="somebody turns the season by hand", bound=_limits(monthly=False)),
)


@dataclass(frozen=True, slots=True, kw_only=True)
class WayShown:
    """A way with what it makes."""

    slug: str
    name: str
    when: str
    programs: list[str]
    water: str
    losses: list[str]


def offered(plan: Plan) -> list[Way]:
    """The ways that a unit's limits leave."""
    limits = water_of(plan).limits
    found = []
    for way in WAYS:
        if way.slug == "weekdays" and limits.days is not None and "any" not in limits.days:
            continue
        if (way.slug == "one" and limits.stations is not None) or (way.slug == "season" and not limits.monthly):
            continue
        found.append(way)
    return found


def fitted(plan: Plan, way: Way, year: int) -> tuple[Plan, list[str]]:
    """The plan fitted one way, with the unit's own limits, and what it loses. Raises PlanError where nothing can be fitted."""
    water = water_of(plan)
    found = fit_water(replace(plan, water=way.bound(water)), year)
    made = water.with_programs(water_of(found.plan).programs)
    return replace(plan, water=made), [loss_text(water, loss) for loss in found.losses]


def ways_shown(unit: Unit, year: int, words: Words) -> list[WayShown]:
    """Each way with its programs, what it uses in a year, and what it loses."""
    found = []
    for way in offered(unit.plan):
        plan, losses = fitted(unit.plan, way, year)
        run = water_year(replay(plan, date(year, 1, 1), date(year, 12, 31)))
        assert run is not None
        programs = [program_text(program, words) for program in water_of(plan).programs]
        found.append(
            WayShown(
                slug=way.slug, name=way.name, when=way.when, programs=programs, water=words.volume(run.litres), losses=losses
            )
        )  # fmt: skip
    return found
