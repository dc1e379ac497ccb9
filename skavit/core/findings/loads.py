"""What hangs on the contacts: `over-load`, `over-contact`, `volts-low`, `volts-high`, `wrong-contact`, `store-short`, and a PIN from the factory."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from skavit.core.findings.acts import MendRun, PinSet, WireOtherwise
from skavit.core.findings.case import Case, ChannelCase, Rule
from skavit.core.findings.facts import NUMBER, RUNS, SAID, WHOLE, Facts, Runs, runs_of, runs_text
from skavit.core.findings.finding import Finding, Severity
from skavit.core.findings.remedy import Remedy, WithLoad, WithPin
from skavit.core.ground.errors import UserError
from skavit.core.ground.records import member
from skavit.core.load import LOGIC, USUAL_SHARE, demand, hot_water, load_remedies, volts
from skavit.core.plan.load import Load
from skavit.core.text.wording import Words, count


@dataclass(frozen=True, slots=True, kw_only=True)
class TooMuch(Facts):
    """More than a transformer is good for."""

    name: str = member(SAID)
    va: float = member(NUMBER)
    rating_va: float = member(NUMBER)

    def headline(self, words: Words) -> str:
        """How much of how much."""
        return (
            f"{self.name}: {self.va:.0f} of {self.rating_va:.0f} VA, {self.va / self.rating_va:.0%} of the transformer"
        )

    def why(self, words: Words) -> str:
        """What that does."""
        if self.va > self.rating_va:
            return "It runs hot and trips, soonest on a warm evening."
        return "More than four fifths of its rating: usual practice leaves a fifth, for lamps to come and warm days."


@dataclass(frozen=True, slots=True, kw_only=True)
class OverRated(Facts):
    """More than a contact carries."""

    name: str = member(SAID)
    amperes: float = member(NUMBER)
    carries_a: float = member(NUMBER)
    character: str = member(SAID)
    rated: bool = True  # the kind has a figure for such loads

    def headline(self, words: Words) -> str:
        """How much of how much."""
        word = {"resistive": "heaters and lamps of wire", "inductive": "coils and motors", "led": "LED drivers"}[
            self.character
        ]
        return f"{self.name}: {self.amperes:.1f} A on a contact that carries {self.carries_a:.1f} A of {word}"

    def why(self, words: Words) -> str:
        """What that does."""
        by = "" if self.rated else " The figure is reckoned from its rating for heaters: common practice, no source."
        return f"Contacts weld on the inrush and then stay on: put a contactor between.{by}"


@dataclass(frozen=True, slots=True, kw_only=True)
class LampsOff(Facts):
    """Lamps out of their band."""

    name: str = member(SAID)
    low: bool = True
    lamps: int = member(WHOLE)
    worst: int = member(WHOLE)  # its number
    volts: float = member(NUMBER)
    bound_v: float = member(NUMBER)
    breaks: bool = False

    def headline(self, words: Words) -> str:
        """Which, and how far."""
        if self.breaks:
            return f"{self.name}: the cable cannot carry these lamps at all"
        side = "at least" if self.low else "at most"
        return (
            f"{self.name}: {count(self.lamps, 'lamp')} out of band, worst lamp {self.worst} with {self.volts:.1f} V; "
            f"{side} {self.bound_v:g} V is wanted"
        )

    def why(self, words: Words) -> str:
        """What that does."""
        if not self.low:
            return "Lamps too near to a high tap burn out early."
        return "The cable takes too much on the way: lamps at its end are dim."


@dataclass(frozen=True, slots=True, kw_only=True)
class WrongWay(Facts):
    """A load on the contact on which it does the opposite."""

    name: str = member(SAID)
    sort: str = member(SAID)
    escape: bool = False

    def headline(self, words: Words) -> str:
        """What it does."""
        logic = LOGIC[self.sort]
        return f"{self.name}: on the wrong contact, with the relay on {logic.off}"

    def why(self, words: Words) -> str:
        """Which it needs."""
        logic = LOGIC[self.sort]
        text = f"{logic.name}: it belongs on the normally {logic.contact} contact."
        return f"{text} This door is on an escape route." if self.escape else text


@dataclass(frozen=True, slots=True, kw_only=True)
class Lukewarm(Facts):
    """A store that does not give what is drawn."""

    name: str = member(SAID)
    litres: float = member(NUMBER)
    at_s: int = member(WHOLE)
    dates: Runs = member(RUNS)

    def headline(self, words: Words) -> str:
        """How much, and when."""
        return f"{self.name}: up to {words.volume(self.litres)} of hot water lack at {words.clock(self.at_s)}, {runs_text(self.dates)}"

    def why(self, words: Words) -> str:
        """Why."""
        return "The hours in which it heats do not make up for what is drawn. A store that stays lukewarm breeds bacteria: local rules."


@dataclass(frozen=True, slots=True, kw_only=True)
class FactoryPin(Facts):
    """The PIN that everybody knows."""

    def headline(self, words: Words) -> str:
        """The PIN is still the factory's."""
        return "The PIN is still the one from the factory"

    def why(self, words: Words) -> str:
        """What that does."""
        return "It stands in the manual: whoever has it opens the keys."


