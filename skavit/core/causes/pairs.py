"""Two faults in one unit, where no single one explains all that was seen."""

from dataclasses import replace
from typing import TypeVar

from skavit.core.causes.fault import Fault, run_of
from skavit.core.causes.shown import Shown, Simulator
from skavit.core.plan.document import Plan
from skavit.core.plan.entry import Entry
from skavit.core.plan.heat import Heat
from skavit.core.plan.water import Water

Part = TypeVar("Part")


class _TwiceChanged(Exception):
    """Both faults change the same thing."""


def together(unit: Simulator, one: Fault, other: Fault) -> Shown | None:
    """A unit that has both faults; None where both would change the same thing, or the tables do not reach."""
    a, b = one.shown, other.shown
    try:
        plan = _both(unit.plan, a.run.plan, b.run.plan)
        hold, stopped = _either(None, a.hold, b.hold), _either(None, a.stopped, b.stopped)
        swapped = _either(None, a.swapped, b.swapped)
    except _TwiceChanged:
        return None
    known = next((shown for shown in (unit.right, a, b) if shown.run.plan == plan), None) or run_of(unit, plan)
    if known is None:
        return None
    return Shown(known.run, hold=hold, stopped=stopped, swapped=swapped, beds=(*a.beds, *b.beds))


def _either(right: Part, one: Part, other: Part) -> Part:
    """What differs from the unit without a fault."""
    if other in (right, one):
        return one
    if one == right:
        return other
    raise _TwiceChanged


def _each(right: tuple[Part, ...], one: tuple[Part, ...], other: tuple[Part, ...]) -> tuple[Part, ...]:
    """The same member by member, where both have as many."""
    if len(one) == len(other) == len(right):
        return tuple(map(_either, right, one, other))
    return _either(right, one, other)


def _both(right: Plan, one: Plan, other: Plan) -> Plan:
    plan = right
    for keying, entries in enumerate(right.unit.sets):
        plan = plan.with_set(keying, _entries(entries, one.unit.sets[keying], other.unit.sets[keying]))
    own = {
        name: _either(*(getattr(p.unit, name) for p in (right, one, other))) for name in ("clock", "sun", "holidays")
    }
    water = _water(right.water, one.water, other.water)
    heat = _heat(right.heat, one.heat, other.heat)
    channels = _each(right.channels, one.channels, other.channels)
    return replace(plan, unit=replace(plan.unit, **own), channels=channels, water=water, heat=heat)


def _entries(right: tuple[Entry, ...], one: tuple[Entry, ...], other: tuple[Entry, ...]) -> tuple[Entry, ...]:
    """One may have an entry more, at the end."""
    size = len(right)
    more = _either((), one[size:], other[size:])
    return (*_each(right, one[:size], other[:size]), *more)


def _water(right: Water | None, one: Water | None, other: Water | None) -> Water | None:
    if right is None or one is None or other is None:
        return right
    return right.with_programs(_each(right.programs, one.programs, other.programs))


def _heat(right: Heat | None, one: Heat | None, other: Heat | None) -> Heat | None:
    if right is None or one is None or other is None:
        return right
    return replace(right, zones=_each(right.zones, one.zones, other.zones))
