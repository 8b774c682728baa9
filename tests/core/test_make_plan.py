"""Plans of small farms beside every plan there is, and drawn ones beside a checker of its own."""

import os
from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.plan.exact import exact_plan
from core.plan.make_plan import (
    Method,
    PlannedSet,
    cheapest_plan,
    make_plan,
    pattern_sets,
    worked_out,
)
from core.plan.plan_block import FixedSet, PlanBlock
from core.plan.pulses import Pulses
from core.plan.search import cheapest_fit
from core.plan.shared import PlanGroup, Shared
from core.plan.slots import DAYS, SLOTS
from core.world.plan_farms import drawn_farm
from tests.core.plan_checker import broken, money, peaks


def narrowed(blocks: list[PlanBlock], seed: int) -> list[PlanBlock]:
    """Blocks that may run on a few occasions alone, so that every plan can be looked at."""
    rng = np.random.default_rng(seed)
    out = []
    for block in blocks:
        allowed = np.zeros(SLOTS, bool)
        for _ in range(2):
            first = int(rng.integers(0, 30))
            allowed[first : first + int(rng.integers(1, 4))] = True
        out.append(replace(block, allowed=allowed, smallest_mm=2.0))
    return out


def small_farm(seed: int, blocks: int) -> tuple[Shared, list[PlanBlock]]:
    shared, drawn = drawn_farm(blocks, 1, 1.2, seed, members=3)
    (source,) = shared.sources
    if seed % 2:
        # Without what the month's peak costs more is worth running.
        source = replace(source, peak_price=0.0)
    if seed % 5 == 0:
        source = replace(source, total_m3=350.0)
    if seed % 5 == 1:
        source = replace(source, day_m3=np.full(DAYS, 250.0))
    return limited(replace(shared, sources=(source,)), narrowed(drawn, seed), seed)


def limited(shared: Shared, blocks: list[PlanBlock], seed: int) -> tuple[Shared, list[PlanBlock]]:
    """A farm on which some run together or not at all, some not together, some in pulses, and some
    take so long that their ground is watered part by part."""
    first = shared.sources[0]
    own = sorted(b.flow_l_s for b in blocks if b.source == 0)
    if seed % 3 == 0 and len(own) > 1:
        first = replace(first, smallest_l_s=0.95 * (own[-1] + own[-2]))
    shared = replace(shared, sources=(first, *shared.sources[1:]))
    if seed % 4 == 1:
        shared = replace(shared, groups=(PlanGroup("Filter", 1),))
        blocks = [replace(b, groups=(0,)) if k != 1 else b for k, b in enumerate(blocks)]
    if seed % 4 == 2:
        blocks[0] = replace(blocks[0], pulses=Pulses(0.3 * blocks[0].raw_mm[0], 1.5))
    return shared, [replace(b, parts=3 if k % 3 == 2 else 1) for k, b in enumerate(blocks)]


def best_of_all(shared: Shared, blocks: list[PlanBlock]) -> float:
    """The least that any plan costs, by trying them all; rules and peak by the checker."""
    patterns, cost, _ = worked_out(shared, blocks)
    ways = [
        [
            (int(cost[p]), pattern_sets(patterns, p, b))
            for p in range(patterns.of(b).start, patterns.of(b).stop)
        ]
        for b in range(len(blocks))
    ]
    for own in ways:
        own.sort(key=lambda way: way[0])
    least = [min(way[0] for way in own) for own in ways]
    best = float("inf")

    def look(b: int, so_far: float, sets: list[PlannedSet]) -> None:
        nonlocal best
        if so_far + sum(least[b:]) >= best:
            return
        if b == len(blocks):
            if not broken(shared, blocks, sets):
                best = min(best, so_far + 100 * peaks(shared, blocks, sets))
            return
        for own_cost, own in ways[b]:
            together = sets + own
            # What runs below the smallest flow may be joined by a block that is still to come.
            if all("only" in rule for rule in broken(shared, blocks, together)):
                look(b + 1, so_far + own_cost, together)

    look(0, 0.0, [])
    return best / 100


# Each takes half a second; `bench properties` tries many.
SMALL_FARMS = 200 if os.environ.get("FURROW_EXAMPLES") == "many" else 48


@pytest.mark.hypothesis
@pytest.mark.parametrize("seed", range(SMALL_FARMS))
def test_no_plan_of_a_small_farm_is_better(seed: int) -> None:
    shared, blocks = small_farm(seed, 2 + seed % 3)
    plan = make_plan(shared, blocks)
    assert plan.method is Method.EXACT
    assert broken(shared, blocks, plan.sets) == []
    assert plan.cost == pytest.approx(best_of_all(shared, blocks), abs=1e-6)
    assert plan.bound == pytest.approx(plan.cost, abs=1e-4)


