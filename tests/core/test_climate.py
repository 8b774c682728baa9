"""The climate's part in a crop coefficient, by hand; FAO-56 ch. 6 (from memory)."""

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest

from core.advice.explain_climate import climate_step
from core.crop.catalogue import Crop, crop
from core.crop.climate import LEAST_DAYS, MEAN_DAYS, Climate
from core.crop.reference import Surface
from core.crop.season import CropSeason, season_days
from core.weather.filling import lowest_humidity
from core.weather.station import DailyWeather

PLANTED = date(2026, 4, 20)


def steady(wind_m_s: float, rh_min: float, days: int = 200) -> Climate:
    return Climate.before_days(
        PLANTED - timedelta(days=MEAN_DAYS), np.full(days, wind_m_s), np.full(days, rh_min)
    )


def kc_of(season: CropSeason, day: int) -> float:
    return float(season_days([season], PLANTED + timedelta(days=day), 1).kc[0, 0])


def season(key: str, climate: Climate | None, cuts: tuple[int, ...] = ()) -> CropSeason:
    return CropSeason(crop(key), PLANTED, cuts=cuts, climate=climate)


def stage_middle(of: Crop, stage: int) -> int:
    ends = np.cumsum([0, *of.stage_days])
    return int((ends[stage] + ends[stage + 1]) / 2)


def test_arid_and_windy_maize_by_hand() -> None:
    """5 m/s, 20 %, 2 m high: (0.04 x 3 + 0.004 x 25) x (2 / 3) ^ 0.3 = 0.22 x 0.8855 = 0.195."""
    grain = crop("maize-grain")
    day = stage_middle(grain, 2)
    plain, windy = (kc_of(season("maize-grain", c), day) for c in (None, steady(5, 20)))
    assert plain == 1.2
    assert windy == pytest.approx(1.2 + 0.195, abs=5e-4)


def test_a_humid_calm_place_lowers_it() -> None:
    """Example 28: 1.3 m/s and 75 percent make 1.07 of 1.20."""
    day = stage_middle(crop("maize-grain"), 2)
    assert kc_of(season("maize-grain", steady(1.3, 75)), day) == pytest.approx(1.07, abs=0.005)


def test_the_start_of_a_season_does_not_follow_it() -> None:
    day = stage_middle(crop("maize-grain"), 0)
    assert kc_of(season("maize-grain", steady(5, 20)), day) == crop("maize-grain").kc[0]


def test_growing_crops_follow_it_as_far_as_they_have_grown() -> None:
    grain = crop("maize-grain")
    day = stage_middle(grain, 1)
    done = (day - grain.stage_days[0]) / grain.stage_days[1]
    added = kc_of(season("maize-grain", steady(5, 20)), day) - kc_of(
        season("maize-grain", None), day
    )
    assert added == pytest.approx(0.195 * done, abs=5e-4)


def test_a_dry_end_below_the_bound_stays() -> None:
    """Eq. 65 is for ends of 0.45 and more: winter wheat at 0.25 keeps it, its middle does not."""
    wheat = crop("wheat-winter")
    last = sum(wheat.stage_days) - 1
    assert wheat.kc[2] < 0.45
    ends = [kc_of(season("wheat-winter", c), last) for c in (None, steady(5, 20))]
    # One day before the end a little of the middle is left.
    assert ends[1] - ends[0] < 0.25 / wheat.stage_days[3]


def test_a_cut_crop_grows_back_into_its_climate() -> None:
    cutting = crop("lucerne-hay").cutting
    assert cutting is not None
    cut = stage_middle(crop("lucerne-hay"), 2)
    full = cut + sum(cutting.days[:2]) + 1
    kc = [kc_of(season("lucerne-hay", c, (cut,)), full) for c in (None, steady(3, 45))]
    # 0.04 x (0.7 / 3) ^ 0.3 = 0.0259 for a crop of 0.7 m
    assert kc[1] - kc[0] == pytest.approx(0.04 * (crop("lucerne-hay").height_m / 3) ** 0.3)


def test_a_day_that_is_over_keeps_its_coefficient() -> None:
    first, days = PLANTED, 60
    wind = np.linspace(1, 5, days)
    whole = Climate.before_days(first, wind, np.full(days, 40.0))
    then = Climate.before_days(first, wind[:45], np.full(45, 40.0))
    early, late = (c.on(first, 46)[0] for c in (then, whole))
    np.testing.assert_allclose(early, late)
    assert float(late[-1]) == pytest.approx(wind[15:45].mean())


def test_the_last_known_climate_holds_for_the_days_ahead() -> None:
    climate = steady(5, 20, days=MEAN_DAYS)
    wind, humidity = climate.on(PLANTED + timedelta(days=90), 2)
    assert wind.tolist() == [5, 5]
    assert humidity.tolist() == [20, 20]


def test_too_few_days_are_not_known() -> None:
    """Neither is a day on which only one of the two was measured."""
    few = np.full(MEAN_DAYS, np.nan)
    few[-LEAST_DAYS:] = 5.0
    dry = np.full(MEAN_DAYS, 20.0)
    first = PLANTED - timedelta(days=MEAN_DAYS)
    assert Climate.before_days(first, few, dry).known_on(PLANTED)
    few[-1] = np.nan
    short = Climate.before_days(first, few, dry)
    assert not short.known_on(PLANTED)
    assert not short.known_on(first - timedelta(days=1))
    day = stage_middle(crop("maize-grain"), 2)
    assert kc_of(season("maize-grain", short), day) == 1.2
    windy = np.full(MEAN_DAYS, 5.0)
    moist = dry.copy()
    moist[LEAST_DAYS - 1 :] = np.nan
    assert not Climate.before_days(first, windy, moist).known_on(PLANTED)


def test_a_coefficient_on_alfalfa_does_not_follow_it() -> None:
    """The equations are for the grass reference; one that was turned to grass stays too."""
    grain = crop("maize-grain")
    alfalfa = replace(grain, surface=Surface.ALFALFA)
    day = stage_middle(grain, 2)
    own = CropSeason(alfalfa, PLANTED, climate=steady(5, 20))
    assert kc_of(own, day) == 1.2
    assert kc_of(own.on(Surface.GRASS, 1.2), day) == pytest.approx(1.44)
    assert climate_step(own, PLANTED + timedelta(days=day)) is None


def test_lowest_humidity_by_what_was_measured() -> None:
    """As read; else the dew point's pressure over that at the highest temperature: at 15 and 30
    degrees 1.705 / 4.243 = 40.2 % (FAO-56 annex 2, table 2.3); unknown without either."""
    days = DailyWeather(
        day_of_year=np.array([180, 181, 182]),
        t_min_c=np.array([15.0, 15.0, 15.0]),
        t_max_c=np.array([30.0, 30.0, 30.0]),
        rh_min=np.array([33.0, np.nan, np.nan]),
        dew_c=np.array([np.nan, 15.0, np.nan]),
    )
    found = lowest_humidity(days)
    assert found[0] == 33
    assert found[1] == pytest.approx(40.2, abs=0.05)
    assert np.isnan(found[2])
