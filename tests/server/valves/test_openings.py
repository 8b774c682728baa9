"""Valves opened from afar: who may, what is confirmed, and what the log says of it."""

from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest
from django.test import Client

from server.farms.models import Farm, Role
from server.valves.models import ValveRun
from server.water.models import Hold, Irrigation
from standins.valve_controller import change_field
from standins.valve_field import WrongField, read_field
from tests.server.conftest import Api
from tests.server.valves.conftest import HERE, HOUR, Yard, irrigations


def test_a_valve_opens_only_once_a_person_has_confirmed(yard: Yard) -> None:
    made = yard.prepare(4, 60)
    assert made["block"] == "Wick Terrace"
    assert made["expected_m3"] == pytest.approx(12.5 * 3.6)
    yard.wait(20)
    assert yard.valve(4)["is_open"] is False
    yard.manager.post(f"{HERE}/openings/{made['command_id']}/confirm", {})
    assert yard.valve(4)["opening"]
    yard.wait(4, every=2)
    now = yard.valve(4)
    assert (now["is_open"], now["opening"]) == (True, False)
    assert now["closes_in_s"] == pytest.approx(3598, abs=4)
    # Confirmed again, as by a second press: nothing new.
    yard.manager.post(f"{HERE}/openings/{made['command_id']}/confirm", {})
    yard.wait(300)
    assert yard.valve(4)["flow_ls"] == pytest.approx(12.5, rel=0.01)
    assert ValveRun.unscoped.count() == 1


def test_what_ran_is_in_the_log_without_being_typed(yard: Yard) -> None:
    before = len(irrigations(yard, 4))
    yard.open(4, 60)
    running = irrigations(yard, 4)[0]
    assert (running.status, len(irrigations(yard, 4))) == ("running", before + 1)
    yard.wait(HOUR)
    assert yard.valve(4)["is_open"] is False
    done = irrigations(yard, 4)[0]
    assert (done.pk, done.status, done.amount_from) == (running.pk, "done", "meter")
    hours = (done.ended_at - done.started_at) / timedelta(hours=1)
    assert hours == pytest.approx(1, abs=0.01)
    # An hour at 12.5 L/s, less what fills the line: 12.5 x 40 s.
    m3 = 12.5 * (3600 - 40) / 1000
    assert done.meter_end_m3 == pytest.approx(m3, rel=0.005)
    assert done.gross_mm == pytest.approx(m3 / 41.0 / 1000 * 1000, rel=0.005)
    assert yard.record() == [
        ("opening_confirmed", ""),
        ("opened", ""),
        ("closed", "run_time"),
    ]


def test_a_scheduled_irrigation_is_the_one_that_runs(yard: Yard, farm: Farm) -> None:
    block = yard.valve(4)["block_id"]
    start = farm.now() + timedelta(hours=2)
    row = Irrigation(
        block_id=block,
        status="planned",
        started_at=start,
        ended_at=start + timedelta(hours=3),
        gross_mm=3.3,
        planned_start_at=start,
        planned_gross_mm=3.3,
    )
    row.save()
    assert [s["id"] for s in yard.manager.get(HERE)["scheduled"] if s["block_id"] == block] == [
        row.pk
    ]
    yard.open(4, 180, irrigation_id=row.pk)
    row.refresh_from_db()
    assert row.status == "running"
    yard.manager.post(f"{HERE}/{yard.ids[4]}/close", {})
    yard.wait(10)
    row.refresh_from_db()
    assert row.status == "done"
    assert row.gross_mm < 0.1
    assert yard.record()[-2:] == [("closing_asked", ""), ("closed", "command")]
    said = yard.manager.post(
        f"{HERE}/{yard.ids[4]}/openings", {"minutes": 60, "irrigation_id": row.pk}, 422
    )
    assert "not scheduled" in said["message"]


def test_valves_of_one_block_share_its_irrigation(yard: Yard) -> None:
    yard.open(2, 60)
    yard.open(3, 30)
    first = irrigations(yard, 2)[0]
    assert {r.irrigation_id for r in ValveRun.unscoped.all()} == {first.pk}
    yard.wait(0.75 * HOUR)
    first.refresh_from_db()
    assert first.status == "running"
    yard.wait(0.5 * HOUR)
    first.refresh_from_db()
    assert first.status == "done"
    litres = 26.7 * (3600 - 40) + 26.7 * (1800 - 40)
    assert first.meter_end_m3 == pytest.approx(litres / 1000, rel=0.005)


def test_a_confirmation_is_a_persons_own_and_in_time(yard: Yard, as_role: Any) -> None:
    made = yard.prepare(4)
    other = as_role(Role.IRRIGATOR)
    other.post(f"{HERE}/openings/{made['command_id']}/confirm", {}, 404)
    yard.wait(61, every=30)
    said = yard.manager.post(f"{HERE}/openings/{made['command_id']}/confirm", {}, 422)
    assert "too much time" in said["message"]
    assert yard.valve(4)["opening"] is False


