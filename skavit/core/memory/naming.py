"""What a person calls the place of an entry: slot 3; or pair 2 and its OFF, where a slot holds both."""

from collections import Counter

from skavit.core.memory.banks import place
from skavit.core.memory.pairing import paired
from skavit.core.plan.entry import Entry
from skavit.core.plan.limits import Limits

_BANK_WORD = {"single": "slot", "pair": "pair", "on": "ON slot", "off": "OFF slot"}


def slots_in_pairs(entries: tuple[Entry, ...]) -> tuple[tuple[int, ...], ...]:
    """Entries (from 0) by the slots of a memory of pairs, as they are keyed: what finds no partner is alone."""
    found = paired(entries)
    return tuple(sorted([*found.pairs, *((index,) for index in found.alone)]))


def slot_names(entries: tuple[Entry, ...], limits: Limits) -> tuple[str, ...]:
    """The name of each entry's place; empty where each is a slot that counts as the entry does."""
    banks = limits.slots
    if banks is None or all(bank.shape == "single" for bank in banks):
        return ()
    names = [f"slot {number}" for number in range(1, len(entries) + 1)]
    if limits.only_pairs:
        for number, held in enumerate(slots_in_pairs(entries), start=1):
            _name(names, held, f"pair {number}", entries)
        return tuple(names)
    used: Counter[str] = Counter()
    for slot in place(entries, limits).slots:
        word = _BANK_WORD[banks[slot.bank].shape]
        used[word] += 1
        _name(names, slot.entries, f"{word} {used[word]}", entries)
    return tuple(names)


def _name(names: list[str], held: tuple[int, ...], name: str, entries: tuple[Entry, ...]) -> None:
    for index in held:
        half = f", its {'ON' if entries[index].on else 'OFF'}" if len(held) > 1 else ""
        names[index] = name + half
