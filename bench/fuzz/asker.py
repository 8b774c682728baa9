"""Who sends the inputs, and what is held against each answer."""

import http.client
import time
from collections import Counter
from contextlib import suppress
from dataclasses import dataclass, field
from typing import Any

LONGEST_S = 2.0
CSRF = "a" * 32


@dataclass
class Found:
    """What was answered, and what should not have been."""

    inputs: int = 0
    statuses: Counter[str] = field(default_factory=Counter)
    took: set[str] = field(default_factory=set)
    broke: list[str] = field(default_factory=list)
    slow: list[str] = field(default_factory=list)
    half: list[str] = field(default_factory=list)
    slowest_s: float = 0.0


@dataclass
class Asker:
    """Somebody signed in, on one connection."""

    port: int
    session: str
    found: Found
    connection: http.client.HTTPConnection | None = None

    def send(self, request: Any) -> tuple[int, bytes]:
        """Status and body; 599 and why when the connection was cut."""
        why = ""
        headers = {"Cookie": f"sessionid={self.session}; csrftoken={CSRF}", "X-CSRFToken": CSRF}
        if request.content_type:
            headers["Content-Type"] = request.content_type
        headers |= request.headers_sent()
        for _ in range(2):
            try:
                if self.connection is None:
                    self.connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=90)
                # What is refused by its first line is answered before all of it is sent.
                with suppress(BrokenPipeError):
                    body = request.body or None
                    self.connection.request(request.method, request.path, body, headers)
                answer = self.connection.getresponse()
                return answer.status, answer.read()
            except (OSError, http.client.HTTPException) as error:
                # Closed for being idle, or for a request that is no HTTP; a second try tells.
                why += f" {error!r}"
                self.connection = None
        return 599, why.encode()

    def ask(self, request: Any, operation: str) -> int:
        """Send an input and hold its answer against what must be."""
        found = self.found
        began = time.perf_counter()
        status, body = self.send(request)
        took = time.perf_counter() - began
        found.inputs += 1
        found.statuses[f"{request.of} {status // 100}xx"] += 1
        if status < 300:
            found.took.add(operation)
        found.slowest_s = max(found.slowest_s, took)
        if took > LONGEST_S:
            found.slow.append(f"{took:.1f} s ({status}) {request}")
        # Busy is an answer, if it says when to come again; nothing here makes it busy.
        if status >= 500:
            found.broke.append(f"{status} {body[:160]!r} {request}")
        return status
