"""The law of a place beside a unit's rule for daylight saving: a rule of another place is never keyed."""

from dataclasses import replace
from functools import lru_cache

from skavit.core.plan.clock_settings import ByHand, ClockSettings, DstRule, NamedRule
from skavit.core.site.clock_check import rule_against_law

# A rule is compared with the law over so many years.
YEARS_AHEAD = 10


@lru_cache(maxsize=256)
def is_lawful(rule: DstRule, timezone: str, year: int) -> bool:
    """Whether a rule changes the clock as the law of a zone does, for ten years from a year."""
    return not rule_against_law(rule, timezone, range(year, year + YEARS_AHEAD))


def is_foreign(rule: DstRule, timezone: str, year: int) -> bool:
    """Whether a rule is that of another place; the site's, none, and somebody's hand are not."""
    if isinstance(rule, ByHand) or rule in (NamedRule("zone"), NamedRule("none")):
        return False
    return not is_lawful(rule, timezone, year)


def as_keyed(settings: ClockSettings, timezone: str, year: int) -> ClockSettings:
    """Return a unit's clock as the sheet sets it: by the law of the place where its rule is another's."""
    return replace(settings, dst=NamedRule("zone")) if is_foreign(settings.dst, timezone, year) else settings
