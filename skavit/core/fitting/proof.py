"""The proof of a fit: its entries replayed over enough years to meet each weekday at each solstice, and what is lost."""

from dataclasses import dataclass, replace
from datetime import date
from functools import cached_property

import numpy as np

from skavit.core.fitting.brief import BRIEF_S, brief
from skavit.core.fitting.trial import TRIAL_YEARS, Range
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.spans import Spans, unite
from skavit.core.plan.days import Days, Weekdays
from skavit.core.plan.document import Plan
from skavit.core.plan.times import day_of
from skavit.core.simulation.replay import Replay, replay
from skavit.core.sun import LAST_YEAR
from skavit.core.text.sharing import shared_days_text
from skavit.core.text.wording import PLAIN, days_text

# In eleven years each date falls on each weekday, wherever the leap years lie.
PROOF_YEARS = 11


@dataclass(frozen=True, slots=True, kw_only=True)
class Loss:
    """What of a channel could not be held: why, from when to when, how much, and what comes nearest."""

    channel: int  # from 1
    reason: str
    first: date
    last: date
    hours_a_year: float
    nearest: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Other:
    """Another way to key the unit, and what it loses."""

    plan: Plan
    hours_a_year: float
    lost: str


@dataclass(frozen=True, kw_only=True)
class Proof:
    """A fitted plan run for years, if nobody touches the unit."""

    plan: Plan
    replay: Replay
    years: int

    @property
    def worse_than_nothing(self) -> frozenset[int]:
        """The channels (from 1) that would be less wrong if nothing were keyed for them."""
        channels = self.replay.channels
        worse = [number for number, channel in enumerate(channels, start=1) if channel.wrong_s > channel.wanted.total_s]
        if self.plan.unit.channel_mode == "together" and len(worse) < len(channels):
            return frozenset()  # every entry acts on all of them
        return frozenset(worse)

    def least_s(self, channel: int, span: tuple[int, int]) -> float:
        """How long a period of a channel (from 0) lasts at least, or a gap, whichever begins with ``span``."""
        on = self.replay.channels[channel].actual.at(np.array([span[0]]))[0]
        own = self.plan.channels[channel]
        return (own.least_on_min if on else own.least_off_min) * 60

    @property
    def weight_s(self) -> int:
        """Seconds wrong, and what each brief span weighs."""
        return self.wrong_s + BRIEF_S * self.brief_count

    @property
    def wrong_s(self) -> int:
        """Seconds wrong in all of the years, of all channels."""
        return self.replay.wrong_s

    @cached_property
    def briefs(self) -> tuple[Spans, ...]:
        """Of each channel the periods and gaps that are too short to be of use, and that nobody asked for."""
        run = self.replay
        pairs = zip(self.plan.channels, run.channels, strict=True)
        return tuple(brief(channel, done.actual, done.wanted, run.start, run.end) for channel, done in pairs)

    @property
    def brief_count(self) -> int:
        """How many those are."""
        return sum(len(spans) for spans in self.briefs)


def proof(plan: Plan, first_year: int, dates: Range | None = None) -> Proof:
    """Run a plan over :data:`PROOF_YEARS` years; where it pulses, over as many as the trials; or over given dates."""
    pulses = any(window.repeat for channel in plan.channels for window in channel.windows)
    years = TRIAL_YEARS if pulses else PROOF_YEARS
    years = min(years, LAST_YEAR - 1 - first_year)
    span = dates or (date(first_year, 1, 1), date(first_year + years - 1, 12, 31))
    return Proof(plan=plan, replay=replay(replace(plan, overrides=()), *span), years=1 if dates else years)


def losses(proven: Proof, reasons: list[list[str]]) -> tuple[Loss, ...]:
    """What of each channel is lost, by the replay of the proof; ``reasons`` by channel."""
    return tuple(loss for number, why in enumerate(reasons) if (loss := _loss(proven, number, why)) is not None)


def _loss(proven: Proof, number: int, reasons: list[str]) -> Loss | None:
    proof, plan = proven.replay, proven.plan
    channel = proof.channels[number]
    wrong = unite([channel.extra, channel.missing])
    if not wrong.total_s:
        return None
    if not plan.unit.clock.is_right or proof.unit_clock.right is not proof.site_clock:
        differs = not np.array_equal(proof.unit_clock.shows(wrong.on), proof.site_clock.digits(wrong.on))
        if differs:
            reasons = [*reasons, "the unit's clock differs from the site's"]
    if not plan.unit.sun.is_true:
        reasons = [*reasons, "the unit's sun differs from the site's"]
    if plan.unit.holidays and not reasons:
        reasons = ["no entry acts on the unit's holidays"]
    if plan.unit.limits.day_groups is not None and (shared := _shared(plan, number)):
        reasons = [*reasons, shared]
    days = proof.site_clock.digits(np.array([wrong.on[0], wrong.off[-1] - 1])) // DAY_S
    entries = [e for e in plan.unit.entries if number + 1 in e.channels]
    return Loss(
        channel=number + 1,
        reason="; ".join(dict.fromkeys(reasons)) or "no entries do just what is wanted",
        first=day_of(int(days[0])),
        last=day_of(int(days[1])),
        hours_a_year=wrong.total_s / 3600 / proven.years,
        nearest="; ".join(f"{e.action.upper()} {PLAIN.time(e.at)} {days_text(e.days)}" for e in entries) or "nothing",
    )


def _shared(plan: Plan, number: int) -> str:
    """Which weekdays of a channel (from 0) share a day group, though their windows differ."""
    windows = plan.channels[number].windows
    begins = [entry for entry in plan.unit.entries if number + 1 in entry.channels and entry.on]
    return shared_days_text(_on_weekdays([w.days for w in windows]), _on_weekdays([entry.days for entry in begins]))


def _on_weekdays(rules: list[Days]) -> list[tuple[bool, ...]]:
    """By weekday, which of the rules hold on it; what names no weekdays holds on each."""
    return [tuple(not isinstance(r, Weekdays) or bool(r.mask >> bit & 1) for r in rules) for bit in range(7)]


def other(proven: Proof) -> Other:
    """Another way to key the unit, with what it loses by its proof."""
    told = [
        f"{channel.name}: {channel.missing_h / proven.years:.0f} h off though wanted, {channel.extra_h / proven.years:.0f} h on, not wanted"
        for channel in proven.replay.channels
        if channel.missing_h + channel.extra_h > 0
    ]
    return Other(plan=proven.plan, hours_a_year=proven.wrong_s / 3600 / proven.years, lost="; ".join(told))
