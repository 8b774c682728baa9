"""Whether a plan can be run, and what it costs, worked out anew: nothing here is shared with the
code that makes plans but the farm's own description. Flows in L/s, volumes in m3, hours in slots
of two."""

from collections import defaultdict
from collections.abc import Sequence
from itertools import pairwise
from math import ceil

import numpy as np

from core.plan.make_plan import PlannedSet
from core.plan.plan_block import PlanBlock
from core.plan.shared import Shared

SLOT_HOURS, SLOTS_A_DAY, HORIZON = 2.0, 12, 120


def up(value: float) -> float:
    """Flows [L/s] and volumes of a slot [m3] are counted in tenths, never too little."""
    return ceil(value * 10 - 1e-6) / 10


def broken(shared: Shared, blocks: Sequence[PlanBlock], sets: Sequence[PlannedSet]) -> list[str]:
    """Every rule that a plan breaks, in words."""
    out: list[str] = []
    running: list[tuple[int, int, int, bool]] = []
    for b, block in enumerate(blocks):
        own = sorted((s.start, s.start + s.slots, s) for s in sets if s.block == b)
        standing = [(f.start, f.start + f.slots) for f in block.fixed]
        busy = sorted([(first, end) for first, end, _ in own] + standing)
        out += [f"{block.name}: sets overlap" for x, y in pairwise(busy) if x[1] > y[0]]
        for first, end, one in own:
            if first < 0 or end > HORIZON or one.slots < 1:
                out.append(f"{block.name}: a set is outside the days of the plan")
            elif not all(block.allowed[t] for t in range(first, end)):
                out.append(f"{block.name}: runs when it may not")
            if hours_taken(block, one.net_mm) > one.slots * SLOT_HOURS + 1e-6:
                out.append(f"{block.name}: more than its slots bring")
            if not block.smallest_mm - 1e-6 <= one.net_mm <= block.largest_mm + 1e-6:
                out.append(f"{block.name}: {one.net_mm} mm is no set of it")
            running.append((b, first, end, False))
        running += [(b, first, end, True) for first, end in standing]
    out += _flows(shared, blocks, running)
    out += _machines(shared, blocks, running)
    out += _people(shared, blocks, running)
    out += _licences(shared, blocks, sets)
    return out


Run = tuple[int, int, int, bool]


def hours_taken(block: PlanBlock, net_mm: float) -> float:
    """Water and the pauses of its pulses [h]."""
    hours, left = 0.0, net_mm
    while block.pulses and left > block.pulses.most_mm + 1e-6:
        hours += block.pulses.most_mm / block.net_mm_h + block.pulses.pause_h
        left -= block.pulses.most_mm
    return hours + left / block.net_mm_h


def _flows(shared: Shared, blocks: Sequence[PlanBlock], running: Sequence[Run]) -> list[str]:
    out = []
    for t in range(HORIZON):
        now = [(b, stands) for b, first, end, stands in running if first <= t < end]
        for s, source in enumerate(shared.sources):
            drawn = [up(blocks[b].flow_l_s) for b, _ in now if blocks[b].source == s]
            moved = any(not stands for b, stands in now if blocks[b].source == s)
            if moved and sum(drawn) > up(source.flow_l_s[t]) + 1e-6:
                out.append(f"{source.name}: {sum(drawn):.1f} L/s in slot {t}")
            if moved and sum(drawn) < up(source.smallest_l_s) - 1e-6:
                out.append(f"{source.name}: only {sum(drawn):.1f} L/s in slot {t}")
        for m, main in enumerate(shared.mains):
            passing = [up(blocks[b].flow_l_s) for b, _ in now if m in blocks[b].mains]
            moved = any(not stands for b, stands in now if m in blocks[b].mains)
            if moved and sum(passing) > up(main.capacity_l_s) + 1e-6:
                out.append(f"{main.name}: {sum(passing):.1f} L/s in slot {t}")
        for g, group in enumerate(shared.groups):
            members = [stands for b, stands in now if g in blocks[b].groups]
            if len(members) > group.most and not all(members):
                out.append(f"{group.name}: {len(members)} run together in slot {t}")
    return out


def _machines(shared: Shared, blocks: Sequence[PlanBlock], running: Sequence[Run]) -> list[str]:
    out = []
    for k, machine in enumerate(shared.machines):
        turns = sorted((first, end) for b, first, end, _ in running if blocks[b].machine == k)
        for x, y in pairwise(turns):
            if y[0] - machine.moving_slots < x[1]:
                out.append(f"{machine.name}: no time to move before slot {y[0]}")
    return out


