"""A second season with full points that the first has shown; the figures stand in
docs/closed-loop.md."""

import numpy as np
import pytest

from core.soil.texture import TextureClass
from core.world.adoption_trial import Adopted, try_adopting
from core.world.climates import Climate
from core.world.layerings import uniform
from core.world.truths import TruthKind

TEXTURES = (TextureClass.LOAM, TextureClass.CLAY_LOAM, TextureClass.SANDY_LOAM)


@pytest.fixture(scope="module")
def tried() -> Adopted:
    soils = uniform(TEXTURES)
    return try_adopting(soils, ("maize-grain",), Climate.MIXED, TruthKind.RICHARDS, 100, 3)


def test_some_fields_show_one_and_only_those_change(tried: Adopted) -> None:
    assert 0 < tried.adopted.sum() < 3
    same = ~tried.adopted
    assert np.array_equal(tried.by_book.given_mm[same], tried.as_seen.given_mm[same])
    other = tried.adopted
    assert not np.array_equal(tried.by_book.given_mm[other], tried.as_seen.given_mm[other])


def test_the_depletion_is_known_better(tried: Adopted) -> None:
    """On this field; on the average of many see docs."""
    rows = tried.adopted
    before = float(np.sqrt(np.nanmean(tried.by_book.error_mm[rows] ** 2)))
    after = float(np.sqrt(np.nanmean(tried.as_seen.error_mm[rows] ** 2)))
    assert after < before
