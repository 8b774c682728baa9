"""Jobs of whoever runs the water, and what he reports: into the log, once, in whatever order."""

from collections.abc import Callable
from datetime import timedelta
from typing import Any
from uuid import uuid4

import pytest

from server.blocks.models import Block
from server.farms.models import Farm, Role
from server.plan.jobs import alarms
from server.plan.models import FieldReport, RunSheet
from server.water.models import Irrigation
from tests.server.conftest import Api

JOBS = "/farms/thistlewick/jobs"


@pytest.fixture(autouse=True)
def nothing_planned_yet(farm: Farm) -> None:
    RunSheet.objects.for_farm(farm).delete()


@pytest.fixture
def tam(as_role: Any) -> Api:
    found: Api = as_role(Role.IRRIGATOR)
    return found


@pytest.fixture
def scheduled(farm: Farm, block: Block) -> Irrigation:
    """4.2 mm/h for four hours on 9 ha: 16.8 mm, from an hour ago."""
    start = farm.now() - timedelta(hours=1)
    row = Irrigation(
        block=block,
        status="planned",
        started_at=start,
        ended_at=start + timedelta(hours=4),
        gross_mm=16.8,
        planned_start_at=start,
        planned_gross_mm=16.8,
    )
    row.save()
    return row


def report(row: Irrigation, kind: str, minutes_ago: float, **more: Any) -> dict[str, Any]:
    return {
        "key": str(uuid4()),
        "irrigation_id": row.pk,
        "kind": kind,
        "at": "2020-01-01T00:00:00Z",
        "age_seconds": minutes_ago * 60,
        **more,
    }


def send(person: Api, *reports: dict[str, Any]) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = person.post(f"{JOBS}/reports", {"reports": list(reports)})
    return found


def test_a_job_is_started_and_stopped_by_the_meter(
    tam: Api, farm: Farm, scheduled: Irrigation
) -> None:
    """By the phone's own watch, whatever its clock says; 1,260 m3 on 9 ha are 14 mm."""
    (job,) = [j for j in tam.get(JOBS)["jobs"] if j["id"] == scheduled.pk]
    assert (job["block"], job["running"]) == ("Quern Field", False)
    assert job["flow_m3_h"] == pytest.approx(378)
    assert job["volume_m3"] == pytest.approx(16.8 * 90)
    start = report(scheduled, "start", 50, meter_m3=100.0, pressure_kpa=320)
    stop = report(scheduled, "stop", 5, meter_m3=1360.0, why="rain", note="heavy shower")
    assert [r["taken"] for r in send(tam, start, stop)] == [True, True]
    scheduled.refresh_from_db()
    now = farm.now()
    assert scheduled.status == "done"
    assert scheduled.started_at == now - timedelta(minutes=50)
    assert scheduled.ended_at == now - timedelta(minutes=5)
    assert scheduled.gross_mm == pytest.approx(14.0)
    assert scheduled.note == "heavy shower"
    kept = FieldReport.objects.for_farm(farm).get(kind="start")
    assert (kept.pressure_kpa, kept.made_by.name) == (320, "Tam Orrowby")
    # 14 of 16.8 mm: cut short, and told.
    found = {(a.alarm, a.irrigation_id) for a in alarms(farm, now)}
    assert ("cut short", scheduled.pk) in found


def test_a_report_that_comes_again_is_taken_once(
    tam: Api, farm: Farm, scheduled: Irrigation
) -> None:
    start = report(scheduled, "start", 50)
    assert send(tam, start)[0] == {
        "key": start["key"],
        "taken": True,
        "repeated": False,
        "message": "",
        "problems": [],
    }
    assert send(tam, start)[0]["repeated"]
    assert FieldReport.objects.for_farm(farm).count() == 1


