"""Calendars of cuts and grazings, and the holds that they make."""

from dataclasses import replace
from datetime import date, datetime, timedelta

import numpy as np
import pytest

from core.advice.holds import HoldKind
from core.advice.inputs import BlockInputs, Watering
from core.advice.vocabulary import Reason, Regime
from core.crop.catalogue import crop
from core.crop.cutting import (
    CalendarProblem,
    CutCalendar,
    Harvested,
    dried_after_days,
    harvests,
)
from core.crop.rotation import Paddock, coming
from core.crop.season import CropSeason
from core.regime.assess import assess, assess_blocks, needs_ahead
from core.regime.cut_or_grazed import harvests_ahead
from tests.core.blocks import NOW, lived

TODAY = NOW.date()


def days(*ahead: int) -> tuple[date, ...]:
    return tuple(TODAY + timedelta(days=d) for d in ahead)


def test_intervals_are_counted_from_the_last_cut() -> None:
    calendar = CutCalendar(every_days=28)
    found = calendar.days_between(TODAY, TODAY + timedelta(days=60), TODAY - timedelta(days=20))
    assert found == days(8, 36)


def test_a_settled_day_goes_before_the_interval() -> None:
    calendar = CutCalendar(planned=days(5), every_days=28)
    found = calendar.days_between(TODAY, TODAY + timedelta(days=60), TODAY - timedelta(days=27))
    assert found == days(5, 33)


def test_an_overdue_cut_is_for_today() -> None:
    calendar = CutCalendar(every_days=28)
    found = calendar.days_between(TODAY, TODAY + timedelta(days=30), TODAY - timedelta(days=40))
    assert found == days(0, 28)


def test_there_is_none_after_the_last() -> None:
    calendar = CutCalendar(every_days=20, last_on=TODAY + timedelta(days=25))
    assert calendar.days_between(TODAY, TODAY + timedelta(days=60), TODAY) == days(20)
    assert CutCalendar().days_between(TODAY, TODAY + timedelta(days=60), TODAY) == ()


@pytest.mark.parametrize(
    ("made", "field"),
    [
        (lambda: CutCalendar(every_days=3), "every_days"),
        (lambda: CutCalendar(dry_before_days=90), "dry_before_days"),
        (lambda: CutCalendar(taken_days=90), "taken_days"),
        (lambda: CutCalendar(Harvested.GRAZED), "taken_days"),
    ],
)
def test_calendars_that_are_none_are_refused(made: object, field: str) -> None:
    with pytest.raises(CalendarProblem) as refused:
        made()  # type: ignore[operator]
    assert refused.value.field == field


def test_a_swath_dries_by_et_and_rain_turns_it_back() -> None:
    et0 = np.full((3, 8), 5.0)
    rain = np.zeros((3, 8))
    rain[1, 1] = 3.0
    et0[2] = 1.0
    # 18 mm at 5 a day are gone on the fourth; 3 mm of rain cost 6; at 1 a day it never dries.
    assert dried_after_days(et0, rain).tolist() == [4.0, 5.0, 8.0]


def test_what_a_cut_keeps_free_of_water() -> None:
    et0, rain = np.full((50, 30), 6.0), np.zeros((50, 30))
    et0[:10] = 4.0
    found = harvests(CutCalendar(every_days=28, dry_before_days=4), days(5), TODAY, et0, rain)[0]
    # 18 / 6 = 3 days; in the ten slow courses 5 days, which is beyond the chance that is taken.
    assert (found.dry_from, found.on) == days(1, 5)
    assert (found.water_from_early, found.water_from) == days(8, 8)
    fixed = CutCalendar(every_days=28, taken_days=2)
    assert harvests(fixed, days(5), TODAY, et0, rain)[0].water_from == days(7)[0]


