"""All that changes units and their plans: permission, transaction and record stand here, and nowhere else."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace

from django.db import transaction

from skavit.core import edits
from skavit.core.entry import Entry
from skavit.core.findings import audit
from skavit.core.fitting.fit import Loss, fit
from skavit.core.kinds import Kind as CoreKind
from skavit.core.kinds.place import plan_for_kind
from skavit.core.plan import Channel, Plan, parse_plan
from skavit.core.wording import Words
from skavit.crews.access import require_edit
from skavit.crews.models import Membership
from skavit.kinds.models import Kind
from skavit.sites.models import Site
from skavit.units import results
from skavit.units.models import AsFound, PlanRevision, Tick, Unit


@dataclass(frozen=True)
class StaleEdit(Exception):
    """The plan has been changed since the page was made; what was typed is still with the caller."""

    now: PlanRevision

    def __str__(self) -> str:
        return (
            f"{self.now.author} changed this unit meanwhile ({self.now.note}). "
            "What you typed still stands here: look at the newer plan, then send it again."
        )


class NothingTo(Exception):
    """There is nothing to undo, redo or mend."""


def create_unit(membership: Membership, site: Site, *, name: str, whereabouts: str, channels: list[str]) -> Unit:
    """A unit with an empty plan."""
    require_edit(membership)
    plan = Plan(site=site.place, channels=tuple(Channel(name=channel) for channel in channels))
    with transaction.atomic():
        unit = Unit.objects.create(site=site, name=name, whereabouts=whereabouts)
        _write(unit, membership, plan, "unit added", parent=None)
    return unit


def edit(unit: Unit, membership: Membership, base: int, change: Callable[[Plan], Plan], note: str) -> PlanRevision:
    """Apply a change to the plan as it stood at revision ``base``.

    Raises :class:`StaleEdit` where the plan has moved on, :class:`~skavit.core.errors.SkavitError` where the change
    does not apply.
    """
    require_edit(membership)
    with transaction.atomic():
        locked = _locked(unit)
        if locked.head.number != base:
            raise StaleEdit(locked.head)
        plan = change(locked.plan)
        if plan.content_hash() == locked.plan.content_hash():
            unit.head = locked.head
            return locked.head
        revision = _write(locked, membership, plan, note, parent=locked.head)
    unit.head = revision
    return revision


def choose_kind(unit: Unit, membership: Membership, base: int, kind: CoreKind, own: Kind | None) -> PlanRevision:
    """Say what kind of device the unit is: its plan keeps to the kind's limits from then on.

    ``own`` is the crew's row of the kind, None for one that ships.
    """
    with transaction.atomic():
        revision = edit(unit, membership, base, lambda plan: plan_for_kind(plan, kind), f"kind: {kind.name}"[:200])
        unit.kind, unit.shipped_kind = own, "" if own else kind.slug
        unit.save(update_fields=["kind", "shipped_kind"])
    return revision


def keep_found(
    unit: Unit, membership: Membership, *, shown: dict[str, str], lines: str, entries: tuple[Entry, ...], instant: int
) -> AsFound:
    """Write down a unit as it was found."""
    require_edit(membership)
    return AsFound.objects.create(
        unit=unit,
        shown=shown,
        lines=lines,
        entries=[entry.to_json() for entry in entries],
        looked_at=instant,
        author=membership.user,
    )


def take_found(unit: Unit, membership: Membership, base: int, found: Plan, *, windows: bool) -> PlanRevision:
    """Take a found unit's entries into the plan; with ``windows`` what they make as what is wanted too."""

    def change(plan: Plan) -> Plan:
        taken = replace(plan, channels=found.channels) if windows else plan
        return taken.with_entries(found.unit.entries)

    return edit(unit, membership, base, change, "taken as found" if windows else "entries taken as found")


def undo(unit: Unit, membership: Membership) -> PlanRevision:
    """Go back to the plan before the last change."""
    require_edit(membership)
    with transaction.atomic():
        locked = _locked(unit)
        if locked.head.parent is None:
            raise NothingTo("There is nothing to undo.")
        return _move(unit, locked, locked.head.parent)


