"""More than 20,000 bad inputs to the running service: none breaks it, none is half written.

What is sent: requests that schemathesis makes of every operation's description, operations' own
examples with odd things in them, odd addresses and headers, good files of every format after an
accident, batches of loggers after one, and small files made to fill memory. Meanwhile the farm's
pages must open whatever was let in, a refusal must leave no row behind, and at the end every file
is read or refused, every stored batch is whole and the morning comes.
"""

import http.client
import json
import logging
import os
import random
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field
from datetime import timedelta
from typing import TYPE_CHECKING, Any

from bench.figures import Figure, run
from bench.service import Service, memory_mb, service

if TYPE_CHECKING:
    from tests.fuzz.good import Good

SEED = 20260714
EACH = {"described": 60, "body": 110, "address": 10, "ingest": 2_000, "file": 500}
INPUTS, LONGEST_S, PEAK_MB = 20_000, 2.0, 500.0
# Pages are opened, and the state of the database looked at again, after so many.
LOOK_EVERY = 500
SETTLED_S = 600.0
# Enough that none sends more than a logger may.
DEVICES = 40
SLUG = "thistlewick"
# They would end the session that the rest is asked with; the demo's door has a test of its own.
NOT_ASKED = {"sign_out", "demo_sign_in"}
# Written by asking alone: what is kept of answers, tries to sign in, jobs.
BY_ASKING = ("advice_", "django_", "procrastinate_", "accounts_", "readings_reading_")


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


CSRF = "a" * 32


