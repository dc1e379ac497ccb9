"""The rule for daylight saving that a unit of a kind is given, by the law of a place."""

from functools import lru_cache

from skavit.core.kinds.kind import Kind
from skavit.core.plan.clock_settings import NamedRule, OwnRule
from skavit.core.site.clock_check import law_as_rule
from skavit.core.site.lawful import YEARS_AHEAD, is_lawful

SUNDAY = 6


@lru_cache(maxsize=256)
def law_of(timezone: str, year: int) -> OwnRule | None:
    """The law of a zone as a rule on Sundays, as units have one; None where it is no such rule for ten years."""
    found = law_as_rule(timezone, range(year, year + YEARS_AHEAD))
    return found if found and found.start.weekday == found.end.weekday == SUNDAY else None


def lawful_name(kind: Kind, timezone: str, year: int) -> str | None:
    """Which of a kind's rules is the law of a zone; None where it has none, and somebody must move its clock."""
    named = (name for name in kind.clock.rules if name in ("none", "us", "eu"))
    if "zone" in kind.clock.rules:
        return "zone"
    found = next((name for name in named if is_lawful(NamedRule(name), timezone, year)), None)
    return found or ("own" if "own" in kind.clock.rules and law_of(timezone, year) else None)
