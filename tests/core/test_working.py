"""Every step of the working can be redone by hand from its own terms."""

import itertools
from dataclasses import replace
from datetime import timedelta
from math import ceil, log
from typing import Any

import numpy as np
import pytest

from core.advice.assess import assess
from core.advice.holds import Hold, HoldKind
from core.advice.inputs import BlockInputs, PlannedSet, Watering
from core.advice.working import Step, Term, Unit
from core.crop.catalogue import crop
from core.crop.climate import Climate
from core.crop.salinity import Leaching, SaltStress, leaching
from core.crop.season import CoverSeen, CropSeason, StageSeen
from core.instrument.kinds import InstrumentKind
from core.irrigation.fixed import Drip
from core.irrigation.system import IrrigationSystem, SystemKind
from core.limits.refill_method import LimitRule, RefillMethod
from core.outlook.forecast import Forecast
from core.soil.horizon import CurveShape, Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from core.soil.water_table import WaterTable
from tests.core.blocks import NOW, PIVOT, block, changed, lived, probe, tensiometers
from tests.core.blocks import site as one_site

# mm over m2 to m3, and m3/h over m2 to mm/h: the only steps that change units.
FACTOR = {"volume": 1 / 1000, "rate": 1000}
FUNCTIONS = {
    "ceil": ceil,
    "ln": log,
    "min": min,
    "max": max,
    "within": lambda low, x, high: min(max(low, x), high),
}


def worked_out(formula: str, terms: tuple[Term, ...]) -> float:
    """A formula with its terms put in."""
    values = {t.symbol: t.value for t in terms}
    return float(eval(formula, {"__builtins__": {}}, {**FUNCTIONS, **values}))  # noqa: S307


def redo(step: Step) -> float:
    """What a step comes to."""
    return worked_out(step.formula, step.terms) * FACTOR.get(step.key, 1)


def days_ago(key: str, days: int) -> CropSeason:
    return CropSeason(crop(key), NOW.date() - timedelta(days=days))


SHAPED = Profile.from_horizons(
    [
        Horizon(0, 300, texture=TextureClass.LOAM, gravel=15, curve=CurveShape.ROSETTA),
        Horizon(300, 1200, texture=TextureClass.CLAY_LOAM, curve=CurveShape.CLASS_MEANS),
    ]
)

RAINY = Forecast.of(np.full((50, 10), 5.5), np.full((50, 10), 9.0), 31)

DRIP = IrrigationSystem(SystemKind.DRIP, area_m2=40_000, efficiency=0.9, rate_mm_h=1.2)

# Windy and dry for as long as is asked for: beyond what the equations hold for, too.
WINDY = Climate.before_days(NOW.date() - timedelta(days=60), np.full(60, 7.0), np.full(60, 15.0))


def in_wind(key: str, days: int, **seen: Any) -> CropSeason:
    return replace(days_ago(key, days), climate=WINDY, **seen)


