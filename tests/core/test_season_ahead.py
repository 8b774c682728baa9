"""Weather put together from what was on record, and what blocks need of it; by hand."""

from dataclasses import replace

import numpy as np
import pytest

from core.crop.catalogue import crops
from core.finish.rest_of_season import days_left
from core.plan.capacity import latest_start
from core.plan.season_ahead import BlockToCome, season_need, supply_need
from core.plan.season_water import share_season
from core.weather.years import PIECE_DAYS, YEARS, WeatherRecord, years_to_come

MAIZE = replace(crops()["maize-grain"], stage_days=(10, 10, 20, 10), kc=(0.5, 1.0, 0.5), windows=())
# In its mid season from day 20: Kc 1 for 20 days, then down to a half in ten.
BLOCK = BlockToCome(
    crop=MAIZE,
    book_day=20.0,
    use_factor=1.0,
    rain_share=1.0,
    depletion_mm=20.0,
    raw_mm=50.0,
    gross_m3_mm=100.0,
    value=10_000.0,
)


def year(first: int, days: int, et0: float, rain: float = 0.0) -> WeatherRecord:
    day = np.arange(first, first + days)
    return WeatherRecord(day, day % 365 + 1, np.full(days, et0), np.full(days, rain))


def test_pieces_come_from_that_time_of_the_year() -> None:
    """ET is the day of the year: no piece is from further than twenty days away."""
    day = np.arange(365)
    record = WeatherRecord(day, day + 1, (day + 1).astype(float), np.zeros(365))
    found = years_to_come(record, 150, 30, 1)
    assert found is not None
    et0, rain = found
    assert et0.shape == rain.shape == (YEARS, 30)
    begins = et0[:, ::PIECE_DAYS]
    assert (np.abs(begins - [150, 160, 170]) <= 20).all()
    assert len(np.unique(begins)) > 10
    # Ten days on end stay together.
    assert (np.diff(et0[:, :PIECE_DAYS], axis=1) == 1).all()
    again = years_to_come(record, 150, 30, 1)
    assert again is not None
    assert np.array_equal(again[0], et0)


def test_the_turn_of_the_year_is_no_border() -> None:
    record = year(300, 60, 1.0)
    assert years_to_come(record, 355, 10, 1) is not None
    assert years_to_come(record, 5, 10, 1) is not None
    assert years_to_come(record, 150, 10, 1) is None


def test_days_that_are_missing_part_no_piece() -> None:
    record = year(100, 40, 5.0)
    gap = replace(record, rain_mm=np.where(np.arange(40) == 15, np.nan, 0.0))
    found = years_to_come(gap, 115, 10, 1)
    assert found is not None
    assert np.isfinite(found[1]).all()
    # A day that is not on record at all, too: 100 to 108 and 110 on are nine days and nine.
    keep = np.array([k for k in range(19) if k != 9])
    short = WeatherRecord(
        *(getattr(record, n)[keep] for n in ("day", "of_year", "et0_mm", "rain_mm"))
    )
    assert years_to_come(short, 105, 10, 1) is None


def test_what_a_block_needs_by_weeks() -> None:
    """6 mm a day: the store of 30 mm lasts five days, the week lacks two days' use; then 42 mm a
    week while Kc is 1."""
    et0, rain = np.full((2, 21), 6.0), np.zeros((2, 21))
    need = season_need([BLOCK], et0, rain)
    assert need.need_mm[0, 0].tolist() == pytest.approx([12.0, 42.0, 41.7], abs=0.5)
    assert need.m3_mm.tolist() == [100.0]
    half = season_need([replace(BLOCK, use_factor=0.5)], et0, rain)
    assert half.need_mm[0, 0, :2].tolist() == pytest.approx([0.0, 12.0])


def test_rain_fills_the_store_and_no_more() -> None:
    et0, rain = np.full((1, 7), 6.0), np.zeros((1, 7))
    rain[0, 0] = 500.0
    # Full at 50 mm: of seven days' 42 mm nothing is lacking.
    assert season_need([BLOCK], et0, rain).need_mm[0, 0, 0] == 0.0
    two_weeks = np.full((1, 14), 6.0)
    wet = np.zeros((1, 14))
    wet[0, 0] = 500.0
    assert season_need([BLOCK], two_weeks, wet).need_mm.sum() == pytest.approx(84.0 - 50.0)
    # 30 mm and 3 mm a day on a third of the ground: 21 + 7 days of rain.
    third = replace(BLOCK, rain_share=1 / 3)
    wet = np.full((1, 7), 3.0)
    assert season_need([third], et0, wet).need_mm[0, 0, 0] == pytest.approx(42 - 30 - 7)


def test_after_the_season_nothing_is_used() -> None:
    assert days_left(BLOCK) == 30
    assert days_left(replace(BLOCK, book_day=49.5)) == 1
    assert days_left(replace(BLOCK, book_day=60.0)) == 0
    late = replace(BLOCK, book_day=50.0, depletion_mm=50.0)
    need = season_need([late], np.full((1, 14), 6.0), np.zeros((1, 14)))
    assert need.need_mm.sum() == 0


def test_water_goes_where_it_is_worth_more() -> None:
    """Two blocks alike but for what their yield is worth; water for one."""
    et0, rain = np.full((2, 14), 6.0), np.zeros((2, 14))
    need = season_need([BLOCK, replace(BLOCK, value=20_000.0)], et0, rain)
    shares = share_season(need, 54 * 100.0)
    assert shares.net_mm.sum(axis=1).tolist() == pytest.approx([0.0, 54.0], abs=6.0)
    assert shares.price_m3 > 0


def test_by_when_to_begin() -> None:
    """30 mm left at 6 mm a day, and a source that brings all it uses: the fifth day is the last on
    which nothing is lacking. One that brings half is never in time."""
    et0, rain = np.full((4, 20), 6.0), np.zeros((4, 20))
    need = supply_need([BLOCK], et0, rain)
    assert latest_start(need, 6 * 100.0).day == 5
    late = latest_start(need, 3 * 100.0)
    assert late.day is None
    assert late.never_kept.tolist() == [True]
