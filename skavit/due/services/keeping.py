"""What is due at a unit, worked out anew whenever its plan, its visits or what is planned for it change."""

from django.db import transaction
from django.utils.dateparse import parse_date

from skavit.core.due.due import Due as CoreDue
from skavit.core.due.due import Known, Shows, Sort, due_of
from skavit.core.plan.times import day_number, day_of
from skavit.due.models import Due, Planned
from skavit.now import today_at
from skavit.units.models import Unit
from skavit.units.results import SERIOUS
from skavit.visits.models import Visit
from skavit.visits.pages.visit.forms import AUTOMATIC


def keep_due(unit: Unit, now: int) -> None:
    """Write down what is due at a unit; nothing is written where it is the same as before."""
    wanted = {(due.sort.value, day_of(due.day) if due.day is not None else None, due.count) for due in _due(unit, now)}
    planned = Planned.objects.filter(unit=unit).first()
    if planned is not None:
        wanted.add((Sort.PLANNED.value, planned.date, 0))
    if wanted == set(unit.due.values_list("sort", "date", "count")):
        return
    crew = unit.site.crew_id
    with transaction.atomic():
        # The unit's row stands for what is due at it: two that come at once do so one after the other.
        Unit.objects.select_for_update(of=("self",)).get(pk=unit.pk)
        unit.due.all().delete()
        Due.objects.bulk_create(
            Due(crew_id=crew, unit=unit, sort=sort, date=date, count=count)
            for sort, date, count in sorted(wanted, key=str)
        )


def _due(unit: Unit, now: int) -> tuple[CoreDue, ...]:
    kept = unit.result.findings if unit.result is not None else []
    shows = [Shows(code=raw["code"], serious=raw["severity"] in SERIOUS) for raw in kept]
    return due_of(unit.plan, unit.core_kind, shows, _known(unit, now))


def _known(unit: Unit, now: int) -> Known:
    """What the visits of a unit say; of each thing the last that says it."""
    today = day_number(today_at(unit.site.place, now))
    visits = list(unit.visits.exclude(ended=None).order_by("-ended", "-pk").only("told", "read", "ended")[:20])
    if not visits:
        return Known(today=today, keyed_anew=unit.awaits_keying)
    last = visits[0]
    left, suspended = last.value("left_mode"), last.value("suspended")
    battery = next((day for visit in visits if (day := _day(visit, "battery_date")) is not None), None)
    return Known(
        today=today,
        visited=day_number(today_at(unit.site.place, int(last.ended.timestamp()))) if last.ended else None,
        battery=battery,
        left="" if left == AUTOMATIC else left,
        suspended=bool(suspended),
        suspended_until=_day(last, "suspended_until") if suspended == "date" else None,
        keyed_anew=unit.awaits_keying,
    )


def _day(visit: Visit, name: str) -> int | None:
    """A date that was written down, as the end of the visit has read it."""
    found = parse_date(visit.read.get(name, ""))
    return None if found is None else day_number(found)
