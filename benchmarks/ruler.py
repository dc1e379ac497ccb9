"""The ruler of all figures: A is what `astral` takes for a year's sunrise and sunset of one place, in the same run.

Machines differ by three and more; a time told in A is told for all of them.
"""

from collections.abc import Callable
from datetime import date, timedelta
from statistics import median
from time import perf_counter
from zoneinfo import ZoneInfo

import astral
import astral.sun

YEAR = 2027
FIRST, LAST = date(YEAR, 1, 1), date(YEAR, 12, 31)
ZONE = "Pacific/Auckland"
LATITUDE, LONGITUDE = -39.49, 176.91


def median_ms(run: Callable[[], object], times: int = 9) -> float:
    """Median milliseconds of a call, the first one left out."""
    run()
    found = []
    for _ in range(times):
        start = perf_counter()
        run()
        found.append((perf_counter() - start) * 1e3)
    return median(found)


def _astral_year() -> None:
    observer, zone = astral.Observer(LATITUDE, LONGITUDE), ZoneInfo(ZONE)
    for day in range((LAST - FIRST).days + 1):
        on = FIRST + timedelta(days=day)
        astral.sun.sunrise(observer, on, tzinfo=zone)
        astral.sun.sunset(observer, on, tzinfo=zone)


class Ruler:
    """A in milliseconds, on this machine in this run: measured before and after each figure, since the pace changes meanwhile."""

    def __init__(self) -> None:
        self.before_ms = self._measured_ms()
        print(f"A, a year of astral's sunrise and sunset {self.before_ms:8.2f} ms")

    @staticmethod
    def _measured_ms() -> float:
        return median_ms(_astral_year, 3)

    def row(self, what: str, ms: float, reach: float | None = None, tail: str = "") -> None:
        """Print a figure that has just been taken, in ms and in A: the mean of A before it and after it."""
        after_ms = self._measured_ms()
        a_ms, self.before_ms = (self.before_ms + after_ms) / 2, after_ms
        told = f"   (reach {reach:g} A)" if reach is not None else ""
        print(f"{what:40} {ms:8.2f} ms {ms / a_ms:8.3f} A, A {a_ms:5.1f} ms{told}{tail}")
