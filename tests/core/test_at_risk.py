"""What lack of water would cost: windows, a day of stress, a day's delay, water to the end."""

from datetime import date, timedelta

import numpy as np
import pytest

from core.advice.answer import Assessment
from core.advice.at_risk import AtRisk, WindowName
from core.advice.inputs import PlannedSet
from core.crop.catalogue import crop
from core.crop.season import CropSeason
from core.regime.assess import assess
from tests.core.blocks import ET, NOW, block, lived, probe

MAIZE = crop("maize-grain")
ENDS = MAIZE.stage_ends


def risk_of(answer: Assessment) -> AtRisk:
    assert answer.at_risk is not None
    return answer.at_risk


def maize(book_day: float, **more: object) -> Assessment:
    planted = NOW.date() - timedelta(days=int(book_day))
    return assess(lived(season=CropSeason(MAIZE, planted), since=planted, **more))


def test_windows_of_maize() -> None:
    # FAO-33, from memory: vegetative 0.4, flowering 1.5 from 0.8 of development to 0.4 of mid.
    begins = ENDS[1] + 0.8 * (ENDS[2] - ENDS[1])
    before = risk_of(maize(begins - 5))
    assert before.window is not None
    assert before.window.name is WindowName.VEGETATIVE
    assert before.next_window is not None
    assert before.next_window.name is WindowName.FLOWERING
    assert before.next_window.ky == 1.5
    assert abs((before.next_window.starts_on - NOW.date()).days - 5) <= 1
    inside = risk_of(maize(begins + 5))
    assert inside.window is not None
    assert inside.window.name is WindowName.FLOWERING
    ends = ENDS[2] + 0.4 * (ENDS[3] - ENDS[2])
    assert abs((inside.window.ends_on - NOW.date()).days - (ends - begins - 5)) <= 1


def test_a_day_of_stress_in_flowering() -> None:
    begins, ends = ENDS[1] + 0.8 * (ENDS[2] - ENDS[1]), ENDS[2] + 0.4 * (ENDS[3] - ENDS[2])
    day = np.arange(0.5, ENDS[-1])
    use = MAIZE.kc_on(day)
    here = int(begins + 6)
    # Ky times the day's share of the window's use; ET0 is the same on all days and cancels out.
    wanted = 1.5 * MAIZE.kc_on(np.array([here]))[0] / use[(day >= begins) & (day < ends)].sum()
    found = risk_of(maize(here))
    assert found.stress_day_share == pytest.approx(wanted, rel=0.02)
    # Common practice: up to 9 % a day at silking.
    assert found.practice_share == 0.09
    assert found.stress_day_share < 0.09


def test_a_crop_without_a_ky_has_no_share() -> None:
    lettuce = CropSeason(crop("lettuce"), NOW.date() - timedelta(days=40))
    found = risk_of(assess(lived(season=lettuce)))
    assert found.window is None
    assert found.stress_day_share is None
    assert found.delay_share is None
    assert found.delay_mm is not None


def test_a_day_late_costs_most_where_the_soil_is_dry() -> None:
    dry, moist = (risk_of(assess(block(sites=(probe(1.0, share),)))) for share in (0.3, 0.9))
    assert dry.delay_mm is not None
    assert moist.delay_mm is not None
    # Past refill nearly all of it: a day of 1.15 x 5.5 mm; where it was watched, what one of five
    # members may lack.
    assert dry.delay_mm > 2.0
    assert 0 <= moist.delay_mm < 0.5


def test_nothing_is_late_where_no_irrigation_is_in_sight() -> None:
    soon = tuple(PlannedSet(24.0 * k + 1, 24.0 * k + 9, 25.0) for k in range(0, 40, 3))
    found = risk_of(assess(block(planned=soon)))
    assert found.delay_mm is None
    assert found.delay_share is None


def test_water_to_the_end_of_the_season() -> None:
    planted = NOW.date() - timedelta(days=100)
    found = risk_of(assess(lived(season=CropSeason(MAIZE, planted), since=planted)))
    left = int(ENDS[-1]) - 100
    assert found.rest_days == left
    wanted = float(MAIZE.kc_on(np.arange(100, ENDS[-1])).sum()) * ET.expected
    assert found.rest_use_mm == pytest.approx(wanted, rel=0.02)
    assert 0 <= found.rest_need_mm < found.rest_use_mm


def test_a_perennials_season_ends_with_its_calendar() -> None:
    vine = CropSeason(crop("grape-wine"), date(2026, 4, 2))
    found = risk_of(assess(lived(season=vine)))
    gone = (NOW.date() - date(2026, 4, 2)).days
    assert found.rest_days == int(crop("grape-wine").stage_ends[-1]) - gone
