"""Entries that change places with the seasons: `order-flips`, and how near a plan is to one, `close-call`."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from itertools import islice

import numpy as np

from skavit.core.findings import remedies
from skavit.core.findings.case import Case, ChannelCase, Rule, next_after, within
from skavit.core.findings.facts import ANY_FACTS, NUMBER, SAID, SLOT, WHOLE, Facts, PeriodFacts, SlotFact
from skavit.core.findings.finding import Finding, Severity
from skavit.core.ground.arrays import DAY_S, Floats, Ints
from skavit.core.ground.records import member, word
from skavit.core.ground.spans import EMPTY, Spans, difference, unite
from skavit.core.plan.document import Site
from skavit.core.plan.times import DAY, day_of, sun_time_of
from skavit.core.simulation.events import Cause
from skavit.core.site.clock import standard_offset_s
from skavit.core.sun import SunEvent, sun_days
from skavit.core.text.wording import Words, capital, date_text

# Less than this from a flip is worth telling (docs: "close-call").
CLOSE_S = 30 * 60
# Beyond so many of one channel the rest are not looked at; a unit of 200 slots has about a tenth of it.
MOST_PAIRS = 30_000
# Of close calls the nearest of a channel are told.
MOST_TOLD = 20
NEVER = 2**60
# How far a place is looked for whose sun uses up what is to spare.
LATITUDE_STEP_DEG = 0.1
MOST_DEG = 8.0
MOST_LATITUDE_DEG = 66.0  # beyond it the polar day begins, and a sun time is none
# The share of dates in order on which the output must be as wanted for that order to be the one meant.
MOSTLY = 0.5


@dataclass(frozen=True, slots=True)
class Pair:
    """Two entries of opposite actions, matched by the unit's dates: the second on the date ``apart`` days on."""

    first: int
    second: int
    first_row: Ints  # which of the channel's events, a date each
    second_row: Ints
    gap: Ints  # seconds from the first to the second; negative where they have changed places


class Pairs:
    """When each entry of a channel acts, by the unit's dates: a row an entry, a column a date."""

    def __init__(self, case: Case, channel: ChannelCase) -> None:
        events = channel.events
        self.instant = events.instant
        plain = np.array([not entry.ends_itself for entry in case.entries], dtype=bool)
        acts = np.nonzero(plain[events.slot])[0]
        self.slots, row = np.unique(events.slot[acts], return_inverse=True)
        day = events.day[acts]
        first_day = int(day.min()) if day.size else 0
        days = int(day.max()) - first_day + 1 if day.size else 0
        self.event = np.full((self.slots.size, days), -1, dtype=np.int64)
        self.event[row, day - first_day] = acts
        self.on = np.array([case.entries[slot].on for slot in self.slots], dtype=bool)
        self.sunny = np.array([sun_time_of(case.entries[slot].at) is not None for slot in self.slots], dtype=bool)
        # The earliest and the latest of each entry's moments after the midnight (UTC) of its date.
        self.low, self.high = np.full(self.slots.size, NEVER), np.full(self.slots.size, -NEVER)
        np.minimum.at(self.low, row, self.instant[acts] - day * DAY_S)
        np.maximum.at(self.high, row, self.instant[acts] - day * DAY_S)

    def near(self, a: int) -> list[tuple[int, int]]:
        """(row, dates apart) of the opposite entries that may come soon after that of row ``a``, on some dates before."""
        opposite = (self.on != self.on[a]) & (self.sunny | self.sunny[a])
        found = []
        for apart in (0, 1):
            least = self.low + apart * DAY_S - self.high[a]
            most = self.high + apart * DAY_S - self.low[a]
            found += [(int(b), apart) for b in np.nonzero(opposite & (least < CLOSE_S) & (most >= 0))[0]]
        return sorted(found)

    def pair(self, a: int, b: int, apart: int) -> Pair:
        """The two on the dates on which both act."""
        first, second = self.event[a, : self.event.shape[1] - apart], self.event[b, apart:]
        both = (first >= 0) & (second >= 0)
        first, second = first[both], second[both]
        return Pair(int(self.slots[a]), int(self.slots[b]), first, second, self.instant[second] - self.instant[first])

    def __iter__(self) -> Iterator[Pair]:
        """All that change places or come near to it; at most :data:`MOST_PAIRS`."""
        every = (self.pair(a, b, apart) for a in range(self.slots.size) for b, apart in self.near(a))
        yield from islice((pair for pair in every if pair.gap.size), MOST_PAIRS)


