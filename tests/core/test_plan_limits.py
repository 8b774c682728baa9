"""Blocks that run together or not at all, not together, in pulses, or part by part; by hand."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.irrigation.run import largest_pulse, run_of
from core.irrigation.system import IrrigationSystem, SystemKind
from core.plan.make_plan import Method, PlannedSet, make_plan, pattern_sets
from core.plan.pattern_cost import followed
from core.plan.patterns import patterns_of
from core.plan.plan_block import FixedSet, PlanBlock
from core.plan.pulses import Pulses, brought_in, hours_of, pulses_of
from core.plan.reasons import SharedKind, block_reason, planned_patterns
from core.plan.relief import ReliefKind, reliefs
from core.plan.search import SHORT
from core.plan.shared import PlanGroup
from core.plan.sheet import SheetRule, block_money, broken_rules
from core.plan.slots import DAYS, SLOTS
from core.world.plan_farms import drawn_farm
from tests.core.plan_checker import broken, money
from tests.core.test_plan_relief import DRY, shared_with

# Each draws 10 L/s of a pump that brings 30 and may not run below 20.
PUMP = shared_with(flow_l_s=np.full(SLOTS, 30.0), smallest_l_s=20.0)
TWO = [DRY, replace(DRY, name="Lower")]


def test_one_runs_with_the_other_where_the_pump_needs_both() -> None:
    plan = make_plan(PUMP, TWO, looks=300_000)
    upper, lower = ([(s.start, s.slots) for s in plan.sets if s.block == b] for b in (0, 1))
    assert upper
    assert upper == lower
    alone = make_plan(PUMP, TWO[:1])
    assert (alone.sets, alone.method) == ((), Method.EXACT)


def test_two_that_draw_a_little_too_much_together_run_one_after_the_other() -> None:
    """20 L/s of a pump that brings 18, in slots that both want: they may run in six alone."""
    pump = shared_with(flow_l_s=np.full(SLOTS, 18.0))
    early = np.arange(SLOTS) < 6
    both = [replace(b, allowed=early) for b in TWO]
    plan = make_plan(pump, both)
    assert plan.method is Method.EXACT
    assert broken_rules(pump, both, plan.sets) == ()
    enough = make_plan(shared_with(flow_l_s=np.full(SLOTS, 20.0)), both)
    assert {s.start for s in enough.sets} == {0}
    assert plan.cost > enough.cost


def test_a_block_that_runs_joins_what_stands() -> None:
    """10 L/s stand in the first six slots: a second block may run in those alone."""
    held = np.zeros(SLOTS, bool)
    stands = [replace(DRY, fixed=(FixedSet(0, 6, 50.0),), allowed=held), TWO[1]]
    plan = make_plan(PUMP, stands, looks=300_000)
    assert [(s.block, s.start) for s in plan.sets] == [(1, 0)]
    assert plan.sets[0].slots <= 6
    assert broken_rules(PUMP, stands, plan.sets) == ()


@pytest.mark.parametrize("short", [SHORT, 0.0])
def test_the_search_leaves_nothing_below_the_smallest_flow(
    short: float, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A third of what each source brings: more than any of its blocks draws alone at times. Also
    where it costs the search nothing on its way."""
    monkeypatch.setattr("core.plan.search.SHORT", short)
    shared, blocks = drawn_farm(14, 2, 0.8, 3, members=3)
    least = (replace(s, smallest_l_s=float(s.flow_l_s.max()) / 3) for s in shared.sources)
    shared = replace(shared, sources=tuple(least))
    for looks in (0, 400_000):
        plan = make_plan(shared, blocks, looks=looks)
        assert broken(shared, blocks, plan.sets) == []
        assert broken(shared, blocks, plan.by_urgency) == []
    assert len({s.block for s in plan.sets}) >= (10 if short else 1)
    assert plan.cost == pytest.approx(money(shared, blocks, plan.sets), abs=0.1)


def test_told_when_too_little_is_drawn() -> None:
    upper, lower = PlannedSet(0, 4, 6, 50.0), PlannedSet(1, 6, 6, 50.0)
    (found,) = broken_rules(PUMP, TWO, [upper, lower])
    assert (found.rule, found.name) == (SharedKind.SMALLEST_FLOW, "River pump")
    assert (found.slots, found.blocks) == ((4, 5, 10, 11), (0, 1))
    reason = block_reason(PUMP, TWO, [], 0)
    assert [(w.kind, w.blocks) for w in reason.in_the_way] == [(SharedKind.SMALLEST_FLOW, ())]
    (rather,) = reason.rather
    slots = tuple(range(rather.start, rather.start + rather.slots))
    assert reason.in_the_way[0].slots == slots
    # What another runs alone at another time is none of its business.
    elsewhere = block_reason(PUMP, TWO, [PlannedSet(1, 110, 6, 50.0)], 0)
    assert elsewhere.in_the_way[0].slots == slots


