"""Limits by day: three methods, dated rules and soils, layers, and one block like many."""

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest

from core.advice.assess import assess
from core.advice.vocabulary import Reason, State
from core.crop.catalogue import crop
from core.crop.depletion import adjusted_p
from core.crop.season import CropSeason, Stage, crop_days
from core.limits.by_day import BlockGround, DatedSoil, limits_by_day, own_tension_kpa
from core.limits.in_force import LimitsInForce
from core.limits.refill_method import LimitRule, RefillMethod, RuleProblem, check_rule
from core.limits.root_zone import layer_limits, root_zone_limits
from core.soil.horizon import CurveShape, Horizon, LimitMethod
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from tests.core.blocks import ET, NOW, PROFILE, block, probe

PLANTED = date(2026, 5, 1)
POTATO = CropSeason(crop("potato"), PLANTED)
GROUND = BlockGround((DatedSoil(None, PROFILE),), POTATO)
SANDY = Profile.from_horizons([Horizon(0, 900, texture=TextureClass.LOAMY_SAND)])
STONY = Profile.from_horizons(
    [
        Horizon(0, 250, texture=TextureClass.SANDY_LOAM, gravel=20),
        Horizon(250, 600, texture=TextureClass.CLAY, method=LimitMethod.ROSETTA),
        Horizon(600, 1200, texture=TextureClass.CLAY, stops_roots=True),
    ]
)


def test_one_call_says_what_each_block_and_day_says_alone() -> None:
    grounds = [
        GROUND,
        replace(GROUND, season=CropSeason(crop("maize-grain"), PLANTED)),
        BlockGround((DatedSoil(None, STONY),), CropSeason(crop("onion-dry"), PLANTED)),
        BlockGround((DatedSoil(None, SANDY),), CropSeason(crop("lettuce"), PLANTED)),
    ]
    found = limits_by_day(grounds, PLANTED, 120)
    p = found.p(5.5)
    for i, ground in enumerate(grounds):
        profile = ground.soils[0].profile
        days = crop_days(ground.season.crop, np.arange(120))
        one = root_zone_limits(
            profile, days.root_mm, adjusted_p(ground.season.crop.p, days.kc * 5.5)
        )
        np.testing.assert_allclose(found.full_mm[i], one.full_mm)
        np.testing.assert_allclose(found.wilt_mm[i], one.wilt_mm)
        np.testing.assert_allclose(p[i] * found.taw_mm[i], one.raw_mm)
        np.testing.assert_allclose(found.refill_mm(5.5)[i], one.refill_mm)


def test_a_layer_that_stops_roots_ends_the_root_zone() -> None:
    found = limits_by_day(
        [BlockGround((DatedSoil(None, STONY),), CropSeason(crop("maize-grain"), PLANTED))],
        PLANTED,
        120,
    )
    assert found.root_mm.max() == 600
    assert STONY.depth_mm == 1200
    answer = assess(
        block(
            profile=STONY,
            sites=(probe(1, 0.9, STONY),),
            season=CropSeason(crop("maize-grain"), PLANTED),
        )
    )
    assert Reason.PROFILE_STOPS_ROOTS in answer.reasons


def test_three_methods_side_by_side() -> None:
    found = limits_by_day([GROUND], PLANTED, 100)
    by_refill_method = {s: found.p(5.5, s)[0, -1] for s in RefillMethod}
    assert by_refill_method[RefillMethod.FLAT] == 0.5
    kc = crop_days(POTATO.crop, [99]).kc[0]
    assert by_refill_method[RefillMethod.CROP_P] == pytest.approx(0.35 + 0.04 * (5 - kc * 5.5))
    # 40 kPa, layer by layer from each horizon's own curve.
    gone = available = 0.0
    root = found.root_mm[0, -1]
    for limit, thick in zip(PROFILE.limits, (300, root - 300), strict=True):
        gone += thick * (limit.theta_full - float(limit.curve.theta_at(40)))
        available += thick * limit.available
    assert by_refill_method[RefillMethod.TENSION] == pytest.approx(max(gone / available, 0.1))


def test_on_sand_a_tension_leaves_less_than_on_clay() -> None:
    """A fact of the trade (common practice, no source): at one tension a sand has given up a
    larger share of its water than a clay."""
    clay = Profile.from_horizons([Horizon(0, 900, texture=TextureClass.CLAY)])
    rule = (LimitRule(RefillMethod.TENSION, 60.0),)
    shares = [
        limits_by_day([BlockGround((DatedSoil(None, p),), POTATO, rule)], PLANTED, 1).p(5)[0, 0]
        for p in (SANDY, clay)
    ]
    assert shares[0] > 1.5 * shares[1]