CASES = {
    "theta instrument": block(),
    "tension instrument": block(sites=(tensiometers(35),)),
    "two sites": block(sites=(probe(1, 0.9), tensiometers(35, hours=-1))),
    "carried and watered": block(sites=(tensiometers(60),), waterings=(Watering(-10, 6.0),)),
    "moving machine, largest set": block(system=PIVOT),
    "initial stage": block(season=days_ago("potato", 10)),
    "development": block(season=days_ago("potato", 40)),
    "late stage": block(season=days_ago("potato", 115)),
    "climate, initial stage": block(season=in_wind("potato", 10)),
    "climate, development": block(season=in_wind("potato", 40)),
    "climate, mid season": block(season=in_wind("potato", 74)),
    "climate, late stage": block(season=in_wind("potato", 115)),
    "climate, low end": block(season=in_wind("wheat-winter", 215), sites=(probe(1, 0.4),)),
    "climate, cut for hay": block(season=in_wind("lucerne-hay", 100, cuts=(91,))),
    "climate, dual": block(season=in_wind("potato", 40), dual=True),
    "sprinklers in pulses": block(
        system=IrrigationSystem(SystemKind.SOLID_SET, 50_000, 0.75, rate_mm_h=12),
        intake_mm_h=6.0,
        slope_percent=2.0,
        sites=(probe(1, 0.6),),
    ),
    "drip, little and often": block(
        system=IrrigationSystem(SystemKind.DRIP, 50_000, 0.9, rate_mm_h=1.6 / 0.9),
        design=Drip(1.6, 0.3, 3.0, 0.3),
        little_and_often=True,
        wetted_share=0.3,
        intake_mm_h=4.0,
        sites=(probe(1, 0.85),),
    ),
    "daily, at full": block(
        system=IrrigationSystem(SystemKind.MICRO, 50_000, 0.85, rate_mm_h=3),
        little_and_often=True,
        sites=(probe(1, 1.0),),
    ),
    "leaching over the season": lived(leaching=leaching(1.7, 12, 1.5), sites=(probe(1, 0.5),)),
    "rise as entered": block(capillary_mm_day=1.5),
    "water table": block(
        water_table=WaterTable(NOW.date() - timedelta(days=400), np.array([1400.0]), "stated")
    ),
    "water table in the roots": block(
        water_table=WaterTable(NOW.date() - timedelta(days=400), np.array([350.0]), "stated"),
        sites=(probe(1, 0.4),),
    ),
    "flat share": block(rules=(LimitRule(RefillMethod.FLAT),)),
    "room for rain": block(rain_room_mm=4),
    "past refill": block(sites=(probe(1, 0.5),)),
    "tension limit": block(rules=(LimitRule(RefillMethod.TENSION, 60.0),)),
    "tension eased in ripening": block(
        rules=(LimitRule(RefillMethod.TENSION),),
        season=days_ago("wheat-winter", 222),
        sites=(probe(1, 0.3),),
    ),
    "own p": block(rules=(LimitRule(RefillMethod.CROP_P, 0.3),)),
    "seen in the field": block(
        season=CropSeason(
            crop("potato"), NOW.date() - timedelta(days=60), seen=(StageSeen(50, 40),)
        )
    ),
    "cut for hay": block(
        season=CropSeason(crop("lucerne-hay"), NOW.date() - timedelta(days=100), cuts=(91,))
    ),
    "young orchard": block(
        season=CropSeason(
            crop("walnut"), NOW.date() - timedelta(days=90), covers=(CoverSeen(10, 0.3, 3.0),)
        )
    ),
    "dormant": block(
        season=CropSeason(crop("hops"), NOW.date() - timedelta(days=200)),
        sites=(probe(1.0, 0.6),),
    ),
    "other curve": block(profile=SHAPED, sites=(tensiometers(35, profile=SHAPED),)),
    "roots below the profile": block(season=days_ago("walnut", 60)),
    "salty water": block(leaching=Leaching(0.12, 2.0, 0.95, falls_short=False)),
    "a strip under drip": block(wetted_share=0.45),
    "a strip by tension": block(wetted_share=0.45, rules=(LimitRule(RefillMethod.TENSION, 40.0),)),
    "a strip, followed": lived(wetted_share=0.45),
    "bare wet soil after a set": block(
        season=days_ago("potato", 35), dual=True, waterings=(Watering(-10, 12.0),)
    ),
    "below drip": block(
        dual=True, system=DRIP, wetted_share=0.35, waterings=(Watering(-10, 12.0),)
    ),
    "below drip after rain": block(
        dual=True, system=DRIP, wetted_share=0.35, waterings=(Watering(-10, 12.0, is_rain=True),)
    ),
    "dual, after a cut": block(
        season=CropSeason(crop("lucerne-hay"), NOW.date() - timedelta(days=100), cuts=(95,)),
        dual=True,
    ),
    "dual, a young orchard": block(
        season=CropSeason(
            crop("walnut"), NOW.date() - timedelta(days=90), covers=(CoverSeen(10, 0.3, 3.0),)
        ),
        dual=True,
    ),
    "dual, without a basal coefficient": block(season=days_ago("sudan-grass", 60), dual=True),
    "salt in the soil": block(
        season=replace(days_ago("bean-dry", 60), salt=SaltStress(1.5, 1.0, 19, 1.15))
    ),
    "salt below bare wet soil": block(
        season=replace(days_ago("bean-dry", 60), salt=SaltStress(9.0, 1.0, 19, 1.15)), dual=True
    ),
    "salt in a young orchard": block(
        season=CropSeason(
            crop("almond"),
            NOW.date() - timedelta(days=90),
            covers=(CoverSeen(10, 0.3, 3.0),),
            salt=SaltStress(3.0, 1.5, 19),
        )
    ),
    "rain to come": block(rain_room_mm=2, forecast=RAINY),
    "more rain than deficit": block(sites=(probe(1.0, 0.97),), forecast=RAINY),
    "a set planned": block(planned=(PlannedSet(20, 26, 15.0),)),
    "a set before the cut": block(holds=(Hold(40, 90, HoldKind.CUTTING),)),
    "a set after the spray": block(sites=(probe(1, 0.72),), holds=(Hold(0, 30, HoldKind.SPRAY),)),
    "a machine held up": block(system=PIVOT, holds=(Hold(1, 60, HoldKind.WIND),)),
}


