"""The moment of leaving: what each channel must be doing, hence the mode to leave it in, and what follows from there."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import timedelta

import numpy as np

from skavit.core.ground.arrays import DAY_S, Ints
from skavit.core.ground.spans import EMPTY, Spans, unite
from skavit.core.plan.document import Plan
from skavit.core.plan.overrides import Away, Boost, Countdown, Mode, Override, Setting
from skavit.core.plan.times import day_of, sun_time_of
from skavit.core.simulation.events import Events
from skavit.core.simulation.output import overridden
from skavit.core.simulation.replay import ChannelReplay, Replay, replay
from skavit.core.site.clock import zone_clock
from skavit.core.text.wording import duration_text

NEXT_SWITCHINGS = 3
SOON_DAYS, LATER_DAYS = 14, 370


@dataclass(frozen=True, slots=True, kw_only=True)
class Switching:
    """An entry that will change the output."""

    instant: int
    on: bool
    slot: int  # from 1, in the set that the unit holds then


@dataclass(frozen=True, slots=True, kw_only=True)
class ChannelHandover:
    """One channel at the moment of leaving."""

    name: str
    wanted: bool
    program: bool  # what its entries make of it
    actual: bool  # what its output is, by hand or by them
    since: int | None  # the instant of the last change of that state, where it lies within the run-up
    leave_in: str  # auto, auto-on or auto-off
    by_hand: bool  # a mode or a timer holds it, and its program does not run
    next: tuple[Switching, ...]

    @property
    def output(self) -> bool:
        """Whether its output is on once it is left so: as it was brought by hand, or as its program has it."""
        return self.program if self.leave_in == "auto" else self.leave_in == "auto-on"


@dataclass(frozen=True, slots=True, kw_only=True)
class Prospect:
    """What a mode or an override, chosen now, means: the output now, and when it changes by itself, if it does."""

    setting: Setting
    on: bool
    until: int | None  # the instant of the next change; None: nothing changes it within a year
    slot: int | None  # from 1: the entry that makes it; None: a timer, or no entry


def shows_next(result: Replay, instant: int) -> bool:
    """Whether a replay has the next switchings of each channel after an instant; one that no entry names has none."""
    if not result.start <= instant < result.end:
        return False
    keyed = {number for entry in result.plan.unit.all_entries for number in entry.channels}
    return all(
        _changes(channel.program, instant, result.end).size >= NEXT_SWITCHINGS
        for number, channel in enumerate(result.channels, start=1)
        if number in keyed
    )


def look_ahead(plan: Plan, instant: int) -> Replay:
    """A replay from today on, so long that each channel has its next switchings, or a year has passed."""
    year = day_of(instant // DAY_S).year
    here = zone_clock(plan.site.timezone, year - 1, year + 1)
    today = day_of(int(here.digits(np.array([instant]))[0]) // DAY_S)
    soon = replay(plan, today, today + timedelta(days=SOON_DAYS))
    if plan.channels and shows_next(soon, instant):
        return soon
    return replay(plan, today, today + timedelta(days=LATER_DAYS))


def _changes(spans: Spans, instant: int, until: int) -> Ints:
    edges = np.concatenate([spans.on, spans.off])
    return np.sort(edges[(edges > instant) & (edges < until)])


def changes_between(result: Replay, instant: int, until: int) -> Ints:
    """The instants after one and before another at which what is wanted of a channel or what its program does changes."""
    sides = [side for channel in result.channels for side in (channel.program, channel.wanted_with_run_up)]
    return np.unique(np.concatenate([_changes(side, instant, min(until, result.end)) for side in sides]))


def handover(plan: Plan, instant: int, known: Replay | None = None) -> tuple[ChannelHandover, ...]:
    """The channels of a plan at an instant, each with its next three switchings.

    A unit that computes its state on return to automatic may be left in ``auto``. One that waits for its next
    entry would stay as it is till then, so it is left in ``auto-on`` or ``auto-off``, as it is wanted; a channel
    for which nothing is wanted, as its program has it. ``known`` is a replay in which
    their next switchings stand, where there is one already.
    """
    result = known or look_ahead(plan, instant)
    found = []
    for number, channel in enumerate(result.channels):
        spans = channel.program
        program = bool(spans.at(np.array([instant]))[0])
        wanted = bool(channel.wanted_with_run_up.at(np.array([instant]))[0])
        edges = np.concatenate([spans.on, spans.off])
        past = edges[edges <= instant]
        leave_in = _mode(plan, wanted if plan.channels[number].windows else program)
        coming = spans
        if leave_in != "auto" and (leave_in == "auto-on") != program:
            events = result.events.between(instant + 1, result.end).of_channel(number)
            coming = _brought(spans, events, instant, result.end, on=leave_in == "auto-on")
        found.append(
            ChannelHandover(
                name=channel.name,
                wanted=wanted,
                program=program,
                actual=bool(channel.actual.at(np.array([instant]))[0]),
                since=int(past.max()) if past.size else None,
                leave_in=leave_in,
                by_hand=channel.hand.held_at(instant),
                next=tuple(_next(result, number, coming, instant)),
            )
        )
    return tuple(found)


def _next(result: Replay, channel: int, spans: Spans, instant: int) -> Iterator[Switching]:
    events = result.events.between(instant, result.end).of_channel(channel)
    for at in _changes(spans, instant, result.end)[:NEXT_SWITCHINGS]:
        index = int(events.slot[np.searchsorted(events.instant, at, side="right") - 1])
        yield Switching(
            instant=int(at),
            on=bool(spans.at(np.array([at]))[0]),
            slot=result.plan.unit.slot_of(index)[1] + 1,
        )


def _brought(spans: Spans, events: Events, instant: int, until: int, *, on: bool) -> Spans:
    """The program of an output that was brought on or off by hand at an instant: so it is kept until an entry acts."""
    first = int(min(events.instant, default=until))
    kept = Spans(np.array([instant]), np.array([first])) if on else EMPTY
    return unite([kept, spans.cut(first, until)])


def _mode(plan: Plan, on: bool) -> str:
    if plan.unit.on_return_to_auto == "computes":
        return "auto"
    return "auto-on" if on else "auto-off"


# ------------------------------------------------------------------------------------------- until the next entry

# What may be chosen at the unit; the times of the timed ones are examples.
CHOICES: tuple[Setting, ...] = (
    Mode(word="auto"),
    Mode(word="auto-on"),
    Mode(word="auto-off"),
    Mode(word="on"),
    Mode(word="off"),
    Boost(minutes=60),
    Countdown(minutes=60, then_on=False),
    Away(days=7),
)


def prospects(plan: Plan, instant: int, *, before: Setting | None = None) -> tuple[tuple[Prospect, ...], ...]:
    """For each channel what each choice means if made at an instant, by all its entries.

    ``before`` is the mode in which it is then, automatic where it is None.
    """
    result = look_ahead(replace(plan, overrides=()), instant)
    channels = range(len(plan.channels))
    return tuple(
        tuple(_prospect(result, channel, instant, before, choice) for choice in CHOICES) for channel in channels
    )


def _prospect(result: Replay, channel: int, instant: int, before: Setting | None, choice: Setting) -> Prospect:
    program: ChannelReplay = result.channels[channel]
    events = result.events.of_channel(channel)
    digits = int(result.site_clock.digits(np.array([instant]))[0])
    first = [Override(at=digits - 1, channel=channel + 1, setting=before)] if before else []
    made = (*first, Override(at=digits, channel=channel + 1, setting=choice))
    plan = replace(result.plan, overrides=made)
    hand = overridden(plan, channel, program.program, events.instant, result.site_clock, result.end)
    output = hand.output()
    changes = _changes(output, instant, result.end)
    until = int(changes[0]) if changes.size else None
    here = np.nonzero(events.instant == until)[0] if until is not None else np.zeros(0, dtype=np.int64)
    return Prospect(
        setting=choice,
        on=bool(output.at(np.array([instant]))[0]),
        until=until,
        slot=result.plan.unit.slot_of(int(events.slot[here[-1]]))[1] + 1 if here.size else None,
    )


# -------------------------------------------------------------------------------------------------- test and warnings


def test_sequence(plan: Plan, leaving: tuple[ChannelHandover, ...]) -> tuple[str, ...]:
    """How to see that the outputs work, before leaving, in the order in which to do it."""
    names = " and ".join(channel.name for channel in leaving)
    found = [f"Switch on by hand: {names} must come on.", f"Switch off by hand: {names} must go out."]
    by_light = [e for e in plan.unit.entries if sun_time_of(e.at)] if plan.unit.sun.is_photocell else []
    if by_light:
        wait = duration_text((plan.unit.sun.delay_min or 0) * 60)
        delay = f" and wait {wait}, the cell's delay" if plan.unit.sun.delay_min else ""
        found.append(f"By day, in automatic: cover the cell with something dark{delay}. It must switch as at dusk.")
        found.append(f"Uncover it{delay}. It must switch as at dawn.")
    for channel in leaving:
        state = "on" if channel.wanted else "off"
        if channel.leave_in == "auto":
            found.append(f"Back to automatic: {channel.name} must be {state} at once.")
        else:
            found.append(
                f"Back to automatic: this unit waits for its next entry. Bring {channel.name} to {state} by hand."
            )
    return tuple(found)


def warnings(
    plan: Plan, leaving: tuple[ChannelHandover, ...], *, cover_switches: bool, has_random: bool = False
) -> tuple[str, ...]:
    """What may still go wrong when the cabinet is shut."""
    found = []
    if plan.unit.operating == "manual":
        found.append("The unit's operating mode is manual: no entry acts.")
    for channel in leaving:
        if channel.by_hand:
            found.append(f"{channel.name} is held by hand: its program does not run until it is in automatic again.")
        if channel.leave_in != "auto":
            found.append(f"{channel.name}: left in plain automatic it stays as it is until its next entry acts.")
        if channel.wanted != channel.program:
            wanted, done = ("on", "off") if channel.wanted else ("off", "on")
            found.append(f"{channel.name} is wanted {wanted} now, and its program has it {done}.")
        if not channel.next:
            found.append(f"{channel.name}: no entry changes it within a year.")
    if has_random:
        found.append("The unit can switch at random: see that this mode is off.")
    if cover_switches:
        found.append("The cover can press a key: look at the outputs after it is shut.")
    return tuple(found)
