"""Log lines: one for one fault, with the id of its request, as text or as JSON."""

import json
import logging
import time
import uuid
from collections.abc import Callable
from contextvars import ContextVar
from datetime import UTC, datetime

from django.db import Error as DatabaseFault
from django.http import HttpRequest, HttpResponse
from psycopg import Error as DriverFault

QUIET_S = 10
_REQUEST_ID: ContextVar[str] = ContextVar("request_id", default="")


class RequestIdMiddleware:
    """Gives each request an id, which its log lines and its answer carry."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer under an id of its own."""
        named = _REQUEST_ID.set(uuid.uuid4().hex[:16])
        try:
            response = self.get_response(request)
            response.headers["X-Request-Id"] = _REQUEST_ID.get()
            return response
        finally:
            _REQUEST_ID.reset(named)


class OneLineOfAnOutage(logging.Filter):
    """Of faults that come from a database that is away one line in :data:`QUIET_S` seconds, without a traceback."""

    def __init__(self) -> None:
        super().__init__()
        self._said = -QUIET_S * 1.0
        self._passed_over = 0

    def filter(self, record: logging.LogRecord) -> bool:
        """Whether the record is written; one of an outage is made short."""
        fault = record.exc_info[1] if record.exc_info else None
        if not isinstance(fault, DatabaseFault | DriverFault):
            return True
        now = time.monotonic()
        if now - self._said < QUIET_S:
            self._passed_over += 1
            return False
        more = f" ({self._passed_over} more like it)" if self._passed_over else ""
        first = str(fault).strip().splitlines()[0] if str(fault).strip() else type(fault).__name__
        record.msg, record.args = f"The database does not answer: {first}{more}", ()
        record.exc_info, record.exc_text = None, None
        self._said, self._passed_over = now, 0
        return True


class JsonLines(logging.Formatter):
    """A JSON object a line: time, level, logger, text, request id, and the traceback where there is one."""

    def format(self, record: logging.LogRecord) -> str:
        """Return the line."""
        line = {
            "at": datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname.lower(),
            "logger": record.name,
            "text": record.getMessage(),
        }
        if named := _REQUEST_ID.get():
            line["request"] = named
        if record.exc_info:
            line["traceback"] = self.formatException(record.exc_info)
        return json.dumps(line, ensure_ascii=False)


class TextLines(logging.Formatter):
    """A line to read, with the id of its request."""

    def format(self, record: logging.LogRecord) -> str:
        """Return the line."""
        text = super().format(record)
        return f"[{named}] {text}" if (named := _REQUEST_ID.get()) else text
