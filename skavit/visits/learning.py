"""What a crew's visits teach of a kind: drift and batteries, worked out when asked for."""

import json
from collections import defaultdict
from datetime import date
from typing import Any

from skavit.core.due import Learned, Seen, learned
from skavit.core.ground.arrays import DAY_S, HALF_DAY_S
from skavit.core.ground.strict_json import Node
from skavit.core.plan.times import day_number, read_clock_time
from skavit.crews.models import Crew
from skavit.server.now import site_digits
from skavit.units.models import AsFound
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
    of_unit: dict[int, list[Visit]] = defaultdict(list)
    for visit in visits.order_by("-ended")[:MOST_VISITS]:
        of_unit[visit.unit_id].append(visit)
    return learned([list(map(_seen, own, [*own[1:], None])) for own in of_unit.values()])


def _seen(visit: Visit, before: Visit | None) -> Seen:
    """What a visit says; ``before``: the one before it at the same unit, None of the first."""
    shown, battery = visit.as_found.shown if visit.as_found else {}, visit.read.get("battery_date")
    at = int(visit.begun.timestamp())
    return Seen(
        at=at,
        ahead_s=_ahead_s(visit, shown["time"], at) if "time" in shown else None,
        was_set=visit.revision_id is not None,
        battery_new=day_number(date.fromisoformat(battery)) if battery else None,
        battery_low=visit.value("battery") in LOW,
        left_out_of_automatic=bool(shown.get("mode", "")) and shown["mode"] != AsFound.AUTOMATIC,
        other_entries=_other_entries(visit, before),
    )


def _other_entries(visit: Visit, before: Visit | None) -> bool:
    """Whether a unit was found with other entries than were keyed at the visit before; not where nobody read them."""
    if visit.as_found is None or not visit.as_found.entries or before is None or before.document is None:
        return False
    keyed = before.document["unit"].get("entries", [])
    found, known = (sorted(_named_by_nothing(entry) for entry in each) for each in (visit.as_found.entries, keyed))
    return found != known


def _named_by_nothing(entry: dict[str, Any]) -> str:
    return json.dumps({key: value for key, value in entry.items() if key != "id"}, sort_keys=True)


def _ahead_s(visit: Visit, text: str, at: int) -> float:
    """By how much a clock was ahead of the site's as it was found, within half a day either way."""
    shown = read_clock_time(Node(text, "time")).seconds
    return float((shown - site_digits(visit.unit.site.place, at) + HALF_DAY_S) % DAY_S - HALF_DAY_S)
