"""Other ways to fit the set points, each with what it loses."""

from dataclasses import dataclass, replace

from skavit.core.heat.fitting import HeatFit, fit_heat
from skavit.core.heat.week import EVEN, Weight
from skavit.core.plan.days import DAILY
from skavit.core.plan.document import Plan
from skavit.core.plan.heat import SetPoint
from skavit.core.plan.heat_edits import groups, heat_of
from skavit.core.text.wording import Words, days_text
from skavit.heating.services import loss_text

HEAVY = 50.0
# So many set points are fitted in several ways while a page waits; more would keep it waiting.
POINTS_AT_ONCE = 240


@dataclass(frozen=True, slots=True, kw_only=True)
class Way:
    """One way to fit."""

    slug: str
    name: str
    when: str  # one would choose it
    weight: Weight = EVEN
    one_day: bool = False  # the same on every day


WAYS = (
    Way(slug="nearest", name="Nearest", when="least error, warm and cold alike"),
    Way(slug="warm", name="Never too cold", when="people must not freeze", weight=Weight(cold=HEAVY)),
    Way(slug="cold", name="Never too warm", when="the bill counts most", weight=Weight(warm=HEAVY)),
    Way(slug="same", name="The same every day", when="quickest to key and to explain", one_day=True),
)


@dataclass(frozen=True, slots=True, kw_only=True)
class WayShown:
    """A way with what it makes."""

    slug: str
    name: str
    when: str
    points: list[str]
    losses: list[str]


def offered(plan: Plan) -> list[Way]:
    """The ways that a unit's day groups leave."""
    return [way for way in WAYS if not way.one_day or plan.unit.limits.holds_days(DAILY)]


def _made(plan: Plan, way: Way, year: int) -> HeatFit:
    if way.one_day:
        plan = replace(plan, unit=replace(plan.unit, limits=replace(plan.unit.limits, day_groups=(DAILY,))))
    return fit_heat(plan, year, way.weight)


def fitted(plan: Plan, way: Way, year: int) -> Plan:
    """The plan fitted one way, with the unit's own limits."""
    return replace(plan, heat=heat_of(_made(plan, way, year).plan))


def ways_shown(plan: Plan, year: int, words: Words) -> list[WayShown]:
    """Each way with its set points, and what it loses; a way that makes the same as one before is left out."""
    found: list[WayShown] = []
    seen = []
    for way in offered(plan):
        made = _made(plan, way, year)
        zones = heat_of(made.plan).zones
        if zones in seen:
            continue
        seen.append(zones)
        found.append(
            WayShown(
                slug=way.slug,
                name=way.name,
                when=way.when,
                points=[line for zone in zones for line in group_lines(zone.name, zone.keyed, words)],
                losses=[loss_text(plan, loss, words) for loss in made.losses],
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
