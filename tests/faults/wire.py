"""A wire to the database that can be cut, or go dead without a word."""

import contextlib
import socket
import threading
from dataclasses import dataclass, field


@dataclass
class Wire:
    """Carries what comes to ``port`` to the database's port and back.

    cut : everybody is thrown off, and nobody gets through any more
    freeze : nothing is carried, and nobody is told
    """

    to: int
    port: int = 0
    _ends: list[socket.socket] = field(default_factory=list)
    _open: threading.Event = field(default_factory=threading.Event)
    _flows: threading.Event = field(default_factory=threading.Event)

    def start(self) -> None:
        listener = socket.create_server(("127.0.0.1", 0))
        self.port = listener.getsockname()[1]
        self._listener = listener
        self.mend()
        threading.Thread(target=self._accept, daemon=True).start()

    def stop(self) -> None:
        self._open.clear()
        self._listener.close()
        self._drop()

    def cut(self) -> None:
        self._open.clear()
        self._drop()

    def freeze(self) -> None:
        self._flows.clear()

    def mend(self) -> None:
        self._open.set()
        self._flows.set()

    def _drop(self) -> None:
        while self._ends:
            end = self._ends.pop()
            with contextlib.suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)
            end.close()

    def _accept(self) -> None:
        while True:
            try:
                near, _ = self._listener.accept()
            except OSError:
                return
            if not self._open.is_set():
                near.close()
                continue
            try:
                far = socket.create_connection(("127.0.0.1", self.to))
            except OSError:
                near.close()
                continue
            self._ends += [near, far]
            for one, other in ((near, far), (far, near)):
                threading.Thread(target=self._carry, args=(one, other), daemon=True).start()

    def _carry(self, one: socket.socket, other: socket.socket) -> None:
        with contextlib.suppress(OSError):
            while data := one.recv(65536):
                self._flows.wait()
                other.sendall(data)
        for end in (one, other):
            with contextlib.suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)
