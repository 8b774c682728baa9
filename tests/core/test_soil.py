"""Soil limits and the retention curve: order, clamping, both ways, refusals."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.soil.book import book_limits
from core.soil.horizon import Horizon, HorizonProblem, LimitMethod
from core.soil.horizon_limits import horizon_limits
from core.soil.profile import Profile, overlap_mm
from core.soil.retention import RetentionCurve
from core.soil.saxton_rawls import saxton_rawls
from core.soil.texture import TextureClass

percent = st.floats(0, 100, allow_nan=False)


@given(sand=percent, share=st.floats(0, 1), organic=st.floats(0, 12))
def test_limits_keep_their_order_everywhere(sand: float, share: float, organic: float) -> None:
    clay = (100 - sand) * share
    limits = saxton_rawls(sand, clay, organic)
    assert 0 < limits.theta_1500 < limits.theta_33 < limits.theta_sat < 1.1
    assert limits.ksat_mm_h >= 0


@given(sand=percent, share=st.floats(0, 1))
def test_curve_is_monotone_and_goes_both_ways(sand: float, share: float) -> None:
    limits = saxton_rawls(sand, (100 - sand) * share, 2.5)
    curve = RetentionCurve.through(limits.theta_33, 33, limits.theta_1500, limits.theta_sat)
    tension = np.geomspace(33, 1500, 20)
    theta = curve.theta_at(tension)
    assert np.all(np.diff(theta) < 0)
    np.testing.assert_allclose(curve.tension_at(theta), tension, rtol=1e-6)


def test_outside_the_regressions_soils_is_marked() -> None:
    assert saxton_rawls(10, 70, 2.5).clamped
    assert saxton_rawls(40, 20, 20).clamped
    assert not saxton_rawls(40, 20, 2.5).clamped


@pytest.mark.parametrize("sand, clay, organic", [(-1, 10, 2), (80, 30, 2), (40, 20, -1)])
def test_regression_refuses_what_is_no_soil(sand: float, clay: float, organic: float) -> None:
    with pytest.raises(ValueError):
        saxton_rawls(sand, clay, organic)


def test_curve_at_the_ends() -> None:
    curve = RetentionCurve.through([0.27], [33], [0.12], [0.45])
    assert curve.theta_at(0) == 0.45
    assert curve.theta_at(-5) == 0.45
    assert np.isnan(curve.theta_at(np.nan))
    assert np.isnan(curve.tension_at(np.nan))
    assert np.isinf(curve.tension_at(0))
    assert curve.tension_at(0.9) == curve.tension_at(0.45)


@pytest.mark.parametrize(
    "full, tension, wilt, sat",
    [(0.1, 33, 0.2, 0.4), (0.3, 33, 0.0, 0.4), (0.5, 33, 0.1, 0.4), (0.3, 1600, 0.1, 0.4)],
)
def test_curve_refuses_limits_out_of_order(
    full: float, tension: float, wilt: float, sat: float
) -> None:
    with pytest.raises(ValueError):
        RetentionCurve.through(full, tension, wilt, sat)


def test_book_has_every_class_within_its_range() -> None:
    table = book_limits()
    assert set(table) == set(TextureClass)
    for row in table.values():
        assert row.wilt_range[0] < row.theta_wilt < row.wilt_range[1]
        assert row.full_range[0] < row.theta_full < row.full_range[1]
        assert row.theta_wilt < row.theta_full
        assert row.source


def test_two_fractions_give_the_third() -> None:
    whole = horizon_limits(Horizon(0, 300, sand=40, silt=40, clay=20))
    two = horizon_limits(Horizon(0, 300, sand=40, clay=20))
    assert two == whole or two.theta_full == whole.theta_full
    assert two.texture is TextureClass.LOAM


def test_gravel_holds_nothing() -> None:
    plain = horizon_limits(Horizon(0, 300, texture=TextureClass.LOAM))
    stony = horizon_limits(Horizon(0, 300, texture=TextureClass.LOAM, gravel=40))
    assert stony.theta_full == pytest.approx(0.6 * plain.theta_full)
    assert stony.theta_sat == pytest.approx(0.6 * plain.theta_sat)
    # The fine earth's curve is the same: a tension means the same in it.
    assert stony.curve.a == plain.curve.a


@pytest.mark.parametrize(
    "horizon, field, says",
    [
        (Horizon(0, 300), "texture", "Choose a texture class"),
        (Horizon(0, 300, sand=40), "sand", "at least two"),
        (Horizon(0, 300, sand=60, silt=40, clay=20), "sand", "add to 120 %"),
        (Horizon(0, 300, sand=70, clay=50), "sand", "add to 120 %"),
        (Horizon(0, 300, sand=-4, clay=50), "sand", "0-100"),
        (Horizon(0, 300, texture=TextureClass.CLAY, gravel=95), "gravel", "0-90"),
        (Horizon(0, 300, texture=TextureClass.CLAY, organic_matter=-2), "organic_matter", "0-100"),
        (
            Horizon(0, 300, texture=TextureClass.CLAY, method=LimitMethod.MEASURED),
            "points",
            "need the content at 33, 1500",
        ),
        (
            Horizon(
                0,
                300,
                texture=TextureClass.CLAY,
                method=LimitMethod.MEASURED,
                points=((33, 0.2), (1500, 0.3)),
            ),
            "points",
            "can't hold more",
        ),
    ],
)
def test_bad_horizons_name_field_and_cure(horizon: Horizon, field: str, says: str) -> None:
    with pytest.raises(HorizonProblem, match=says) as refused:
        horizon_limits(horizon, 2)
    assert (refused.value.field, refused.value.index) == (field, 2)


LOAM = {"texture": TextureClass.LOAM}


@pytest.mark.parametrize(
    "horizons, index, field",
    [
        ([], 0, "bottom"),
        ([Horizon(100, 300, **LOAM)], 0, "top"),
        ([Horizon(0, 300, **LOAM), Horizon(400, 600, **LOAM)], 1, "top"),
        ([Horizon(0, 300, **LOAM), Horizon(300, 200, **LOAM)], 1, "bottom"),
        ([Horizon(0, 9000, **LOAM)], 0, "bottom"),
    ],
)
def test_bad_profiles_name_the_horizon(horizons: list[Horizon], index: int, field: str) -> None:
    with pytest.raises(HorizonProblem) as refused:
        Profile.from_horizons(horizons)
    assert (refused.value.index, refused.value.field) == (index, field)


def test_profile_by_depth() -> None:
    profile = Profile.from_horizons([Horizon(0, 300, **LOAM), Horizon(300, 900, **LOAM)])
    assert profile.depth_mm == 900
    assert list(profile.horizon_at([0, 299, 300, 899, 2000])) == [0, 0, 1, 1, 1]
    available = profile.available_between([0, 200], [100, 400])
    per_mm = profile.theta_full - profile.theta_wilt
    np.testing.assert_allclose(
        available, [[100 * per_mm[0], 0], [100 * per_mm[0], 100 * per_mm[1]]]
    )
    assert overlap_mm(0, 10, 20, 30) == 0
