"""The unit's clock: `clock-jump`, `dst-differs` and `clock-out`."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from skavit.core.findings.acts import UseLaw
from skavit.core.findings.case import Case, ChannelCase, Rule
from skavit.core.findings.facts import NUMBER, RUNS, SAID, WHOLE, Facts, Runs, runs_of, runs_text
from skavit.core.findings.finding import Finding, Severity
from skavit.core.findings.remedy import Remedy, WithRule
from skavit.core.ground.arrays import DAY_S, HOUR_S, Ints
from skavit.core.ground.records import Record, listed, member, record
from skavit.core.ground.spans import EMPTY, Spans, difference, intersection, unite
from skavit.core.heat.targets import apart, targets, under_right_clock
from skavit.core.plan.clock_settings import ByHand, NamedRule
from skavit.core.plan.days import Calendar, Days
from skavit.core.plan.times import DAY, ClockTime, Time, day_of
from skavit.core.site.clock import WallClock
from skavit.core.text.wording import Words, ahead_text, count

# A switching moved by the clock shows up to so long around the stretch in which the clock differs.
AROUND_S = DAY_S


@dataclass(frozen=True, slots=True, kw_only=True)
class Jump(Facts):
    """The dates on which a switching falls in a jump."""

    dates: Runs = member(RUNS)

    def headline(self, words: Words) -> str:
        """The dates."""
        return f"A switching falls in the hour that the clocks skip or repeat, {runs_text(self.dates)}"

    def why(self, words: Words) -> str:
        """What becomes of it."""
        return "A skipped time acts at the jump; a repeated one acts the first time only."


@dataclass(frozen=True, slots=True, kw_only=True)
class Harm(Record):
    """What a clock does to one channel, in hours."""

    name: str = member(SAID, default="")  # where the unit has several
    extra_h: float = member(NUMBER)
    missing_h: float = member(NUMBER)

    def text(self) -> str:
        """In words."""
        name = f"{self.name}: " if self.name else "It makes "
        return f"{name}{self.extra_h:.0f} h on that are not wanted and {self.missing_h:.0f} h off that are"


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneHarm(Record):
    """What a clock does to one zone, in kelvin hours."""

    name: str = member(SAID)
    warm_kh: float = member(NUMBER)
    cold_kh: float = member(NUMBER)

    def text(self, words: Words) -> str:
        """In words."""
        warm, cold = words.kelvin_hours(self.warm_kh), words.kelvin_hours(self.cold_kh)
        return f"{self.name}: {warm} too warm and {cold} too cold"


@dataclass(frozen=True, slots=True, kw_only=True)
class ClockFacts(Facts):
    """What a clock that differs does."""

    harm: tuple[Harm, ...] = member(listed(record(Harm)), default=())
    zones: tuple[ZoneHarm, ...] = member(listed(record(ZoneHarm)), default=())

    def why(self, words: Words) -> str:
        """Each channel's hours, and each zone's degrees."""
        told = [*(harm.text() for harm in self.harm), *(harm.text(words) for harm in self.zones)]
        return "; ".join(told) + "." if told else "It changes no switching in this time."


@dataclass(frozen=True, slots=True, kw_only=True)
class Apart(Record):
    """On which dates a rule is ahead of the law by so many seconds; nought: out by its sun times only."""

    ahead_s: int = member(WHOLE)
    dates: Runs = member(RUNS)


@dataclass(frozen=True, slots=True, kw_only=True)
class AnotherRule(ClockFacts):
    """By how much and when a rule differs."""

    apart: tuple[Apart, ...] = member(listed(record(Apart)))
    days: int = member(WHOLE)

    def headline(self, words: Words) -> str:
        """By how much and when."""
        told = [f"{_way(part.ahead_s)} {runs_text(part.dates)}" for part in self.apart]
        return f"The unit changes its clock by another rule: {'; '.join(told)}; {count(self.days, 'day')} in all"


@dataclass(frozen=True, slots=True, kw_only=True)
class Out(ClockFacts):
    """By how much a clock is out, and by when where it drifts."""

    ahead_s: float = member(NUMBER)
    by: int | None = member(DAY, default=None)
    of_rule: bool = False  # ahead of its own rule, which is not the law's

    def headline(self, words: Words) -> str:
        """By how much."""
        until = "" if self.by is None else f" by {day_of(self.by).isoformat()}"
        return f"The unit's clock is {ahead_text(self.ahead_s)}{' of its own rule' if self.of_rule else ''}{until}"


class ClockJump(Rule):
    """An entry or a window falls in the hour that the clocks skip or repeat."""

    slug = "clock-jump"
    description = "a time in the hour that the clocks skip or repeat"
    facts = (Jump,)

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding a channel."""
        site = _jumps(case.replay.site_clock, case)
        unit = _jumps(case.replay.unit_clock.right, case)
        for channel in case.channels:
            times: list[tuple[Time | None, Days, int]] = []
            for window in case.plan.channels[channel.index].windows:
                times += [(window.start, window.days, 0), (window.to, window.days, int(window.ends_next_day))]
            by_site = [hit for time, days, on in times for hit in _hits(time, days, on, site)]
            slots = {
                slot: hits
                for slot, entry in enumerate(case.entries)
                if channel.number in entry.channels and (hits := _hits(entry.at, entry.days, 0, unit))
            }
            dates = np.unique(np.array(by_site + [d for hits in slots.values() for d in hits], dtype=np.int64))
            if dates.size:
                yield case.make(
                    self.slug,
                    channel,
                    Jump(dates=runs_of(dates)),
                    dates=dates,
                    slots=tuple(slots),
                    severity=Severity.NOTE,
                )


