"""The reverse job: from the entries that a unit holds to the windows that they make."""

from dataclasses import replace
from datetime import date

import numpy as np

from skavit.core.days import Calendar
from skavit.core.entry import Entry
from skavit.core.plan import Channel, Plan
from skavit.core.sun import DAY_S
from skavit.core.values import day_number
from skavit.core.window import Window

# An OFF ends an ON's window where it acts on at least this share of the ON's days; else it cuts in on some.
MOSTLY = 0.5
# Four years of dates, by which the days of two rules are compared.
_DATES = np.arange(day_number(date(2025, 1, 1)), day_number(date(2029, 1, 1)))


def windows_of(entries: tuple[Entry, ...], channel: int) -> tuple[Window, ...]:
    """The windows of a channel (from 1) as its entries have them: each ON until the next OFF of most of its days.

    By the nominal clock, on the days of the ON; an ON without an OFF makes none. What the unit then does on dates on
    which the order turns round, or on which the OFF does not act, is the replay's to show.
    """
    own = [entry for entry in entries if channel in entry.channels]
    offs = [entry for entry in own if not entry.on]
    found = []
    for entry in own:
        if not entry.on or not offs:
            continue
        mostly = [off for off in offs if _share(entry, off) >= MOSTLY]
        off = min(mostly or offs, key=lambda other: (_after(entry, other), other.at.nominal_s))
        window = Window(start=entry.at, to=off.at, days=entry.days, ends_next_day=_next_day(entry, off))
        if window not in found:
            found.append(window)
    return tuple(found)


def _next_day(entry: Entry, off: Entry) -> bool:
    return off.at.nominal_s <= entry.at.nominal_s


def _share(entry: Entry, off: Entry) -> float:
    """The share of an ON's days on which an OFF ends its period."""
    on = entry.days.matches(Calendar(_DATES))
    ends = off.days.matches(Calendar(_DATES + int(_next_day(entry, off))))
    return float((on & ends).sum() / max(on.sum(), 1))


def _after(entry: Entry, off: Entry) -> int:
    """Seconds from an ON to an OFF on the nominal clock; a whole day where they stand together."""
    return (off.at.nominal_s - entry.at.nominal_s) % DAY_S or DAY_S


def as_found(plan: Plan, entries: tuple[Entry, ...]) -> Plan:
    """The plan of a unit that holds ``entries``, with the windows that they make as what is wanted."""
    channels = tuple(
        Channel(name=channel.name, windows=windows_of(entries, number), adjust=channel.adjust, id=channel.id)
        for number, channel in enumerate(plan.channels, start=1)
    )
    return replace(plan, channels=channels).with_entries(entries)