@given(
    st.integers(0, 10_000), st.integers(5, 9), st.integers(1, 3), st.sampled_from([0.6, 0.95, 1.4])
)
def test_what_is_planned_can_be_run(seed: int, blocks: int, sources: int, load: float) -> None:
    shared, drawn = drawn_farm(blocks, sources, load, seed, members=4)
    if seed % 2:
        # Half of what the first source could bring, by the day and in all.
        first = shared.sources[0]
        can = float(first.flow_l_s.mean()) * 3.6 * 24 / 2
        first = replace(first, day_m3=np.full(DAYS, can), total_m3=can * DAYS / 2)
        shared = replace(shared, sources=(first, *shared.sources[1:]))
    if seed % 3 == 0:
        drawn[0] = replace(drawn[0], fixed=(FixedSet(0, 3, 12.0),))
        drawn[1] = replace(drawn[1], fixed=(FixedSet(30, 4, 9.5),))
    shared, drawn = limited(shared, drawn, seed)
    plan = make_plan(shared, drawn, looks=300_000, seed=seed)
    assert broken(shared, drawn, plan.sets) == []
    # Each pattern's cost is rounded to a hundredth.
    assert plan.cost == pytest.approx(money(shared, drawn, plan.sets), abs=0.005 * blocks + 1e-6)
    assert plan.bound <= plan.cost + 1e-6
    # Nothing is called the best that is not known to be.
    assert plan.method is Method.SEARCH or plan.cost - plan.bound < 0.01
    assert plan.cost <= money(shared, drawn, []) + 0.01 * blocks


def more_flow(shared: Shared) -> Shared:
    sources = tuple(replace(s, flow_l_s=s.flow_l_s * 1.3) for s in shared.sources)
    return replace(shared, sources=sources)


def more_hours(shared: Shared) -> Shared:
    sources = tuple(
        replace(s, flow_l_s=np.full(SLOTS, s.flow_l_s.max()), day_m3=s.day_m3 * 1.2)
        for s in shared.sources
    )
    return replace(shared, sources=sources, people=shared.people + 1)


def cheaper_power(shared: Shared) -> Shared:
    sources = tuple(
        replace(s, price_kwh=s.price_kwh * 0.8, peak_price=s.peak_price * 0.8)
        for s in shared.sources
    )
    return replace(shared, sources=sources)


@pytest.mark.parametrize("eased", [more_flow, more_hours, cheaper_power])
@pytest.mark.parametrize("seed", range(3))
def test_with_more_to_hand_nothing_costs_more_than_the_gap(
    eased: Callable[[Shared], Shared], seed: int
) -> None:
    shared, blocks = drawn_farm(10, 2, 1.2, seed, members=4)
    before = make_plan(shared, blocks, looks=500_000)
    after = make_plan(eased(shared), blocks, looks=500_000)
    assert after.cost <= before.cost + after.gap * after.cost + 1e-6
    assert after.bound <= before.cost + 1e-6


def test_the_same_for_the_same() -> None:
    shared, blocks = drawn_farm(12, 2, 1.0, 5, members=4)
    one, two = (make_plan(shared, blocks, looks=500_000) for _ in range(2))
    assert one == two
    assert one.method is Method.SEARCH


def test_nothing_to_plan() -> None:
    shared, _ = drawn_farm(2, 1, 1.0, 1)
    plan = make_plan(shared, [])
    assert (plan.sets, plan.cost, plan.gap) == ((), 0.0, 0.0)


def test_the_search_betters_the_cheapest_fit() -> None:
    shared, blocks = drawn_farm(18, 2, 1.2, 7, members=4)
    fit = cheapest_plan(shared, blocks)
    plan = make_plan(shared, blocks, looks=3_000_000)
    assert fit.method is Method.CHEAPEST_FIT
    assert broken(shared, blocks, fit.sets) == []
    assert plan.bound < plan.cost < fit.cost


def test_what_stands_is_never_moved() -> None:
    """A set that runs is in no plan's list, and nothing of its block overlaps it, even where it
    takes more than there is."""
    shared, blocks = drawn_farm(6, 1, 1.0, 3, members=4)
    tight = replace(shared.sources[0], flow_l_s=np.full(SLOTS, blocks[0].flow_l_s * 0.9))
    blocks[0] = replace(blocks[0], fixed=(FixedSet(0, 6, 20.0),))
    plan = make_plan(replace(shared, sources=(tight,)), blocks, looks=300_000)
    assert broken(replace(shared, sources=(tight,)), blocks, plan.sets) == []
    assert all(s.start >= 6 for s in plan.sets)


