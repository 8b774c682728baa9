"""Slow layers and water tables: what drains, what rises and where roots end; by hand, and against
an integral of its own."""

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest
from scipy.integrate import quad

from core.advice.assess import assess
from core.advice.inputs import Watering
from core.advice.rise import rise_by_day
from core.advice.vocabulary import Reason
from core.balance.root_zone import RootZoneDay, balance_day
from core.limits.by_day import limits_by_day
from core.soil.conductivity import class_conductivity
from core.soil.drainage import held_up, most_drained_mm
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from core.soil.water_table import (
    KPA_PER_MM,
    WaterTable,
    capillary_rise,
    held_above_full,
    held_over_table_mm,
    root_bound_mm,
)
from core.state.zones import root_zones
from tests.core.blocks import NOW, block, lived

TODAY = NOW.date()
LOAM = Profile.from_horizons([Horizon(0, 1500, texture=TextureClass.LOAM)])
PAN = Profile.from_horizons(
    [
        Horizon(0, 600, texture=TextureClass.SANDY_LOAM),
        Horizon(600, 700, texture=TextureClass.CLAY, bulk_density=1.6, stops_roots=True),
        Horizon(700, 1500, texture=TextureClass.LOAM),
    ]
)


def table(depth_mm: float, since_days: int = 400) -> WaterTable:
    first = TODAY - timedelta(days=since_days)
    return WaterTable(first, np.array([depth_mm]), "read in the test")


def height_mm(flux: float, texture: TextureClass, upto_kpa: float = 1500.0) -> float:
    """Height that a flux reaches, by quadrature (scipy)."""
    soil = class_conductivity()[texture]

    def per_log(log_kpa: float) -> float:
        kpa = np.exp(log_kpa)
        return float(kpa / KPA_PER_MM / (1 + flux / max(float(soil.at(kpa)), 1e-300)))

    found: float = quad(per_log, np.log(1e-4), np.log(upto_kpa), limit=400)[0]
    return found


def test_conductivity_by_hand() -> None:
    """Loam: alpha 0.036 / cm, n 1.56, 249.6 mm/day; at 100 cm (9.807 kPa): (3.6)^1.56 = 7.376;
    Se = 8.376 ^ -0.359 = 0.4663; 1 - (1 - Se^2.786)^0.359 = 0.0446; K = 249.6 x 0.683 x 0.00199."""
    loam = class_conductivity()[TextureClass.LOAM]
    assert float(loam.at(100 / 10.197162)) == pytest.approx(0.339, rel=0.01)
    assert float(loam.at(0.0)) == pytest.approx(249.6)


@pytest.mark.parametrize("texture", [TextureClass.SANDY_LOAM, TextureClass.LOAM, TextureClass.CLAY])
@pytest.mark.parametrize("apart_mm", [300.0, 800.0, 1600.0])
def test_what_rises_reaches_the_roots(texture: TextureClass, apart_mm: float) -> None:
    """The flux is the one whose height of rise is the distance, to the step of the table of
    fluxes (6 percent)."""
    soil = Profile.from_horizons([Horizon(0, 3000, texture=texture)])
    found = capillary_rise(soil, 600, 600 + apart_mm)
    assert height_mm(found, texture) >= apart_mm * 0.995
    assert height_mm(found * 1.07, texture) < apart_mm * 1.005


def test_layers_between_are_crossed_one_after_the_other() -> None:
    """Of silt loam over sand, as much rises as both carry: the tension on top of the sand, where
    that flux ends, is where the loam begins."""
    soil = Profile.from_horizons(
        [
            Horizon(0, 900, texture=TextureClass.SILT_LOAM),
            Horizon(900, 3000, texture=TextureClass.LOAMY_SAND),
        ]
    )
    found = capillary_rise(soil, 600, 1200)
    sand = class_conductivity()[TextureClass.LOAMY_SAND]
    kpa = np.geomspace(1e-4, 1500, 200_000)
    rise = np.diff(kpa) / KPA_PER_MM / (1 + found / np.maximum(sand.at(kpa[1:]), 1e-30))
    height = np.concatenate([[0], np.cumsum(rise)])
    on_top = float(np.interp(300, height, kpa))
    loam = TextureClass.SILT_LOAM
    above = height_mm(found, loam) - height_mm(found, loam, on_top)
    assert above >= 300
    # The other way round the sand lies where it is dry, and carries next to nothing.
    turned = Profile.from_horizons(
        [
            Horizon(0, 900, texture=TextureClass.LOAMY_SAND),
            Horizon(900, 3000, texture=TextureClass.SILT_LOAM),
        ]
    )
    assert capillary_rise(turned, 600, 1200) < 0.5 * found
    alone = Profile.from_horizons([Horizon(0, 3000, texture=loam)])
    assert found < capillary_rise(alone, 600, 1200)


