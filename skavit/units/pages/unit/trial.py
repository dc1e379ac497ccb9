"""A form tried before it is kept: the year without it and the year with it, for a preview's lines."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from skavit.core.plan.document import Plan
from skavit.core.text.wording import Words
from skavit.server.bounds import check_plan
from skavit.units.computing import unit_year
from skavit.units.pages.view import View
from skavit.units.trades import pages_of
from skavit.units.years import UnitYear

MOST_NEW = 4  # findings that a preview tells


@dataclass(frozen=True, slots=True)
class Trial:
    """A changed plan, its year, and the year before the change."""

    plan: Plan
    before: UnitYear
    after: UnitYear

    def new_headlines(self, words: Words) -> list[str]:
        """What the change would newly be found fault with, notes left out, a line each."""
        known = {finding.facts.headline(words) for finding in self.before.findings}
        found = [finding.facts.headline(words) for finding in self.after.findings if finding.severity != "note"]
        return [f"{headline}." for headline in found if headline not in known][:MOST_NEW]


def tried(plan: Plan, edit: Callable[[Plan], Plan], year: int) -> Trial:
    """The years of a plan before and after an edit. Raises PlanError where the edit makes it too large."""
    changed = replace(edit(plan), site=plan.site)
    check_plan(changed)
    return Trial(changed, unit_year(plan, year), unit_year(changed, year, remedies=False))


def altered_lines(plan: Plan, form: Any, view: View, words: Words) -> list[str]:
    """What a valid form alters in a year, and what it would newly be found fault with. Raises UserError."""
    pages = pages_of(plan)
    trial = tried(plan, pages.edit_of(form, view), view.year)
    lines = pages.altered(trial, form, words) or ["Alters nothing this year."]
    return lines + trial.new_headlines(words)
