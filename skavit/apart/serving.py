"""Gunicorn's worker: waitress reads each request whole before a thread takes it, so that slow senders hold none.

Gunicorn keeps the processes (starts, renews, replaces them), waitress the connections. A request that is not complete
after :data:`SENDING_S` is closed, bodies are refused by their length where :mod:`skavit.server.bounds` says so, and a process
in which a request runs longer than :data:`RUNNING_S` answers the others, takes no more, and makes room for a new one.
"""

import os
import resource
import threading
import time
from collections.abc import Callable, Iterable
from typing import Any

from gunicorn.workers.base import Worker
from waitress import wasyncore
from waitress.adjustments import Adjustments
from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser
from waitress.server import TcpWSGIServer

from skavit.apart.switch import TO_WORKER
from skavit.server.bounds import BODY_OF_A_FILE, body_limit, has_session
from skavit.server.turns import WAITING

CONNECTIONS = 4000
SENDING_S = 20
RUNNING_S = 60
# So long others are still answered where a process ends; a request that computes may take it all.
STOPPING_S = 40
PROXY_HEADERS = {"x-forwarded-for", "x-forwarded-proto"}
# Bodies not yet complete, of all connections of a process: the largest are closed beyond it.
UNFINISHED_BYTES = 200_000_000


class BoundedParser(HTTPRequestParser):
    """Refuses a body by its address and by whether the sender claims to be logged in."""

    def parse_header(self, header_plus: bytes) -> None:
        """Once the header is there, the bound of the body is known."""
        super().parse_header(header_plus)
        logged_in = has_session(self.headers.get("COOKIE", ""))
        self.adj = _adjusted(body_limit(self.path, logged_in=logged_in))


class BoundedChannel(HTTPChannel):
    """A connection that knows since when it waits for the rest of a request."""

    parser_class = BoundedParser
    waits_since: float | None = None

    def check_sending(self, now: float) -> None:
        """Close it where the rest of a request does not come; called each second."""
        if self.requests or self.request is None:
            self.waits_since = None
        elif self.waits_since is None:
            self.waits_since = now
        elif now - self.waits_since > SENDING_S:
            self.handle_close()

    @property
    def unfinished_bytes(self) -> int:
        """Of a body that is not complete."""
        request = self.request
        return request.body_bytes_received if request is not None else 0


class BoundedServer(TcpWSGIServer):
    """Takes no new connections while all its threads are at work: another process may be idle."""

    channel_class = BoundedChannel

    def readable(self) -> bool:
        """Whether a new connection may be taken."""
        dispatcher = self.task_dispatcher
        return bool(super().readable()) and dispatcher.active_count < len(dispatcher.threads)

    def look_after(self, now: float) -> None:
        """Close what does not come to an end."""
        channels = list(self.active_channels.values())
        for channel in channels:
            channel.check_sending(now)
        held = sum(channel.unfinished_bytes for channel in channels)
        for channel in sorted(channels, key=lambda c: -c.unfinished_bytes):
            if held <= UNFINISHED_BYTES:
                return
            held -= channel.unfinished_bytes
            channel.handle_close()


_ADJUSTED: dict[int, Adjustments] = {}


def _adjusted(body: int) -> Adjustments:
    """Waitress's settings under a bound of the body."""
    if body not in _ADJUSTED:
        # A proxy of one's own (docs/running.md): only what it says of the sender is believed.
        behind = os.environ.get("SKAVIT_HTTPS") == "1"
        proxy = os.environ.get("SKAVIT_TRUSTED_PROXY") or ("127.0.0.1" if behind else None)
        trusted = {"trusted_proxy": proxy, "trusted_proxy_headers": PROXY_HEADERS} if proxy else {}
        _ADJUSTED[body] = Adjustments(
            ident=None,
            max_request_body_size=body,
            max_request_header_size=32_768,
            connection_limit=CONNECTIONS,
            channel_timeout=SENDING_S,
            cleanup_interval=5,
            asyncore_use_poll=True,
            backlog=2048,
            clear_untrusted_proxy_headers=True,
            **trusted,
        )
    return _ADJUSTED[body]


class BufferedWorker(Worker):
    """Gunicorn's worker class: ``--worker-class skavit.apart.serving.BufferedWorker``."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.running: dict[int, float] = {}

    def _counted(self, environ: dict[str, Any], start_response: Callable[..., Any]) -> Iterable[bytes]:
        """The application, with how many requests there were and which still run."""
        self.nr += 1
        self.running[threading.get_ident()] = time.monotonic()
        try:
            return self.wsgi(environ, start_response)
        finally:
            del self.running[threading.get_ident()]

    def run(self) -> None:
        """Serve until told to stop, or until it is time for a new process."""
        hard = resource.getrlimit(resource.RLIMIT_NOFILE)[1]
        wanted = CONNECTIONS + 200 if hard == resource.RLIM_INFINITY else min(hard, CONNECTIONS + 200)
        resource.setrlimit(resource.RLIMIT_NOFILE, (wanted, hard))
        connections: dict[int, Any] = {}
        TO_WORKER.on = True
        servers = [self._server(listener.sock, connections) for listener in self.sockets]
        while self.alive and self.nr < self.max_requests and self.ppid == os.getppid():
            self._turn(servers, connections)
            if self._hanging():
                self.log.critical("A request has run for over %s s; this worker takes no more and ends.", RUNNING_S)
                break
        self._stop(servers, connections)

    def _hanging(self) -> set[int]:
        """The threads whose request runs for too long; what waits for its turn does not run."""
        now = time.monotonic()
        for thread in list(self.running):
            if thread in WAITING:
                self.running[thread] = now
        return {thread for thread, begun in list(self.running.items()) if now - begun > RUNNING_S}

    def _server(self, sock: Any, connections: dict[int, Any]) -> BoundedServer:
        info = (sock.family, sock.type, sock.proto, sock.getsockname())
        server = BoundedServer(
            self._counted, map=connections, _sock=sock, adj=_adjusted(BODY_OF_A_FILE), sockinfo=info, bind_socket=False
        )
        server.task_dispatcher.set_thread_count(self.cfg.threads)
        return server

    def _turn(self, servers: list[BoundedServer], connections: dict[int, Any]) -> None:
        self.notify()
        until = time.monotonic() + 1
        while time.monotonic() < until and self.alive:
            wasyncore.loop(timeout=0.5, use_poll=True, map=connections, count=1)
        for server in servers:
            server.look_after(time.monotonic())

    def _stop(self, servers: list[BoundedServer], connections: dict[int, Any]) -> None:
        """Take nothing new, answer what was taken but for what hangs."""
        for server in servers:
            server.accepting = False
        until = time.monotonic() + STOPPING_S
        while time.monotonic() < until and self._unanswered(servers):
            self.notify()
            wasyncore.loop(timeout=0.2, use_poll=True, map=connections, count=1)
        for server in servers:
            server.task_dispatcher.shutdown(cancel_pending=True, timeout=1)

    def _unanswered(self, servers: list[BoundedServer]) -> bool:
        """Whether a request is still to be answered that does not hang."""
        channels = [channel for server in servers for channel in server.active_channels.values()]
        if any(channel.total_outbufs_len for channel in channels):
            return True
        return sum(bool(channel.requests) for channel in channels) > len(self._hanging())
