"""Steps of the entry sheet seen done, and opened again."""

from collections.abc import Callable, Collection
from dataclasses import dataclass
from datetime import datetime

from django.db import transaction

from skavit.crews.access import require_edit
from skavit.crews.models import Membership
from skavit.units.models import Tick, Unit


@dataclass(frozen=True, slots=True, kw_only=True)
class Pressed:
    """A step pressed, by its key: seen done or open again; ``said`` is when, None: now."""

    key: str
    done: bool
    said: datetime | None = None


def set_ticks(
    unit: Unit,
    membership: Membership,
    pressed: Collection[Pressed],
    known: Collection[str],
    now_on_sheet: Callable[[], Collection[str]],
    *,
    instant: datetime,
) -> dict[str, str]:
    """Remember steps of the entry sheet as seen done, or open again; of two the one pressed later counts.

    ``known`` are keys that are known to be on the sheet; where others were pressed, ``now_on_sheet`` is asked for all of
    them. Returns why steps of an older sheet are not remembered, by their keys.
    """
    require_edit(membership)
    on_sheet = known
    if any(each.key not in known for each in pressed):
        on_sheet = {*known, *now_on_sheet()}
    head = unit.head_revision
    why = f"{head.author} changed the plan since ({head.note}), or the day has turned."
    latest = {
        each.key: each
        for each in sorted(pressed, key=lambda each: min(each.said or instant, instant))
        if each.key in on_sheet
    }
    new = [
        Tick(unit=unit, key=each.key, done=each.done, said=min(each.said or instant, instant), by=membership.user)
        for each in latest.values()
    ]
    with transaction.atomic():
        Tick.objects.bulk_create(new, ignore_conflicts=True)
        there = unit.ticks.select_for_update().filter(key__in=list(latest)).order_by("pk")
        later = {each.key: each for each in new}
        # What was just written down is there as it is.
        changed = [
            Tick(unit=unit, key=tick.key, done=of.done, said=of.said, by=membership.user, at=instant)
            for tick in there
            if tick.said <= (of := later[tick.key]).said and not _same(tick, of)
        ]
        # One statement for all of them; their rows are held until it is done.
        Tick.objects.bulk_create(
            changed, update_conflicts=True, unique_fields=["unit", "key"], update_fields=["done", "said", "by", "at"]
        )
    return {each.key: why for each in pressed if each.key not in on_sheet}


def _same(tick: Tick, other: Tick) -> bool:
    return (tick.done, tick.said, tick.by_id) == (other.done, other.said, other.by_id)


def clear_ticks(unit: Unit, membership: Membership, instant: datetime) -> None:
    """Open every step again, for keying the unit anew."""
    require_edit(membership)
    unit.ticks.filter(said__lte=instant).update(done=False, said=instant, by=membership.user, at=instant)