@pytest.mark.parametrize("role", [Role.VIEWER, Role.SCOUT, Role.ADVISER])
def test_who_does_not_work_there_opens_nothing_but_may_stop(
    yard: Yard, as_role: Any, role: Role
) -> None:
    yard.open(4)
    person = as_role(role)
    person.post(f"{HERE}/{yard.ids[1]}/openings", {"minutes": 5}, 403)
    person.post(f"{HERE}/{yard.ids[4]}/close", {}, 403)
    person.put(f"{HERE}/switch", {"on": False}, 403)
    assert person.post(f"{HERE}/stop", {})["stop"]["by"] is not None
    person._send("delete", f"{HERE}/stop", {}, 403)
    yard.wait(4, every=2)
    assert yard.valve(4)["is_open"] is False


def test_an_irrigator_opens_but_sets_nothing_up(yard: Yard, as_role: Any) -> None:
    irrigator = as_role(Role.IRRIGATOR)
    irrigator.post(f"{HERE}/{yard.ids[4]}/openings", {"minutes": 5}, 201)
    irrigator.put(f"{HERE}/switch", {"on": False}, 403)
    irrigator.post(f"{HERE}/controllers", {"name": "Mine"}, 403)


def test_a_real_farm_opens_nothing_before_it_is_switched_on(stranger: Api) -> None:
    here = "/farms/barrow/valves"
    assert stranger.get(here)["on"] is False
    issued = stranger.post(f"{here}/controllers", {"name": "Box"}, 201)
    valve = {"controller_id": issued["controller"]["id"], "number": 1, "name": "V1"}
    made = stranger.post(here, valve, 201)["valves"][0]
    said = stranger.post(f"{here}/{made['id']}/openings", {"minutes": 5}, 422)
    assert "switched off" in said["problems"][0]["message"]
    said = stranger.put(f"{here}/switch", {"on": True}, 422)
    assert said["problems"][0]["field"] == "cautions_read"
    assert stranger.put(f"{here}/switch", {"on": True, "cautions_read": True})["on"]
    # Whatever its controller is told before: to be stopped.
    client = Client(headers={"Authorization": f"Bearer {issued['token']}"})
    stranger.put(f"{here}/switch", {"on": False})
    body = {"boot": "b1", "messages": []}
    answer = client.post("/api/controller/messages", body, content_type="application/json")
    assert answer.json()["messages"] == [{"topic": "controller/stop", "payload": {"stopped": True}}]


def test_a_block_on_hold_is_not_opened(yard: Yard, farm: Farm) -> None:
    now = farm.now()
    Hold(
        block_id=yard.valve(4)["block_id"],
        kind="spray",
        starts_at=now,
        ends_at=now + timedelta(hours=8),
    ).save()
    assert "on hold" in yard.against(4)


def test_what_comes_up_before_the_confirmation_counts(yard: Yard, farm: Farm) -> None:
    made, now = yard.prepare(4), farm.now()
    Hold(
        block_id=yard.valve(4)["block_id"],
        kind="spray",
        starts_at=now,
        ends_at=now + timedelta(hours=8),
    ).save()
    said = yard.manager.post(f"{HERE}/openings/{made['command_id']}/confirm", {}, 422)
    assert "on hold" in said["problems"][0]["message"]
    yard.wait(10)
    assert yard.valve(4)["is_open"] is False


def test_a_valve_is_described_and_removed_while_it_is_closed(yard: Yard) -> None:
    box = yard.manager.get(HERE)["controllers"][0]["id"]
    taken = {"controller_id": box, "number": 1, "name": " "}
    said = yard.manager.post(HERE, taken, 422)
    assert {p["field"] for p in said["problems"]} == {"name", "number"}
    own = yard.valve(4)
    same = {k: own[k] for k in ("controller_id", "number", "name", "block_id", "expected_ls")}
    changed = yard.manager.put(f"{HERE}/{own['id']}", {**same, "expected_ls": 11.0})
    assert next(v for v in changed["valves"] if v["id"] == own["id"])["is_open"] is False
    moved = yard.manager.put(f"{HERE}/{own['id']}", {**same, "number": 7})
    assert next(v for v in moved["valves"] if v["id"] == own["id"])["is_open"] is None
    yard.manager.put(f"{HERE}/{own['id']}", same)
    yard.wait(2)
    yard.open(4)
    assert "open" in yard.manager.put(f"{HERE}/{own['id']}", same, 422)["message"]
    yard.manager._send("delete", f"{HERE}/{own['id']}", {}, 422)
    yard.manager.post(f"{HERE}/{own['id']}/close", {})
    yard.wait(4, every=2)
    left = yard.manager._send("delete", f"{HERE}/{own['id']}", {}, 200)
    assert own["id"] not in {v["id"] for v in left["valves"]}
    assert ("opened", "") in yard.record()


def test_a_field_that_cant_be_read_says_so(tmp_path: Path) -> None:
    path = tmp_path / "field.json"
    path.write_text("{")
    with pytest.raises(WrongField, match="Delete it"):
        read_field(path)
    path.unlink()
    with pytest.raises(WrongField, match="--valve"):
        change_field(read_field(path), "burst", 9)