class _LoadRule(Rule):
    """Shared by the rules on loads: one look at each channel that has one."""

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding a channel."""
        for channel in case.channels:
            load = case.plan.channels[channel.index].load
            if load is not None:
                yield from self.of(case, channel, load)

    def of(self, case: Case, channel: ChannelCase, load: Load) -> Iterator[Finding]:
        """The findings of one channel's load."""
        raise NotImplementedError

    def report(
        self, case: Case, channel: ChannelCase, facts: Facts, severity: Severity, remedy: Remedy | None = None
    ) -> Finding:
        """A finding on the dates on which the channel is on; on the first date where it never is."""
        on = case.dates_of(case.replay.channels[channel.index].actual)
        dates = on if on.size else np.array([case.replay.first])
        return case.make(self.slug, channel, facts, dates=dates, severity=severity, remedy=remedy)


class OverLoad(_LoadRule):
    """More on a transformer than it is good for."""

    slug = "over-load"
    description = "more on a transformer than its rating, or than four fifths of it"
    facts = (TooMuch,)

    def of(self, case: Case, channel: ChannelCase, load: Load) -> Iterator[Finding]:
        """By the volt-amperes of its lamps."""
        try:
            found = demand(load, None)
        except UserError:
            return
        if found.va is None or found.share is None or load.rating_va is None or found.share <= USUAL_SHARE:
            return
        facts = TooMuch(name=channel.replay.name, va=found.va, rating_va=load.rating_va)
        yield self.report(case, channel, facts, Severity.DANGER if found.share > 1 else Severity.WARNING)


class OverContact(_LoadRule):
    """More through a contact than it carries."""

    slug = "over-contact"
    description = "more amperes than the contact carries of such a load: heaters, coils, LED drivers"
    facts = (OverRated,)

    def of(self, case: Case, channel: ChannelCase, load: Load) -> Iterator[Finding]:
        """By the amperes of the load."""
        contact = case.plan.unit.contact
        try:
            found = demand(load, contact)
        except UserError:
            return
        if contact is None or found.amperes is None or found.carries_a is None or found.amperes <= found.carries_a:
            return
        facts = OverRated(
            name=channel.replay.name, amperes=found.amperes, carries_a=found.carries_a, character=load.character,
            rated=contact.is_told(load.character),
        )  # fmt: skip
        yield self.report(case, channel, facts, Severity.DANGER)


