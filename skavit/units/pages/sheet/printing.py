"""The entry sheet on paper, drawn in the background."""

from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.text import slugify

from skavit.background.models import Job
from skavit.background.work import Outcome, Report, does
from skavit.crews.models import Membership
from skavit.now import read_now
from skavit.page import shown
from skavit.units.models import Unit
from skavit.units.pages.sheet.page import sheet_page
from skavit.units.services.jobs import ask, asked_by, unit_of_job

PDF = "pdf"


def ask_pdf(unit: Unit, membership: Membership, *, only_changed: bool = False) -> Job:
    """The entry sheet on paper; ``only_changed``: of what is not yet keyed."""
    arguments = {"only_changed": only_changed}
    return ask(unit, membership, PDF, f"Entry sheet of {unit.name}", arguments, reverse("sheet", args=[unit.pk]))


@does(PDF)
def do_pdf(job: Job, report: Report) -> Outcome:
    """Draw the entry sheet of this moment."""
    from skavit.units.pages.sheet.pdf import pdf_of  # its library is slow to load, and only this needs it

    unit, membership = unit_of_job(job), asked_by(job)
    report(10, "writing the steps")
    changed = bool(job.arguments.get("only_changed"))
    page = sheet_page(unit, membership.crew.words, read_now(), only_changed=changed)
    report(40, "drawing the pages")
    return Outcome(
        told="The entry sheet is ready.",
        answer=pdf_of(render_to_string("units/sheet/sheet_pdf.html", shown(page))),
        answer_name=f"{slugify(f'{unit.site.name} {unit.name} entry sheet') or 'entry-sheet'}.pdf",
        answer_type="application/pdf",
    )
