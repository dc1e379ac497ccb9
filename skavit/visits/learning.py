"""What a crew's visits teach of a kind: drift and batteries, worked out when asked for."""

from collections import defaultdict
from datetime import date

from skavit.core.due import Learned, Seen, learned
from skavit.core.ground.arrays import DAY_S, HALF_DAY_S
from skavit.core.ground.strict_json import Node
from skavit.core.plan.times import day_number, read_clock_time
from skavit.crews.models import Crew
from skavit.server.now import site_digits
from skavit.units.selectors import units_of
from skavit.visits.models import Visit

# The latest so many visits to units of a kind are looked at.
MOST_VISITS = 2_000
LOW = ("low", "flat")


def learned_of(crew: Crew, kind: int | str | None) -> Learned:
    """What the crew's visits say of a kind: one that ships by its slug, one of the crew's own by its key; nothing of none."""
    if not kind:
        return Learned(units=0)
    units = units_of(crew).filter(**({"kind": kind} if isinstance(kind, int) else {"shipped_kind": kind}))
    visits = Visit.objects.filter(unit__in=units).exclude(ended=None).select_related("as_found", "unit__site")
    seen: dict[int, list[Seen]] = defaultdict(list)
    for visit in visits.order_by("-ended")[:MOST_VISITS]:
        seen[visit.unit_id].append(_seen(visit))
    return learned(seen.values())


def _seen(visit: Visit) -> Seen:
    shown, battery = visit.as_found.shown if visit.as_found else {}, visit.read.get("battery_date")
    at = int(visit.begun.timestamp())
    return Seen(
        at=at,
        ahead_s=_ahead_s(visit, shown["time"], at) if "time" in shown else None,
        was_set=visit.revision_id is not None,
        battery_new=day_number(date.fromisoformat(battery)) if battery else None,
        battery_low=visit.value("battery") in LOW,
    )


def _ahead_s(visit: Visit, text: str, at: int) -> float:
    """By how much a clock was ahead of the site's as it was found, within half a day either way."""
    shown = read_clock_time(Node(text, "time")).seconds
    return float((shown - site_digits(visit.unit.site.place, at) + HALF_DAY_S) % DAY_S - HALF_DAY_S)
