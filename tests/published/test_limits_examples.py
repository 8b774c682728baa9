"""Readily available water worked in print and by hand, through the whole chain of limits."""

from datetime import date

import numpy as np
import pytest

from core.crop.catalogue import crop
from core.crop.season import CropSeason
from core.limits.by_day import BlockGround, DatedSoil, limits_by_day
from core.limits.refill_method import LimitRule, RefillMethod
from core.limits.root_zone import layer_limits, missing_depth_mm, root_zone_limits
from core.soil.horizon import Horizon, LimitMethod
from core.soil.profile import Profile
from core.soil.texture import TextureClass


def soil(full: float, wilt: float, depth_mm: float = 2000) -> Profile:
    return Profile.from_horizons(
        [
            Horizon(
                0,
                depth_mm,
                texture=TextureClass.LOAM,
                method=LimitMethod.MEASURED,
                points=((33, full), (1500, wilt)),
            )
        ]
    )


# FAO-56 example 36: TAW of a loamy sand, a silt and a silty clay, and the RAW of three crops on
# them by root depth and p. Recalled from memory; printed to the whole millimetre.
LOAMY_SAND, SILT, SILTY_CLAY = soil(0.15, 0.06), soil(0.32, 0.15), soil(0.35, 0.23)


@pytest.mark.parametrize("profile, per_metre", [(LOAMY_SAND, 90), (SILT, 170), (SILTY_CLAY, 120)])
def test_example_36_taw_per_metre(profile: Profile, per_metre: float) -> None:
    assert float(root_zone_limits(profile, 1000, 0.5).taw_mm) == pytest.approx(per_metre)


@pytest.mark.parametrize(
    "root_mm, p, raw",
    [
        (400, 0.30, (11, 20, 14)),  # onion
        (800, 0.40, (29, 54, 38)),  # tomato
        (1200, 0.55, (59, 112, 79)),  # maize
    ],
)
def test_example_36_raw(root_mm: float, p: float, raw: tuple[int, int, int]) -> None:
    for profile, printed in zip((LOAMY_SAND, SILT, SILTY_CLAY), raw, strict=True):
        assert float(root_zone_limits(profile, root_mm, p).raw_mm) == pytest.approx(
            printed, abs=0.5
        )


def test_a_flat_half_of_two_layers_by_hand() -> None:
    """0-30 cm at 0.15 and 30-90 cm at 0.12 of available: 45 + 72 = 117 mm, half is 58.5."""
    two = Profile.from_horizons(
        [
            Horizon(0, 300, texture=TextureClass.LOAM, method=LimitMethod.MEASURED,
                    points=((33, 0.27), (1500, 0.12))),
            Horizon(300, 1500, texture=TextureClass.LOAM, method=LimitMethod.MEASURED,
                    points=((33, 0.34), (1500, 0.22))),
        ]
    )  # fmt: skip
    found = root_zone_limits(two, 900, 0.5)
    assert float(found.taw_mm) == pytest.approx(117)
    assert float(found.raw_mm) == pytest.approx(58.5)
    assert float(found.full_mm) == pytest.approx(81 + 204)
    assert float(found.refill_mm) == pytest.approx(285 - 58.5)
    top, low = layer_limits(two, 900, 0.5)
    assert (top.theta_refill, low.theta_refill) == pytest.approx((0.195, 0.28))
    # Half-way in water is far from half-way in tension.
    assert 33 < top.refill_kpa < 300


def test_the_wettest_method_depends_on_the_soil() -> None:
    """A fact of the trade (common practice, no source): at 50 kPa a sand is nearly spent while a
    clay has hardly begun, so the flat half comes first on the one and last on the other."""
    season = CropSeason(crop("maize-grain"), date(2026, 5, 1))
    shares = {}
    for texture in (TextureClass.SANDY_LOAM, TextureClass.CLAY):
        profile = Profile.from_horizons([Horizon(0, 1500, texture=texture)])
        ground = BlockGround(
            (DatedSoil(None, profile),), season, (LimitRule(RefillMethod.TENSION, 50.0),)
        )
        shares[texture] = float(limits_by_day([ground], date(2026, 7, 20), 1).p(5.0)[0, 0])
    assert shares[TextureClass.CLAY] < shares[TextureClass.SANDY_LOAM]
    loamy_sand = Profile.from_horizons([Horizon(0, 1500, texture=TextureClass.LOAMY_SAND)])
    ground = BlockGround(
        (DatedSoil(None, loamy_sand),), season, (LimitRule(RefillMethod.TENSION, 50.0),)
    )
    assert float(limits_by_day([ground], date(2026, 7, 20), 1).p(5.0)[0, 0]) > 0.4


@pytest.mark.parametrize("et0, expected", [(3.0, 0.606), (5.0, 0.51), (8.0, 0.366)])
def test_p_follows_the_days_et(et0: float, expected: float) -> None:
    """FAO-56 below table 22 by hand, maize at Kc 1.2: 0.55 + 0.04 (5 - 1.2 ET0)."""
    season = CropSeason(crop("maize-grain"), date(2026, 5, 1))
    table = limits_by_day([BlockGround((DatedSoil(None, SILT),), season)], date(2026, 7, 20), 1)
    assert float(table.p(et0)[0, 0]) == pytest.approx(expected)
    both = table.p(np.array([[et0], [et0 + 1]]), at=(0, np.array([0])))
    assert both.shape == (2, 1)


@pytest.mark.parametrize(
    "profile, root, missing",
    [
        (soil(0.3, 0.1, 1000), 1700, 700),
        (soil(0.3, 0.1, 2000), 1700, 0),
        (
            Profile.from_horizons(
                [
                    Horizon(0, 600, texture=TextureClass.LOAM),
                    Horizon(600, 700, texture=TextureClass.CLAY, stops_roots=True),
                ]
            ),
            1700,
            0,
        ),
    ],
)
def test_soil_that_must_be_described_deeper(profile: Profile, root: float, missing: float) -> None:
    assert missing_depth_mm(profile, root) == missing
