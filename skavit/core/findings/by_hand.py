"""What is done by hand or by the mains: `not-in-auto` and `reserve-short`."""

from collections.abc import Iterator
from dataclasses import dataclass

from skavit.core.findings.case import Case, ChannelCase, Rule
from skavit.core.findings.facts import NUMBER, WHOLE, Facts, PeriodFacts
from skavit.core.findings.finding import Finding
from skavit.core.findings.heating import ZoneLeft
from skavit.core.ground.records import member
from skavit.core.ground.spans import Spans, intersection, unite
from skavit.core.plan.overrides import Mode
from skavit.core.simulation.output import Patch, patched
from skavit.core.text.wording import Words, duration_text


@dataclass(frozen=True, slots=True, kw_only=True)
class Held(PeriodFacts):
    """That a mode set by hand holds the output, or that nothing has acted since."""

    manual: bool = False  # the operating mode is manual
    modes: tuple[str, ...] = ()  # those that were set by hand

    def why(self, words: Words) -> str:
        """What was set."""
        if self.manual:
            return "The unit's operating mode is manual: none of its entries acts."
        if self.modes:
            return f"It was set to {' and '.join(self.modes)} by hand; its entries do not act until it is in automatic again."
        return "Back in automatic it keeps its output until its next entry acts."


@dataclass(frozen=True, slots=True, kw_only=True)
class Flashing(Facts):
    """That the clock stands still after a power cut."""

    reserve_s: float = member(NUMBER)
    for_s: int = member(WHOLE)

    def headline(self, words: Words) -> str:
        """The reserve, and how long the cut lasted."""
        reserve, stood = duration_text(self.reserve_s), duration_text(self.for_s)
        return f"The clock's reserve of {reserve} is shorter than a power cut: it stands flashing for {stood}"

    def why(self, words: Words) -> str:
        """What that does."""
        return "Nothing acts until somebody sets the clock."


class NotInAuto(Rule):
    """A unit left in a mode in which its program does not run, or in automatic without its state."""

    slug = "not-in-auto"
    description = "a mode was set in which the program does not run, or the unit waits for its next entry"
    facts = (Held, ZoneLeft)

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding a channel; those of zones are found with the rest of what is done to them."""
        unit = case.plan.unit
        for channel in case.channels:
            if unit.operating == "manual" and case.entries and len(channel.missing):
                facts = Held(period=case.dark(channel.missing), manual=True)
                yield case.make(self.slug, channel, facts, missing=channel.missing)
            patches = [p for p in channel.replay.hand.patches if isinstance(p.by, Mode)]
            left = patched(patches)
            extra, missing = intersection(channel.extra, left), intersection(channel.missing, left)
            if len(extra) or len(missing):
                yield self._finding(case, channel, patches, extra, missing)

    def _finding(self, case: Case, channel: ChannelCase, patches: list[Patch], extra: Spans, missing: Spans) -> Finding:
        modes = {p.by.word for p in patches if isinstance(p.by, Mode) and p.by_hand}
        period = case.burning(channel, extra) if len(extra) else case.dark(missing)
        facts = Held(period=period, modes=tuple(sorted(modes)))
        return case.make(self.slug, channel, facts, extra=extra, missing=missing)


class ReserveShort(Rule):
    """The clock's reserve is shorter than a power cut."""

    slug = "reserve-short"
    description = "a power cut longer than the clock's reserve: nothing acts until somebody sets the clock"
    facts = (Flashing,)

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding for the unit: from the cut on nothing acts until somebody sets the clock."""
        patches = [p for channel in case.channels[:1] for p in channel.replay.hand.patches if p.flashing]
        dead = patched(patches).cut(case.replay.start, case.replay.end)
        if not len(dead):
            return
        missing = {c.index: intersection(c.missing, dead) for c in case.channels}
        yield case.make(
            self.slug,
            None,
            Flashing(reserve_s=(case.plan.unit.reserve_h or 0) * 3600, for_s=dead.total_s),
            missing=unite(list(missing.values())),
            dates=case.dates_of(dead),
            explains=missing,
        )
