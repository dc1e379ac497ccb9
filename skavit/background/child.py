"""The child process in which one job is done; importing it sets the application up."""

import logging
import os
import sys

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "skavit.settings")
django.setup()

from django.core.exceptions import PermissionDenied  # noqa: E402
from django.db import close_old_connections, connections  # noqa: E402
from django.urls import get_resolver  # noqa: E402

from skavit.background import services  # noqa: E402
from skavit.background.models import Job  # noqa: E402
from skavit.background.work import OUT_OF_MEMORY, WORK  # noqa: E402
from skavit.core.ground.errors import UserError  # noqa: E402
from skavit.core.text.error_text import error_text  # noqa: E402
from skavit.server.history import changes_by  # noqa: E402
from skavit.server.processes import begin_beside_pages  # noqa: E402

# What jobs need of the pages (their addresses, their templates' tags), loaded once in the server of forks.
get_resolver().url_patterns  # noqa: B018


def main(pk: int, database: str) -> None:
    """Do a job; exits with :data:`OUT_OF_MEMORY` where its memory is not enough."""
    os.setpgid(0, 0)  # a group of its own: it is ended with all that it begins
    connections.databases["default"]["NAME"] = database
    begin_beside_pages()
    try:
        do(pk)
    except MemoryError:
        sys.exit(OUT_OF_MEMORY)
    finally:
        close_old_connections()


def do(pk: int) -> None:
    """Do a job in this process, and put down what came of it."""
    job = Job.objects.select_related("crew", "by").get(pk=pk)
    try:
        with changes_by(job.by):
            services.asked_by(job)
            outcome = WORK[job.does](job, lambda share, told: services.report(pk, share, told))
    except services.Cancelled:
        logging.getLogger(__name__).info("%s was cancelled.", job)
    except (UserError, PermissionDenied) as error:
        services.refuse(pk, error_text(error))
    else:
        services.finish(job, outcome)
