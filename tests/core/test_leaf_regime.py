"""The advice for a block that is steered by its leaves."""

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest

from core.advice.answer import Assessment
from core.advice.inputs import BlockInputs
from core.advice.vocabulary import Confidence, Reason, Regime, State
from core.crop.catalogue import crop
from core.crop.season import CropSeason
from core.leaf.answer import LeafAnswer
from core.leaf.bands import LeafPhase, Product
from core.leaf.round import Leaf, LeafRound
from core.leaf.steering import LeafSteering, Side, Sides, Strategy
from core.regime.assess import assess, assess_blocks, block_past, needs_ahead
from tests.core.blocks import NOW, lived
from tests.core.test_working import redo

# Bud break so that mid July lies between fruit set and veraison.
VINE = CropSeason(crop("grape-wine"), date(2026, 4, 10))
RED = LeafSteering(Product.RED_WINE)


def made(hours: float, mpa: float, **more: object) -> LeafRound:
    """A round whose leaves lie evenly about a mean."""
    off = np.linspace(-0.1, 0.1, 12)
    return LeafRound(hours, tuple(Leaf("", mpa + x) for x in off), **more)  # type: ignore[arg-type]


ROUNDS = tuple(made(-24.0 * d + 7, -0.95) for d in (26, 19, 12, 5))


def vines(*rounds: LeafRound, leaf: LeafSteering = RED, **more: object) -> BlockInputs:
    block = lived(**{"season": VINE, **more}).assuming(leaf=leaf)
    return replace(block, leaf_rounds=rounds)


def said(answer: Assessment) -> LeafAnswer:
    assert answer.leaf is not None
    return answer.leaf


def test_what_the_leaf_says_is_said() -> None:
    leaf = said(assess(vines(*ROUNDS)))
    assert leaf.phase is LeafPhase.TO_VERAISON
    assert (leaf.band_upper, leaf.band_lower) == (-0.9, -1.2)
    assert leaf.rounds == 4
    assert leaf.latest is not None
    assert leaf.latest.mpa == pytest.approx(-0.95)
    assert leaf.latest_hours == pytest.approx(-24 * 5 + 7)
    assert leaf.now.low < leaf.now.middle < leaf.now.high
    assert leaf.now.middle == pytest.approx(-0.95, abs=0.2)
    assert leaf.upper_share < leaf.lower_share


def test_drier_leaves_bring_the_water_forward() -> None:
    dry, moist = (
        assess(vines(*(made(-24.0 * d + 7, m) for d in (26, 19, 12, 5)))) for m in (-1.1, -0.7)
    )
    assert dry.outlook is not None
    assert moist.outlook is not None
    assert dry.outlook.days_left < moist.outlook.days_left
    assert said(dry).now.middle < said(moist).now.middle


def test_the_water_goes_to_the_upper_edge_and_no_further() -> None:
    answer = assess(vines(*(made(-24.0 * d + 7, -1.15) for d in (26, 19, 12, 5))))
    assert answer.amount is not None
    assert answer.start_at is not None
    assert answer.amount.net_mm < (answer.deficit_mm or 0.0)
    keys = {s.key.value: s for s in answer.steps}
    assert keys["to_upper_edge"].value == pytest.approx(answer.amount.net_mm, rel=1e-6)


@pytest.mark.parametrize("product", [Product.RED_WINE, Product.WHITE_WINE, Product.TABLE_GRAPE])
def test_no_lower_band_is_advised_than_a_person_allowed(product: Product) -> None:
    allowed = LeafSteering(product, own={LeafPhase.TO_VERAISON: (-0.5, -0.75)})
    usual = LeafSteering(product)
    for rounds in (ROUNDS, (), ROUNDS[:1]):
        strict, loose = (assess(vines(*rounds, leaf=x)) for x in (allowed, usual))
        assert said(strict).band_lower == -0.75
        assert strict.outlook is not None
        assert loose.outlook is not None
        # The store's lowest point lies no lower, and its water comes no later.
        assert said(strict).lower_share <= said(loose).lower_share
        assert strict.outlook.days_left <= loose.outlook.days_left
        course = said(strict).course
        assert course is not None
        assert (course.lower_mpa[course.hours >= 0] == -0.75).all()


def test_the_working_is_redone_by_hand() -> None:
    answer = assess(vines(*ROUNDS))
    keys = {s.key.value for s in answer.steps}
    assert {"leaf_now", "leaf_at_edge", "lowest_store", "above_lowest"} <= keys
    assert not {"raw", "p_crop", "usable"} & keys
    for step in answer.steps:
        assert redo(step) == pytest.approx(step.value, rel=1e-6, abs=1e-6), step.key
    by_key = {s.key.value: s for s in answer.steps}
    assert answer.outlook is not None
    assert by_key["above_lowest"].value == pytest.approx(float(answer.days[0].usable_mm))


def test_a_round_that_does_not_count_teaches_nothing() -> None:
    spoiled = made(-24.0 * 5 + 7, -1.6, after_noon_h=3.0)
    same = assess(vines(*ROUNDS[:3]))
    with_it = assess(vines(*ROUNDS[:3], spoiled))
    assert said(with_it).now == said(same).now
    kept = assess(vines(*ROUNDS[:3], replace(spoiled, kept=True)))
    assert said(kept).now.middle < said(same).now.middle


