"""Whether a server is ready for people, and what it counts."""

from functools import cache
from ipaddress import ip_address

from axes.helpers import get_client_ip_address
from django.conf import settings
from django.contrib.auth.decorators import login_not_required
from django.db import DatabaseError, connection
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.http import require_GET
from prometheus_client import CONTENT_TYPE_LATEST

from skavit.watching.metrics import exposition, oldest_waiting_s

# Work that nobody begins for so long: no worker is there, or far too few.
TOO_OLD_S = 600
UNAVAILABLE = 503


@login_not_required
@require_GET
def ready(request: HttpRequest) -> HttpResponse:
    """The database, its migrations, and how long the oldest work waits: 200, or 503 with what is wrong."""
    try:
        missing = sorted(
            f"{app}.{name}" for app, name in _known() - set(MigrationRecorder(connection).applied_migrations())
        )
        oldest = oldest_waiting_s() if not missing else 0.0
    except DatabaseError:
        connection.close()
        return JsonResponse({"ready": False, "database": "does not answer"}, status=UNAVAILABLE)
    fine = not missing and oldest <= TOO_OLD_S
    told = {"ready": fine, "database": "ok", "migrations": missing or "ok", "oldest_waiting_s": round(oldest)}
    return JsonResponse(told, status=200 if fine else UNAVAILABLE)


@cache
def _known() -> set[tuple[str, str]]:
    """The migrations of this release."""
    return set(MigrationLoader(None).disk_migrations or ())


@login_not_required
@require_GET
def metrics(request: HttpRequest) -> HttpResponse:
    """What the server counts, for those addresses that may ask; for others there is nothing here."""
    if not _may_ask(get_client_ip_address(request) or ""):
        raise Http404
    return HttpResponse(exposition(), content_type=CONTENT_TYPE_LATEST)


def _may_ask(address: str) -> bool:
    if address in settings.METRICS_FROM:
        return True
    try:
        return not settings.METRICS_FROM and ip_address(address).is_loopback
    except ValueError:
        return False
