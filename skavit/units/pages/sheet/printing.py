"""The entry sheet on paper, drawn in the background."""

from collections.abc import Sequence
from functools import partial
from io import BytesIO
from typing import Any

from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.text import slugify

from skavit.background import services as background
from skavit.background.models import Job
from skavit.background.shares import shared_out, turns
from skavit.background.work import MEMBERS, USUAL_LIMIT_S, Outcome, Report, does
from skavit.core.ground.errors import UserError
from skavit.core.text.wording import count
from skavit.crews.models import Crew, Membership
from skavit.server.now import read_now
from skavit.units.models import Unit
from skavit.units.pages.sheet.page import Part, SheetPage, sheet_page
from skavit.units.selectors import units_of
from skavit.units.services.jobs import ask, unit_of_job
from skavit.web.page import shown

PDF, PDFS = "pdf", "pdfs"
MOST_SHEETS, A_TURN = 100, 4
# Seconds that a sheet may take more than the usual limit, and what joining them is left.
A_SHEET_S, JOINING_S = 6.0, 20.0


class NoSheets(UserError):
    """Nothing to print, or too much at once."""


def ask_pdf(unit: Unit, membership: Membership, part: Part = Part.WHOLE) -> Job:
    """Have the entry sheet drawn on paper, or a part of it."""
    arguments = {"part": part.value}
    return ask(unit, membership, PDF, f"Entry sheet of {unit.name}", arguments, reverse("sheet", args=[unit.pk]))


@does(PDF, MEMBERS)
def do_pdf(job: Job, report: Report) -> Outcome:
    """Draw the entry sheet of this moment."""
    from skavit.units.pages.sheet.pdf import pdf_of  # its library is slow to load, and only this needs it

    unit, membership = unit_of_job(job), background.asked_by(job)
    report(10, "writing the steps")
    page = sheet_page(unit, membership.crew.words, read_now(), Part(job.arguments.get("part", "")))
    report(40, "drawing the pages")
    return Outcome(
        told="The entry sheet is ready.",
        answer=pdf_of(_html(page)),
        answer_name=f"{slugify(f'{unit.site.name} {unit.name} entry sheet') or 'entry-sheet'}.pdf",
        answer_type="application/pdf",
    )


def ask_pdfs(membership: Membership, units: Sequence[int], title: str, back: str) -> Job:
    """The entry sheets of some units, by their keys, as one file. Raises :class:`NoSheets`."""
    if not 1 <= len(units) <= MOST_SHEETS:
        raise NoSheets(f"{count(len(units), 'entry sheet')} at once. Accepted: 1 to {MOST_SHEETS}.")
    return background.begin(membership, PDFS, title, {"units": list(units)}, back)


def _limit_s(arguments: dict[str, Any]) -> float:
    """A sheet of many channels takes some seconds on a slow machine."""
    return USUAL_LIMIT_S + A_SHEET_S * len(arguments["units"])


@does(PDFS, MEMBERS, _limit_s)
def do_pdfs(job: Job, report: Report) -> Outcome:
    """Draw the entry sheets of this moment, on all cores; units that went meanwhile are left out."""
    from pypdf import PdfWriter

    crew = background.asked_by(job).crew
    there = set(units_of(crew).filter(pk__in=job.arguments["units"]).values_list("pk", flat=True))
    keys = [key for key in job.arguments["units"] if key in there]
    whole = count(len(keys), "entry sheet")
    report(2, f"drawing {whole}")
    done = shared_out(
        keys, partial(_sheets, crew.pk), lambda n: report(95 * n // len(keys), f"{n} of {whole}"), A_TURN,
        within_s=_limit_s(job.arguments) - JOINING_S,
    )  # fmt: skip
    file, finished = PdfWriter(), [one for one in done if one is not None]
    unseen, missing = [name for _, names in finished for name in names], sum(one is None for one in done)
    for sheets, _ in finished:
        for sheet in sheets:
            file.append(BytesIO(sheet))
    left_out = _left_out(unseen)
    if missing:
        late = [key for turn, one in zip(turns(keys, A_TURN), done, strict=True) if one is None for key in turn]
        names = [f"{unit.site.name}, {unit.name}" for unit in units_of(crew).filter(pk__in=late).order_by("pk")]
        left_out = f"{left_out} Not drawn in time: {'; '.join(names)}.".strip()
    if not file.pages:
        raise background.Refused(f"{left_out} Nothing is left to print.")
    answer = BytesIO()
    file.write(answer)
    return Outcome(
        told=f"{count(sum(len(sheets) for sheets, _ in finished), 'entry sheet')} in one file. {left_out}".strip(),
        answer=answer.getvalue(),
        answer_name=f"{slugify(job.title) or 'entry-sheets'}.pdf",
        answer_type="application/pdf",
    )


def _sheets(crew: int, keys: Sequence[int]) -> tuple[list[bytes], list[str]]:
    """(the sheets of some units, what those are called whose caution has not been read)."""
    from skavit.units.pages.sheet.pdf import pdf_of  # its library is slow to load, and only this needs it

    here = Crew.objects.get(pk=crew)
    found = units_of(here).in_bulk(keys)
    sheets, unseen = [], []
    for unit in (found[key] for key in keys if key in found):
        page = sheet_page(unit, here.words, read_now())
        if page.unseen:
            unseen.append(f"{unit.site.name}, {unit.name}")
        else:
            sheets.append(pdf_of(_html(page)))
    return sheets, unseen


def _html(page: SheetPage) -> str:
    return render_to_string("units/sheet/sheet_pdf.html", shown(page))


def _left_out(names: list[str]) -> str:
    return f"Left out, caution not read yet: {'; '.join(names)}." if names else ""