def test_leaf_and_soil_that_contradict_each_other() -> None:
    drier = assess(vines(*ROUNDS, made(-24.0 * 2 + 7, -1.6)))
    assert Reason.LEAF_DRIER_THAN_SOIL in drier.reasons
    assert (said(drier).apart_spreads or 0) < -2
    wetter = assess(vines(*ROUNDS, made(-24.0 * 2 + 7, -0.35)))
    assert Reason.LEAF_WETTER_THAN_SOIL in wetter.reasons
    agree = assess(vines(*ROUNDS, made(-24.0 * 2 + 7, -0.95)))
    assert not {Reason.LEAF_DRIER_THAN_SOIL, Reason.LEAF_WETTER_THAN_SOIL} & {*agree.reasons}
    assert said(assess(vines(*ROUNDS[:3]))).apart_spreads is None


def test_without_rounds_it_says_so() -> None:
    none = assess(vines())
    assert Reason.LEAVES_NOT_READ in none.reasons
    assert said(none).rounds == 0
    assert none.confidence is not Confidence.GOOD
    fresh = assess(vines(made(-30.0, -0.9)))
    assert Reason.LEAVES_NOT_READ not in fresh.reasons
    old = assess(vines(made(-24.0 * 16, -0.9)))
    assert Reason.LEAVES_NOT_READ in old.reasons


@pytest.mark.parametrize(("ago", "due"), [(1, 2), (5, None), (9, 0)])
def test_when_the_next_round_is_due(ago: int, due: int | None) -> None:
    answer = assess(vines(made(-24.0 * ago + 7, -0.6)))
    on = said(answer).round_on
    assert on is not None
    last = (NOW + timedelta(hours=-24.0 * ago + 7)).date()
    assert (
        max(NOW.date(), last + timedelta(days=3)) <= on <= max(NOW.date(), last + timedelta(days=7))
    )
    if due == 0:
        assert on == NOW.date()


def test_a_share_of_etc_shows_the_leaf_beside() -> None:
    share = LeafSteering(
        Product.RED_WINE, Strategy.SHARE, use_share=0.5, since=NOW.date(), application_mm=10.0
    )
    answer = assess(vines(*ROUNDS, leaf=share))
    assert said(answer).strategy is Strategy.SHARE
    assert answer.outlook is not None
    # Nothing is due yet; 10 mm at half of Kc 0.7 x 5.5 are due in five days.
    assert answer.outlook.usable_mm[0] == pytest.approx(10.0)
    assert answer.outlook.days_left == pytest.approx(10 / (0.5 * 0.7 * 5.5), abs=0.4)
    season = replace(share, since=None, application_mm=None)
    assert assess(vines(*ROUNDS, leaf=season)).outlook is not None


def test_no_stress_is_the_soils_own_rule_with_the_leaf_beside() -> None:
    full = LeafSteering(Product.RED_WINE, Strategy.FULL)
    answer = assess(vines(*ROUNDS, leaf=full))
    usual = assess(replace(vines(), assumed=replace(vines().assumed, leaf=None)))
    assert answer.start_at == usual.start_at
    assert answer.amount == usual.amount
    assert said(answer).strategy is Strategy.FULL
    assert answer.refill_methods


def test_one_side_at_a_time_takes_twice_as_long() -> None:
    sides = Sides(Side.B, NOW.date() - timedelta(days=3), 10)
    both = assess(vines(*ROUNDS))
    one = assess(vines(*ROUNDS, leaf=replace(RED, sides=sides)))
    assert said(one).side is Side.B
    assert said(one).side_until == NOW.date() + timedelta(days=7)
    assert both.amount is not None
    assert one.amount is not None
    assert one.amount.hours / one.amount.gross_mm == pytest.approx(
        2 * both.amount.hours / both.amount.gross_mm
    )


def test_zones_weigh_in_the_mean() -> None:
    zoned = replace(RED, zones={"up": 0.8, "low": 0.2})
    leaves = (*[Leaf("up", -1.0)] * 6, *[Leaf("low", -0.5)] * 6)
    latest = said(assess(vines(LeafRound(-30.0, leaves), leaf=zoned))).latest
    assert latest is not None
    assert latest.mpa == pytest.approx(-0.9)


def test_a_plan_of_all_blocks_is_told_of_the_band() -> None:
    found = needs_ahead([vines(*ROUNDS)], 10)[0]
    answer = assess(vines(*ROUNDS))
    assert found is not None
    assert answer.limits is not None
    assert found.raw_mm[0] == pytest.approx(float(answer.limits.raw_mm), rel=1e-6)
    assert 0 <= found.room_mm < found.raw_mm[0]


def test_the_past_is_drawn_by_the_band() -> None:
    block = vines(*ROUNDS)
    answer = assess(block)
    assert answer.past is not None
    assert answer.outlook is not None
    assert answer.past.usable_mm[-1] == pytest.approx(answer.outlook.usable_mm[0], abs=3)
    past = block_past(block, 7)
    assert past is not None
    assert answer.limits is not None
    assert past[1].raw_mm[-1] == pytest.approx(float(answer.limits.raw_mm), rel=0.02)


def test_blocks_of_a_farm_are_answered_like_one() -> None:
    several = assess_blocks([vines(*ROUNDS), vines(), lived()], past=False)
    assert several[0].start_at == assess(vines(*ROUNDS)).start_at
    assert several[1].start_at == assess(vines()).start_at
    assert several[2].leaf is None


def test_a_dormant_vine_is_not_steered() -> None:
    block = vines(*ROUNDS, season=CropSeason(crop("grape-wine"), date(2025, 9, 1)))
    assert block.assumed.regime is Regime.LEAF_GUIDED
    assert assess(block).leaf is None


def test_without_a_crop_or_a_state_nothing_is_said() -> None:
    none = vines(*ROUNDS).assuming(season=None)
    assert assess(none).state is State.NO_RELIABLE_DATA
    assert needs_ahead([none], 10) == (None,)
    assert block_past(none, 7) is None
    bare = replace(vines(*ROUNDS, sites=()), past=None, waterings=())
    assert assess(bare).leaf is None