def test_stock_goes_round_the_paddocks() -> None:
    paddocks = [Paddock(4, days(-9)[0]), Paddock(3, days(-2)[0]), Paddock(5, None)]
    # In the second since two days ago, for three; then five in the third, four in the first.
    assert coming(paddocks, TODAY + timedelta(days=14)) == (days(6), days(10), days(1, 13))
    assert coming([Paddock(4, None)], TODAY) == ((),)


def hay(calendar: CutCalendar | None, cut_days_ago: int = 20, **more: object) -> BlockInputs:
    season = CropSeason(
        crop("lucerne-hay"),
        date(2026, 3, 20),
        cuts=((TODAY - date(2026, 3, 20)).days - cut_days_ago,),
    )
    return lived(season=season, **more).assuming(cutting=calendar)


def test_no_irrigation_runs_into_a_cut() -> None:
    calendar = CutCalendar(planned=days(3), dry_before_days=2, taken_days=2)
    answer = assess(hay(calendar))
    assert answer.cutting is not None
    assert [h.on for h in answer.cutting.ahead] == list(days(3))
    held = [datetime.combine(d, datetime.min.time(), NOW.tzinfo) for d in days(1, 5)]
    assert answer.start_at is not None
    assert answer.amount is not None
    ends = answer.start_at + timedelta(hours=answer.amount.hours)
    assert ends <= held[0] or answer.start_at >= held[1]


def test_the_crop_is_cut_on_its_day_in_the_days_ahead() -> None:
    uncut = assess(hay(None))
    cut = assess(hay(CutCalendar(planned=days(2), dry_before_days=1, taken_days=2)))
    # Kc falls to 0.4 on the day: lucerne, single cutting periods, FAO-56 table 12.
    assert cut.days[1].kc == uncut.days[1].kc
    rows = {row.day: row.kc for row in cut.days}
    assert rows.get(3, 0.4) == pytest.approx(0.4, abs=0.02)


def test_grazing_has_its_own_word() -> None:
    calendar = CutCalendar(Harvested.GRAZED, planned=days(0), taken_days=4, dry_before_days=0)
    answer = assess(hay(calendar))
    assert answer.cutting is not None
    assert answer.cutting.harvested is Harvested.GRAZED
    assert answer.hold in (HoldKind.GRAZING, None)


def test_a_swath_that_lies_is_waited_for() -> None:
    calendar = CutCalendar(every_days=40, taken_days=3)
    ahead = harvests_ahead(hay(calendar, cut_days_ago=1))
    assert [h.water_from for h in ahead] == list(days(2))
    assert harvests_ahead(hay(calendar, cut_days_ago=4)) == ()


def test_rain_since_the_cut_lengthens_the_wait() -> None:
    calendar = CutCalendar(every_days=60)
    dry = harvests_ahead(hay(calendar, cut_days_ago=2))
    wet = (Watering(-20.0, 8.0, is_rain=True),)
    rained = harvests_ahead(replace(hay(calendar, cut_days_ago=2), waterings=wet))
    assert dry[0].water_from < rained[0].water_from


def test_a_plan_knows_the_cuts() -> None:
    calendar = CutCalendar(planned=days(2), dry_before_days=1, taken_days=2)
    cut, uncut = needs_ahead([hay(calendar), hay(None)], 10)
    assert cut is not None
    assert uncut is not None
    assert cut.use_mm[:, 3:6].mean() < 0.6 * uncut.use_mm[:, 3:6].mean()


def test_without_a_calendar_it_is_kept_above_refill() -> None:
    assert hay(None).assumed.regime is Regime.ABOVE_REFILL
    assert hay(CutCalendar(every_days=28)).assumed.regime is Regime.CUT_OR_GRAZED
    both = assess_blocks([hay(None), hay(CutCalendar(every_days=28))])
    assert both[0].cutting is None
    assert both[1].cutting is not None
    none = hay(CutCalendar(every_days=28)).assuming(season=None)
    assert assess(none).reasons == (Reason.NO_CROP_IN_SEASON,)
