"""The bound by column generation beside scipy's own answer to the whole programme."""

from dataclasses import replace

import numpy as np
import pytest
from scipy.optimize import linprog

from core.plan.bound import bound_of
from core.plan.make_plan import worked_out
from core.plan.prices import Prices, bound_at, priced
from core.plan.programme import programme
from core.plan.search import cheapest_fit
from core.plan.slots import DAYS
from core.world.plan_farms import drawn_farm


@pytest.mark.parametrize("seed", range(4))
def test_it_is_what_no_mix_of_all_patterns_is_below(seed: int) -> None:
    shared, blocks = drawn_farm(5, 2, 1.3, seed, members=3)
    first = shared.sources[0]
    can = float(first.flow_l_s.mean()) * 3.6 * 24
    # Licences bind, of the day and in all.
    first = replace(first, day_m3=np.full(DAYS, can / 2), total_m3=can * DAYS / 4)
    shared = replace(shared, sources=(first, *shared.sources[1:]))
    patterns, cost, rows = worked_out(shared, blocks)
    whole = programme(patterns, rows, cost, np.arange(cost.size))
    best = linprog(
        whole.cost,
        A_ub=whole.above,
        b_ub=whole.room,
        A_eq=whole.one,
        b_eq=np.ones(len(blocks)),
        method="highs-ipm",
    )
    fit = cheapest_fit(patterns, rows, cost)
    bound = bound_of(patterns, rows, cost, fit.pattern)
    assert bound.cost <= best.fun + 1e-3 * best.fun
    assert bound.cost >= best.fun * (1 - 1e-3)
    # Few rounds leave a valid one.
    early = bound_of(patterns, rows, cost, fit.pattern, rounds=3)
    assert early.cost <= bound.cost


def test_without_prices_each_block_does_what_is_best_for_it() -> None:
    shared, blocks = drawn_farm(4, 1, 1.0, 2, members=3)
    patterns, cost, rows = worked_out(shared, blocks)
    nothing = Prices.nothing(rows)
    assert priced(patterns, rows, cost, nothing) == pytest.approx(cost)
    least = sum(int(cost[patterns.of(b)].min()) for b in range(len(blocks)))
    assert bound_at(patterns, rows, cost.astype(float), nothing) == pytest.approx(least)


def test_prices_that_would_tell_no_bound_are_mended() -> None:
    shared, blocks = drawn_farm(4, 1, 1.0, 2, members=3)
    _, _, rows = worked_out(shared, blocks)
    none = Prices.nothing(rows)
    wild = Prices(none.rows - 1.0, none.days - 1.0, none.total - 1.0, none.peak + 99.0)
    mended = wild.allowed(rows)
    assert min(mended.rows.min(), mended.days.min(), mended.total.min()) == 0.0
    assert mended.peak.sum(axis=1) == pytest.approx(rows.peak_cost)
