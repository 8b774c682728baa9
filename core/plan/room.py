"""Whether there is room for a pattern: slots as bits, so that a look costs next to nothing.

A search looks at hundreds of patterns for each one that it takes. What is shut and what a pattern
runs in are words of bits, and a pattern fits where they have none in common.
"""

import numpy as np
from numba import njit

from core.plan.patterns import Patterns
from core.plan.rows import UNLIMITED
from core.plan.slots import SLOTS, SLOTS_PER_DAY

# Slots in one word of bits, two words a plan: they leave its sign alone.
WORD = 60
WORDS = -(-SLOTS // WORD)


def slot_bits(patterns: Patterns) -> np.ndarray:
    """Slots that each pattern runs in, and those in which its sets begin, a bit each; array of
    int64, shape (patterns, 2 * WORDS)."""
    out = np.zeros((patterns.sets.size, 2 * WORDS), np.int64)
    _fill(patterns, out)
    return out


@njit(cache=True)
def _fill(patterns, out):  # type: ignore[no-untyped-def]  # pragma: no cover
    one = np.int64(1)
    for p in range(out.shape[0]):
        for k in range(patterns.sets[p]):
            first = patterns.start[p, k]
            out[p, WORDS + first // WORD] |= one << (first % WORD)
            for t in range(first, first + patterns.slots[p, k]):
                out[p, t // WORD] |= one << (t % WORD)


@njit(cache=True)
def look_for_room(b, ceiling, rows, taken, shut):  # type: ignore[no-untyped-def]  # pragma: no cover
    """Fill in, as `slot_bits` does, where a block that is taken out may not run, and where none of
    its sets may begin; ``ceiling`` is the most that may be drawn of each source just now."""
    full = (np.int64(1) << WORD) - 1
    shut[:] = 0
    for j in range(rows.row.shape[1]):
        r = rows.row[b, j]
        if r < 0:
            break
        most = ceiling[r] if r < ceiling.size else np.int64(UNLIMITED)
        amount, lead, earlier = rows.amount[b, j], rows.lead[b, j], np.int64(0)
        for w in range(WORDS):
            over = np.int64(0)
            for t in range(w * WORD, min((w + 1) * WORD, SLOTS)):
                over |= np.int64(taken.rows[r, t] + amount > min(rows.capacity[r, t], most)) << (
                    t - w * WORD
                )
            if rows.begins[b, j]:
                shut[WORDS + w] |= over
                continue
            shut[w] |= over
            # What is taken before a set begins must be free by then.
            for k in range(1, lead + 1):
                shut[WORDS + w] |= ((over << k) | (earlier >> (WORD - k))) & full
            earlier = over


@njit(cache=True)
def next_that_fits(b, own, at, shut, bits, patterns, rows, taken):  # type: ignore[no-untyped-def]  # pragma: no cover
    """Where in a block's list, from a place on, the next pattern is that there is room for; its end
    where there is none.

    The loop is in here: a call for each pattern would take longer than the pattern.
    """
    s = rows.source[b]
    run, run_later, begin, begin_later = shut[0], shut[1], shut[2], shut[3]
    for i in range(at, own.size):
        p = own[i]
        hit = (bits[p, 0] & run) | (bits[p, 1] & run_later)
        hit |= (bits[p, 2] & begin) | (bits[p, 3] & begin_later)
        if hit == 0 and (not rows.licensed[s] or within_licence(s, p, patterns, rows, taken)):
            return i
    return own.size


@njit(cache=True)
def within_licence(s, p, patterns, rows, taken):  # type: ignore[no-untyped-def]  # pragma: no cover
    """Whether a source's days and its season have the volume that a pattern draws."""
    total = taken.total[s]
    day_before, in_day = -1, 0
    for k in range(patterns.sets[p]):
        first, slots = patterns.start[p, k], patterns.slots[p, k]
        volume = patterns.volume[p, k]
        total += volume * slots
        t = first
        while t < first + slots:
            day = t // SLOTS_PER_DAY
            until = min((day + 1) * SLOTS_PER_DAY, first + slots)
            if day != day_before:
                day_before, in_day = day, 0
            in_day += volume * (until - t)
            if taken.days[s, day] + in_day > rows.day_volume[s, day]:
                return False
            t = until
    return total <= rows.total_volume[s]


@njit(cache=True)
def near_in_time(begins):  # type: ignore[no-untyped-def]  # pragma: no cover
    """Slots within a day of those that a pattern's sets begin in; all where it has none.

    ``begins`` are the words of `slot_bits` that tell of begins; so is what comes out.
    """
    full = (np.int64(1) << WORD) - 1
    out = np.zeros(WORDS, np.int64)
    any_set = False
    for w in range(WORDS):
        any_set |= begins[w] != 0
    for w in range(WORDS):
        if not any_set:
            out[w] = full
            continue
        # A day is shorter than a word: what is near lies in this one and its neighbours.
        for k in range(SLOTS_PER_DAY + 1):
            out[w] |= (begins[w] << k) & full | begins[w] >> k
            if w > 0 and k > 0:
                out[w] |= begins[w - 1] >> (WORD - k)
            if w + 1 < WORDS and k > 0:
                out[w] |= (begins[w + 1] << (WORD - k)) & full
    return out


@njit(cache=True)
def meets(begins, near):  # type: ignore[no-untyped-def]  # pragma: no cover
    """Whether any set of a pattern begins in such slots; so does one without sets."""
    hit, own = np.int64(0), np.int64(0)
    for w in range(WORDS):
        hit |= begins[w] & near[w]
        own |= begins[w]
    return hit != 0 or own == 0