def _people(shared: Shared, blocks: Sequence[PlanBlock], running: Sequence[Run]) -> list[str]:
    needed: dict[int, int] = defaultdict(int)
    for b, first, _, _ in running:
        needed[first] += blocks[b].people
    return [f"{n} people in slot {t}" for t, n in needed.items() if t >= 0 and n > shared.people[t]]


def _licences(shared: Shared, blocks: Sequence[PlanBlock], sets: Sequence[PlannedSet]) -> list[str]:
    out = []
    for s, source in enumerate(shared.sources):
        by_day: dict[int, float] = defaultdict(float)
        for one in sets:
            block = blocks[one.block]
            if block.source == s:
                each = up(one.net_mm * block.gross_m3_mm / one.slots)
                for t in range(one.start, one.start + one.slots):
                    by_day[t // SLOTS_A_DAY] += each
        for block in blocks:
            if block.source == s:
                for f in block.fixed:
                    for t in range(f.start, f.start + f.slots):
                        by_day[t // SLOTS_A_DAY] += up(f.net_mm / f.slots * block.gross_m3_mm)
        for day, m3 in by_day.items():
            if m3 > source.day_m3[day] + 1e-6:
                out.append(f"{source.name}: {m3:.0f} m3 on day {day}")
        if sum(by_day.values()) > source.total_m3 + 1e-6:
            out.append(f"{source.name}: {sum(by_day.values()):.0f} m3 in all")
    return out


def watered(block: PlanBlock, own: Sequence[PlannedSet]) -> list[np.ndarray]:
    """What each part of a block's ground gets by slot [mm]: all of it in its own part of the run's
    slots, so that the parts of a long run come one after the other."""
    out = []
    for part in range(block.parts):
        water = np.zeros(HORIZON)
        runs = [(s.start, s.slots, max(s.net_mm - block.wetting_mm, 0.0)) for s in own]
        runs += [(f.start, f.slots, f.net_mm) for f in block.fixed]
        for start, slots, net in runs:
            cuts = [start + slots * k // block.parts for k in range(block.parts + 1)]
            mine = list(range(cuts[part], max(cuts[part + 1], cuts[part] + 1)))
            for t in mine:
                water[t] += net / len(mine)
        out.append(water)
    return out


def money(shared: Shared, blocks: Sequence[PlanBlock], sets: Sequence[PlannedSet]) -> float:
    """What a plan costs: what crops lack, power with the month's peak, water, labour, and what
    bringing the rest later would cost; crops followed in steps of six hours."""
    total = 0.0
    for b, block in enumerate(blocks):
        source = shared.sources[block.source]
        own = [s for s in sets if s.block == b]
        a_mm = block.gross_m3_mm * (source.kwh_m3 * source.price_kwh + source.water_price)
        for s in own:
            for t in range(s.start, s.start + s.slots):
                total += s.net_mm / s.slots * a_mm[t]
            total += block.labour
        if block.told:
            told, now = {t.start for t in block.told}, {s.start for s in own}
            total += block.change * len(told ^ now)
        lacking, left = [], []
        for water in watered(block, own):
            for depletion, use, rain in zip(
                block.depletion_mm, block.use_mm, block.rain_mm, strict=True
            ):
                d, lost = float(depletion), 0.0
                for k in range(HORIZON // 3):
                    day = k * 3 // SLOTS_A_DAY
                    raw, taw = float(block.raw_mm[day]), float(block.taw_mm[day])
                    ks = 1.0 if d <= raw else max((taw - d) / (taw - raw), 0.0)
                    lost += (1 - ks) * use[day] / 4
                    came = rain[day] / 4 + water[3 * k : 3 * k + 3].sum()
                    d = max(d + ks * use[day] / 4 - came, 0.0)
                lacking.append(lost)
                left.append(d)
        later = float(a_mm.mean()) + block.labour / min(block.largest_mm, float(block.raw_mm[-1]))
        total += block.loss_per_mm * float(np.mean(lacking)) + later * float(np.mean(left))
    return total + peaks(shared, blocks, sets)


def peaks(shared: Shared, blocks: Sequence[PlanBlock], sets: Sequence[PlannedSet]) -> float:
    """Money for what is drawn above the month's peak so far."""
    total = 0.0
    for s, source in enumerate(shared.sources):
        flow = np.zeros(HORIZON)
        for b, block in enumerate(blocks):
            if block.source != s:
                continue
            for f in block.fixed:
                flow[f.start : f.start + f.slots] += up(block.flow_l_s)
            for one in sets:
                if one.block == b:
                    flow[one.start : one.start + one.slots] += up(block.flow_l_s)
        kw = flow.max() * 3.6 * source.kwh_m3
        total += source.peak_price * max(kw - source.peak_so_far_kw, 0.0)
    return total
