"""Seasons of simulated vineyards, watered as the leaf's band advises; `bench vines` runs more."""

import numpy as np

from core.leaf.bands import Product
from core.world.vine import Vine, drawn_vineyard
from core.world.vine_trial import run_vine_seasons


def test_a_vine_on_dry_soil_closes_its_stomata() -> None:
    vine = Vine(drawn_vineyard(np.random.default_rng(1)))
    vine.day(5.0, 0.0, 0.0)
    moist, used = vine.noon_mpa, vine.used_mm
    held = vine.store_mm
    for _ in range(40):
        vine.day(5.0, 0.0, 0.0)
    before = vine.used_mm
    vine.day(5.0, 0.0, 0.0)
    assert vine.noon_mpa < moist - 0.3
    assert vine.used_mm - before < 0.9 * used
    # What left the soil is what the vine used.
    assert abs(held - vine.store_mm - (vine.used_mm - used)) < 1e-6
    vine.day(5.0, 0.0, 60.0)
    assert vine.noon_mpa > moist - 0.6


def test_a_vineyard_of_a_dry_summer_stays_in_its_band() -> None:
    season = run_vine_seasons([0], products=(Product.RED_WINE,))[0]
    # The share that is wanted, and less water than a calendar would have given.
    assert season.weeks().mean() >= 0.9
    assert season.given_mm.sum() < season.calendar_mm
