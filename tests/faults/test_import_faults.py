"""A worker or the database killed in the middle of an import: each reading is there once."""

from collections.abc import Callable, Iterator

import pytest

from tests.faults.conftest import WAITING, Cluster
from tests.faults.forked import Forked
from tests.faults.test_ingest_faults import SET_UP
from tests.waiting import wait_until

ROWS = 60_000
# A file of one channel, uploaded; CHECKED: with its storing queued, in many stretches.
UPLOADED = (
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
print("IMPORT", up.pk, channel.pk)
"""
)
CHECKED = """
running.run_step(up.pk)
services.start_check(access, up.pk)
staging.PART_ROWS = 2_000
running.run_step(up.pk)
services.start_store(access, up.pk, "", None)
"""


@pytest.fixture
def worker(cluster: Cluster) -> Iterator[Callable[..., Forked]]:
    started: list[Forked] = []

    def begin(*options: str) -> Forked:
        command = ["manage.py", "procrastinate", "worker", *options]
        started.append(cluster.forker.start(command, cluster.environment))
        return started[-1]

    yield begin
    for process in started:
        process.kill()


def wait_for(cluster: Cluster, import_id: int, state: str, parts: int) -> tuple[str, int]:
    """The import's state and stored stretches, once it has that state and as many of them."""
    told: tuple[str, int] = ("", 0)

    def there() -> bool:
        nonlocal told
        query = "SELECT state, stored_parts FROM imports_fileimport WHERE id = %s"
        told = cluster.ask(query, import_id)
        assert told[0] != "failed"
        return told[0] == state and told[1] >= parts

    wait_until(there, f"the import to be {state}")
    return told


def test_a_file_outlives_its_worker(cluster: Cluster, worker: Callable[[], Forked]) -> None:
    told = cluster.shell(UPLOADED + CHECKED)
    _, import_id, channel = next(x for x in told.splitlines() if x.startswith("IMPORT")).split()
    first = worker()
    _, parts = wait_for(cluster, int(import_id), "storing", 2)
    first.kill()
    assert 0 < parts < ROWS // 2_000
    held = cluster.ask("SELECT count(*) FROM readings_reading WHERE channel_id = %s", channel)[0]
    assert 0 < held < ROWS
    worker()
    wait_for(cluster, int(import_id), "stored", ROWS // 2_000)
    held = cluster.ask("SELECT count(*) FROM readings_reading WHERE channel_id = %s", channel)[0]
    assert held == ROWS
    new, changed, unchanged = cluster.ask(
        "SELECT new, changed, unchanged FROM readings_readingbatch b JOIN imports_fileimport i "
        "ON i.batch_id = b.id WHERE i.id = %s",
        import_id,
    )
    assert (new, changed, unchanged) == (ROWS, 0, 0)


# An import at each step, none of them queued: that is the workers' own affair.
AT_EVERY_STEP = (
    SET_UP
    + """
from server.farms.access import Access
from server.imports import running, services
from server.imports.models import FileImport
from datetime import datetime, timedelta
access = Access(user, farm, Role.MANAGER)
times = [datetime(2024, 1, 1) + timedelta(minutes=15 * i) for i in range(200)]
steps = [
    ("reading", None), ("checking", services.start_check),
    ("storing", lambda *a: services.start_store(*a, "", None)), ("undoing", services.start_undo),
]
for k, (state, _) in enumerate(steps):
    channel = Channel(instrument=probe, quantity="theta", depth_mm=200 + 100 * k); channel.save()
    rows = "".join(f"{t}Z,{24 + i % 9 * 0.01:.2f}\\n" for i, t in enumerate(times))
    data = f"time,{20 + 10 * k} cm\\n{rows}".encode()
    row = services.upload(access, "a.csv", len(data), [data], probe.pk)
    for _, begin in steps[1 : k + 1]:
        running.run_step(row.pk)
        begin(access, row.pk)
    print("IMPORT", row.pk, channel.pk, FileImport.unscoped.get(pk=row.pk).state)
from django.db import connection
connection.cursor().execute("TRUNCATE procrastinate_jobs CASCADE")
"""
)
DONE = {"reading": "ready", "checking": "checked", "storing": "stored", "undoing": "undone"}
HELD = {"reading": 0, "checking": 0, "storing": 200, "undoing": 0}


@pytest.mark.parametrize("victim", ["worker", "database"])
def test_whatever_is_killed_at_whatever_step(
    cluster: Cluster, worker: Callable[..., Forked], victim: str
) -> None:
    told = cluster.shell(AT_EVERY_STEP)
    imports = [x.split()[1:] for x in told.splitlines() if x.startswith("IMPORT")]
    assert [state for _, _, state in imports] == list(DONE)
    states = "SELECT array_agg(state ORDER BY id), max(problem) FROM imports_fileimport"
    states += f" WHERE id IN ({', '.join(i for i, _, _ in imports)})"

    def all_done() -> bool:
        nonlocal running
        if running.poll() is not None:
            running = worker()  # as the keeper of processes does
        found, problem = cluster.ask(states)
        assert problem == ""
        return found == list(DONE.values())

    with cluster.connect() as in_the_way:
        # Every step looks at what the sensors are; there they all wait, and are killed.
        in_the_way.execute("LOCK TABLE instruments_channel IN ACCESS EXCLUSIVE MODE")
        running = worker("--concurrency", "6")
        wait_until(lambda: cluster.ask(WAITING)[0] >= len(imports), "all four to be under way")
        if victim == "worker":
            running.kill()
        else:
            cluster.stop("immediate")
            cluster.start()
        in_the_way.close()
    wait_until(all_done, "all four to be done")
    for _, channel, state in imports:
        count = "SELECT count(*) FROM readings_reading WHERE channel_id = %s"
        assert cluster.ask(count, channel)[0] == HELD[state]
