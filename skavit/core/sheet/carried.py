"""Steps that say another thing as the hours go on: the sheet carries them to tomorrow's end."""

from collections.abc import Callable
from dataclasses import replace
from itertools import groupby

import numpy as np

from skavit.core.ground.arrays import Ints
from skavit.core.sheet.occasion import Occasion
from skavit.core.sheet.step import Spell, Step
from skavit.core.simulation.handover import changes_between

# A unit that pulses says another thing every minute: the sheet then carries fewer hours.
MOST_SPELLS = 60

Builder = Callable[[Occasion], list[Step]]


def by_date(build: Builder) -> Builder:
    """The steps of a builder as they stand today, and as they will tomorrow."""
    return carried_by(build, lambda occasion: occasion.midnights[:1])


def by_clock_change(build: Builder) -> Builder:
    """The steps of a builder as they stand now, and as they will after each change of the clocks until tomorrow's end."""

    def cuts(occasion: Occasion) -> Ints:
        turns = np.union1d(occasion.unit_clock.right.starts, occasion.year.site_clock.starts)
        found: Ints = turns[(turns > occasion.instant) & (turns < occasion.midnights[-1])]
        return found

    return carried_by(build, cuts)


def by_switching(build: Builder) -> Builder:
    """The steps of a builder as they stand now, and as they will after each switching until tomorrow's end."""

    def cuts(occasion: Occasion) -> Ints:
        assert occasion.ahead is not None
        return changes_between(occasion.ahead, occasion.instant, int(occasion.midnights[-1]))

    return carried_by(build, cuts)


def carried_by(build: Builder, cuts: Callable[[Occasion], Ints]) -> Builder:
    """The builder's steps with what they say from each of the instants on at which that may change."""

    def carried(occasion: Occasion) -> list[Step]:
        now = build(occasion)
        if occasion.ahead is None or not now:
            return now
        coming = [int(cut) for cut in cuts(occasion)[: MOST_SPELLS + 1]]
        firsts = [occasion.instant, *coming[:MOST_SPELLS]]
        ends = [*firsts[1:], coming[MOST_SPELLS] if len(coming) > MOST_SPELLS else int(occasion.midnights[-1])]
        by_moment = [now, *(build(occasion.moved(first)) for first in firsts[1:])]
        if any(len(steps) != len(now) for steps in by_moment):
            return [replace(step, holds_until=ends[0]) for step in now]
        return [
            replace(step, holds_until=ends[0], spells=_joined([steps[place] for steps in by_moment], firsts, ends))
            for place, step in enumerate(now)
        ]

    return carried


def _joined(steps: list[Step], firsts: list[int], ends: list[int]) -> tuple[Spell, ...]:
    """The step at each moment, neighbours that say the same as one; none where it is the same all through."""
    found = []
    for step, group in groupby(range(len(steps)), key=lambda place: steps[place]):
        places = list(group)
        found.append(Spell(first=firsts[places[0]], until=ends[places[-1]], step=step))
    return tuple(found) if len(found) > 1 else ()
