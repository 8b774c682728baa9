"""What the simulated box holds by itself, whatever it is told."""

from typing import Any

import pytest

from standins.valve_box import Box, BoxValve
from standins.valve_field import Fault, Field

WELL = Field()


def box() -> Box:
    return Box({1: BoxValve(10.0), 2: BoxValve(5.0)}, "boot", longest_s=3600.0, contact_s=60.0)


def ask(of: Box, number: int = 1, key: str = "a", **more: Any) -> dict[str, Any]:
    payload = {"command": key, "do": "open", "run_s": 600.0, "expires_in_s": 30.0, **more}
    of.obey(f"valve/{number}/command", payload)
    return of.answers[-1][1]


def kinds(of: Box) -> list[tuple[str, Any]]:
    return [(e["kind"], e.get("why")) for e in of.events]


def test_it_opens_for_as_long_as_it_was_asked() -> None:
    one = box()
    assert ask(one) == {"command": "a", "done": True}
    one.pass_time(599.0, 0.0, WELL)
    assert one.valves[1].open
    one.pass_time(5.0, 0.0, WELL)
    assert not one.valves[1].open
    assert kinds(one) == [("opened", None), ("closed", "run_time")]
    # It closed when its time was over, not when it was looked at.
    ages = [m["payload"]["age_s"] for m in one.messages() if m["topic"] == "valve/1/event"]
    assert ages == [604.0, 4.0]


def test_no_water_is_counted_after_its_time() -> None:
    one = box()
    ask(one)
    one.pass_time(1000.0, 0.0, WELL)
    closed = one.events[-1]
    # 600 s at 10 L/s less 40 s for the line.
    assert closed["volume_m3"] == pytest.approx(5.6, rel=0.01)


def test_its_flow_fills_the_line_and_is_counted_exactly() -> None:
    one, often = box(), box()
    for of in (one, often):
        ask(of)
    one.pass_time(300.0, 0.0, WELL)
    for _ in range(30):
        often.pass_time(10.0, 0.0, WELL)
    assert one.valves[1].volume_m3 == pytest.approx(often.valves[1].volume_m3)
    # 300 s at 10 L/s less 40 s for the line.
    assert one.valves[1].volume_m3 == pytest.approx(2.6, rel=0.01)


@pytest.mark.parametrize(
    ("more", "why"),
    [
        ({"run_s": 3601.0}, "too_long"),
        ({"run_s": 0.0}, "too_long"),
        ({"expires_in_s": 0.0}, "too_late"),
        ({"number": 3}, "no_valve"),
    ],
)
def test_what_it_refuses(more: dict[str, Any], why: str) -> None:
    one = box()
    assert ask(one, **more) == {"command": "a", "done": False, "why": why}
    assert not one.events


def test_stopped_it_closes_all_and_opens_nothing() -> None:
    one = box()
    ask(one, 1, "a")
    ask(one, 2, "b")
    one.stop(True)
    assert kinds(one)[2:] == [("closed", "stopped"), ("closed", "stopped")]
    assert ask(one, 1, "c")["why"] == "stopped"
    one.stop(False)
    assert not any(v.open for v in one.valves.values())
    assert ask(one, 1, "d")["done"]


def test_locked_out_it_closes_and_stays_closed() -> None:
    one = box()
    ask(one, 1, "a")
    ask(one, 2, "b")
    one.pass_time(1.0, 0.0, Field(locked_out={1}))
    assert (one.valves[1].open, one.valves[2].open) == (False, True)
    assert ask(one, 1, "c")["why"] == "locked_out"
    one.pass_time(1.0, 0.0, WELL)
    assert not one.valves[1].open


def test_without_contact_it_closes_after_its_time_and_not_before() -> None:
    one = box()
    ask(one)
    one.pass_time(10.0, 60.0, WELL)
    assert one.valves[1].open
    one.pass_time(1.0, 60.1, WELL)
    assert kinds(one)[-1] == ("closed", "contact_lost")


def test_a_command_is_done_once_and_answered_each_time() -> None:
    one = box()
    ask(one)
    one.obey("valve/1/command", {"command": "z", "do": "close", "expires_in_s": 9.0})
    assert ask(one) == {"command": "a", "done": True}
    assert not one.valves[1].open
    assert [t for t, _ in one.answers] == ["valve/1/answer"] * 3


def test_events_are_told_until_they_are_confirmed() -> None:
    one = box()
    ask(one, 1, "a")
    ask(one, 2, "b")
    one.told(answers=1, events_until=1)
    assert [e["id"] for e in one.events] == [2]
    assert len(one.answers) == 1


def test_each_fault_shows_in_the_flow() -> None:
    flows = {}
    for fault in Fault:
        one = box()
        if fault is not Fault.LEAK:
            ask(one)
        one.pass_time(300.0, 0.0, Field(faults={1: fault}))
        flows[fault] = round(one.valves[1].flow_ls, 2)
    assert flows == {
        Fault.BURST: pytest.approx(18.0, rel=0.01),
        Fault.BLOCKED: pytest.approx(4.5, rel=0.01),
        Fault.STUCK: 0.0,
        Fault.LEAK: pytest.approx(0.6, rel=0.01),
    }
