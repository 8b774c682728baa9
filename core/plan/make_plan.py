"""A plan for a farm: one function, whatever is behind it."""

from collections.abc import Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from core.arrays import Floats
from core.plan.bound import bound_of
from core.plan.by_source import best_by_source
from core.plan.exact import MOST_PATTERNS, exact_plan
from core.plan.orders import most_urgent_first
from core.plan.pattern_cost import pattern_costs
from core.plan.patterns import Patterns, patterns_of
from core.plan.plan_block import PlanBlock
from core.plan.prices import Prices, priced
from core.plan.rows import MONEY_UNITS, Rows, rows_of
from core.plan.search import Chosen, cheapest_fit, earliest_fit, improved, listed
from core.plan.shared import PlanSource, Shared

# Searches at the same time, each with so many blocks taken out at most: fewer are better where
# there is water enough, more where there is not. How many patterns each looks at: so many, and so
# many more for each block. Set by trials on drawn farms, see docs/planning.md.
OUT = (10, 15)
LOOKS, LOOKS_BLOCK = 280_000_000, 2_000_000
# Of a farm with few patterns a short search is tried first: it leaves so few that may be in a
# better plan that the best of those can be found, more often than not.
FEW_PATTERNS, SHORT_LOOKS = 12_000, 5_000_000
# In the solver's units, of two to three seconds each.
EXACT_WORK, SETTLING_WORK = 5.0, 2.0


class Method(StrEnum):
    """How a plan was found."""

    EXACT = "exact"
    SEARCH = "search"
    CHEAPEST_FIT = "cheapest fit"


@dataclass(frozen=True)
class PlannedSet:
    """An irrigation of a plan: block by its place, first slot, slots it takes, net depth [mm]."""

    block: int
    start: int
    slots: int
    net_mm: float


@dataclass(frozen=True)
class Plan:
    """What runs when.

    cost, bound : money; no plan of these patterns and slots costs less than the bound
    by_urgency : what would run if the most urgent block came first, as soon as there is room
    """

    sets: tuple[PlannedSet, ...]
    cost: float
    bound: float
    method: Method
    by_urgency: tuple[PlannedSet, ...] = ()

    @property
    def gap(self) -> float:
        """How far the cost may be above the best there is [-]."""
        return (self.cost - self.bound) / self.cost if self.cost > 0 else 0.0


def make_plan(
    shared: Shared,
    blocks: Sequence[PlanBlock],
    looks: int | None = None,
    seed: int = 0,
) -> Plan:
    """The cheapest plan that can be found; the same for the same input.

    Parameters
    ----------
    looks : int
        Patterns that each search looks at; None are as many as the farm's size asks for.
    """
    if not blocks:
        return Plan((), 0.0, 0.0, Method.EXACT)
    patterns, cost, rows = worked_out(shared, blocks)
    rule = earliest_fit(patterns, rows, cost, most_urgent_first(blocks))
    fit = cheapest_fit(patterns, rows, cost)
    if patterns.sets.size <= MOST_PATTERNS:
        exact = exact_plan(patterns, rows, cost, fit, EXACT_WORK)
        if exact is not None and _is_best(exact):
            return _plan(patterns, *exact, Method.EXACT, rule)
    if patterns.sets.size <= FEW_PATTERNS:
        proof = bound_of(patterns, rows, cost, fit.pattern)
        with_prices = priced(patterns, rows, cost, proof.prices)
        lists = listed(patterns, cost, with_prices)
        short = improved(patterns, rows, cost, lists, fit, SHORT_LOOKS, seed, OUT[0])
        settled = _settled(patterns, rows, cost, with_prices, short, proof.cost)
        if settled is not None and _is_best(settled):
            return _plan(patterns, *settled, Method.EXACT, rule)
    count = LOOKS + LOOKS_BLOCK * len(blocks) if looks is None else looks
    # The searches begin with the first good prices, while the bound is brought to its end.
    with ThreadPoolExecutor(max_workers=len(OUT)) as threads:
        searches: list[Future[Chosen]] = []

        def search(prices: Prices) -> None:
            lists = listed(patterns, cost, priced(patterns, rows, cost, prices))
            for k, out in enumerate(OUT):
                begun = threads.submit(
                    improved, patterns, rows, cost, lists, fit, count, seed + k, out
                )
                searches.append(begun)

        proof = bound_of(patterns, rows, cost, fit.pattern, early=search)
        tried = [s.result() for s in searches]
    with_prices = priced(patterns, rows, cost, proof.prices)
    best = best_by_source([fit, *tried], patterns, rows, cost)
    settled = _settled(patterns, rows, cost, with_prices, best, proof.cost)
    if settled is not None:
        method = Method.EXACT if _is_best(settled) else Method.SEARCH
        return _plan(patterns, *settled, method, rule)
    return _plan(patterns, best, proof.cost, Method.SEARCH, rule)


