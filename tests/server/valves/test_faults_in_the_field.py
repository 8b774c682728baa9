"""Valves that are locked out, silent, stopped, or whose flow is not what it should be."""

from datetime import timedelta
from uuid import uuid4

import pytest
from django.core.management import call_command

from server.farms.models import Farm
from server.valves.models import ValveCommand
from tests.server.valves.conftest import HERE, HOUR, Yard, irrigations


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
