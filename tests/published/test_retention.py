"""Retention curves against the libraries and tables that print them."""

import math
from dataclasses import replace

import numpy as np
import pandas as pd
import pedon
import pytest
from hypothesis import given
from hypothesis import strategies as st
from ptfkit import saxton2006
from rosetta import rosetta

from core.soil.class_means import class_mean_curves
from core.soil.fitted_curve import fit_curve
from core.soil.horizon import CurveShape, Horizon, HorizonProblem, LimitMethod
from core.soil.horizon_limits import HorizonLimits, horizon_limits, limits_by_every_method
from core.soil.retention import CM_PER_KPA, RetentionCurve
from core.soil.rosetta_curve import rosetta_curve
from core.soil.saxton_rawls import saxton_rawls
from core.soil.texture import CLASS_CENTRES, TextureClass


def van_genuchten(kpa: float, r: float, s: float, alpha_cm: float, n: float) -> float:
    """The published equation, written out apart from the code."""
    head = kpa * 10.197162
    return r + (s - r) / (1 + (alpha_cm * head) ** n) ** (1 - 1 / n)


def test_class_means_are_those_that_pedon_ships() -> None:
    """`pedon`'s soil samples hold the twelve classes of Carsel & Parrish (1988)."""
    path = next(iter(pedon.__path__)) + "/datasets/soilsamples.csv"
    table = pd.read_csv(path, sep=";")
    theirs = table[table.source == "HYDRUS"].set_index("name")
    assert len(theirs) == 12
    for texture, curve in class_mean_curves().items():
        row = theirs.loc[str(texture).title()]
        ours = curve.theta_at([10, 33, 1500])
        # The paper prints alpha of loamy sand as 0.124, the library as 0.125.
        alpha = 0.124 if texture is TextureClass.LOAMY_SAND else row.alpha
        expected = [
            van_genuchten(k, row.theta_r, row.theta_s, alpha, row.n) for k in (10, 33, 1500)
        ]
        np.testing.assert_allclose(ours, expected, rtol=1e-6)


def test_class_means_leave_sand_almost_nothing_at_33_kpa() -> None:
    """A fact of the trade: by these curves a sand's full point is near 10 kPa."""
    sand = class_mean_curves()[TextureClass.SAND]
    assert float(sand.theta_at(33)) - float(sand.theta_at(1500)) < 0.01
    assert float(sand.theta_at(10)) < 0.06


@pytest.mark.parametrize("sand, clay, density", [(65, 10, None), (40, 20, 1.4), (10, 45, 1.3)])
def test_rosetta_parameters_reach_the_curve(
    sand: float, clay: float, density: float | None
) -> None:
    """The library gives alpha and n as logarithms of base ten, alpha per cm of water."""
    soil = [sand, 100 - sand - clay, clay, *([] if density is None else [density])]
    mean, _, codes = rosetta(3, [soil], estimate_type="log")
    assert codes[0] == (2 if density is None else 3)
    r, s, log_alpha, log_n = mean[0, :4]
    curve = rosetta_curve(sand, clay, density)
    for kpa in (5, 33, 300, 1500):
        expected = van_genuchten(kpa, r, s, 10**log_alpha, 10**log_n)
        assert float(curve.theta_at(kpa)) == pytest.approx(expected, rel=1e-9)


def test_density_moves_the_limits_as_ptfkit_does() -> None:
    """Saxton & Rawls (2006) eq. 7-10, computed independently by `ptfkit`."""
    for sand, clay in CLASS_CENTRES.values():
        plain = saxton_rawls(sand, clay, 2.5)
        normal = (1 - float(plain.theta_sat)) * 2.65
        for factor in (0.9, 0.95, 1.1, 1.2):
            ours = saxton_rawls(sand, clay, 2.5, normal * factor)
            theirs = saxton2006.calc_density_adjustment_saxton2006(
                normal_density=normal,
                theta_s=float(plain.theta_sat),
                theta_33=float(plain.theta_33),
                density_factor=factor,
            )
            assert float(ours.theta_1500) == float(plain.theta_1500)
            if ours.clamped:
                continue
            values = {round(float(v), 9) for v in theirs if isinstance(v, float)}
            assert round(float(ours.theta_33), 9) in values
            assert round(float(ours.theta_sat), 9) in values
        assert saxton_rawls(sand, clay, 2.5, normal * 1.5).clamped


def in_triangle(sand: float, share: float) -> tuple[float, float]:
    return round(sand, 2), round((100 - sand) * share, 2)


METHODS = [
    LimitMethod.REGRESSION,
    LimitMethod.CLASS_MEANS,
    LimitMethod.ROSETTA,
    LimitMethod.BOOK,
    LimitMethod.MEASURED,
]


