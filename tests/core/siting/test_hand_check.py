from datetime import date

import numpy as np
import pytest

from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.siting.hand_check import CHECK_EVERY, HandWay, checked, next_check, theta_by_hand
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass

PROFILE = Profile.from_horizons([Horizon(0, 1000, texture=TextureClass.LOAM)])
SITE = Site.from_readings(
    "P",
    InstrumentKind.CAPACITANCE_PROBE,
    [100, 300],
    [-8, -5, -1],
    [[0.20, 0.30], [0.22, np.nan], [0.24, 0.33]],
    PROFILE,
)


def test_a_check_beside_the_nearest_sensor_and_reading():
    near, deep = checked(SITE, -5.5, [120, 290], [0.20, 0.36])
    assert (near.sensor, near.difference) == (0.22, pytest.approx(0.02))
    assert not near.differs
    # The deep sensor was silent then: two and a half hours before it spoke.
    assert (deep.sensor, deep.differs) == (0.30, True)


def test_two_measurements_of_one_soil_may_differ():
    inside, outside = checked(SITE, -1, [100, 300], [0.24 - 0.0399, 0.33 + 0.0401])
    assert (inside.differs, outside.differs) == (False, True)


@pytest.mark.parametrize(
    ("site", "at", "depth"),
    [(None, -1, 100), (SITE, -12, 100), (SITE, -1, 200.5), (SITE, -1, 600)],
)
def test_without_a_sensor_near_in_depth_and_time_nothing_is_told(site, at, depth):
    (only,) = checked(site, at, [depth], [0.2])
    assert np.isnan(only.sensor)
    assert not only.differs


def test_by_feel_is_a_fraction_of_the_available_water():
    wilt, full = float(PROFILE.theta_wilt[0]), float(PROFILE.theta_full[0])
    found = theta_by_hand(HandWay.FEEL, [100, 300], [0.0, 0.5], PROFILE)
    assert found == pytest.approx([wilt, (wilt + full) / 2])
    assert theta_by_hand(HandWay.OVEN_CORE, [100], [0.25], PROFILE) == pytest.approx([0.25])


def test_the_next_check_follows_settling_and_then_the_last_one():
    assert next_check(None, []) is None
    assert next_check(date(2026, 5, 1), []) == date(2026, 5, 1)
    checks = [date(2026, 6, 20), date(2026, 5, 10)]
    assert next_check(date(2026, 5, 1), checks) == date(2026, 6, 20) + CHECK_EVERY
