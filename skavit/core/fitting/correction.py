"""Offsets moved into the channel's correction, for units that have no other place for them (`offset_by`)."""

from dataclasses import replace
from typing import assert_never

from skavit.core.fitting.trial import Draft, Drafts, Trial
from skavit.core.plan.entry import Entry
from skavit.core.plan.sun_settings import Adjust
from skavit.core.plan.times import ClockTime, LimitedTime, SunTime, Time, sun_time_of
from skavit.core.sun import SunEvent

MORNING = (SunEvent.DAWN, SunEvent.SUNRISE)
EVENING = (SunEvent.SUNSET, SunEvent.DUSK)


def with_offset(time: Time, offset_min: int) -> Time:
    """A time with another offset in its sun time; a clock time as it is."""
    match time:
        case SunTime():
            return SunTime(time.event, offset_min)
        case LimitedTime(at=SunTime() as sun):
            return replace(time, at=SunTime(sun.event, offset_min))
        case ClockTime() | LimitedTime():
            return time
        case _:
            assert_never(time)


def _at_one(drafts: Drafts, events: tuple[SunEvent, ...], offset_min: int) -> Drafts:
    def moved(draft: Draft) -> Draft:
        sun = sun_time_of(draft.at)
        return replace(draft, at=with_offset(draft.at, offset_min)) if sun and sun.event in events else draft

    return tuple(moved(draft) for draft in drafts)


def common_offsets(trial: Trial, channels: dict[int, Drafts]) -> tuple[dict[int, Drafts], Adjust]:
    """The drafts of channels (from 0) with one offset for all of their mornings and one for all of their evenings.

    Of the offsets that stand in the drafts the one with the fewest wrong hours is taken.
    """
    chosen = []
    for events in (MORNING, EVENING):
        sun_times = [sun_time_of(d.at) for drafts in channels.values() for d in drafts]
        offsets = sorted({s.offset_min for s in sun_times if s and s.event in events}, key=abs)
        tried = [
            (sum(trial.wrong_s(n, _at_one(drafts, events, offset)) for n, drafts in channels.items()), offset)
            for offset in offsets
        ]
        best = min(tried, key=lambda found: found[0])[1] if tried else 0
        channels = {n: _at_one(drafts, events, best) for n, drafts in channels.items()}
        chosen.append(best)
    return channels, Adjust(sunrise_min=chosen[0], sunset_min=chosen[1])


def without_offset(entry: Entry) -> Entry:
    """The entry that is keyed where the correction holds its offset."""
    return replace(entry, at=with_offset(entry.at, 0))
