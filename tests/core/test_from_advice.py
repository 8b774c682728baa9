"""A block as a plan takes it, from its advice: depths, times, worth; by hand."""

from dataclasses import replace
from datetime import timedelta
from math import inf
from typing import Any

import numpy as np
import pytest

from core.advice.holds import Hold, HoldKind
from core.advice.needs_ahead import NeedsAhead, needs_ahead
from core.crop.catalogue import crops
from core.crop.season import CropSeason
from core.crop.yield_loss import loss_per_mm
from core.irrigation.system import IrrigationSystem, SystemKind
from core.plan.from_advice import (
    allowed_slots,
    fixed_set,
    flow_of,
    is_sensible,
    labour_of,
    plan_block,
)
from core.plan.make_plan import PlannedSet
from core.plan.plan_block import FixedSet, PlanBlock
from core.plan.pulses import Pulses
from core.plan.slots import DAYS, SLOTS
from core.plan.store_course import store_course
from tests.core.blocks import NOW, block, probe
from tests.core.test_plan_relief import DRY

# 5 mm/h gross on 2 ha at 80 %: 100 m3/h, 4 mm/h net; 25 m3 are a mm net.
SPRINKLERS = IrrigationSystem(
    SystemKind.SOLID_SET, area_m2=20_000, efficiency=0.8, rate_mm_h=5.0, largest_mm=50.0
)


def needs(**changes: Any) -> NeedsAhead:
    grown = block().assumed.season
    assert grown is not None
    return replace(
        NeedsAhead(
            season=grown,
            depletion_mm=np.array([30.0, 34.0]),
            use_mm=np.full((2, DAYS), 5.0),
            water_mm=np.zeros((2, DAYS)),
            raw_mm=np.full(DAYS, 40.0),
            taw_mm=np.full(DAYS, 80.0),
            book_day=60.0,
            et0_mm_day=5.0,
            leaching_share=0.0,
            wetting_mm=1.5,
        ),
        **changes,
    )


def planned(
    of: NeedsAhead | None = None, system: IrrigationSystem = SPRINKLERS, **more: Any
) -> PlanBlock:
    return plan_block("Upper", of or needs(), system, [], 7.0, source=0, value=10_000.0, **more)


def test_no_more_is_given_than_the_crop_lacks_until_it_is_over() -> None:
    """At most 40 mm net otherwise, half of RAW at least; 28 and 9 mm are lacking."""
    assert planned().largest_mm == pytest.approx(40.0)
    assert planned(needs(most_mm=28.0)).largest_mm == pytest.approx(28.0)
    little = planned(needs(most_mm=9.0))
    assert little.largest_mm == little.smallest_mm == pytest.approx(planned().smallest_mm)


def test_depths_and_flows() -> None:
    one = planned()
    assert one.flow_l_s == pytest.approx(100 / 3.6)
    assert one.net_mm_h == pytest.approx(4.0)
    assert one.gross_m3_mm == pytest.approx(25.0)
    # Half of RAW at least; the system's largest is gross.
    assert (one.smallest_mm, one.largest_mm) == (20.0, 40.0)
    assert one.wetting_mm == 1.5


def test_smallest_and_largest() -> None:
    """A stated minimum above half of RAW counts, net; watered daily, a millimetre is worth it;
    without a maximum, all that the roots hold."""
    assert planned(system=replace(SPRINKLERS, smallest_mm=30.0)).smallest_mm == pytest.approx(24.0)
    assert planned(daily=True).smallest_mm == 1.0
    assert planned(system=replace(SPRINKLERS, largest_mm=None)).largest_mm == 80.0
    assert planned(system=replace(SPRINKLERS, largest_mm=15.0)).smallest_mm == pytest.approx(12.0)


def test_leaching_is_drawn_on_top() -> None:
    """A fifth passes the roots: of 5 mm/h at 80 % 3.2 stay; 20 / 0.64 m3 bring a mm."""
    one = planned(needs(leaching_share=0.2))
    assert one.net_mm_h == pytest.approx(3.2)
    assert one.gross_m3_mm == pytest.approx(20.0 / 0.64)


