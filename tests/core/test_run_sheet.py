"""What a run sheet breaks and costs, beside the planner's checker, and by hand."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.plan.make_plan import PlannedSet, make_plan
from core.plan.plan_block import FixedSet
from core.plan.reasons import SharedKind
from core.plan.shared import PlanMachine, PlanMain
from core.plan.sheet import SheetRule, block_money, broken_rules, peak_of
from core.plan.slots import DAYS, SLOTS
from core.world.plan_farms import drawn_farm
from tests.core.plan_checker import broken, money
from tests.core.test_make_plan import limited
from tests.core.test_plan_relief import DRY, shared_with


@given(st.integers(0, 10_000), st.sampled_from([0.8, 1.3]))
def test_sheets_are_judged_as_the_checker_does(seed: int, load: float) -> None:
    """A plan, and the same with sets pushed about by lot: both agree on whether anything is broken,
    and on every hundredth of money."""
    shared, blocks = limited(*drawn_farm(7, 2, load, seed, members=3), seed)
    rng = np.random.default_rng(seed)
    planned = list(make_plan(shared, blocks, looks=50_000).sets)
    assert broken_rules(shared, blocks, planned) == ()
    for _ in range(min(3, len(planned))):
        k = int(rng.integers(0, len(planned)))
        s = planned[k]
        at = int(np.clip(s.start + rng.integers(-8, 9), 0, SLOTS - s.slots))
        planned[k] = replace(s, start=at, net_mm=s.net_mm * float(rng.choice([1.0, 0.5, 1.2])))
    assert bool(broken_rules(shared, blocks, planned)) == bool(broken(shared, blocks, planned))
    mine = peak_of(shared, blocks, planned) + sum(
        block_money(b, shared.sources[b.source], [s for s in planned if s.block == i]).total
        for i, b in enumerate(blocks)
    )
    assert mine == pytest.approx(money(shared, blocks, planned), abs=0.02)


OK = PlannedSet(0, 4, 6, 50.0)


@pytest.mark.parametrize(
    ("one", "rule", "slots"),
    [
        (replace(OK, start=115), SheetRule.OUTSIDE, tuple(range(115, 121))),
        (replace(OK, start=19), SheetRule.NOT_ALLOWED, (20, 21)),
        (replace(OK, net_mm=9.9), SheetRule.TOO_SMALL, tuple(range(4, 10))),
        (replace(OK, net_mm=60.2, slots=8), SheetRule.TOO_LARGE, tuple(range(4, 12))),
        (replace(OK, slots=4), SheetRule.TOO_SHORT, tuple(range(4, 8))),
        (replace(OK, start=29), SheetRule.OVERLAP, (32, 33, 34)),
    ],
)
def test_rules_of_one_block(one: PlannedSet, rule: SheetRule, slots: tuple[int, ...]) -> None:
    """5 mm/h in slots of two hours: 50 mm take five, 40 mm four; held in the slots 20 and 21."""
    allowed = np.ones(SLOTS, bool)
    allowed[20:22] = False
    block = replace(DRY, allowed=allowed, fixed=(FixedSet(32, 4, 20.0),))
    shared = shared_with(flow_l_s=np.full(SLOTS, 20.0))
    assert broken_rules(shared, [block], [OK]) == ()
    (found,) = broken_rules(shared, [block], [one])
    assert (found.rule, found.slots, found.blocks) == (rule, slots, (0,))


def test_rules_of_what_is_shared() -> None:
    """Two blocks of 10 L/s at once: 20 L/s of 10, through a main of 15; by one machine, and by one
    person who can begin one set at a time."""
    two = [replace(DRY, mains=(0,), machine=0), replace(DRY, name="Lower", mains=(0,), machine=0)]
    shared = replace(
        shared_with(),
        mains=(PlanMain("North", 15.0),),
        machines=(PlanMachine("Reel", 1),),
        people=np.ones(SLOTS),
    )
    found = broken_rules(shared, two, [OK, replace(OK, block=1)])
    # The reel is wanted a slot before by both, for moving.
    assert {(f.rule, f.name, f.slots) for f in found} == {
        (SharedKind.SOURCE, "River pump", tuple(range(4, 10))),
        (SharedKind.MAIN, "North", tuple(range(4, 10))),
        (SharedKind.MACHINE, "Reel", tuple(range(3, 10))),
        (SharedKind.PEOPLE, "", (4,)),
    }
    assert all(f.blocks == (0, 1) for f in found)


def test_a_machine_that_moves_is_wanted_by_both() -> None:
    """One runs in the slots 4 to 9; the other begins in 10 and takes the one before for moving."""
    two = [replace(DRY, machine=0), replace(DRY, machine=0)]
    shared = replace(shared_with(), machines=(PlanMachine("Reel", 1),))
    (found,) = broken_rules(shared, two, [OK, replace(OK, block=1, start=10)])
    assert (found.rule, found.slots, found.blocks) == (SharedKind.MACHINE, (9,), (0, 1))
    assert broken_rules(shared, two, [OK, replace(OK, block=1, start=11)]) == ()


def test_one_after_the_other_is_no_overlap() -> None:
    assert broken_rules(shared_with(), [DRY], [OK, replace(OK, start=10)]) == ()


def test_what_evaporates_of_a_set_does_not_reach_the_roots() -> None:
    """Of 50 mm 5 evaporate: the crop lacks what it would with 45."""
    source = shared_with().sources[0]
    wets = block_money(replace(DRY, wetting_mm=5.0), source, [OK])
    plain = block_money(DRY, source, [replace(OK, net_mm=45.0)])
    assert wets.lacking_mm == pytest.approx(plain.lacking_mm)
    assert wets.later == pytest.approx(plain.later)


def test_licences() -> None:
    """50 mm net at 7.2 m3/mm are 360 m3: above 350 of a day and 355 of what the season has left."""
    shared = shared_with(day_m3=np.full(DAYS, 350.0), total_m3=355.0)
    day, season = broken_rules(shared, [DRY], [OK])
    assert (day.rule, day.slots) == (SharedKind.DAY_LICENCE, tuple(range(12)))
    assert (season.rule, season.slots, season.blocks) == (SharedKind.SEASON_LICENCE, (), (0,))


def test_money_of_one_block_by_hand() -> None:
    """50 mm net at 7.2 m3/mm are 360 m3. At 0.3 kWh/m3 and 0.10, 108 kWh are 10.80; at 0.02 a m3
    7.20; 4.50 of labour; a set that was announced for another slot changes two things."""
    source = shared_with(kwh_m3=0.3, water_price=0.02).sources[0]
    block = replace(
        DRY,
        depletion_mm=np.array([30.0]),
        labour=4.5,
        told=(FixedSet(8, 6, 50.0),),
        change=2.0,
    )
    found = block_money(block, source, [OK])
    assert found.power == pytest.approx(10.8)
    assert found.water == pytest.approx(7.2)
    assert (found.labour, found.changes) == (4.5, 4.0)
    assert found.lacking_mm == 0.0
    assert found.total == pytest.approx(
        found.power + found.water + found.labour + found.changes + found.later
    )


def test_peak_by_hand() -> None:
    """10 L/s at 0.3 kWh/m3 are 10.8 kW, 5.8 above the month's 5: at 9 a kW 52.20."""
    shared = shared_with(kwh_m3=0.3, peak_price=9.0, peak_so_far_kw=5.0)
    # Peaks are counted in tenths of L/s: 5 kW are 4.6 L/s.
    assert peak_of(shared, [DRY], [OK]) == pytest.approx(9.0 * (10.8 - 4.6 * 1.08))
    assert peak_of(shared, [DRY], []) == 0.0
