"""The best changes that a search finds where no entries of the unit do just what is wanted: slips tried by replay."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace

from skavit.core.fitting import cover
from skavit.core.ground.arrays import HALF_DAY_S, HOUR_S
from skavit.core.ground.budget import Budget
from skavit.core.memory import holds_all
from skavit.core.plan.days import DAILY, Days, Weekdays
from skavit.core.plan.entry import Entry
from skavit.core.plan.limits import Limits
from skavit.core.plan.times import ClockTime, LimitedTime, SunTime, Time, day_of
from skavit.core.repair.edits import Edit, Entries, edited, turned, unlike_slips
from skavit.core.simulation.events import channels_of
from skavit.core.simulation.replay import Replay, replay

MOST_EDITS, WIDTH = 3, 8
# A change has to take away so much: an hour a year, and this part of what was wrong.
LEAST_S, LEAST_PART = 3600, 0.1
# What a trial by replay takes, in steps of some 0.4 microseconds: for each channel, for each entry.
STEPS_A_CHANNEL, STEPS_AN_ENTRY, STEPS_AN_EVENT = 2_000, 200, 1


@dataclass(frozen=True, slots=True)
class _Tried:
    """Some changes: what they leave, and how unlike slips they are."""

    edits: tuple[Edit, ...]
    entries: Entries
    wrong: tuple[int, ...]  # seconds, by channel
    unlike: float

    @property
    def wrong_s(self) -> int:
        """Seconds wrong of all channels."""
        return sum(self.wrong)


class Nearest:
    """Tries changes one upon the other, by replay, and goes on from the best of each round."""

    def __init__(self, run: Replay, fitted: Entries, budget: Budget) -> None:
        self.run, self.plan, self.fitted, self.budget = run, run.plan, fitted, budget
        self.limits: Limits = run.plan.unit.limits
        self.first, self.last = day_of(run.first), day_of(run.last)
        self.holds = holds_all(run.plan.unit.entries, self.limits)
        self.years = max(1.0, (run.last - run.first + 1) / 365.25)

    def edits(self) -> tuple[Edit, ...]:
        """The changes, each of which takes away a good part of what is wrong; none where no change does."""
        start = _Tried((), self.plan.unit.entries, tuple(c.wrong_s for c in self.run.channels), 0.0)
        best, round_ = start, [start]
        for _ in range(MOST_EDITS):
            found = [tried for before in round_ for tried in self._changed(before) if self._helps(before, tried)]
            round_ = sorted(found, key=lambda t: (t.wrong_s, t.unlike))[:WIDTH]
            near = [t for t in round_ if t.wrong_s <= round_[0].wrong_s + LEAST_S * self.years]
            near = [t for t in near if holds_all(t.entries, self.limits)] or near
            if not near or not self._helps(best, nearest := min(near, key=lambda t: (t.unlike, t.wrong_s))):
                break
            best = nearest
            if best.wrong_s <= LEAST_S * self.years or self.budget.ended:
                break
        return best.edits

    def _helps(self, before: _Tried, tried: _Tried) -> bool:
        gain = before.wrong_s - tried.wrong_s
        return gain > max(LEAST_S * self.years, LEAST_PART * before.wrong_s)

    def _changed(self, before: _Tried) -> Iterator[_Tried]:
        done = {edit.slot for edit in before.edits}
        for edit in self._candidates(done):
            edits = (*before.edits, edit)
            entries = edited(self.plan.unit.entries, edits)
            if self.holds and not holds_all(entries, self.limits):
                continue
            wrong = self._wrong(before, edit, entries)
            if wrong is None:
                return
            yield _Tried(edits, entries, wrong, unlike_slips(self.plan.unit.entries, edits))

    def _wrong(self, before: _Tried, edit: Edit, entries: Entries) -> tuple[int, ...] | None:
        """Seconds wrong of each channel; None where the budget is spent."""
        changed = [self.plan.unit.entries[edit.slot]] if edit.slot is not None else []
        changed += [edit.new] if edit.new is not None else []
        touched = sorted({number for entry in changed for number in channels_of(self.plan, entry)})
        work = sum(len(self.run.events) // len(self.run.channels) + STEPS_A_CHANNEL for _ in touched)
        if not self.budget.take(work * STEPS_AN_EVENT + STEPS_A_CHANNEL + len(entries) * STEPS_AN_ENTRY):
            return None
        part = self.plan.with_entries(entries).of_channels(touched)
        known = [self.run.channels[number - 1].wanted_with_run_up for number in touched]
        ran = replay(part, self.first, self.last, known).channels
        wrong = list(before.wrong)
        for number, channel in zip(touched, ran, strict=True):
            wrong[number - 1] = channel.wrong_s
        return tuple(wrong)

    # ------------------------------------------------------------------------------------------------- what is tried

    def _candidates(self, done: set[int | None]) -> Iterator[Edit]:
        entries = self.plan.unit.entries
        open_slots = [slot for slot in range(len(entries)) if slot not in done]
        for slot in open_slots:
            yield Edit(slot=slot)
        for slot in open_slots:
            for new in dict.fromkeys(self._variants(entries[slot])):
                if new != entries[slot] and self.limits.holds_days(new.days):
                    yield Edit(slot=slot, new=new)
        if self.limits.entries is None or len(entries) < self.limits.entries:
            for entry in self.fitted:
                if entry not in entries:
                    yield Edit(new=replace(entry, id=None))

    def _variants(self, old: Entry) -> Iterator[Entry]:
        yield replace(old, on=not old.on) if not old.ends_itself else old
        if old.disabled:
            yield replace(old, disabled=False)
        for days in self._days(old):
            yield replace(old, days=days)
        for at in self._times(old):
            yield replace(old, at=at)
        for entry in self.fitted:
            yield replace(entry, id=old.id)
        if not self.limits.one_channel:
            yield replace(old, channels=tuple(range(1, len(self.plan.channels) + 1)))
        yield from (replace(old, channels=(number,)) for number in range(1, len(self.plan.channels) + 1))

    def _days(self, old: Entry) -> Iterable[Days]:
        named: dict[Days, None] = {DAILY: None}
        named |= dict.fromkeys(e.days for e in (*self.plan.unit.entries, *self.fitted))
        for channel in self.plan.channels:
            named |= dict.fromkeys(window.days for window in channel.windows)
        for days in list(named):
            if isinstance(days, Weekdays):
                named[days.shifted(1)] = None
        if isinstance(old.days, Weekdays):
            named |= dict.fromkeys(Weekdays(old.days.mask | 1 << bit) for bit in range(7))
            named |= dict.fromkeys(Weekdays(m) for bit in range(7) if (m := old.days.mask & ~(1 << bit)))
        return [days for days in named if not isinstance(days, Weekdays) or cover(days.mask, self.limits.masks())]

    def _times(self, old: Entry) -> Iterator[Time]:
        at = old.at
        if isinstance(at, ClockTime):
            for by in (HALF_DAY_S, HOUR_S, -HOUR_S, 2 * HOUR_S, -2 * HOUR_S):
                yield at.later(by)
            yield from turned(at)
        if isinstance(at, SunTime):
            yield replace(at, event=at.event.swapped)
            yield replace(at, offset_min=-at.offset_min)
        if self.limits.limited_times and isinstance(at, ClockTime | SunTime):
            yield from self._limited(at)
        for entry in self.fitted:
            if entry.on == old.on:
                yield entry.at

    def _limited(self, at: ClockTime | SunTime) -> Iterator[Time]:
        """A sun time not before, or not after, a clock time of the plan."""
        if not isinstance(at, SunTime):
            return
        bounds = {e.at for e in (*self.plan.unit.entries, *self.fitted) if isinstance(e.at, ClockTime)}
        for bound in sorted(bounds, key=lambda time: time.seconds):
            yield LimitedTime(at=at, not_before=bound)
            yield LimitedTime(at=at, not_after=bound)
