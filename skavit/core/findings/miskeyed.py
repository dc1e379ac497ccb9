"""What is said of an entry that a repair changes: what it does wrong, and what would match."""

from dataclasses import dataclass

from skavit.core.findings.facts import SLOT, WHOLE, Facts, PeriodFacts, SlotFact
from skavit.core.ground.records import listed, member
from skavit.core.repair import listing, slip_text
from skavit.core.text.wording import Words, capital, days_text


@dataclass(frozen=True, slots=True, kw_only=True)
class Miskeyed(PeriodFacts):
    """What an entry does wrong, and the one that would be right."""

    old: SlotFact | None = member(SLOT, default=None)
    new: SlotFact | None = member(SLOT, default=None)
    channels: tuple[int, ...] = member(listed(WHOLE), default=())  # those of the right one, where they differ

    def why(self, words: Words) -> str:
        """Which entry, and what would match."""
        match self.old, self.new:
            case SlotFact() as old, SlotFact() as new:
                told = f"{capital(old.text(words))} acts {days_text(old.days)}; {self._instead(old, new, words)} would match what is wanted."
                return f"{told} {slip_text(old.at, new.at)}".strip()
            case None, SlotFact() as new:
                return f"{new.entry_text(words)}, would match what is wanted, and no entry does that."
            case SlotFact() as old, None:
                return f"{capital(old.text(words))} acts {days_text(old.days)}, and begins or ends no window."
        return ""

    def _instead(self, old: SlotFact, new: SlotFact, words: Words) -> str:
        """What differs in the right one."""
        on = f"channel{'s' * (len(self.channels) > 1)} {listing(self.channels)}" if self.channels else ""
        same = (old.action == new.action, old.at == new.at, old.days == new.days)
        told = {
            (True, True, True): "",
            (True, False, True): words.time(new.at),
            (True, True, False): days_text(new.days),
            (False, True, True): new.action.upper(),
        }.get(same, new.entry_text(words))
        return ", on ".join(filter(None, [told, on])) if told else f"on {on} it"


@dataclass(frozen=True, slots=True, kw_only=True)
class AlsoNeeded(Facts):
    """A change that mends nothing by itself: without it another one would not do."""

    new: SlotFact = member(SLOT)
    added: bool = True

    def headline(self, words: Words) -> str:
        """What has to stand there."""
        entry = self.new.entry_text(words)
        return (
            f"{entry}, is missing too"
            if self.added
            else f"{capital(words.slot(self.new.number))} has to be {entry}, too"
        )

    def why(self, words: Words) -> str:
        """What the other change would do alone."""
        return "Without it the other changes would leave a period that nothing ends, or that nothing begins."