class _Volts(_LoadRule):
    """Shared by the two rules on volts at lamps."""

    low = True

    def of(self, case: Case, channel: ChannelCase, load: Load) -> Iterator[Finding]:
        """One for all lamps on this side of the band."""
        bound = load.low_v if self.low else load.high_v
        if load.run is None or bound is None:
            return
        name = channel.replay.name
        try:
            found = volts(load.run).lamps
        except UserError:
            if self.low:
                facts = LampsOff(name=name, lamps=len(load.run.lamps), worst=0, volts=0.0, bound_v=bound, breaks=True)
                yield self.report(case, channel, facts, Severity.WARNING, _mended(case, channel, load))
            return
        lit = np.array([lamp.va > 0 for lamp in load.run.lamps])
        wrong = lit & ((found < bound) if self.low else (found > bound))
        if not wrong.any():
            return
        worst = int(np.where(lit, found, np.nan)[wrong].argmin() if self.low else found[wrong].argmax())
        number = int(np.nonzero(wrong)[0][worst])
        facts = LampsOff(
            name=name, low=self.low, lamps=int(wrong.sum()), worst=number + 1, volts=float(found[number]), bound_v=bound
        )
        yield self.report(case, channel, facts, Severity.WARNING, _mended(case, channel, load))


def _mended(case: Case, channel: ChannelCase, load: Load) -> Remedy | None:
    """The way that takes the least copper, where one brings every lamp into its band."""
    found = load_remedies(load) if case.budgets.wants_remedies else ()
    if not found:
        return None
    best = found[0]
    act = MendRun(channel.replay.name, best.text, best.lowest_v, best.highest_v)
    return Remedy(act=act, change=WithLoad(channel.number, replace(load, run=best.run)))


class VoltsLow(_Volts):
    """Lamps with too few volts."""

    slug = "volts-low"
    description = "lamps at the end of a cable with fewer volts than their band"
    facts = (LampsOff,)
    low = True


class VoltsHigh(_Volts):
    """Lamps with too many volts."""

    slug = "volts-high"
    description = "lamps near the transformer with more volts than their band"
    facts = (LampsOff,)
    low = False


class WrongContact(_LoadRule):
    """A load on the contact on which it does the opposite."""

    slug = "wrong-contact"
    description = "a lock, a pump or another load hangs on the contact on which it does the opposite"
    facts = (WrongWay,)

    def of(self, case: Case, channel: ChannelCase, load: Load) -> Iterator[Finding]:
        """By the table of loads."""
        logic = LOGIC[load.sort]
        if load.wired is None or load.wired == logic.contact:
            return
        facts = WrongWay(name=channel.replay.name, sort=load.sort, escape=load.escape)
        mended = replace(load, wired=logic.contact)
        remedy = Remedy(act=WireOtherwise(channel.replay.name, logic.contact), change=WithLoad(channel.number, mended))
        yield self.report(case, channel, facts, Severity.DANGER, remedy)


class StoreShort(_LoadRule):
    """A store of hot water that does not give what is drawn."""

    slug = "store-short"
    description = "the hours in which a store of hot water heats do not suffice for what is drawn from it"
    facts = (Lukewarm,)

    def of(self, case: Case, channel: ChannelCase, load: Load) -> Iterator[Finding]:
        """By the balance of heat in the store."""
        if load.store is None or not load.store.draws:
            return
        run = case.replay
        found = hot_water(load.store, channel.replay.actual, run.site_clock, run.first, run.last)
        if not found.short.size:
            return
        facts = Lukewarm(
            name=channel.replay.name, litres=found.worst_litres, at_s=found.worst_at_s, dates=runs_of(found.short)
        )
        yield case.make(self.slug, channel, facts, dates=found.short, severity=Severity.WARNING)


class PinFactory(Rule):
    """The unit still has its factory PIN."""

    slug = "pin-factory"
    description = "the PIN is still the one from the factory"
    facts = (FactoryPin,)

    def find(self, case: Case) -> Iterator[Finding]:
        """One for the unit."""
        if case.plan.unit.pin == "factory":
            yield case.make(
                self.slug, None, FactoryPin(), dates=np.array([case.replay.first]), severity=Severity.NOTE,
                remedy=Remedy(act=PinSet(), change=WithPin("set")),
            )  # fmt: skip


LOAD_RULES: tuple[type[Rule], ...] = (OverLoad, OverContact, VoltsLow, VoltsHigh, WrongContact, StoreShort, PinFactory)
