"""One change of what a unit holds: an entry changed, removed or added; and how much it looks like a slip of the hand."""

from collections.abc import Iterable
from dataclasses import dataclass, fields, replace
from itertools import permutations
from typing import Literal

from skavit.core.ground.arrays import DAY_S, HALF_DAY_S, HOUR_S
from skavit.core.plan.days import Weekdays
from skavit.core.plan.entry import Entry
from skavit.core.plan.times import ClockTime, LimitedTime, SunTime, Time, sun_time_of
from skavit.core.text.wording import Words, capital, count, days_text

Does = Literal["change", "remove", "add"]
Entries = tuple[Entry, ...]

# How unlike a slip of the hand a field's change is; common practice, no source.
SLIP, NEARLY, OTHERWISE = 1.0, 1.5, 3.0
ADDED = 2.0
MOST_ORDERS = 6  # beyond so many the changes are put together one by one


@dataclass(frozen=True, slots=True, kw_only=True)
class Edit:
    """One change: of the entry in a slot (from 0), or an entry more."""

    slot: int | None = None  # None: one more
    new: Entry | None = None  # None: removed

    @property
    def does(self) -> Does:
        """The word of the command line."""
        if self.slot is None:
            return "add"
        return "remove" if self.new is None else "change"


def edited(entries: Entries, edits: Iterable[Edit]) -> Entries:
    """The entries after some edits: the others keep their order, and what is added comes last."""
    edits = list(edits)
    by_slot = {edit.slot: edit.new for edit in edits if edit.slot is not None}
    kept = (by_slot.get(slot, entry) for slot, entry in enumerate(entries))
    added = tuple(edit.new for edit in edits if edit.slot is None and edit.new is not None)
    return (*(entry for entry in kept if entry is not None), *added)


def changed_fields(old: Entry, new: Entry) -> tuple[str, ...]:
    """The fields of an entry that differ; an entry's id is none."""
    return tuple(f.name for f in fields(Entry) if f.name != "id" and getattr(old, f.name) != getattr(new, f.name))


def unlike_slips(entries: Entries, edits: Iterable[Edit]) -> float:
    """How much some changes are more than what slips look like."""
    return sum(
        ADDED if edit.slot is None or edit.new is None else unlike_slip(entries[edit.slot], edit.new) for edit in edits
    )


def unlike_slip(old: Entry, new: Entry) -> float:
    """How much a change is more than what slips look like: the smaller, the likelier."""
    return sum(_unlike(field, old, new) for field in changed_fields(old, new))


def _unlike(field: str, old: Entry, new: Entry) -> float:
    match field:
        case "at":
            return time_unlike_slip(old.at, new.at)
        case "days":
            both = isinstance(old.days, Weekdays) and isinstance(new.days, Weekdays)
            if both and (old.days.mask & new.days.mask) in (old.days.mask, new.days.mask):  # type: ignore[union-attr]
                return SLIP
            return NEARLY
        case "on" | "disabled":
            return SLIP
        case "channels":
            return NEARLY
    return OTHERWISE


def time_unlike_slip(old: Time, new: Time) -> float:
    """The same for a time: 12 hours, an hour or two, digits turned round, sunrise for sunset, an offset's sign."""
    if isinstance(old, ClockTime) and isinstance(new, ClockTime):
        apart = abs(old.seconds - new.seconds)
        if min(apart, DAY_S - apart) in (HOUR_S, 2 * HOUR_S, HALF_DAY_S):
            return SLIP
        return NEARLY if new in turned(old) else OTHERWISE
    if isinstance(old, SunTime) and isinstance(new, SunTime):
        swapped = old.event.swapped == new.event and old.offset_min == new.offset_min
        sign = old.event == new.event and old.offset_min == -new.offset_min
        if swapped or sign:
            return SLIP
        return NEARLY if old.event == new.event else OTHERWISE
    # The same sun time held by a clock time, or no longer held.
    return NEARLY if sun_time_of(old) == sun_time_of(new) else OTHERWISE


def slip_text(old: Time, new: Time) -> str:
    """Which slip of the hand a changed time looks like, as a sentence; empty where it looks like none."""
    if isinstance(old, ClockTime) and isinstance(new, ClockTime):
        apart = abs(old.seconds - new.seconds)
        if min(apart, DAY_S - apart) in (HOUR_S, 2 * HOUR_S):
            return f"It was probably keyed {count(min(apart, DAY_S - apart) // HOUR_S, 'hour')} off."
        return "Two of its digits were probably keyed in each other's place." if new in turned(old) else ""
    if isinstance(old, SunTime) and isinstance(new, SunTime) and old.offset_min == -new.offset_min != 0:
        return "The sign of its offset was probably keyed wrong."
    return ""


