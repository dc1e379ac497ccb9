"""The proof of a fit: its entries replayed over enough years to meet each weekday at each solstice, and what is lost."""

from dataclasses import dataclass, replace
from datetime import date

import numpy as np

from skavit.core.fitting.trial import TRIAL_YEARS
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.spans import unite
from skavit.core.plan.document import Plan
from skavit.core.plan.entry import Entry
from skavit.core.plan.times import day_of
from skavit.core.simulation.replay import Replay, replay
from skavit.core.sun import LAST_YEAR
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
    """Other entries that the unit could hold, and what they lose."""

    entries: tuple[Entry, ...]
    hours_a_year: float
    lost: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Proof:
    """A fitted plan run for years, if nobody touches the unit."""

    replay: Replay
    years: int

    @property
    def worse_than_nothing(self) -> frozenset[int]:
        """The channels (from 1) that would be less wrong if nothing were keyed for them."""
        channels = self.replay.channels
        worse = [number for number, channel in enumerate(channels, start=1) if channel.wrong_s > channel.wanted.total_s]
        if self.replay.plan.unit.channel_mode == "together" and len(worse) < len(channels):
            return frozenset()  # every entry acts on all of them
        return frozenset(worse)


def proof(plan: Plan, first_year: int) -> Proof:
    """Run a plan over :data:`PROOF_YEARS` years; where it pulses, over as many as the trials."""
    pulses = any(window.repeat for channel in plan.channels for window in channel.windows)
    years = TRIAL_YEARS if pulses else PROOF_YEARS
    years = min(years, LAST_YEAR - 1 - first_year)
    span = date(first_year, 1, 1), date(first_year + years - 1, 12, 31)
    return Proof(replay=replay(replace(plan, overrides=()), *span), years=years)


def losses(plan: Plan, proven: Proof, reasons: list[list[str]]) -> tuple[Loss, ...]:
    """What of each channel is lost, by the replay of the proof; ``reasons`` by channel."""
    return tuple(loss for number, why in enumerate(reasons) if (loss := _loss(plan, proven, number, why)) is not None)


def _loss(plan: Plan, proven: Proof, number: int, reasons: list[str]) -> Loss | None:
    proof = proven.replay
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


def other(plan: Plan, first_year: int) -> Other:
    """Other entries of a plan, with what they lose by the proof."""
    proven = proof(plan, first_year)
    told = [
        f"{channel.name}: {channel.missing_h / proven.years:.0f} h off though wanted, {channel.extra_h / proven.years:.0f} h on, not wanted"
        for channel in proven.replay.channels
        if channel.missing_h + channel.extra_h > 0
    ]
    hours = sum(channel.missing_h + channel.extra_h for channel in proven.replay.channels) / proven.years
    return Other(entries=plan.unit.entries, hours_a_year=hours, lost="; ".join(told))