def test_what_cant_be_is_refused_and_keeps_no_other_out(
    tam: Api, farm: Farm, scheduled: Irrigation
) -> None:
    answers = send(
        tam,
        report(scheduled, "stop", 5, why="finished"),
        report(scheduled, "start", 50 * 24 * 60 * 0.7),
        report(scheduled, "start", 50),
        report(scheduled, "stop", 5),
        report(scheduled, "stop", 70, why="wind"),
        {**report(scheduled, "start", 0), "irrigation_id": 10**7},
    )
    assert [a["taken"] for a in answers] == [False, False, True, False, False, False]
    said = [a["message"] + " ".join(p["message"] for p in a["problems"]) for a in answers]
    assert "only a running one can be stopped" in said[0]
    assert "more than a month old" in said[1]
    assert "Choose why it was stopped." in said[3]
    assert "It ends before it starts." in said[4]
    assert "no such irrigation" in said[5]
    scheduled.refresh_from_db()
    assert scheduled.status == "running"
    assert FieldReport.objects.for_farm(farm).count() == 1


def test_who_may_not_log_water_may_look(as_role: Any, scheduled: Irrigation) -> None:
    viewer = as_role(Role.VIEWER)
    assert viewer.get(JOBS)["jobs"]
    viewer.post(f"{JOBS}/reports", {"reports": [report(scheduled, "start", 5)]}, 403)


def test_an_irrigator_has_his_own_blocks_and_nobodys(
    tam: Api, manager: Api, farm: Farm, scheduled: Irrigation
) -> None:
    other = Block.objects.for_farm(farm).get(name="Quern Field")
    assert other.irrigator is not None
    assert scheduled.pk in {j["id"] for j in tam.get(JOBS)["jobs"]}
    other.irrigator = None
    other.save()
    assert scheduled.pk in {j["id"] for j in tam.get(JOBS)["jobs"]}
    other.irrigator_id = farm.memberships.get(role=Role.MANAGER).user_id
    other.save()
    assert scheduled.pk not in {j["id"] for j in tam.get(JOBS)["jobs"]}
    assert scheduled.pk in {j["id"] for j in manager.get(JOBS)["jobs"]}


def test_what_did_not_begin_or_end_is_told(manager: Api, farm: Farm, scheduled: Irrigation) -> None:
    """Half an hour's grace either way."""
    now = farm.now()

    def told() -> set[str]:
        found = manager.get("/farms/thistlewick/run-sheet")["alarms"]
        return {a["alarm"] for a in found if a["irrigation_id"] == scheduled.pk}

    assert told() == {"not started"}
    Irrigation.unscoped.filter(pk=scheduled.pk).update(started_at=now - timedelta(minutes=29))
    assert told() == set()
    Irrigation.unscoped.filter(pk=scheduled.pk).update(
        status="running",
        started_at=now - timedelta(hours=5),
        ended_at=now - timedelta(minutes=31),
    )
    assert told() == {"overrun"}
    Irrigation.unscoped.filter(pk=scheduled.pk).update(ended_at=now - timedelta(minutes=29))
    assert told() == set()


def test_what_was_cut_short_is_planned_again(
    tam: Api, manager: Api, farm: Farm, scheduled: Irrigation, run_jobs: Callable[[], list[str]]
) -> None:
    """Where a run sheet is in use, another plan is proposed."""
    manager.post("/farms/thistlewick/run-sheet/plan", {}, 202)
    run_jobs()
    send(tam, report(scheduled, "start", 50), report(scheduled, "stop", 5, why="breakdown"))
    waiting = RunSheet.objects.for_farm(farm).get(status="waiting")
    assert waiting.asked_by is None
    run_jobs()
    assert manager.get("/farms/thistlewick/run-sheet")["proposal"] is not None


def test_without_a_run_sheet_nothing_is_planned(
    tam: Api, farm: Farm, scheduled: Irrigation
) -> None:
    send(tam, report(scheduled, "start", 50), report(scheduled, "stop", 5, why="breakdown"))
    assert not RunSheet.objects.for_farm(farm).exists()
