"""The page of a unit as all trades share it; what a trade shows of its own is in ``body``."""

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from skavit.core.ground.arrays import DAY_S
from skavit.core.plan.document import Plan
from skavit.core.text.wording import Words, dated_text
from skavit.server.now import local_digits
from skavit.units.computing import unit_year, unit_year_within
from skavit.units.models import MeantSo, PlanRevision, Unit
from skavit.units.pages.numbered_findings import NumberedFinding, numbered_findings
from skavit.units.pages.progress import Progress, progress_of
from skavit.units.pages.unit.parts import ByHandRow, Forms, ImportForm, Strip
from skavit.units.pages.view import View
from skavit.units.results import accepted_of
from skavit.units.trades import Shows, UnitPages, pages_of
from skavit.web.page import shown

if TYPE_CHECKING:
    from _typeshed import DataclassInstance


@dataclass(frozen=True, slots=True, kw_only=True)
class UnitFrame:
    """What is looked at, what the unit does, what is wrong, and the parts of its trade."""

    unit: Unit
    plan: Plan
    revision: int
    changed: str  # when it was changed last, by the site's clock
    view: View
    findings: list[NumberedFinding]
    untold: int  # findings that are not listed
    unsearched: bool  # what would mend it comes after the page
    worst: NumberedFinding | None
    serious: list[NumberedFinding]
    meant: list[tuple[NumberedFinding, MeantSo]]  # those that somebody means so
    notes: list[NumberedFinding]
    sheet: str
    sheet_turned: str
    strip: Strip
    night: "DataclassInstance"
    wanted: bool
    entries: bool
    progress: Progress
    by_hand: list[ByHandRow]
    by_hand_new: Any  # the form of another line
    undo: bool
    redo: bool
    import_form: ImportForm
    pages: UnitPages
    first_place: str
    can_fit: bool
    body: "DataclassInstance"

    @property
    def context(self) -> dict[str, Any]:
        """All of it by name, for the templates."""
        return shown(self) | shown(self.body)


def unit_frame(
    unit: Unit, view: View, words: Words, now: int, forms: Forms | None = None, *, may_edit: bool = True
) -> UnitFrame:
    """Work out the page of a unit; ``forms`` are those open by their place, refused ones with what was typed."""
    plan, revision, forms = unit.plan, unit.head_revision, forms or {}
    pages = pages_of(plan)
    wanted = bool(pages.wanted_text(plan))
    if may_edit and not wanted:
        place = pages.first_place(view)
        forms = {place: pages.form_at(place, plan, revision.number, words, view), **forms}
    found = unit_year(plan, view.year)
    judged = unit_year_within(plan, view.year, *view.within) if view.within and pages.allows_error else found
    listed = numbered_findings(judged, words)
    accepted = accepted_of(unit, now)
    meant = [(n, accepted[n.finding.identity]) for n in listed if n.finding.identity in accepted]
    left = [n for n in listed if n.finding.identity not in accepted]
    serious = [n for n in left if n.finding.severity != "note"]
    shows = Shows(unit=unit, found=found, view=view, words=words, now=now, listed=listed, forms=forms)
    sheet, turned = pages.pictures(shows)
    fresh = {"revision": revision.number}
    return UnitFrame(
        unit=unit,
        plan=plan,
        revision=revision.number,
        changed=_changed_text(plan, revision, words),
        view=view,
        findings=listed,
        untold=len(judged.findings) - len(listed),
        unsearched=judged.unsearched,
        worst=serious[0] if serious else None,
        serious=serious,
        meant=meant,
        notes=[n for n in left if n.finding.severity == "note"],
        sheet=sheet,
        sheet_turned=turned,
        strip=pages.strip(shows),
        night=pages.day(found, view, words, now),
        wanted=wanted,
        entries=bool(pages.keyed_text(plan)),
        progress=progress_of(unit, found, words, now, may_edit=may_edit),
        by_hand=pages.by_hand_rows(plan, unit.core_kind, words),
        by_hand_new=forms.get("by-hand")
        or pages.by_hand_form(plan, view, words, initial=fresh | {"date": _today_text(plan, now)}),
        undo=revision.parent_id is not None,
        redo=revision.children.exists(),
        import_form=forms.get("import") or ImportForm(initial=fresh),
        pages=pages,
        first_place=pages.first_place(view),
        can_fit=pages.can_fit(found),
        body=pages.body(shows),
    )


def _today_text(plan: Plan, now: int) -> str:
    """The site's date, as a field shows it."""
    return dated_text(local_digits(plan, now) // DAY_S)


def _changed_text(plan: Plan, revision: PlanRevision, words: Words) -> str:
    """When a plan was changed last, by the site's clock."""
    day, seconds = divmod(local_digits(plan, int(revision.at.timestamp())), DAY_S)
    return f"{dated_text(day)}, {words.minute(seconds)}"