class _Acts:
    """What the events of a channel find and leave, each; worked out once for all pairs."""

    def __init__(self, case: Case, channel: ChannelCase) -> None:
        self.channel, self.start = channel, case.replay.start
        events = channel.events
        self.instant, self.turns_on = events.instant, events.turns_on
        self.wanted = channel.replay.wanted_with_run_up.at(events.instant)
        # A flip before the range that is not mended by its start shows from the start on.
        self.shows = np.maximum(events.instant, self.start)
        self.wrong = np.where(events.turns_on, channel.extra.at(self.shows), channel.missing.at(self.shows))
        self.mended = np.zeros_like(events.instant)
        for on in (True, False):
            mine, others = events.turns_on == on, events.instant[events.turns_on != on]
            self.mended[mine] = next_after(events.instant[mine], others, case.replay.end)

    def explained(self, pair: Pair) -> Spans:
        """The difference from each flip of a pair to the entry that mends it."""
        first = pair.first_row
        in_order = pair.gap >= 0  # at one instant they contradict each other, which is a finding of its own
        flipped = ~in_order & self.wrong[first] & (self.mended[first] > self.start)
        if in_order.all() or not flipped.any() or not in_order.any():
            return EMPTY
        turns_on = bool(self.turns_on[first[0]])
        # In order, the second one must leave the output as wanted: else this order is not the one that is meant.
        if np.mean(self.wanted[pair.second_row[in_order]] != turns_on) <= MOSTLY:
            return EMPTY
        wrong = self.channel.extra if turns_on else self.channel.missing
        return within(wrong, self.shows[first[flipped]], self.mended[first[flipped]])


@dataclass(frozen=True, slots=True, kw_only=True)
class Flip(PeriodFacts):
    """Two entries that change places."""

    first: SlotFact = member(SLOT)
    second: SlotFact = member(SLOT)

    def why(self, words: Words) -> str:
        """What each then does."""
        a, b, on = self.first.text(words), self.second.text(words), self.first.action != "off"
        what = "ends nothing" if on else "starts nothing that lasts"
        then = "switches on and stays on" if on else "switches off"
        return f"On these dates {b} comes before {a}: it {what}, and {a} then {then} until the next entry."


@dataclass(frozen=True, slots=True, kw_only=True)
class Close(Facts):
    """How near two entries come to changing places, and what would make them."""

    first: SlotFact = member(SLOT)
    second: SlotFact = member(SLOT)
    gap_s: int = member(WHOLE)
    day: int = member(DAY)
    sun_first: bool
    by_light: bool
    away_deg: float | None = member(NUMBER, default=None)  # to another latitude; poleward is positive

    def headline(self, words: Words) -> str:
        """How much is to spare."""
        return f"{self.gap_s // 60} min to spare between {words.both_slots(self.first.number, self.second.number)}"

    def why(self, words: Words) -> str:
        """When, and what uses it up."""
        a, b = capital(self.first.text(words)), self.second.text(words)
        when = f"{a} comes {self.gap_s // 60} min before {b} at the nearest, on {date_text(self.day)}."
        minutes = self.gap_s // 60 + 1
        side = "fast" if self.sun_first else "slow"
        # Where the unit works its sun times out, they move with an error of its clock, and the two keep their order.
        stays = "" if self.by_light else " whose sun times stay"
        told = [
            f"a clock {minutes} min {side}{stays}",
            f"a correction of {'+' if self.sun_first else '−'}{minutes} min",
        ]
        if self.away_deg is not None:
            told.append(f"a place {abs(self.away_deg):.1f}° nearer the {'pole' if self.away_deg > 0 else 'equator'}")
        return f"{when} What uses them up: {', '.join(told[:-1])} or {told[-1]}; then they change places."


@dataclass(frozen=True, slots=True, kw_only=True)
class Near(Facts):
    """What a small error would bring about, with all that it would then say."""

    code: str = member(SAID)
    error: str = member(word(["clock", "sun"]))
    minutes: int = member(WHOLE)  # of error: fast or late is positive
    then: Facts = member(ANY_FACTS)

    def _error(self) -> str:
        side = {"clock": ("fast", "slow"), "sun": ("late", "early")}[self.error][self.minutes < 0]
        return f"the {self.error} {abs(self.minutes)} min {side}"

    def headline(self, words: Words) -> str:
        """Which error, and what it brings."""
        return f"Near {self.code}: {self._error()} would bring it about"

    def why(self, words: Words) -> str:
        """What would then show."""
        return f"With {self._error()}: {self.then.headline(words)}. {self.then.why(words)}"