def test_groups_pulses_and_parts() -> None:
    """12 mm gross at one go are 9.6 mm at the roots, 7.68 beside a fifth that leaches; a machine
    that moves on waters its ground in three parts."""
    one = planned(groups=(2,), pulse=(12.0, 0.5))
    assert (one.groups, one.parts) == ((2,), 1)
    assert one.pulses == Pulses(pytest.approx(9.6), 0.5)
    leached = planned(needs(leaching_share=0.2), pulse=(12.0, 0.5)).pulses
    assert leached is not None
    assert leached.most_mm == pytest.approx(7.68)
    assert planned().pulses is None
    reel = replace(SPRINKLERS, kind=SystemKind.TRAVELLER)
    assert planned(system=reel).parts == 3


@pytest.mark.parametrize(
    ("at_once_mm", "a_day", "largest_mm"),
    [(inf, 1, 40.0), (6.25, 1, 5.0), (5.0, 2, 4.0), (2.2, 3, 1.76), (1.25, 3, 5 / 3)],
)
def test_several_times_a_day_where_the_roots_get_little_at_once(
    at_once_mm: float, a_day: int, largest_mm: float
) -> None:
    """5 mm a day at 80 %: 6.25 mm gross bring it at one go, 5 mm in two, 2.2 mm in three, 1.25 mm
    not even in three, and more than three times a day it is not watered."""
    one = planned(daily=True, most_at_once_mm=at_once_mm)
    assert one.a_day == a_day
    assert one.largest_mm == pytest.approx(largest_mm)


def test_room_for_rain_is_not_filled() -> None:
    one = planned(rain_room_mm=6.0)
    assert one.depletion_mm.tolist() == [24.0, 28.0]
    assert (one.raw_mm[0], one.taw_mm[0]) == (34.0, 74.0)


def test_holds_and_what_is_over() -> None:
    """At 7:00: slots from 8:00 on. A hold from 9:00 to 13:00 closes those of 8:00 to 14:00."""
    free = allowed_slots([Hold(2.0, 6.0, HoldKind.SPRAY)], 7.0)
    assert np.flatnonzero(free)[:3].tolist() == [7, 8, 9]
    # One that ends as a slot begins leaves it open.
    assert allowed_slots([Hold(2.0, 7.0, HoldKind.SPRAY)], 7.0)[7]
    assert allowed_slots([], 8.0)[4]
    assert not allowed_slots([], 8.5)[4]
    assert free.size == SLOTS


def test_irrigations_that_stand() -> None:
    """From 5:00 to 11:00, 12 mm, at 7:00: a third is over; the slots that begin at 6, 8 and 10."""
    assert fixed_set(5.0, 11.0, 12.0, 7.0) == FixedSet(3, 3, pytest.approx(8.0))
    assert fixed_set(2.0, 7.0, 12.0, 7.0) is None
    assert fixed_set(20.0, 22.0, 5.0, 7.0) == FixedSet(10, 1, 5.0)
    # What goes on beyond the days of the plan is cut there.
    assert fixed_set(236.0, 244.0, 8.0, 7.0) == FixedSet(118, 2, pytest.approx(4.0))


def test_flows_together_and_work() -> None:
    """100 m3/h are 27.78 L/s, counted as 27.8 each."""
    assert flow_of([SPRINKLERS, SPRINKLERS]) == pytest.approx(55.6)
    assert labour_of(2.0, 15.0, daily=True) == 30.0
    assert labour_of(None, 16.0, daily=False) == 8.0
    assert labour_of(None, None, daily=False) == 10.0
    assert labour_of(None, None, daily=True) == 0.0


def test_figures_that_cant_be_planned_with() -> None:
    assert is_sensible(planned())
    assert not is_sensible(replace(planned(), use_mm=np.full((2, DAYS), np.nan)))


def test_loss_of_yield_by_hand() -> None:
    """FAO-33: potato, Ky 1.1 over the season. Kc 0.5, 1.15, 0.75 over 25, 30, 45, 30 days: 12.5 +
    24.75 + 51.75 + 28.5 = 117.5 days' worth of ET0; at 5 mm/day 587.5 mm (straight between
    stages)."""
    potato = replace(
        crops()["potato"],
        stage_days=(25, 30, 45, 30),
        kc=(0.5, 1.15, 0.75),
        ky_season=1.1,
        windows=(),
    )
    expected = 1.1 * 20_000 / 587.5
    assert loss_per_mm(potato, 10.0, 5.0, 20_000) == pytest.approx(expected, rel=1e-3)
    assert loss_per_mm(replace(potato, ky_season=None), 10.0, 5.0, 20_000) == pytest.approx(
        expected / 1.1, rel=1e-3
    )
    with pytest.raises(ValueError, match="above zero"):
        loss_per_mm(potato, 10.0, 0.0, 1.0)


