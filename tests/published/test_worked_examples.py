"""Worked examples, redone by hand: from readings to a deficit and to hours."""

import numpy as np
import pytest

from core.instrument.sensor_layers import sensor_layers
from core.irrigation.amount import irrigation_amount
from core.irrigation.system import IrrigationSystem, SystemKind
from core.soil.horizon import Horizon, LimitMethod
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from core.store.deficit import layer_parts, root_zone_deficit
from core.units import (
    M2_PER_ACRE,
    M2_PER_HECTARE,
    M3_PER_US_GALLON,
    MM_PER_FOOT,
    MM_PER_INCH,
    water_depth_mm,
    water_volume_m3,
)


def measured(bottom_mm: float, full: float, wilt: float) -> Horizon:
    return Horizon(
        0,
        bottom_mm,
        texture=TextureClass.LOAM,
        method=LimitMethod.MEASURED,
        points=((33, full), (1500, wilt)),
    )


def test_foot_by_foot() -> None:
    """Four feet of a soil that holds 2.0 inches a foot, found at 90, 80, 60 and 50 percent of
    available: short by 0.2 + 0.4 + 0.8 + 1.0 = 2.4 inches (common practice, no source)."""
    profile = Profile.from_horizons([measured(4 * MM_PER_FOOT, 0.30, 0.30 - 2 / 12)])
    depth = np.array([6, 18, 30, 42]) * MM_PER_INCH
    left = np.array([0.9, 0.8, 0.6, 0.5])
    theta = 0.30 - (1 - left) * 2 / 12
    parts = layer_parts(profile, depth, theta, 4 * MM_PER_FOOT)
    by_foot = parts.deficit_mm.sum(axis=-1) / MM_PER_INCH
    np.testing.assert_allclose(by_foot, [0.2, 0.4, 0.8, 1.0], atol=1e-9)
    total = root_zone_deficit(profile, depth, theta[None, :], np.array([4 * MM_PER_FOOT]))
    assert total.deficit_mm[0] / MM_PER_INCH == pytest.approx(2.4)


def test_a_45_cm_sample_speaks_for_30_to_60_cm() -> None:
    """Common practice, no source: with 15 and 45 cm the lower one covers as far again."""
    top, bottom = sensor_layers([150, 450])
    assert (top[1], bottom[1]) == (300, 600)


def test_tension_site() -> None:
    """One tensiometer at 30 cm reads 60 kPa in a soil with 0.27 at 33 kPa and 0.12 at 1500.

    By hand: B = ln(1500/33) / ln(0.27/0.12) = 3.8167 / 0.81093 = 4.7066;
    ln A = ln 33 + B ln 0.27 = 3.49651 - 6.16246 = -2.66595;
    theta = exp((-2.66595 - ln 60) / 4.7066) = exp(-1.43634) = 0.2378;
    left = (0.2378 - 0.12) / 0.15 = 0.785;
    in 40 cm of roots, available 400 x 0.15 = 60 mm, short by 60 x 0.215 = 12.9 mm.
    """
    profile = Profile.from_horizons([measured(1000, 0.27, 0.12)])
    theta = profile.theta_from_tension(np.array([60.0]), profile.horizon_at([300]))
    assert theta[0] == pytest.approx(0.2378, abs=5e-5)
    deficit = root_zone_deficit(profile, [300], theta[None, :], np.array([400.0]))
    assert deficit.deficit_mm[0] == pytest.approx(12.9, abs=0.05)


def test_hours_of_a_set() -> None:
    """18 mm net at 75 % efficiency is 24 mm gross; at 3.8 mm/h that runs 6 h 19;
    on 2 ha it is 480 m3 (arithmetic)."""
    system = IrrigationSystem(SystemKind.SOLID_SET, 20_000, 0.75, rate_mm_h=3.8)
    amount = irrigation_amount(18, system)
    assert amount.gross_mm == pytest.approx(24)
    assert amount.hours == pytest.approx(6.3158, abs=1e-4)
    assert amount.volume_m3 == pytest.approx(480)


def test_exact_units() -> None:
    """An inch on an acre is 27,154 US gallons; a millimetre on a hectare is 10 m3 (definitions:
    inch 25.4 mm, acre 4046.8564224 m2, gallon 231 cubic inches)."""
    gallons = water_volume_m3(MM_PER_INCH, M2_PER_ACRE) / M3_PER_US_GALLON
    assert gallons == pytest.approx(27_154, abs=0.5)
    assert water_volume_m3(1, M2_PER_HECTARE) == 10
    assert water_depth_mm(10, M2_PER_HECTARE) == 1
    with pytest.raises(ValueError, match="area"):
        water_depth_mm(10, 0)
