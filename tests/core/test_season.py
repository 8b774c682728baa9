"""Seasons bent by what was seen: stages, warmth, cover, cuts, winters."""

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest

from core.crop.catalogue import Crop, CropProblem, check_crop, crop, crops
from core.crop.growth_stages import book_day, growth_stages
from core.crop.season import (
    CoverSeen,
    CropDays,
    CropSeason,
    Stage,
    StageSeen,
    days_since_cut,
    season_days,
)

SPRING = date(2026, 4, 20)
MAIZE = crop("maize-grain")  # 30, 40, 50, 30 days


def run(season: CropSeason, days: int = 200, first: date | None = None) -> CropDays:
    return season_days([season], first or season.planted_on, days).take(0)


def test_an_observed_stage_bends_the_calendar_from_its_day() -> None:
    plain = run(CropSeason(MAIZE, SPRING))
    # On day 60 the crop stood where the book has it on day 45: a cold spring.
    late = run(CropSeason(MAIZE, SPRING, seen=(StageSeen(60, 45.0),)))
    np.testing.assert_array_equal(late.kc[:60], plain.kc[:60])
    np.testing.assert_array_equal(late.kc[60:160], plain.kc[45:145])
    np.testing.assert_array_equal(late.root_mm[60:160], plain.root_mm[45:145])
    assert late.stage[149] == Stage.LATE
    assert plain.stage[150] == Stage.OVER


def test_the_newest_observation_leads() -> None:
    season = CropSeason(MAIZE, SPRING, seen=(StageSeen(60, 45.0), StageSeen(80, 90.0)))
    found = run(season)
    assert (found.book_day[79], found.book_day[80]) == (64, 90)


def test_a_window_far_from_planting_knows_what_went_before() -> None:
    season = CropSeason(MAIZE, SPRING, seen=(StageSeen(20, 30.0),))
    whole = run(season)
    part = run(season, 10, SPRING + timedelta(days=100))
    np.testing.assert_array_equal(part.kc, whole.kc[100:110])


def test_many_blocks_in_one_pass_are_each_as_alone() -> None:
    seasons = [
        CropSeason(MAIZE, SPRING, seen=(StageSeen(60, 45.0),)),
        CropSeason(crop("potato"), SPRING + timedelta(days=14)),
        CropSeason(crop("lucerne-hay"), date(2024, 3, 14), cuts=(800, 840)),
        CropSeason(crop("walnut"), date(2020, 4, 8), covers=(CoverSeen(2000, 0.4, 3.0),)),
    ]
    together = season_days(seasons, SPRING, 150)
    for i, season in enumerate(seasons):
        alone = run(season, 150, SPRING)
        np.testing.assert_allclose(together.kc[i], alone.kc, rtol=1e-12)
        np.testing.assert_array_equal(together.stage_index[i], alone.stage_index)


def test_warmth_as_the_clock() -> None:
    # 10 degree-days a day: 200 are the initial stage's, so it ends on day 20, not on day 30.
    warm = run(CropSeason(MAIZE, SPRING, degree_days=(10.0,) * 90), 120)
    assert warm.stage[19] == Stage.INITIAL
    assert warm.stage[20] == Stage.DEVELOPMENT
    assert warm.book_day[20] == pytest.approx(30)
    # Beyond the record the days are as warm as the last known.
    assert warm.book_day[110] > warm.book_day[89]
    # A day without a record counts as the usual one.
    gap = CropSeason(MAIZE, SPRING, degree_days=(10.0,) * 10 + (float("nan"),) * 5 + (10.0,) * 75)
    np.testing.assert_allclose(run(gap, 90).book_day, warm.book_day[:90])


def test_a_seen_stage_also_sets_the_clock_of_warmth() -> None:
    season = CropSeason(MAIZE, SPRING, seen=(StageSeen(40, 30.0),), degree_days=(12.0,) * 90)
    found = run(season, 90)
    assert found.book_day[40] == pytest.approx(30)
    # 480 degree-days of development at 12 a day are 40 days for the book's 40.
    assert found.book_day[60] == pytest.approx(50)