def test_of_a_group_only_so_many_at_a_time() -> None:
    shared = replace(
        shared_with(flow_l_s=np.full(SLOTS, 30.0)), groups=(PlanGroup("Filter station", 1),)
    )
    grouped = [replace(b, groups=(0,)) for b in TWO]
    upper, lower = PlannedSet(0, 4, 6, 50.0), PlannedSet(1, 8, 6, 50.0)
    (found,) = broken_rules(shared, grouped, [upper, lower])
    assert (found.rule, found.name) == (SharedKind.GROUP, "Filter station")
    assert (found.slots, found.blocks) == ((8, 9), (0, 1))
    assert broken_rules(replace(shared, groups=(PlanGroup("", 2),)), grouped, [upper, lower]) == ()
    first, second = sorted(make_plan(shared, grouped).sets, key=lambda s: s.start)[:2]
    assert first.start + first.slots <= second.start
    (way,) = block_reason(shared, grouped, [upper], 1).in_the_way
    assert (way.kind, way.name, way.blocks) == (SharedKind.GROUP, "Filter station", (0,))
    assert (SharedKind.GROUP, 1.0) in [(r.kind, r.more) for r in reliefs(shared, grouped, 0.0)]


def test_what_longer_hours_are_worth() -> None:
    """A pump that runs from midnight to four alone: two hours more each day bring half as much."""
    hours = np.where(np.arange(SLOTS) % 12 < 2, 10.0, 0.0)
    found = reliefs(shared_with(flow_l_s=hours), TWO, 0.0)
    longer = next(r for r in found if r.kind is ReliefKind.HOURS)
    assert (longer.name, longer.more) == ("River pump", 2.0)
    assert longer.money > 0
    always = reliefs(shared_with(), TWO, 0.0)
    assert ReliefKind.HOURS not in [r.kind for r in always]


# 5 mm/h, 10 mm at one go: two hours of water, an hour until the ground has taken them in.
CUT = Pulses(10.0, 1.0)


@pytest.mark.parametrize(
    ("net_mm", "pulses", "hours"),
    [(10.0, 1, 2.0), (10.1, 2, 3.02), (20.0, 2, 5.0), (25.0, 3, 7.0), (4.0, 1, 0.8)],
)
def test_pulses_by_hand(net_mm: float, pulses: int, hours: float) -> None:
    assert pulses_of(net_mm, CUT) == pulses
    assert hours_of(net_mm, 5.0, CUT) == pytest.approx(hours)
    assert brought_in(hours, 5.0, CUT) == pytest.approx(net_mm)
    assert (pulses_of(net_mm, None), hours_of(net_mm, 5.0, None)) == (1, net_mm / 5.0)
    assert brought_in(hours, 5.0, None) == 5.0 * hours


def test_nothing_comes_in_a_pause() -> None:
    assert [brought_in(h, 5.0, CUT) for h in (2.0, 2.5, 3.0, 3.5)] == [10.0, 10.0, 10.0, 12.5]


@given(st.floats(0.1, 200.0), st.floats(0.5, 30.0), st.floats(0.5, 40.0), st.floats(0.0, 5.0))
def test_what_hours_bring_takes_no_longer(
    net_mm: float, rate: float, most: float, pause: float
) -> None:
    cut = Pulses(most, pause)
    hours = hours_of(net_mm, rate, cut)
    assert brought_in(hours, rate, cut) == pytest.approx(net_mm, rel=1e-6)
    assert hours_of(brought_in(hours, rate, cut) * (1 - 1e-9), rate, cut) <= hours + 1e-6


@given(st.floats(5.0, 60.0), st.floats(2.0, 60.0), st.sampled_from([0.5, 2.0, 4.0]))
def test_pulses_of_a_plan_are_those_of_the_advice(
    gross_mm: float, intake_mm_h: float, slope: float
) -> None:
    solid = IrrigationSystem(SystemKind.SOLID_SET, 20_000.0, 0.8, rate_mm_h=12.0)
    found = largest_pulse(solid, None, intake_mm_h, slope)
    run = run_of(solid, None, gross_mm, intake_mm_h, slope)
    cut = None if found is None else Pulses(*found)
    assert pulses_of(gross_mm, cut) == run.pulses
    assert hours_of(gross_mm, 12.0, cut) == pytest.approx(run.total_hours)


