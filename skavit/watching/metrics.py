"""What a server counts of itself, in the Prometheus text format: requests, refusals, the queue, computing, turns.

The processes of a server count into files of one folder (``PROMETHEUS_MULTIPROC_DIR``), so that any of them tells the sum.
"""

import os
import time
from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from prometheus_client import CollectorRegistry, Counter, Gauge, Histogram, generate_latest
from prometheus_client.multiprocess import MultiProcessCollector

from skavit.apart.models import Asked
from skavit.apart.services import OPEN as ASKED_OPEN
from skavit.background.models import OPEN, Job, State
from skavit.server.turns import INSTRUMENTS

REQUESTS = Counter("skavit_requests", "Requests answered, by status.", ["status"], registry=INSTRUMENTS)
REFUSALS = Counter("skavit_refusals", "Requests refused, by status from 400 on.", ["status"], registry=INSTRUMENTS)
SECONDS = Histogram(
    "skavit_request_seconds", "Seconds that a request took.", registry=INSTRUMENTS,
    buckets=(0.05, 0.1, 0.25, 0.5, 1, 2, 5, 10, 20, 40),
)  # fmt: skip
REFUSED_FROM = 400


class CountingMiddleware:
    """Counts requests and how long they take."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, and count it."""
        begun = time.perf_counter()
        response = self.get_response(request)
        SECONDS.observe(time.perf_counter() - begun)
        REQUESTS.labels(response.status_code).inc()
        if response.status_code >= REFUSED_FROM:
            REFUSALS.labels(response.status_code).inc()
        return response


def oldest_waiting_s() -> float:
    """Seconds for which the oldest piece of work waits that nobody has begun; 0 where none waits."""
    oldest = Job.objects.filter(state=State.WAITING).order_by("created").values_list("created", flat=True).first()
    return 0.0 if oldest is None else (timezone.now() - oldest).total_seconds()


def exposition() -> bytes:
    """Return all that is counted, in the text format."""
    registry = CollectorRegistry()
    for name, counts, rows, states in (
        ("skavit_jobs", "Pieces of work, by state.", Job.objects.all(), OPEN),
        ("skavit_large_pages", "Requests for large plans, by state.", Asked.objects.all(), ASKED_OPEN),
    ):
        waiting = Gauge(name, counts, ["state"], registry=registry)
        for state in states:
            waiting.labels(state.value).set(rows.filter(state=state).count())
    Gauge("skavit_oldest_waiting_seconds", "How long the oldest piece of work waits.", registry=registry).set(
        oldest_waiting_s()
    )
    if os.environ.get("PROMETHEUS_MULTIPROC_DIR"):
        MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
        return generate_latest(registry)
    return generate_latest(registry) + generate_latest(INSTRUMENTS)