@pytest.mark.parametrize("name", CASES)
def test_every_step_follows_from_its_terms(name: str) -> None:
    answer = assess(CASES[name])
    assert {"taw", "raw", "usable", "gross", "hours"} <= {s.key for s in answer.steps}
    for step in answer.steps:
        assert redo(step) == pytest.approx(step.value, abs=1e-6), step.key
        assert all(t.source for t in step.terms), step.key


@pytest.mark.parametrize("name", CASES)
def test_steps_hang_together(name: str) -> None:
    """A term said to be computed above is a result above."""
    answer = assess(CASES[name])
    results: dict[str, float] = {}
    for step in answer.steps:
        for term in step.terms:
            if term.source == "computed above" and term.symbol in results:
                assert term.value == pytest.approx(results[term.symbol]), (step.key, term.symbol)
        results[step.result] = step.value


@pytest.mark.parametrize("name", CASES)
def test_layers_add_up_to_the_deficit(name: str) -> None:
    inputs: BlockInputs = CASES[name]
    answer = assess(inputs)
    for site in inputs.sites:
        rows = [r for r in answer.layers if r.site == site.label and not r.doubt]
        read = next(
            t.value
            for s in answer.steps
            for t in s.terms
            if t.symbol == "Dr" and t.source == f"layers of {site.label}"
        )
        assert sum(r.deficit_mm or 0 for r in rows) == pytest.approx(read)
        for r in rows:
            assert r.fraction is not None
            assert r.available_mm is not None
            assert r.top_mm is not None
            assert r.bottom_mm is not None
            thick = r.bottom_mm - r.top_mm
            held = thick * (r.theta_full - r.theta_wilt) * r.watered
            assert r.available_mm == pytest.approx(held)
            psi = r.value
            if r.equal:
                psi = worked_out(r.equal_formula, r.equal)
                assert r.equal_kpa == pytest.approx(psi)
            if r.curve_formula:
                told = Term("psi", psi or 0.0, Unit.TENSION_KPA, "")
                theta = worked_out(r.curve_formula, (*r.curve, told)) * (1 - r.gravel)
                assert r.theta == pytest.approx(theta)
            if r.theta is not None:
                left = (r.theta - r.theta_wilt) / (r.theta_full - r.theta_wilt)
                assert r.fraction == pytest.approx(left)


