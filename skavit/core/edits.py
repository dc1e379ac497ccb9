"""Edits of a plan as pure functions: each takes a plan and gives the plan after it."""

from collections.abc import Callable
from dataclasses import replace
from typing import TypeVar

from skavit.core.clock_settings import ClockSettings
from skavit.core.entry import Entry
from skavit.core.errors import SkavitError
from skavit.core.limits import Limits
from skavit.core.plan import Channel, Plan, read_plan
from skavit.core.reading import Node
from skavit.core.sun_settings import SunSettings
from skavit.core.window import Window

Edit = Callable[[Plan], Plan]
Row = TypeVar("Row")


class EditError(SkavitError):
    """An edit does not apply to the plan: the thing it changes is not there, or must stay."""


def _put(items: tuple[Row, ...], index: int, *new: Row) -> tuple[Row, ...]:
    if not 0 <= index < len(items):
        raise EditError("this row is no longer there; accepted: a row of the plan as it now stands")
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
    entries = []
    for entry in plan.unit.entries:
        left = tuple(n - (n > channel) for n in entry.channels if n != channel)
        if left:
            entries.append(replace(entry, channels=left))
    return replace(plan, channels=_put(plan.channels, channel - 1)).with_entries(tuple(entries))


def set_behaviour(plan: Plan, clock: ClockSettings, on_return_to_auto: str, limits: Limits) -> Plan:
    """Another clock, another way of returning to automatic, other limits."""
    unit = replace(plan.unit, clock=clock, on_return_to_auto=on_return_to_auto, limits=limits)
    return replace(plan, unit=unit)


def set_sun(plan: Plan, sun: SunSettings) -> Plan:
    """Another source of sun times; raises :class:`PlanError` where an entry or a channel cannot go with it."""
    changed = replace(plan, unit=replace(plan.unit, sun=sun))
    return read_plan(Node(changed.to_json()))