@given(
    sand=st.floats(0, 100),
    share=st.floats(0, 1),
    method=st.sampled_from(METHODS),
    shape=st.sampled_from([None, CurveShape.POWER, CurveShape.CLASS_MEANS, CurveShape.ROSETTA]),
    gravel=st.floats(0, 60),
)
def test_every_curve_is_monotone_both_ways_over_the_whole_triangle(
    sand: float, share: float, method: LimitMethod, shape: CurveShape | None, gravel: float
) -> None:
    s, c = in_triangle(sand, share)
    horizon = Horizon(
        0, 300, sand=s, clay=c, gravel=gravel, method=method, curve=shape,
        points=((10, 0.34), (33, 0.28), (1500, 0.12)),
    )  # fmt: skip
    limits = horizon_limits(horizon)
    assert 0 < limits.theta_wilt < limits.theta_full <= limits.theta_sat < 1
    assert limits.sigma_full > 0
    tension = np.geomspace(limits.full_tension_kpa, 1500, 25)
    theta = limits.curve.theta_at(tension)
    assert np.all(np.diff(theta) < 0)
    np.testing.assert_allclose(limits.curve.tension_at(theta), tension, rtol=1e-5)
    # The curve passes through the limits in force, whatever its shape.
    fine = 1 - limits.gravel
    assert theta[0] * fine == pytest.approx(limits.theta_full, rel=1e-9)
    assert theta[-1] * fine == pytest.approx(limits.theta_wilt, rel=1e-9)
    # Wetter and drier than that it never turns back.
    wide = limits.curve.theta_at(np.geomspace(0.1, 1e5, 60))
    assert np.all(np.diff(wide) <= 1e-12)


def test_a_fit_finds_the_curve_its_points_came_from() -> None:
    tension = np.array([1, 5, 10, 33, 100, 500, 1500.0])
    true = RetentionCurve.van_genuchten(0.07, 0.44, 0.03 * CM_PER_KPA, 1.5)
    fit = fit_curve(tension, true.theta_at(tension))
    assert fit.rmse < 1e-4
    between = np.geomspace(2, 1200, 30)
    np.testing.assert_allclose(fit.curve.theta_at(between), true.theta_at(between), atol=2e-3)


@pytest.mark.parametrize(
    "tension, theta, says",
    [
        ([10, 33, 1500], [0.3, 0.25, 0.1], "at least 4"),
        ([10, 20, 30, 33], [0.3, 0.28, 0.26, 0.25], "ten times"),
        ([10, 33, 100, 1500], [0.1, 0.2, 0.25, 0.3], "more water at low"),
    ],
)
def test_a_fit_refuses_points_that_say_too_little(
    tension: list[float], theta: list[float], says: str
) -> None:
    with pytest.raises(ValueError, match=says):
        fit_curve(tension, theta)


LAB = Horizon(
    0, 300, sand=40, silt=40, clay=20, points=((10, 0.33), (33, 0.27), (300, 0.17), (1500, 0.13))
)


def test_every_method_stands_beside_the_one_in_force() -> None:
    said = limits_by_every_method(LAB)
    assert set(said) == set(LimitMethod)
    measured, fitted = said[LimitMethod.MEASURED], said[LimitMethod.FITTED]
    assert isinstance(measured, HorizonLimits)
    assert isinstance(fitted, HorizonLimits)
    assert (measured.theta_full, measured.theta_wilt) == (0.27, 0.13)
    assert fitted.theta_full == pytest.approx(0.27, abs=0.015)
    assert measured.sigma_available < said[LimitMethod.REGRESSION].sigma_available  # type: ignore[union-attr]
    learned = said[LimitMethod.LEARNED]
    assert isinstance(learned, str)
    assert "need both" in learned


def test_methods_differ_by_a_third_and_more() -> None:
    """A fact of the trade: for one texture the methods are far apart."""
    said = limits_by_every_method(Horizon(0, 300, texture=TextureClass.SILTY_CLAY))
    available = [x.available for x in said.values() if isinstance(x, HorizonLimits)]
    assert max(available) > 4 / 3 * min(available)


def test_full_may_be_set_at_another_tension() -> None:
    at_33 = horizon_limits(LAB)
    at_10 = horizon_limits(replace(LAB, full_tension_kpa=10))
    assert at_10.theta_full > at_33.theta_full
    assert horizon_limits(replace(LAB, full_tension_kpa=10, method=LimitMethod.MEASURED)).theta_full == 0.33  # noqa: E501  # fmt: skip


@pytest.mark.parametrize(
    "change, field",
    [
        ({"points": ((33, 0.2), (1500, 0.3))}, "points"),
        ({"points": ((33, 0.2), (33, 0.19))}, "points"),
        ({"points": ((33, 22), (1500, 11))}, "points"),
        ({"bulk_density": 3.1}, "bulk_density"),
        ({"ece": -1}, "ece"),
        ({"full_tension_kpa": 300}, "full_tension_kpa"),
        ({"method": LimitMethod.FITTED, "points": ((33, 0.3),)}, "points"),
        ({"method": LimitMethod.LEARNED, "theta_full": 0.2, "theta_wilt": 0.3}, "theta_full"),
    ],
)
def test_impossible_figures_are_refused_by_name(change: dict[str, object], field: str) -> None:
    with pytest.raises(HorizonProblem) as refused:
        horizon_limits(replace(LAB, **change))  # type: ignore[arg-type]
    assert refused.value.field == field
    assert not math.isnan(len(refused.value.message))
