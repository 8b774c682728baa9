"""A plan by cheapest fit, then by taking some blocks out and putting them in again."""

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numba import njit

from core.arrays import Floats
from core.plan.patterns import Patterns
from core.plan.room import WORDS, look_for_room, meets, near_in_time, next_that_fits, slot_bits
from core.plan.rows import UNLIMITED, Rows
from core.plan.smallest_flow import more_short, runs_short, short_in_all
from core.plan.taking import peak_money, take, taken_by

# Blocks are put in by cost, and by cost drawn so far towards the one that prices of shared things
# add to it [-]: both find plans that the other does not.
TOWARDS_PRICED = (0.0, 0.7, 1.0, 1.3, 2.0)
FEWEST_OUT = 2
# Of the blocks that are taken out so many are of the first one's source [-].
SAME_SOURCE = 0.95
# Of blocks whose sets are more than a day away so many are left where they are [-].
FAR_LEFT = 0.7
# The search begins by taking what costs so much more [of the plan's cost for each block], and ends
# with so much of that.
WARM, COLD = 0.3, 1e-2
# How long the search goes on is counted in patterns looked at: it takes about as long whether the
# first of a list fits or the hundredth. To take a block out and put it in is work like so many [-].
PUT_IN = 200
# In so many tries what is put in must leave its source's highest draw below what it was, in so many
# more not above it [-]. Left to chance, a plan hardly ever finds all the moves that a lower peak
# takes at once: with this the gap at low load fell from 1.05 to 0.61 %.
LOWER_PEAK, SAME_PEAK = 0.25, 0.25
# What a slot far below a source's smallest flow counts beside the mean cost of a block while the
# search goes on [-]; in the end there is none. Where a source has one, so many patterns that fit
# are looked at for the one that runs with others.
SHORT, LOOKED_AT = 0.3, 6


@dataclass(frozen=True)
class Chosen:
    """A pattern for each block; array of int, shape (blocks,), and what all of it costs with the
    peak, in hundredths."""

    pattern: np.ndarray
    cost: float


def by_urgency(patterns: Patterns, cost: np.ndarray) -> np.ndarray:
    """Blocks by what doing nothing costs them more than the best they could do, the most first."""
    blocks = patterns.first.size - 1
    regret = [int(cost[patterns.first[b]]) - int(cost[patterns.of(b)].min()) for b in range(blocks)]
    return np.argsort(-np.array(regret), kind="stable")


def listed(patterns: Patterns, cost: np.ndarray, priced: Floats) -> np.ndarray:
    """Patterns of each block, those to try first in front; array, shape (lists, patterns).

    Parameters
    ----------
    priced : array, shape (patterns,), costs with what shared things are worth
    """
    out = np.empty((len(TOWARDS_PRICED), cost.size), np.int64)
    for b in range(patterns.first.size - 1):
        own = patterns.of(b)
        for k, share in enumerate(TOWARDS_PRICED):
            by = cost[own] + share * (priced[own] - cost[own])
            out[k, own] = own.start + np.argsort(by, kind="stable")
    return out


def cheapest_fit(patterns: Patterns, rows: Rows, cost: np.ndarray) -> Chosen:
    """Each block in turn, the most urgent first, as cheaply as there is still room for."""
    order = by_urgency(patterns, cost)
    lists = listed(patterns, cost, cost.astype(float))
    return _search(patterns, rows, cost, lists, order)


def earliest_fit(patterns: Patterns, rows: Rows, cost: np.ndarray, order: np.ndarray) -> Chosen:
    """Each block in an order that people go by, as soon as there is room for it, whatever power
    costs then: what plans are compared with.

    Parameters
    ----------
    order : array of int, shape (blocks,)
    """
    # Those that begin in the same slot by their cost; to do nothing comes last.
    begins = np.where(patterns.sets > 0, patterns.start[:, 0], np.iinfo(np.int32).max)
    lists = np.empty((1, cost.size), np.int64)
    for b in range(patterns.first.size - 1):
        own = patterns.of(b)
        lists[0, own] = own.start + np.lexsort((cost[own], begins[own]))
    return _search(patterns, rows, cost, lists, order)


