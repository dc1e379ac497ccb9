"""Count what a request does."""

from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from typing import Any
from unittest import mock

from django.db import connection
from django.test.utils import CaptureQueriesContext

from skavit.core.findings import case
from skavit.core.plan.document import Plan
from skavit.core.simulation import handover, replay
from skavit.units import computing


@contextmanager
def counted() -> Iterator[Counter[str]]:
    """What is parsed, hashed, replayed and audited meanwhile; trials are the replays that an audit makes to find remedies."""
    seen: Counter[str] = Counter()

    def counting(name: str, real: Callable[..., Any]) -> Callable[..., Any]:
        def call(*args: Any, **kwargs: Any) -> Any:
            seen[name] += 1
            return real(*args, **kwargs)

        return call

    with ExitStack() as stack:
        for holder, attribute, name in (
            (Plan, "judged", "parses"),
            (Plan.__dict__["_hash"], "func", "hashes"),
            (computing, "replay", "replays"),
            (computing, "audit", "audits"),
            (case, "replay", "trials"),
            (handover, "replay", "looks ahead"),
            (replay, "check_range", "runs in all"),
        ):
            stack.enter_context(mock.patch.object(holder, attribute, counting(name, getattr(holder, attribute))))
        queries = stack.enter_context(CaptureQueriesContext(connection))
        yield seen
        seen["queries"] = len(queries)
