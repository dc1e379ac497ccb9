"""The step for the seasons: when another set of entries is to be keyed, and what changes then."""

import numpy as np

from skavit.core.ground.arrays import DAY_S, YEAR_DAYS
from skavit.core.kinds.kind import Kind
from skavit.core.memory import slot_names
from skavit.core.plan.document import Plan
from skavit.core.plan.entry import Entry
from skavit.core.plan.limits import NO_LIMITS, Limits
from skavit.core.plan.seasonal import Stretch, stretches
from skavit.core.sheet.step import Step, keyed
from skavit.core.simulation.replay import Replay
from skavit.core.text.wording import Words, capital, dated_text, pulses_text, switching_text


def stretch_at(plan: Plan, year: Replay, instant: int) -> tuple[Stretch, ...]:
    """The keying that is in the unit at an instant, and those that follow within a year."""
    today = int(year.site_clock.digits(np.array([instant]))[0]) // DAY_S
    return stretches(plan.unit.keyings, today, today + YEAR_DAYS)


def held_set(plan: Plan, day: int, kind: Kind | None = None) -> int:
    """The set of entries (0: the unit's, n: the n-th seasonal program) that is in the memory on a day, in days since 1970.

    A season in which nothing acts leaves the entries of the one before in a unit that is left in OFF for it.
    """
    for stretch in reversed(stretches(plan.unit.keyings, day - YEAR_DAYS, day)):
        if plan.unit.sets[stretch.keying] or not _left_off(kind):
            return stretch.keying
    return 0


def next_set(plan: Plan, day: int, kind: Kind | None = None) -> Stretch | None:
    """The seasonal program that is keyed next, within a year of a day; None where there is nothing to key."""
    coming = stretches(plan.unit.keyings, day, day + YEAR_DAYS)
    if len(coming) < 2 or (_left_off(kind) and not plan.unit.sets[coming[1].keying]):
        return None
    return coming[1]


def _left_off(kind: Kind | None) -> str:
    """The word of the mode in which a unit of a kind is left for a season in which nothing acts; empty for none."""
    return kind.modes.word("off") if kind and kind.modes else ""


def changes(
    old: tuple[Entry, ...], new: tuple[Entry, ...], words: Words, limits: Limits = NO_LIMITS
) -> tuple[str, ...]:
    """Slot by slot, what is keyed anew or cleared; the slots named as the memory has them."""
    found = []
    for slot in range(max(len(old), len(new))):
        before, after = (entries[slot] if slot < len(entries) else None for entries in (old, new))
        if before != after:
            name = words.of_slots(slot_names(new if after else old, limits)).slot(slot + 1)
            found.append(f"{capital(name)}: {entry_text(after, words) if after else 'cleared'}")
    return tuple(found)


def entry_text(entry: Entry, words: Words) -> str:
    """An entry in one line."""
    tail = f", {pulses_text(entry, words)}" if entry.ends_itself else ""
    return f"{switching_text(entry.action, entry.at, entry.days, words)}{tail}"


def rekeying(plan: Plan, coming: tuple[Stretch, ...], words: Words, kind: Kind | None = None) -> list[Step]:
    """A step for the next keying; none where one set is in the unit all the time.

    A season in which nothing acts is a mode where the kind has one for it: the entries stay.
    """
    if len(coming) < 2:
        return []
    now, following = coming[:2]
    old, new = (plan.unit.sets[stretch.keying] for stretch in (now, following))
    told = changes(old, new, words, plan.unit.limits)
    title = f"Key anew on {dated_text(following.first)}"
    name = plan.unit.name_of_set(following.keying)
    say = "; ".join(told) + "." if told else "Nothing changes."
    off = _left_off(kind)
    if off and old and not new:
        say = f"Nothing is wanted from then on: leave it in {off}, and the entries stay."
    step = Step(kind="rekey", title=f"{title}: {name}" if name else title, say=say)
    return [keyed(step, title, told)]