def described_inputs(keys: dict[str, list[Any]]) -> Iterator[tuple[str, Any]]:
    from tests.fuzz.described import described, every_operation, name_of

    for operation in every_operation():
        name = name_of(operation)
        if name not in NOT_ASKED:
            for request in described(operation, keys, EACH["described"] // 2):
                yield name, request


def bodies(good: "Good", chance: random.Random) -> Iterator[tuple[str, Any]]:
    """Bodies that are taken, and the smallest and largest of the description, with odd things
    in them."""
    from tests.fuzz.bodies import mutated
    from tests.fuzz.request import Request, filled
    from tests.server.minimal import body_of, operations

    for method, path, operation in operations():
        name = operation["operationId"]
        kind, _ = body_of(operation)
        if kind != "application/json" or name in NOT_ASKED | {"ingest"}:
            continue
        for number in range(EACH["body"]):
            body = good.body(name, number) if number % 3 else None
            if body is None:
                _, body = body_of(operation, whole=number % 2 == 0)
            values = {k: chance.choice(v) for k, v in good.keys.items()}
            # The first are as they should be.
            text = json.dumps(body) if number < 3 else mutated(body, chance)
            address = filled(path, values)
            yield name, Request("body", method.upper(), address, text.encode(), kind)


def addresses(keys: dict[str, list[Any]], chance: random.Random) -> Iterator[tuple[str, Any]]:
    from tests.fuzz.addresses import odd_address
    from tests.server.minimal import operations

    for method, path, operation in operations():
        if operation["operationId"] in NOT_ASKED:
            continue
        for _ in range(EACH["address"]):
            values = {
                p["name"]: chance.choice(keys[p["name"]])
                for p in operation.get("parameters", [])
                if p["in"] == "path" and p["name"] in keys
            }
            yield operation["operationId"], odd_address(method, path, operation, values, chance)


def sent_batches(farm: "Farm", chance: random.Random) -> Iterator[tuple[str, Any]]:
    from tests.fuzz.batches import batches, packed

    for request in batches(farm.tokens, farm.channels, EACH["ingest"], chance):
        yield "ingest", request
    for request in packed(farm.tokens[0]):
        yield "ingest", request


def files(instrument_id: int, chance: random.Random) -> Iterator[tuple[str, Any]]:
    from tests.fuzz.bombs import files as bombs
    from tests.fuzz.files import FORMATS, broken, sent

    for kind in FORMATS:
        yield kind.name, sent(kind, kind.good(), SLUG, instrument_id)
        for _ in range(EACH["file"]):
            yield kind.name, sent(kind, broken(kind, chance), SLUG, instrument_id)
    for kind, data in bombs():
        yield f"{kind.name}, bomb", sent(kind, data, SLUG, instrument_id)


@dataclass
class Farm:
    """The farm that all is sent to, and what is known of its database."""

    session: str
    tokens: list[str]
    good: "Good"
    channels: list[int]
    instrument_id: int
    batches_before: int


def set_up() -> Farm:
    from django.test import Client

    from server.demo.people import demo_user
    from server.devices.services import make_device
    from server.farms.access import Access
    from server.farms.models import Farm as FarmModel
    from server.farms.models import Role
    from server.instruments.models import Channel
    from server.readings.models import ReadingBatch
    from tests.fuzz.good import good
    from tests.server.existing import add_one_of_each

    farm = FarmModel.objects.get(slug=SLUG)
    add_one_of_each(farm)
    user = demo_user(Role.MANAGER)
    assert user is not None
    client = Client()
    client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
    of_probe = Channel.objects.for_farm(farm).filter(instrument__kind="capacitance_probe")
    channels = list(of_probe.order_by("pk").values_list("pk", flat=True)[:4])
    access = Access(user, farm, Role.MANAGER)
    tokens = [make_device(access, f"Fuzz {k}", []).token for k in range(DEVICES)]
    known = good(farm)
    probe = of_probe.order_by("pk").values_list("instrument_id", flat=True)[0]
    last = ReadingBatch.unscoped.order_by("-pk").values_list("pk", flat=True).first() or 0
    return Farm(client.cookies["sessionid"].value, tokens, known, channels, probe, last)


def rows_written() -> dict[str, int]:
    """Rows of every table that asking alone does not write."""
    from django.apps import apps
    from django.db import connection

    tables = sorted(
        t
        for t in (m._meta.db_table for m in apps.get_models())
        if not t.startswith(BY_ASKING) and t != "readings_reading"
    )
    query = ", ".join(f'(SELECT count(*) FROM "{t}")' for t in tables)  # noqa: S608
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT {query}")
        return dict(zip(tables, cursor.fetchone(), strict=True))


def open_pages(asker: Asker, keys: dict[str, list[Any]]) -> None:
    """Every page of the farm opens, whatever was let in."""
    from tests.fuzz.request import Request
    from tests.fuzz.request import filled as filled_in
    from tests.server.minimal import operations, query_of

    for method, path, operation in operations():
        required = query_of(operation)
        if method != "get" or required or path.startswith("/api/ingest"):
            continue
        values = {k: v[0] for k, v in keys.items()}
        status, body = asker.send(Request("page", "GET", filled_in(path, values)))
        if status >= 500:
            asker.found.broke.append(f"page {path}: {status} {body[:200]!r}")


def play(asker: Asker, inputs: Iterator[tuple[str, Any]], farm: Farm, *, counted: bool) -> None:
    """Send them all; after each refusal nothing more is there than before, where it is counted."""
    before = rows_written() if counted else {}
    for number, (operation, request) in enumerate(inputs):
        status = asker.ask(request, operation)
        if counted and request.method != "GET":
            after = rows_written()
            if status >= 400 and after != before:
                more = {t: (before[t], n) for t, n in after.items() if n != before[t]}
                asker.found.half.append(f"{status} left {more}: {request}")
            before = after
        if number % LOOK_EVERY == LOOK_EVERY - 1:
            open_pages(asker, farm.good.keys)
            before = rows_written() if counted else {}
    open_pages(asker, farm.good.keys)


def settled(found: Found) -> int:
    """Files still under way when all had time enough; what is wrong of the rest is told."""
    from server.imports.models import BUSY, FileImport

    until = time.monotonic() + SETTLED_S
    while time.monotonic() < until:
        left: int = FileImport.unscoped.filter(state__in=BUSY).count()
        if not left:
            break
        time.sleep(1)
    for row in FileImport.unscoped.filter(problem__contains="incident"):
        found.broke.append(f"file {row.pk} {row.file_name}: {row.problem}")
    states = Counter(FileImport.unscoped.values_list("state", flat=True))
    print("files:", dict(states))
    return left


def torn_batches(since: int) -> list[str]:
    """Batches whose readings are not those that they say they brought."""
    from django.db import connection

    query = """
        SELECT b.id, b.new, b.changed, count(r.batch_id) FROM readings_readingbatch b
        LEFT JOIN readings_reading r ON r.batch_id = b.id
        WHERE b.id > %s GROUP BY b.id HAVING count(r.batch_id) > b.new + b.changed
    """
    with connection.cursor() as cursor:
        cursor.execute(query, [since])
        return [f"batch {row}" for row in cursor.fetchall()]


def morning_comes() -> None:
    """The morning, over all that was let in; what goes wrong with a block is an incident."""
    from server.advice.record import record_day
    from server.advice.stored import refresh
    from server.farms.models import Farm as FarmModel
    from server.today.tasks import send_mornings

    farm = FarmModel.objects.get(slug=SLUG)
    refresh(farm)
    record_day(farm, farm.now() + timedelta(days=1))
    send_mornings(farm)


@contextmanager
def incidents(found: Found) -> Iterator[None]:
    """What is logged here as failed, among what broke."""
    handler = logging.Handler(logging.ERROR)
    handler.emit = lambda record: found.broke.append(record.getMessage())  # type: ignore[method-assign]
    logging.getLogger("server").addHandler(handler)
    try:
        yield
    finally:
        logging.getLogger("server").removeHandler(handler)


def tell(found: Found) -> None:
    for status, count in sorted(found.statuses.items()):
        print(f"  {status}: {count}")
    for title, lines in (("broke", found.broke), ("slow", found.slow), ("half", found.half)):
        for line in lines[:40]:
            print(f"  {title}: {line[:600]}")


def play_all(served: Service, farm: Farm, found: Found) -> None:
    chance = random.Random(SEED)
    asker = Asker(served.port, farm.session, found)
    parts = (
        ("described", described_inputs(farm.good.keys)),
        ("body", bodies(farm.good, chance)),
        ("address", addresses(farm.good.keys, chance)),
        ("ingest", sent_batches(farm, chance)),
    )
    for name, inputs in parts:
        began = time.perf_counter()
        play(asker, inputs, farm, counted=True)
        took, peak = time.perf_counter() - began, memory_mb(served.web.pid)
        print(f"{name}: {found.inputs} inputs so far, {took:.0f} s, {peak:.0f} MB", flush=True)


def measure() -> list[Figure]:
    from tests.template import copied

    with copied("fuzz") as name:
        os.environ |= {
            "FURROW_DB_NAME": name,
            "DJANGO_SETTINGS_MODULE": "server.settings",
            "FURROW_HOSTS": "127.0.0.1,localhost",
            "FURROW_DEMO": "1",
        }
        import django

        django.setup()
        from django.db import connection

        found = Found()
        try:
            farm = set_up()
            # Without a worker first: what is written then is a request's own doing.
            with service(worker=False) as served:
                play_all(served, farm, found)
                peak = memory_mb(served.web.pid)
                found.broke += served.incidents()
            with service() as served:
                asker = Asker(served.port, farm.session, found)
                chance = random.Random(SEED)
                play(asker, files(farm.instrument_id, chance), farm, counted=False)
                stuck = settled(found)
                peak = max(peak, memory_mb(served.web.pid))
                open_pages(asker, farm.good.keys)
                found.broke += served.incidents()
            found.half += torn_batches(farm.batches_before)
            with incidents(found):
                morning_comes()
        finally:
            connection.close()
            connection.close_pool()  # type: ignore[attr-defined]
        tell(found)
        from tests.server.minimal import operations

        every = {o["operationId"] for _, _, o in operations()} - NOT_ASKED
        print("took nothing:", ", ".join(sorted(every - found.took)))
        return [
            Figure("fuzz: inputs", found.inputs, "", INPUTS, "at least"),
            Figure("fuzz: answers above 499, pages that do not open", len(found.broke), "", 0),
            Figure("fuzz: slowest answer", found.slowest_s, "s", LONGEST_S),
            Figure("fuzz: half written or left under way", len(found.half) + stuck, "", 0),
            Figure("fuzz: web process", peak, "MB", PEAK_MB),
        ]


if __name__ == "__main__":
    run(measure)
