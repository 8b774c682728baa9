"""Full points of horizons from those of their sensors, by hand."""

import pytest

from core.learned.full_point import FullPoint
from core.learned.horizon_full import horizon_full
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass

PROFILE = Profile.from_horizons(
    [
        Horizon(0.0, 400.0, texture=TextureClass.LOAM),
        Horizon(400.0, 1000.0, texture=TextureClass.CLAY_LOAM),
    ]
)
POINTS = [
    (200.0, FullPoint(5, 0.30, 0.28, 0.32)),
    (300.0, FullPoint(4, 0.28, 0.26, 0.30)),
    (600.0, FullPoint(3, 0.33, 0.30, 0.36)),
]


def test_sensors_of_a_horizon_count_alike() -> None:
    """0.30 and 0.28 make 0.29; the range of two is that of one, 0.02, by the root of two."""
    upper, lower = horizon_full(PROFILE, POINTS)
    assert (upper.index, upper.top_mm, upper.bottom_mm) == (0, 0.0, 400.0)
    assert upper.seen == pytest.approx(0.29)
    assert upper.low == pytest.approx(0.29 - 0.02 / 2**0.5)
    assert upper.high == pytest.approx(0.29 + 0.02 / 2**0.5)
    assert (upper.sensors, upper.events) == (2, 4)
    assert upper.in_use == PROFILE.theta_full[0]
    assert (lower.seen, lower.low, lower.high) == pytest.approx((0.33, 0.30, 0.36))
    assert (lower.sensors, lower.events) == (1, 3)
    assert upper.can_be_adopted


def test_horizons_without_any_are_left_out() -> None:
    assert [h.index for h in horizon_full(PROFILE, POINTS[2:])] == [1]
    assert horizon_full(PROFILE, []) == []


def test_the_one_in_use_is_not_adopted_again() -> None:
    full = float(PROFILE.theta_full[0])
    (seen,) = horizon_full(PROFILE, [(200.0, FullPoint(5, full + 5e-4, full - 0.02, full + 0.02))])
    assert not seen.can_be_adopted


def test_the_wilting_point_goes_along() -> None:
    """Full 0.269 and wilting 0.131 in use: seen at 0.300, wilting is 0.300 - 0.138. What a sensor
    that reads far too dry shows leaves at least 0.02, and a full point less than 0.01 above that
    is none."""
    (seen,) = horizon_full(PROFILE, [(200.0, FullPoint(5, 0.3, 0.29, 0.31))])
    assert seen.wilt_then == pytest.approx(0.3 - (seen.in_use - seen.wilt))
    assert seen.can_be_adopted
    (dry,) = horizon_full(PROFILE, [(200.0, FullPoint(5, 0.1, 0.09, 0.11))])
    assert dry.wilt_then == 0.02
    assert dry.can_be_adopted
    (none,) = horizon_full(PROFILE, [(200.0, FullPoint(5, 0.025, 0.02, 0.03))])
    assert not none.can_be_adopted
