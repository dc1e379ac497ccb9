"""All that changes units and their plans: permission, transaction and record stand here, and nowhere else."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from datetime import datetime

from django.db import IntegrityError, transaction
from django.utils import timezone

from skavit.bounds import CHANNELS_AT_ONCE, WINDOWS_AT_ONCE, check_lists, check_plan
from skavit.core.fitting.fit import Loss, fit
from skavit.core.ground.budget import Budget
from skavit.core.ground.strict_json import Node, parse_json
from skavit.core.kinds import Kind as CoreKind
from skavit.core.kinds.place import plan_for_kind
from skavit.core.plan import edits
from skavit.core.plan.document import Channel, Plan, read_plan
from skavit.core.plan.entry import Entry
from skavit.core.text.wording import Words
from skavit.crews.access import require_edit
from skavit.crews.models import Membership
from skavit.kinds.models import Kind
from skavit.now import this_year
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


IMPORTED = "Plan file imported. The place is this site's; the rest is the file's."


class NameTaken(Exception):
    """The site has a unit of that name."""


class NothingTo(Exception):
    """There is nothing to undo, redo or mend."""


def create_unit(membership: Membership, site: Site, *, name: str, whereabouts: str, channels: list[str]) -> Unit:
    """A unit with an empty plan. Raises :class:`NameTaken`."""
    require_edit(membership)
    plan = Plan(site=site.place, channels=tuple(Channel(name=channel) for channel in channels))
    try:
        with transaction.atomic():
            unit = Unit.objects.create(site=site, name=name, whereabouts=whereabouts)
            _write(unit, membership, plan, "unit added", parent=None)
    except IntegrityError as error:
        raise NameTaken("This site has a unit of that name. Accepted: another name.") from error
    results.keep_result(unit)
    return unit


def edit(
    unit: Unit,
    membership: Membership,
    base: int,
    change: Callable[[Plan], Plan],
    note: str,
    also: Callable[[], None] | None = None,
) -> PlanRevision:
    """Apply a change to the plan as it stood at revision ``base``.

    The change is worked out, and the year replayed, before the unit is locked; ``also`` is done in the transaction in
    which the new plan is written. Raises :class:`StaleEdit` where the plan has moved on,
    :class:`~skavit.core.ground.errors.SkavitError` where the change does not apply or asks for too much.
    """
    require_edit(membership)
    head = _head_of(unit)
    if head.number != base:
        raise StaleEdit(head)
    unit.head = head
    before = unit.plan
    plan = replace(change(before), site=before.site)
    if plan.content_hash() == before.content_hash():
        if also is not None:
            also()
        return head
    check_plan(plan)
    with results.in_turn(plan):
        results.unit_year(plan, this_year(plan.site), _words(membership))
    with transaction.atomic():
        locked = _locked(unit)
        if locked.head_id != head.pk:
            raise StaleEdit(_head_of(unit))
        revision = _write(unit, membership, plan, note, parent=head)
        if also is not None:
            also()
    results.keep_result(unit)
    return revision


def choose_kind(unit: Unit, membership: Membership, base: int, kind: CoreKind, own: Kind | None) -> PlanRevision:
    """Say what kind of device the unit is: its plan keeps to the kind's limits from then on.

    ``own`` is the crew's row of the kind, None for one that ships.
    """

    def put_down() -> None:
        unit.kind, unit.shipped_kind = own, "" if own else kind.slug
        unit.save(update_fields=["kind", "shipped_kind"])

    change, note = (lambda plan: plan_for_kind(plan, kind)), f"kind: {kind.name}"[:200]
    return edit(unit, membership, base, change, note, put_down)


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


def undo(unit: Unit, membership: Membership, base: int) -> PlanRevision:
    """Go back from revision ``base`` to the plan before it. Raises :class:`StaleEdit`, :class:`NothingTo`."""
    return _move(unit, membership, base, lambda head: head.parent, "There is nothing to undo.")


def redo(unit: Unit, membership: Membership, base: int) -> PlanRevision:
    """Go forward again to the latest change made from revision ``base``. Raises :class:`StaleEdit`, :class:`NothingTo`."""
    return _move(
        unit, membership, base, lambda head: head.children.order_by("-number").first(), "There is nothing to redo."
    )


def fit_entries(
    unit: Unit, membership: Membership, base: int, year: int, budget: Budget | None = None
) -> tuple[PlanRevision, tuple[Loss, ...]]:
    """Make the entries from the windows, within the unit's limits; gives what could not be held too.

    With a ``budget`` the search is one of many steps only: raises :class:`TooLong` where that was not enough.
    """
    losses: list[Loss] = []

    def change(plan: Plan) -> Plan:
        if budget is not None and not fits_at_once(plan):
            raise TooLong
        result = fit(plan, year, budget)
        if budget is not None and result.ended:
            raise TooLong
        losses.extend(result.losses)
        return result.plan

    revision = edit(unit, membership, base, change, "entries fitted")
    return revision, tuple(losses)


class TooLong(Exception):
    """A search takes longer than a page may wait; it is work for the background."""


def fits_at_once(plan: Plan) -> bool:
    """Whether a fit may be tried while a page waits for it."""
    windows = sum(len(channel.windows) for channel in plan.channels)
    return windows <= WINDOWS_AT_ONCE and len(plan.channels) <= CHANNELS_AT_ONCE


def apply_remedy(unit: Unit, membership: Membership, base: int, year: int, label: str, keying: int = 0) -> PlanRevision:
    """Take the remedy of that label, for one of the keyings, among the findings of a year."""

    def change(plan: Plan) -> Plan:
        for finding in results.unit_year(plan, year, _words(membership)).findings:
            if finding.remedy and (finding.remedy.label, finding.remedy.keying) == (label, keying):
                return finding.remedy.applied(plan)
        raise NothingTo("This finding is no longer there.")

    return edit(unit, membership, base, change, f"remedy: {label}"[:200])


def import_plan(unit: Unit, membership: Membership, base: int, data: bytes) -> PlanRevision:
    """Take unit and channels of a plan file; the place stays the site's. Raises PlanError for a malformed file."""
    found = read_file(data)
    return edit(unit, membership, base, lambda _: found, "plan file imported")


