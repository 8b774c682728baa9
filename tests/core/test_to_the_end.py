"""What blocks lack until their crop is over, and what that does to their next irrigation."""

from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest

from core.advice.assess import assess
from core.advice.decide import Decisions, decide
from core.advice.inputs import BlockInputs, PastWeather, PlannedSet, Watering
from core.advice.stated_et import StatedEt
from core.advice.to_the_end import until
from core.advice.vocabulary import Reason, State
from core.crop.catalogue import crops
from core.crop.season import CropSeason
from core.crop.yield_loss import past_sensitive
from core.finish.rest_of_season import RestOfSeason, courses_to_end, days_left, use_factor
from core.outlook.forecast import Forecast
from core.weather.years import WeatherRecord
from tests.core.blocks import NOW, block, probe

MAIZE = crops()["maize-grain"]
# Kc 1 for twenty days from day 20 on, then down to a half in ten.
SHORT = replace(MAIZE, stage_days=(10, 10, 20, 10), kc=(0.5, 1.0, 0.5), windows=())
DRY = Forecast.of(np.full((50, 10), 5.5), np.zeros((50, 10)), 31)


def ending(left: int, share: float = 0.9, **changes: object) -> BlockInputs:
    """Maize that is ripe in so many days, its probe at a share of what is available."""
    planted = NOW.date() - timedelta(days=int(sum(MAIZE.stage_days)) - left)
    season = CropSeason(MAIZE, planted)
    return block(season=season, sites=(probe(1.0, share),), forecast=DRY, **changes)


def decided(of: BlockInputs) -> Decisions:
    assert of.assumed.season is not None
    return decide([of], [of.assumed.season])


def years(et0: float, rain: float) -> WeatherRecord:
    """Ten years that were alike, so much ET0 and rain each day."""
    day = np.arange(3650)
    return WeatherRecord(day, day % 365 + 1, np.full(3650, et0), np.full(3650, rain))


def test_the_forecast_comes_first_and_then_the_years() -> None:
    """Twenty days are left of a crop at day 30: ten at Kc 1, then 1.0, 0.95 … 0.55. Two days are
    forecast, 6 and 7 mm of use with 1 and 2 mm of rain; two years had 4 and 5 mm/day, a tenth more
    is used than by the book, and half of 2 mm rain a day counts."""
    rest = RestOfSeason(SHORT, 30.0, 1.1, 0.5)
    assert days_left(rest) == 20
    near = np.tile([6.0, 7.0], (4, 1)), np.tile([1.0, 2.0], (4, 1))
    et0 = np.repeat([[4.0], [5.0]], 20, axis=1)
    use, rain = courses_to_end(rest, near, (et0, np.full((2, 20), 2.0)))
    kc = 8 * 1.0 + sum(1.0 - 0.05 * k for k in range(10))
    assert use.sum(axis=1) == pytest.approx([13 + 1.1 * kc * e for e in (4, 5, 4, 5)])
    assert rain.sum(axis=1) == pytest.approx(np.full(4, 3.0 + 18 * 1.0))


def test_nothing_is_used_once_the_crop_is_over() -> None:
    """Half a day is left: the forecast's second day is not the crop's."""
    rest = RestOfSeason(SHORT, 49.5, 1.0, 1.0)
    near = np.full((2, 3), 5.0), np.zeros((2, 3))
    use, rain = courses_to_end(rest, near, (np.full((1, 1), 5.0), np.zeros((1, 1))))
    assert use.shape == rain.shape == (2, 1)
    assert use.sum(axis=1) == pytest.approx([5.0, 5.0])
    assert days_left(replace(rest, book_day=50.0)) == 0


def test_use_over_the_book() -> None:
    """Of today only a part is to come, so it does not count: 5.5 a day at Kc 1 and 5 mm."""
    use = np.tile([2.0, 5.5, 5.5], (3, 1))
    assert use_factor(SHORT, 20.0, use, 5.0) == pytest.approx(1.1)


@pytest.mark.parametrize(("stage", "past"), [(1.0, False), (2.3, False), (2.5, True), (3.9, True)])
def test_maize_is_past_its_sensitive_stages_once_it_has_flowered(stage: float, past: bool) -> None:
    """FAO-33: Ky 0.4, 1.5 at flowering, 0.5, 0.2; half of 1.5 is not exceeded after it."""
    day = float(np.interp(stage, np.arange(5), MAIZE.stage_ends))
    assert past_sensitive(MAIZE, day) is past


def test_what_has_no_windows_never_is() -> None:
    assert not past_sensitive(SHORT, 49.0)
    # Potatoes are nearly as sensitive while they swell as before: 0.7 of 0.8.
    potato = crops()["potato"]
    day = float(np.interp(3.0, np.arange(5), potato.stage_ends))
    assert not past_sensitive(potato, day)


