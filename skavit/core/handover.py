"""The moment of leaving: what each channel must be doing, and hence the mode to leave the unit in."""

from dataclasses import dataclass
from datetime import timedelta

import numpy as np

from skavit.core.clock import zone_clock
from skavit.core.plan import Plan
from skavit.core.replay import replay
from skavit.core.sun import DAY_S
from skavit.core.unit import output_spans
from skavit.core.values import day_of

NEXT_SWITCHINGS = 3
SOON_DAYS, LATER_DAYS = 14, 370


@dataclass(frozen=True, slots=True, kw_only=True)
class Switching:
    """An entry that will change the output."""

    instant: int
    on: bool
    slot: int  # from 1


@dataclass(frozen=True, slots=True, kw_only=True)
class ChannelHandover:
    """One channel at the moment of leaving."""

    name: str
    wanted: bool
    program: bool  # what its entries make of it
    since: int | None  # the instant of the last change of that state, where it lies within the run-up
    leave_in: str  # auto, auto-on or auto-off
    next: tuple[Switching, ...]


def handover(plan: Plan, instant: int) -> tuple[ChannelHandover, ...]:
    """The channels of a plan at an instant, each with its next three switchings.

    A unit that computes its state on return to automatic may be left in ``auto``. One that waits for its next
    entry would stay as it is till then, so it is left in ``auto-on`` or ``auto-off``, as its program has it.
    """
    year = day_of(instant // DAY_S).year
    here = zone_clock(plan.site.timezone, year - 1, year + 1)
    today = day_of(int(here.digits(np.array([instant]))[0]) // DAY_S)
    found = []
    for number, channel in enumerate(plan.channels):
        for days in (SOON_DAYS, LATER_DAYS):
            result = replay(plan, today, today + timedelta(days=days))
            events = result.events.of_channel(number)
            spans = output_spans(events, result.end)
            edges = np.concatenate([spans.on, spans.off])
            changes = np.sort(edges[(edges > instant) & (edges < result.end)])
            if changes.size >= NEXT_SWITCHINGS:
                break
        program = bool(spans.at(np.array([instant]))[0])
        past = edges[edges <= instant]
        found.append(
            ChannelHandover(
                name=channel.name,
                wanted=bool(result.channels[number].wanted_with_run_up.at(np.array([instant]))[0]),
                program=program,
                since=int(past.max()) if past.size else None,
                leave_in=_mode(plan, program),
                next=tuple(
                    Switching(
                        instant=int(at),
                        on=bool(spans.at(np.array([at]))[0]),
                        slot=int(events.slot[np.searchsorted(events.instant, at, side="right") - 1]) + 1,
                    )
                    for at in changes[:NEXT_SWITCHINGS]
                ),
            )
        )
    return tuple(found)


def _mode(plan: Plan, program: bool) -> str:
    if plan.unit.on_return_to_auto == "computes":
        return "auto"
    return "auto-on" if program else "auto-off"