def test_a_second_soil_in_a_sensors_layer_by_hand() -> None:
    """43 kPa at 30 cm in sandy loam that is full at 33; from 35 cm on loamy sand, full at 10:
    10 x 150 ** (ln(43 / 33) / ln(1500 / 33)) = 14.155 kPa there, and the content is that of the
    loamy sand's power curve, not of the sandy loam's."""
    soil = Profile.from_horizons(
        [
            Horizon(0, 350, texture=TextureClass.SANDY_LOAM, full_tension_kpa=33.0),
            Horizon(350, 1000, texture=TextureClass.LOAMY_SAND, full_tension_kpa=10.0),
        ]
    )
    site = tensiometers(43, hours=-1, profile=soil)
    answer = assess(block(sites=(site,), profile=soil))
    row = next(r for r in answer.layers if r.equal and r.top_mm == 350)
    assert [(t.symbol, round(t.value, 1)) for t in row.equal] == [
        ("psi1", 43.0),
        ("f1", 33.0),
        ("f2", 10.0),
    ]
    assert row.equal_kpa == pytest.approx(14.155, abs=0.001)
    a, b = (t.value for t in row.curve[:2])
    assert row.theta == pytest.approx((a / 14.155) ** (1 / b), rel=1e-4)
    assert {t.source for t in row.curve} == {"power curve, loamy sand"}


def test_a_soil_at_full_tells_its_share_alone() -> None:
    """A sensor at its full point says the soil beside it is full: no tension is worked out."""
    soil = Profile.from_horizons(
        [
            Horizon(0, 350, texture=TextureClass.SANDY_LOAM),
            Horizon(350, 1000, texture=TextureClass.LOAMY_SAND),
        ]
    )
    site = tensiometers(5, hours=-1, profile=soil)
    answer = assess(block(sites=(site,), profile=soil))
    row = next(r for r in answer.layers if r.top_mm == 350 and not r.curve_formula)
    assert (row.equal, row.equal_kpa, row.theta, row.deficit_mm) == ((), None, None, 0.0)


def test_day_table_runs_on_from_row_to_row() -> None:
    rows = assess(CASES["development"]).days
    assert len(rows) >= 2
    for today, tomorrow in itertools.pairwise(rows):
        following = today.deficit_mm + today.etc_mm + today.new_soil_mm + today.drained_mm
        following -= today.water_in_mm
        assert tomorrow.deficit_mm == pytest.approx(following)
        assert today.etc_mm == pytest.approx(today.kc * today.et0_mm * today.ks)
        assert today.usable_mm == pytest.approx(today.p * today.taw_mm - today.deficit_mm)


def test_balance_table_runs_on_from_row_to_row() -> None:
    """Also where roots grow, which brings the deficit of the soil that they meet."""
    rows = assess(lived(season=days_ago("potato", 35))).balance
    assert len(rows) == 10
    for one, two in itertools.pairwise(rows):
        assert one.new_soil_mm is not None
        following = one.depletion_mm + one.et_mm + one.drained_mm + one.runoff_mm
        following += one.new_soil_mm - one.water_in_mm
        assert two.forecast_mm == pytest.approx(following)
        assert two.depletion_mm == pytest.approx(two.forecast_mm + two.corrected_mm)
    assert any(r.new_soil_mm for r in rows)


def test_the_balance_table_has_the_readings_nearest_to_its_hour_as_read() -> None:
    """Now is ten past six, the rows begin at six. Read at seven yesterday: that reading stands in
    yesterday's row, not carried on to today; one of yesterday noon is nearer to no row."""
    early = assess(lived(sites=(tensiometers(43, hours=-23.2),)))
    read = sum(r.deficit_mm or 0 for r in early.layers)
    assert [round(r.hours, 2) for r in early.balance[-2:]] == [-48.17, -24.17]
    assert early.balance[-1].observed_mm == pytest.approx(read)
    heard = [r.day for r in early.balance if r.observed_mm is not None]
    assert heard == [-3, -1]
    noon = assess(lived(sites=(tensiometers(43, hours=-18.0),)))
    assert all(r.observed_mm is None for r in noon.balance)


