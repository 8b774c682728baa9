"""What a block has shown of its limits, beside what the book has."""

from dataclasses import replace
from datetime import timedelta

import pytest

from core.advice.assess import block_learned
from core.advice.inputs import BlockInputs
from core.advice.learned import Learned
from core.crop.catalogue import crop
from core.crop.season import CropSeason
from core.limits.refill_method import LimitRule, RefillMethod
from core.state.estimate_from import EstimateFrom
from tests.core.blocks import NOW, PROFILE, lived, tensiometers


def shown(of: BlockInputs) -> Learned:
    found = block_learned(of)
    assert found is not None
    return found


def test_the_books_limits_by_hand() -> None:
    """Potato's roots of 400 mm: 300 of loam, 100 of clay loam; p at an ETc of Kc 1.15 x 5.5."""
    found = shown(lived())
    loam, clay = PROFILE.limits
    taw = 300 * (loam.theta_full - loam.theta_wilt) + 100 * (clay.theta_full - clay.theta_wilt)
    assert found.book_taw_mm == pytest.approx(taw, rel=0.01)
    p = 0.35 + 0.04 * (5 - 1.15 * 5.5)
    assert found.book_raw_mm == pytest.approx(p * taw, rel=0.02)


def test_over_a_strip_all_depths_are_over_the_whole_block() -> None:
    whole, strip = shown(lived()), shown(lived(wetted_share=0.5))
    assert strip.book_taw_mm == pytest.approx(0.5 * whole.book_taw_mm)
    assert strip.taw_mm < 0.7 * whole.taw_mm


def test_what_a_sensor_reads_at_full_is_told_by_depth() -> None:
    found = shown(lived())
    loam, clay = PROFILE.limits
    assert [level.depth_mm for level in found.levels] == [150.0, 350.0]
    # By texture alone: the mean of two regressions, so near the limits' own.
    assert found.levels[0].book == pytest.approx(loam.theta_full, abs=0.03)
    assert found.levels[1].book == pytest.approx(clay.theta_full, abs=0.03)
    assert all(0.001 < level.sigma < 0.06 for level in found.levels)
    assert found.on == NOW.date() - timedelta(days=1)


def test_a_tension_has_no_level_of_its_own() -> None:
    assert shown(lived(sites=(tensiometers(40, hours=-1),))).levels == ()


def test_a_rule_of_the_block_keeps_its_share() -> None:
    own = shown(lived())
    ruled = shown(lived(rules=(LimitRule(RefillMethod.FLAT, 0.3),)))
    assert own.by_crop
    assert not ruled.by_crop
    assert ruled.raw_mm == pytest.approx(0.3 * ruled.taw_mm)


def test_where_the_sensors_lead_nothing_is_estimated() -> None:
    assert block_learned(lived(estimate_from=EstimateFrom.SENSORS)) is None
    assert block_learned(lived(season=None)) is None


@pytest.mark.parametrize(
    "kpa, share, differ",
    [(25.0, 0.0, True), (1500.0, 1.0, True), (None, None, False)],
    ids=["wetter than full", "at wilting", "none in the book"],
)
def test_methods_that_differ_are_told(kpa: float | None, share: float | None, differ: bool) -> None:
    """Loam is full at 33 kPa and wilts at 1,500; potato's p is 0.35."""
    potato = replace(crop("potato"), tension_kpa=kpa)
    found = shown(lived(season=CropSeason(potato, NOW.date() - timedelta(days=74))))
    assert found.tension_share == (None if share is None else pytest.approx(share, abs=0.02))
    assert found.methods_differ is differ


def test_methods_that_agree_say_nothing() -> None:
    """The tension at which loam has lost potato's p of its available water."""
    loam = PROFILE.limits[0]
    theta = loam.theta_full - 0.35 * (loam.theta_full - loam.theta_wilt)
    same = replace(crop("potato"), tension_kpa=float(loam.curve.tension_at(theta)))
    found = shown(lived(season=CropSeason(same, NOW.date() - timedelta(days=74))))
    assert found.tension_share == pytest.approx(0.35, abs=0.01)
    assert not found.methods_differ
