import numpy as np
import pytest

from core.siting.gridding import GriddedBy, gridded, one_a_cell
from core.siting.inverse_distance import inverse_distance
from core.siting.kriging import TILE, kriged
from core.siting.problem import SitingProblem
from core.siting.variogram import (
    Variogram,
    VariogramModel,
    experimental,
    fitted,
    lag_edges,
    variogram_of,
)
from tests.core.siting.ground import square


def wavy(count, seed=0, noise=0.0, side=200.0):
    rng = np.random.default_rng(seed)
    x, y = rng.uniform(0, side, count), -rng.uniform(0, side, count)
    return x, y, np.sin(x / 40) + np.cos(y / 50) + rng.normal(0, noise, count)


def test_the_experimental_variogram_by_hand():
    """Four points on a line 10 m apart with 1, 3, 2, 6: pairs of 10, 20 and 30 m."""
    x = np.array([0, 10, 20, 30.0])
    lag, gamma, pairs = experimental(
        x, x * 0, np.array([1, 3, 2, 6.0]), np.array([0, 15, 25, 35.0])
    )
    assert pairs.tolist() == [3, 2, 1]
    assert lag.tolist() == [10, 20, 30]
    # Half the mean of 4, 1, 16; of 1, 9; of 25.
    assert gamma.tolist() == pytest.approx([3.5, 2.5, 12.5])


def test_lags_widen_with_the_distance():
    assert lag_edges(100.0, 4).tolist() == pytest.approx([0, 6.25, 25, 56.25, 100])


@pytest.mark.parametrize("model", list(VariogramModel))
def test_a_model_is_found_again_in_its_own_values(model):
    true = Variogram(model, 0.4, 1.6, 80.0)
    lag = np.linspace(5, 200, 15)
    found = fitted(lag, true.at(lag), np.full(15, 500.0))
    assert found.model is model
    assert found.nugget == pytest.approx(0.4, abs=0.02)
    assert found.partial_sill == pytest.approx(1.6, abs=0.05)
    assert found.range_m == pytest.approx(80.0, abs=3)
    assert found.structure == pytest.approx(0.8, abs=0.02)


def test_models_reach_their_sill_at_the_range():
    assert Variogram(VariogramModel.SPHERICAL, 1, 2, 50).at(
        np.array([0, 25, 50, 90.0])
    ).tolist() == [
        0.0,
        1 + 2 * (0.75 - 0.0625),
        3.0,
        3.0,
    ]
    at_range = Variogram(VariogramModel.EXPONENTIAL, 0, 1, 50).at(np.array([50.0]))[0]
    assert at_range == pytest.approx(0.9502, abs=1e-4)


def test_too_few_points_or_all_alike_make_no_variogram():
    x, y, value = wavy(99)
    assert variogram_of(x, y, value) is None
    x, y, _ = wavy(300)
    assert variogram_of(x, y, np.ones(300)) is None


def test_many_points_are_thinned_and_tell_the_same():
    few, many = (variogram_of(*wavy(n, noise=0.2)) for n in (1400, 20_000))
    assert many.partial_sill == pytest.approx(few.partial_sill, rel=0.3)
    assert many.nugget == pytest.approx(0.04, abs=0.03)


def test_tiles_give_what_one_piece_gives():
    x, y, value = wavy(400)
    model = variogram_of(x, y, value)
    rng = np.random.default_rng(8)
    at_x, at_y = rng.uniform(0, 200, 3 * TILE), -rng.uniform(0, 200, 3 * TILE)
    together, error = kriged(x, y, value, model, at_x, at_y)
    alone, own = kriged(x, y, value, model, at_x[:50], at_y[:50])
    assert together[:50] == pytest.approx(alone, abs=1e-9)
    assert error[:50] == pytest.approx(own, abs=1e-9)
    assert np.abs(together - (np.sin(at_x / 40) + np.cos(at_y / 50))).mean() < 0.05


def test_inverse_distance_by_hand():
    """Values 0 and 9 seen from a third of the way: weights 1/10^2 and 1/20^2."""
    x = np.array([0.0, 30.0])
    found, error = inverse_distance(x, x * 0, np.array([0, 9.0]), np.array([10.0]), np.array([0.0]))
    assert found[0] == pytest.approx(9 * (1 / 400) / (1 / 100 + 1 / 400))
    assert error == pytest.approx(9.0)


def test_inverse_distance_of_one_point_knows_no_error():
    one = np.array([5.0])
    found, error = inverse_distance(one, one, one, np.array([1.0]), np.array([1.0]))
    assert found[0] == 5.0
    assert np.isnan(error)


def test_points_of_one_cell_count_once():
    x, y = np.array([1.0, 3, 12]), np.array([-1.0, -3, -1])
    at_x, _, mean = one_a_cell(x, y, np.array([2.0, 4, 9]), 10.0)
    assert at_x.tolist() == [2, 12]
    assert mean.tolist() == [3, 9]


def test_enough_points_are_kriged_and_the_error_is_told():
    raster = square(20)
    x, y, value = wavy(2000, noise=0.3)
    grid = gridded(x, y, value, raster)
    at_x, at_y = raster.middles()
    off = grid.value - (np.sin(at_x / 40) + np.cos(at_y / 50))
    assert grid.by is GriddedBy.KRIGING
    assert grid.points == 2000
    # Nine of ten lie within two standard errors.
    assert (np.abs(off) < 2 * grid.error).mean() > 0.9
    assert np.sqrt((off**2).mean()) < 0.3


def test_a_few_points_are_gridded_by_distance():
    x, y, value = wavy(40)
    grid = gridded(x, y, value, square(20))
    assert grid.by is GriddedBy.INVERSE_DISTANCE
    assert grid.variogram is None
    assert 0 < grid.error[0] < 1.5


def test_values_without_a_pattern_are_not_kriged():
    """Neighbours differ as much as any two: by turns high and low."""
    x, y = (a.ravel() for a in np.meshgrid(np.arange(5, 200, 10.0), -np.arange(5, 200, 10.0)))
    value = np.where((x // 10 + y // 10) % 2 == 0, 4.0, 6.0)
    grid = gridded(x, y, value, square(20))
    assert grid.variogram.structure < 0.1
    assert grid.by is GriddedBy.INVERSE_DISTANCE


def test_a_point_with_a_nugget_is_not_taken_at_its_word():
    x, y, value = wavy(300, noise=0.3)
    model = Variogram(VariogramModel.SPHERICAL, 0.1, 1.0, 120.0)
    found, error = kriged(x, y, value, model, x[:40], y[:40])
    assert np.abs(found - value[:40]).mean() > 0.1
    assert (error > 0).all()


def test_cells_far_from_all_points_stay_unknown():
    x, y, value = wavy(2000, side=100.0)
    grid = gridded(x, y, value, square(20))
    at_x, at_y = square(20).middles()
    far = (at_x > 150) | (at_y < -150)
    assert np.isnan(grid.value[far]).all()
    assert np.isfinite(grid.value[(at_x < 90) & (at_y > -90)]).all()


def test_points_of_another_block_are_refused():
    x, y, value = wavy(2000)
    with pytest.raises(SitingProblem, match="another projection"):
        gridded(x + 5000, y, value, square(20))
