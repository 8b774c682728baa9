"""Members in the days ahead: what each course of the weather and each plan does to them."""

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from scipy.special import ndtri

from core.advice.days_ahead import (
    CAUTION,
    NEAR_DAYS,
    Members,
    expected_loss,
    run_members,
    weather_ahead,
)
from core.advice.gather import gather
from core.advice.inputs import BlockInputs, PlannedSet, Watering
from core.advice.state_now import State, state_of
from core.estimate.ahead import CASES, DEPLETION, RAW
from core.limits.refill_method import LimitRule, RefillMethod
from core.outlook.forecast import Forecast
from core.state.estimate_from import EstimateFrom
from tests.core.blocks import lived


def forecast(et0: float, rain: np.ndarray | None = None) -> Forecast:
    """Fifty courses of the same ET0; rain (courses, days)."""
    fell = np.zeros((50, NEAR_DAYS)) if rain is None else rain
    return Forecast.of(np.full((50, NEAR_DAYS), et0), fell, 31)


def watered(et0: float = 4.0, **changes: Any) -> BlockInputs:
    """A block without sensors, given 90 mm a day ago: nothing is short, and nothing else known."""
    told = {
        "forecast": forecast(et0),
        "estimate_from": EstimateFrom.BALANCE,
        "waterings": (Watering(-24.0, 90.0),),
    }
    return lived(**{**told, **changes})


def ahead(block: BlockInputs) -> tuple[State, Members]:
    assert block.assumed.season is not None
    g = gather([block], [block.assumed.season])
    state = state_of(g, weather_ahead(g))
    return state, run_members(replace(g, zones=state.zones), state)


def short(block: BlockInputs) -> np.ndarray:
    """Depletion of the members day by day, (CASES, days + 1) [mm]."""
    state, _ = ahead(block)
    assert state.ahead is not None
    out: np.ndarray = state.ahead[0, DEPLETION]
    return out


def moved(block: BlockInputs, days: int) -> float:
    """How far the mean depletion moves in so many days [mm]."""
    course = short(block)
    return float((course[:, days] - course[:, 0]).mean())


def test_a_course_with_rain_is_wetter_than_one_without() -> None:
    """12 mm on the fourth day of every second course: those are 12 mm less short after it."""
    rain = np.zeros((50, NEAR_DAYS))
    rain[::2, 4] = 12.0
    course = short(watered(forecast=forecast(4.0, rain)))
    gap = course[1::2].mean(axis=0) - course[::2].mean(axis=0)
    assert gap[5] - gap[4] == pytest.approx(12, abs=2)


def test_water_that_is_planned_reaches_all_members() -> None:
    dry = watered()
    given = replace(dry, planned=(PlannedSet(96.0, 100.0, 12.0),))
    assert moved(dry, 4) == pytest.approx(moved(given, 4), abs=0.1)
    assert moved(dry, 5) - moved(given, 5) == pytest.approx(12, abs=1.5)


def test_what_is_used_follows_the_weather_asked_for() -> None:
    """Potato in mid season, Kcb 1.1: 2 mm/day more of ET0 use 2.2 mm/day more while nothing is
    short; the mean of what members think of the crop's use lies within a few percent of it."""
    one, two = (moved(watered(e), 4) for e in (1.0, 3.0))
    assert two - one == pytest.approx(4 * 2 * 1.1, rel=0.15)


def test_water_rises_from_below_ahead_too() -> None:
    """2 mm/day at the foot of the roots: in six days 12 mm less is missing, or what did not sink
    deeper of it."""
    fed, dry = watered(capillary_mm_day=2.0), watered()
    assert 3 < moved(dry, 6) - moved(fed, 6) < 12.5


def test_a_strip_has_all_the_use_of_the_block() -> None:
    """Half of the ground watered: its depletion grows twice as fast over it."""
    whole, strip = moved(watered(3.0), 3), moved(watered(3.0, wetted_share=0.5), 3)
    assert strip / whole == pytest.approx(2, rel=0.25)


