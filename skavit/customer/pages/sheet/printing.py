"""The customer's sheet on paper, drawn in the background."""

from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.text import slugify

from skavit.background.models import Job
from skavit.background.work import MEMBERS, Outcome, Report, does
from skavit.crews.models import Membership
from skavit.customer.pages.sheet.page import customer_page
from skavit.server.now import read_now
from skavit.units.models import Unit
from skavit.units.services.jobs import ask, unit_of_job

CUSTOMER_PDF = "customer-pdf"


def ask_customer_pdf(unit: Unit, membership: Membership, language: str) -> Job:
    """The customer's sheet on paper."""
    back = reverse("customer", args=[unit.pk])
    return ask(unit, membership, CUSTOMER_PDF, f"Customer's sheet of {unit.name}", {"language": language}, back)


@does(CUSTOMER_PDF, MEMBERS)
def do_customer_pdf(job: Job, report: Report) -> Outcome:
    """Draw the sheet of this moment."""
    from skavit.units.pages.sheet.pdf import pdf_of  # its library is slow to load, and only this needs it

    unit = unit_of_job(job)
    report(20, "looking ahead")
    page = customer_page(unit, job.arguments["language"], read_now())
    report(50, "drawing the page")
    return Outcome(
        told="The customer's sheet is ready.",
        answer=pdf_of(render_to_string("customer/paper.html", {"page": page})),
        answer_name=f"{slugify(f'{unit.site.name} {unit.name}') or 'customer'}.pdf",
        answer_type="application/pdf",
    )
