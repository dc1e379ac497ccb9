"""Sun and daylight: `by-day` and `no-sun`."""

from collections.abc import Iterator

import numpy as np

from skavit.core.findings.finding import Case, Finding, Rule, Severity
from skavit.core.ground.spans import intersection
from skavit.core.plan.times import sun_time_of
from skavit.core.site.almanac import almanac
from skavit.core.text.wording import count, dates_text


class ByDay(Rule):
    """A channel that goes by the sun is on in daylight though not wanted."""

    slug = "by-day"

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
                    f"On in daylight for {hours:.0f} h a year, on {count(dates.size, 'day')}"
                    if hours >= 1
                    else f"On in daylight for {hours * 60:.0f} min a year",
                    "Between sunrise and sunset, though not wanted.",
                    extra=lit,
                )


class NoSun(Rule):
    """Dates without a sunrise, sunset, dawn or dusk that the plan uses."""

    slug = "no-sun"

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
                names = " or ".join(event.name.lower() for event in events)
                yield case.make(
                    self.slug,
                    channel,
                    f"No {names} on {count(dates.size, 'day')}, {dates_text(dates)}",
                    "In the polar day such a time falls on the lowest sun, in the polar night on noon.",
                    dates=dates,
                    severity=Severity.NOTE,
                )
