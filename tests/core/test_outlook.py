"""The days ahead, and the equipment."""

import numpy as np
import pytest

from core.balance.root_zone import stress_coefficient
from core.irrigation.amount import Bound, irrigation_amount
from core.irrigation.system import IrrigationSystem, SystemKind, SystemProblem
from core.outlook.ahead import days_until_refill


def test_stress_coefficient() -> None:
    """FAO-56 eq. 84: Ks = (TAW - Dr) / (TAW - RAW) past RAW."""
    np.testing.assert_allclose(
        stress_coefficient([0, 40, 70, 100, 130], 100, 40), [1, 1, 0.5, 0, 0]
    )


def test_days_until_refill() -> None:
    usable = np.array([[12, 6, 0, -6], [10, 4, -2, -8], [-1, -5, -9, -12], [9, 8, 7, 6]])
    np.testing.assert_allclose(days_until_refill(usable), [2, 1 + 4 / 6, 0, np.inf])


DRIP = IrrigationSystem(SystemKind.DRIP, 10_000, 0.9, flow_m3_h=20)


def test_rate_from_flow() -> None:
    # 20 m3/h on 1 ha is 2 mm/h.
    assert DRIP.application_rate_mm_h == pytest.approx(2)
    assert not DRIP.moves
    assert irrigation_amount(18, DRIP).hours == pytest.approx(10)


def test_amount_is_held_within_the_sensible_sets() -> None:
    system = IrrigationSystem(
        SystemKind.PIVOT, 10_000, 0.8, rate_mm_h=2, smallest_mm=10, largest_mm=30
    )
    assert system.moves
    small = irrigation_amount(4, system)
    assert (small.gross_mm, small.bound) == (10, Bound.MINIMUM_APPLICATION)
    large = irrigation_amount(60, system)
    assert (large.gross_mm, large.net_mm, large.bound) == (30, 24, Bound.MAXIMUM_APPLICATION)
    assert irrigation_amount(5, system, rain_room_mm=9).gross_mm == 0
    with pytest.raises(ValueError):
        irrigation_amount(-1, system)


@pytest.mark.parametrize(
    "changes, field",
    [
        ({"area_m2": 0}, "area"),
        ({"efficiency": 0}, "efficiency"),
        ({"efficiency": 75}, "efficiency"),
        ({"rate_mm_h": None}, "rate"),
        ({"flow_m3_h": 3}, "rate"),
        ({"rate_mm_h": -2}, "rate"),
        ({"rate_mm_h": None, "flow_m3_h": 0}, "flow"),
        ({"smallest_mm": 20, "largest_mm": 10}, "largest"),
    ],
)
def test_a_system_that_can_not_be_names_its_field(changes: dict, field: str) -> None:
    good = {"kind": SystemKind.DRIP, "area_m2": 1e4, "efficiency": 0.9, "rate_mm_h": 2.0}
    with pytest.raises(SystemProblem) as refused:
        IrrigationSystem(**{**good, **changes})
    assert refused.value.field == field
