"""Do what waits: long work, and the pages of large plans, which wait for no fit and no import."""

import asyncio
import signal
from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand
from procrastinate.contrib.django import app

from skavit.apart.run import ANSWERING
from skavit.apart.services import QUEUE as PAGES
from skavit.server.processes import QUEUE as LONG_WORK


class Command(BaseCommand):
    """``manage.py work``: one process for both, until it is told to stop."""

    help = "Do long work, and answer requests for large plans, until told to stop."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """How many of each at once."""
        parser.add_argument("--long", type=int, default=2, help="pieces of long work at once; 0 leaves it to others")
        parser.add_argument("--pages", type=int, choices=(0, 1), default=1, help="0 leaves large plans to others")

    def handle(self, *args: Any, **asked: Any) -> None:
        """Work until stopped; what is under way is done first."""
        at_once = {LONG_WORK: asked["long"], PAGES: asked["pages"]}
        with app.replace_connector(app.connector.get_worker_connector()):  # type: ignore[attr-defined]  # Django's own
            asyncio.run(_work({queue: many for queue, many in at_once.items() if many}))
        ANSWERING.end()


async def _work(at_once: dict[str, int]) -> None:
    """A worker for each queue, so that neither waits for the other; one that fails ends both."""
    async with app.open_async(), asyncio.TaskGroup() as together:
        working = [
            together.create_task(
                app.run_worker_async(queues=[queue], concurrency=many, name=queue, install_signal_handlers=False)
            )
            for queue, many in at_once.items()
        ]
        for told in (signal.SIGINT, signal.SIGTERM):
            asyncio.get_running_loop().add_signal_handler(told, _stop, working)


def _stop(working: list[asyncio.Task[None]]) -> None:
    for task in working:
        task.cancel()
