import numpy as np
import pytest
from pyproj import Geod
from shapely.geometry import MultiPolygon, Polygon, box

from core.siting.frame import Frame
from core.siting.problem import SitingProblem
from core.siting.raster import MOST_CELLS, raster_over
from tests.core.siting.ground import square


def test_metres_of_the_map_are_those_of_the_ellipsoid():
    """pyproj's geodesics, Karney (2013): 3 km in four directions."""
    frame = Frame(-99.5, 41.2)
    for azimuth in (0, 57, 90, 200):
        lon, lat, _ = Geod(ellps="WGS84").fwd(-99.5, 41.2, azimuth, 3000.0)
        x, y = frame.metres([lon], [lat])
        assert np.hypot(x, y)[0] == pytest.approx(3000.0, abs=0.01)
        assert np.degrees(np.arctan2(x, y))[0] % 360 == pytest.approx(azimuth, abs=0.02)


def test_goes_to_metres_and_back():
    frame = Frame(151.2, -33.9)
    lon, lat = frame.degrees(*frame.metres([151.21], [-33.88]))
    assert (lon[0], lat[0]) == (pytest.approx(151.21, abs=1e-9), pytest.approx(-33.88, abs=1e-9))


def test_cells_cover_the_area_of_the_block():
    block = Frame(10, 50).geometry_in_degrees(box(-150, -100, 150, 100))
    raster = raster_over(block, 5.0)
    assert raster.inside.sum() * raster.cell_m2 == pytest.approx(60_000, rel=0.01)


def test_middles_run_by_rows_from_the_north_west():
    x, y = square(2).middles()
    assert x.tolist() == [5, 15, 5, 15]
    assert y.tolist() == [-5, -5, -15, -15]


def test_a_point_is_in_the_cell_around_it_and_outside_in_none():
    raster = square(2)
    x, y = np.array([0.0, 19.9, 9.9, 20.0, np.nan]), np.array([0.0, -19.9, -10.1, -5.0, -5.0])
    assert raster.cell_at(x, y).tolist() == [0, 3, 2, -1, -1]


def test_a_picture_shows_values_where_they_belong():
    picture = square(2).spread_out(np.array([1.0, 2.0, 3.0, 4.0]))
    assert picture.tolist() == [[1, 2], [3, 4]]


@pytest.mark.parametrize("cell_m", [0.5, 80.0])
def test_a_cell_out_of_range_is_refused(cell_m):
    block = Frame(10, 50).geometry_in_degrees(box(-150, -100, 150, 100))
    with pytest.raises(SitingProblem, match="enter 1 to 50 m"):
        raster_over(block, cell_m)


def test_a_block_of_a_few_cells_is_refused():
    block = Frame(10, 50).geometry_in_degrees(box(0, 0, 20, 20))
    with pytest.raises(SitingProblem, match="Choose smaller cells"):
        raster_over(block, 10.0)


def test_a_large_block_has_larger_cells():
    block = Frame(10, 50).geometry_in_degrees(box(-1500, -1500, 1500, 1500))
    raster = raster_over(block, 5.0)
    assert raster.inside.sum() <= MOST_CELLS * 1.01
    assert raster.cell_m == pytest.approx(9.49, abs=0.01)


def test_parts_far_from_each_other_make_no_endless_picture():
    near = [(10.0, 50.0), (10.003, 50.0), (10.003, 50.003), (10.0, 50.003)]
    far = [(lon + 0.9, lat + 0.5) for lon, lat in near]
    raster = raster_over(MultiPolygon([Polygon(near), Polygon(far)]), 5.0)
    assert raster.inside.size <= 4_100_000
