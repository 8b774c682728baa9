"""A hundred people on board and other pages while forty loggers send, on this machine alone.

A farm of 300 blocks behind the real server and a worker, as `./furrow serve` runs them. Each person
opens a page, looks at it for 5 s on average and opens the next; each logger sends every 15 s, sixty
times as often as loggers do. Limits: 95 of 100 answers in under 500 ms, no error, no web process
above 500 MB. Beside it, in the same run, a static file of the board's weight: what the machine and
the server can do at all.
"""

import http.client
import json
import os
import random
import secrets
import threading
import time
from collections import defaultdict
from collections.abc import Callable
from contextlib import ExitStack
from dataclasses import dataclass, field
from datetime import timedelta
from functools import partial
from pathlib import Path

from bench.bench_board import many_blocks
from bench.database import bench_database
from bench.figures import Figure, run
from bench.service import ROOT, memory_mb, service

PEOPLE, THINK_S = 100, 5.0
LOGGERS, EVERY_S = 40, 15.0
WARM_S, MEASURED_S = 20.0, 60.0
P95_MS, STATIC_P95_MS, PEAK_MB = 500.0, 500.0, 500.0
# Who opens a block opens one of those on top of the board, three times of four.
URGENT, MOST_URGENT = 0.75, 20
# Half of what people open is the board.
PAGES = ("board", "board", "board", "board", "block", "block", "water", "instruments")


@dataclass
class Tally:
    """What came of the requests, by what was asked for."""

    taken_s: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    errors: list[str] = field(default_factory=list)
    measuring: bool = False

    def p95_ms(self, *kinds: str) -> float:
        every = sorted(t for k in kinds or self.taken_s for t in self.taken_s[k])
        return 1000 * every[int(0.95 * len(every))] if every else float("nan")


@dataclass
class Visitor:
    """Somebody with a connection that is kept open."""

    port: int
    tally: Tally
    headers: dict[str, str]
    connection: http.client.HTTPConnection | None = None
    chance: random.Random = field(default_factory=random.Random)

    def ask(self, kind: str, path: str, body: bytes | None = None) -> None:
        began = time.perf_counter()
        try:
            status = self._status(path, body)
        except OSError as error:
            status, self.connection = repr(error), None
        if not self.tally.measuring:
            return
        if status != 200:
            self.tally.errors.append(f"{kind}: {status}")
        self.tally.taken_s[kind].append(time.perf_counter() - began)

    def _status(self, path: str, body: bytes | None) -> object:
        for again in (True, False):
            if self.connection is None:
                self.connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=60)
            try:
                method = "GET" if body is None else "POST"
                self.connection.request(method, path, body, self.headers)
                answer = self.connection.getresponse()
                answer.read()
                return answer.status
            except (http.client.RemoteDisconnected, ConnectionResetError, BrokenPipeError):
                # The server closes what was idle; a browser opens another.
                self.connection = None
                if not again:
                    raise
        return None


def person(visitor: Visitor, slug: str, blocks: list[int], stop: threading.Event) -> None:
    chance = visitor.chance
    base = f"/api/farms/{slug}"
    stop.wait(chance.uniform(0, THINK_S))
    while not stop.is_set():
        page = chance.choice(PAGES)
        if page == "block":
            urgent = chance.random() < URGENT
            block = chance.choice(blocks[:MOST_URGENT] if urgent else blocks)
            visitor.ask("block", f"{base}/blocks/{block}")
            visitor.ask("series", f"{base}/blocks/{block}/series")
        else:
            visitor.ask(page, f"{base}/{page}")
        stop.wait(chance.expovariate(1 / THINK_S))


def reader(visitor: Visitor, stop: threading.Event) -> None:
    chance = visitor.chance
    stop.wait(chance.uniform(0, THINK_S))
    while not stop.is_set():
        visitor.ask("static", "/bench.bin")
        stop.wait(chance.expovariate(1 / THINK_S))