def redo(unit: Unit, membership: Membership) -> PlanRevision:
    """Go forward again to the latest change made from here."""
    require_edit(membership)
    with transaction.atomic():
        locked = _locked(unit)
        child = locked.head.children.order_by("-number").first()
        if child is None:
            raise NothingTo("There is nothing to redo.")
        return _move(unit, locked, child)


def fit_entries(unit: Unit, membership: Membership, base: int, year: int) -> tuple[PlanRevision, tuple[Loss, ...]]:
    """Make the entries from the windows, within the unit's limits; gives what could not be held too."""
    losses: list[Loss] = []

    def change(plan: Plan) -> Plan:
        result = fit(plan, year)
        losses.extend(result.losses)
        return result.plan

    revision = edit(unit, membership, base, change, "entries fitted")
    return revision, tuple(losses)


def apply_remedy(unit: Unit, membership: Membership, base: int, year: int, label: str, keying: int = 0) -> PlanRevision:
    """Take the remedy of that label, for one of the keyings, among the findings of a year."""

    def change(plan: Plan) -> Plan:
        for finding in audit(results.replay_year(plan, year), words=_words(membership)):
            if finding.remedy and (finding.remedy.label, finding.remedy.keying) == (label, keying):
                return finding.remedy.applied(plan)
        raise NothingTo("This finding is no longer there.")

    return edit(unit, membership, base, change, f"remedy: {label}"[:200])


def import_plan(unit: Unit, membership: Membership, base: int, data: bytes) -> PlanRevision:
    """Take unit and channels of a plan file; the place stays the site's. Raises PlanError for a malformed file."""
    found = parse_plan(data)
    return edit(unit, membership, base, lambda _: found, "plan file imported")


def add_channel(unit: Unit, membership: Membership, base: int, name: str) -> PlanRevision:
    """One more output."""
    return edit(unit, membership, base, lambda plan: edits.add_channel(plan, name), f"channel {name} added"[:200])


class StepGone(Exception):
    """The step that was ticked stands no longer on the entry sheet."""


def set_tick(unit: Unit, membership: Membership, key: str, keys: Iterable[str], *, done: bool) -> None:
    """Remember a step of the entry sheet as seen done, or open again; ``keys`` are those of the sheet as it stands.

    Raises :class:`StepGone` for a step of an older sheet.
    """
    require_edit(membership)
    if key not in keys:
        raise StepGone(f"{unit.head.author} changed the plan since ({unit.head.note}), or the day has turned.")
    if done:
        Tick.objects.get_or_create(unit=unit, key=key, defaults={"by": membership.user})
    else:
        Tick.objects.filter(unit=unit, key=key).delete()


def clear_ticks(unit: Unit, membership: Membership) -> None:
    """Open every step again, for keying the unit anew."""
    require_edit(membership)
    unit.ticks.all().delete()


def _words(membership: Membership) -> Words:
    return Words(twelve_hour=membership.crew.twelve_hour)


def _locked(unit: Unit) -> Unit:
    return (
        Unit.objects.select_for_update(of=("self",))
        .select_related("site", "head__author", "head__parent")
        .get(pk=unit.pk)
    )


def _move(unit: Unit, locked: Unit, revision: PlanRevision) -> PlanRevision:
    locked.head = revision
    locked.save(update_fields=["head"])
    unit.head = revision
    results.keep_result(unit)
    return revision


def _write(unit: Unit, membership: Membership, plan: Plan, note: str, *, parent: PlanRevision | None) -> PlanRevision:
    last = unit.revisions.order_by("-number").values_list("number", flat=True).first() or 0
    revision = PlanRevision.objects.create(
        unit=unit,
        number=last + 1,
        parent=parent,
        document=plan.to_json(),
        content_hash=plan.content_hash(),
        note=note,
        author=membership.user,
    )
    unit.head = revision
    unit.save(update_fields=["head"])
    results.keep_result(unit)
    return revision
