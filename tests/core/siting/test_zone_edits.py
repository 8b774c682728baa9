import numpy as np
import pytest
from shapely.geometry import box

from core.siting.soil_zones import by_area, soil_features, soil_label
from core.siting.spots import scored
from core.siting.zone_edits import ZoneEdit, edited, merged, same_zones
from tests.core.siting.ground import square

# 30 by 30 cells of 10 m from (0, 0) down to (300, -300).
RASTER = square(30)
X, Y = RASTER.middles()
SIDE = RASTER.cols * RASTER.cell_m


def test_soil_areas_fall_on_cells_by_their_middles():
    west = box(0, -SIDE, 100, 0)
    label = soil_label([west, box(90, -SIDE, 200, 0)], RASTER)
    assert (label[X < 100] == 0).all()
    assert (label[(X > 100) & (X < 200)] == 1).all()
    assert (label[X > 200] == -1).all()


def test_soils_are_numbered_from_the_largest():
    assert by_area(np.array([7, 3, 3, -1, 3, 7, 5])).tolist() == [1, 0, 0, -1, 0, 1, 2]


def test_a_spot_by_soils_alone_lies_inside_the_soil_and_off_its_border():
    label = np.where(X < 150, 0, 1)
    features = soil_features(label, ["Sand", "Clay"], RASTER)
    assert [f.name for f in features] == ["Sand", "Clay"]
    target = label == 0
    free = np.full(label.shape, -1)
    scores = scored(features, RASTER, target, target, free)
    best = int(np.nanargmax(scores.score))
    border = int(np.argmin(np.abs(X - 145) + np.abs(Y + 150)))
    assert X[best] < 120
    assert scores.score[border] < scores.score[best] - 10


def test_one_soil_everywhere_leaves_one_feature_that_tells_nothing():
    (only,) = soil_features(np.zeros(len(X), int), ["Loam"], RASTER)
    assert only.value.tolist() == [0.0] * len(X)


def test_cells_without_a_soil_are_not_known():
    label = np.where(X < 150, 0, -1)
    (only,) = soil_features(label, ["Loam"], RASTER)
    assert np.isnan(only.value[X > 150]).all()


def test_an_area_is_given_to_another_zone_and_the_later_edit_holds():
    label = np.zeros(len(X), int)
    edits = [ZoneEdit(1, box(0, -100, 100, 0)), ZoneEdit(2, box(50, -100, 100, 0))]
    found = edited(label, edits, RASTER)
    assert np.bincount(found).tolist() == [900 - 100, 50, 50]
    assert label.max() == 0


def test_merged_zones_keep_the_numbers_of_those_left():
    assert merged(np.array([0, 1, 2, -1]), {1: 0}).tolist() == [0, 0, 2, -1]
    # Whatever the order: 2 goes with 1, which goes with 0.
    for into in ({2: 1, 1: 0}, {1: 0, 2: 1}):
        assert merged(np.array([0, 1, 2, -1]), into).tolist() == [0, 0, 0, -1]
    # Each with the other is no loop without an end.
    assert set(merged(np.array([0, 1, 2]), {1: 2, 2: 1}).tolist()) == {0, 1, 2}


@pytest.mark.parametrize(
    ("before", "after", "same"),
    [
        # By hand: zone 0 covers 4 cells before and 3 of them after: 3 of 4 are shared.
        ([0, 0, 0, 0, 1, 1, 1, 1], [1, 1, 1, 0, 0, 0, 0, 0], {0: 1, 1: 0}),
        # Cut in halves, neither half is more than half of it: no zone is it.
        ([0, 0, 0, 0, 1, 1], [0, 0, 2, 2, 1, 1], {1: 1}),
        ([0, 0, 1, -1], [0, 0, -1, 1], {0: 0}),
        ([-1, -1], [0, 1], {}),
        # A third of what covers it now: it went into a larger one.
        ([0, 0, -1, -1, -1, -1], [1, 1, 1, 1, 1, 1], {}),
    ],
)
def test_zones_are_known_again_by_what_they_cover(before, after, same):
    assert same_zones(np.array(before), np.array(after)) == same