def _is_best(settled: tuple[Chosen, float]) -> bool:
    """Whether a plan costs what none can be below, to the hundredth that costs are rounded to."""
    best, bound = settled
    return best.cost - bound < 1.0


def _settled(
    patterns: Patterns,
    rows: Rows,
    cost: np.ndarray,
    with_prices: Floats,
    best: Chosen,
    bound: float,
) -> tuple[Chosen, float] | None:
    """The best plan there is, found among those patterns that a better one may have; None where
    they are too many, or no plan was found.

    A plan with a pattern costs no less than the bound and what the pattern is dearer, at the prices
    that prove the bound, than its block's cheapest.
    """
    least = np.minimum.reduceat(with_prices, patterns.first[:-1])
    dearer = with_prices - np.repeat(least, np.diff(patterns.first))
    # Costs are whole hundredths, prices are not.
    may = dearer <= best.cost - bound + 1.0
    may[best.pattern] = True
    if may.sum() > MOST_PATTERNS:
        return None
    left = Chosen(np.cumsum(may)[best.pattern] - 1, best.cost)
    exact = exact_plan(patterns.only(may), rows, cost[may], left, SETTLING_WORK)
    if exact is None:
        return None
    found, proved = exact
    if found.cost >= best.cost:
        return best, max(bound, min(proved, best.cost))
    return Chosen(np.flatnonzero(may)[found.pattern], found.cost), max(
        bound, min(proved, found.cost)
    )


def cheapest_plan(shared: Shared, blocks: Sequence[PlanBlock]) -> Plan:
    """A plan by cheapest fit alone, with no bound but nothing: where the search can't be had."""
    patterns, cost, rows = worked_out(shared, blocks)
    rule = earliest_fit(patterns, rows, cost, most_urgent_first(blocks))
    fit = cheapest_fit(patterns, rows, cost)
    return _plan(patterns, fit, 0.0, Method.CHEAPEST_FIT, rule)


def worked_out(shared: Shared, blocks: Sequence[PlanBlock]) -> tuple[Patterns, np.ndarray, Rows]:
    """Patterns of the blocks with their costs, those apart that cost more than doing nothing."""
    patterns = patterns_of([_with_source(b, shared.sources[b.source]) for b in blocks])
    cost = pattern_costs(patterns, blocks, shared.sources)
    keep = np.zeros(cost.size, bool)
    for b in range(len(blocks)):
        own = patterns.of(b)
        keep[own] = cost[own] < cost[own.start]
        keep[own.start] = True
    return patterns.only(keep), cost[keep], rows_of(shared, blocks)


def _with_source(block: PlanBlock, source: PlanSource) -> PlanBlock:
    """A block that may run only while its source brings enough for it: a set that would go on into
    a time when it does not is cut there."""
    enough = source.flow_l_s >= block.flow_l_s - 1e-6
    return replace(block, allowed=block.allowed & enough)


def pattern_sets(patterns: Patterns, pattern: int, block: int) -> list[PlannedSet]:
    """The sets of a pattern, as those of a block."""
    return [
        PlannedSet(
            block,
            int(patterns.start[pattern, k]),
            int(patterns.slots[pattern, k]),
            float(patterns.net_mm[pattern, k]),
        )
        for k in range(int(patterns.sets[pattern]))
    ]


def _plan(patterns: Patterns, chosen: Chosen, bound: float, method: Method, rule: Chosen) -> Plan:
    return Plan(
        _sets(patterns, chosen),
        chosen.cost / MONEY_UNITS,
        bound / MONEY_UNITS,
        method,
        _sets(patterns, rule),
    )


def _sets(patterns: Patterns, chosen: Chosen) -> tuple[PlannedSet, ...]:
    sets = [s for b, p in enumerate(chosen.pattern.tolist()) for s in pattern_sets(patterns, p, b)]
    return tuple(sorted(sets, key=lambda s: (s.start, s.block)))