def test_what_stands_uses_up_the_licence() -> None:
    """A set from 0:00 to 6:00 takes all that may be drawn on the first day and in the season."""
    shared, drawn = drawn_farm(4, 1, 0.5, 3, members=4)
    blocks = [replace(b, allowed=np.arange(SLOTS) < 36) for b in drawn]
    runs = blocks[1]
    m3 = 18.0 * runs.gross_m3_mm
    blocks[1] = replace(runs, fixed=(FixedSet(0, 3, 18.0),))
    (source,) = shared.sources
    day = np.full(DAYS, np.inf)
    day[0] = m3 + 1.0
    by_day = replace(shared, sources=(replace(source, day_m3=day),))
    plan = make_plan(by_day, blocks, looks=300_000)
    assert plan.sets
    assert all(s.start >= 12 for s in plan.sets)
    in_all = replace(shared, sources=(replace(source, total_m3=m3 + 1.0),))
    assert make_plan(in_all, blocks, looks=300_000).sets == ()


def test_people_are_told_otherwise_only_where_it_is_worth_it() -> None:
    """A block that would rather run at night stays where it was announced if every change costs
    more than the night saves, and moves if changes cost nothing; by the checker's money."""
    shared, blocks = drawn_farm(3, 1, 0.6, 11, members=4)
    free = make_plan(shared, blocks, looks=300_000)
    first = next(s for s in free.sets if blocks[s.block].allowed.all())
    at = 7 if first.start != 7 else 8
    told = FixedSet(at, first.slots, first.net_mm)
    others = [replace(b, allowed=np.zeros(SLOTS, bool)) for b in blocks]
    others[first.block] = replace(blocks[first.block], told=(told,), change=1e5)
    kept = make_plan(shared, others, looks=300_000)
    assert [s.start for s in kept.sets] == [at]
    assert kept.cost == pytest.approx(money(shared, others, kept.sets), abs=0.02)
    others[first.block] = replace(others[first.block], change=0.0)
    moved = make_plan(shared, others, looks=300_000)
    assert moved.cost <= kept.cost
    assert moved.cost == pytest.approx(money(shared, others, moved.sets), abs=0.02)


def test_by_cheapest_fit_alone_nothing_is_promised() -> None:
    shared, blocks = drawn_farm(8, 2, 1.0, 5, members=4)
    plan = cheapest_plan(shared, blocks)
    assert broken(shared, blocks, plan.sets) == []
    assert (plan.bound, plan.method) == (0.0, Method.CHEAPEST_FIT)
    assert broken(shared, blocks, plan.by_urgency) == []
    assert plan.cost < money(shared, blocks, plan.by_urgency)


@pytest.mark.parametrize(("seed", "looks"), [(0, 0), (10, 0), (0, 2_000_000), (1, 2_000_000)])
def test_what_is_settled_is_the_best_there_is(
    seed: int, looks: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Larger farms of few occasions: what the search finds is settled among the patterns that a
    better plan may have; the same cost and bound as among all of them."""
    shared, blocks = drawn_farm(4, 1, 1.0, 40 + seed, members=4)
    clock = np.arange(SLOTS) % 12
    few = [replace(b, allowed=(clock >= 3 + k % 2) & (clock < 8)) for k, b in enumerate(blocks)]
    patterns, cost, rows = worked_out(shared, few)
    fit = cheapest_fit(patterns, rows, cost)
    best = exact_plan(patterns, rows, cost, fit, 100.0)
    assert best is not None
    if not looks:
        # Without a search it begins with what is dearer.
        assert fit.cost > best[0].cost + 1.0
    monkeypatch.setattr("core.plan.make_plan.MOST_PATTERNS", cost.size - 1)
    monkeypatch.setattr("core.plan.make_plan.SHORT_LOOKS", looks)
    plan = make_plan(shared, few, looks=looks)
    assert plan.method is Method.EXACT
    assert plan.cost == pytest.approx(best[0].cost / 100)
    assert plan.bound == pytest.approx(best[1] / 100, abs=0.01)
    assert broken(shared, few, plan.sets) == []


def test_what_was_given_up_is_not_called_the_best(monkeypatch: pytest.MonkeyPatch) -> None:
    """The solver is stopped with a plan in hand that it has not proved: the bound says so."""
    shared, blocks = drawn_farm(4, 1, 1.0, 42, members=4)
    clock = np.arange(SLOTS) % 12
    few = [replace(b, allowed=(clock >= 3 + k % 2) & (clock < 8)) for k, b in enumerate(blocks)]
    patterns, cost, rows = worked_out(shared, few)
    stopped = exact_plan(patterns, rows, cost, cheapest_fit(patterns, rows, cost), 0.1)
    assert stopped is not None
    assert stopped[0].cost - stopped[1] > 1.0
    monkeypatch.setattr("core.plan.make_plan.EXACT_WORK", 0.1)
    monkeypatch.setattr("core.plan.make_plan.SETTLING_WORK", 0.1)
    plan = make_plan(shared, few, looks=0)
    assert plan.method is Method.SEARCH or plan.cost - plan.bound < 0.01