class OrderFlips(Rule):
    """On some dates two entries change places and the output does the opposite of what is wanted."""

    slug = "order-flips"
    description = "a sun entry and a clock entry change places on some dates, and the output does the opposite"
    facts = (Flip,)

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding for each pair that flips; what one explains is not told again by the next."""
        for channel in case.channels:
            if not len(channel.extra) and not len(channel.missing):
                continue
            told = EMPTY
            acts = _Acts(case, channel)
            flips = [(pair, spans) for pair in Pairs(case, channel) if len(spans := acts.explained(pair))]
            for pair, spans in sorted(flips, key=lambda flip: -flip[1].total_s):
                spans = difference(spans, told).longer_than(channel.tolerance_s)  # noqa: PLW2901
                if len(spans):
                    told = unite([told, spans])
                    yield self._finding(case, channel, pair, spans)

    def _finding(self, case: Case, channel: ChannelCase, pair: Pair, spans: Spans) -> Finding:
        on = case.entries[pair.first].on
        period = case.burning(channel, spans) if on else case.dark(spans)
        return case.make(
            self.slug,
            channel,
            Flip(period=period, first=case.slot(pair.first), second=case.slot(pair.second)),
            extra=spans if on else EMPTY,
            missing=EMPTY if on else spans,
            slots=(pair.first, pair.second),
            remedy=remedies.best(case, spans, remedies.keep_order(case, pair.first, pair.second)),
        )


class CloseCall(Rule):
    """No flip, but little clock error or correction away from one."""

    slug = "close-call"
    description = "no flip this year, but less than half an hour away from one: how many minutes, and which clock, correction or place would use them up"
    facts = (Close, Near)

    def find(self, case: Case) -> Iterator[Finding]:
        """The nearest approach of each pair that never flips in the range."""
        for channel in case.channels:
            calls = list(self._calls(case, channel))
            told = sorted(range(len(calls)), key=lambda i: int(calls[i][2].min()))[:MOST_TOLD]
            for index in sorted(told):
                yield self._finding(case, channel, *calls[index])

    def _calls(self, case: Case, channel: ChannelCase) -> Iterator[tuple[Pair, Ints, Ints]]:
        """(pair, when the first one acts, seconds from it to the second) of the dates on which a pair comes near."""
        events = channel.events
        following = next_after(events.instant, events.instant, case.replay.end)
        here = (events.instant >= case.replay.start) & (events.instant < case.replay.end)
        by_sun = events.cause == Cause.SUN
        for pair in Pairs(case, channel):
            mine = here[pair.first_row]
            first, second, gap = pair.first_row[mine], pair.second_row[mine], pair.gap[mine]
            # A limit that holds the sun time moves with the clock: only one sun time and one clock time can flip.
            near = (gap > 0) & (gap < CLOSE_S) & (by_sun[first] != by_sun[second])
            if not near.any() or (gap <= 0).any():
                continue
            # Where something switches between the two, a flip would not leave the first one standing.
            soon = (pair.gap > 0) & (pair.gap < CLOSE_S)
            if (following[pair.first_row[soon]] == events.instant[pair.second_row[soon]]).any():
                yield pair, events.instant[first[near]], gap[near]

    def _finding(self, case: Case, channel: ChannelCase, pair: Pair, at: Ints, gap: Ints) -> Finding:
        nearest = int(gap.argmin())
        dates = case.replay.site_clock.digits(at) // DAY_S
        return case.make(
            self.slug,
            channel,
            self._facts(case, pair, int(dates[nearest]), int(gap[nearest])),
            dates=np.unique(dates),
            slots=(pair.first, pair.second),
            severity=Severity.NOTE,
        )

    def _facts(self, case: Case, pair: Pair, day: int, gap_s: int) -> Close:
        """How near they come, and what would make the two change places: the clock, a correction, another latitude."""
        first, second = case.entries[pair.first], case.entries[pair.second]
        sun_first = sun_time_of(first.at) is not None
        sun = sun_time_of(first.at) or sun_time_of(second.at)
        away = latitude_away(case.plan.site, sun.event, day, gap_s if sun_first else -gap_s) if sun else None
        if away is not None and case.plan.site.latitude < 0:
            away = -away
        return Close(
            first=case.slot(pair.first),
            second=case.slot(pair.second),
            gap_s=gap_s,
            day=day,
            sun_first=sun_first,
            by_light=case.plan.unit.sun.is_photocell,
            away_deg=away,
        )


@lru_cache(maxsize=256)
def _moved(site: Site, day: int) -> tuple[Floats, Ints]:
    """(changes of latitude in degrees, the nearest first; by how much each sun event of a date comes later then)."""
    steps = np.arange(1, round(MOST_DEG / LATITUDE_STEP_DEG) + 1) * LATITUDE_STEP_DEG
    tried = np.stack([steps, -steps], axis=1).ravel()
    tried = np.concatenate([[0.0], tried[np.abs(site.latitude + tried) < MOST_LATITUDE_DEG]])
    standard = standard_offset_s(site.timezone, day_of(day).year)
    times = sun_days(
        site.latitude + tried, np.full(tried.shape, site.longitude), np.full(tried.shape, day), standard
    ).times
    return tried[1:], times[:, 1:] - times[:, :1]


def latitude_away(site: Site, event: SunEvent, day: int, shift_s: int) -> float | None:
    """The nearest change of latitude, in degrees, at which the sun event of a date comes so much later."""
    tried, later = _moved(site, day)
    enough = np.nonzero(later[event] * (1 if shift_s > 0 else -1) > abs(shift_s))[0]
    return float(tried[enough[0]]) if enough.size else None
