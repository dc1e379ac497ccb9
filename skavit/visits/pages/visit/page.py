"""A visit on the page: its sections, its photos, how far the sheet is, and what differs from what is in the unit."""

from dataclasses import dataclass, replace
from typing import Any
from uuid import UUID, uuid4

from skavit.core.ground.arrays import DAY_S
from skavit.core.sheet import Difference, digits_to_set, keyed_differences
from skavit.core.text.wording import Words
from skavit.server.now import local_datetime_text
from skavit.units.models import PlanRevision, Unit
from skavit.units.pages.sheet.page import SheetPage, sheet_page
from skavit.visits.models import Photo, Visit
from skavit.visits.pages.visit.forms import Section, VisitForm
from skavit.visits.services.visits import open_visit


@dataclass(frozen=True, slots=True, kw_only=True)
class VisitPage:
    """A visit that is open, or not begun."""

    unit: Unit
    visit: Visit | None
    token: UUID
    begun: str
    sections: list[Section]
    photos: list[Photo]
    ticked: int
    steps: int
    revision: int
    differences: tuple[Difference, ...]  # what is keyed anew since the last visit
    ever_keyed: bool
    last: Visit | None  # the one before
    errors: int
    clock_runs: str  # what the unit's clock must show from which instant on, as JSON
    twelve: bool
    must: str


def visit_page(unit: Unit, form: VisitForm, words: Words, now: int) -> VisitPage:
    """The page of a unit's open visit."""
    visit = open_visit(unit)
    sheet = sheet_page(unit, words, now)
    return VisitPage(
        unit=unit,
        visit=visit,
        token=visit.token if visit else uuid4(),
        begun=local_datetime_text(unit.plan.site, visit.begun, words) if visit else "",
        sections=form.sections(),
        photos=list(visit.photos.defer("image")) if visit else [],
        ticked=sum(row.done for row in sheet.rows),
        steps=sheet.total,
        revision=unit.head_revision.number,
        differences=not_keyed(unit, words),
        ever_keyed=unit.keyed is not None,
        last=unit.visits.exclude(ended=None).select_related("ended_by").first(),
        errors=len(form.errors) if form.is_bound else 0,
        clock_runs=sheet.clock_runs,
        twelve=sheet.twelve,
        must=replace(words, twelve_hour=sheet.twelve).minute(digits_to_set(unit.plan, now) % DAY_S),
    )


def not_keyed(unit: Unit, words: Words) -> tuple[Difference, ...]:
    """What the plan keys and the device does not hold yet, since its last visit; empty where it was never visited."""
    if unit.keyed is None or unit.is_keyed:
        return ()
    return keyed_differences(unit.plan_of(unit.keyed), unit.plan, words)


def steps_done(unit: Unit, sheet: SheetPage) -> list[dict[str, Any]]:
    """The steps of a sheet that were ticked: title, who and when."""
    ticks = {tick.key: tick for tick in unit.ticks.filter(done=True).select_related("by")}
    found = []
    for row in sheet.rows:
        keys = [row.step.key, *(spell.step.key for spell in row.spells)]
        tick = next((ticks[key] for key in keys if key in ticks), None)
        if tick is not None:
            found.append({"title": row.step.title, "by": str(tick.by), "at": tick.said.isoformat()})
    return found


@dataclass(frozen=True, slots=True, kw_only=True)
class VisitLine:
    """One thing that was written down."""

    label: str
    value: str


@dataclass(frozen=True, slots=True, kw_only=True)
class VisitShown:
    """A visit as it was."""

    unit: Unit
    visit: Visit
    begun: str
    ended: str
    sections: list[tuple[str, list[VisitLine]]]
    steps: list[dict[str, Any]]
    photos: list[Photo]
    since: tuple[Difference, ...]  # what the plan keys now and did not then


def visit_shown(unit: Unit, visit: Visit, form: VisitForm, words: Words) -> VisitShown:
    """A visit that has ended; ``form`` holds its values."""
    frozen = visit.plan
    return VisitShown(
        unit=unit,
        visit=visit,
        begun=local_datetime_text(unit.plan.site, visit.begun, words),
        ended=local_datetime_text(unit.plan.site, visit.ended, words) if visit.ended else "",
        sections=[(section.title, _lines(section, visit)) for section in form.sections()],
        steps=visit.steps,
        photos=list(visit.photos.defer("image").select_related("by")),
        since=keyed_differences(frozen, unit.plan, words) if frozen is not None else (),
    )


def _lines(section: Section, visit: Visit) -> list[VisitLine]:
    found = []
    for field in section.fields:
        value = visit.value(field.name)
        choices = dict(getattr(field.field, "choices", ()))
        if value:
            found.append(VisitLine(label=str(field.label), value=str(choices.get(value, value))))
    return found


def revision_sent(unit: Unit, number: int) -> PlanRevision:
    """The revision from which somebody keyed; the newest where none was sent."""
    return unit.revisions.filter(number=number).first() or unit.head_revision
