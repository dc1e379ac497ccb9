"""The record of a unit, newest first, and two revisions side by side: entry by entry and hour by hour."""

from dataclasses import dataclass, replace

from django.db.models import Prefetch

from skavit.charts.year_sheet import OFF_THE_SHEET, year_sheet
from skavit.core.plan.document import Plan
from skavit.core.sheet import Difference, keyed_differences, wanted_differences
from skavit.core.simulation.alteration import alterations
from skavit.core.text.wording import Words
from skavit.server.now import local_datetime_text, year_at
from skavit.units.computing import unit_year
from skavit.units.models import AsFound, PlanRevision, Unit
from skavit.units.pages.as_found.page import when_looked
from skavit.visits.models import Note, Photo, Visit
from skavit.visits.pages.visit.page import not_keyed

PAGE, MOST_NOTES = 60, 60
MOST_PICTURES = 8


@dataclass(frozen=True, slots=True, kw_only=True)
class VisitRow:
    """A visit in the list."""

    visit: Visit
    when: str
    summary: str  # how it was left, in a line


@dataclass(frozen=True, slots=True, kw_only=True)
class RevisionRow:
    """A state of the plan in the list."""

    revision: PlanRevision
    when: str
    head: bool
    keyed: bool  # what is in the unit since its last visit


@dataclass(frozen=True, slots=True, kw_only=True)
class RecordPage:
    """All that is known of a unit's past."""

    unit: Unit
    visits: list[VisitRow]
    found: list[tuple[AsFound, str]]  # written down without a visit
    notes: list[tuple[Note, str]]
    revisions: list[RevisionRow]
    older: int  # the page after this one; 0 where there is none
    differences: tuple[Difference, ...]
    chosen: tuple[int, int]  # the two that are compared unless others are chosen


def record_page(unit: Unit, words: Words, page: int) -> RecordPage:
    """One page of the record; visits and units as found stand on the first."""
    skip = (page - 1) * PAGE
    rows = list(unit.revisions.select_related("author").defer("document").order_by("-number")[skip : skip + PAGE + 1])
    visits = unit.visits.select_related("by", "ended_by").defer("document") if page == 1 else Visit.objects.none()
    found = unit.as_found.filter(visit=None).select_related("author") if page == 1 else AsFound.objects.none()
    head, keyed = unit.head_revision, unit.keyed
    return RecordPage(
        unit=unit,
        visits=[_visit_row(unit, visit, words) for visit in visits],
        found=[(record, when_looked(unit.plan, record, words)) for record in found],
        notes=_notes(unit, words) if page == 1 else [],
        revisions=[
            RevisionRow(
                revision=revision,
                when=local_datetime_text(unit.plan.site, revision.at, words),
                head=revision.pk == head.pk,
                keyed=keyed is not None and revision.pk == keyed.pk,
            )
            for revision in rows[:PAGE]
        ],
        older=page + 1 if len(rows) > PAGE else 0,
        differences=not_keyed(unit, words),
        chosen=(keyed.number if keyed and keyed.pk != head.pk else max(head.number - 1, 1), head.number),
    )


def _notes(unit: Unit, words: Words) -> list[tuple[Note, str]]:
    pictures = Prefetch("photos", Photo.objects.defer("image"))
    found = unit.notes.select_related("by", "away_by").prefetch_related(pictures)[:MOST_NOTES]
    return [(note, local_datetime_text(unit.plan.site, note.at, words)) for note in found]


def _visit_row(unit: Unit, visit: Visit, words: Words) -> VisitRow:
    if visit.ended is None:
        summary = "still open"
    else:
        keyed = "keyed" if visit.revision_id else "nothing keyed"
        summary = f"{keyed}, left in {visit.value('left_mode')}"
    return VisitRow(visit=visit, when=local_datetime_text(unit.plan.site, visit.begun, words), summary=summary)


@dataclass(frozen=True, slots=True, kw_only=True)
class ChannelCompared:
    """One channel of two plans over a year."""

    name: str
    text: str
    sheets: tuple[str, str]  # lying, and turned for the phone


@dataclass(frozen=True, slots=True, kw_only=True)
class ComparePage:
    """Two revisions of a plan side by side."""

    unit: Unit
    old: PlanRevision
    new: PlanRevision
    whens: tuple[str, str]
    wanted: tuple[Difference, ...]
    keyed: tuple[Difference, ...]
    channels: list[ChannelCompared]
    year: int


def compare_page(unit: Unit, old: PlanRevision, new: PlanRevision, words: Words, now: int) -> ComparePage:
    """The whole page; the year is drawn with the older plan's hours as what is wanted, so that what came and went shows."""
    before, after = unit.plan_of(old), unit.plan_of(new)
    year = year_at(unit.plan.site, now)
    whens = [local_datetime_text(unit.plan.site, revision.at, words) for revision in (old, new)]
    return ComparePage(
        unit=unit,
        old=old,
        new=new,
        whens=(whens[0], whens[1]),
        wanted=wanted_differences(before, after, words),
        keyed=keyed_differences(before, after, words),
        channels=_channels(before, after, year, words),
        year=year,
    )


def _channels(before: Plan, after: Plan, year: int, words: Words) -> list[ChannelCompared]:
    if not after.channels or before == after:
        return []
    old, new = (unit_year(plan, year, remedies=False) for plan in (before, after))
    altered = alterations(old.replay, new.replay)
    found = []
    for index, one in enumerate(altered[:MOST_PICTURES]):
        if not one.alters:
            continue
        then = old.replay.channels[index].actual if index < len(old.replay.channels) else None
        here = new.year_of(index)
        drawn = replace(here, wanted=then) if then is not None else here
        sheets = [
            year_sheet(drawn, marks=[], cursor=OFF_THE_SHEET, today=None, words=words, turned=turned)
            for turned in (False, True)
        ]
        found.append(ChannelCompared(name=one.name, text=one.text, sheets=(sheets[0], sheets[1])))
    return found