def test_deep_and_near_tables() -> None:
    assert capillary_rise(LOAM, 600, 12_000) == 0
    assert capillary_rise(LOAM, 600, np.inf) == 0
    assert capillary_rise(LOAM, 600, 500) == pytest.approx(1000)


def test_no_more_rises_than_the_crop_takes() -> None:
    """From 0.7 m more than 13 mm/day could; the crop takes 5. At 1.6 m a loam lets 0.53 rise."""
    roots, use = np.full((1, 1), 600.0), np.full((1, 1), 5.0)
    near, far = (
        rise_by_day([block(profile=LOAM, water_table=table(d))], roots, TODAY, use)
        for d in (700.0, 1600.0)
    )
    assert near[0, 0] == 5
    assert far[0, 0] == pytest.approx(0.53, abs=0.04)
    strip = rise_by_day(
        [block(profile=LOAM, water_table=table(1600), wetted_share=0.5)], roots, TODAY, use
    )
    assert strip[0, 0] == pytest.approx(far[0, 0] / 2)


def test_where_a_table_is_known_the_stated_rise_does_not_count() -> None:
    roots, use = np.full((1, 1), 600.0), np.full((1, 1), 5.0)
    stated = rise_by_day([block(capillary_mm_day=1.5)], roots, TODAY, use)
    both = rise_by_day(
        [block(profile=LOAM, capillary_mm_day=1.5, water_table=table(1600))], roots, TODAY, use
    )
    assert stated[0, 0] == 1.5
    assert both[0, 0] == pytest.approx(0.53, abs=0.04)


def test_a_reading_holds_until_the_next_and_none_before_the_first() -> None:
    first = date(2026, 5, 1)
    dated = WaterTable(first, np.array([1500.0, 1500.0, 900.0]), "read")
    assert dated.on(date(2026, 4, 30), 5).tolist() == [np.inf, 1500, 1500, 900, 900]
    assert root_bound_mm([None, dated], first, 3).tolist() == [[np.inf] * 3, [1500, 1500, 900]]
    # Roots that stand in water keep to the top.
    assert root_bound_mm([WaterTable(first, np.array([20.0]), "")], first, 1)[0, 0] == 100


def test_no_root_grows_into_the_table() -> None:
    high = block(profile=LOAM, water_table=table(350))
    assert high.assumed.season is not None
    limits = limits_by_day([high.assumed.ground(high.assumed.season)], TODAY, 1)
    assert limits.root_mm[0, 0] == 350
    free = block(profile=LOAM)
    assert free.assumed.season is not None
    roots = limits_by_day([free.assumed.ground(free.assumed.season)], TODAY, 1).root_mm[0, 0]
    assert roots == 400


def test_soil_over_a_table_stays_wetter_than_full() -> None:
    """Loam has drained at 8 kPa or so; 400 mm over the table stand 3.92 kPa."""
    loam = LOAM.limits[0]
    b = np.log(1500 / 33) / np.log(loam.theta_full / loam.theta_wilt)
    drained = np.interp(np.log(loam.ksat_mm_h), np.log([2, 15, 60]), [12, 8, 5])
    want = loam.theta_full * ((drained / 3.924) ** (1 / b) - 1)
    assert float(held_above_full(loam, 500, 900)) == pytest.approx(want)
    assert float(held_above_full(loam, 500, 2500)) == 0
    room = loam.theta_sat - loam.theta_full
    assert float(held_above_full(loam, 800, 800)) == pytest.approx(room)
    slices = [float(held_above_full(loam, z, 900)) for z in range(10, 600, 20)]
    assert held_over_table_mm(LOAM, 600, 900) == pytest.approx(20 * sum(slices))


def test_the_slowest_layer_near_the_roots_sets_the_days() -> None:
    """Below the roots, and no deeper than 30 cm."""
    slow = PAN.limits[1].ksat_mm_h
    assert slow < PAN.limits[2].ksat_mm_h < PAN.limits[0].ksat_mm_h
    assert most_drained_mm(PAN, 400) == pytest.approx(24 * slow)
    assert most_drained_mm(PAN, 250) == pytest.approx(24 * PAN.limits[0].ksat_mm_h)


