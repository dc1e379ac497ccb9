"""Entries that change places with the seasons: `order-flips`, and how near a plan is to one, `close-call`."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from skavit.core.clock import standard_offset_s
from skavit.core.findings import remedies
from skavit.core.findings.finding import Case, ChannelCase, Finding, Rule, Severity, next_after, within
from skavit.core.spans import EMPTY, Spans, difference, unite
from skavit.core.sun import DAY_S, Ints, SunEvent, sun_days
from skavit.core.unit import Cause
from skavit.core.values import day_of, sun_time_of
from skavit.core.wording import capital, date_text

# Less than this from a flip is worth telling (docs: "close-call").
CLOSE_S = 30 * 60
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
    first_at: Ints
    second_at: Ints
    by_sun: Ints  # how many of the two moments the sun sets

    @property
    def gap(self) -> Ints:
        """Seconds from the first to the second; negative where they have changed places."""
        return self.second_at - self.first_at


def pairs(case: Case, channel: ChannelCase) -> Iterator[Pair]:
    """All pairs of opposite entries of a channel of which at least one goes by the sun."""
    events = channel.events
    slots = [int(slot) for slot in np.unique(events.slot)]
    of_slot = {slot: np.nonzero(events.slot == slot)[0] for slot in slots}
    by_sun = (events.cause == Cause.SUN).astype(np.int64)
    for a in slots:
        for b in slots:
            x, y = case.entries[a], case.entries[b]
            if x.ends_itself or y.ends_itself or x.on == y.on or not (sun_time_of(x.at) or sun_time_of(y.at)):
                continue
            for apart in (0, 1):
                rows_a, rows_b = of_slot[a], of_slot[b]
                _, i, j = np.intersect1d(events.day[rows_a] + apart, events.day[rows_b], return_indices=True)
                if i.size:
                    i, j = rows_a[i], rows_b[j]
                    yield Pair(a, b, events.instant[i], events.instant[j], by_sun[i] + by_sun[j])


class OrderFlips(Rule):
    """On some dates two entries change places and the output does the opposite of what is wanted."""

    slug = "order-flips"

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding for each pair that flips; what one explains is not told again by the next."""
        for channel in case.channels:
            if not len(channel.extra) and not len(channel.missing):
                continue
            told = EMPTY
            flips = [(pair, self._explained(case, channel, pair)) for pair in pairs(case, channel)]
            for pair, spans in sorted(flips, key=lambda flip: -flip[1].total_s):
                spans = difference(spans, told).longer_than(channel.tolerance_s)  # noqa: PLW2901
                if len(spans):
                    told = unite([told, spans])
                    yield self._finding(case, channel, pair, spans)

    def _explained(self, case: Case, channel: ChannelCase, pair: Pair) -> Spans:
        """The difference from each flip to the entry that mends it."""
        in_order = pair.gap >= 0  # at one instant they contradict each other, which is a finding of its own
        if in_order.all() or not in_order.any():
            return EMPTY
        turns_on = case.entries[pair.first].on
        # In order, the second one must leave the output as wanted: else this order is not the one that is meant.
        wanted = channel.replay.wanted_with_run_up.at(pair.second_at[in_order])
        if np.mean(wanted != turns_on) <= MOSTLY:
            return EMPTY
        wrong = channel.extra if turns_on else channel.missing
        opposite = channel.events.instant[channel.events.turns_on != turns_on]
        mended = next_after(pair.first_at, opposite, case.replay.end)
        # A flip before the range that is not mended by its start shows from the start on.
        shows = np.maximum(pair.first_at, case.replay.start)
        flipped = ~in_order & wrong.at(shows) & (mended > case.replay.start)
        return within(wrong, shows[flipped], mended[flipped])

    def _finding(self, case: Case, channel: ChannelCase, pair: Pair, spans: Spans) -> Finding:
        on = case.entries[pair.first].on
        a, b = case.slot(pair.first), case.slot(pair.second)
        what = "ends nothing" if on else "starts nothing that lasts"
        then = "switches on and stays on" if on else "switches off"
        return case.make(
            self.slug,
            channel,
            case.burning(channel, spans) if on else case.dark(spans),
            f"On these dates {b} comes before {a}: it {what}, and {a} then {then} until the next entry.",
            extra=spans if on else EMPTY,
            missing=EMPTY if on else spans,
            slots=(pair.first, pair.second),
            remedy=remedies.best(case, spans, remedies.keep_order(case, pair.first, pair.second)),
        )


