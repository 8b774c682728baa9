"""Every optional input of a decision, worked by hand where the sensors are taken at their word:
then the state is the readings' and the expected case is one sum a day."""

from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest

from core.advice.assess import assess
from core.advice.cost_of_set import cost_of_set, wetting_mm
from core.advice.decide import LEAST_DUE_MM, Decisions, decide
from core.advice.inputs import BlockInputs, PastWeather, PlannedSet, Watering
from core.crop.catalogue import crop
from core.crop.salinity import Leaching
from core.crop.season import CropSeason
from core.irrigation.system import IrrigationSystem, SystemKind
from core.limits.by_day import BlockGround, DatedSoil, limits_by_day
from core.limits.refill_method import LimitRule, RefillMethod
from core.outlook.forecast import Forecast
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from core.state.estimate_from import EstimateFrom
from tests.core.blocks import NOW, PIVOT, PROFILE, block, changed, lived, probe

# Potato at its book's day 74: Kc 1.15, roots of 400 mm, in 300 mm of loam and 100 of clay loam.
ETC = 1.15 * 5.5
LOAM, CLAY = PROFILE.limits
TAW = 300 * (LOAM.theta_full - LOAM.theta_wilt) + 100 * (CLAY.theta_full - CLAY.theta_wilt)
DEFICIT = 0.1 * TAW


def told(**changes: object) -> BlockInputs:
    """A tenth of the available water gone, 5.5 mm/day ahead, no weather behind."""
    dry = Forecast.of(np.full((50, 10), 5.5), np.zeros((50, 10)), 31)
    return block(**{"sites": (probe(0.9, 0.9),), "forecast": dry, **changes})


def with_rain(mm: float, day: int) -> Forecast:
    """Every course brings so much on one day."""
    rain = np.zeros((50, 10))
    rain[:, day] = mm
    return Forecast.of(np.full((50, 10), 5.5), rain, 31)


def decided(of: BlockInputs) -> Decisions:
    assert of.assumed.season is not None
    return decide([of], [of.assumed.season])


def course(of: BlockInputs) -> list[float]:
    """Depletion now and on the next two mornings [mm]."""
    found: list[float] = decided(of).expected.depletion_mm[0, 0, :3].tolist()
    return found


def near(*mm: float) -> object:
    return pytest.approx(mm, abs=0.35)


def test_nothing_but_use() -> None:
    assert course(told()) == near(DEFICIT, DEFICIT + ETC, DEFICIT + 2 * ETC)


def test_capillary_rise_ahead() -> None:
    """2 mm/day of the 6.3 come from below."""
    assert course(told(capillary_mm_day=2.0)) == near(
        DEFICIT, DEFICIT + ETC - 2, DEFICIT + 2 * (ETC - 2)
    )


def test_rain_ahead_counts_on_the_strip_alone() -> None:
    """10 mm tomorrow: all of it, and half of it where half of the ground is watered. There half
    of the depth is what is missing over the whole block."""
    whole = course(told(forecast=with_rain(10, 1)))
    assert whole == near(DEFICIT, DEFICIT + ETC, DEFICIT + 2 * ETC - 10)
    strip = course(told(forecast=with_rain(10, 1), wetted_share=0.5))
    assert strip == near(DEFICIT / 2, DEFICIT / 2 + ETC, DEFICIT / 2 + 2 * ETC - 5)


def test_what_the_soil_does_not_take_in_runs_off() -> None:
    """1 mm/h over four hours: 4 of the 10 mm enter."""
    assert course(told(forecast=with_rain(10, 1), intake_mm_h=1.0)) == near(
        DEFICIT, DEFICIT + ETC, DEFICIT + 2 * ETC - 4
    )


def test_todays_rain_counts_until_two_in_the_afternoon() -> None:
    """At six it may still come; at three it has come or not, and tomorrow's comes within a day."""
    assert course(told(forecast=with_rain(10, 0)))[1] == pytest.approx(DEFICIT + ETC - 10, abs=0.35)
    at_three = NOW.replace(hour=15)
    today = course(told(forecast=with_rain(10, 0), now=at_three))
    tomorrow = course(told(forecast=with_rain(10, 1), now=at_three))
    assert today[1] - tomorrow[1] == pytest.approx(10, abs=0.35)


