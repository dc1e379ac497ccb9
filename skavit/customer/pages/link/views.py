"""The page behind a customer's link: read only, without a login."""

from http import HTTPStatus

from django.contrib.auth.decorators import login_not_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import translation
from django.utils.cache import add_never_cache_headers
from django.views.decorators.http import require_GET

from skavit.customer import services
from skavit.customer import words as said
from skavit.customer.pages.sheet.page import customer_page
from skavit.server.now import read_instant
from skavit.units.computing import leave_large


@login_not_required
@require_GET
def share(request: HttpRequest, secret: str) -> HttpResponse:
    """What is behind a link: read only, without a login, while it holds."""
    instant = read_instant()
    link = services.link_of(secret, instant)
    if link is None:
        with translation.override(translation.get_language_from_request(request)):
            answer = render(request, "customer/ended.html", {"labels": said.labels()}, status=HTTPStatus.NOT_FOUND)
    else:
        pages = []
        for unit in services.units_behind(link):
            unit.site.crew = link.crew
            leave_large(unit.plan)
            pages.append(customer_page(unit, link.language, int(instant.timestamp())))
        answer = render(request, "customer/share.html", {"pages": pages, "first": pages[0]})
    add_never_cache_headers(answer)
    answer["X-Robots-Tag"] = "noindex"
    answer["Referrer-Policy"] = "no-referrer"
    return answer
