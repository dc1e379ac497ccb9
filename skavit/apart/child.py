"""The process that answers requests for the web server: the same application, the same views; importing it sets it up."""

import io
import os
import sys

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "skavit.settings")
django.setup()

from django.conf import settings  # noqa: E402
from django.core.handlers.base import BaseHandler  # noqa: E402
from django.core.handlers.wsgi import WSGIRequest  # noqa: E402
from django.db import connections  # noqa: E402
from django.urls import get_resolver  # noqa: E402

from skavit.apart.switch import AS_ANSWERING_BEGINS  # noqa: E402

# What comes before sessions, and the handing over itself, is the web server's part.
BEGINS_WITH = "django.contrib.sessions.middleware.SessionMiddleware"
LEFT_OUT = "skavit.apart.middleware.ApartMiddleware"

get_resolver().url_patterns  # noqa: B018  loaded once in the server of forks
_HANDLER = BaseHandler()


def take(database: str) -> None:
    """Work on this database, without the web server's part of the middleware, as a process that does nothing else."""
    connections.databases["default"]["NAME"] = database
    whole = list(settings.MIDDLEWARE)
    settings.MIDDLEWARE = [name for name in whole[whole.index(BEGINS_WITH) :] if name != LEFT_OUT]
    _HANDLER.load_middleware()
    for begins in AS_ANSWERING_BEGINS:
        begins()


def answer(meta: dict[str, str], sent: bytes) -> tuple[int, list[tuple[str, str]], list[str], bytes]:
    """The status, headers, cookies and body that the application gives for a request."""
    environ = {**meta, "wsgi.input": io.BytesIO(sent), "wsgi.errors": sys.stderr, "CONTENT_LENGTH": str(len(sent))}
    response = _HANDLER.get_response(WSGIRequest(environ))
    cookies = [morsel.OutputString() for morsel in response.cookies.values()]
    return response.status_code, list(response.items()), cookies, b"".join(response)
