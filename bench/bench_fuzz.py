"""More than 20,000 bad inputs to the running service: none breaks it, none is half written.

What is sent: requests that schemathesis makes of every operation's description, operations' own
examples with odd things in them, odd addresses and headers, good files of every format after an
accident, batches of loggers after one, and small files made to fill memory. Meanwhile the farm's
pages must open whatever was let in, a refusal must leave no row behind, and at the end every file
is read or refused, every stored batch is whole and the morning comes.
"""

import logging
import os
import random
import time
from collections.abc import Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING, Any

from bench.figures import Figure, run
from bench.fuzz.asker import LONGEST_S, Asker, Found
from bench.service import Service, memory_mb, service

if TYPE_CHECKING:
    from bench.fuzz.farm import FuzzedFarm

SEED = 20260714
INPUTS, PEAK_MB = 20_000, 500.0
# Pages are opened, and the state of the database looked at again, after so many.
LOOK_EVERY = 500


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


def play(
    asker: Asker, inputs: Iterator[tuple[str, Any]], farm: "FuzzedFarm", *, counted: bool
) -> None:
    """Send them all; after each refusal nothing more is there than before, where it is counted."""
    from bench.fuzz.farm import let_in
    from bench.fuzz.written import rows_written

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
            let_in()
            open_pages(asker, farm.good.keys)
            before = rows_written() if counted else {}
    open_pages(asker, farm.good.keys)


@contextmanager
def incidents(found: Found) -> Iterator[None]:
    """What is logged here as failed, among what broke."""
    handler = logging.Handler(logging.ERROR)
    handler.emit = lambda record: found.broke.append(handler.format(record))  # type: ignore[method-assign]
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
            print(f"  {title}: {line[:300]} {line[300:][-300:]}")


def play_all(served: Service, farm: "FuzzedFarm", found: Found) -> None:
    from bench.fuzz.inputs import addresses, bodies, described_inputs, sent_batches

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

        from bench.fuzz.farm import set_up
        from bench.fuzz.inputs import NOT_ASKED, files
        from bench.fuzz.written import morning_comes, settled, torn_batches

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
