"""The names of the time zones: those of the pinned ``tzdata`` package, and no machine's own."""

from functools import lru_cache
from zoneinfo import available_timezones


@lru_cache(maxsize=1)
def timezones() -> frozenset[str]:
    """The zones of the pinned zone data."""
    return frozenset(available_timezones())
