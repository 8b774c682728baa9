"""A step of an import that was broken off, at whatever point: taken up, or told and tried again."""

import os
from collections.abc import Iterator
from datetime import timedelta
from typing import Any

import psycopg
import pytest
from django.db import OperationalError, connection
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateJob

from server.base.hold import held
from server.farms.models import Membership
from server.imports import running, services, staging, tasks
from server.imports.models import BUSY, FileImport, FilePiece, ImportState
from server.imports.tidy import KEPT, drop_forgotten
from server.readings.models import Reading
from tests.server.test_imports import BASE, GOOD, Bench, bench  # noqa: F401
from tests.waiting import wait_until

# Where a person goes on from when a step can't be done.
BACK = {
    ImportState.READING: "failed",
    ImportState.CHECKING: "ready",
    ImportState.STORING: "failed",
    ImportState.UNDOING: "stored",
}


def at_work(bench: Bench, state: ImportState) -> FileImport:  # noqa: F811
    """An import whose step is to be done, with no job that would do it."""
    path = f"{BASE}/imports"
    if state is ImportState.READING:
        bench.api.upload(path, "a.csv", GOOD, status=202, instrument_id=bench.probe["id"])
    else:
        up = bench.upload(GOOD)
        path = f"{path}/{up['summary']['id']}"
        if state is not ImportState.CHECKING:
            bench.check(up)
        if state is ImportState.UNDOING:
            bench.store(up)
        word = {"checking": "check", "storing": "store", "undoing": "undo"}[state]
        bench.api.post(f"{path}/{word}", {}, status=202)
    assert jobs() == 1
    forget_jobs()
    row = FileImport.unscoped.get()
    assert row.state == state
    return row


def jobs() -> int:
    return ProcrastinateJob.objects.filter(status="todo", task_name="imports.step").count()


def forget_jobs() -> None:
    with connection.cursor() as cursor:
        cursor.execute("DELETE FROM procrastinate_jobs")


@pytest.mark.parametrize("state", BUSY)
def test_a_step_that_nobody_does_is_queued_again_and_done(
    bench: Bench,  # noqa: F811
    state: ImportState,
) -> None:
    row = at_work(bench, state)
    tasks.take_up(0)
    # Asked again before a worker came: once is enough.
    tasks.take_up(0)
    assert jobs() == 1
    bench.run_jobs()
    row.refresh_from_db()
    done = {"reading": "ready", "checking": "checked", "storing": "stored", "undoing": "undone"}
    assert (row.state, row.problem) == (done[state], "")
    tasks.take_up(0)
    assert jobs() == 0


@pytest.fixture
def elsewhere() -> Iterator[Any]:
    """A connection of another worker's."""
    with psycopg.connect(
        host=os.environ["FURROW_DB_HOST"],
        port=os.environ["FURROW_DB_PORT"],
        user="furrow",
        password=os.environ["FURROW_DB_PASSWORD"],
        dbname=connection.settings_dict["NAME"],
        autocommit=True,
    ) as other:
        yield other


def test_a_step_at_work_is_left_alone_until_its_worker_is_gone(
    bench: Bench,  # noqa: F811
    elsewhere: Any,
) -> None:
    row = at_work(bench, ImportState.CHECKING)
    elsewhere.execute(
        "SELECT pg_advisory_lock(hashtextextended('import-' || %s, 0))", [str(row.pk)]
    )
    tasks.take_up(0)
    assert jobs() == 0
    running.run_step(row.pk)
    row.refresh_from_db()
    assert (row.state, row.attempts) == ("checking", 0)
    elsewhere.close()

    def taken_up() -> bool:
        tasks.take_up(0)
        return jobs() == 1

    # The server notices in its own time that the connection is gone.
    wait_until(taken_up, "the lock to end with its connection")


def test_the_hold_is_let_go_whatever_happens(bench: Bench, elsewhere: Any) -> None:  # noqa: F811
    ask = "SELECT pg_try_advisory_lock(hashtextextended('import-' || %s, 0))"
    with pytest.raises(ZeroDivisionError), held("import-7") as mine:
        assert mine
        assert elsewhere.execute(ask, ["7"]).fetchone() == (False,)
        raise ZeroDivisionError
    assert elsewhere.execute(ask, ["7"]).fetchone() == (True,)
    with held("import-7") as mine:
        assert not mine


