"""What a whole plan costs, and the best of several by source."""

from dataclasses import replace

import numpy as np

from core.plan.by_source import best_by_source
from core.plan.cost_of_plan import cost_of_plan
from core.plan.make_plan import worked_out
from core.plan.search import Chosen, cheapest_fit
from core.plan.slots import SLOTS
from core.world.plan_farms import drawn_farm
from tests.core.test_plan_limits import PUMP, TWO
from tests.core.test_plan_relief import shared_with


def test_a_plan_below_the_smallest_flow_can_not_be_run() -> None:
    """Each draws 10 L/s of a pump that may not run below 20: one alone can't be run, both can."""
    patterns, cost, rows = worked_out(PUMP, TWO)
    first = patterns.first[:-1]
    # The first pattern of a block is to do nothing, the next one is its first to run.
    alone = np.array([first[0] + 1, first[1]])
    both = first + 1
    assert cost_of_plan(alone, patterns, rows, cost) == np.inf
    assert cost_of_plan(both, patterns, rows, cost) == cost[both].sum()
    less = shared_with(flow_l_s=np.full(SLOTS, 15.0))
    assert cost_of_plan(both, patterns, worked_out(less, TWO)[2], cost) == np.inf


def test_the_best_of_two_plans_has_each_source_from_the_better_one() -> None:
    """One plan leaves the first source out, the other the second: together they leave nothing."""
    shared, blocks = drawn_farm(8, 2, 0.6, 4, members=4)
    blocks = [replace(b, machine=None, groups=()) for b in blocks]
    patterns, cost, rows = worked_out(replace(shared, machines=()), blocks)
    whole = cheapest_fit(patterns, rows, cost)
    nothing = patterns.first[:-1]

    def without(source: int) -> Chosen:
        pattern = np.where(rows.source == source, nothing, whole.pattern)
        return Chosen(pattern, cost_of_plan(pattern, patterns, rows, cost))

    halves = [without(0), without(1)]
    assert whole.cost < min(h.cost for h in halves) < np.inf
    found = best_by_source(halves, patterns, rows, cost)
    assert (found.pattern == whole.pattern).all()
    assert found.cost == whole.cost
