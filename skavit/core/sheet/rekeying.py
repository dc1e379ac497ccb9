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
from skavit.core.text.wording import Words, capital, dated_text, days_text, pulses_text


def stretch_at(plan: Plan, year: Replay, instant: int) -> tuple[Stretch, ...]:
    """The keying that is in the unit at an instant, and those that follow within a year."""
    today = int(year.site_clock.digits(np.array([instant]))[0]) // DAY_S
    return stretches(plan.unit.keyings, today, today + YEAR_DAYS)


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
    return f"{entry.action.upper()} {words.time(entry.at)}, {days_text(entry.days)}{tail}"


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
    name = plan.unit.keyings[following.keying - 1].name if following.keying else ""
    say = "; ".join(told) + "." if told else "Nothing changes."
    off = kind.modes.word("off") if kind and kind.modes else ""
    if off and old and not new:
        say = f"Nothing is wanted from then on: leave it in {off}, and the entries stay."
    step = Step(kind="rekey", title=f"{title}: {name}" if name else title, say=say)
    return [keyed(step, title, told)]