def test_a_pivot_and_a_steep_slope_do_not_pulse() -> None:
    pivot = IrrigationSystem(SystemKind.PIVOT, 200_000.0, 0.85, rate_mm_h=30.0)
    assert largest_pulse(pivot, None, 5.0, 0.5) is None
    solid = IrrigationSystem(SystemKind.SOLID_SET, 20_000.0, 0.8, rate_mm_h=12.0)
    assert largest_pulse(solid, None, 5.0, 8.0) is None


def test_a_set_in_pulses_takes_its_pauses() -> None:
    """50 mm at 5 mm/h take five slots; in five pulses with an hour between, 14 h are seven."""
    pulsed = replace(DRY, pulses=CUT)
    sets = [PlannedSet(0, 4, 6, 50.0)]
    assert broken_rules(shared_with(), [DRY], sets) == ()
    (found,) = broken_rules(shared_with(), [pulsed], sets)
    assert found.rule is SheetRule.TOO_SHORT
    for one in make_plan(shared_with(), [pulsed]).sets:
        assert one.slots == np.ceil(hours_of(one.net_mm, 5.0, CUT) / 2 - 1e-6)


def test_what_was_told_is_kept_where_its_slots_bring_it() -> None:
    """In pulses 50 mm take seven slots, not six. With one more slot to run in, seven are kept as
    they are; six are not, and what is planned instead brings less."""
    allowed = np.zeros(SLOTS, bool)
    allowed[4:11] = True
    pulsed = replace(DRY, pulses=CUT, allowed=allowed, depletion_mm=np.array([45.0]))
    for slots, kept in ((7, True), (6, False)):
        told = replace(pulsed, told=(FixedSet(4, slots, 50.0),))
        found = pattern_sets(patterns_of([told]), 1, 0)
        assert (found == [PlannedSet(0, 4, slots, 50.0)]) is kept


def test_several_a_day_in_the_daylight() -> None:
    """4 mm a day, at most 2 mm at a go: twice a day, six hours apart, from six to eighteen; where
    only mornings are allowed, once."""
    often = replace(
        DRY, smallest_mm=1.0, largest_mm=2.0, depletion_mm=np.array([38.0]), labour=0.0, a_day=2
    )
    sets = make_plan(shared_with(), [often]).sets
    assert broken(shared_with(), [often], sets) == []
    starts = [s.start for s in sets]
    assert [t % 12 for t in starts] == [starts[0] % 12, starts[0] % 12 + 3] * DAYS
    assert {t % 12 for t in starts} <= set(range(3, 9))
    assert {s.net_mm for s in sets} == {2.0}
    mornings = replace(often, allowed=np.arange(SLOTS) % 12 < 6)
    assert len(make_plan(shared_with(), [mornings]).sets) == DAYS
    assert len(make_plan(shared_with(), [replace(often, a_day=1)]).sets) == DAYS


def _lacking(block: PlanBlock, *sets: PlannedSet) -> tuple[float, float]:
    lacking, left = followed(block, planned_patterns([block], sets), slice(0, 1))
    return float(lacking[0]), float(left[0])


def test_the_last_part_of_a_pass_waits_for_it() -> None:
    """A pass of three days is one block in three parts, each watered on a day of its own; what
    stands is followed alike."""
    three = replace(DRY, parts=3)
    whole = PlannedSet(0, 0, 36, 40.0)
    by_day = [_lacking(DRY, PlannedSet(0, 12 * k, 12, 40.0)) for k in range(3)]
    assert _lacking(three, whole) == pytest.approx(np.mean(by_day, axis=0))
    assert by_day[0][0] < by_day[1][0] < by_day[2][0]
    assert _lacking(three, whole)[0] > _lacking(DRY, whole)[0]
    stands = replace(three, fixed=(FixedSet(0, 36, 40.0),))
    assert _lacking(stands) == pytest.approx(np.mean(by_day, axis=0))
    found = block_money(three, shared_with().sources[0], [whole])
    assert found.lacking_mm == pytest.approx(_lacking(three, whole)[0])


def test_a_set_shorter_than_its_parts_waters_all_of_them() -> None:
    """Two slots, three parts: the first and the second get theirs in the first."""
    three = replace(DRY, parts=3)
    lacking, left = _lacking(three, PlannedSet(0, 2, 2, 20.0))
    early, late = (_lacking(DRY, PlannedSet(0, at, 1, 20.0)) for at in (2, 3))
    assert lacking == pytest.approx((2 * early[0] + late[0]) / 3)
    assert left == pytest.approx((2 * early[1] + late[1]) / 3)
