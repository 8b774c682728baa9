"""Valves opened from afar, with the simulated controller at the application's real door."""

import json
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from django.core.management import call_command
from django.test import Client
from django.utils import timezone

from server.demo.controller import VALVES
from server.farms.models import Farm, Role
from server.valves.models import ValveCommand, ValveController, ValveRun
from server.water.models import Hold, Irrigation
from standins.valve_controller import Controller, Line, change_field
from standins.valve_field import WrongField, read_field, write_field
from tests.server.conftest import Api

HERE = "/farms/thistlewick/valves"
HOUR = 3600.0


class LineWithoutNetwork(Line):
    """The application's door by the test client; ``cut`` while nothing gets through."""

    def __init__(self, token: str) -> None:
        super().__init__("", token)
        self.client = Client(headers={"Authorization": f"Bearer {token}"})
        self.cut = False

    def exchange(self, body: dict[str, Any]) -> dict[str, Any]:
        if self.cut:
            raise TimeoutError
        path = "/api/controller/messages"
        answer = self.client.post(path, json.dumps(body), content_type="application/json")
        assert answer.status_code == 200, answer.content[:500]
        return dict(json.loads(answer.content))


@dataclass
class Yard:
    """The farm's people, its controller, and a clock that goes when it is told to."""

    manager: Api
    controller: Controller
    line: LineWithoutNetwork
    clock: list[datetime]
    path: Path
    ids: dict[int, int] = field(default_factory=dict)

    def wait(self, seconds: float, every: float | None = None) -> None:
        """Let time go by, the controller asking now and then."""
        # Never so seldom that it counts as cut off.
        every = every or min(max(10.0, seconds / 30), 50.0)
        while seconds > 0:
            self.clock[0] += timedelta(seconds=min(every, seconds))
            seconds -= every
            self.ask()

    def ask(self) -> None:
        try:
            self.controller.step()
            # As the process does: what it did is told at once.
            if self.controller.box.answers:
                self.controller.step()
        except TimeoutError:
            assert self.line.cut

    def happen(self, what: str, valve: int | None = None) -> None:
        around = read_field(self.path)
        change_field(around, what, valve)
        write_field(self.path, around)

    def prepare(self, valve: int, minutes: float = 60.0, **more: Any) -> dict[str, Any]:
        body = {"minutes": minutes, **more}
        done: dict[str, Any] = self.manager.post(f"{HERE}/{self.ids[valve]}/openings", body, 201)
        return done

    def open(self, valve: int, minutes: float = 60.0, **more: Any) -> None:
        made = self.prepare(valve, minutes, **more)
        self.manager.post(f"{HERE}/openings/{made['command_id']}/confirm", {})
        self.wait(4, every=2)

    def against(self, valve: int, minutes: float = 60.0) -> str:
        body = {"minutes": minutes}
        said = self.manager.post(f"{HERE}/{self.ids[valve]}/openings", body, 422)
        return " ".join(p["message"] for p in said["problems"])

    def valve(self, number: int) -> dict[str, Any]:
        rows = self.manager.get(HERE)["valves"]
        found: dict[str, Any] = next(v for v in rows if v["number"] == number)
        return found

    def record(self) -> list[tuple[str, str]]:
        return [(e["kind"], e["why"]) for e in self.manager.get(HERE)["record"]][::-1]


