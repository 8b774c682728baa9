import numpy as np
import pytest
from sklearn.metrics import silhouette_score

from core.siting.layer import Layer, LayerKind
from core.siting.second_probe import pair_gain
from core.siting.smoothing import smoothed, without_slivers
from core.siting.stability import years_seen
from core.siting.years import YearKind
from core.siting.zones import MOST_ZONES, Feature, features_of, smooth, zones_of
from tests.core.siting.ground import square

RASTER = square(30)
X, Y = RASTER.middles()
WEST = X < 150


def feature(values, error=0.1, name="f", of_soil=False):
    return Feature(name, values, error, of_soil)


def halves(noise=0.2, seed=0):
    rng = np.random.default_rng(seed)
    return feature(np.where(WEST, -1.0, 1.0) + rng.normal(0, noise, len(X)))


def test_two_halves_are_two_zones():
    zones = zones_of([halves()], RASTER)
    assert zones.suggested == 2
    assert len(np.unique(zones.label[WEST])) == len(np.unique(zones.label[~WEST])) == 1


def test_the_index_is_the_silhouette_of_scikit_learn():
    one = halves()
    zones = zones_of([one], RASTER)
    table = (one.value * one.trust() ** 0.5)[:, None]
    label = (table[:, 0] > 0).astype(int)
    assert zones.index[2] == pytest.approx(silhouette_score(table, label), abs=0.01)


def test_a_small_zone_is_seen_beside_a_large_one():
    """A corner of a twentieth, not far from the rest, and a strip that is far from both."""
    rng = np.random.default_rng(3)
    value = np.where(X > 270, 6.0, np.where((X < 70) & (Y > -70), -2.2, 0.0))
    zones = zones_of([feature(value + rng.normal(0, 0.3, len(X)))], RASTER)
    assert zones.suggested == 3


def test_a_person_has_the_zones_he_wants():
    assert zones_of([halves()], RASTER, count=3).count == 3
    assert (zones_of([halves()], RASTER, count=1).label == 0).all()
    with pytest.raises(ValueError, match="1 to 6"):
        zones_of([halves()], RASTER, count=MOST_ZONES + 1)


def test_even_noise_is_one_zone():
    rng = np.random.default_rng(5)
    even = [feature(rng.normal(0, 1, len(X)), name=str(i)) for i in range(5)]
    zones = zones_of(even, RASTER)
    assert max(zones.index.values()) < 0.25
    assert zones.suggested == 1


def test_cells_that_a_layer_does_not_know_are_in_no_zone():
    values = halves().value
    values[:40] = np.nan
    zones = zones_of([feature(values)], RASTER)
    assert (zones.label[:40] == -1).all()
    assert (zones.label[40:] >= 0).all()


def test_a_layer_of_one_value_is_one_zone_whatever_is_wanted():
    zones = zones_of([feature(np.zeros(len(X)))], RASTER, count=4)
    assert (zones.label == 0).all()
    assert zones.index == {}


def test_zones_are_numbered_from_the_largest():
    for cut in (80, 120, 180, 220):
        for high, low in ((2.0, -1.0), (-2.0, 1.0)):
            zones = zones_of([feature(np.where(cut > X, high, low))], RASTER)
            assert zones.label[0] == (1 if cut < 150 else 0)
            assert zones.label[-1] == 1 - zones.label[0]


def test_a_layer_of_noise_counts_little():
    assert feature(np.array([-1, 1.0]), error=0.5).trust() == pytest.approx(1 / 1.25)
    assert feature(np.array([-1, 1.0]), error=9.0).trust() == pytest.approx(0.05)
    assert feature(np.zeros(4)).trust() == 0.0
    west = feature(np.array([-2, -2, 0, 2.0]), error=1.0)
    assert west.trust(np.array([False, False, True, True])) == pytest.approx(0.5)


def layer(kind, values, year=None, error=0.0):
    return Layer(kind, str(kind), values, np.full(len(values), error), year)


