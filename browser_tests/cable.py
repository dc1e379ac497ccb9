"""A cable between the browser and the live server, which a test can cut: no emulation, nothing comes through."""

import contextlib
import socket
import threading

CHUNK = 65536


class Cable:
    """Forwards every connection to ``port`` of this machine until it is cut; listens at :attr:`port`."""

    def __init__(self, port):
        self._to = port
        self._whole = True
        self._ends = set()
        self._listening = socket.create_server(("127.0.0.1", 0))
        self.port = self._listening.getsockname()[1]
        threading.Thread(target=self._accept, daemon=True).start()

    def cut(self):
        """End all connections and let no new one through."""
        self._whole = False
        for end in list(self._ends):
            with contextlib.suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)

    def mend(self):
        """Let connections through again."""
        self._whole = True

    def close(self):
        """Stop listening."""
        self.cut()
        self._listening.close()

    def _accept(self):
        while True:
            try:
                near, _ = self._listening.accept()
            except OSError:
                return  # closed
            if not self._whole:
                near.close()
                continue
            far = socket.create_connection(("127.0.0.1", self._to))
            self._ends |= {near, far}
            for one, other in ((near, far), (far, near)):
                threading.Thread(target=self._pump, args=(one, other), daemon=True).start()

    def _pump(self, one, other):
        with contextlib.suppress(OSError):
            while data := one.recv(CHUNK):
                other.sendall(data)
        for end in (one, other):
            with contextlib.suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)
            self._ends.discard(end)
