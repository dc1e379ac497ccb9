"""A plan changes by revisions: each edit is worked out, checked and written down; undo and redo move between them."""

from collections.abc import Callable
from dataclasses import replace

from django.db import transaction

from skavit.core.ground.errors import UserError
from skavit.core.plan.document import Plan
from skavit.core.plan.keyed import keyed_hash
from skavit.crews.access import require_edit
from skavit.crews.models import Membership
from skavit.server.bounds import check_plan
from skavit.server.now import year_at
from skavit.units import computing, results
from skavit.units.models import PlanRevision, Unit
from skavit.web.errors import Stale


class StaleEdit(Stale):
    """Somebody else has changed the plan since the page was made."""

    def __init__(self, newest: PlanRevision) -> None:
        super().__init__(
            f"{newest.author} changed this unit meanwhile ({newest.note}). "
            "What you typed still stands here: look at the newer plan, then send it again.",
            newest.number,
            "revision",
        )


class NothingTo(UserError):
    """There is nothing to undo, redo or mend."""


def edit(
    unit: Unit,
    membership: Membership,
    base: int,
    change: Callable[[Plan], Plan],
    note: str,
    *,
    now: int,
    also: Callable[[], None] | None = None,
) -> PlanRevision:
    """Apply a change to the plan as it was at revision ``base``.

    The change is worked out, and the year replayed, before the unit is locked; ``also`` is done in the transaction in
    which the new plan is written. Raises :class:`StaleEdit` where the plan has moved on,
    :class:`~skavit.core.ground.errors.UserError` where the change does not apply or asks for too much.
    """
    require_edit(membership)
    head = unit.head = head_at(unit, base)
    before = unit.plan
    plan = replace(change(before), site=before.site)
    if plan == before:
        if also is not None:
            also()
        return head
    check_plan(plan)
    computing.unit_year(plan, year_at(plan.site, now))
    with transaction.atomic():
        locked = _locked(unit)
        if locked.head_id != head.pk:
            raise StaleEdit(head_of(unit))
        revision = write(unit, membership, plan, note, parent=head)
        if also is not None:
            also()
    results.keep_result(unit, now)
    return revision


def undo(unit: Unit, membership: Membership, base: int, *, now: int) -> PlanRevision:
    """Go back from revision ``base`` to the plan before it. Raises :class:`StaleEdit`, :class:`NothingTo`."""
    return _move(unit, membership, base, lambda head: head.parent, "There is nothing to undo.", now)


def redo(unit: Unit, membership: Membership, base: int, *, now: int) -> PlanRevision:
    """Go forward again to the latest change made from revision ``base``. Raises :class:`StaleEdit`, :class:`NothingTo`."""
    return _move(
        unit, membership, base, lambda head: head.children.order_by("-number").first(), "There is nothing to redo.", now
    )


def _locked(unit: Unit) -> Unit:
    """The unit's row, locked until the transaction ends; by itself, since a join could read a head that has moved on."""
    return Unit.objects.select_for_update().get(pk=unit.pk)


def head_at(unit: Unit, base: int) -> PlanRevision:
    """The newest revision, which is ``base``. Raises :class:`StaleEdit` where it has moved on."""
    known = unit.head_revision
    # The one that was read with the unit, unless another has come since: then its plan need not be read again.
    if known.number == base and PlanRevision.objects.filter(pk=known.pk, head_of=unit.pk).exists():
        return known
    head = head_of(unit)
    if head.number != base:
        raise StaleEdit(head)
    return head


def overtaken(unit: Unit, base: int) -> PlanRevision | None:
    """The revision ``base`` where the unit has a newer one; None where it is the newest, or there is none."""
    if unit.head_revision.number == base:
        return None
    return unit.revisions.filter(number=base).first()


def head_of(unit: Unit) -> PlanRevision:
    """The newest revision."""
    return PlanRevision.objects.select_related("author", "parent").get(head_of=unit.pk)


def _move(
    unit: Unit,
    membership: Membership,
    base: int,
    target: Callable[[PlanRevision], PlanRevision | None],
    nothing: str,
    now: int,
) -> PlanRevision:
    """Let the unit stand at another of its revisions."""
    require_edit(membership)
    with transaction.atomic():
        _locked(unit)
        head = head_at(unit, base)
        revision = target(head)
        if revision is None:
            raise NothingTo(nothing)
        computing.leave_large(unit.plan_of(revision))
        unit.point(head=revision)
    results.keep_result(unit, now)
    return revision


def write(unit: Unit, membership: Membership, plan: Plan, note: str, *, parent: PlanRevision | None) -> PlanRevision:
    """Write a plan down as the unit's next revision, within a transaction of the caller's."""
    last = unit.revisions.order_by("-number").values_list("number", flat=True).first() or 0
    revision = PlanRevision.objects.create(
        unit=unit,
        number=last + 1,
        parent=parent,
        document=plan.to_json(),
        content_hash=plan.content_hash(),
        keyed_hash=keyed_hash(plan),
        note=note,
        author=membership.user,
    )
    revision.plan = plan  # as it was just written: nothing is read back
    unit.point(head=revision)
    return revision