def test_dry_and_wet_years_count_apart_and_other_years_together():
    rng = np.random.default_rng(1)
    one, two = (layer(LayerKind.YIELD, rng.normal(8, 1, len(X)), y) for y in (1, 2))
    survey = layer(LayerKind.CONDUCTIVITY_SHALLOW, rng.normal(30, 4, len(X)), error=1.0)
    flat = layer(LayerKind.ELEVATION, np.full(len(X), 12.0))
    both = years_seen([one, two], [YearKind.DRY, YearKind.WET])
    apart = features_of([one, two, survey, flat], both, RASTER)
    assert [f.name for f in apart] == ["dry years", "wet years", "shallow conductivity"]
    assert [f.of_soil for f in apart] == [False, False, True]
    assert apart[2].error == pytest.approx(0.25, abs=0.02)
    together = features_of([one, two], years_seen([one, two], [YearKind.UNKNOWN] * 2), RASTER)
    assert [f.name for f in together] == ["all years"]
    assert features_of([survey], None, RASTER)[0].name == "shallow conductivity"


def test_smoothing_keeps_the_mean_and_takes_noise_out():
    rng = np.random.default_rng(0)
    noise = rng.normal(5, 1, len(X))
    found = smooth(noise, RASTER)
    assert found.mean() == pytest.approx(5, abs=0.1)
    assert found.std() < 0.7 * noise.std()
    noise[7] = np.nan
    assert np.flatnonzero(np.isnan(smooth(noise, RASTER))).tolist() == [7]


def test_a_lone_cell_goes_with_its_neighbours_unless_it_differs_much():
    inside = np.ones((5, 5), bool)
    cost = np.stack([np.zeros(25), np.ones(25)])
    cost[:, 12] = [1.0, 0.0]
    assert smoothed(cost, inside, weight=0.0)[12] == 1
    assert (smoothed(cost, inside, weight=0.5) == 0).all()
    cost[0, 12] = 20.0
    assert smoothed(cost, inside, weight=0.5)[12] == 1


def test_noisy_halves_are_two_halves_again():
    rng = np.random.default_rng(6)
    value = np.where(WEST, -1.0, 1.0) + rng.normal(0, 1.0, len(X))
    cost = np.stack([(value + 1) ** 2, (value - 1) ** 2]) / 2
    own = (cost.argmin(axis=0) == ~WEST).mean()
    found = smoothed(cost, RASTER.inside, weight=0.6)
    assert own < 0.88
    assert (found == ~WEST).mean() > 0.98


def test_patches_smaller_than_a_person_treats_are_given_away():
    inside = np.ones((6, 6), bool)
    label = np.zeros(36, int)
    label[[0, 1]] = 1
    label[18:] = 2
    found = without_slivers(label, inside, fewest=3)
    assert (found[:18] == 0).all()
    assert (found[18:] == 2).all()
    assert without_slivers(label, inside, fewest=2).tolist() == label.tolist()


def test_a_second_probe_by_hand():
    """Values of 0 and 2 by halves: one probe errs by sqrt(mean(0, 4)), two by nothing."""
    values = np.where(WEST, 0.0, 2.0)
    soil = feature(values, error=0.0, of_soil=True)
    label = np.where(WEST, 0, 1)
    gain = pair_gain([soil], 0, len(X) - 1, label)
    assert gain.error_one == pytest.approx(2**0.5)
    assert (gain.error_two, gain.gain) == (0.0, 1.0)


def test_a_second_probe_in_the_same_soil_adds_nothing():
    soil = feature(np.where(WEST, 0.0, 2.0), error=0.0, of_soil=True)
    assert pair_gain([soil], 0, 31, np.where(WEST, 0, 1)).gain == 0.0


def test_layers_of_the_soil_tell_the_gain_where_there_are_any():
    soil = feature(np.where(WEST, 0.0, 2.0), error=0.0, of_soil=True)
    other = feature(np.where(Y < -150, 0.0, 9.0), error=0.0)
    label = np.where(WEST, 0, 1)
    assert pair_gain([soil, other], 0, len(X) - 1, label).gain == 1.0
    assert pair_gain([other], 0, len(X) - 1, label).gain < 1.0


def test_a_gain_within_one_zone_counts_that_zone_alone():
    soil = feature(np.where(X < 60, 0.0, np.where(WEST, 1.0, 9.0)), error=0.0, of_soil=True)
    label = np.where(WEST, 0, 1)
    far = len(X) - 1
    whole = pair_gain([soil], 0, far, label)
    zone = pair_gain([soil], 0, far, label, target=WEST)
    assert whole.gain > 0.5
    assert zone.gain == 0.0
