"""A plan's year, worked out: what a process beside the web server does, and so without Django (:mod:`skavit.units.apart`)."""

from datetime import date

from skavit.core.findings import Finding, audit
from skavit.core.findings.case import Budgets
from skavit.core.plan.document import Plan
from skavit.core.simulation.replay import Replay, replay


def year_of(plan: Plan, year: int, mends: bool) -> tuple[Replay, tuple[Finding, ...]]:
    """Return the replay of a calendar year to the end of 1 January after it, and the findings of the year.

    ``mends`` false: without remedies, where none are shown.
    """
    picture = replay(plan, date(year, 1, 1), date(year + 1, 1, 1))
    budgets = Budgets() if mends else Budgets.without_remedies()
    return picture, audit(picture.ending(date(year, 12, 31)), budgets=budgets)
