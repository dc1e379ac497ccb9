"""Gunicorn's worker: what is half sent holds no thread, what is too large is refused by its head, nothing waits for ever."""

import socket
import threading
import time
from types import SimpleNamespace
from unittest import TestCase, mock

from waitress import wasyncore

from skavit.apart import serving
from skavit.server import bounds, turns


class ServerCase(TestCase):
    """A server of two threads on loopback, run by a thread of the test."""

    def setUp(self):
        self.socket = socket.create_server(("127.0.0.1", 0))
        self.map, self.stopped = {}, False
        info = (self.socket.family, self.socket.type, self.socket.proto, self.socket.getsockname())
        self.server = serving.BoundedServer(
            self.application, map=self.map, _sock=self.socket, adj=serving._adjusted(bounds.BODY_OF_A_FILE),
            sockinfo=info, bind_socket=False,
        )  # fmt: skip
        self.server.task_dispatcher.set_thread_count(2)
        self.thread = threading.Thread(target=self.serve)
        self.thread.start()
        self.addCleanup(self.stop)
        self.open = []

    def application(self, environ, start_response):
        body = environ["wsgi.input"].read()
        start_response("200 OK", [("Content-Type", "text/plain")])
        return [f"{len(body)} bytes".encode()]

    def serve(self):
        while not self.stopped:
            wasyncore.loop(timeout=0.05, use_poll=True, map=self.map, count=1)

    def stop(self):
        for one in self.open:
            one.close()
        self.stopped = True
        self.thread.join()
        self.server.close()

    def send(self, data):
        one = socket.create_connection(self.socket.getsockname(), timeout=10)
        one.sendall(data)
        self.open.append(one)
        return one

    def ask(self, head, body=b""):
        answer = self.send(head + b"\r\nConnection: close\r\n\r\n" + body).makefile("rb").read()
        return answer.decode()


class HalfSentTest(ServerCase):
    def test_three_hundred_half_sent_requests_and_bodies_hold_nobody_up(self):
        for _ in range(200):
            self.send(b"GET / HTTP/1.1\r\nHost: x\r\nX-Slow: ")
        for _ in range(100):
            self.send(b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 50000\r\n\r\nhalf of ")
        self.assertIn("200 OK", self.ask(b"GET / HTTP/1.1\r\nHost: x"))
        self.assertIn("5 bytes", self.ask(b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 5", b"hello"))

    def test_the_rest_that_does_not_come_is_waited_for_no_longer(self):
        slow = self.send(b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 50000\r\n\r\nhalf of ")
        until = time.monotonic() + 10
        while not any(channel.request for channel in list(self.server.active_channels.values())):
            self.assertLess(time.monotonic(), until)
            time.sleep(0.02)
        now = time.monotonic()
        self.server.look_after(now)
        self.server.look_after(now + serving.SENDING_S - 1)
        self.assertEqual(len(self.server.active_channels), 1)
        self.server.look_after(now + serving.SENDING_S + 1)
        self.assertEqual(slow.recv(100), b"")


class HangingTest(TestCase):
    """A request that hangs ends its process only once the others are answered; one that waits for its turn hangs not."""

    def worker(self, **running):
        worker = serving.BufferedWorker.__new__(serving.BufferedWorker)
        worker.running = dict(running)
        return worker

    def test_waiting_for_a_turn_is_no_hanging(self):
        long_ago = time.monotonic() - serving.RUNNING_S - 1
        worker = self.worker(a=long_ago, b=long_ago, c=time.monotonic())
        with mock.patch.object(serving, "WAITING", {"a"}):
            self.assertEqual(worker._hanging(), {"b"})
        self.assertEqual(worker._hanging(), {"b"})  # its turn has come: it begins to count now

    def test_others_are_answered_before_it_ends(self):
        worker = self.worker(a=time.monotonic() - serving.RUNNING_S - 1, b=time.monotonic())
        channels = [SimpleNamespace(requests=[1], total_outbufs_len=0) for _ in range(2)]
        server = SimpleNamespace(active_channels=dict(enumerate(channels)))
        self.assertTrue(worker._unanswered([server]))
        channels[1].requests = []
        self.assertFalse(worker._unanswered([server]))
        channels[1].total_outbufs_len = 5
        self.assertTrue(worker._unanswered([server]))

    def test_a_thread_counts_as_waiting_until_the_lock_is_its_own(self):
        lock, inside = threading.Lock(), threading.Event()
        lock.acquire()
        seen = []

        def wait():
            with turns.turn(lock):
                seen.append(threading.get_ident() in turns.WAITING)
                inside.set()

        thread = threading.Thread(target=wait)
        thread.start()
        until = time.monotonic() + 10
        while thread.ident not in turns.WAITING:
            self.assertLess(time.monotonic(), until)
            time.sleep(0.01)
        lock.release()
        self.assertTrue(inside.wait(10))
        thread.join()
        self.assertEqual(seen, [False])


class ProxyTest(ServerCase):
    """Who sends is told by the proxy that is trusted, and by nobody else."""

    def application(self, environ, start_response):
        start_response("200 OK", [("Content-Type", "text/plain")])
        return [f"{environ['REMOTE_ADDR']} {environ['wsgi.url_scheme']}".encode()]

    HEAD = b"GET / HTTP/1.1\r\nHost: x\r\nX-Forwarded-For: 198.51.100.7\r\nX-Forwarded-Proto: https"

    def test_nobody_is_believed(self):
        self.assertIn("127.0.0.1 http", self.ask(self.HEAD))

    def test_the_proxy_is(self):
        self.stop()
        self.doCleanups()
        with (
            mock.patch.dict("os.environ", {"SKAVIT_HTTPS": "1"}),
            mock.patch.dict(serving._ADJUSTED, clear=True),
        ):
            self.setUp()
            self.assertIn("198.51.100.7 https", self.ask(self.HEAD))


class BodyTest(ServerCase):
    def test_a_body_is_refused_by_its_head(self):
        for cookie, path, most in (
            (b"", b"/login/", bounds.BODY_OF_NOBODY),
            (b"\r\nCookie: sessionid=x", b"/units/1/as-found/keep/", bounds.BODY_OF_A_PERSON),
            (b"\r\nCookie: sessionid=x", b"/units/1/import/", bounds.BODY_OF_A_FILE),
        ):
            with self.subTest(cookie=cookie, path=path, most=most):
                head = b"POST " + path + b" HTTP/1.1\r\nHost: x" + cookie + b"\r\nContent-Length: "
                self.assertIn("413", self.ask(head + str(most + 1).encode()), path)
                self.assertIn(f"{most - 1} bytes", self.ask(head + str(most - 1).encode(), b"x" * (most - 1)), path)

    def test_the_largest_of_too_much_that_is_unfinished_are_closed(self):
        sizes = (500, 100, 300)
        channels = [
            SimpleNamespace(unfinished_bytes=size, handle_close=mock.Mock(), check_sending=mock.Mock())
            for size in sizes
        ]
        server = SimpleNamespace(active_channels=dict(enumerate(channels)))
        with mock.patch.object(serving, "UNFINISHED_BYTES", 450):
            serving.BoundedServer.look_after(server, 0.0)
        self.assertEqual([channel.handle_close.called for channel in channels], [True, False, False])