def _jumps(clock: WallClock, case: Case) -> list[tuple[int, int]]:
    """(low, high) digits that the clock skips or repeats within the range."""
    inside = (clock.starts > case.replay.start) & (clock.starts < case.replay.end)
    found = []
    for index in np.nonzero(inside)[0]:
        turns = clock.starts[index] + clock.offsets[[index - 1, index]]
        found.append((int(turns.min()), int(turns.max())))
    return found


def _hits(time: Time | None, days: Days, ahead: int, jumps: list[tuple[int, int]]) -> list[int]:
    """The dates on which a clock time falls into a jump."""
    if not isinstance(time, ClockTime):
        return []
    found = []
    for low, high in jumps:
        day = low // DAY_S
        own = np.array([day - ahead], dtype=np.int64)
        if low <= day * DAY_S + time.seconds < high and days.matches(Calendar(own))[0]:
            found.append(day)
    return found


class _ByClock(Rule):
    """Shared by the two rules on a clock that differs: what a right clock would mend, each by channel."""

    def mended(self, case: Case) -> list[tuple[ChannelCase, Spans, Spans]]:
        """(channel, extra, missing) that would not be there with the clock right."""
        return [(channel, *case.mended_by_clock[channel.index]) for channel in case.channels]

    def report(self, case: Case, facts: Facts, dates: Ints, found: list[tuple[ChannelCase, Spans, Spans]]) -> Finding:
        """One finding for the unit, with what it does to each channel."""
        extra_s = sum(extra.total_s for _, extra, _ in found)
        missing_s = sum(missing.total_s for _, _, missing in found)
        extra, missing = unite([e for _, e, _ in found]), unite([m for _, _, m in found])
        severity = case.severity(extra, missing)
        apart = _zones_apart(case)
        if apart.total_s > HOUR_S * case.years:
            severity = min(severity, Severity.WARNING, key=list(Severity).index)
        missing = unite([missing, apart])
        made = case.make(
            self.slug,
            None,
            facts,
            extra=extra,
            missing=missing,
            dates=dates,
            severity=severity,
            explains={c.index: unite([e, m]) for c, e, m in found},
        )
        return replace(made, hours=(extra_s + missing_s + apart.total_s) / 3600)


def _zones_apart(case: Case) -> Spans:
    """When any zone is held otherwise than it would be by a right clock."""
    warmed = targets(case.replay)
    if warmed is None:
        return EMPTY
    pairs = zip(warmed.zones, under_right_clock(warmed).zones, strict=True)
    return unite([apart(zone.program, right.program) for zone, right in pairs])