def test_loss_in_a_sensitive_window() -> None:
    """Ky 0.8 over the mid season of 45 days at Kc 1.15: 258.75 mm; 0.8 / 258.75 is more than 1.1 /
    587.5. It counts from five days before on, and not once it is over."""
    potato = crops()["potato"]
    window = replace(potato.windows[0], start=2.0, end=3.0, ky=0.8)
    one = replace(
        potato, stage_days=(25, 30, 45, 30), kc=(0.5, 1.15, 0.75), ky_season=1.1, windows=(window,)
    )
    inside, season = 0.8 / 258.75, 1.1 / 587.5
    for day, share in ((49.9, season), (50.0, inside), (99.9, inside), (100.0, season)):
        assert loss_per_mm(one, day, 5.0, 1.0) == pytest.approx(share, rel=1e-3)


def test_needs_of_a_block_are_those_of_its_advice() -> None:
    """Members within what the roots hold, of today's use what is to come; a block without a crop
    has none."""
    one = block()
    bare = one.assuming(season=None)
    found, none = needs_ahead([one, bare], DAYS)
    assert none is None
    assert found is not None
    assert found.use_mm.shape == found.water_mm.shape == (50, DAYS)
    assert found.raw_mm.shape == (DAYS,)
    assert (found.depletion_mm >= 0).all()
    assert (found.depletion_mm <= found.taw_mm[0]).all()
    # Today's is the rest of the day.
    assert found.use_mm[:, 0].mean() < found.use_mm[:, 1].mean()
    assert needs_ahead([bare], DAYS) == (None,)


def test_the_store_with_a_set_by_hand() -> None:
    """60 mm are missing of 80, 40 of which are RAW: 20 mm below refill. Ks is a half: 0.5 mm of 1
    in six hours; then 10 mm in the first three slots, 1 of which evaporates."""
    one = replace(DRY, wetting_mm=1.0)
    found = store_course(one, [PlannedSet(0, 0, 3, 10.0)])
    assert found.middle[:2].tolist() == [-20.0, pytest.approx(-20.0 - 0.5 + 9.0)]
    assert found.middle.size == 41
    assert (found.low == found.high).all()
    assert found.raw_mm.tolist() == [40.0] * 41
    stands = replace(DRY, fixed=(FixedSet(0, 3, 12.0),))
    assert store_course(stands, []).middle[1] == pytest.approx(-20.0 - 0.5 + 12.0)


def test_no_slot_with_too_much_wind() -> None:
    windy = np.zeros(SLOTS, dtype=bool)
    # The first slot is over at 7 h, and is not held for the wind.
    windy[[0, 5, 6]] = True
    block = planned(windy=windy)
    assert not block.allowed[[5, 6]].any()
    assert block.allowed[[4, 7]].all()
    assert block.windy is not None
    assert np.flatnonzero(block.windy).tolist() == [5, 6]
    calm = planned(windy=np.zeros(SLOTS, dtype=bool))
    assert calm.windy is None
    assert np.array_equal(calm.allowed, planned().allowed)


def test_nothing_is_planned_for_a_crop_that_needs_no_more() -> None:
    def potato(days: int) -> CropSeason:
        return CropSeason(crops()["potato"], NOW.date() - timedelta(days=days))

    ripe = block(season=potato(128), sites=(probe(1, 0.5),))
    young = block(season=potato(60), sites=(probe(1, 0.5),))
    done, growing = needs_ahead([ripe, young], 10)
    assert done is not None
    assert growing is not None
    assert (done.finished, growing.finished) == (True, False)
    # What it uses until then is told all the same.
    assert done.use_mm.sum() > 0.0
    assert planned(done).use_mm.sum() == 0.0
    assert planned(growing).use_mm.sum() > 0.0
