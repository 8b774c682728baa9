"""Valves opened from afar: what their flow tells, and what speaks against opening one."""

from dataclasses import replace

import pytest

from core.valves.flow_check import SETTLES_S, WHAT_TO_DO, FlowFault, flow_fault
from core.valves.opening import ValveNow, against_opening, is_silent

FREE = ValveNow(
    control_on=True,
    stopped=False,
    heard_s_ago=2.0,
    contact_s=60.0,
    longest_s=4 * 3600.0,
    is_open=False,
    locked_out=False,
)


@pytest.mark.parametrize(
    ("is_open", "flow_ls", "expected"),
    [
        # Of 10 L/s: 12.5 and 7.5 are still right, a tenth of it is no flow.
        (True, 10.0, None),
        (True, 12.5, None),
        (True, 12.6, FlowFault.BURST),
        (True, 7.5, None),
        (True, 7.4, FlowFault.BLOCKED),
        (True, 1.0, FlowFault.BLOCKED),
        (True, 0.9, FlowFault.NOT_OPENED),
        (True, 0.0, FlowFault.NOT_OPENED),
        # Closed: 2 % of the flow is 0.2 L/s.
        (False, 0.0, None),
        (False, 0.2, None),
        (False, 0.21, FlowFault.LEAK),
    ],
)
def test_flow_beside_what_is_expected(
    is_open: bool, flow_ls: float, expected: FlowFault | None
) -> None:
    assert flow_fault(is_open, 600.0, flow_ls, 10.0) is expected


def test_while_a_line_fills_its_flow_tells_nothing() -> None:
    assert flow_fault(True, SETTLES_S - 1, 0.0, 10.0) is None
    assert flow_fault(True, SETTLES_S, 0.0, 10.0) is FlowFault.NOT_OPENED
    assert flow_fault(False, SETTLES_S - 1, 5.0, 10.0) is None


def test_without_a_meter_nothing_is_said() -> None:
    assert flow_fault(True, 600.0, None, 10.0) is None
    assert flow_fault(False, 600.0, None, 10.0) is None


def test_without_an_expected_flow_only_none_and_a_leak_are_told() -> None:
    assert flow_fault(True, 600.0, 80.0, None) is None
    assert flow_fault(True, 600.0, 0.05, None) is FlowFault.NOT_OPENED
    assert flow_fault(False, 600.0, 0.05, None) is None
    assert flow_fault(False, 600.0, 0.06, None) is FlowFault.LEAK


def test_each_fault_says_what_to_do() -> None:
    assert set(WHAT_TO_DO) == set(FlowFault)


def test_a_free_valve_may_be_opened() -> None:
    assert against_opening(FREE, 3600.0) == []
    assert against_opening(FREE, 4 * 3600.0) == []


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"control_on": False}, "switched off"),
        ({"stopped": True}, "emergency stop"),
        ({"heard_s_ago": 61.0}, "no contact"),
        ({"heard_s_ago": None}, "no contact"),
        ({"is_open": None}, "has not told"),
        ({"is_open": True}, "open already"),
        ({"locked_out": True}, "locked out"),
        ({"on_hold": True}, "on hold"),
        ({"fault": FlowFault.BURST}, "not confirmed"),
    ],
)
def test_each_reason_by_itself_keeps_a_valve_closed(change: dict[str, object], said: str) -> None:
    (only,) = against_opening(replace(FREE, **change), 3600.0)  # type: ignore[arg-type]
    assert said in only


def test_every_reason_is_told_at_once() -> None:
    worst = replace(FREE, stopped=True, locked_out=True, on_hold=True)
    assert len(against_opening(worst, 5 * 3600.0)) == 4


def test_no_run_is_longer_than_the_controller_allows() -> None:
    (only,) = against_opening(FREE, 4 * 3600.0 + 1)
    assert "240 min" in only
    assert against_opening(replace(FREE, longest_s=None), 1e6) == []
    assert len(against_opening(FREE, 0.0)) == 1


def test_contact_is_lost_after_the_time_that_the_controller_waits() -> None:
    assert not is_silent(60.0, 60.0)
    assert is_silent(60.1, 60.0)
    assert is_silent(None, 60.0)
