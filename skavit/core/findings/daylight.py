"""Sun and daylight: `by-day` and `no-sun`."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from skavit.core.findings.case import Case, Rule
from skavit.core.findings.facts import NUMBER, RUNS, SAID, WHOLE, Facts, Runs, days_in, runs_of
from skavit.core.findings.finding import Finding, Severity
from skavit.core.ground.records import listed, member
from skavit.core.ground.spans import intersection
from skavit.core.plan.times import sun_time_of
from skavit.core.site.almanac import almanac
from skavit.core.text.wording import Words, count, dates_text


@dataclass(frozen=True, slots=True, kw_only=True)
class Lit(Facts):
    """For how long it is on by day."""

    hours: float = member(NUMBER)
    days: int = member(WHOLE)

    def headline(self, words: Words) -> str:
        """Hours a year."""
        if self.hours >= 1:
            return f"On in daylight for {self.hours:.0f} h a year, on {count(self.days, 'day')}"
        return f"On in daylight for {self.hours * 60:.0f} min a year"

    def why(self, words: Words) -> str:
        """What by day means."""
        return "Between sunrise and sunset, though not wanted."


@dataclass(frozen=True, slots=True, kw_only=True)
class Without(Facts):
    """The dates that have no such sun time."""

    events: tuple[str, ...] = member(listed(SAID))
    dates: Runs = member(RUNS)

    def headline(self, words: Words) -> str:
        """Which, and when."""
        days = days_in(self.dates)
        return f"No {' or '.join(self.events)} on {count(days.size, 'day')}, {dates_text(days)}"

    def why(self, words: Words) -> str:
        """What becomes of it."""
        return "In the polar day such a time falls on the lowest sun, in the polar night on noon."


class ByDay(Rule):
    """A channel that goes by the sun is on in daylight though not wanted: what shows, beside the findings that say why."""

    slug = "by-day"
    description = "a channel that goes by the sun is on in daylight though not wanted"
    facts = (Lit,)

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding a channel."""
        for channel in case.channels:
            if not channel.sunny or not len(channel.extra):
                continue
            lit = intersection(channel.extra, case.daylight).longer_than(channel.tolerance_s)
            if len(lit):
                hours = lit.total_s / 3600 / case.years
                dates = case.dates_of(lit)
                yield case.make(
                    self.slug,
                    channel,
                    Lit(hours=hours, days=int(dates.size)),
                    dates=dates,
                    severity=Severity.NOTE,
                )


class NoSun(Rule):
    """Dates without a sunrise, sunset, dawn or dusk that the plan uses."""

    slug = "no-sun"
    description = "dates without the sunrise, sunset, dawn or dusk that the plan uses"
    facts = (Without,)

    def find(self, case: Case) -> Iterator[Finding]:
        """One finding a channel."""
        book = almanac(case.plan.site, case.replay.first, case.replay.last)
        rows = book.rows(case.replay.first, case.replay.last)
        for channel in case.channels:
            windows = case.plan.channels[channel.index].windows
            times = [time for window in windows for time in (window.start, window.to) if time]
            times += [entry.at for entry in case.entries if channel.number in entry.channels]
            events = sorted({found.event for time in times if (found := sun_time_of(time))})
            without = ~book.sun.crosses[:, rows][events].all(axis=0) if events else np.zeros(0, dtype=bool)
            if without.any():
                dates = book.calendar.days[rows][without]
                yield case.make(
                    self.slug,
                    channel,
                    Without(events=tuple(event.name.lower() for event in events), dates=runs_of(dates)),
                    dates=dates,
                    severity=Severity.NOTE,
                )