class CloseCall(Rule):
    """No flip, but little clock error or correction away from one."""

    slug = "close-call"

    def find(self, case: Case) -> Iterator[Finding]:
        """The nearest approach of each pair that never flips in the range."""
        for channel in case.channels:
            for pair in pairs(case, channel):
                here = (pair.first_at >= case.replay.start) & (pair.first_at < case.replay.end)
                gap = pair.gap[here]
                # A limit that holds the sun time moves with the clock: only one sun time and one clock time can flip.
                near = (gap > 0) & (gap < CLOSE_S) & (pair.by_sun[here] == 1)
                if not near.any() or (gap <= 0).any() or not self._matters(case, channel, pair):
                    continue
                yield self._finding(case, channel, pair, pair.first_at[here][near], gap[near])

    def _matters(self, case: Case, channel: ChannelCase, pair: Pair) -> bool:
        """Whether nothing switches between the two, so that a flip would leave the first one standing."""
        later = next_after(pair.first_at, channel.events.instant, case.replay.end)
        near = (pair.gap > 0) & (pair.gap < CLOSE_S)
        return bool((later[near] == pair.second_at[near]).any())

    def _finding(self, case: Case, channel: ChannelCase, pair: Pair, at: Ints, gap: Ints) -> Finding:
        nearest = int(gap.argmin())
        minutes = int(gap[nearest]) // 60
        dates = case.replay.site_clock.digits(at) // DAY_S
        a, b = case.slot(pair.first), case.slot(pair.second)
        return case.make(
            self.slug,
            channel,
            f"{minutes} min to spare between slots {pair.first + 1} and {pair.second + 1}",
            f"{capital(a)} comes {minutes} min before {b} at the nearest, on {date_text(int(dates[nearest]))}. "
            f"{self._used_up_by(case, pair, int(dates[nearest]), int(gap[nearest]))}",
            dates=np.unique(dates),
            slots=(pair.first, pair.second),
            severity=Severity.NOTE,
        )

    def _used_up_by(self, case: Case, pair: Pair, day: int, gap_s: int) -> str:
        """What would make the two change places: the clock, a correction, another latitude."""
        minutes = gap_s // 60 + 1
        first, second = case.entries[pair.first], case.entries[pair.second]
        sun_first, by_light = sun_time_of(first.at) is not None, case.plan.unit.sun.is_photocell
        sun = sun_time_of(first.at) or sun_time_of(second.at)
        told = [
            # Where the unit works its sun times out, they move with an error of its clock, and the two keep their order.
            f"a clock {minutes} min {'fast' if sun_first else 'slow'}{'' if by_light else ' whose sun times stay'}",
            f"a correction of {'+' if sun_first else '−'}{minutes} min",
        ]
        away = self._latitude_away(case, sun.event, day, gap_s if sun_first else -gap_s) if sun else None
        if away is not None:
            poleward = (away > 0) == (case.plan.site.latitude >= 0)
            told.append(f"a place {abs(away):.1f}° nearer the {'pole' if poleward else 'equator'}")
        return f"What uses them up: {', '.join(told[:-1])} or {told[-1]}; then they change places."

    def _latitude_away(self, case: Case, event: SunEvent, day: int, shift_s: int) -> float | None:
        """The nearest change of latitude, in degrees, at which the sun event of a date comes so much later."""
        site = case.plan.site
        steps = np.arange(1, round(MOST_DEG / LATITUDE_STEP_DEG) + 1) * LATITUDE_STEP_DEG
        tried = np.stack([steps, -steps], axis=1).ravel()
        tried = np.concatenate([[0.0], tried[np.abs(site.latitude + tried) < MOST_LATITUDE_DEG]])
        days = np.full(tried.shape, day)
        standard = standard_offset_s(site.timezone, day_of(day).year)
        longitudes = np.full(tried.shape, site.longitude)
        moved = sun_days(site.latitude + tried, longitudes, days, standard).times[event]
        later = (moved[1:] - moved[0]) * (1 if shift_s > 0 else -1)
        enough = np.nonzero(later > abs(shift_s))[0]
        return float(tried[1:][enough[0]]) if enough.size else None
