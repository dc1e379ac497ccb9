"""What each entry is for and what it changes: the window it begins or ends, and the days on which it switches."""

from dataclasses import dataclass

import numpy as np

from skavit.core.almanac import almanac
from skavit.core.entry import Entry
from skavit.core.replay import Replay
from skavit.core.sun import DAY_S, Bools, Ints
from skavit.core.unit import Events
from skavit.core.values import Time
from skavit.core.wanted import window_spans
from skavit.core.window import Window

# An entry serves a window when it has its start or end as written, or acts with it, to the minute, on most of its
# days: a unit whose clock is out still has its entries for a purpose.
NEAR_S = 60
MOSTLY = 0.5
# Where no entry does, the one that comes nearest within so long was bent from it.
BENT_S = 3600
NOON_S = 12 * 3600
AFTERNOON_S = 15 * 3600


@dataclass(frozen=True, slots=True, kw_only=True)
class Purpose:
    """One entry in the range."""

    serves: str  # "evening begins", "morning ends"; empty where it serves no window
    switches_days: int  # days on which it changes an output


def part_of_day(window: Window) -> str:
    """The window's name by its nominal times: night, evening, morning or day."""
    start = window.start.nominal_s
    late = start >= AFTERNOON_S
    if window.ends_next_day:
        return "night" if late else "day"
    if late:
        return "evening"
    end = window.to.nominal_s if window.to else start + (window.for_min or 0) * 60
    return "morning" if end <= NOON_S else "day"


def purposes(result: Replay) -> tuple[Purpose, ...]:
    """One :class:`Purpose` for each entry of each keying, in the order of ``Unit.all_entries``."""
    edges = _window_edges(result)
    entries = result.plan.unit.all_entries
    events = result.events
    here = (events.instant >= result.start) & (events.instant < result.end)
    acts = [_begins(events, here & (events.slot == slot)) for slot in range(len(entries))]
    switching = _switching_days(result)
    served: list[list[int]] = []  # by entry, the edges that it serves as written or to the minute
    for entry, at in zip(entries, acts, strict=True):
        served.append([e for e, edge in enumerate(edges) if _suits(entry, edge) and _serves(entry, at, edge)])
    # An end of a window that no entry meets is the bent one's that comes nearest.
    for e in set(range(len(edges))) - {e for own in served for e in own}:
        away = {
            slot: _median_away(at, edges[e][4])
            for slot, (entry, at) in enumerate(zip(entries, acts, strict=True))
            if not served[slot] and _suits(entry, edges[e])
        }
        nearest = min(away, key=lambda slot: away[slot], default=None)
        if nearest is not None and away[nearest] <= BENT_S:
            served[nearest].append(e)
    return tuple(
        Purpose(
            serves=f"{edges[own[0]][1]} {'begins' if edges[own[0]][2] else 'ends'}" if own else "",
            switches_days=switching[slot],
        )
        for slot, own in enumerate(served)
    )


def _begins(events: Events, mine: Bools) -> Ints:
    """When an entry acts, rising; of a train of pulses its beginning."""
    order = np.argsort(events.share[mine], kind="stable")
    instants, days, share = events.instant[mine][order], events.day[mine][order], events.share[mine][order]
    if not instants.size:
        return instants
    first = np.concatenate([[True], (days[1:] != days[:-1]) | (share[1:] != share[:-1])])
    return np.unique(instants[first])


def _suits(entry: Entry, edge: "Edge") -> bool:
    """Whether an entry acts on an edge's channel, and the same way."""
    return edge[0] in entry.channels and edge[2] == entry.on


def _serves(entry: Entry, at: Ints, edge: "Edge") -> bool:
    if edge[3] == entry.at:
        return True
    return bool(at.size and edge[4].size) and float(np.mean(_away(at, edge[4]) <= NEAR_S)) > MOSTLY


def _median_away(at: Ints, edge: Ints) -> float:
    return float(np.median(_away(at, edge))) if at.size and edge.size else np.inf


Edge = tuple[int, str, bool, Time | None, Ints]


def _window_edges(result: Replay) -> list[Edge]:
    """(channel, window's name, whether it starts, its time, the instants) of each end of each window."""
    book = almanac(result.plan.site, result.first - 2, result.last + 2)
    span = book.rows(result.first - 2, result.last + 1)
    rows = np.arange(span.start, span.stop)
    found: list[Edge] = []
    for number, channel in enumerate(result.plan.channels, start=1):
        for window in channel.windows:
            start, end = window_spans(window, book, rows, result.site_clock)
            name = part_of_day(window)
            found.append((number, name, True, window.start, np.sort(start)))
            found.append((number, name, False, window.to, np.sort(end)))
    return found


def _away(at: Ints, edges: Ints) -> Ints:
    """Seconds from each instant to the nearest edge."""
    place = np.clip(np.searchsorted(edges, at), 1, edges.size - 1) if edges.size > 1 else np.zeros(at.size, int)
    found: Ints = np.minimum(np.abs(edges[place] - at), np.abs(edges[place - 1] - at))
    return found


def _switching_days(result: Replay) -> list[int]:
    """For each entry the local dates on which it changes an output, counted."""
    slots, days = [np.zeros(0, dtype=np.int64)], [np.zeros(0, dtype=np.int64)]
    for index in range(len(result.channels)):
        events = result.events.of_channel(index)
        before = np.concatenate([[False], events.turns_on[:-1]])
        changes = events.turns_on != before
        changes &= (events.instant >= result.start) & (events.instant < result.end)
        slots.append(events.slot[changes])
        days.append(result.site_clock.digits(events.instant[changes]) // DAY_S)
    # One number for an entry and a date; the dates of a range are far fewer than a million.
    pairs = np.sort(np.concatenate(slots) * 1_000_000 + np.concatenate(days))
    once = pairs[np.concatenate([[True], pairs[1:] != pairs[:-1]])] if pairs.size else pairs
    counts = np.bincount(once // 1_000_000, minlength=len(result.plan.unit.all_entries))
    return [int(number) for number in counts]
