"""Which entries do harm, and which turns of what is wanted none of them meets: read off the events, without a search.

An ON does no harm if the channel is wanted on from that moment, an OFF if it is not. A unit of which no entry does
harm, and of which each start and each end of what is wanted is met, does just what is wanted.
"""

from collections.abc import Collection
from dataclasses import dataclass

import numpy as np

from skavit.core.ground.arrays import Bools, Ints
from skavit.core.simulation.events import Events
from skavit.core.simulation.replay import Replay

Turn = tuple[int, bool]  # of a channel (from 0): on, or off


@dataclass(frozen=True, slots=True)
class Harm:
    """The slots (from 0) of which some act does harm, and the turns that nothing harmless meets."""

    slots: frozenset[int]
    unmet: dict[Turn, Bools]  # by the instants of each turn

    @property
    def none(self) -> bool:
        """Whether the unit does just what is wanted."""
        return not self.slots and not any(unmet.any() for unmet in self.unmet.values())


def effective(result: Replay, channel: int, without: Collection[int]) -> Events:
    """What acts on a channel (from 0) in the range if some slots were empty: of one instant the last."""
    events = result.events.of_channel(channel).between(result.start, result.end)
    if without:
        events = events.where(~np.isin(events.slot, list(without)))
    if not len(events):
        return events
    return events.where(np.concatenate([events.instant[1:] != events.instant[:-1], [True]]))


def harm(result: Replay, turns: dict[Turn, Ints], slack_s: int, without: Collection[int] = ()) -> Harm:
    """What a unit's entries do against what is wanted; ``without``: as if these slots were empty.

    ``turns`` are the instants at which each channel is wanted to go on or off; ``slack_s`` is how far from one an act
    may lie. What does harm is left out in turn: what it hid may then do harm itself.
    """
    bad: set[int] = set()
    while True:
        out = {*without, *bad}
        events = {channel: effective(result, channel, out) for channel in range(len(result.channels))}
        new = {slot for channel, own in events.items() for slot in _harming(result, channel, own, slack_s)}
        if not new:
            return Harm(
                frozenset(bad), {turn: _unmet(events[turn[0]], turn, at, slack_s) for turn, at in turns.items()}
            )
        bad |= new


def _harming(result: Replay, channel: int, events: Events, slack_s: int) -> set[int]:
    wanted = result.channels[channel].wanted_with_run_up
    harmless = (wanted.at(events.instant) == events.turns_on) | (wanted.at(events.instant + slack_s) == events.turns_on)
    return {int(slot) for slot in np.unique(events.slot[~harmless])}


def _unmet(events: Events, turn: Turn, at: Ints, slack_s: int) -> Bools:
    acts = events.instant[events.turns_on == turn[1]]
    if not acts.size:
        return np.ones(at.shape, dtype=bool)
    row = np.minimum(np.searchsorted(acts, at - slack_s), acts.size - 1)
    found: Bools = np.abs(acts[row] - at) > slack_s
    return found
