"""What is due at a unit, worked out anew whenever its plan, its visits or what is planned for it change."""

import datetime as dt
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import replace

from django.db import transaction
from django.utils.dateparse import parse_date

from skavit.core.due import Known, Learned, Shows, Sort, due_of
from skavit.core.plan.times import day_number, day_of
from skavit.due.models import Due, Planned
from skavit.server.now import today_at
from skavit.units.dated import ends_of
from skavit.units.models import AsFound, Unit
from skavit.units.results import SERIOUS, keep_accepted, meant_so
from skavit.visits.learning import LOW, learned_of
from skavit.visits.models import Visit

_Row = tuple[str, dt.date | None, int]  # what it is, when, how many


def keep_due(units: Sequence[Unit], now: int) -> None:
    """Write down what is due at units; nothing is written where it is the same as before."""
    visits, planned, there, ends = _visits(units), _planned(units), _there(units), ends_of(units, now)
    meant, taught = meant_so(units, now), _Taught()
    wanted = {
        unit: _wanted(unit, visits[unit.pk], planned.get(unit.pk), ends.get(unit.pk), set(meant[unit.pk]), taught, now)
        for unit in units
    }
    changed = {unit: due for unit, due in wanted.items() if due != there[unit.pk]}
    if not changed:
        return
    with transaction.atomic():
        # A unit's row stands for what is due at it: two that come at once do so one after the other.
        list(
            Unit.objects.select_for_update(of=("self",))
            .filter(pk__in=[u.pk for u in changed])
            .order_by("pk")
            .only("pk")
        )
        Due.objects.filter(unit__in=changed).delete()
        Due.objects.bulk_create(
            Due(crew_id=unit.site.crew_id, unit=unit, sort=sort, date=date, count=count)
            for unit, due in changed.items()
            for sort, date, count in sorted(due, key=str)
        )


# So many units are looked at again in one go.
MOST_AT_ONCE = 500


def keep_lasting(now: int) -> None:
    """Work out anew what is due at units of which something ends by itself: left by hand, suspended, or meant so."""
    lasting = (Sort.BY_HAND.value, Sort.SUSPENDED.value)
    held = set(Due.objects.filter(sort__in=lasting).values_list("unit", flat=True))
    keys = sorted(held | set(Unit.objects.exclude(accepted_severity=None).values_list("pk", flat=True)))
    for low in range(0, len(keys), MOST_AT_ONCE):
        units = Unit.objects.filter(pk__in=keys[low : low + MOST_AT_ONCE])
        found = list(units.select_related("site__crew", "head", "kind", "result", "keyed"))
        keep_accepted(found, now)
        keep_due(found, now)


class _Taught:
    """What the record says of kinds, each asked once and only where a battery's date hangs on it."""

    def __init__(self) -> None:
        self._found: dict[tuple[int, int | str | None], Learned] = {}

    def known(self, unit: Unit, known: Known) -> Known:
        """What is known of a unit, with how long batteries of its kind have lasted."""
        if known.battery is None or known.battery_low:
            return known
        key = unit.site.crew_id, unit.kind_id or unit.shipped_kind
        if key not in self._found:
            self._found[key] = learned_of(unit.site.crew, key[1])
        found = self._found[key]
        return replace(known, battery_months=found.battery_months, batteries=found.batteries)


def _there(units: Sequence[Unit]) -> dict[int, set[_Row]]:
    found: dict[int, set[_Row]] = defaultdict(set)
    for pk, sort, date, count in Due.objects.filter(unit__in=units).values_list("unit", "sort", "date", "count"):
        found[pk].add((sort, date, count))
    return found


def _planned(units: Sequence[Unit]) -> dict[int, Planned]:
    return {one.unit_id: one for one in Planned.objects.filter(unit__in=units)}


def _visits(units: Sequence[Unit]) -> dict[int, list[Visit]]:
    """The visits that have ended, the last first."""
    found: dict[int, list[Visit]] = defaultdict(list)
    ended = Visit.objects.filter(unit__in=units).exclude(ended=None).order_by("-ended", "-pk")
    for visit in ended.only("unit", "told", "read", "ended"):
        found[visit.unit_id].append(visit)
    return found


def _wanted(
    unit: Unit,
    visits: list[Visit],
    planned: Planned | None,
    ends: int | None,
    meant: set[str],
    taught: "_Taught",
    now: int,
) -> set[_Row]:
    kept = unit.result.findings if unit.result is not None else []
    today = today_at(unit.site.place, now).isoformat()
    shows = [
        Shows(
            code=raw["code"],
            serious=raw["severity"] in SERIOUS,
            lasts=any(first <= today <= last for first, last in raw["dates"]),
        )
        for raw in kept
        if raw.get("identity") not in meant
    ]
    due = due_of(
        unit.plan, unit.core_kind, shows, taught.known(unit, replace(_known(unit, visits, now), links_end=ends))
    )
    found = {(one.sort.value, day_of(one.day) if one.day is not None else None, one.count) for one in due}
    return found | ({(Sort.PLANNED.value, planned.date, 0)} if planned else set())


def _known(unit: Unit, visits: list[Visit], now: int) -> Known:
    """What the visits of a unit say; of each thing the last that says it."""
    today = day_number(today_at(unit.site.place, now))
    if not visits:
        return Known(today=today, keyed_anew=unit.awaits_keying)
    last = visits[0]
    left, suspended = last.value("left_mode"), last.value("suspended")
    changed = next((n for n, visit in enumerate(visits) if _day(visit, "battery_date") is not None), len(visits))
    battery = _day(visits[changed], "battery_date") if changed < len(visits) else None
    return Known(
        today=today,
        visited=day_number(today_at(unit.site.place, int(last.ended.timestamp()))) if last.ended else None,
        battery=battery,
        battery_low=any(visit.value("battery") in LOW for visit in visits[:changed]),
        left="" if left == AsFound.AUTOMATIC else left,
        suspended=bool(suspended),
        suspended_until=_day(last, "suspended_until") if suspended == "date" else None,
        keyed_anew=unit.awaits_keying,
    )


def _day(visit: Visit, name: str) -> int | None:
    """A date that was written down, as the end of the visit has read it."""
    found = parse_date(visit.read.get(name, ""))
    return None if found is None else day_number(found)