def test_a_block_that_became_known_just_now_has_no_balance_behind_it() -> None:
    """Its first reading is minutes old: an answer with its working, and no row of the table."""
    first = one_site([150.0, 300.0], [-0.1], [[0.2, 0.2]], InstrumentKind.CAPACITANCE_PROBE)
    answer = assess(lived(sites=(first,), waterings=()))
    assert answer.deficit_mm is not None
    assert answer.steps
    assert answer.balance == ()


def test_sites_read_at_different_hours_stand_in_one_row_of_the_balance() -> None:
    """Each by its own reading nearest to six; of one kind and alike, they count the same."""
    early = tensiometers(60, hours=-25.5, label="A")
    late = tensiometers(43, hours=-23.2, label="B")
    answer = assess(lived(sites=(early, late)))
    read = {
        label: sum(r.deficit_mm or 0 for r in assess(lived(sites=(site,))).layers)
        for label, site in (("A", early), ("B", late))
    }
    assert answer.balance[-1].observed_mm == pytest.approx((read["A"] + read["B"]) / 2)


def test_a_doubted_sensor_is_shown_with_its_reason() -> None:
    site = tensiometers(84, hours=-1)
    answer = assess(block(sites=(probe(1, 0.9), site)))
    doubted = [r for r in answer.layers if r.doubt]
    assert len(doubted) == 2
    assert all(r.doubt == "outside the instrument's range" and r.value == 84 for r in doubted)
    assert all(r.deficit_mm is None for r in doubted)


def test_kc_of_wet_bare_soil_by_hand() -> None:
    """FAO-56 eq. 71-76. Potatoes on their 35th day: Kcb 0.15 + 0.95 x 10 / 30 = 0.467, 0.467 /
    1.10 of 0.6 m high. Kmax 1.2; fc = (0.317 / 1.05) ** (1 + 0.5 x 0.255); drip wetted 0.35 of
    the ground and the crop shades two thirds of its cover: few = 0.35 (1 - 2/3 fc). The top is
    full of water but for a day: Kr 1. Ke = min(1.2 - 0.467, few x 1.2)."""
    of = block(
        season=days_ago("potato", 35),
        dual=True,
        system=DRIP,
        wetted_share=0.35,
        waterings=(Watering(-10, 12.0),),
    )
    found = {s.key: s.value for s in assess(of).steps}
    kcb = 0.15 + 0.95 * 10 / 30
    fc = ((kcb - 0.15) / 1.05) ** (1 + 0.5 * 0.6 * kcb / 1.1)
    few = 0.35 * (1 - 2 / 3 * fc)
    assert found["kcb"] == pytest.approx(kcb)
    assert found["cover"] == pytest.approx(fc)
    assert found["exposed"] == pytest.approx(few)
    assert found["ke"] == pytest.approx(min(1.2 - kcb, few * 1.2))
    assert found["etc"] == pytest.approx((found["kcb"] + found["ke"]) * 5.5)
    assert found["transpiration"] == pytest.approx(kcb * 5.5)


def test_use_ahead_is_what_the_crop_and_the_bare_soil_use() -> None:
    """Day by day: Kc x ET0 x Ks, times what the crop was found to use of it, and the soil's."""
    of = block(season=days_ago("potato", 35), dual=True, waterings=(Watering(-10, 12.0),))
    for dual in (True, False):
        days = assess(changed(of, dual=dual)).days
        for day in days[:3]:
            assert day.bare_mm is not None
            assert day.etc_mm == pytest.approx(day.kc * day.et0_mm * day.ks + day.bare_mm, rel=0.01)
        first = days[0].bare_mm
        assert (first is not None and first > 1) is dual
