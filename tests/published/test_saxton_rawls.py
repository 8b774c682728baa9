"""Limits from texture against the authors' example table and an independent library."""

import numpy as np
import pytest
from ptfkit import saxton2006

from core.soil.horizon import Horizon, LimitMethod
from core.soil.horizon_limits import horizon_limits
from core.soil.retention import RetentionCurve
from core.soil.saxton_rawls import saxton_rawls
from core.soil.texture import TextureClass

# Saxton & Rawls (2006), Soil Sci. Soc. Am. J. 70:1569-1578, table 3, at 2.5 % organic matter:
# sand %, clay %, wilting, 33 kPa, saturation in percent by volume. Recalled from memory; printed
# to the whole percent, so half a percent is the table's own rounding and one its tolerance here.
TABLE_3 = [
    ("sand", 88, 5, 5, 10, 46),
    ("loamy sand", 80, 5, 5, 12, 46),
    ("sandy loam", 65, 10, 8, 18, 45),
    ("loam", 40, 20, 14, 28, 46),
    ("silt loam", 20, 15, 11, 31, 48),
    ("silt", 10, 5, 6, 30, 48),
    ("sandy clay loam", 60, 25, 17, 27, 43),
    ("clay loam", 30, 35, 22, 36, 48),
    ("silty clay loam", 10, 35, 22, 38, 51),
    ("silty clay", 10, 45, 27, 41, 52),
    ("sandy clay", 50, 40, 25, 36, 44),
    ("clay", 25, 50, 30, 42, 50),
]


@pytest.mark.parametrize("name, sand, clay, wilt, full, sat", TABLE_3)
def test_example_table(
    name: str, sand: float, clay: float, wilt: float, full: float, sat: float
) -> None:
    limits = saxton_rawls(sand, clay, 2.5)
    assert limits.theta_1500 * 100 == pytest.approx(wilt, abs=1.0)
    assert limits.theta_33 * 100 == pytest.approx(full, abs=1.0)
    assert limits.theta_sat * 100 == pytest.approx(sat, abs=1.0)


def _triangle() -> tuple[np.ndarray, np.ndarray]:
    sand, clay = np.meshgrid(np.arange(2, 97, 3.0), np.arange(2, 60, 3.0))
    inside = sand + clay <= 98
    return sand[inside], clay[inside]


@pytest.mark.parametrize("organic_matter", [0.5, 2.5, 6.0])
def test_agrees_with_ptfkit_over_the_triangle(organic_matter: float) -> None:
    """`ptfkit` computes the published equations independently."""
    sand, clay = _triangle()
    ours = saxton_rawls(sand, clay, organic_matter)
    theirs = saxton2006.calc_ptf_saxton2006(
        sand=sand / 100, clay=clay / 100, organic_matter=np.full(sand.shape, organic_matter)
    )
    free = ~ours.clamped
    assert free.mean() > 0.95
    np.testing.assert_allclose(ours.theta_1500[free], theirs.theta_1500[free], rtol=1e-9)
    np.testing.assert_allclose(ours.theta_33[free], theirs.theta_33[free], rtol=1e-9)
    np.testing.assert_allclose(ours.theta_sat[free], theirs.theta_s[free], rtol=1e-9)
    np.testing.assert_allclose(ours.ksat_mm_h[free], theirs.saturated_conductivity[free], rtol=1e-6)


def test_dry_branch_agrees_with_ptfkit() -> None:
    limits = saxton_rawls(40, 20, 2.5)
    curve = RetentionCurve.through(limits.theta_33, 33, limits.theta_1500, limits.theta_sat)
    theta = np.linspace(float(limits.theta_1500), float(limits.theta_33), 15)
    theirs = saxton2006.calc_tension_dry_saxton2006(
        theta=theta,
        theta_1500=np.full(theta.shape, limits.theta_1500),
        theta_33=np.full(theta.shape, limits.theta_33),
    )
    np.testing.assert_allclose(curve.tension_at(theta), theirs, rtol=1e-9)


def test_gravel_scales_available_water_as_ptfkit_does() -> None:
    """Their gravel is by weight; the volume they derive is what a user of ours enters."""
    limits = saxton_rawls(40, 20, 2.5)
    theirs = saxton2006.calc_gravel_adjustment_saxton2006(
        gravel_weight_fraction=0.3,
        matric_density=1.43,
        plant_available_water=float(limits.theta_33 - limits.theta_1500),
        saturated_conductivity=float(limits.ksat_mm_h),
    )
    ours = horizon_limits(
        Horizon(
            0,
            300,
            texture=TextureClass.LOAM,
            organic_matter=2.5,
            gravel=float(theirs.gravel_volume_fraction) * 100,
        )
    )
    available = ours.theta_full - ours.theta_wilt
    assert available == pytest.approx(float(theirs.bulk_plant_available_water), rel=1e-6)


def test_a_sand_is_full_at_10_kpa_by_the_power_branch() -> None:
    """The straight wet segment would say 0.36; a sand holds about 0.12 there
    (common practice, no source)."""
    sand = horizon_limits(Horizon(0, 300, texture=TextureClass.SAND, organic_matter=2.5))
    assert sand.full_tension_kpa == 10
    assert sand.theta_full == pytest.approx(0.12, abs=0.015)
    loam = horizon_limits(Horizon(0, 300, texture=TextureClass.LOAM))
    assert loam.full_tension_kpa == 33


@pytest.mark.parametrize(
    "texture, inches_per_foot",
    [
        # Extension rules of thumb (common practice, no source).
        (TextureClass.SAND, (0.5, 1.0)),
        (TextureClass.SANDY_LOAM, (1.0, 1.6)),
        (TextureClass.SILT_LOAM, (1.6, 2.5)),
        (TextureClass.CLAY_LOAM, (1.5, 2.3)),
    ],
)
@pytest.mark.parametrize("method", [LimitMethod.REGRESSION, LimitMethod.BOOK])
def test_both_methods_stay_near_the_rule_of_thumb(
    texture: TextureClass, inches_per_foot: tuple[float, float], method: LimitMethod
) -> None:
    limits = horizon_limits(Horizon(0, 300, texture=texture, organic_matter=2.5, method=method))
    per_foot = (limits.theta_full - limits.theta_wilt) * 12
    low, high = inches_per_foot
    assert low - 0.1 <= per_foot <= high + 0.1