def read_file(data: bytes) -> Plan:
    """The plan of a file; its lists are counted before they are read. Raises :class:`PlanError`."""
    raw = parse_json(data)
    check_lists(raw)
    plan = read_plan(Node(raw))
    check_plan(plan)
    return plan


def add_channel(unit: Unit, membership: Membership, base: int, name: str) -> PlanRevision:
    """One more output."""
    return edit(unit, membership, base, lambda plan: edits.add_channel(plan, name), f"channel {name} added"[:200])


class StepGone(Exception):
    """The step that was ticked stands no longer on the entry sheet."""


def set_tick(
    unit: Unit, membership: Membership, key: str, keys: Iterable[str], *, done: bool, said: datetime | None = None
) -> None:
    """Remember a step of the entry sheet as seen done, or open again; ``keys`` are those of the sheet as it stands.

    ``said`` is when it was pressed (left out: now): of two the later one stands, in whatever order they arrive. Raises
    :class:`StepGone` for a step of an older sheet.
    """
    require_edit(membership)
    if key not in keys:
        raise StepGone(f"{unit.head.author} changed the plan since ({unit.head.note}), or the day has turned.")
    now = timezone.now()
    new = {"by": membership.user, "done": done, "said": min(said or now, now)}
    with transaction.atomic():
        made, is_new = Tick.objects.select_for_update().get_or_create(unit=unit, key=key, defaults=new)
        if not is_new and made.said <= new["said"]:
            Tick.objects.filter(pk=made.pk).update(at=now, **new)


def clear_ticks(unit: Unit, membership: Membership) -> None:
    """Open every step again, for keying the unit anew."""
    require_edit(membership)
    now = timezone.now()
    unit.ticks.filter(said__lte=now).update(done=False, said=now, by=membership.user, at=now)


def _words(membership: Membership) -> Words:
    return Words(twelve_hour=membership.crew.twelve_hour)


def _locked(unit: Unit) -> Unit:
    """The unit's row, locked until the transaction ends; by itself, since a join could read a head that has moved on."""
    return Unit.objects.select_for_update().get(pk=unit.pk)


def _head_of(unit: Unit) -> PlanRevision:
    """The revision at which the unit stands now."""
    return PlanRevision.objects.select_related("author", "parent").get(head_of=unit.pk)


def _move(
    unit: Unit,
    membership: Membership,
    base: int,
    target: Callable[[PlanRevision], PlanRevision | None],
    nothing: str,
) -> PlanRevision:
    """Let the unit stand at another of its revisions."""
    require_edit(membership)
    with transaction.atomic():
        _locked(unit)
        head = _head_of(unit)
        if head.number != base:
            raise StaleEdit(head)
        revision = target(head)
        if revision is None:
            raise NothingTo(nothing)
        unit.head = revision
        unit.save(update_fields=["head"])
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
    return revision