@pytest.mark.parametrize("state", BUSY)
def test_a_step_that_broke_off_three_times_waits_for_a_person(
    bench: Bench,  # noqa: F811
    state: ImportState,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    row = at_work(bench, state)

    def gone(row: FileImport) -> None:
        raise OperationalError("the server closed the connection")

    monkeypatch.setattr(running, "_WORK", dict.fromkeys(BUSY, gone))
    for attempt in (1, 2, 3):
        with pytest.raises(OperationalError):
            running.run_step(row.pk)
        row.refresh_from_db()
        assert (row.state, row.attempts, row.problem) == (state, attempt, "")
    running.run_step(row.pk)
    row.refresh_from_db()
    assert row.state == BACK[state]
    assert "failed 3 times" in row.problem
    monkeypatch.undo()
    word = {"failed": "store", "ready": "check", "stored": "undo"}[row.state]
    if state is ImportState.READING:
        # Saying whose it is has it read anew.
        word = "guess"
    bench.api.post(
        f"{BASE}/imports/{row.pk}/{word}", {"instrument_id": bench.probe["id"]}, status=202
    )
    bench.run_jobs()
    row.refresh_from_db()
    assert (row.problem, row.attempts) == ("", 1)
    assert row.state not in (*BUSY, "failed")


def test_a_fault_of_ours_is_told_with_its_number(
    bench: Bench,  # noqa: F811
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    row = at_work(bench, ImportState.CHECKING)
    monkeypatch.setattr(staging, "add_staged", lambda *_: 1 / 0)
    running.run_step(row.pk)
    row.refresh_from_db()
    assert row.state == "ready"
    assert "incident" in row.problem
    assert not staging.is_staged(row.pk)


@pytest.fixture
def half_stored(bench: Bench, monkeypatch: pytest.MonkeyPatch) -> FileImport:  # noqa: F811
    """An import of three stretches whose worker died in the second."""
    monkeypatch.setattr(staging, "PART_ROWS", 3)
    row = at_work(bench, ImportState.STORING)
    real, calls = running.store_readings, []

    def dies(*args: Any) -> Any:
        calls.append(1)
        if len(calls) == 2:
            raise SystemExit
        return real(*args)

    monkeypatch.setattr(running, "store_readings", dies)
    with pytest.raises(SystemExit):
        running.run_step(row.pk)
    monkeypatch.setattr(running, "store_readings", real)
    row.refresh_from_db()
    assert (row.state, row.stored_parts, row.done) == ("storing", 1, 3)
    return row


def test_another_worker_goes_on_where_one_died(bench: Bench, half_stored: FileImport) -> None:  # noqa: F811
    running.run_step(half_stored.pk)
    half_stored.refresh_from_db()
    assert (half_stored.state, half_stored.done, half_stored.batch.new) == ("stored", 8, 8)
    assert len(bench.stored()) == 8


def test_what_was_staged_is_lost_with_the_database_and_read_again(
    bench: Bench,  # noqa: F811
    half_stored: FileImport,
) -> None:
    """The staging table is not logged: PostgreSQL empties it when it was killed."""
    with connection.cursor() as cursor:
        cursor.execute(f"TRUNCATE imports_staged_{half_stored.pk}")
    running.run_step(half_stored.pk)
    half_stored.refresh_from_db()
    batch = half_stored.batch
    assert (half_stored.state, half_stored.done, batch.new, batch.unchanged) == ("stored", 8, 8, 0)
    assert len(bench.stored()) == 8


def test_a_worker_that_dies_after_the_last_reading_has_only_to_say_so(
    bench: Bench,  # noqa: F811
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    row = at_work(bench, ImportState.STORING)
    real = running.drop_file

    def dies(row: FileImport) -> None:
        real(row)
        raise SystemExit

    monkeypatch.setattr(running, "drop_file", dies)
    with pytest.raises(SystemExit):
        running.run_step(row.pk)
    monkeypatch.setattr(running, "drop_file", real)
    running.run_step(row.pk)
    row.refresh_from_db()
    assert (row.state, len(bench.stored())) == ("stored", 8)


def test_whoever_left_the_farm_takes_nothing_back(bench: Bench) -> None:  # noqa: F811
    row = at_work(bench, ImportState.UNDOING)
    Membership.objects.filter(user=row.step_by, farm=row.farm).delete()
    running.run_step(row.pk)
    row.refresh_from_db()
    assert row.state == "stored"
    assert row.problem
    assert len(bench.stored()) == 8


def test_an_import_is_not_dropped_while_it_is_stored(bench: Bench) -> None:  # noqa: F811
    row = at_work(bench, ImportState.STORING)
    answer = bench.api.client.delete(f"/api{BASE}/imports/{row.pk}")
    assert answer.status_code == 422
    assert FileImport.unscoped.exists()


def test_a_farm_keeps_so_much_and_no_more(
    bench: Bench,  # noqa: F811
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(services, "FARM_BYTES", 2 * len(GOOD))
    bench.bring_in(GOOD)
    bench.upload(GOOD)
    dropped = bench.upload(GOOD)
    answer = bench.api.upload(f"{BASE}/imports", "a.csv", GOOD, status=422)
    assert "Store or drop" in answer["message"]
    bench.api.client.delete(f"/api{BASE}/imports/{dropped['summary']['id']}")
    bench.upload(GOOD)


def test_a_file_that_nobody_stores_is_let_go(bench: Bench) -> None:  # noqa: F811
    stored = bench.bring_in(GOOD)["summary"]["id"]
    kept, forgotten, broken = (bench.upload(GOOD)["summary"]["id"] for _ in range(3))
    late = timezone.now() - KEPT - timedelta(hours=1)
    rows = FileImport.unscoped
    rows.exclude(pk=kept).update(made_at=late)
    batch = rows.get(pk=stored).batch
    rows.filter(pk=stored).update(batch=None)
    rows.filter(pk=broken).update(state="failed", batch=batch)
    assert drop_forgotten() == 2
    assert set(rows.values_list("pk", flat=True)) == {stored, kept, broken}
    assert set(FilePiece.unscoped.values_list("file_import", flat=True)) == {kept}
    assert forgotten not in rows.values_list("pk", flat=True)
    assert Reading.unscoped.filter(batch=batch).count() == 8


def test_a_file_that_could_not_be_read_is_read_again(bench: Bench) -> None:  # noqa: F811
    """Whose it is may be left open, as on the upload."""
    up = bench.upload(b"just words\n1\n")
    assert up["summary"]["state"] == "failed"
    path = f"{BASE}/imports/{up['summary']['id']}"
    assert "could not be read" in bench.api.post(f"{path}/check", {}, status=422)["message"]
    FilePiece.unscoped.update(data=GOOD)
    bench.api.post(f"{path}/guess", {}, status=202)
    bench.run_jobs()
    again = bench.api.get(path)
    assert (again["summary"]["state"], again["instrument"]) == ("ready", None)
    assert again["preview"]["sampled"] == 3
