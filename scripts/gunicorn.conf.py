"""Gunicorn's settings; ./start gives the address."""

import os
import tempfile
from typing import Any

# Where the processes count what /metrics tells; made anew with each start of the server.
os.environ.setdefault("PROMETHEUS_MULTIPROC_DIR", tempfile.mkdtemp(prefix="skavit-metrics-"))

worker_class = "skavit.apart.serving.BufferedWorker"
workers = 2
# The application is loaded once; a process that is made anew begins at once.
preload_app = True
# More than the processor has: those that wait for a year to be worked out must not keep the others from a thread.
threads = 12
# A worker gives back what it has gathered.
max_requests = 2000
max_requests_jitter = 400
timeout = 30
graceful_timeout = 45
loglevel = "warning"


def child_exit(server: Any, worker: Any) -> None:
    """What a process that has ended counted stays in the sum; what it held just then does not."""
    from prometheus_client.multiprocess import mark_process_dead

    mark_process_dead(worker.pid)
