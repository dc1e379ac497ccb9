"""The worker's part in tests: in the test's own process, since a child would not see its transaction."""

from unittest import mock

from django.conf import settings
from django.db import connection
from django.test import override_settings

from skavit.apart import child, services
from skavit.apart.models import Asked, State
from skavit.apart.switch import TO_WORKER
from skavit.units import computing


def answer_all():
    """Answer all that waits."""
    # Django's test client sends no tokens: that the worker asks for them is seen in browser_tests.
    unasked = [name for name in settings.MIDDLEWARE if not name.endswith("CsrfViewMiddleware")]
    with mock.patch.object(TO_WORKER, "on", False), override_settings(MIDDLEWARE=unasked):
        child.take(connection.settings_dict["NAME"])
        for pk in Asked.objects.filter(state=State.WAITING).order_by("pk").values_list("pk", flat=True):
            if asked := services.take_up(pk):
                services.finish(pk, *child.answer(asked.meta, bytes(asked.sent)))
    computing.KEPT.clear()  # the web server's processes have none of the worker's years
