"""The questions that are answered, each scoped by the crew of the key."""

import datetime as dt
from http import HTTPStatus
from typing import Any
from zoneinfo import ZoneInfo

from django.db.models import QuerySet
from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError
from ninja.pagination import LimitOffsetPagination, paginate
from ninja.params import functions as param_functions
from pydantic import Field

from skavit.api.answers import DueAnswer, FindingAnswer, Refusal, SiteAnswer, SwitchingAnswer, UnitAnswer
from skavit.api.keys import Bearer, ByTheMinute
from skavit.core.ground.errors import UserError
from skavit.crews.models import Crew
from skavit.customer.pages.sheet.page import standing_plan
from skavit.due.selectors import due_of_crew
from skavit.exchange.calendars import coming
from skavit.server.bounds import Busy
from skavit.server.now import read_now, year_at
from skavit.sites.models import Site
from skavit.sites.selectors import site_of, sites_of
from skavit.units.computing import leave_large
from skavit.units.models import Unit
from skavit.units.results import year_result
from skavit.units.selectors import unit_of, units_of

MOST_DAYS, MOST_SWITCHINGS = 31, 1_000
MOST_OFFSET = 10_000_000
NO_KEY = "No key, or one that holds no more. Accepted: the header Authorization: Bearer KEY."

api = NinjaAPI(
    title="Skavit",
    version="1",
    description="Sites, units, plans, findings and what is due of one crew, to be read. Nothing is changed by it.",
    urls_namespace="api",
    auth=Bearer(),
    throttle=ByTheMinute(),
    docs_url=None,
    openapi_url=None,
)
OF_SITE = param_functions.Query(None, description="id of a site: its units alone")
DAYS = param_functions.Query(7, ge=1, le=MOST_DAYS, description=f"so many days on, at most {MOST_DAYS}")
REFUSED = {HTTPStatus.NOT_FOUND: Refusal, HTTPStatus.UNPROCESSABLE_ENTITY: Refusal}


class Pages(LimitOffsetPagination):
    """Rows from one on, so many."""

    class Input(LimitOffsetPagination.Input):
        """A crew has far fewer rows than the last that may be asked for."""

        offset: int = Field(0, ge=0, le=MOST_OFFSET)


def _crew(request: HttpRequest) -> Crew:
    found: Crew = request.auth.crew  # type: ignore[attr-defined]  # of the key
    return found


@api.get("/sites", response=list[SiteAnswer], summary="All sites")
@paginate(Pages)
def sites(request: HttpRequest, **paging: Any) -> QuerySet[Site]:
    """By name; archived ones too."""
    return sites_of(_crew(request)).order_by("name", "pk")


@api.get("/sites/{int:number}", response={HTTPStatus.OK: SiteAnswer, **REFUSED}, summary="A site")
def site(request: HttpRequest, number: int) -> Site:
    """One of the crew's sites."""
    return site_of(_crew(request), number)


@api.get("/units", response=list[UnitAnswer], summary="All units, or those of a site")
@paginate(Pages)
def units(request: HttpRequest, site: int | None = OF_SITE, **paging: Any) -> QuerySet[Unit]:
    """By site and name; archived ones too. The plan of each is read at its own address."""
    found = units_of(_crew(request)).defer(
        "head__document", "keyed__document", "result__findings", "result__thumbnail", "kind__document"
    )
    found = found.order_by("site__name", "name", "pk")
    return found if site is None else found.filter(site_id=site)


@api.get("/units/{int:number}", response={HTTPStatus.OK: UnitAnswer, **REFUSED}, summary="A unit")
def unit(request: HttpRequest, number: int) -> Unit:
    """One of the crew's units."""
    return unit_of(_crew(request), number)


@api.get(
    "/units/{int:number}/plan", response={HTTPStatus.OK: dict[str, Any], **REFUSED}, summary="The plan file of a unit"
)
def plan(request: HttpRequest, number: int) -> dict[str, Any]:
    """The plan file of a unit."""
    document: dict[str, Any] = unit_of(_crew(request), number).plan.to_json()
    return document


@api.get(
    "/units/{int:number}/findings",
    response={HTTPStatus.OK: list[FindingAnswer], **REFUSED},
    summary="What the year of a unit shows",
)
def findings(request: HttpRequest, number: int) -> list[FindingAnswer]:
    """The findings of its plan over this year, the worst first."""
    crew, here = _crew(request), unit_of(_crew(request), number)
    kept = year_result(here, year_at(here.site.place, read_now()))
    return [FindingAnswer.of(raw, crew) for raw in kept.findings]


@api.get(
    "/units/{int:number}/next",
    response={HTTPStatus.OK: list[SwitchingAnswer], **REFUSED},
    summary="When the outputs of a unit are on",
)
def following(request: HttpRequest, number: int, days: int = DAYS) -> list[SwitchingAnswer]:
    """From now on, by what is in the unit since its last visit, in the local time of its site."""
    here, now = unit_of(_crew(request), number), read_now()
    standing, zone = standing_plan(here), ZoneInfo(here.site.timezone)
    leave_large(standing)
    periods = [period for period in coming(standing, now, days) if period[1] > now]
    return [
        SwitchingAnswer(output=name, on=dt.datetime.fromtimestamp(on, zone), off=dt.datetime.fromtimestamp(off, zone))
        for on, off, name, _ in periods[:MOST_SWITCHINGS]
    ]


class _DuePages(Pages):
    """A page of what is due, told in the crew's words."""

    def paginate_queryset(self, queryset: Any, pagination: Any, request: HttpRequest, **params: Any) -> Any:
        page = super().paginate_queryset(queryset, pagination, request, **params)
        crew = _crew(request)
        return page | {"items": [DueAnswer.of(due, crew) for due in page["items"]]}


@api.get("/due", response=list[DueAnswer], summary="What is due")
@paginate(_DuePages)
def due(request: HttpRequest, **paging: Any) -> QuerySet[Any]:
    """What is due now first, then by date."""
    return due_of_crew(_crew(request))


@api.get("/{path:rest}", include_in_schema=False)
def nothing(request: HttpRequest, rest: str) -> HttpResponse:
    """Any other address."""
    return api.create_response(
        request, {"detail": "There is no such address. Accepted: those of openapi.json."}, status=HTTPStatus.NOT_FOUND
    )


@api.exception_handler(AuthenticationError)
def _no_key(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
    return api.create_response(request, {"detail": NO_KEY}, status=HTTPStatus.UNAUTHORIZED)


@api.exception_handler(Http404)
def _not_there(request: HttpRequest, error: Http404) -> HttpResponse:
    detail = "There is none of that number in this crew."
    return api.create_response(request, {"detail": detail}, status=HTTPStatus.NOT_FOUND)


@api.exception_handler(Busy)
def _busy(request: HttpRequest, error: Busy) -> HttpResponse:
    return api.create_response(request, {"detail": str(error)}, status=HTTPStatus.SERVICE_UNAVAILABLE)


@api.exception_handler(UserError)
def _refused(request: HttpRequest, error: UserError) -> HttpResponse:
    return api.create_response(request, {"detail": str(error)}, status=HTTPStatus.UNPROCESSABLE_ENTITY)
