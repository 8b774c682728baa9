"""A worker killed while it stores a file: another takes it up, and each reading is there once."""

import os
import signal
import subprocess
import sys
from collections.abc import Callable, Iterator
from typing import Any

import psycopg
import pytest

from tests.faults.conftest import ROOT, Cluster
from tests.faults.test_ingest_faults import SET_UP
from tests.waiting import LONGEST_S, wait_until

ROWS = 60_000
# A checked file of one channel in many stretches, its storing queued.
QUEUE = (
    SET_UP
    + f"""
from server.farms.access import Access
from server.imports import running, services, staging
from server.imports.models import FileImport
from datetime import datetime, timedelta
start = datetime(2024, 1, 1)
times = [start + timedelta(minutes=15 * i) for i in range({ROWS})]
rows = "\\n".join(f"{{t}}Z,{{24 + i % 9 * 0.01:.2f}}" for i, t in enumerate(times))
access = Access(user, farm, Role.MANAGER)
data = ("time,10 cm\\n" + rows).encode()
up = services.upload(access, "long.csv", len(data), [data], probe.pk)
services.start_check(access, up.pk)
staging.PART_ROWS = 2_000
running.run_check(up.pk)
services.start_store(access, up.pk, "", None)
print("IMPORT", up.pk, channel.pk)
"""
)
# The worker is known to be dead at once instead of after its missed heartbeats.
RETRY = """
from django.db import connection
with connection.cursor() as c:
    c.execute("UPDATE procrastinate_workers SET last_heartbeat = now() - interval '1 hour'")
from procrastinate.exceptions import AlreadyEnqueued
from server.jobs.tasks import retry_stalled
try:
    retry_stalled.defer(timestamp=0)
except AlreadyEnqueued:
    pass  # the first worker queued it on its start
"""


@pytest.fixture
def worker(cluster: Cluster) -> Iterator[Callable[[], "subprocess.Popen[bytes]"]]:
    started: list[subprocess.Popen[bytes]] = []

    def start() -> "subprocess.Popen[bytes]":
        process = subprocess.Popen(
            [sys.executable, "manage.py", "procrastinate", "worker"],
            cwd=ROOT,
            env=cluster.environment,
            start_new_session=True,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        started.append(process)
        return process

    yield start
    for process in started:
        if process.poll() is None:
            os.killpg(process.pid, signal.SIGKILL)
            process.wait(LONGEST_S)


def ask(cluster: Cluster, query: str, *values: object) -> Any:
    with psycopg.connect(
        host="127.0.0.1", port=cluster.port, user="furrow", dbname="furrow"
    ) as connection:
        return connection.execute(query, values).fetchone()


def wait_for(cluster: Cluster, import_id: int, state: str, parts: int) -> tuple[str, int]:
    """The import's state and stored stretches, once it has that state and as many of them."""
    told: tuple[str, int] = ("", 0)

    def there() -> bool:
        nonlocal told
        query = "SELECT state, stored_parts FROM imports_fileimport WHERE id = %s"
        told = ask(cluster, query, import_id)
        assert told[0] != "failed"
        return told[0] == state and told[1] >= parts

    wait_until(there, f"the import to be {state}")
    return told


def test_a_file_outlives_its_worker(
    cluster: Cluster, worker: Callable[[], "subprocess.Popen[bytes]"]
) -> None:
    told = cluster.manage("shell", "-v0", stdin=QUEUE)
    _, import_id, channel = next(x for x in told.splitlines() if x.startswith("IMPORT")).split()
    first = worker()
    _, parts = wait_for(cluster, int(import_id), "storing", 2)
    os.killpg(first.pid, signal.SIGKILL)
    first.wait(LONGEST_S)
    assert 0 < parts < ROWS // 2_000
    held = ask(cluster, "SELECT count(*) FROM readings_reading WHERE channel_id = %s", channel)[0]
    assert 0 < held < ROWS
    cluster.manage("shell", "-v0", stdin=RETRY)
    worker()
    wait_for(cluster, int(import_id), "stored", ROWS // 2_000)
    held = ask(cluster, "SELECT count(*) FROM readings_reading WHERE channel_id = %s", channel)[0]
    assert held == ROWS
    new, changed, unchanged = ask(
        cluster,
        "SELECT new, changed, unchanged FROM readings_readingbatch b JOIN imports_fileimport i "
        "ON i.batch_id = b.id WHERE i.id = %s",
        import_id,
    )
    assert (new, changed, unchanged) == (ROWS, 0, 0)