def test_a_crop_without_degree_days_is_refused() -> None:
    with pytest.raises(ValueError, match="no degree-days"):
        run(CropSeason(crop("celery"), SPRING, degree_days=(10.0,)))


def test_cover_scales_what_stands_above_bare_ground() -> None:
    walnut = crop("walnut")
    young = CropSeason(walnut, date(2026, 4, 8), covers=(CoverSeen(60, 0.3, 3.0),))
    found, plain = run(young, 120), run(replace(young, covers=()), 120)
    np.testing.assert_array_equal(found.kc[:60], plain.kc[:60])
    factor = min(1, 1.5 * 0.3, 0.3 ** (1 / 4)) / min(1, 1.5 * 0.7, 0.7 ** (1 / 6))
    np.testing.assert_allclose(found.kc[60:], 0.15 + factor * (plain.kc[60:] - 0.15))


def test_hay_starts_anew_at_each_cut() -> None:
    hay = crop("lucerne-hay")
    season = CropSeason(hay, date(2026, 3, 14), cuts=(70, 105))
    found = run(season, 150)
    assert found.kc[69] == pytest.approx(0.95)
    assert found.kc[70] == pytest.approx(0.40)
    assert found.kc[90] == pytest.approx(1.20)
    assert found.kc[105] == pytest.approx(0.40)
    assert np.all(found.root_mm == 1000)
    assert [days_since_cut(season, d) for d in (69, 70, 104, 105)] == [None, 0, 34, 0]


def test_a_perennial_sleeps_and_wakes_again() -> None:
    vine = crop("grape-wine")  # 30 + 60 + 40 + 80 days
    season = CropSeason(vine, date(2024, 4, 2))
    winter = run(season, 1, date(2025, 1, 15))
    assert winter.stage[0] == Stage.DORMANT
    assert winter.kc[0] == vine.kc[0]
    assert winter.root_mm[0] == vine.root_schedule_mm
    july = run(season, 1, date(2026, 7, 14))
    assert july.book_day[0] == (date(2026, 7, 14) - date(2026, 4, 2)).days


def test_a_bud_break_seen_stands_in_for_the_calendars() -> None:
    planted = date(2024, 4, 2)
    day = (date(2026, 3, 20) - planted).days
    season = CropSeason(crop("grape-wine"), planted, seen=(StageSeen(day, 0.0),))
    found = run(season, 40, date(2026, 3, 15))
    assert [str(s) for s in found.stage[4:6]] == [Stage.DORMANT, Stage.INITIAL]
    # The calendar's 2 April brings no second spring.
    assert found.book_day[25] == 20


def test_29_february_has_its_years() -> None:
    found = run(CropSeason(crop("lucerne-hay"), date(2024, 2, 29)), 3, date(2026, 2, 27))
    assert list(found.book_day[1:]) == [0, 1]


def test_stages_to_look_for_rise_through_the_season() -> None:
    for key in crops():
        stages = growth_stages(key)
        places = [s.place for s in stages]
        assert places == sorted(places), key
        assert len({s.key for s in stages}) == len(stages)
        assert all(0 <= p <= 4 for p in places)
    assert book_day(MAIZE, 1.5) == 50
    v10 = next(s for s in growth_stages("maize-grain") if s.key == "V10")
    assert 30 < book_day(MAIZE, v10.place) < 70


@pytest.mark.parametrize(
    "change, field",
    [
        ({"stage_days": (0, 40, 50, 30)}, "stage_days"),
        ({"kc": (0.3, 3.0, 0.6)}, "kc"),
        ({"root_initial_mm": 1200.0}, "root"),
        ({"p": 0.95}, "p"),
        ({"tension_kpa": 1.0}, "tension_kpa"),
    ],
)
def test_a_crop_of_ones_own_is_checked(change: dict[str, object], field: str) -> None:
    changed: Crop = replace(MAIZE, **change)  # type: ignore[arg-type]
    with pytest.raises(CropProblem) as refused:
        check_crop(changed)
    assert refused.value.field == field
