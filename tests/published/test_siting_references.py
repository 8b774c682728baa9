"""Variograms, kriging and clustering beside others' programs and a measured set of points.

The set is the Meuse flood plain's (155 points of topsoil, Pebesma and Bivand), as scikit-gstat
ships it.
"""

from importlib import resources

import gstools
import numpy as np
import polars as pl
import pytest
from skgstat import Variogram as SkVariogram

from core.siting.gridding import GriddedBy, gridded
from core.siting.kriging import kriged
from core.siting.raster import Raster
from core.siting.variogram import Variogram, VariogramModel, experimental, fitted
from tests.core.siting.ground import FRAME


@pytest.fixture(scope="module")
def meuse() -> dict[str, np.ndarray]:
    path = resources.files("skgstat") / "data" / "samples" / "meuse.txt"
    table = pl.read_csv(path.read_bytes(), columns=["x", "y", "zinc", "elev", "om"])
    return {n: table[n].cast(pl.Float64, strict=False).to_numpy() for n in table.columns}


EDGES = np.linspace(0, 1500, 16)


def test_the_experimental_variogram_is_that_of_scikit_gstat(meuse):
    places = np.column_stack([meuse["x"], meuse["y"]])
    value = np.log(meuse["zinc"])
    theirs = SkVariogram(places, value, n_lags=15, maxlag=1500, bin_func="even")
    edges = np.concatenate([[0.0], theirs.bins])
    _, gamma, _ = experimental(meuse["x"], meuse["y"], value, edges)
    # A pair as far apart as the last edge is counted here and not there.
    assert gamma[:-1] == pytest.approx(theirs.experimental[:-1], rel=1e-6)
    assert gamma[-1] == pytest.approx(theirs.experimental[-1], rel=5e-3)


def test_the_experimental_variogram_is_that_of_gstools(meuse):
    value = np.log(meuse["zinc"])
    _, theirs = gstools.vario_estimate((meuse["x"], meuse["y"]), value, EDGES)
    _, gamma, _ = experimental(meuse["x"], meuse["y"], value, EDGES)
    assert gamma == pytest.approx(theirs, rel=0.02)


def test_the_fitted_model_is_near_the_published_one(meuse):
    """Nugget 0.051, partial sill 0.591, range 897 m: the manual of gstat, Pebesma (2004), doi:
    10.1016/j.cageo.2004.03.012; figures from memory. It weights lags otherwise."""
    found = fitted(*experimental(meuse["x"], meuse["y"], np.log(meuse["zinc"]), EDGES))
    assert found.model is VariogramModel.SPHERICAL
    assert found.nugget == pytest.approx(0.051, abs=0.02)
    assert found.partial_sill == pytest.approx(0.591, rel=0.05)
    assert found.range_m == pytest.approx(897, rel=0.1)


def test_kriging_is_that_of_gstools(meuse):
    """Of sixteen points all are near, as they are to a program that takes them all."""
    x, y, value = meuse["x"][:16], meuse["y"][:16], np.log(meuse["zinc"][:16])
    model = Variogram(VariogramModel.SPHERICAL, 0.05, 0.59, 900.0)
    at_x, at_y = x[:5] + np.array([7.0, 40, 95, 160, 230]), y[:5] - 33.0
    found, error = kriged(x, y, value, model, at_x, at_y)
    theirs = gstools.krige.Ordinary(
        gstools.Spherical(dim=2, var=0.59, len_scale=900.0, nugget=0.05),
        (x, y),
        value,
        exact=False,
    )
    field, variance = theirs((at_x, at_y))
    assert found == pytest.approx(field, abs=1e-6)
    assert error == pytest.approx(np.sqrt(np.maximum(variance - 0.05, 0)), abs=2e-3)


def test_measured_points_on_a_raster_tell_points_left_out(meuse):
    """Log zinc at each third point from the others: most of its variance is told."""
    x, y = meuse["x"] - meuse["x"].min(), meuse["y"] - meuse["y"].max()
    value = np.log(meuse["zinc"])
    raster = Raster(FRAME, 0.0, 0.0, 40.0, np.ones((100, 72), bool))
    left_out = np.arange(len(x)) % 3 == 0
    grid = gridded(x[~left_out], y[~left_out], value[~left_out], raster)
    at = raster.cell_at(x[left_out], y[left_out])
    there = (at >= 0) & np.isfinite(grid.value[at])
    off = grid.value[at[there]] - value[left_out][there]
    assert grid.by is GriddedBy.KRIGING
    assert there.mean() > 0.9
    assert 1 - (off**2).mean() / value.var() > 0.5
    # Two of three lie within one standard error, with what points differ by at one place.
    spread = np.hypot(grid.error[at[there]], grid.variogram.nugget**0.5)
    assert 0.55 < (np.abs(off) < spread).mean() < 0.9
