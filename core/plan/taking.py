"""Compiled loops over what patterns take of shared things: adding, removing, fitting."""

from typing import NamedTuple

import numpy as np
from numba import njit

from core.plan.rows import Rows
from core.plan.slots import SLOTS_PER_DAY


class Taken(NamedTuple):
    """What is taken of each row's slots, each source's days, and each source in all; arrays of
    int64, shapes (rows, slots), (sources, days), (sources,)."""

    rows: np.ndarray
    days: np.ndarray
    total: np.ndarray


def nothing_taken(rows: Rows) -> Taken:
    """What is taken before any pattern is: by what stands."""
    return Taken(rows.used.copy(), np.zeros_like(rows.day_volume), np.zeros_like(rows.total_volume))


@njit(cache=True)
def take(sign, b, p, patterns, rows, taken):  # type: ignore[no-untyped-def]  # pragma: no cover
    """Add (1) or remove (-1) what a block's pattern takes."""
    s = rows.source[b]
    for k in range(patterns.sets[p]):
        first = patterns.start[p, k]
        end = first + patterns.slots[p, k]
        volume = patterns.volume[p, k]
        for j in range(rows.row.shape[1]):
            r = rows.row[b, j]
            if r < 0:
                break
            stop = first + 1 if rows.begins[b, j] else end
            for t in range(max(first - rows.lead[b, j], 0), stop):
                taken.rows[r, t] += sign * rows.amount[b, j]
        for t in range(first, end):
            taken.days[s, t // SLOTS_PER_DAY] += sign * volume
        taken.total[s] += sign * volume * (end - first)


class Room(NamedTuple):
    """Where there is room for a block beside what is taken; arrays over slots.

    run : how many slots on end it may run from each one on
    machine : how many its machine is free from each one on
    begins : whether a set may begin in it
    """

    run: np.ndarray
    machine: np.ndarray
    begins: np.ndarray


@njit(cache=True)
def look_for_room(b, rows, taken, room):  # type: ignore[no-untyped-def]  # pragma: no cover
    """Fill in where there is room for a block that is taken out."""
    last = rows.capacity.shape[1] - 1
    for t in range(last, -1, -1):
        free, machine, begins = True, True, True
        for j in range(rows.row.shape[1]):
            r = rows.row[b, j]
            if r < 0:
                break
            if taken.rows[r, t] + rows.amount[b, j] > rows.capacity[r, t]:
                if rows.begins[b, j]:
                    begins = False
                elif rows.lead[b, j] > 0:
                    machine = False
                else:
                    free = False
        room.run[t] = (room.run[t + 1] if t < last else 0) + 1 if free else 0
        room.machine[t] = (room.machine[t + 1] if t < last else 0) + 1 if machine else 0
        room.begins[t] = begins


@njit(cache=True)
def next_that_fits(b, own, at, room, patterns, rows, taken):  # type: ignore[no-untyped-def]  # pragma: no cover
    """Where in a block's list, from a place on, the next pattern is that there is room for; its end
    where there is none.

    The loop is in here: a call for each pattern would take longer than the pattern.
    """
    moving = rows.lead[b].max()
    s = rows.source[b]
    for i in range(at, own.size):
        p = own[i]
        there = True
        total = taken.total[s]
        day_before, in_day = -1, 0
        for k in range(patterns.sets[p]):
            first, slots = patterns.start[p, k], patterns.slots[p, k]
            before = min(moving, first)
            if (
                room.run[first] < slots
                or not room.begins[first]
                or (moving > 0 and room.machine[first - before] < slots + before)
            ):
                there = False
                break
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
                    there = False
                t = until
            if not there:
                break
        if there and total <= rows.total_volume[s]:
            return i
    return own.size


@njit(cache=True)
def peak_money(rows, taken):  # type: ignore[no-untyped-def]  # pragma: no cover
    """What the highest draw of each source costs above that of the month so far."""
    out = 0.0
    for s in range(rows.peak_cost.size):
        if rows.peak_cost[s] > 0:
            out += rows.peak_cost[s] * max(taken.rows[s].max() - rows.peak_so_far[s], 0)
    return out
