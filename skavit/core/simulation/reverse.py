"""The reverse job: from the entries that a unit holds to the windows that they make."""

from dataclasses import replace

from skavit.core.memory import ends_next_day, mostly_ends, next_off
from skavit.core.plan.document import Channel, Plan
from skavit.core.plan.entry import Entry
from skavit.core.plan.window import Window


def windows_of(entries: tuple[Entry, ...], channel: int) -> tuple[Window, ...]:
    """The windows of a channel (from 1) as its entries have them: each ON until the next OFF of most of its days.

    By the nominal clock, on the days of the ON; an ON without an OFF makes none. What the unit then does on dates on
    which the order turns round, or on which the OFF does not act, is the replay's to show.
    """
    own = [entry for entry in entries if channel in entry.channels]
    offs = [entry for entry in own if not entry.on]
    found = []
    for entry in own:
        if not entry.on:
            continue
        off = next_off(entry, [off for off in offs if mostly_ends(entry, off)] or offs)
        if off is None:
            continue
        window = Window(start=entry.at, to=off.at, days=entry.days, ends_next_day=ends_next_day(entry, off))
        if window not in found:
            found.append(window)
    return tuple(found)


def as_found(plan: Plan, entries: tuple[Entry, ...]) -> Plan:
    """The plan of a unit that holds ``entries``, with the windows that they make as what is wanted."""
    channels = tuple(
        Channel(name=channel.name, windows=windows_of(entries, number), adjust=channel.adjust, id=channel.id)
        for number, channel in enumerate(plan.channels, start=1)
    )
    return replace(plan, channels=channels).with_entries(entries)
