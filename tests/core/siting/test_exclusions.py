import numpy as np
import pytest
from shapely.geometry import LineString, Point, box

from core.siting.exclusions import (
    KINDS,
    NOT_EXCLUDED,
    USUAL_M,
    Exclusion,
    ExclusionKind,
    excluded_by,
    lanes,
    rings,
    row_ends,
)
from core.siting.low_ground import flooded, hollow_depth, wet_spots
from core.siting.sight import EARTH_RADIUS_M, clearance
from tests.core.siting.ground import outline, square

RASTER = square(20)
X, Y = RASTER.middles()


def by(*exclusions, masks=()):
    found = excluded_by(RASTER, list(exclusions), list(masks))
    return [None if k == NOT_EXCLUDED else KINDS[k] for k in found]


def test_every_kind_has_its_usual_distance():
    assert set(USUAL_M) == set(ExclusionKind)


def test_trees_keep_a_probe_away_on_either_side():
    belt = Exclusion(ExclusionKind.TREES, LineString([(100, 0), (100, -200)]), 50.0)
    found = np.array([k is ExclusionKind.TREES for k in by(belt)])
    assert (found == (np.abs(X - 100) <= 50)).all()


def test_an_area_without_a_distance_is_kept_off_itself():
    drawn = Exclusion(ExclusionKind.DRAWN, box(0, -40, 40, 0), 0.0)
    assert sum(k is ExclusionKind.DRAWN for k in by(drawn)) == 16


def test_the_edge_is_a_strip_within():
    edge = Exclusion(ExclusionKind.EDGE, outline(20).boundary, 18.0)
    found = np.array([k is not None for k in by(edge)])
    assert (found == (np.minimum(np.minimum(X, 200 - X), np.minimum(-Y, 200 + Y)) <= 18)).all()


def test_the_first_kind_is_told_where_several_hold():
    trees = Exclusion(ExclusionKind.TREES, Point(5, -5), 3.0)
    wet = np.zeros(400, bool)
    wet[[0, 1]] = True
    assert by(trees, masks=[(ExclusionKind.WET_SPOT, wet)])[:3] == [
        ExclusionKind.TREES,
        ExclusionKind.WET_SPOT,
        None,
    ]


def test_towers_leave_rings():
    tracks = rings((100.0, -100.0), [50.0])
    found = by(Exclusion(ExclusionKind.PIVOT_TOWER, tracks, 5.0))
    away = np.hypot(X - 100, Y + 100)
    kept = np.array([k is not None for k in found])
    assert (kept == (np.abs(away - 50) <= 5)).mean() > 0.99


def test_lanes_lie_so_far_apart_in_their_direction():
    found = lanes(outline(20), 24.0, 0.0)
    at = sorted(g.coords[0][0] for g in found.geoms)
    assert np.diff(at).tolist() == pytest.approx([24.0] * (len(at) - 1))
    assert at[len(at) // 2] == pytest.approx(100.0)
    across = lanes(outline(20), 50.0, 90.0)
    assert {-150, -100, -50} <= {round(g.coords[0][1]) for g in across.geoms}
    with pytest.raises(ValueError, match="metre apart"):
        lanes(outline(), 0.5, 0.0)


def test_rows_end_where_the_block_does():
    found = row_ends(RASTER, 0.0, 25.0)
    assert (found == ((Y > -25) | (Y < -175))).all()
    assert (row_ends(RASTER, 90.0, 25.0) == ((X < 25) | (X > 175))).all()


def test_a_hollow_fills_to_its_lowest_rim():
    """Ground at 10 m with a pit of 9 m, whose rim has a notch at 9.6 m to the edge."""
    height = np.full(400, 10.0)
    height[210] = 9.0
    assert hollow_depth(height, RASTER)[210] == pytest.approx(1.0)
    height[200:210] = 9.6
    assert hollow_depth(height, RASTER)[210] == pytest.approx(0.6)
    assert np.flatnonzero(wet_spots(height, RASTER)).tolist() == [210]


def test_water_leaves_over_the_edge_and_over_unknown_ground():
    slope = 10 - 0.01 * X
    assert (hollow_depth(slope, RASTER) == 0).all()
    height = np.full(400, 10.0)
    height[210] = 9.0
    height[211] = np.nan
    depth = hollow_depth(height, RASTER)
    assert depth[210] == 0
    assert np.isnan(depth[211])


def test_ground_below_the_level_of_a_flood():
    assert flooded(np.array([1.0, 2.0, np.nan]), 1.5).tolist() == [True, False, False]


def test_line_of_sight_by_hand():
    """Level ground at 10 m, antenna 1.5 m above it, the base's at 20 m a hundred metres away.

    The line rises from 11.5 to 20; seen at 64 places, the first of them 1/128 of the way.
    """
    height = np.full(400, 10.0)
    cell = np.array([RASTER.cell_at(np.array([55.0]), np.array([-95.0]))[0]])
    found = clearance(height, RASTER, (155.0, -95.0), 20.0, cells=cell)
    assert found[0] == pytest.approx(1.5 + 8.5 / 128, abs=1e-3)


def test_a_ridge_between_takes_the_sight():
    """At half way the line is at 15.75 m: a ridge of 17 m stands 1.25 m above it."""
    height = np.full(400, 10.0)
    height[(X > 100) & (X < 110)] = 17.0
    cell = np.array([RASTER.cell_at(np.array([55.0]), np.array([-95.0]))[0]])
    found = clearance(height, RASTER, (155.0, -95.0), 20.0, cells=cell)[0]
    assert -1.7 < found < -1.0


def test_the_earth_bends_below_a_long_line():
    """Over 20 km the bulge in the middle is d^2 / (8 k R) = 5.9 m."""
    wide = square(20, cell_m=50.0)
    height = np.zeros(400)
    near = clearance(height, wide, (20_000.0, -475.0), 1.5, cells=np.array([180]))[0]
    assert near < 1.5
    bulge = 20_000**2 / (8 * 4 / 3 * EARTH_RADIUS_M)
    assert bulge == pytest.approx(5.9, abs=0.05)


def test_sight_from_ground_of_unknown_height_is_unknown():
    height = np.full(400, 10.0)
    height[7] = np.nan
    found = clearance(height, RASTER, (0.0, 0.0), 20.0)
    assert np.isnan(found[7])
    assert (found[np.arange(400) != 7] > 0).all()
