"""What a set costs beside what the roots keep, by hand and by drawing."""

import numpy as np
import pytest

from core.advice.cost_of_set import cost_of_set, wetting_mm
from core.advice.latest_start import taken_loss


def test_what_a_wetting_loses_by_cover_and_by_the_ground_that_is_wet() -> None:
    """1 mm under full cover; 4 mm more, by the share of the sun on bare soil, 1.1 - Kc."""
    found = wetting_mm(np.array([1.15, 0.6, 0.0]), np.array([1.0, 1.0, 0.5]))
    assert found == pytest.approx([1.0, 1 + 4 * 0.5, 0.5 * 5.0])


def test_a_known_depletion_is_filled_up() -> None:
    found = cost_of_set(np.array([30.0]), np.array([0.0]), np.array([3.0]))
    assert found.left_out_mm == pytest.approx([0.0])
    assert found.cost == pytest.approx([0.1])


def test_doubt_leaves_room_and_costs() -> None:
    """30 mm missing +- 10: with one spread left out 0.083 sigma is lost of 20 mm, so that
    (0.833 + 2) / (20 - 0.833) = 0.148; with 0.75, 1.312 of 22.5: 0.156; with 1.25, 0.506: 0.147;
    with 1.5, 0.293 of 15: 0.156. The values of the normal loss function are from memory of
    inventory tables (0.1312, 0.0833, 0.0506, 0.0293)."""
    found = cost_of_set(np.array([30.0]), np.array([10.0]), np.array([2.0]))
    assert found.left_out_mm == pytest.approx([12.5])
    assert found.cost == pytest.approx([(0.506 + 2) / (17.5 - 0.506)], abs=2e-4)


def test_what_is_lost_is_what_drawn_fields_lose() -> None:
    rng = np.random.default_rng(4)
    missing = rng.normal(40, 15, 200_000)
    found = cost_of_set(np.array([40.0]), np.array([15.0]), np.array([3.0]))
    given = 40 - found.left_out_mm[0]
    over = np.maximum(given - missing, 0.0).mean()
    assert found.cost[0] == pytest.approx((over + 3) / (given - over), rel=0.01)


def test_nothing_is_left_out_where_no_set_would_be_worth_its_while() -> None:
    found = cost_of_set(np.array([4.0, 0.0]), np.array([20.0, 5.0]), np.array([2.0, 2.0]))
    assert found.left_out_mm == pytest.approx([0.0, 0.0])
    assert found.cost == pytest.approx([1.0, 1.0])


def test_a_dear_set_may_cost_more_transpiration_within_bounds() -> None:
    cost, no = np.array([0.01, 0.08, 1.0]), np.zeros(3, bool)
    assert taken_loss(cost, no) == pytest.approx([0.03, 0.1, 0.15])
    assert taken_loss(cost, ~no) == pytest.approx([0.015, 0.05, 0.075]), "half when critical"
