"""Layers packed for a screen, opened here as the screen opens them."""

import zlib

import numpy as np

from core.arrays import Floats
from core.siting.compact import CompactLayer, compact
from core.siting.raster import Raster
from tests.core.siting.ground import square

RASTER = square(40)


def opened(layer: CompactLayer, raster: Raster) -> Floats:
    """By web/src/siting/levels.ts: steps modulo 102, level 0 unknown, 1 and 101 the bounds."""
    steps = np.frombuffer(zlib.decompress(layer.data), np.uint8).astype(int)
    level = np.cumsum(steps) % 102
    value = layer.low + (level - 1) / 100 * (layer.high - layer.low)
    return np.where(level > 0, value, np.nan).reshape(raster.inside.shape)[raster.inside]


def test_a_compact_layer_opens_to_what_it_was():
    rng = np.random.default_rng(1)
    values = rng.uniform(3, 9, 1600)
    values[5] = np.nan
    packed = compact(values, RASTER, 3.0, 9.0)
    found = opened(packed, RASTER)
    assert np.isnan(found[5])
    assert np.nanmax(np.abs(found - values)) <= 6 / 100 / 2 + 1e-9
    beyond = compact(np.array([1.0] * 800 + [99.0] * 800), RASTER, 3.0, 9.0)
    assert sorted(set(opened(beyond, RASTER).tolist())) == [3.0, 9.0]


def test_a_score_opens_to_its_whole_points():
    scores = np.random.default_rng(2).uniform(0, 100, 1600)
    found = opened(compact(scores, RASTER, 0, 100), RASTER)
    assert np.abs(found - np.round(scores)).max() < 1e-9


def test_a_compact_layer_of_one_value_opens():
    assert (opened(compact(np.full(1600, 4.0), RASTER, 4.0, 4.0), RASTER) == 4.0).all()
