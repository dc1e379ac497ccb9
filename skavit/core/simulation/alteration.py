"""What an edit alters in a year, before it is kept: hours more and less, and the dates, of both sides."""

from dataclasses import dataclass

import numpy as np

from skavit.core.ground.arrays import DAY_S, Ints
from skavit.core.ground.spans import EMPTY, Spans, difference, unite
from skavit.core.simulation.replay import Replay
from skavit.core.text.wording import count, dates_text


@dataclass(frozen=True, slots=True, kw_only=True)
class Alteration:
    """One channel before and after an edit."""

    name: str
    wanted_more: Spans
    wanted_less: Spans
    done_more: Spans
    done_less: Spans
    wrong_before_h: float
    wrong_after_h: float
    dates: Ints  # the local dates on which anything is altered

    @property
    def alters(self) -> bool:
        """Whether anything is."""
        return bool(self.dates.size)

    @property
    def text(self) -> str:
        """The change in hours and dates."""
        parts = [
            f"{_hours(spans.total_s)} {words}"
            for spans, words in (
                (self.wanted_more, "more wanted"),
                (self.wanted_less, "less wanted"),
                (self.done_more, "more on"),
                (self.done_less, "less on"),
            )
            if spans.total_s
        ]
        if not parts:
            return "Alters nothing this year."
        when = f"on {count(self.dates.size, 'day')}, {dates_text(self.dates)}"
        wrong = f"Differing from what is wanted: {_hours(self.wrong_before_h * 3600)}, then {_hours(self.wrong_after_h * 3600)}."
        return f"{', '.join(parts)}, {when}. {wrong}"


def _hours(seconds: float) -> str:
    hours = seconds / 3600
    return (
        f"{hours:,.0f} h"
        if hours >= 10 or not seconds
        else f"{hours:.1f} h"
        if hours >= 1
        else f"{seconds / 60:.0f} min"
    )


def alterations(old: Replay, new: Replay) -> tuple[Alteration, ...]:
    """Return what an edit alters in each channel, from the runs of both plans over the same dates.

    A channel that was not there before did nothing.
    """
    return tuple(_altered(old, new, index) for index in range(len(new.channels)))


def _altered(old: Replay, new: Replay, index: int) -> Alteration:
    after = new.channels[index]
    before = old.channels[index] if index < len(old.channels) else None
    wanted, done = (before.wanted, before.actual) if before else (EMPTY, EMPTY)
    changed = [
        difference(after.wanted, wanted),
        difference(wanted, after.wanted),
        difference(after.actual, done),
        difference(done, after.actual),
    ]
    spans = unite(changed)
    clock = new.site_clock
    days = [clock.digits(spans.on) // DAY_S, clock.digits(spans.off - 1) // DAY_S] if len(spans) else []
    return Alteration(
        name=after.name,
        wanted_more=changed[0],
        wanted_less=changed[1],
        done_more=changed[2],
        done_less=changed[3],
        wrong_before_h=before.extra_h + before.missing_h if before else 0.0,
        wrong_after_h=after.extra_h + after.missing_h,
        dates=np.unique(np.concatenate([np.zeros(0, dtype=np.int64), *days])),
    )
