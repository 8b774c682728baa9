"""Layers of simulated blocks whose zones are known: a few of those that the benchmark counts."""

from functools import cache

import numpy as np
import pytest
from sklearn.metrics import adjusted_rand_score

from core.siting.stability import Stability
from core.world.siting_trial import looked_at, trial_field

FIELDS = (1, 4, 8, 10)


@cache
def seen(number: int, years: int = 4):
    return looked_at(trial_field(number), years)


@pytest.mark.parametrize("number", FIELDS)
def test_zones_are_found_again(number):
    trial = seen(number)
    assert adjusted_rand_score(trial.field.zone, trial.zones.label) >= 0.8
    assert trial.zones.suggested == len(trial.field.kinds)


@pytest.mark.parametrize("number", FIELDS)
def test_a_flip_is_found_where_it_is_and_not_elsewhere(number):
    trial = seen(number)
    flips = trial.years.classes == Stability.FLIP_FLOP
    true = trial.field.zone == trial.field.kinds.index("flip-flop")
    assert flips[true].mean() > 0.6
    assert flips[~true].mean() < 0.02


def test_one_year_tells_less_and_no_flip():
    trial = seen(1, years=1)
    assert Stability.FLIP_FLOP not in trial.years.classes
    assert np.isnan(trial.years.spread).all()
    many = adjusted_rand_score(trial.field.zone, seen(1).zones.label)
    assert adjusted_rand_score(trial.field.zone, trial.zones.label) < many


@pytest.mark.parametrize("number", FIELDS)
def test_the_spot_is_in_its_zone_and_near_its_water(number):
    trial = seen(number)
    for spot in trial.spots:
        zone = trial.field.zone == np.bincount(trial.field.zone[spot.zone]).argmax()
        assert zone[spot.cell]
        off = abs(trial.field.theta[spot.cell] - trial.field.theta[zone].mean())
        assert off < 0.5 * trial.field.theta.std()


def test_a_second_probe_adds_what_was_told():
    told, true = zip(*(seen(n).gains for n in FIELDS), strict=True)
    assert np.mean(told) == pytest.approx(np.mean(true), abs=0.12)
