"""What each entry is for and what it changes: the window it begins or ends, and the days on which it switches."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import numpy as np

from skavit.core.ground.arrays import DAY_S, Ints
from skavit.core.plan.entry import Entry
from skavit.core.plan.times import Time
from skavit.core.plan.window import Window
from skavit.core.simulation.replay import Replay
from skavit.core.simulation.wanted import window_spans
from skavit.core.site.almanac import almanac

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
    """One :class:`Purpose` for each entry of each keying, in the order of ``Unit.all_entries``; kept with the run."""
    if "purposes" not in result.kept:
        result.kept["purposes"] = _purposes(result)
    found: tuple[Purpose, ...] = result.kept["purposes"]
    return found


def _purposes(result: Replay) -> tuple[Purpose, ...]:
    edges = _Edges(_window_edges(result))
    entries = result.plan.unit.all_entries
    acts = _begins(result, len(entries))
    switching = _switching_days(result)
    # By entry, the edges that it serves as written or to the minute.
    served = [edges.served_by(entry, at) for entry, at in zip(entries, acts, strict=True)]
    # An end of a window that no entry meets is the bent one's that comes nearest.
    bent = edges.without({e for own in served for e in own})
    away: dict[int, dict[int, float]] = {}
    for slot, (entry, at) in enumerate(zip(entries, acts, strict=True)):
        for e, median in bent.medians(entry, at) if not served[slot] else ():
            away.setdefault(e, {})[slot] = median
    for e in sorted(away):
        free = [slot for slot in away[e] if not served[slot]]
        nearest = min(free, key=lambda slot: away[e][slot], default=None)
        if nearest is not None and away[e][nearest] <= BENT_S:
            served[nearest].append(e)
    return tuple(
        Purpose(serves=edges.name(own[0]) if own else "", switches_days=switching[slot])
        for slot, own in enumerate(served)
    )


def _begins(result: Replay, entries: int) -> list[Ints]:
    """For each entry when it acts in the range, rising; of a train of pulses its beginning."""
    events = result.events
    here = np.nonzero((events.instant >= result.start) & (events.instant < result.end))[0]
    rows = here[np.argsort(events.share[here], kind="stable")]
    rows = rows[np.argsort(events.slot[rows], kind="stable")]
    if rows.size:
        share, day = events.share[rows], events.day[rows]
        rows = rows[np.concatenate([[True], (share[1:] != share[:-1]) | (day[1:] != day[:-1])])]
    ends = np.searchsorted(events.slot[rows], np.arange(entries + 1))
    return [np.unique(events.instant[rows[ends[slot] : ends[slot + 1]]]) for slot in range(entries)]


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


class _Edges:
    """The ends of all windows, found by search: which of them an entry acts with."""

    def __init__(self, edges: list[Edge], left: Iterable[int] | None = None) -> None:
        self.edges = edges
        by_side: dict[tuple[int, bool], list[int]] = {}
        for e in range(len(edges)) if left is None else sorted(left):
            by_side.setdefault((edges[e][0], edges[e][2]), []).append(e)
        self.sides = {side: self._side(numbers) for side, numbers in by_side.items()}

    def _side(self, numbers: list[int]) -> tuple[list[int], Ints, Ints]:
        """(the edges, all their instants rising, whose each is) of one channel, of the starts or of the ends."""
        instants = np.concatenate([self.edges[e][4] for e in numbers])
        whose = np.repeat(np.array(numbers), [self.edges[e][4].size for e in numbers])
        order = np.argsort(instants, kind="stable")
        return numbers, instants[order], whose[order]

    def without(self, served: set[int]) -> "_Edges":
        """Those that no entry serves."""
        return _Edges(self.edges, set(range(len(self.edges))) - served)

    def name(self, edge: int) -> str:
        """What an entry that serves it does."""
        return f"{self.edges[edge][1]} {'begins' if self.edges[edge][2] else 'ends'}"

    def _near(self, at: Ints, side: tuple[list[int], Ints, Ints], within_s: int) -> Ints:
        """How many of the instants lie so near to one of each edge; by the edge's number."""
        _, instants, whose = side
        first = np.searchsorted(instants, at - within_s)
        times = np.searchsorted(instants, at + within_s, side="right") - first
        rows = np.arange(int(times.sum())) - np.repeat(np.cumsum(times) - times, times) + np.repeat(first, times)
        return np.bincount(whose[rows], minlength=len(self.edges))

    def served_by(self, entry: Entry, at: Ints) -> list[int]:
        """The edges that have an entry's time, or with which it acts, to the minute, on most of its days."""
        found: list[int] = []
        for side in self._sides_of(entry):
            counts = self._near(at, side, NEAR_S)
            found += [e for e in side[0] if self.edges[e][3] == entry.at or counts[e] > MOSTLY * at.size]
        return sorted(found)

    def medians(self, entry: Entry, at: Ints) -> Iterator[tuple[int, float]]:
        """(edge, how far away an entry acts, in seconds) of those that are not further than a bent one may be."""
        for side in self._sides_of(entry):
            counts = self._near(at, side, BENT_S) if at.size else np.zeros(len(self.edges), dtype=np.int64)
            for e in side[0]:
                if counts[e] and counts[e] * 2 >= at.size:
                    yield e, float(np.median(_away(at, self.edges[e][4])))

    def _sides_of(self, entry: Entry) -> Iterator[tuple[list[int], Ints, Ints]]:
        for channel in entry.channels:
            if (channel, entry.on) in self.sides:
                yield self.sides[channel, entry.on]


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
        days.append(result.site_clock.digits(events.instant[changes]) // DAY_S - result.first)
    # One number for an entry and a date; the dates of a range are far fewer than a million.
    pairs = np.sort(np.concatenate(slots) * 1_000_000 + np.concatenate(days))
    once = pairs[np.concatenate([[True], pairs[1:] != pairs[:-1]])] if pairs.size else pairs
    counts = np.bincount(once // 1_000_000, minlength=len(result.plan.unit.all_entries))
    return [int(number) for number in counts]
