"""The entry sheet of a unit, worked out once: kept by its plan's content while what it says holds."""

from threading import Lock

from cachetools import LRUCache

from skavit.core.kinds import Kind
from skavit.core.plan.document import Plan
from skavit.core.sheet import Step, clock_runs, steps, told_anew
from skavit.core.text.wording import Words
from skavit.now import year_at
from skavit.units.computing import unit_year

Sheet = tuple[Step, ...]

KEPT = 32
# What depends on the date in ways of its own is worked out anew so often.
LONGEST_S = 3600
_KEPT: LRUCache[tuple[str, str, Words], tuple[int, int, Sheet]] = LRUCache(KEPT)
_LOOKING = Lock()


def sheet_of(
    plan: Plan, kind: Kind | None, words: Words, now: int, *, carried: bool = True, mends: bool = True
) -> Sheet:
    """The steps of keying a plan into a unit of a kind at a moment.

    ``carried``: with what they say until tomorrow's end; false where only the moment counts. ``mends`` false: where the
    year is worked out for it, without remedies.
    """
    key = (plan.content_hash(), repr(kind), words)
    year = unit_year(plan, year_at(plan.site, now), mends=mends)
    with _LOOKING:
        first, until, kept = _KEPT.get(key, (0, 0, ()))
    if first <= now < until:
        return told_anew(kept, plan, year.replay, now, words, kind, year.ahead(now))
    leaving = year.leaving(now)
    if not carried:
        return steps(plan, year.replay, leaving, now, words, kind)
    found = steps(plan, year.replay, leaving, now, words, kind, year.ahead(now))
    cuts = [step.holds_until for step in found if step.holds_until]
    turns = [at for at, _ in clock_runs(plan, now)[1:]]  # the unit's clock by its own rule, or somebody's hand
    with _LOOKING:
        _KEPT[key] = (now, min([*cuts, *turns, now + LONGEST_S]), found)
    return found