def test_a_set_that_stands_still_waters_all_its_run_long() -> None:
    """15 mm from hour 18 to 33: 6 mm today, 9 tomorrow."""
    found = course(told(planned=(PlannedSet(18.0, 33.0, 15.0),)))
    assert found == near(DEFICIT, DEFICIT + ETC - 6, DEFICIT + 2 * ETC - 15)


def test_a_machine_has_watered_its_last_part_when_it_ends() -> None:
    found = course(told(system=PIVOT, planned=(PlannedSet(18.0, 33.0, 15.0),)))
    assert found == near(DEFICIT, DEFICIT + ETC, DEFICIT + 2 * ETC - 15)


def test_what_a_running_set_has_given_already_counts_today() -> None:
    """From two hours ago to two hours on, nothing of it logged yet: all 12 mm today."""
    found = course(told(planned=(PlannedSet(-2.0, 2.0, 12.0),)))
    assert found[1] == pytest.approx(DEFICIT + ETC - 12, abs=0.35)


def test_a_set_that_starts_exactly_now_is_whole() -> None:
    found = course(told(planned=(PlannedSet(0.0, 4.0, 12.0),)))
    assert found[1] == pytest.approx(DEFICIT + ETC - 12, abs=0.35)


def test_room_for_rain_takes_likely_rain_in() -> None:
    """5 mm of room, 8 mm of rain in every course after the start: 8 are left, not 13."""
    due = told(sites=(probe(0.7, 0.7),))
    start = decided(due)
    day = int(start.start_hours[0] // 24)
    wet = due.assuming(forecast=with_rain(8, day + 1), rain_room_mm=5.0)
    d = decided(wet)
    assert d.likely_rain_mm[0] == pytest.approx(8)
    assert d.amounts.net_mm[0] == pytest.approx(d.start_deficit_mm[0] - 8, abs=1e-6)
    more = decided(wet.assuming(rain_room_mm=11.0))
    assert more.amounts.net_mm[0] == pytest.approx(more.start_deficit_mm[0] - 11, abs=1e-6)


def test_a_set_is_worth_giving_once_it_fits_below_the_room() -> None:
    """The smallest set brings 15 mm net: worth giving at a deficit of 15, of 20 with 5 of room."""
    eager = IrrigationSystem(SystemKind.SOLID_SET, 50_000, 0.75, rate_mm_h=4.0, smallest_mm=20)
    plain, kept = (decided(told(system=eager, rain_room_mm=r)) for r in (0.0, 5.0))
    assert plain.earliest_hours[0] == pytest.approx((15 - DEFICIT) / ETC * 24, abs=2)
    assert kept.earliest_hours[0] - plain.earliest_hours[0] == pytest.approx(5 / ETC * 24, abs=1)


@pytest.mark.parametrize("days, chance", [(25, 0.2), (80, 0.1)], ids=["early", "critical"])
def test_a_persons_refill_point_takes_one_chance_in_five_or_ten(days: int, chance: float) -> None:
    """Maize at day 80 is at its most sensitive."""
    season = CropSeason(crop("maize-grain"), NOW.date() - timedelta(days=days))
    rules = (LimitRule(RefillMethod.FLAT, 0.6),)
    d = decided(
        lived(
            season=season,
            rules=rules,
            forecast=told().assumed.forecast,
            estimate_from=EstimateFrom.BALANCE,
            waterings=(Watering(-24.0, 90.0),),
        )
    )
    assert bool(d.critical[0]) is (chance == 0.1)
    assert 0 < d.chance_days[0] < d.days_left[0]
    assert d.taken_chance[0] == pytest.approx(chance)


def test_doubt_leaves_water_out_only_where_the_crop_rules() -> None:
    own = decided(lived(forecast=told().assumed.forecast))
    ruled = decided(
        lived(forecast=told().assumed.forecast, rules=(LimitRule(RefillMethod.FLAT, 0.3),))
    )
    assert own.unsure_mm[0] > 0
    assert ruled.unsure_mm[0] == 0


def test_the_wet_surface_evaporates_beside_the_crop_at_the_start_and_ahead() -> None:
    """With the dual coefficient a day uses Kcb and what the wetted bare ground gives off."""
    past = PastWeather(NOW.date() - timedelta(days=20), np.full(20, 5.5))
    young = CropSeason(crop("potato"), NOW.date() - timedelta(days=35))
    wet = told(season=young, past=past, dual=True, waterings=(Watering(-10.0, 25.0, is_rain=True),))
    d = decided(wet)
    g, now = d.gathered, d.gathered.past_days
    assert g.surface.bare_mm[0, now] > 1.0
    assert g.surface.bare_mm[0, now - 1] > g.surface.bare_mm[0, now + 6] >= 0, "the surface dries"
    used = g.kc[0, now] * 5.5 * d.track.use_factor[0, -1] + g.surface.bare_mm[0, now]
    moved = d.expected.depletion_mm[0, 0, 1] - d.expected.depletion_mm[0, 0, 0]
    drained = d.expected.drained_mm[0, 0, 0]
    grew = d.expected.new_soil_mm[0, 0, 0]
    assert moved == pytest.approx(used + drained + grew, abs=0.2)
    part = decided(changed(wet, wetted_share=0.3, waterings=(Watering(-10.0, 25.0),))).gathered
    assert part.surface.bare_mm[0, now] < 0.7 * g.surface.bare_mm[0, now]


def test_leaching_is_on_top_of_what_is_missing() -> None:
    """A fifth of the water passes below the roots: gross = deficit / 0.75 / 0.8."""
    fifth = Leaching(0.2, 2.0, 0.95, falls_short=False)
    d = decided(told(leaching=fifth, sites=(probe(0.5, 0.5),)))
    assert d.amounts.gross_mm[0] == pytest.approx(
        (d.start_deficit_mm[0] - d.unsure_mm[0]) / 0.75 / 0.8
    )


def test_gravel_leaves_the_share_at_a_tension_as_it_is() -> None:
    """The curve is of the fine earth, full and wilting of the whole soil: stones take their part
    of both."""
    season = CropSeason(crop("potato"), NOW.date() - timedelta(days=74))
    share = []
    for gravel in (0.0, 0.3):
        profile = Profile.from_horizons(
            [Horizon(0, 1200, texture=TextureClass.LOAM, gravel=gravel)]
        )
        ground = BlockGround(
            (DatedSoil(None, profile),), season, (LimitRule(RefillMethod.TENSION, 60),)
        )
        share.append(float(limits_by_day([ground], NOW.date(), 1).p(5.5)[0, 0]))
    assert share[0] == pytest.approx(share[1], rel=1e-3)
    assert 0.15 < share[0] < 0.6


def test_a_dry_crop_never_waits_for_room_for_a_large_set() -> None:
    """A smallest set of 75 mm net, more than the roots hold: below refill it is due now."""
    large = IrrigationSystem(SystemKind.SOLID_SET, 50_000, 0.75, rate_mm_h=4.0, smallest_mm=100)
    dry = decided(lived(forecast=told().assumed.forecast, system=large))
    assert dry.track.taw_mm[0, -1] < 75
    assert dry.days_left[0] == 0
    assert dry.start_hours[0] == 0


def test_where_water_is_planned_nobody_speaks_of_waiting_for_rain() -> None:
    rain = told(sites=(probe(0.75, 0.75),), forecast=with_rain(10, 1))
    assert decided(rain).rain_chance[0] > 0
    planned = decided(replace(rain, planned=(PlannedSet(60, 66, 20.0),)))
    assert np.isnan(planned.rain_chance[0])
    assert np.isnan(planned.wait_mm[0])


def test_waiting_for_rain_is_told_three_days_after_the_start() -> None:
    """No rain comes: what is short on average three days after the start, over all members."""
    d = decided(told(sites=(probe(0.75, 0.75),)))
    assert d.rain_chance[0] == 0
    day = int(np.ceil(d.start_hours[0] / 24)) + 3
    short = -d.usable_range_mm[0, 1, day]
    assert short > 3
    assert d.wait_mm[0] == pytest.approx(short, rel=0.15)


@pytest.mark.parametrize("share", [1.0, 0.3], ids=["all of the ground", "three tenths"])
def test_a_set_that_wets_part_of_the_ground_loses_less_to_the_sun(share: float) -> None:
    d = decided(lived(forecast=told().assumed.forecast, wetted_share=share))
    kc = d.gathered.kc[:, d.gathered.past_days]
    due, sigma = np.maximum(d.expected.raw_mm[:, 0, 0], LEAST_DUE_MM), d.track.sigma_mm[:, -1]
    by_hand = cost_of_set(due, sigma, share * wetting_mm(kc, np.ones(1)))
    assert d.set_cost[0] == pytest.approx(by_hand.cost[0])


def test_the_latest_start_waits_for_the_first_of_the_members(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    of = lived(forecast=told().assumed.forecast)
    before = decided(of).chance_days[0]
    first = np.array([before + 2.0])
    monkeypatch.setattr("core.advice.decide.days_until_any_short", lambda *_: first)
    assert decided(of).chance_days[0] == pytest.approx(before + 2.0)


def test_a_line_is_told_as_a_chance_and_what_the_crop_bears_as_a_loss() -> None:
    own, ruled = (
        {s.key: s for s in assess(lived(forecast=told().assumed.forecast, rules=rules)).steps}
        for rules in ((), (LimitRule(RefillMethod.FLAT, 0.3),))
    )
    assert own["needed_by"].formula == "early"
    assert 0.03 <= own["taken_loss"].value <= 0.15
    assert ruled["needed_by"].formula == "min(days, early)"
    assert "taken_loss" not in ruled


def test_how_long_to_wait_goes_by_a_set_for_what_the_crop_may_use() -> None:
    """Not by one for what is missing today: that grows while it waits."""
    d = decided(lived(forecast=told().assumed.forecast, waterings=(Watering(-10.0, 70.0),)))
    raw, missing = d.expected.raw_mm[0, 0, :1], d.expected.depletion_mm[0, 0, :1]
    assert abs(raw[0] - missing[0]) > 5, "the two can be told apart"
    wetting = wetting_mm(d.gathered.kc[:, d.gathered.past_days], np.ones(1))
    usual = cost_of_set(raw, d.track.sigma_mm[:, -1], wetting)
    assert d.set_cost == pytest.approx(usual.cost)


def test_a_machine_starts_one_turn_before_the_water_is_needed() -> None:
    """Four turns of 14 h are not 55 h at once: the last part has water when the first turn has
    come round. Two turns, half of the lead."""
    # Always 20 mm, so that the two differ in nothing else.
    once = replace(PIVOT, smallest_mm=20, largest_mm=20)
    d = decided(block(system=once, sites=(probe(1, 0.97),)))
    twice = decided(changed(d.gathered.blocks[0], system=replace(once, turn_mm=10.0)))
    hours = 20 / once.application_rate_mm_h
    assert (d.amounts.turn_hours[0], twice.amounts.turn_hours[0]) == (hours, hours / 2)
    assert d.soil_hours[0] > 0
    assert twice.soil_hours[0] == pytest.approx(d.soil_hours[0] + hours / 2)


def test_a_share_that_a_person_set_errs_as_the_depletion_does() -> None:
    """Where the crop's own p rules, what it bears is learned too and errs along."""
    ahead = told().assumed.forecast
    own = decided(lived(forecast=ahead)).track
    ruled = decided(lived(forecast=ahead, rules=(LimitRule(RefillMethod.FLAT, 0.3),))).track
    assert ruled.usable_sigma_mm[0, -1] == pytest.approx(ruled.sigma_mm[0, -1])
    assert abs(own.usable_sigma_mm[0, -1] - own.sigma_mm[0, -1]) > 0.5
