"""What a source brings and by when to begin, worked by hand."""

from dataclasses import replace
from datetime import UTC, datetime

import numpy as np
import pytest

from core.plan.capacity import SupplyNeed, capacity_mm_day, latest_start
from core.plan.network import Source, Turn
from core.plan.source_capacity import PeakLoad, source_capacity

HA = 10_000.0


def test_a_litre_a_second_on_a_hectare() -> None:
    """8.64 mm/day of 24 h; exact by its units."""
    assert capacity_mm_day(1.0, HA, 24.0, 1.0) == pytest.approx(8.64)
    assert capacity_mm_day(1.0, HA, 12.0, 0.8) == pytest.approx(8.64 / 2 * 0.8)


def test_gallons_a_minute_on_an_acre() -> None:
    """18.86 US gallons a minute on an acre are an inch a day; 3.785411784 L, 4046.8564224 m2."""
    flow = 18.86 * 3.785411784 / 60
    assert capacity_mm_day(flow, 4046.8564224, 24.0, 1.0) == pytest.approx(25.4, abs=0.01)


def test_no_area() -> None:
    with pytest.raises(ValueError, match="area_m2"):
        capacity_mm_day(1.0, 0.0, 24.0, 1.0)


def need_of(gain_mm: np.ndarray, raw: float = 50.0, depletion: float = 0.0) -> SupplyNeed:
    """Blocks of a hectare, 10 m3 for a mm."""
    blocks = gain_mm.shape[1]
    ones = np.ones(blocks)
    return SupplyNeed(HA * ones, ones, depletion * ones, raw * ones, gain_mm)


def test_a_source_that_can_not_keep_up_must_begin_early() -> None:
    """6 mm a day are used and 4 brought, over 20 days: begun on day s, 6 s + 2 (20 - s) mm are
    missing at the end; no more than 50 up to s = 2."""
    found = latest_start(need_of(np.full((1, 1, 20), 6.0)), 40.0)
    assert (found.day, found.kept) == (2, 1.0)
    assert not found.never_kept.any()


def test_what_was_missing_before_counts() -> None:
    """8 mm more leave 4 s = 2."""
    found = latest_start(need_of(np.full((1, 1, 20), 6.0), depletion=8.0), 40.0)
    assert found.day == 0


def test_too_late_from_the_first_day() -> None:
    found = latest_start(need_of(np.full((1, 1, 20), 6.0), depletion=11.0), 40.0)
    assert found.day is None
    assert found.never_kept.tolist() == [True]


def test_one_that_keeps_up_may_wait_for_refill() -> None:
    """8 mm a day can be brought: what is missing at the end of a day never passes 50 if watering
    begins on day 8, when 54 are missing before and 46 after."""
    assert latest_start(need_of(np.full((1, 1, 20), 6.0)), 80.0).day == 8


def test_eight_years_of_ten() -> None:
    """Two of ten years use 9 mm a day and are given up; with three the start is theirs: 9 s + 5
    (20 - s) is above 50 for any s."""
    use = np.full((10, 1, 20), 6.0)
    use[:2] = 9.0
    found = latest_start(need_of(use), 40.0)
    assert (found.day, found.kept) == (2, 0.8)
    use[:3] = 9.0
    assert latest_start(need_of(use), 40.0).day is None


def test_water_goes_where_most_is_gone() -> None:
    """Two blocks, one of which begins 20 mm drier: of 40 m3 a day (2 mm each) it gets the more
    until both are alike; 4 mm are used. Missing in all is 20 + 8 s + 4 (20 - s), at most 100 in
    both together while they are alike: s = 0."""
    gain = np.full((1, 2, 20), 4.0)
    need = need_of(gain)
    drier = SupplyNeed(
        need.area_m2, need.efficiency, np.array([20.0, 0.0]), need.raw_mm, need.gain_mm
    )
    assert latest_start(drier, 40.0).day == 0
    without = SupplyNeed(
        need.area_m2, need.efficiency, np.array([21.0, 0.0]), need.raw_mm, need.gain_mm
    )
    assert latest_start(without, 40.0).day is None


def test_the_least_efficient_takes_more() -> None:
    """Half of the water is lost: 40 m3 bring 2 mm."""
    need = need_of(np.full((1, 1, 10), 6.0))
    lossy = SupplyNeed(need.area_m2, np.array([0.5]), need.depletion_mm, need.raw_mm, need.gain_mm)
    assert latest_start(need, 40.0).day == 7
    assert latest_start(lossy, 40.0).day == 5


def test_a_source_beside_its_peak() -> None:
    """100 m3/h for 12 h of the day are 1200 m3; 10 ha at 6 mm/day and 80 % need 750, 5 ha at 4 and
    50 % need 400: 800 m3 of 1150 stay. It brings 1200 * 800 / 1150 m3 to 15 ha: 5.565 mm/day, where
    5.333 are used."""
    bore = Source("Bore", flow_m3_h=100.0, from_hour=20.0, to_hour=8.0)
    loads = [PeakLoad(100_000.0, 0.8, 6.0), PeakLoad(50_000.0, 0.5, 4.0)]
    found = source_capacity(bore, loads)
    assert found is not None
    assert (found.m3_day, found.needed_m3_day) == (1200.0, pytest.approx(1150.0))
    assert found.net_mm_day == pytest.approx(5.565, abs=5e-4)
    assert found.use_mm_day == pytest.approx(5.333, abs=5e-4)
    assert found.keeps_up
    licensed = source_capacity(replace(bore, day_m3=1100.0), loads)
    assert licensed is not None
    assert not licensed.keeps_up
    # 36 h every 6 days of 24 are a quarter of the time: 600 m3/day.
    turn = Turn(datetime(2026, 7, 1, tzinfo=UTC), 36.0, 6.0)
    ditch = source_capacity(Source("Ditch", flow_m3_h=100.0, turn=turn), loads)
    assert ditch is not None
    assert ditch.m3_day == 600.0


def test_nothing_to_hold_beside_each_other() -> None:
    assert source_capacity(Source("Bore", flow_m3_h=10.0), []) is None
    assert source_capacity(Source("Lake"), [PeakLoad(1.0, 1.0, 5.0)]) is None
    assert source_capacity(Source("Bore", flow_m3_h=10.0), [PeakLoad(1.0, 1.0, 0.0)]) is None