def test_layers_over_a_slow_one_let_out_what_it_takes() -> None:
    edge = np.array([0.0, 200.0, 500.0, 900.0, 1500.0])
    slow = 24 * PAN.limits[1].ksat_mm_h
    assert slow < 100
    # The second layer ends where the third begins, in which the pan lies.
    assert held_up(PAN, edge)[1] == pytest.approx(slow)
    assert held_up(PAN, edge)[0] == np.inf
    assert np.isinf(held_up(LOAM, edge)).all()
    # A faster layer below a slow one holds nothing up.
    clay_first = Profile.from_horizons(
        [
            Horizon(0, 300, texture=TextureClass.CLAY),
            Horizon(300, 1500, texture=TextureClass.CLAY_LOAM),
        ]
    )
    assert clay_first.limits[0].ksat_mm_h < clay_first.limits[1].ksat_mm_h
    assert 24 * clay_first.limits[1].ksat_mm_h < 100
    assert held_up(clay_first, edge)[0] == np.inf


def test_a_surplus_over_a_pan_by_hand() -> None:
    """40 mm over full, nine tenths a day but no more than 6 mm through the pan; 10 mm stay over a
    table. Day by day 34, 28, 22, 16; then 0.9 x 6 = 5.4."""
    zone = RootZoneDay(
        *(np.asarray(x, float) for x in (100.0, 50.0, 0.0, 0.0, 90.0, 0.9)),
        most_drained_mm=6.0,
        held_mm=10.0,
    )
    depletion = np.array(-40.0)
    found = []
    for _ in range(5):
        depletion = balance_day(depletion, 0.0, zone, 0.0, 0.0).depletion_mm
        found.append(round(-float(depletion), 3))
    assert found == [34, 28, 22, 16, 10.6]


def test_zones_carry_what_holds_water_up() -> None:
    free = block(profile=PAN)
    assert free.assumed.season is not None
    limits = limits_by_day([free.assumed.ground(free.assumed.season)], TODAY, 2)
    zones = root_zones([PAN], limits, 5.0, 0.5, [table(800)])
    assert zones.most_drained_mm[0, 0] == pytest.approx(12 * PAN.limits[1].ksat_mm_h)
    held = held_over_table_mm(PAN, float(limits.root_mm[0, 0]), 800)
    assert zones.held_mm[0, 0] == pytest.approx(held / 2)
    assert zones.until(0).held_mm.shape == (1, 1)


def test_rain_on_a_full_soil_over_a_pan_stays_for_days() -> None:
    """The ensemble's own state: what a free soil has lost by the third day stands over a pan."""
    wet = (Watering(-72.0, 60.0, is_rain=True),)
    surplus = []
    for profile in (PAN, replace(PAN, limits=(PAN.limits[0],) * 3)):
        answer = assess(lived(profile=profile, sites=(), waterings=wet, tended=True))
        assert answer.deficit_mm is not None
        surplus.append(answer.deficit_mm)
    assert surplus[0] < surplus[1]


def test_a_table_waters_the_crop_and_says_so() -> None:
    """Near enough, the crop lives on it: nothing is due; and the reason names it."""
    plain, fed = (
        assess(lived(profile=LOAM, sites=(), waterings=(), water_table=t, tended=True))
        for t in (None, table(900))
    )
    assert plain.deficit_mm is not None
    assert fed.deficit_mm is not None
    assert fed.deficit_mm < plain.deficit_mm
    assert Reason.WATER_TABLE_FEEDS in fed.reasons
    assert Reason.WATER_TABLE_FEEDS not in plain.reasons
    step = next(s for s in fed.steps if s.key == "capillary_rise")
    assert step.value > 0
    assert "capillary_rise" not in {s.key for s in plain.steps}


def test_a_table_in_the_usual_roots_is_said() -> None:
    high = assess(lived(profile=LOAM, sites=(), water_table=table(350)))
    low = assess(lived(profile=LOAM, sites=(), water_table=table(1500)))
    assert Reason.WATER_TABLE_IN_ROOTS in high.reasons
    assert high.root_mm == 350
    assert Reason.WATER_TABLE_IN_ROOTS not in low.reasons