def test_the_members_start_where_the_state_stands() -> None:
    state, members = ahead(watered())
    now = state.track.depletion_mm.shape[1] - 1
    left = state.track.raw_mm[0, now] - state.track.depletion_mm[0, now]
    assert members.usable_mm[0, :, 0].mean() == pytest.approx(left, abs=1e-6)
    spread = members.usable_mm[0, :, 0].std()
    assert state.ahead is not None
    between = (state.ahead[0, RAW, :, 0] - state.ahead[0, DEPLETION, :, 0]).std()
    assert spread == pytest.approx(0.95 * between), "a little closer together than the members"
    assert spread == pytest.approx(state.track.usable_sigma_mm[0, now], rel=0.3)


def test_a_share_set_by_a_person_is_that_share_in_every_member() -> None:
    block = watered(rules=(LimitRule(RefillMethod.FLAT, 0.3),))
    _, members = ahead(block)
    _, more = ahead(block.assuming(rules=(LimitRule(RefillMethod.FLAT, 0.4),)))
    gap = more.usable_mm[0, :, 0] - members.usable_mm[0, :, 0]
    state, _ = ahead(block)
    assert gap.mean() == pytest.approx(0.1 * state.track.taw_mm[0, -1], rel=0.1)


def test_after_the_forecast_every_member_goes_on_from_where_it_is() -> None:
    _, members = ahead(watered())
    steps = -np.diff(members.usable_mm[0], axis=1)
    before, after = steps[:, NEAR_DAYS - 2 : NEAR_DAYS], steps[:, NEAR_DAYS : NEAR_DAYS + 2]
    assert after.mean() == pytest.approx(before.mean(), abs=2.5)
    assert members.usable_mm.shape == (1, CASES, 31)


def test_what_the_crop_is_short_of_grows_as_water_runs_out() -> None:
    _, members = ahead(watered())
    assert members.lost[0, 0] < 0.01
    assert np.all(np.diff(members.lost[0]) >= -0.02)
    assert members.lost[0, -1] > 0.1


def test_the_expected_loss_by_hand() -> None:
    """Middle 0 and a dry tenth of -12.8 mm: a spread of 10, of which 10 / sqrt(2 pi) = 3.99 mm are
    short on average; over 40 mm that is a tenth. A middle of 10: 0.833 mm, two percent. Caution
    takes the members for that much further apart than they are."""
    around = 10 / CAUTION * ndtri((np.arange(1000) + 0.5) / 1000)
    usable = np.stack([around, around + 10], axis=1)[None]
    found = expected_loss(usable, np.full((1, 2), 40.0))
    assert found[0] == pytest.approx([3.989 / 40, 0.833 / 40], rel=0.01)


def test_a_few_far_off_do_not_decide_the_loss() -> None:
    """Two members of fifty that are bone dry leave the dry tenth where it is."""
    plain = 50 + 10 * ndtri((np.arange(50) + 0.5) / 50)
    odd = plain.copy()
    odd[:2] = -500
    one, two = (expected_loss(u[None, :, None], np.full((1, 1), 40.0)) for u in (plain, odd))
    assert one == pytest.approx(two)
    assert one[0, 0] < 1e-4


def test_all_of_it_is_the_most_that_can_be_lost() -> None:
    assert expected_loss(np.full((1, 50, 1), -90.0), np.full((1, 1), 40.0)) == pytest.approx(1)


def test_where_the_sensors_lead_the_state_is_spread_about_their_word() -> None:
    block = lived(forecast=forecast(4.0), estimate_from=EstimateFrom.SENSORS)
    state, members = ahead(block)
    assert state.ahead is None
    raw, track = state.zones.raw_mm[0, 30], state.track
    assert members.usable_mm[0, :, 0].mean() == pytest.approx(
        raw - track.depletion_mm[0, -1], abs=0.5
    )
    assert members.usable_mm[0, :, 0].std() == pytest.approx(track.sigma_mm[0, -1], rel=0.1)


def test_a_persons_refill_point_is_surer_than_what_a_crop_bears() -> None:
    """A share of TAW spreads with TAW alone; where the crop suffers, nobody knows as well."""
    _, own = ahead(watered())
    _, ruled = ahead(watered(rules=(LimitRule(RefillMethod.FLAT, 0.3),)))
    assert ruled.usable_mm[0, :, 0].std() < 0.95 * own.usable_mm[0, :, 0].std()
