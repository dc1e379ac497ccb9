"""What the customer is left with: the sheet, links to it, the code in the lid; and the page behind a link."""

from http import HTTPStatus

from django.conf import settings
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest
from skavit.crews.revocable import take_back
from skavit.customer import services
from skavit.customer.pages.sheet.forms import LinkForm
from skavit.customer.pages.sheet.page import customer_page
from skavit.customer.pages.sheet.printing import ask_customer_pdf
from skavit.units.computing import leave_large
from skavit.units.models import Unit
from skavit.units.pages.post_data import to_job
from skavit.units.results import SERIOUS, follow
from skavit.units.selectors import unit_of
from skavit.web.errors import TooMany

KNOWN = {code for code, _ in settings.LANGUAGES}


@members
@require_GET
def customer(request: CrewRequest, pk: int) -> HttpResponse:
    """The sheet as the customer will see it, and the links that are out."""
    unit = unit_of(request.crew, pk)
    return _show(request, unit, LinkForm(initial={"language": _language(request)}))


def _language(request: CrewRequest) -> str:
    asked = request.GET.get("language") or request.POST.get("language") or settings.LANGUAGE_CODE
    return asked if asked in KNOWN else settings.LANGUAGE_CODE


def _show(
    request: CrewRequest, unit: Unit, form: LinkForm, link: str = "", status: int = HTTPStatus.OK
) -> HttpResponse:
    unit.site.crew = request.crew
    leave_large(unit.plan)
    page = customer_page(unit, _language(request), request.now)
    links = unit.share_links.held().filter(ends__gt=request.instant).select_related("by")
    context = {"page": page, "unit": unit, "form": form, "link": link, "links": links, "languages": settings.LANGUAGES}
    context |= {
        "serious": unit.result is not None and unit.result.severity in SERIOUS,
        "not_keyed": unit.awaits_keying,
    }
    return render(request, "customer/customer.html", context, status=status)


@editors
@require_POST
def link_make(request: CrewRequest, pk: int) -> HttpResponse:
    """Make a link; its address is told this once."""
    unit = unit_of(request.crew, pk)
    form = LinkForm(request.POST)
    if not form.is_valid():
        return _show(request, unit, form, status=HTTPStatus.UNPROCESSABLE_ENTITY)
    try:
        secret = services.make_link(unit, request.membership, instant=request.instant, **form.cleaned_data)
    except TooMany as error:
        messages.error(request, str(error))
        return redirect("customer", pk=pk)
    link = request.build_absolute_uri(reverse("share", args=[secret]))
    return _show(request, unit, LinkForm(initial=request.POST.dict()), link=link)


@editors
@require_POST
def link_back(request: CrewRequest, pk: int, record_pk: int) -> HttpResponse:
    """Take a link back: it is dead at once."""
    unit = unit_of(request.crew, pk)
    if take_back(request.membership, unit.share_links.held(), record_pk, request.instant):
        follow([unit], request.now)
        messages.success(request, "The link is dead.")
    return redirect("customer", pk=pk)


@members
@require_POST
def customer_pdf(request: CrewRequest, pk: int) -> HttpResponse:
    """Draw the sheet as a PDF."""
    unit = unit_of(request.crew, pk)
    return to_job(request, lambda: ask_customer_pdf(unit, request.membership, _language(request)))
