"""From sensors to the root zone: layers, deficit, surplus, sites, reach."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.instrument.sensor_layers import sensor_layers
from core.limits.root_zone import root_zone_limits
from core.soil.horizon import Horizon, LimitMethod
from core.soil.profile import Profile
from core.soil.profiles import Profiles
from core.soil.texture import TextureClass
from core.store.by_tension import share_in_other
from core.store.combine import combine_sites
from core.store.deficit import available_fraction, layer_parts, root_zone_deficit


def horizon(top: float, bottom: float, full: float, wilt: float) -> Horizon:
    return Horizon(
        top,
        bottom,
        texture=TextureClass.LOAM,
        method=LimitMethod.MEASURED,
        points=((33, full), (1500, wilt)),
    )


TWO = Profile.from_horizons([horizon(0, 300, 0.30, 0.10), horizon(300, 1000, 0.36, 0.20)])


def test_layers_meet_half_way() -> None:
    top, bottom = sensor_layers([100, 200, 400])
    np.testing.assert_allclose(top, [0, 150, 300])
    np.testing.assert_allclose(bottom, [150, 300, 500])
    top, bottom = sensor_layers([300])
    assert (top[0], bottom[0]) == (0, 450)


@pytest.mark.parametrize("depths", [[], [200, 100], [100, 100], [0, 100], [-5]])
def test_layers_refuse_depths_that_do_not_rise(depths: list[float]) -> None:
    with pytest.raises(ValueError, match=r"sensor"):
        sensor_layers(depths)


def test_limits_of_the_root_zone() -> None:
    # 300 x 0.2 + 200 x 0.16 = 92 mm, of which half may be used.
    limits = root_zone_limits(TWO, [500], 0.5)
    assert limits.taw_mm == pytest.approx(92)
    assert limits.raw_mm == pytest.approx(46)
    assert limits.full_mm - limits.refill_mm == pytest.approx(46)
    assert limits.full_mm - limits.wilt_mm == pytest.approx(92)
    # Roots stop where the described soil does.
    deep = root_zone_limits(TWO, [4000], 0.5)
    assert deep.taw_mm == pytest.approx(300 * 0.2 + 700 * 0.16)


def test_a_layer_across_horizons_takes_each_ones_limits() -> None:
    # One sensor at 250 mm, half of its available water left, roots to 400 mm. On a power curve
    # 0.30 -> 0.20 is ln(0.30/0.20) / ln(0.30/0.10) = 0.369 of the way to wilting; the horizon
    # below holds 0.36 x (0.20/0.36)^0.369 = 0.2898 there: 0.561 of its available water.
    parts = layer_parts(TWO, [250], np.array([0.20]), 400.0)
    np.testing.assert_allclose(parts.available_mm, [[60, 16]])
    np.testing.assert_allclose(parts.fraction, [[0.5, 0.561]], atol=5e-4)
    np.testing.assert_allclose(parts.deficit_mm, [[30, 16 * (1 - 0.561)]], atol=0.01)
    np.testing.assert_allclose(parts.top_mm, [[0, 300]])
    np.testing.assert_allclose(parts.bottom_mm, [[300, 400]])


def test_surplus_never_hides_a_dry_layer() -> None:
    wet_over_dry = np.array([[0.40, 0.10]])
    found = root_zone_deficit(TWO, [100, 200], wet_over_dry, np.array([300.0]))
    assert found.surplus_mm[0] == pytest.approx(15.0)
    assert found.deficit_mm[0] == pytest.approx(30.0)


def test_neighbours_take_over_a_silent_sensor() -> None:
    theta = np.array([[0.30, np.nan, 0.36], [np.nan, np.nan, np.nan], [0.30, 0.30, 0.36]])
    found = root_zone_deficit(TWO, [100, 250, 400], theta, np.array([500.0] * 3))
    assert found.deficit_mm[0] == pytest.approx(0)
    assert np.isnan(found.deficit_mm[1])
    assert found.deficit_mm[2] == pytest.approx(0)


def test_soil_below_the_sensors_is_counted_and_told() -> None:
    found = root_zone_deficit(TWO, [100, 200], np.array([[0.2, 0.2]]), np.array([600.0]))
    assert found.unseen_mm[0] == pytest.approx(350)
    assert found.deficit_mm[0] == pytest.approx(0.5 * 60 + (1 - 0.561) * 0.16 * 300, abs=0.05)


def test_what_roots_cannot_reach_is_not_unseen() -> None:
    """Roots stop at 30 cm, the sensors speak down to 25: 5 cm are unseen, whatever the crop."""
    stopped = Profile.from_horizons(
        [horizon(0, 300, 0.30, 0.10), replace(horizon(300, 1000, 0.36, 0.20), stops_roots=True)]
    )
    found = root_zone_deficit(stopped, [100, 200], np.array([[0.2, 0.2]]), np.array([600.0]))
    assert found.unseen_mm[0] == pytest.approx(50)
    assert found.deficit_mm[0] == pytest.approx(30)


def test_another_horizon_is_told_by_tension_between_its_own_limits() -> None:
    """Both ends, water above full and silence pass over as they are."""
    soil = Profile.from_horizons(
        [
            Horizon(0, 300, texture=TextureClass.LOAM, gravel=20.0, method=LimitMethod.ROSETTA),
            Horizon(300, 900, texture=TextureClass.SAND),
        ]
    )
    share = np.array([[-0.2, 0.0, 0.2, 0.5, 0.8, 1.0, 1.3, np.nan]])
    pair = (np.array([0]), np.array([0]), np.array([1]))
    soils = Profiles.of([soil])
    told = share_in_other(soils, share, *pair)[0]
    np.testing.assert_allclose(told[[0, 1, 5, 6, 7]], share[0, [0, 1, 5, 6, 7]])
    assert np.all(np.diff(told[:6]) > 0)
    # There and back again is where it began.
    back = share_in_other(soils, told[None], pair[0], pair[2], pair[1])[0]
    np.testing.assert_allclose(back[:7], share[0, :7], atol=1e-9)


@given(
    theta=st.lists(st.floats(0.0, 0.5), min_size=3, max_size=3),
    root=st.floats(50, 1500),
    wetter=st.floats(0, 0.2),
)
def test_deficit_is_bounded_and_more_water_never_adds_to_it(
    theta: list[float], root: float, wetter: float
) -> None:
    values = np.array([theta, list(np.array(theta) + wetter)])
    found = root_zone_deficit(TWO, [100, 300, 600], values, np.array([root, root]))
    taw = root_zone_limits(TWO, root, 0.5).taw_mm
    assert np.all(found.deficit_mm >= -1e-9)
    assert np.all(found.deficit_mm <= taw + 1e-9)
    assert found.deficit_mm[1] <= found.deficit_mm[0] + 1e-9


def test_share_left() -> None:
    np.testing.assert_allclose(
        available_fraction([0.30, 0.28, 0.44], np.array([0, 1, 1]), TWO), [1.0, 0.5, 1.5]
    )


def test_sites_by_trust_with_their_disagreement() -> None:
    same = np.zeros(2, int)
    both = combine_sites(
        np.array([[10.0, np.nan], [30.0, 20.0]]), np.full((2, 2), 5.0), same, blocks=1
    )
    np.testing.assert_allclose(both.value, [[20, 20]])
    # A wet half and a dry half: the spread is theirs, not the instruments'.
    np.testing.assert_allclose(both.sigma, [[10, 5]])
    np.testing.assert_allclose(both.weight[:, 1], [0, 1])
    trusted = combine_sites(np.array([[10.0], [30.0]]), np.array([[1.0], [3.0]]), same, 1)
    assert trusted.value[0, 0] == pytest.approx(12)
    assert trusted.mean(np.array([[0.0], [10.0]]))[0, 0] == pytest.approx(1)
    apart = combine_sites(np.array([[10.0], [30.0]]), np.array([[1.0], [3.0]]), np.arange(2), 3)
    np.testing.assert_allclose(apart.value[:, 0], [10, 30, np.nan])
