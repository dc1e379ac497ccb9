"""Far too many drafts made fewer: what does the least harm is dropped, an ON with its OFF, until they are few enough.

What a drop does is worked out for all drafts at once: each run of a draft's events takes the state of the run before.
"""

from dataclasses import dataclass
from itertools import islice

import numpy as np

from skavit.core.fitting.groups import cover
from skavit.core.fitting.layouts import WindowLayouts
from skavit.core.fitting.trial import Draft, Drafts, Trial
from skavit.core.ground.arrays import Bools, Ints
from skavit.core.ground.spans import seconds_before
from skavit.core.plan.days import Weekdays
from skavit.core.plan.limits import Limits
from skavit.core.plan.times import Time

# So large a part of those that are too many is dropped at once.
PART = 8
# How many ways to key a window are looked at for one that is a pair.
WAYS = 6


@dataclass(frozen=True, slots=True)
class _Channel:
    """The events of a channel's drafts in their order."""

    drafts: Drafts
    instant: Ints
    draft: Ints
    on: Bools
    turns: Ints  # the instants, and the end
    wanted_s: Ints  # seconds wanted before each of the turns

    def harm(self, group: Ints) -> Ints:
        """Seconds by which the channel would be more wrong without the drafts of each group (by draft)."""
        mine = group[self.draft]
        change = np.nonzero(mine[1:] != mine[:-1])[0] + 1
        first = np.concatenate([[0], change])
        end = np.concatenate([change, [self.instant.size]])
        before = np.concatenate([[False], self.on[first[1:] - 1]])
        now = self._wrong(np.arange(self.instant.size), np.arange(1, self.instant.size + 1), self.on)
        total = np.concatenate([[0], np.cumsum(now)])
        without = self._wrong(first, end, before) - (total[end] - total[first])
        found = np.zeros(int(group.max()) + 1, dtype=np.int64)
        np.add.at(found, mine[first], without)
        return found

    def _wrong(self, low: Ints, high: Ints, on: Bools) -> Ints:
        wanted = self.wanted_s[high] - self.wanted_s[low]
        return np.where(on, self.turns[high] - self.turns[low] - wanted, wanted)

    def pairs(self) -> Ints:
        """The group of each draft: an ON and the OFF that most often follows it are one, if that is so the other way too."""
        count = len(self.drafts)
        follows = np.zeros((count, count), dtype=np.int64)
        np.add.at(follows, (self.draft[:-1], self.draft[1:]), 1)
        group = np.arange(count)
        for one, draft in enumerate(self.drafts):
            other = int(follows[one].argmax())
            if draft.on and not self.drafts[other].on and int(follows[:, other].argmax()) == one:
                group[other] = one
        return group


def _channel(trial: Trial, number: int, drafts: Drafts) -> _Channel:
    adjust = trial.adjust_of(number)
    parts = [trial.instants(draft.at, draft.days, adjust) for draft in drafts]
    parts = [part[(part >= trial.base.start) & (part < trial.base.end)] for part in parts]
    instant = np.concatenate([np.zeros(0, dtype=np.int64), *parts])
    order = np.argsort(instant, kind="stable")
    draft = np.repeat(np.arange(len(drafts)), [part.size for part in parts])[order]
    instant = instant[order]
    turns = np.concatenate([instant, [trial.base.end]])
    return _Channel(
        drafts=drafts,
        instant=instant,
        draft=draft,
        on=np.array([d.on for d in drafts], dtype=bool)[draft],
        turns=turns,
        wanted_s=seconds_before(trial.wanted(number), turns),
    )


def pairs_of(trial: Trial, channel: int, limits: Limits) -> Drafts:
    """Each window of a channel as an ON and its OFF, one after the other, on day groups that the unit holds.

    Windows of the same times are one where a group holds the days of all. What takes more than one ON and one OFF is
    left out.
    """
    groups, masks = limits.masks(), dict[tuple[Time, Time, int], int]()
    found: list[Draft] = []
    for window in trial.plan.channels[channel].windows:
        for layout in islice(WindowLayouts(trial, window, limits, channel).layouts(), WAYS):
            drafts = layout.drafts
            if len(drafts) != 2 or not drafts[0].on:
                continue
            if isinstance(drafts[0].days, Weekdays):
                key = drafts[0].at, drafts[1].at, int(drafts[1].days != drafts[0].days)
                masks[key] = masks.get(key, 0) | drafts[0].days.mask
            else:
                found += drafts
            break
    for (on, off, shift), mask in masks.items():
        # The OFF of a pair that ends on the next date has days of its own, which the unit must hold as well.
        both = frozenset(group for group in groups if Weekdays(group).shifted(shift).mask in groups)
        for group in cover(mask, both) or ():
            ends = Weekdays(group).shifted(shift)
            found += [Draft(on=True, at=on, days=Weekdays(group)), Draft(on=False, at=off, days=ends)]
    return tuple(found)


def thinned(trial: Trial, channels: list[Drafts], room: int, *, in_pairs: bool = False) -> list[Drafts]:
    """The drafts of each channel, at most ``room`` of them that differ; as they are where they are few enough.

    ``in_pairs``: they stand in pairs (:func:`pairs_of`), and are dropped in pairs.
    """
    found = list(channels)
    while (over := len({draft for drafts in found for draft in drafts}) - room) > 0:
        ranked: list[tuple[float, int, tuple[int, ...]]] = []
        for number, drafts in enumerate(found):
            if not drafts:
                continue
            channel = _channel(trial, number, drafts)
            group = np.arange(len(drafts)) // 2 if in_pairs else channel.pairs()
            harm = channel.harm(group) if channel.instant.size else np.zeros(len(drafts), dtype=np.int64)
            for one in np.unique(group):
                mine = tuple(int(index) for index in np.nonzero(group == one)[0])
                ranked.append((float(harm[one]) / len(mine), number, mine))
        ranked.sort()
        dropped: dict[int, set[int]] = {}
        left = max(over // PART, 1)
        for _, number, mine in ranked:
            if left <= 0:
                break
            dropped.setdefault(number, set()).update(mine)
            left -= len(mine)
        for number, gone in dropped.items():
            found[number] = tuple(draft for index, draft in enumerate(found[number]) if index not in gone)
    return found