def test_the_years_rain_finishes_a_crop_that_dry_weather_would_not() -> None:
    """Fifty days of about 4 mm are more than any roots here hold; 5 mm of rain a day are not."""
    alone, wet, dry = (
        decided(ending(50, **changes))
        for changes in ({}, {"years": years(5.5, 5.0)}, {"years": years(5.5, 0.0)})
    )
    assert wet.finished[0]
    assert not alone.finished[0]
    assert not dry.finished[0]
    # Without years on record the weather stays as the forecast ends, and dry: 5.5 mm here too.
    assert alone.end.lacking_mm[0] == pytest.approx(dry.end.lacking_mm[0], rel=0.02)
    assert assess(ending(50, years=years(5.5, 5.0))).state is State.FINISHED


def test_an_end_beyond_sixty_days_is_not_in_sight() -> None:
    far, near = decided(ending(61)), decided(ending(60))
    assert np.isinf(far.end.over_days[0])
    assert np.isinf(far.end.lacking_mm[0])
    assert near.end.over_days[0] == 60


def test_no_more_is_given_than_is_lacking() -> None:
    """The deficit at refill is more than what is missing until the end."""
    of = ending(14, share=0.35)
    found = decided(of)
    lacking, due = found.end.lacking_mm[0], found.start_deficit_mm[0]
    assert 1.0 < lacking < due
    assert found.amounts.net_mm[0] == pytest.approx(lacking)
    answer = assess(of)
    assert answer.amount is not None
    assert answer.amount.net_mm == pytest.approx(lacking)
    assert Reason.MAY_BE_THE_LAST in answer.reasons
    (room,) = [t for s in answer.steps for t in s.terms if t.symbol == "room"]
    assert "the crop is over before it would use it" in room.source
    assert room.value == pytest.approx(due - lacking)
    assert Reason.MAY_BE_THE_LAST not in assess(ending(60, share=0.35)).reasons


def test_what_is_planned_is_lacking_no_more() -> None:
    bare = decided(ending(20, share=0.3)).end.lacking_mm[0]
    planned = (PlannedSet(30.0, 34.0, 15.0), PlannedSet(24.0 * 25, 24.0 * 25 + 4, 99.0))
    found = decided(ending(20, share=0.3, planned=planned)).end.lacking_mm[0]
    # What comes after the crop is over is not counted.
    assert bare - found == pytest.approx(15.0, abs=1e-6)
    assert until(np.array([0.0, 5.0]), 4).tolist() == [0.0, 5.0, 0.0, 0.0]
    assert until(np.array([0.0, 5.0, 7.0]), 2).tolist() == [0.0, 5.0]


def test_members_hold_what_the_estimate_says() -> None:
    """On average they hold TAW less the depletion, each up to its own TAW."""
    past = PastWeather(NOW.date() - timedelta(days=40), np.full(40, 5.5))
    sets = tuple(Watering(-96.0 * k - 20, 25.0) for k in range(9))
    for known in ({}, {"past": past, "waterings": sets}):
        found = decided(ending(30, share=0.6, **known))
        taw, gone = found.track.taw_mm[0, -1], found.track.depletion_mm[0, -1]
        holds = found.members_hold
        assert holds.taw_mm[0].mean() == pytest.approx(taw, rel=0.02)
        assert holds.available_mm[0].mean() == pytest.approx(taw - gone, rel=0.05)
        assert (holds.available_mm <= holds.taw_mm).all()


def test_a_crop_that_needs_water_after_the_outlook_is_not_finished() -> None:
    """For thirty days it needs none, and for sixty it has too little."""
    mild = Forecast.of(np.full((50, 10), 2.1), np.zeros((50, 10)), 31)
    of = ending(60, share=1.0, et=StatedEt(2.0, 2.1, 2.2, "stated in the test"))
    found = decided(of.assuming(forecast=mild))
    assert np.isinf(found.start_hours[0])
    assert found.end.lacking_mm[0] > 5
    assert not found.finished[0]
    assert assess(of.assuming(forecast=mild)).state is State.OK


def test_a_crop_that_is_sensitive_to_its_end_does_not_wait() -> None:
    potato = crops()["potato"]
    planted = NOW.date() - timedelta(days=int(sum(potato.stage_days)) - 45)
    found = decided(block(season=CropSeason(potato, planted), forecast=DRY))
    assert found.end.over_days[0] == 45
    assert found.end.may_wait_days[0] == 0
    assert decided(ending(45)).end.may_wait_days[0] > 0


def test_past_its_sensitive_stages_a_crop_waits_until_refill_is_expected() -> None:
    """By the mean, or until the roots may be empty, where one that still is sensitive or has far to
    go gets it by the loss that is taken."""
    past = PastWeather(NOW.date() - timedelta(days=40), np.full(40, 5.5))
    sets = tuple(Watering(-96.0 * k - 20, 25.0) for k in range(9))
    known = {"past": past, "waterings": sets}
    waits, has_far = (assess(ending(left, share=1.0, **known)) for left in (45, 62))
    (by,) = [s for s in waits.steps if s.key == "needed_by"]
    days, lasts = by.terms
    assert days.value == pytest.approx(waits.outlook.days_left)
    assert by.value == min(days.value, lasts.value) > 0
    (early,) = [s for s in has_far.steps if s.key == "needed_by"]
    assert early.value < has_far.outlook.days_left