def _zone_harm(case: Case) -> tuple[ZoneHarm, ...]:
    """What it does to each zone, in kelvin hours beside those of a right clock."""
    warmed = targets(case.replay)
    if warmed is None:
        return ()
    found = []
    for zone, right in zip(warmed.zones, under_right_clock(warmed).zones, strict=True):
        warm, cold = (max(zone.program_kh(sign) - right.program_kh(sign), 0.0) for sign in (1, -1))
        if warm or cold:
            found.append(ZoneHarm(name=zone.zone.name, warm_kh=warm, cold_kh=cold))
    return tuple(found)


def _harm(case: Case, found: list[tuple[ChannelCase, Spans, Spans]]) -> tuple[Harm, ...]:
    """What it does to each channel, in hours."""
    return tuple(
        Harm(
            name=case.plan.channels[channel.index].name if len(case.channels) > 1 else "",
            extra_h=extra.total_s / 3600,
            missing_h=missing.total_s / 3600,
        )
        for channel, extra, missing in found
        if extra.total_s + missing.total_s
    )


class DstDiffers(_ByClock):
    """The unit's daylight-saving rule is not the site's."""

    slug = "dst-differs"
    description = "the unit's daylight-saving rule is not the site's"
    facts = (AnotherRule,)

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding, on the dates on which the unit shows another time than the site."""
        apart = self._apart(case)
        if not apart:
            return
        spans = unite(apart.values())
        dates = case.dates_of(spans)
        around = unite([Spans(spans.on - AROUND_S, spans.off + AROUND_S)])
        error_free = case.plan.unit.clock.is_right
        found = [
            (channel, extra, missing)
            if error_free
            else (channel, intersection(extra, around), intersection(missing, around))
            for channel, extra, missing in self.mended(case)
        ]
        facts = AnotherRule(
            harm=_harm(case, found),
            zones=_zone_harm(case),
            apart=tuple(Apart(ahead_s=a, dates=runs_of(case.dates_of(part))) for a, part in sorted(apart.items())),
            days=int(dates.size),
        )
        made = self.report(case, facts, dates, found)
        # What somebody moved by hand has happened; a clock that was set apart is told as such.
        of_rule = not isinstance(case.plan.unit.clock.dst, ByHand) and not case.plan.unit.clock.is_set_apart
        yield replace(made, remedy=Remedy(act=UseLaw(), change=WithRule(NamedRule("zone")))) if of_rule else made

    def _apart(self, case: Case) -> dict[int, Spans]:
        """When the unit's rule shows another time than the site's clock, by how many seconds it is ahead then."""
        site, unit = case.replay.site_clock, case.replay.unit_clock
        low, high = case.replay.start, case.replay.end
        found = unit.right.apart(site, low, high)
        if found and case.plan.unit.clock.is_set_apart:
            # Set an hour ahead, say, and without summer time: right in summer, ahead in winter.
            error = int(case.plan.unit.clock.error_s)
            rest = difference(Spans(np.array([low]), np.array([high])), unite(found.values()))
            found = {way + error: spans for way, spans in found.items() if way + error} | {error: rest}
        if unit.sun is not unit.right:
            moved = difference(unite(unit.sun.apart(site, low, high).values()), unite(found.values()))
            found |= {0: moved} if len(moved) else {}
        return found


def _way(ahead: int) -> str:
    """How far off, in words; nought where the clock is right and only its sun times are not."""
    if not ahead:
        return "out by its sun times"
    return ahead_text(ahead)


class ClockOut(_ByClock):
    """The unit's clock is known to be out."""

    slug = "clock-out"
    description = "the unit's clock is known to be out"
    facts = (Out,)

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding, on the dates on which it is out by more than the tolerance."""
        days = np.arange(case.replay.first, case.replay.last + 1)
        noons = case.replay.site_clock.first(days * DAY_S + DAY_S // 2)
        ahead = case.replay.unit_clock.ahead_s(noons)
        out = np.abs(ahead) > case.tolerance_s
        if not out.any():
            return
        worst = float(ahead[np.argmax(np.abs(ahead))])
        found = self.mended(case)
        by = None if np.ptp(ahead) < 1 else int(days[out][-1])
        by_rule = case.replay.unit_clock.right.apart(case.replay.site_clock, case.replay.start, case.replay.end)
        facts = Out(harm=_harm(case, found), zones=_zone_harm(case), ahead_s=worst, by=by, of_rule=bool(by_rule))
        yield self.report(case, facts, days[out], found)
