"""Whether there is room for a pattern, told by bits, beside what taking it would come to."""

import numpy as np
import pytest

from core.plan.by_source import best_by_source
from core.plan.make_plan import worked_out
from core.plan.patterns import Patterns
from core.plan.room import (
    WORD,
    WORDS,
    look_for_room,
    meets,
    near_in_time,
    next_that_fits,
    slot_bits,
)
from core.plan.rows import UNLIMITED, Rows
from core.plan.search import Chosen, cheapest_fit
from core.plan.slots import SLOTS, SLOTS_PER_DAY
from core.plan.taking import Taken, nothing_taken, peak_money, take
from core.world.plan_farms import drawn_farm


def over(rows: Rows, taken: Taken, ceiling: np.ndarray) -> bool:
    return bool(
        (taken.rows > rows.capacity).any()
        or (taken.rows[: ceiling.size] > ceiling[:, None]).any()
        or (taken.days > rows.day_volume).any()
        or (taken.total > rows.total_volume).any()
    )


def one_by_one(b: int, ceiling: np.ndarray, patterns: Patterns, rows: Rows, taken: Taken) -> set:
    """Patterns after whose taking nothing is over its limit."""
    own = patterns.of(b)
    out = set()
    for p in range(own.start, own.stop):
        take(1, b, p, patterns, rows, taken)
        # What is above the ceiling without it is not its doing.
        if not over(rows, taken, np.maximum(ceiling, 0)):
            out.add(p)
        take(-1, b, p, patterns, rows, taken)
    return out


@pytest.mark.parametrize("seed", [1, 2, 3])
@pytest.mark.parametrize("capped", [False, True])
def test_what_fits_is_what_breaks_no_limit(seed: int, capped: bool) -> None:
    """Flows, a main, a machine that moves, people, licences; with a ceiling as well, of the highest
    draw that there is without the block."""
    shared, blocks = drawn_farm(14, 2, 1.3, seed, members=2)
    patterns, cost, rows = worked_out(shared, blocks)
    assert rows.licensed.any()
    bits = slot_bits(patterns)
    fit = cheapest_fit(patterns, rows, cost)
    some = 0
    for b in range(len(blocks)):
        taken = nothing_taken(rows)
        for other, p in enumerate(fit.pattern):
            if other != b:
                take(1, other, p, patterns, rows, taken)
        sources = rows.peak_cost.size
        ceiling = taken.rows[:sources].max(axis=1) if capped else np.full(sources, UNLIMITED)
        shut = np.zeros(2 * WORDS, np.int64)
        look_for_room(b, ceiling, rows, taken, shut)
        own = np.arange(patterns.first[b], patterns.first[b + 1])
        found, at = set(), 0
        while (at := next_that_fits(b, own, at, shut, bits, patterns, rows, taken)) < own.size:
            found.add(int(own[at]))
            at += 1
        assert found == one_by_one(b, ceiling, patterns, rows, taken)
        some += 0 < len(found) < own.size
    assert some >= 5


def test_a_day_before_and_after_is_near() -> None:
    """Across the border of two words of bits as well; a pattern without sets is near to all."""

    def begins(*slots: int) -> np.ndarray:
        out = np.zeros(WORDS, np.int64)
        for t in slots:
            out[t // WORD] |= 1 << (t % WORD)
        return out

    for at in (0, 5, WORD - 1, WORD, SLOTS - 1):
        near = near_in_time(begins(at))
        told = [t for t in range(SLOTS) if meets(begins(t), near)]
        assert told == [t for t in range(SLOTS) if abs(t - at) <= SLOTS_PER_DAY]
    assert meets(begins(), near_in_time(begins(3)))
    assert meets(begins(70), near_in_time(begins()))


def test_the_best_of_each_source_where_they_go_together() -> None:
    """Two plans, each with one source's blocks doing nothing: both sources' better halves."""
    shared, blocks = drawn_farm(12, 2, 0.8, 5, members=2)
    patterns, cost, rows = worked_out(shared, blocks)
    fit = cheapest_fit(patterns, rows, cost)
    idle = patterns.first[:-1]

    def only(source: int) -> Chosen:
        chosen = np.where(rows.source == source, fit.pattern, idle)
        taken = nothing_taken(rows)
        for b, p in enumerate(chosen):
            take(1, b, p, patterns, rows, taken)
        return Chosen(chosen, float(cost[chosen].sum() + peak_money(rows, taken)))

    found = best_by_source([only(0), only(1)], patterns, rows, cost)
    assert found.pattern.tolist() == fit.pattern.tolist()
    assert found.cost == pytest.approx(fit.cost)
    # Where people can begin what either has, but not both, they do not go together.
    tight = rows._replace(capacity=rows.capacity.copy())
    taken = nothing_taken(rows)
    for b, p in enumerate(only(0).pattern):
        take(1, b, p, patterns, rows, taken)
    tight.capacity[-1] = taken.rows[-1]
    assert best_by_source([only(0), only(1)], patterns, tight, cost).cost > fit.cost