def turned(at: ClockTime) -> tuple[ClockTime, ...]:
    """A clock time with two neighbours of its four digits in each other's place, where that is a time."""
    digits = f"{at.seconds // HOUR_S:02d}{at.seconds // 60 % 60:02d}"
    found = []
    for place in range(3):
        swapped = digits[:place] + digits[place + 1] + digits[place] + digits[place + 2 :]
        hours, minutes = int(swapped[:2]), int(swapped[2:])
        if swapped != digits and hours < 24 and minutes < 60:
            found.append(ClockTime(hours * HOUR_S + minutes * 60 + at.seconds % 60))
    return tuple(found)


def edit_text(edit: Edit, entries: Entries, words: Words) -> str:
    """What is done, as a button says it: in the slot of the entries as they were."""
    if edit.slot is None:
        assert edit.new is not None
        return f"Add {_entry_text(edit.new, words)}"
    if edit.new is None:
        return f"Clear {words.slot(edit.slot + 1)}"
    slot = capital(words.slot(edit.slot + 1))
    return f"{slot}{_change_text(entries[edit.slot], edit.new, words)}"


def _change_text(old: Entry, new: Entry, words: Words) -> str:
    match changed_fields(old, new):
        case ("at",):
            return _bound_text(old.at, new.at, words) or f" at {words.time(new.at)}"
        case ("days",):
            return f": {days_text(new.days)}"
        case ("on",):
            return f": {new.action.upper()} in place of {old.action.upper()}"
        case ("disabled",):
            return ": not disabled any more"
        case ("channels",):
            return f": on {_channels_text(new)}"
        case names:
            told = _entry_text(new, words)
            return f": {told}{f', on {_channels_text(new)}' if 'channels' in names else ''}"


def _bound_text(old: Time, new: Time, words: Words) -> str:
    """The same sun time held by one clock time; empty where it is another change."""
    if not isinstance(new, LimitedTime) or new.at != old:
        return ""
    match new.not_before, new.not_after:
        case ClockTime() as bound, None:
            return f": not before {words.time(bound)}"
        case None, ClockTime() as bound:
            return f": not after {words.time(bound)}"
    return ""


def _entry_text(entry: Entry, words: Words) -> str:
    length = f" for {count(entry.pulse_s, 'second')}" if entry.pulse_s is not None else ""
    pulses = f", {entry.repeat.on_s} s on and {entry.repeat.off_s} s off" if entry.repeat else ""
    return f"{entry.action.upper()} {words.time(entry.at)}{length}{pulses}, {days_text(entry.days)}"


def _channels_text(entry: Entry) -> str:
    return f"channel{'s' * (len(entry.channels) > 1)} {listing(entry.channels)}"


def listing(numbers: Iterable[int]) -> str:
    """Numbers in words: 1, 2 and 3."""
    *first, last = (str(number) for number in sorted(numbers))
    return f"{', '.join(first)} and {last}" if first else last


def paired_up(bad: list[int], costs: list[dict[int, float]], else_costs: list[float]) -> dict[int, int]:
    """Which new entry (by its number) takes the slot of which bad one, as many as can, at the least cost in all.

    ``costs`` has for each new entry what it would cost in each bad slot, ``else_costs`` what it costs in none of them.
    """
    most = min(len(bad), len(costs))
    if max(len(bad), len(costs)) > MOST_ORDERS:
        return _one_by_one(bad, costs, most)
    ways: Iterable[dict[int, int]]
    if len(costs) <= len(bad):
        ways = (dict(enumerate(slots)) for slots in permutations(bad, most))
    else:
        ways = (dict(zip(numbers, bad, strict=True)) for numbers in permutations(range(len(costs)), most))

    def cost(way: dict[int, int]) -> float:
        return sum(costs[n][way[n]] if n in way else else_costs[n] for n in range(len(costs)))

    return min(ways, key=cost, default={})


def _one_by_one(bad: list[int], costs: list[dict[int, float]], most: int) -> dict[int, int]:
    found: dict[int, int] = {}
    every = sorted((cost[slot], number, slot) for number, cost in enumerate(costs) for slot in bad)
    for _, number, slot in every:
        if len(found) < most and number not in found and slot not in found.values():
            found[number] = slot
    return found


def without_id(entry: Entry) -> Entry:
    """An entry that is told apart by what it does."""
    return replace(entry, id=None)