def test_rules_hold_from_their_date_and_in_their_stage() -> None:
    rules = (
        LimitRule(RefillMethod.FLAT, 0.4, from_on=PLANTED + timedelta(days=10)),
        LimitRule(RefillMethod.TENSION, 45.0, stage=Stage.MID),
        LimitRule(RefillMethod.CROP_P, 0.3, from_on=PLANTED + timedelta(days=80)),
    )
    found = limits_by_day([replace(GROUND, rules=rules)], PLANTED, 100)
    order = list(RefillMethod)
    refill_methods = [order[i] for i in found.refill_method_index[0]]
    assert set(refill_methods[:10]) == {RefillMethod.CROP_P}
    assert set(refill_methods[10:55]) == {RefillMethod.FLAT}
    assert set(refill_methods[55:80]) == {
        RefillMethod.TENSION
    }  # potato's mid season: days 55 to 100
    assert set(refill_methods[80:]) == {RefillMethod.CROP_P}
    assert found.p(5.5)[0, 20] == 0.4
    assert found.p_table[0, 79] == 0.35
    assert found.p_table[0, 80] == 0.3
    assert found.tension_kpa[0, 60] == 45


def test_an_absurd_tension_neither_floods_nor_starves() -> None:
    for tension, expected in ((5.0, 0.1), (1400.0, 0.8)):
        rules = (LimitRule(RefillMethod.TENSION, tension),)
        found = limits_by_day([replace(GROUND, rules=rules)], PLANTED, 3)
        assert found.p(5)[0, 0] == expected


def test_a_crop_without_a_tension_limit_says_nothing_by_that_method() -> None:
    ground = replace(GROUND, season=CropSeason(crop("rice"), PLANTED))
    assert np.isnan(limits_by_day([ground], PLANTED, 2).p(5, RefillMethod.TENSION)).all()
    answer = assess(block(season=CropSeason(crop("rice"), PLANTED)))
    by_name = {s.refill_method: s for s in answer.refill_methods}
    assert by_name[RefillMethod.TENSION].p is None
    assert by_name[RefillMethod.FLAT].p == 0.5


def test_a_limit_given_later_holds_from_then_on() -> None:
    """Rice has no tension limit in the book; the block got one on day 40."""
    rule = LimitRule(RefillMethod.TENSION, 30.0, from_on=PLANTED + timedelta(days=40))
    ground = replace(GROUND, season=CropSeason(crop("rice"), PLANTED), rules=(rule,))
    found = limits_by_day([ground, GROUND], PLANTED, 80)
    by_tension = found.p(5, RefillMethod.TENSION)[0]
    assert np.isnan(by_tension[:40]).all()
    assert not np.isnan(by_tension[40:]).any()
    assert not np.isnan(found.p(5)).any()


def test_the_past_keeps_the_soil_it_was_judged_by() -> None:
    soils = (DatedSoil(None, SANDY), DatedSoil(PLANTED + timedelta(days=50), PROFILE))
    found = limits_by_day([BlockGround(soils, POTATO)], PLANTED, 100)
    alone = limits_by_day([BlockGround(soils[:1], POTATO)], PLANTED, 100)
    now = limits_by_day([GROUND], PLANTED, 100)
    np.testing.assert_allclose(found.taw_mm[0, :50], alone.taw_mm[0, :50])
    np.testing.assert_allclose(found.taw_mm[0, 50:], now.taw_mm[0, 50:])


def test_the_history_of_an_answer_keeps_its_soil() -> None:
    since = NOW.date() - timedelta(days=3)
    changed = block(soils=(DatedSoil(None, SANDY), DatedSoil(since, PROFILE)))
    past, plain = assess(changed).past, assess(block()).past
    assert past is not None
    assert plain is not None
    # It is 06:10: the day three days ago began 78 h 10 ago.
    before, after = past.hours < -79, past.hours > -78
    np.testing.assert_allclose(past.taw_mm[after], plain.taw_mm[after])
    np.testing.assert_allclose(past.usable_mm[after], plain.usable_mm[after])
    assert np.all(past.taw_mm[before] != plain.taw_mm[before])
    assert np.any(past.deficit_mm[before] != plain.deficit_mm[before])