def logger(visitor: Visitor, channels: list[int], start_us: float, stop: threading.Event) -> None:
    at = start_us
    stop.wait(visitor.chance.uniform(0, EVERY_S))
    while not stop.is_set():
        series = [
            {"channel": c, "unit": "m3/m3", "times": [at], "values": [0.24]} for c in channels
        ]
        body = json.dumps({"batch": secrets.token_hex(6), "series": series}).encode()
        visitor.ask("ingest", "/api/ingest", body)
        at += 60.0
        stop.wait(EVERY_S)


def as_device(token: str) -> dict[str, str]:
    return {"Authorization": f"Bearer {token}", "Content-Type": "application/json"}


def load(tally: Tally, workers: list[Callable[[threading.Event], None]]) -> None:
    """Let all of them work for as long as is measured."""
    stop = threading.Event()
    threads = [threading.Thread(target=work, args=(stop,), daemon=True) for work in workers]
    for thread in threads:
        thread.start()
    time.sleep(WARM_S)
    tally.measuring = True
    time.sleep(MEASURED_S)
    tally.measuring = False
    stop.set()
    for thread in threads:
        thread.join(60)


def measure() -> list[Figure]:
    with bench_database(), ExitStack() as stack:
        from django.test import Client

        from server.accounts.demo_people import demo_user
        from server.advice.stored import refresh
        from server.blocks.models import Block
        from server.devices.services import add_device
        from server.farms.access import Access
        from server.farms.models import Role
        from server.instruments.models import Instrument

        farm = many_blocks()
        refresh(farm)
        user = demo_user(Role.MANAGER)
        assert user is not None
        client = Client()
        client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
        session = client.cookies["sessionid"].value
        access = Access(user, farm, Role.MANAGER)
        probes = (
            Instrument.objects.for_farm(farm)
            .filter(kind="capacitance_probe")
            .prefetch_related("channels")[:LOGGERS]
        )
        channels = [[c.pk for c in p.channels.all() if c.quantity == "theta"] for p in probes]
        tokens = [add_device(access, f"L{k}", []).token for k in range(len(channels))]
        by_urgency = Block.objects.for_farm(farm).order_by("stored_answer__late", "name")
        blocks = list(by_urgency.values_list("pk", flat=True))
        board = client.get(f"/api/farms/{farm.slug}/board", headers={"Accept-Encoding": "gzip"})
        start = (farm.now() - timedelta(hours=2)).timestamp()

        dist = Path(os.environ.get("FURROW_WEB_DIST", ROOT / "web" / "dist"))
        static = dist / "public" / "bench.bin"
        static.write_bytes(os.urandom(len(board.content)))
        stack.callback(static.unlink)
        served = stack.enter_context(service())
        port = served.port
        signed_in = {"Cookie": f"sessionid={session}", "Accept-Encoding": "gzip"}

        still, tally = Tally(), Tally()
        load(still, [partial(reader, Visitor(port, still, {})) for _ in range(PEOPLE)])
        people = [
            partial(person, Visitor(port, tally, signed_in), farm.slug, blocks)
            for _ in range(PEOPLE)
        ]
        loggers = [
            partial(logger, Visitor(port, tally, as_device(token)), of, start)
            for token, of in zip(tokens, channels, strict=True)
        ]
        load(tally, [*people, *loggers])
        for kind, taken in sorted(tally.taken_s.items()):
            taken.sort()
            print(
                f"{kind}: {len(taken)} answers, {1000 * taken[len(taken) // 2]:.0f} ms half, "
                f"{tally.p95_ms(kind):.0f} ms 95 %, {1000 * taken[-1]:.0f} ms at most"
            )
        for error in tally.errors[:10]:
            print("error:", error)
        asked = [k for k in tally.taken_s if k != "ingest"]
        return [
            Figure("load: static file, 95 % in", still.p95_ms(), "ms", STATIC_P95_MS),
            Figure("load: pages of 100 people, 95 % in", tally.p95_ms(*asked), "ms", P95_MS),
            Figure("load: 40 loggers, 95 % in", tally.p95_ms("ingest"), "ms", P95_MS),
            Figure("load: errors", len(tally.errors) + len(still.errors), "", 0),
            Figure("load: web process", memory_mb(served.web.pid), "MB", PEAK_MB),
        ]


if __name__ == "__main__":
    run(measure)
