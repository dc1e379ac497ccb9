"""Windows that pulse, keyed as entries that repeat: where the unit has such entries."""

from dataclasses import dataclass, replace
from typing import assert_never

from skavit.core.fitting.groups import cover
from skavit.core.fitting.layouts import window_end
from skavit.core.plan.days import Weekdays
from skavit.core.plan.document import Plan
from skavit.core.plan.entry import Entry, Pulses
from skavit.core.plan.limits import Limits
from skavit.core.plan.times import ClockTime, LimitedTime, SunTime, Time, sun_time_of
from skavit.core.plan.window import Cycle, Window


@dataclass(frozen=True, slots=True, kw_only=True)
class Trains:
    """The entries for the pulsing windows of a plan, and by channel (from 0) why some cannot be keyed."""

    entries: tuple[Entry, ...]
    reasons: dict[int, str]


def without_trains(plan: Plan) -> Plan:
    """The plan without its pulsing windows."""
    return replace(
        plan,
        channels=tuple(
            replace(channel, windows=tuple(window for window in channel.windows if not window.repeat))
            for channel in plan.channels
        ),
    )


def key_trains(plan: Plan) -> Trains:
    """Key every pulsing window of a plan."""
    entries: list[Entry] = []
    reasons: dict[int, str] = {}
    for number, channel in enumerate(plan.channels):
        for window in channel.windows:
            if window.repeat:
                made = _entries(window, window.repeat, number + 1, plan)
                if isinstance(made, str):
                    reasons[number] = made
                else:
                    entries += made
    return Trains(entries=tuple(entries), reasons=reasons)


def _entries(window: Window, cycle: Cycle, channel: int, plan: Plan) -> list[Entry] | str:
    """The entries of one window, or why there are none."""
    limits = plan.unit.limits
    ended = window_end(window)
    if ended is None or not isinstance(ended[0], ClockTime) or ended[1]:
        return "the unit's pulses end at a clock time of the same date"
    until = ended[0]
    if isinstance(window.start, ClockTime) and until <= window.start:
        return []  # empty on every date
    single = _single_s(window, until, cycle, limits)
    if single is None and (why := _refusal(window, until, plan)):
        return why
    masks = [window.days]
    if limits.day_groups is not None:
        held = cover(window.days.mask, limits.masks()) if isinstance(window.days, Weekdays) else None
        if held is None:
            return "the unit's day groups do not hold the days of the pulses"
        masks = [Weekdays(mask) for mask in held]
    if single is not None:
        return [Entry(channels=(channel,), on=True, at=window.start, days=days, pulse_s=single) for days in masks]
    pulses = Pulses(on_s=cycle.on_s, off_s=cycle.every_s - cycle.on_s, until=until)
    return [Entry(channels=(channel,), on=True, at=window.start, days=days, repeat=pulses) for days in masks]


def _single_s(window: Window, until: ClockTime, cycle: Cycle, limits: Limits) -> int | None:
    """The seconds of the one pulse that a window holds, where the unit has pulses of such a length; else None."""
    if not isinstance(window.start, ClockTime) or until.seconds - window.start.seconds > cycle.every_s:
        return None
    if limits.actions is None or "pulse" not in limits.actions or not _holds(window.start, limits):
        return None
    seconds = min(cycle.on_s, until.seconds - window.start.seconds)
    return seconds if limits.pulse_max_s is None or seconds <= limits.pulse_max_s else None


def _refusal(window: Window, until: ClockTime, plan: Plan) -> str:
    """Why the unit has no entry of such times; empty where it has."""
    limits, sun = plan.unit.limits, plan.unit.sun
    if limits.actions is None or "repeat" not in limits.actions:
        return "the unit holds no entries that repeat"
    if sun_time_of(window.start) and (sun.source == "none" or sun.is_photocell):
        return "the unit has no sun table for the pulses"
    if not _holds(window.start, limits) or not _holds(until, limits):
        return "the unit cannot hold the times of the pulses"
    return ""


def _holds(time: Time, limits: Limits) -> bool:
    """Whether one entry can carry the time as it is."""
    match time:
        case LimitedTime():
            bounds = [bound for bound in (time.not_before, time.not_after) if bound is not None]
            return limits.limited_times and all(_holds(part, limits) for part in (time.at, *bounds))
        case ClockTime():
            return not time.seconds % (limits.clock_step_s or 1)
        case SunTime():
            if limits.sun_events is not None and time.event not in limits.sun_events:
                return False
            most = 0 if limits.offset_by == "correction" else limits.sun_offset_max_min
            return most is None or abs(time.offset_min) <= most
        case _:
            assert_never(time)