@pytest.fixture
def yard(farm: Farm, manager: Api, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Yard:
    clock = [datetime(2026, 9, 1, 12, tzinfo=UTC)]
    monkeypatch.setattr(timezone, "now", lambda: clock[0])
    call_command("demo_clock", rate=1.0)
    call_command("demo_controller", token_file=tmp_path / "token")
    line = LineWithoutNetwork((tmp_path / "token").read_text())
    path = tmp_path / "field.json"
    flows = {v.number: v.flow_ls for v in VALVES}

    def seconds() -> float:
        return clock[0].timestamp()

    controller = Controller(line, path, flows, 6 * HOUR, 60.0, seconds)
    made = Yard(manager, controller, line, clock, path)
    made.ask()
    made.ids = {v["number"]: v["id"] for v in manager.get(HERE)["valves"]}
    return made


def irrigations(yard: Yard, number: int) -> list[Irrigation]:
    block = yard.valve(number)["block_id"]
    rows = Irrigation.unscoped.filter(block=block, note="").order_by("-pk")
    return [r for r in rows if r.status != "planned"]


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


def test_a_valve_locked_out_in_the_field_stays_closed(yard: Yard) -> None:
    # Between the confirmation and the controller's next question somebody locks it out.
    made = yard.prepare(4)
    yard.happen("lock-out", 4)
    yard.manager.post(f"{HERE}/openings/{made['command_id']}/confirm", {})
    yard.wait(6, every=2)
    assert yard.valve(4)["is_open"] is False
    assert ("opening_refused", "locked_out") in yard.record()
    assert "locked out" in yard.against(4)
    yard.happen("unlock", 4)
    yard.wait(4, every=2)
    yard.open(4)
    assert yard.valve(4)["is_open"] is True
    yard.happen("lock-out", 4)
    yard.wait(4, every=2)
    assert yard.valve(4)["is_open"] is False
    assert yard.record()[-2:] == [("locked_out", ""), ("closed", "locked_out")]


def test_no_run_is_longer_than_the_box_allows(yard: Yard) -> None:
    assert "360 min" in yard.against(4, 361)
    # A server gone wrong asks for more all the same.
    yard.open(4, 360)
    yard.controller.box.obey(
        "valve/1/command",
        {"command": str(uuid4()), "do": "open", "run_s": 7 * HOUR, "expires_in_s": 9},
    )
    assert not yard.controller.box.valves[1].open
    assert yard.controller.box.answers[-1][1]["why"] == "too_long"
    yard.wait(6 * HOUR + 10)
    assert yard.valve(4)["is_open"] is False


def test_without_contact_the_box_closes_and_the_page_does_not_guess(yard: Yard) -> None:
    yard.open(4)
    yard.wait(120)
    yard.line.cut = True
    yard.wait(50)
    assert yard.controller.box.valves[4].open
    yard.wait(30)
    assert not yard.controller.box.valves[4].open
    assert yard.valve(4)["silent"]
    watch = yard.manager.get(f"{HERE}/watch")
    assert watch["out_of_contact"] == ["Wick Terrace"]
    assert "no contact" in yard.against(1)
    assert irrigations(yard, 4)[0].status == "running"
    yard.line.cut = False
    yard.wait(10)
    done = irrigations(yard, 4)[0]
    assert done.status == "done"
    # 120 s and 4 s with contact, and the minute without, to the next look at the clock.
    assert done.ended_at - done.started_at == pytest.approx(
        timedelta(seconds=182), abs=timedelta(seconds=11)
    )
    assert yard.record()[-2:] == [("contact_lost", ""), ("closed", "contact_lost")]
    assert yard.manager.get(f"{HERE}/watch")["out_of_contact"] == []


def test_an_application_that_restarts_leaves_a_valve_open_for_a_minute(yard: Yard) -> None:
    yard.open(4)
    yard.line.cut = True
    yard.wait(40)
    yard.line.cut = False
    yard.wait(20)
    assert yard.valve(4)["is_open"] is True
    assert irrigations(yard, 4)[0].status == "running"


def test_a_box_that_restarts_has_closed_what_was_open(yard: Yard) -> None:
    yard.open(4)
    yard.wait(600)
    yard.happen("restart")
    yard.wait(10)
    assert yard.valve(4)["is_open"] is False
    assert yard.record()[-2:] == [("controller_restarted", ""), ("closed", "restart")]
    done = irrigations(yard, 4)[0]
    assert done.status == "done"
    assert done.meter_end_m3 == pytest.approx(12.5 * (604 - 40) / 1000, rel=0.03)
    # Numbered from one again, its events are taken.
    yard.open(4)
    assert yard.valve(4)["is_open"] is True


def test_while_a_demos_clock_stands_valves_run_all_the_same(yard: Yard, farm: Farm) -> None:
    call_command("demo_clock")
    yard.open(4)
    yard.wait(600)
    assert yard.valve(4)["flow_ls"] == pytest.approx(12.5, rel=0.01)
    yard.happen("restart")
    yard.wait(10)
    done = irrigations(yard, 4)[0]
    assert (done.status, done.amount_from) == ("done", "meter")
    assert done.ended_at - done.started_at == timedelta(seconds=1)
    assert [k for k, _ in yard.record()] == [
        "opening_confirmed",
        "opened",
        "controller_restarted",
        "closed",
    ]


def test_an_opening_that_reaches_nobody_lapses(yard: Yard) -> None:
    made = yard.prepare(4)
    yard.line.cut = True
    yard.manager.post(f"{HERE}/openings/{made['command_id']}/confirm", {})
    assert yard.valve(4)["opening"]
    yard.wait(65)
    assert not yard.valve(4)["opening"]
    yard.line.cut = False
    yard.wait(20)
    assert yard.valve(4)["is_open"] is False
    assert ("opening_expired", "") in yard.record()
    assert ValveCommand.unscoped.get(pk=made["command_id"]).state == "expired"


def test_the_emergency_stop_closes_all_until_it_is_released(yard: Yard) -> None:
    yard.open(4)
    yard.open(1)
    # One more was confirmed and not sent yet.
    made = yard.prepare(2)
    yard.manager.post(f"{HERE}/openings/{made['command_id']}/confirm", {})
    stopped = yard.manager.post(f"{HERE}/stop", {})
    assert stopped["stop"]["not_confirmed"] == ["Pump house controller"]
    yard.wait(4, every=2)
    watch = yard.manager.get(f"{HERE}/watch")
    assert (watch["open"], watch["stop"]["not_confirmed"]) == (0, [])
    assert "emergency stop" in yard.against(4)
    yard.wait(10)
    yard.manager._send("delete", f"{HERE}/stop", {}, 200)
    yard.wait(20)
    assert yard.manager.get(f"{HERE}/watch")["open"] == 0
    assert yard.record().count(("closed", "stopped")) == 2
    yard.manager._send("delete", f"{HERE}/stop", {}, 422)
    yard.open(4)
    assert yard.valve(4)["is_open"] is True


def test_a_stop_is_not_confirmed_while_the_box_is_silent(yard: Yard) -> None:
    yard.open(4)
    yard.line.cut = True
    yard.manager.post(f"{HERE}/stop", {})
    yard.wait(30)
    stop = yard.manager.get(f"{HERE}/watch")["stop"]
    assert stop["not_confirmed"] == ["Pump house controller"]


def test_switched_off_everything_closes(yard: Yard) -> None:
    yard.open(4)
    yard.manager.put(f"{HERE}/switch", {"on": False})
    yard.wait(4, every=2)
    assert yard.valve(4)["is_open"] is False


@pytest.mark.parametrize(
    ("what", "fault", "flow_ls"),
    [
        ("burst", "burst", 12.5 * 1.8),
        ("blocked", "blocked", 12.5 * 0.45),
        ("stuck", "not_opened", 0.0),
    ],
)
def test_a_wrong_flow_is_an_alarm_that_says_what_to_do(
    yard: Yard, what: str, fault: str, flow_ls: float
) -> None:
    yard.happen(what, 4)
    yard.open(4)
    yard.wait(110)
    assert yard.manager.get(HERE)["alarms"] == []
    yard.wait(300)
    (alarm,) = yard.manager.get(HERE)["alarms"]
    assert (alarm["fault"], alarm["valve"], alarm["ended_at"]) == (fault, "Wick Terrace", None)
    assert len(alarm["what_to_do"]) > 20
    assert yard.valve(4)["flow_ls"] == pytest.approx(flow_ls, abs=0.1)
    yard.manager.post(f"{HERE}/{yard.ids[4]}/close", {})
    yard.wait(4)
    yard.happen("clear")
    yard.wait(200)
    (alarm,) = yard.manager.get(HERE)["alarms"]
    assert alarm["ended_at"] is not None
    assert "not confirmed" in yard.against(4)
    yard.manager.post(f"{HERE}/alarms/{alarm['id']}/confirm", {})
    assert yard.manager.get(f"{HERE}/watch")["alarms"] == []
    yard.open(4)
    assert yard.valve(4)["is_open"] is True


def test_water_through_a_closed_valve_is_a_leak(yard: Yard) -> None:
    yard.happen("leak", 4)
    yard.wait(400)
    (alarm,) = yard.manager.get(HERE)["alarms"]
    assert (alarm["fault"], alarm["flow_ls"]) == ("leak", pytest.approx(0.75, abs=0.1))


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


def test_what_comes_twice_counts_once(yard: Yard) -> None:
    yard.open(4)
    told = {"id": 1, "kind": "opened", "age_s": 5.0}
    event = {"topic": "valve/4/event", "payload": told}
    yard.line.exchange({"boot": yard.controller.box.boot, "messages": [event, event]})
    assert [k for k, _ in yard.record()].count("opened") == 1
    command = ValveCommand.unscoped.get(kind="open")
    payload = {"command": str(command.key), "do": "open", "run_s": HOUR, "expires_in_s": 9}
    yard.controller.box._close(4, "command")
    yard.controller.box.obey("valve/4/command", payload)
    assert not yard.controller.box.valves[4].open


def test_a_valve_opened_again_without_a_word_of_its_closing(yard: Yard) -> None:
    yard.open(4, 30)
    first = ValveRun.unscoped.get()
    second = ValveCommand.unscoped.get(pk=first.command_id)
    second.pk, second.key = None, uuid4()
    second.save()
    told = {"id": 9, "kind": "opened", "age_s": 0.0, "command": str(second.key)}
    event = {"topic": "valve/4/event", "payload": told}
    yard.line.exchange({"boot": yard.controller.box.boot, "messages": [event]})
    first.refresh_from_db()
    assert first.ended_by == "command"
    assert ValveRun.unscoped.get(closed_at=None).command_id == second.pk


def test_messages_that_cant_be_read_are_named_and_the_others_taken(yard: Yard) -> None:
    messages = [
        {"topic": "valve/x/state", "payload": {}},
        {"topic": "valve/4/state", "payload": {"open": True, "since_s": -1}},
        # A valve that the farm does not have is nobody's business.
        {"topic": "valve/9/state", "payload": {"open": True, "since_s": 1}},
        {"topic": "valve/1/state", "payload": {"open": True, "since_s": 1, "flow_ls": 3.5}},
    ]
    told = yard.line.exchange({"boot": yard.controller.box.boot, "messages": messages})
    assert [(r["place"], r["reason"].split(":")[0]) for r in told["refused"]] == [
        (0, "there is no such topic"),
        (1, "since_s"),
    ]
    assert yard.valve(4)["is_open"] is False
    assert (yard.valve(1)["is_open"], yard.valve(1)["flow_ls"]) == (True, 3.5)


def test_only_its_own_token_lets_a_controller_in(yard: Yard, farm: Farm) -> None:
    body, kind = {"boot": "b", "messages": []}, "application/json"
    wrong = Client(headers={"Authorization": "Bearer efv_wrong"})
    assert wrong.post("/api/controller/messages", body, content_type=kind).status_code == 401
    box = ValveController.objects.for_farm(farm).get()
    yard.manager._send("delete", f"{HERE}/controllers/{box.pk}/token", {}, 200)
    gone = yard.line.client.post("/api/controller/messages", body, content_type=kind)
    assert gone.status_code == 401
    assert "no contact" in yard.against(4)
    issued = yard.manager.post(f"{HERE}/controllers/{box.pk}/token", {})
    again = Client(headers={"Authorization": f"Bearer {issued['token']}"})
    assert again.post("/api/controller/messages", body, content_type=kind).status_code == 200


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
