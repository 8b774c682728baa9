"""Shared things and what blocks take of them, in whole numbers for the search."""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from core.plan.plan_block import PlanBlock
from core.plan.shared import M3_H_PER_L_S, PlanSource, Shared
from core.plan.slots import SLOTS, SLOTS_PER_DAY

# Flows are counted in tenths of L/s, volumes in tenths of m3, money in hundredths.
FLOW_UNITS, VOLUME_UNITS, MONEY_UNITS = 10, 10, 100
# More than any farm has; room is left to add up.
UNLIMITED = 2**40
# kW that one unit of flow takes at 1 kWh/m3: 0.1 L/s is 0.36 m3/h.
M3_H_PER_UNIT = M3_H_PER_L_S / FLOW_UNITS


class Rows(NamedTuple):
    """Rows of capacity, over slots; source rows come first, in their order.

    capacity : array of int64, shape (rows, slots)
    row, amount, lead : arrays of int, shape (blocks, most), what each block takes of which row
        while it runs, and for how many slots before; -1 is none
    begins : array of bool, shape (blocks, most), whether it is taken in the first slot alone
    source : array of int, shape (blocks,)
    day_volume : array of int64, shape (sources, days)
    total_volume : array of int64, shape (sources,)
    peak_cost : array, shape (sources,), money for each unit of flow above `peak_so_far`
    peak_so_far : array of int64, shape (sources,) [units of flow]
    used : array of int64, shape (rows, slots), what stands already takes; there is room for it
    smallest : array of int64, shape (sources,), the least flow of a source while it runs
    licensed : array of bool, shape (sources,), whether its volume is limited at all
    """

    capacity: np.ndarray
    row: np.ndarray
    amount: np.ndarray
    lead: np.ndarray
    begins: np.ndarray
    source: np.ndarray
    day_volume: np.ndarray
    total_volume: np.ndarray
    peak_cost: np.ndarray
    peak_so_far: np.ndarray
    used: np.ndarray
    smallest: np.ndarray
    licensed: np.ndarray


def rows_of(shared: Shared, blocks: Sequence[PlanBlock]) -> Rows:
    """Rows for a farm's blocks."""
    n_sources, n_mains = len(shared.sources), len(shared.mains)
    machine_row = n_sources + n_mains
    group_row = machine_row + len(shared.machines)
    people_row = group_row + len(shared.groups)
    capacity = np.zeros((people_row + 1, SLOTS), np.int64)
    for k, source in enumerate(shared.sources):
        capacity[k] = _up(source.flow_l_s * FLOW_UNITS)
    for k, main in enumerate(shared.mains):
        capacity[n_sources + k] = _up(np.array(main.capacity_l_s * FLOW_UNITS))
    capacity[machine_row:group_row] = 1
    for k, group in enumerate(shared.groups):
        capacity[group_row + k] = group.most
    capacity[people_row] = _down(shared.people)

    most = max((3 + len(b.mains) + len(b.groups) for b in blocks), default=1)
    row = np.full((len(blocks), most), -1, np.int32)
    amount = np.zeros((len(blocks), most), np.int64)
    lead = np.zeros((len(blocks), most), np.int32)
    begins = np.zeros((len(blocks), most), bool)
    for i, b in enumerate(blocks):
        flow = flow_units(b)
        taken = [(b.source, flow, 0, False)]
        taken += [(n_sources + m, flow, 0, False) for m in b.mains]
        taken += [(group_row + g, 1, 0, False) for g in b.groups]
        if b.machine is not None:
            moving = shared.machines[b.machine].moving_slots
            taken.append((machine_row + b.machine, 1, moving, False))
        if b.people:
            taken.append((people_row, b.people, 0, True))
        for k, (r, a, before, first) in enumerate(taken):
            row[i, k], amount[i, k], lead[i, k], begins[i, k] = r, a, before, first
    used = np.zeros_like(capacity)
    for i, b in enumerate(blocks):
        for f in b.fixed:
            for r, a, before, first in zip(row[i], amount[i], lead[i], begins[i], strict=True):
                end = f.start + 1 if first else f.start + f.slots
                if r >= 0:
                    used[r, max(f.start - before, 0) : max(end, 0)] += a
    day_volume = np.array([_volumes(s.day_m3) for s in shared.sources])
    total_volume = np.array([_volumes(np.array([s.total_m3]))[0] for s in shared.sources])
    for b in blocks:
        for f in b.fixed:
            each = int(np.ceil(f.net_mm / f.slots * b.gross_m3_mm * VOLUME_UNITS - 1e-6))
            for t in range(max(f.start, 0), min(f.start + f.slots, SLOTS)):
                day_volume[b.source, t // SLOTS_PER_DAY] -= each
                total_volume[b.source] -= each
    limited = (day_volume < UNLIMITED // 2).any(axis=1) | (total_volume < UNLIMITED // 2)
    return Rows(
        licensed=limited,
        capacity=np.maximum(capacity, used),
        used=used,
        row=row,
        amount=amount,
        lead=lead,
        begins=begins,
        source=np.array([b.source for b in blocks], np.int32),
        day_volume=np.maximum(day_volume, 0),
        total_volume=np.maximum(total_volume, 0),
        peak_cost=np.array([_unit_peak(s) for s in shared.sources]),
        peak_so_far=np.array([_peak_units(s) for s in shared.sources], np.int64),
        smallest=_up(np.array([s.smallest_l_s for s in shared.sources]) * FLOW_UNITS),
    )


def flow_units(block: PlanBlock) -> int:
    """What a block takes of its source while it runs, never too little."""
    return int(_up(np.array(block.flow_l_s * FLOW_UNITS)))


def _up(values: np.ndarray) -> np.ndarray:
    """Flows of blocks and of what feeds them are rounded alike: a pump that brings just what a
    block draws feeds it."""
    return np.ceil(np.minimum(values, UNLIMITED) - 1e-6).astype(np.int64)


def _down(values: np.ndarray) -> np.ndarray:
    return np.floor(np.minimum(values, UNLIMITED) + 1e-6).astype(np.int64)


def _volumes(m3: np.ndarray) -> np.ndarray:
    return _down(m3 * VOLUME_UNITS)


def _unit_peak(source: PlanSource) -> float:
    return source.peak_price * source.kwh_m3 * M3_H_PER_UNIT * MONEY_UNITS


def _peak_units(source: PlanSource) -> int:
    kw = source.kwh_m3 * M3_H_PER_UNIT
    return int(source.peak_so_far_kw / kw) if kw > 0 else 0