def improved(
    patterns: Patterns,
    rows: Rows,
    cost: np.ndarray,
    lists: np.ndarray,
    start: Chosen,
    looks: int,
    seed: int,
    most_out: int,
) -> Chosen:
    """A plan that is no worse than another; the same for the same seed.

    Parameters
    ----------
    lists : array, of `listed`
    looks : int, patterns looked at, see `PUT_IN`
    most_out : int, blocks that are taken out at a time
    """
    order = by_urgency(patterns, cost)
    return _search(patterns, rows, cost, lists, order, start, looks, seed, most_out)


def _search(
    patterns: Patterns,
    rows: Rows,
    cost: np.ndarray,
    lists: np.ndarray,
    order: np.ndarray,
    start: Chosen | None = None,
    looks: int = 0,
    seed: int = 0,
    most_out: int = FEWEST_OUT,
) -> Chosen:
    blocks = patterns.first.size - 1
    chosen = np.full(blocks, -1, np.int64) if start is None else start.pattern.copy()
    settings = SearchSettings(
        looks, seed, FEWEST_OUT, most_out, SAME_SOURCE, WARM, COLD, SHORT, LOOKED_AT
    )
    sources = _by_source(rows.source)
    bits = slot_bits(patterns)
    best, money = _improve(patterns, bits, rows, cost, lists, order, chosen, sources, settings)
    return Chosen(best, float(money))


class SearchSettings(NamedTuple):
    """How the search goes: how long, and the constants above."""

    looks: int
    seed: int
    fewest: int
    most: int
    same: float
    warm: float
    cold: float
    short: float
    looked_at: int


class BySource(NamedTuple):
    """Blocks by source, and where each source's begin."""

    block: np.ndarray
    first: np.ndarray


def _by_source(source: np.ndarray) -> BySource:
    order = np.argsort(source, kind="stable")
    count = np.bincount(source, minlength=int(source.max(initial=0)) + 1)
    return BySource(order, np.concatenate([np.zeros(1, np.int64), np.cumsum(count)]))


@njit(cache=True, nogil=True)
def _improve(patterns, bits, rows, cost, lists, order, chosen, sources, settings):  # type: ignore[no-untyped-def]  # pragma: no cover
    np.random.seed(settings.seed)
    blocks = patterns.first.size - 1
    taken = taken_by(chosen, patterns, rows)
    # Without a smallest flow anywhere nothing below is looked at.
    any_smallest = rows.smallest.max() > 0
    shut = np.zeros(2 * WORDS, np.int64)
    ceiling = np.full(rows.peak_cost.size, UNLIMITED, np.int64)
    idle = 0.0
    for b in range(blocks):
        idle += cost[patterns.first[b]]
    weight = settings.short * idle / max(blocks, 1)
    for b in order:
        if chosen[b] < 0:
            chosen[b], _ = put_in(
                b, ceiling, lists[0], cost, weight, shut, bits, patterns, rows, taken, settings
            )
            take(1, b, chosen[b], patterns, rows, taken)
    plain = 0
    for b in range(blocks):
        plain += cost[chosen[b]]
    now = plain + peak_money(rows, taken)
    short = short_in_all(rows, taken) if any_smallest else 0.0
    best_chosen = chosen.copy()
    if short > 0:
        best = left_out_below(best_chosen, cost, patterns, rows)
        now += weight * short
    else:
        best = now
    if blocks < 2:
        return best_chosen, best
    out, before = np.empty(settings.most, np.int64), np.empty(settings.most, np.int64)
    warm = settings.warm * max(now / blocks, 1.0)
    looked = 0
    while looked < settings.looks:
        heat = warm * settings.cold ** (looked / settings.looks)
        count = taken_out(out, chosen, bits, rows, sources, settings)
        of, drawn = rows.source[out[0]], np.random.random()
        if rows.peak_cost[of] > 0 and drawn < LOWER_PEAK + SAME_PEAK:
            high = max(taken.rows[of].max(), rows.peak_so_far[of])
            ceiling[of] = high - 1 if drawn < LOWER_PEAK else high
        for k in range(count):
            b = out[k]
            before[k] = chosen[b]
            plain -= cost[chosen[b]]
            take(-1, b, chosen[b], patterns, rows, taken)
        which = np.random.randint(lists.shape[0])
        for k in np.random.permutation(count):
            b = out[k]
            chosen[b], seen = put_in(
                b, ceiling, lists[which], cost, weight, shut, bits, patterns, rows, taken, settings
            )
            looked += PUT_IN + seen
            plain += cost[chosen[b]]
            take(1, b, chosen[b], patterns, rows, taken)
        ceiling[of] = UNLIMITED
        then = plain + peak_money(rows, taken)
        if any_smallest:
            short = short_in_all(rows, taken)
            then += weight * short
        if then <= now or np.random.random() < np.exp((now - then) / heat):
            now = then
            if now < best and short == 0:
                best = now
                best_chosen[:] = chosen
            continue
        for k in range(count):
            b = out[k]
            plain += cost[before[k]] - cost[chosen[b]]
            take(-1, b, chosen[b], patterns, rows, taken)
        for k in range(count):
            chosen[out[k]] = before[k]
            take(1, out[k], before[k], patterns, rows, taken)
    return best_chosen, best


