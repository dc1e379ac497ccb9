"""Units added, and what kind of device each is."""

from django.db import IntegrityError, transaction

from skavit.core.kinds import Kind as CoreKind
from skavit.core.kinds.place import plan_for_kind
from skavit.core.plan import edits
from skavit.core.plan.document import Channel, Plan
from skavit.core.plan.trade import Trade
from skavit.core.trades import SWITCHING
from skavit.crews.access import require_edit
from skavit.crews.models import Membership
from skavit.kinds.models import Kind
from skavit.sites.models import Site
from skavit.units import computing, results
from skavit.units.models import PlanRevision, Unit
from skavit.units.services.revisions import edit, write
from skavit.web.errors import NameTaken


def create_unit(
    membership: Membership,
    site: Site,
    *,
    name: str,
    whereabouts: str,
    channels: list[str],
    now: int,
    kind: CoreKind | None = None,
    own: Kind | None = None,
    trade: Trade = SWITCHING,
) -> Unit:
    """A unit with an empty plan, within the limits of its kind, its year worked out. Raises :class:`NameTaken`.

    ``own`` is the crew's row of the kind, None for one that ships; ``trade``: what it does, also where its kind is not known.
    """
    unit = add_unit(
        membership, site, name=name, whereabouts=whereabouts, channels=channels, kind=kind, own=own, trade=trade
    )
    results.keep_result(unit, now)
    return unit


def add_unit(
    membership: Membership,
    site: Site,
    *,
    name: str,
    whereabouts: str,
    channels: list[str],
    kind: CoreKind | None = None,
    own: Kind | None = None,
    trade: Trade = SWITCHING,
) -> Unit:
    """The same without its year, which the caller works out once nothing is locked any more."""
    require_edit(membership)
    plan = Plan(site=site.place, channels=tuple(Channel(name=channel) for channel in channels))
    plan = trade.begun(plan) if kind is None else plan_for_kind(plan, kind)
    try:
        with transaction.atomic():
            unit = Unit.objects.create(
                site=site,
                name=name,
                whereabouts=whereabouts,
                kind=own,
                shipped_kind=kind.slug if kind and not own else "",
            )
            write(unit, membership, plan, "unit added", parent=None)
    except IntegrityError as error:
        raise NameTaken("This site has a unit of that name. Accepted: another name.") from error
    return unit


def change_unit(membership: Membership, unit: Unit, *, name: str, whereabouts: str, site: Site, now: int) -> None:
    """Another name, another place where it hangs, another site. Raises :class:`NameTaken`."""
    require_edit(membership)
    moved = site.pk != unit.site_id
    if moved:
        computing.leave_large(unit.plan)
    unit.name, unit.whereabouts, unit.site = name, whereabouts, site
    try:
        with transaction.atomic():
            unit.save(update_fields=["name", "whereabouts", "site"])
    except IntegrityError as error:
        raise NameTaken("This site has a unit of that name. Accepted: another name.") from error
    if moved:
        results.keep_result(unit, now)


def choose_kind(
    unit: Unit, membership: Membership, base: int, kind: CoreKind, own: Kind | None, *, now: int
) -> PlanRevision:
    """Say what kind of device the unit is: its plan keeps to the kind's limits from then on.

    ``own`` is the crew's row of the kind, None for one that ships.
    """

    def put_down() -> None:
        unit.kind, unit.shipped_kind = own, "" if own else kind.slug
        unit.save(update_fields=["kind", "shipped_kind"])

    change, note = (lambda plan: plan_for_kind(plan, kind)), f"kind: {kind.name}"[:200]
    return edit(unit, membership, base, change, note, now=now, also=put_down)


def add_channel(unit: Unit, membership: Membership, base: int, name: str, *, now: int) -> PlanRevision:
    """One more output."""
    return edit(
        unit, membership, base, lambda plan: edits.add_channel(plan, name), f"channel {name} added"[:200], now=now
    )
