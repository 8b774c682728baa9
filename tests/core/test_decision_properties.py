"""What must hold of every advice, whatever the block: more water, another clock, missing days."""

from dataclasses import replace
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.advice.assess import assess, assess_blocks
from core.advice.inputs import BlockInputs, PastWeather, PlannedSet, Watering
from core.advice.stated_et import StatedEt
from core.crop.catalogue import crop
from core.crop.season import CropSeason
from core.limits.refill_method import LimitRule, RefillMethod
from core.outlook.forecast import Forecast
from core.state.estimate_from import EstimateFrom
from tests.core.blocks import NOW, block, probe

RAIN = Forecast.of(np.full((50, 10), 5.0), np.tile(np.linspace(0, 4, 50)[:, None], 10), 31)


def lived(days: int = 40, missing: tuple[int, ...] = (), **changes: object) -> BlockInputs:
    """A block with weather, a set every five days and a probe."""
    et0 = np.full(days, 5.0)
    et0[list(missing)] = np.nan
    sets = tuple(Watering(-24.0 * 5 * k - 6, 30.0) for k in range(7))
    past = PastWeather(NOW.date() - timedelta(days=days), et0)
    return block(**{"past": past, "waterings": sets, "forecast": RAIN, **changes})


def days_left(inputs: BlockInputs) -> float:
    outlook = assess_blocks([inputs], past=False)[0].outlook
    assert outlook is not None
    return outlook.days_left


@given(
    share=st.floats(0.3, 1.0),
    more=st.floats(0.1, 40.0),
    hours=st.floats(-100, -1),
    estimate_from=st.sampled_from(EstimateFrom),
)
def test_more_water_never_brings_the_date_nearer(
    share: float, more: float, hours: float, estimate_from: EstimateFrom
) -> None:
    bare = lived(sites=(probe(1.0, share),), estimate_from=estimate_from)
    given_too = replace(bare, waterings=(*bare.waterings, Watering(hours, more)))
    planned = replace(bare, planned=(PlannedSet(5.0, 9.0, more),))
    wet = Forecast.of(RAIN.et0_mm[:, :10], RAIN.rain_mm[:, :10] + more, 31)
    base = days_left(bare)
    if estimate_from is EstimateFrom.BALANCE:
        # Elsewhere the sensors may say that the water did not come, and be believed.
        assert days_left(given_too) >= base - 1e-9
    assert days_left(planned) >= base - 1e-9
    assert days_left(bare.assuming(forecast=wet)) >= base - 1e-9


@given(share=st.floats(0.3, 1.0), zone=st.sampled_from(["UTC", "Pacific/Auckland", "Asia/Kolkata"]))
def test_another_zone_with_the_same_clock_says_the_same(share: float, zone: str) -> None:
    here = lived(sites=(probe(1.0, share),))
    there = replace(here, now=datetime(2026, 7, 14, 6, 10, tzinfo=ZoneInfo(zone)))
    a, b = assess(here), assess(there)
    assert (a.state, a.reasons, a.amount) == (b.state, b.reasons, b.amount)
    assert a.start_at is None or b.start_at is not None
    if a.start_at and b.start_at:
        assert a.start_at.replace(tzinfo=None) == b.start_at.replace(tzinfo=None)


@given(missing=st.sets(st.integers(0, 39), min_size=30, max_size=40))
def test_missing_days_of_weather_widen_the_range(missing: set[int]) -> None:
    """By the balance alone, and where the expected use is what was recorded: the doubt grows.

    A single missing day does it too, but by less than a hundred members can tell.
    """
    et = StatedEt(4.0, 5.0, 6.0, "stated in the test")
    of = {"sites": (), "estimate_from": EstimateFrom.BALANCE, "et": et}
    whole, gaps = assess(lived(**of)), assess(lived(missing=tuple(missing), **of))
    assert whole.sigma_mm is not None
    assert gaps.sigma_mm is None or gaps.sigma_mm > whole.sigma_mm


@given(missing=st.sets(st.integers(0, 39), max_size=40), share=st.floats(0, 1.2))
def test_missing_days_never_break_it(missing: set[int], share: float) -> None:
    answer = assess(lived(missing=tuple(missing), sites=(probe(1.0, share),)))
    assert answer.deficit_mm is not None


@given(
    key=st.sampled_from(["potato", "maize-grain", "lucerne-hay", "grape-wine", "lettuce"]),
    age=st.integers(-20, 200),
    share=st.floats(-0.2, 1.6),
    estimate_from=st.sampled_from(EstimateFrom),
    dual=st.booleans(),
)
def test_no_season_or_soil_water_breaks_it(
    key: str, age: int, share: float, estimate_from: EstimateFrom, dual: bool
) -> None:
    season = CropSeason(crop(key), NOW.date() - timedelta(days=age))
    answer = assess(
        lived(season=season, sites=(probe(0.9, share),), estimate_from=estimate_from, dual=dual)
    )
    for step in answer.steps:
        # What is no number can be neither put on record nor worked out by hand.
        assert np.isfinite([step.value, *(term.value for term in step.terms)]).all(), step
    if answer.outlook is not None:
        assert np.isfinite(answer.outlook.usable_mm).all()
        assert (np.diff(answer.outlook.chance_past) >= 0).all()
        assert (answer.outlook.usable_dry_mm <= answer.outlook.usable_wet_mm + 1e-9).all()


def test_a_refill_beyond_the_outlook_is_no_term_of_the_day_by_which_water_is_needed() -> None:
    """More rain than use is expected, and it may stay dry: the chance alone sets the day."""
    rain = np.tile(np.linspace(0, 20, 50)[:, None], 31)
    wet = Forecast.of(np.full((50, 31), 5.0), rain, 31)
    of = lived(forecast=wet, rules=(LimitRule(RefillMethod.FLAT, 0.7),), sites=(probe(1.0, 1.0),))
    answer = assess(of)
    assert answer.outlook is not None
    assert answer.outlook.days_left == np.inf
    step = next(s for s in answer.steps if s.key == "needed_by")
    assert step.formula == "early"
    assert [(term.symbol, term.value) for term in step.terms] == [("early", step.value)]
    assert 0 < step.value < 31


def test_together_as_each_alone() -> None:
    many = [lived(sites=(probe(1.0, s),)) for s in (0.5, 0.8, 0.95)]
    together = assess_blocks(many, past=False)
    for inputs, answer in zip(many, together, strict=True):
        alone = assess_blocks([inputs], past=False)[0]
        assert (alone.state, alone.reasons) == (answer.state, answer.reasons)
        assert alone.deficit_mm == pytest.approx(answer.deficit_mm)