@njit(cache=True)
def left_out_below(chosen, cost, patterns, rows):  # type: ignore[no-untyped-def]  # pragma: no cover
    """Leave out, in ``chosen``, what runs below its source's smallest flow, until nothing does;
    what it costs then."""
    taken = taken_by(chosen, patterns, rows)
    short = True
    while short:
        short = False
        for b in range(chosen.size):
            if runs_short(b, chosen[b], patterns, rows, taken):
                take(-1, b, chosen[b], patterns, rows, taken)
                chosen[b] = patterns.first[b]
                short = True
    plain = 0
    for b in range(chosen.size):
        plain += cost[chosen[b]]
    return plain + peak_money(rows, taken)


@njit(cache=True)
def put_in(b, ceiling, listed, cost, weight, shut, bits, patterns, rows, taken, settings):  # type: ignore[no-untyped-def]  # pragma: no cover
    """The first pattern in a block's list that there is room for, where its source has a smallest
    flow the best of the first few; to do nothing always fits. And how many were looked at."""
    own = listed[patterns.first[b] : patterns.first[b + 1]]
    look_for_room(b, ceiling, rows, taken, shut)
    at = next_that_fits(b, own, 0, shut, bits, patterns, rows, taken)
    if rows.smallest[rows.source[b]] == 0:
        return own[at], at + 1
    least, best = np.inf, own[at]
    for _ in range(settings.looked_at):
        if at == own.size:
            break
        money = cost[own[at]] + weight * more_short(b, own[at], patterns, rows, taken)
        if money < least:
            least, best = money, own[at]
        at = next_that_fits(b, own, at + 1, shut, bits, patterns, rows, taken)
    return best, at + 1


@njit(cache=True)
def taken_out(out, chosen, bits, rows, sources, settings):  # type: ignore[no-untyped-def]  # pragma: no cover
    """Fill ``out`` with blocks that are near each other in time, mostly of one source; how many."""
    blocks = chosen.size
    count = min(settings.fewest + np.random.randint(settings.most - settings.fewest + 1), blocks)
    out[0] = np.random.randint(blocks)
    taken = 1
    near = near_in_time(bits[chosen[out[0]], WORDS:])
    of = rows.source[out[0]]
    own, end = sources.first[of], sources.first[of + 1]
    for _ in range(4 * count):
        if taken == count:
            break
        if np.random.random() < settings.same and end - own > 1:
            b = sources.block[own + np.random.randint(end - own)]
        else:
            b = np.random.randint(blocks)
        if not meets(bits[chosen[b], WORDS:], near) and np.random.random() < FAR_LEFT:
            continue
        there = False
        for k in range(taken):
            there |= out[k] == b
        if there:
            continue
        out[taken] = b
        taken += 1
    return taken
