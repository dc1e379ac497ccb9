"""Years worked out one at a time and kept by a plan's hash; those of large plans are left to the worker."""

from collections.abc import Callable
from dataclasses import replace
from datetime import date
from functools import partial
from threading import Lock

from cachetools import LRUCache

from skavit.apart.switch import AS_ANSWERING_BEGINS, TO_WORKER, TakesLong
from skavit.core.findings import Finding, audit
from skavit.core.findings.case import Budgets
from skavit.core.findings.tolerance import audit_within
from skavit.core.plan.document import Plan
from skavit.core.plan.trade import trades_in
from skavit.core.simulation.replay import replay
from skavit.server.turns import turn
from skavit.units.years import UnitYear, held_bytes

# What a process keeps of years that were looked at, and one that answers for large plans.
KEPT_BYTES, KEPT_BY_WORKER = 128_000_000, 400_000_000


class KeptYears:
    """Years by what they were worked out from, the latest within so many bytes."""

    def __init__(self, most: int) -> None:
        self._years: LRUCache[tuple[str, int], UnitYear] = LRUCache(most, getsizeof=held_bytes)
        self._lock = Lock()

    def get(self, *keys: tuple[str, int]) -> UnitYear | None:
        """The year of the first of some keys that is kept."""
        with self._lock:
            return next((year for key in keys if (year := self._years.get(key)) is not None), None)

    def put(self, key: tuple[str, int], found: UnitYear) -> None:
        """Keep a year, unless it is larger than all that may be kept."""
        with self._lock:
            if held_bytes(found) < self._years.maxsize:
                self._years[key] = found

    def hold(self, most: int) -> None:
        """Keep so many bytes from now on, beginning with none."""
        with self._lock:
            self._years = LRUCache(most, getsizeof=held_bytes)

    def clear(self) -> None:
        """Keep none of those that are there."""
        with self._lock:
            self._years.clear()


KEPT = KeptYears(KEPT_BYTES)
# A process that only answers for large plans keeps the years of more of them.
AS_ANSWERING_BEGINS.append(partial(KEPT.hold, KEPT_BY_WORKER))
_WORKING = Lock()
# A plan of more windows and entries than this is worked out by the worker, not in a request.
LARGE = 60


def is_left(plan: Plan) -> bool:
    """Whether this process leaves a plan to the worker: it counts windows, entries and what takes as long."""
    if not TO_WORKER.on:
        return False
    return sum(trade.size(plan) for trade in trades_in(plan)) > LARGE


def leave_large(plan: Plan) -> None:
    """Leave a request whose plan is large to the worker, where this process does. Raises :class:`TakesLong`."""
    if is_left(plan):
        raise TakesLong


def unit_year(plan: Plan, year: int, *, remedies: bool = True) -> UnitYear:
    """Replay and audit a calendar year; the last are kept, since a page is looked at more often than changed.

    ``remedies`` false: without what would mend it, where that is not shown.

    A process works one out at a time: whoever asks for the same meanwhile waits for it, and lighter pages go on.
    """
    whole = (plan.content_hash(), year)
    key = whole if remedies else (f"{whole[0]} without remedies", year)
    kept = KEPT.get(whole, key)
    if kept is not None:
        return kept
    leave_large(plan)
    with turn(_WORKING):
        kept = KEPT.get(key)
        if kept is None:
            kept = _work_out(plan, year, remedies=remedies)
            KEPT.put(key, kept)
    return kept


def searched_year(plan: Plan, year: int) -> UnitYear:
    """The year with what a search finds that would mend it: for what comes after a page, by the worker where there is one.

    Raises :class:`TakesLong` where this process leaves it to the worker.
    """
    found = unit_year(plan, year)
    if not found.unsearched:
        return found
    if TO_WORKER.on:
        raise TakesLong
    with turn(_WORKING):
        found = replace(found, findings=audit(found.replay), unsearched=False)
        KEPT.put((plan.content_hash(), year), found)
    return found


def finding_of(plan: Plan, year: int, is_it: Callable[[Finding], bool]) -> Finding | None:
    """The finding that is asked for, of a year as a page first shows it, or else of what a search has found since.

    Raises :class:`TakesLong` as :func:`searched_year` does.
    """
    for found in (unit_year, searched_year):
        told = next(filter(is_it, found(plan, year).findings), None)
        if told is not None:
            return told
    return None


def unit_year_within(plan: Plan, year: int, clock_min: int, sun_min: int) -> UnitYear:
    """The same, judged under so many minutes of error of clock and sun either way."""
    key = (f"{plan.content_hash()} within {clock_min} {sun_min}", year)
    strict = unit_year(plan, year)
    kept = KEPT.get(key)
    if kept is None:
        with turn(_WORKING):
            budgets = Budgets.while_waited_for()
            first, last = date(year, 1, 1), date(year, 12, 31)
            found = audit_within(plan, first, last, clock_min=clock_min, sun_min=sun_min, budgets=budgets)
        # Nothing follows it: the search is for the year as it is judged strictly.
        kept = replace(strict, findings=found, unsearched=False)
        KEPT.put(key, kept)
    return kept


def _work_out(plan: Plan, year: int, *, remedies: bool) -> UnitYear:
    picture = replay(plan, date(year, 1, 1), date(year + 1, 1, 1))
    whole = picture.ending(date(year, 12, 31))
    budgets = Budgets.while_waited_for(remedies=remedies)
    findings = audit(whole, budgets=budgets)
    return UnitYear(replay=whole, picture=picture, findings=findings, unsearched=budgets.repairs.ended)