def test_layers_as_depth_content_tension_and_percent() -> None:
    layers = layer_limits(STONY, 500, 0.4)
    assert [(x.top_mm, x.bottom_mm) for x in layers] == [(0, 250), (250, 500)]
    whole = root_zone_limits(STONY, 500, 0.4)
    assert sum(x.full_mm for x in layers) == pytest.approx(float(whole.full_mm))
    assert sum(x.refill_mm for x in layers) == pytest.approx(float(whole.refill_mm))
    for layer in layers:
        limit = STONY.limits[layer.horizon]
        back = float(limit.curve.theta_at(layer.refill_kpa)) * (1 - limit.gravel)
        assert back == pytest.approx(layer.theta_refill)
        assert limit.full_tension_kpa < layer.refill_kpa < 1500
        assert layer.available_sigma_mm > 0


@pytest.mark.parametrize(
    "rule, says",
    [
        (LimitRule(RefillMethod.FLAT, 0.95), "outside"),
        (LimitRule(RefillMethod.TENSION, 2), "kPa"),
        (LimitRule(RefillMethod.TENSION), "no published tension limit for Rice"),
    ],
)
def test_rules_that_set_no_refill_point_are_refused(rule: LimitRule, says: str) -> None:
    with pytest.raises(RuleProblem, match=says) as refused:
        check_rule(rule, crop("rice"))
    assert refused.value.field == "value"


def test_an_alfalfa_kc_on_grass_et_is_converted_or_refused() -> None:
    season = CropSeason(crop("maize-grain-alfalfa"), PLANTED)
    refused = assess(block(season=season))
    assert refused.state is State.NO_RELIABLE_DATA
    assert refused.reasons == (Reason.SURFACES_DIFFER,)
    answer = assess(block(season=season, alfalfa_ratio=1.2))
    kc = next(s for s in answer.steps if s.key == "kc")
    assert any("alfalfa Kc × 1.2" in t.source for t in kc.terms)


def test_limits_reach_back_as_far_as_asked() -> None:
    limits = LimitsInForce.of(GROUND, NOW, ET.expected, past_days=60)
    assert limits.table.first == NOW.date() - timedelta(days=60)
    assert limits.day_now == (NOW.date() - PLANTED).days
    assert limits.root_mm_at(-40 * 24.0) < limits.root_mm_at(0.0)


def test_a_shaped_curve_still_reads_tensions() -> None:
    shaped = Profile.from_horizons(
        [Horizon(0, 600, texture=TextureClass.LOAM, curve=CurveShape.CLASS_MEANS)]
    )
    plain = Profile.from_horizons([Horizon(0, 600, texture=TextureClass.LOAM)])
    h = np.array([0])
    for kpa, same in ((33.0, True), (1500.0, True), (120.0, False)):
        a, b = (float(p.theta_from_tension([kpa], h)[0]) for p in (shaped, plain))
        assert (a == pytest.approx(b, rel=1e-6)) is same


def test_over_the_ground_water_is_less_and_shares_stay() -> None:
    found = limits_by_day([GROUND, GROUND], PLANTED, 3)
    over = found.over_ground([1.0, 0.4])
    for name in ("full_mm", "wilt_mm", "taw_mm"):
        whole = getattr(found, name)
        assert getattr(over, name) == pytest.approx(whole * np.array([[1.0], [0.4]]))
    assert over.p(5.5) == pytest.approx(found.p(5.5))
    assert over.refill_mm(5.5)[1] == pytest.approx(0.4 * found.refill_mm(5.5)[1])


def test_grain_bears_drier_soil_as_it_ripens() -> None:
    """Taylor (1965), from memory: small grains 40-50 kPa while they grow, 800-1200 in ripening.
    Wheat's late stage of 30 days: half of it gone, 45 x (1000 / 45) ^ 0.5 = 212 kPa."""
    wheat = crop("wheat-winter")
    begins = sum(wheat.stage_days[:3])
    days = np.array([[begins - 1, begins, begins + 15, begins + 30, begins + 60]], float)
    found = own_tension_kpa([wheat], days)[0]
    assert found == pytest.approx([45, 45, 212.1, 1000, 1000], abs=0.1)
    # What does not ripen as grain keeps its limit; what has none has none.
    assert own_tension_kpa([crop("potato")], days)[0] == pytest.approx(40)
    assert np.isnan(own_tension_kpa([crop("rice")], days)).all()


def test_a_limit_that_a_person_set_does_not_ease() -> None:
    season = CropSeason(crop("wheat-winter"), date(2025, 10, 15))
    ground = BlockGround(
        (DatedSoil(None, PROFILE),), season, (LimitRule(RefillMethod.TENSION, 60.0),)
    )
    late = date(2025, 10, 15) + timedelta(days=225)
    assert limits_by_day([ground], late, 3).tension_kpa.tolist() == [[60, 60, 60]]
