"""The fewest changes, exactly: entries that do harm go, and the fewest harmless ones meet what then is not met.

Whatever does harm has to be changed or removed, and no other removal helps; so a repair takes as many changes as there
are harmful entries, or entries that are needed anew, whichever are more.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from skavit.core.fitting import Covering, Draft, Keyed, Option, Trial, solve
from skavit.core.ground.arrays import Bools
from skavit.core.memory import holds_all
from skavit.core.plan.days import Days, Weekdays
from skavit.core.plan.entry import Entry
from skavit.core.plan.limits import Limits
from skavit.core.repair.edits import Edit, Entries, edited, paired_up, unlike_slip, unlike_slips, without_id
from skavit.core.repair.harm import Harm, Turn, harm
from skavit.core.simulation.replay import Replay

Met = dict[Turn, Bools]
MOST_ANEW = 24  # entries needed anew; beyond, all would be keyed anew anyway
ANYWHERE = (0, None)  # the bucket of a memory without counts: what it holds is tested of the whole


@dataclass(frozen=True, slots=True)
class _Needed:
    """A new entry: what may stand there, on which channels (from 0), and what it alone has to meet."""

    keyed: Keyed
    needs: Met

    @property
    def draft(self) -> Draft:
        """What it does."""
        return self.keyed.drafts[0]


class Exact:
    """Looks for the fewest changes of the entries that a replay ran, under a right clock and nobody's hand."""

    def __init__(self, run: Replay, trial: Trial, limits: Limits, slack_s: int, more: Entries = ()) -> None:
        """``more``: entries that may be what is needed, beside those that the windows and the unit's own entries name."""
        self.run, self.trial, self.limits, self.slack_s = run, trial, limits, slack_s
        self.entries: Entries = run.plan.unit.entries
        own = [_draft(entry) for entry in (*self.entries, *more) if entry.repeat is None]
        self.covering = Covering(trial, limits, slack_s, own)
        self.turns = {turn: side.at for turn, side in self.covering.sides.items()}

    @cached_property
    def found(self) -> Harm:
        """What is at fault."""
        return harm(self.run, self.turns, self.slack_s)

    def edits(self) -> tuple[Edit, ...] | None:
        """The changes; None where no entries of the unit do just what is wanted, or none were found."""
        if self.found.none:
            return ()
        needed = self._needed()
        if needed is None:
            return None
        ways = [self._edits(needed, extend=extend) for extend in (True, False)]
        held = [way for way in ways if holds_all(edited(self.entries, way), self.limits)]
        if held:
            return held[0]
        return None if holds_all(self.entries, self.limits) else ways[0]

    # ------------------------------------------------------------------------------------------------- the new entries

    def _needed(self) -> list[_Needed] | None:
        """The fewest entries that meet what nothing harmless does."""
        unmet = self.found.unmet
        if not any(rows.any() for rows in unmet.values()):
            return []
        options = list(self._options())
        met = [self._meets(keyed) for keyed in options]
        patterns, count = [0] * len(options), 0
        for turn, rows in unmet.items():
            if not rows.any():
                continue
            table = np.array([own[turn][rows] if turn in own else np.zeros(int(rows.sum()), bool) for own in met])
            if not table.size or not table.any(axis=0).all():
                return None
            columns = np.unique(table, axis=1)
            for index in range(len(options)):
                for bit in np.nonzero(columns[index])[0]:
                    patterns[index] |= 1 << (count + int(bit))
            count += columns.shape[1]
        chosen = solve([Option(bits=bits, buckets=(ANYWHERE,)) for bits in patterns], (1 << count) - 1, {}, MOST_ANEW)
        return None if chosen is None else self._shared_out([(options[i], met[i]) for i in chosen])

    def _options(self) -> Iterator[Keyed]:
        for keyed in self.covering.candidates:
            parts = [(c,) for c in keyed.channels] if self.limits.one_channel else [keyed.channels]
            yield from (Keyed(drafts=keyed.drafts, channels=channels) for channels in parts)

    def _meets(self, keyed: Keyed) -> Met:
        found: Met = {}
        for channel in keyed.channels:
            for turn, met in self.covering.met(channel, keyed.drafts[0]).items():
                found[turn] = found[turn] | met if turn in found else met
        return found

    def _shared_out(self, chosen: list[tuple[Keyed, Met]]) -> list[_Needed]:
        """What each has to meet: what is unmet, and no other does."""
        left = {turn: rows.copy() for turn, rows in self.found.unmet.items()}
        found = []
        for number, (keyed, met) in enumerate(chosen):
            needs = {}
            for turn, own in met.items():
                others = np.zeros(own.shape, dtype=bool)
                for _, later in chosen[number + 1 :]:
                    others |= later.get(turn, False)
                needs[turn] = own & left[turn] & ~others
                left[turn] &= ~needs[turn]
            found.append(_Needed(keyed, needs))
        return found

    # ------------------------------------------------------------------------------------------------- the changes

    def _edits(self, needed: list[_Needed], *, extend: bool) -> tuple[Edit, ...]:
        """The new entries in the slots of the harmful ones, in slots that are widened or change nothing, or added."""
        bad = sorted(self.found.slots)
        free = [self._elsewhere(one, set(), extend=extend) for one in needed]
        in_place = [{slot: self._instead_of(self.entries[slot], one) for slot in bad} for one in needed]
        costs = [{slot: unlike_slip(self.entries[slot], new) for slot, new in own.items()} for own in in_place]
        places = paired_up(bad, costs, [self._unlike(edit) for edit in free])
        edits = [Edit(slot=slot, new=in_place[number][slot]) for number, slot in places.items()]
        edits += [Edit(slot=slot) for slot in bad if slot not in places.values()]
        for number in sorted(set(range(len(needed))) - set(places), key=lambda n: self._unlike(free[n])):
            taken = {edit.slot for edit in edits if edit.slot is not None}
            edits.append(self._elsewhere(needed[number], taken, extend=extend))
        return tuple(edits)

    def _unlike(self, edit: Edit) -> float:
        return unlike_slips(self.entries, (edit,))

    def _elsewhere(self, one: _Needed, taken: set[int], *, extend: bool) -> Edit:
        """A new entry that takes no harmful one's slot: one widened, one that changes nothing, or an entry more."""
        added = len(edited(self.entries, [Edit(slot=slot) for slot in self.found.slots | taken])) + len(taken)
        full = self.limits.entries is not None and added >= self.limits.entries
        ways = [] if full else [Edit(new=self._instead_of(None, one))]
        ways += self._widened(one, taken) if extend else []
        ways += [Edit(slot=slot, new=self._instead_of(self.entries[slot], one)) for slot in self._idle(taken)]
        return min(ways, key=self._unlike, default=Edit(new=self._instead_of(None, one)))

    def _idle(self, taken: set[int]) -> Iterator[int]:
        """The slots that nothing would miss."""
        for slot in range(len(self.entries)):
            out = {*self.found.slots, *taken, slot}
            if slot not in taken | self.found.slots and self._same(harm(self.run, self.turns, self.slack_s, out)):
                yield slot

    def _same(self, other: Harm) -> bool:
        return not other.slots and all((rows == self.found.unmet[turn]).all() for turn, rows in other.unmet.items())

    def _instead_of(self, old: Entry | None, one: _Needed) -> Entry:
        """The new entry as near to what stood in a slot as it can be."""
        channels = self._channels(old, one)
        days = self._days(old, one, channels)
        new = Entry(
            channels=tuple(c + 1 for c in channels),
            on=one.draft.on,
            at=one.draft.at,
            days=days,
            pulse_s=one.draft.pulse_s,
        )
        if old is None:
            return new
        # A time of its own that does as well is kept.
        kept = replace(new, id=old.id, at=old.at)
        if self._serves(kept, one.needs):
            return kept
        return replace(new, id=old.id)

    def _channels(self, old: Entry | None, one: _Needed) -> tuple[int, ...]:
        needs = {turn[0] for turn, rows in one.needs.items() if rows.any()}
        if old is not None:
            own = tuple(number - 1 for number in old.channels)
            if needs <= set(own) and set(own) <= set(one.keyed.channels):
                return own
        if self.trial.plan.unit.channel_mode == "together":
            return one.keyed.channels
        return tuple(c for c in one.keyed.channels if c in needs)

    def _days(self, old: Entry | None, one: _Needed, channels: tuple[int, ...]) -> Days:
        """The days that stood there, or else just those that are needed, or else the widest that do no harm."""
        tried: list[Days] = [old.days] if old is not None else []
        if isinstance(one.draft.days, Weekdays):
            used = self._used(one, channels)
            masks = {used} | {mask for mask in self.limits.masks() if mask & used == used}
            own = old.days.mask if old is not None and isinstance(old.days, Weekdays) else used
            near = sorted(masks, key=lambda mask: (mask != used, (mask ^ own).bit_count(), mask.bit_count(), mask))
            tried += [Weekdays(mask) for mask in near if mask & ~one.draft.days.mask == 0]
        for days in tried:
            entry = one.draft.entry(tuple(c + 1 for c in channels))
            if self.limits.holds_days(days) and self._serves(replace(entry, days=days), one.needs):
                return days
        return one.draft.days

    def _used(self, one: _Needed, channels: tuple[int, ...]) -> int:
        """The weekdays on which it meets something needed."""
        found = 0
        for bit in range(7):
            draft = replace(one.draft, days=Weekdays(1 << bit))
            for channel in channels:
                for turn, met in self.covering.met(channel, draft).items():
                    if (met & one.needs.get(turn, False)).any():
                        found |= 1 << bit
        return found

    def _serves(self, entry: Entry, needs: Met) -> bool:
        """Whether an entry does no harm and meets all that is needed."""
        if entry.repeat is not None:
            return False
        draft = _draft(entry)
        channels = [number - 1 for number in entry.channels]
        if any(not self.covering.harmless(channel, draft).all() for channel in channels):
            return False
        met = self._meets(Keyed(drafts=(draft,), channels=tuple(channels)))
        return all(not rows.any() or (turn in met and not (rows & ~met[turn]).any()) for turn, rows in needs.items())

    def _widened(self, one: _Needed, taken: set[int]) -> list[Edit]:
        """Entries that are right so far, on more days or channels, or not disabled any more: they then meet this too."""
        new, found = without_id(self._instead_of(None, one)), []
        for slot, old in enumerate(self.entries):
            if slot in taken or slot in self.found.slots or old.on != new.on or old.pulse_s != new.pulse_s:
                continue
            fits = (w for w in self._wider(old, new) if self.limits.holds_days(w.days) and self._serves(w, one.needs))
            wide = next(fits, old)
            found += [Edit(slot=slot, new=wide)] if wide != old else []
        return found

    def _wider(self, old: Entry, new: Entry) -> Iterator[Entry]:
        yield replace(old, disabled=False)
        channels = tuple(sorted({*old.channels, *new.channels}))
        rules: list[Days] = []
        if isinstance(old.days, Weekdays) and isinstance(new.days, Weekdays):
            both = old.days.mask | new.days.mask
            masks = sorted((m for m in self.limits.masks() if m & both == both), key=lambda m: (m.bit_count(), m))
            rules = [Weekdays(mask) for mask in masks]
        for days in (*rules[:8], old.days, new.days):
            yield replace(old, days=days, disabled=False)
            if not self.limits.one_channel:
                yield replace(old, days=days, channels=channels, disabled=False)


def _draft(entry: Entry) -> Draft:
    return Draft(on=entry.on, at=entry.at, days=entry.days, pulse_s=entry.pulse_s)
