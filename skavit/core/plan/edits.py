"""Edits of a plan as pure functions: each takes a plan and gives the plan after it."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any, TypeVar

from skavit.core.ground.errors import UserError
from skavit.core.ground.strict_json import Node
from skavit.core.plan.days import Holiday
from skavit.core.plan.document import Channel, Plan, read_plan
from skavit.core.plan.entry import Entry
from skavit.core.plan.load import Load
from skavit.core.plan.overrides import Override
from skavit.core.plan.seasonal import SeasonalProgram
from skavit.core.plan.sun_settings import SunSettings
from skavit.core.plan.window import Window

GONE = "this row is no longer there; accepted: a row of the plan as it now stands"
Edit = Callable[[Plan], Plan]
Row = TypeVar("Row")


class EditError(UserError):
    """An edit does not apply to the plan: the thing it changes is not there, or must stay."""


def _put(items: tuple[Row, ...], index: int, *new: Row) -> tuple[Row, ...]:
    if not 0 <= index < len(items):
        raise EditError(GONE)
    return (*items[:index], *new, *items[index + 1 :])


def _with_channel(plan: Plan, channel: int, new: Channel) -> Plan:
    return replace(plan, channels=_put(plan.channels, channel - 1, new))


def _windows(plan: Plan, channel: int) -> tuple[Window, ...]:
    if not 1 <= channel <= len(plan.channels):
        raise EditError(f"channel {channel} is not there; accepted: 1 to {len(plan.channels)}")
    return plan.channels[channel - 1].windows


def add_window(plan: Plan, channel: int, window: Window) -> Plan:
    """One more window of a channel (from 1)."""
    windows = (*_windows(plan, channel), window)
    return _with_channel(plan, channel, replace(plan.channels[channel - 1], windows=windows))


def change_window(plan: Plan, channel: int, index: int, window: Window) -> Plan:
    """Another window in place of the ``index``-th (from 0); its id is kept."""
    old = _windows(plan, channel)
    kept = replace(window, id=old[index].id if 0 <= index < len(old) else None)
    return _with_channel(plan, channel, replace(plan.channels[channel - 1], windows=_put(old, index, kept)))


def remove_window(plan: Plan, channel: int, index: int) -> Plan:
    """The channel without its ``index``-th window."""
    windows = _put(_windows(plan, channel), index)
    return _with_channel(plan, channel, replace(plan.channels[channel - 1], windows=windows))


def add_windows(plan: Plan, channel: int, windows: tuple[Window, ...]) -> Plan:
    """More windows of a channel (from 1), after those it has."""
    old = _windows(plan, channel)
    return _with_channel(plan, channel, replace(plan.channels[channel - 1], windows=(*old, *windows)))


def copy_window(plan: Plan, channel: int, index: int) -> Plan:
    """The ``index``-th window of a channel twice, one after the other."""
    old = _windows(plan, channel)
    if not 0 <= index < len(old):
        raise EditError(GONE)
    rows = (*old[: index + 1], replace(old[index], id=None), *old[index + 1 :])
    return _with_channel(plan, channel, replace(plan.channels[channel - 1], windows=rows))


def add_entry(plan: Plan, entry: Entry) -> Plan:
    """One more entry, in the next slot."""
    return plan.with_entries((*plan.unit.entries, entry))


def change_entry(plan: Plan, index: int, entry: Entry) -> Plan:
    """Another entry in the ``index``-th slot (from 0); its id is kept."""
    old = plan.unit.entries
    return plan.with_entries(_put(old, index, replace(entry, id=old[index].id if 0 <= index < len(old) else None)))


def remove_entry(plan: Plan, index: int) -> Plan:
    """The ``index``-th slot cleared; those after it move up."""
    return plan.with_entries(_put(plan.unit.entries, index))


def copy_entry(plan: Plan, index: int) -> Plan:
    """The ``index``-th slot twice, one after the other."""
    old = plan.unit.entries
    if not 0 <= index < len(old):
        raise EditError(GONE)
    return plan.with_entries((*old[: index + 1], replace(old[index], id=None), *old[index + 1 :]))


def move_entry(plan: Plan, index: int, to: int) -> Plan:
    """The ``index``-th slot moved to another place; past an end it stops there."""
    old = plan.unit.entries
    if not 0 <= index < len(old):
        raise EditError(GONE)
    rest = [*old[:index], *old[index + 1 :]]
    rest.insert(max(min(to, len(rest)), 0), old[index])
    return plan.with_entries(tuple(rest))


def on_set(keying: int, edit: Edit) -> Edit:
    """An edit of entries, done on one of the keyings; 0 is the set that is in the unit before any of them."""

    def change(plan: Plan) -> Plan:
        if not 0 <= keying < len(plan.unit.sets):
            raise EditError("this keying is no longer there; accepted: a keying of the plan as it now stands")
        shown = replace(plan, unit=replace(plan.unit, entries=plan.unit.sets[keying]))
        return plan.with_set(keying, edit(shown).unit.entries)

    return change if keying else edit


def add_keying(plan: Plan, keying: SeasonalProgram) -> Plan:
    """Another set of entries from a date on; raises :class:`PlanError` where one begins on that date already."""
    changed = replace(plan, unit=replace(plan.unit, keyings=(*plan.unit.keyings, keying)))
    return read_plan(Node(changed.to_json()))


def remove_keying(plan: Plan, keying: int) -> Plan:
    """The plan without the ``keying``-th (from 1) of its keyings."""
    return replace(plan, unit=replace(plan.unit, keyings=_put(plan.unit.keyings, keying - 1)))


def set_holidays(plan: Plan, holidays: tuple[Holiday, ...]) -> Plan:
    """Other dates on which no entry acts."""
    return replace(plan, unit=replace(plan.unit, holidays=holidays))


def add_override(plan: Plan, override: Override) -> Plan:
    """One more thing done by hand, in order of time; raises :class:`PlanError` for a channel that there is not."""
    found = sorted((*plan.overrides, override), key=lambda o: o.at)
    return read_plan(Node(replace(plan, overrides=tuple(found)).to_json()))


def remove_override(plan: Plan, index: int) -> Plan:
    """The plan without one thing done by hand (from 0)."""
    if not 0 <= index < len(plan.overrides):
        raise EditError("that line is gone; accepted: one of those shown")
    return replace(plan, overrides=_put(plan.overrides, index))


def copy_channel(plan: Plan, channel: int, name: str) -> Plan:
    """One more channel that is wanted and keyed as another (from 1): the entries of that one act on both."""
    _windows(plan, channel)
    old, number = plan.channels[channel - 1], len(plan.channels) + 1
    windows = tuple(replace(window, id=None) for window in old.windows)
    copied = replace(old, name=name, windows=windows, id=None)
    changed = replace(plan, channels=(*plan.channels, copied))

    def shared(entries: tuple[Entry, ...]) -> tuple[Entry, ...]:
        return tuple(replace(e, channels=(*e.channels, number)) if channel in e.channels else e for e in entries)

    return _each_set(changed, shared)


def _each_set(plan: Plan, change: Callable[[tuple[Entry, ...]], tuple[Entry, ...]]) -> Plan:
    for keying, entries in enumerate(plan.unit.sets):
        plan = plan.with_set(keying, change(entries))
    return plan


def add_channel(plan: Plan, name: str) -> Plan:
    """One more channel without windows."""
    return replace(plan, channels=(*plan.channels, Channel(name=name)))


def rename_channel(plan: Plan, channel: int, name: str) -> Plan:
    """Another name for a channel (from 1)."""
    _windows(plan, channel)
    return _with_channel(plan, channel, replace(plan.channels[channel - 1], name=name))


def remove_channel(plan: Plan, channel: int) -> Plan:
    """The plan without a channel: its entries go too, and the channels after it move up."""
    _windows(plan, channel)
    if len(plan.channels) == 1:
        raise EditError("a unit keeps at least one channel; accepted: removing one of several")

    def without(entries: tuple[Entry, ...]) -> tuple[Entry, ...]:
        left = [(e, tuple(n - (n > channel) for n in e.channels if n != channel)) for e in entries]
        return tuple(replace(entry, channels=channels) for entry, channels in left if channels)

    overrides = tuple(
        replace(o, channel=o.channel - (o.channel > channel)) if o.channel is not None else o
        for o in plan.overrides
        if o.channel != channel
    )
    return _each_set(replace(plan, channels=_put(plan.channels, channel - 1), overrides=overrides), without)


def set_unit(plan: Plan, **settings: Any) -> Plan:
    """Other settings of the unit, by their names there; raises :class:`PlanError` where an entry cannot go with them."""
    changed = replace(plan, unit=replace(plan.unit, **settings))
    return read_plan(Node(changed.to_json()))


def set_sun(plan: Plan, sun: SunSettings) -> Plan:
    """Another source of sun times; raises :class:`PlanError` where an entry or a channel cannot go with it."""
    return set_unit(plan, sun=sun)


def with_load(plan: Plan, channel: int, load: Load | None, **more: Any) -> Plan:
    """Return the plan with another load on a channel (from 1); ``more`` are other fields of the channel that go with it."""
    _windows(plan, channel)  # refuses a channel that is not there
    return _with_channel(plan, channel, replace(plan.channels[channel - 1], load=load, **more))


def with_pin(plan: Plan, pin: str | None) -> Plan:
    """The plan with what is known of the unit's PIN: from the factory, one of one's own, or nothing."""
    return replace(plan, unit=replace(plan.unit, pin=pin))
