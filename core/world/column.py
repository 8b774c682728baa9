"""Soil columns on 15-minute steps: rain and sets in, roots drinking by day, drainage out."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date

import numpy as np

from core.arrays import Floats
from core.crop.depletion import adjusted_p
from core.crop.season import CropSeason, season_days
from core.soil.profile import Profile
from core.world.weather import Weather

NODE_MM = 50.0
STEP_HOURS = 0.25
STEPS_PER_DAY = 96
RAIN_HOURS = 4.0
PASSING_STEPS = 2  # for so long a machine's water falls on one place
DECISION_STEP = 20  # 05:00, when the simulated manager looks


@dataclass(frozen=True)
class Given:
    """A set that is given whatever the soil says: ``day`` from the start, hour, net depth."""

    day: int
    hour: float
    net_mm: float


@dataclass(frozen=True)
class Policy:
    """How the simulated manager waters a block.

    He waters at ``start_hour`` when ``trigger`` of the readily available water is used, back
    to ``refill_share`` of the deficit, on no day from ``until_day`` on; at ``net_rate_mm_h``.
    """

    trigger: float
    refill_share: float
    net_rate_mm_h: float
    start_hour: float
    until_day: int
    given: tuple[Given, ...] = field(default=())


@dataclass(frozen=True)
class ColumnBlock:
    """One block of the simulated farm; ``strip`` is the share of the ground that is irrigated and
    drunk from, over which all its water is concentrated. ``place`` is where the column stands on
    the way of a machine, a share of it, None where a set wets all of the block at once."""

    profile: Profile
    season: CropSeason
    policy: Policy
    strip: float = 1.0
    place: float | None = None


@dataclass(frozen=True)
class SimulatedSet:
    """A set as it ran: start and end [h from the start], net depth [mm]."""

    block: int
    start_hours: float
    end_hours: float
    net_mm: float


@dataclass(frozen=True)
class ColumnRun:
    """theta : array, shape (steps + 1, blocks, nodes) [m3/m3]; node_mm : (nodes,), centres."""

    theta: Floats
    node_mm: Floats
    sets: tuple[SimulatedSet, ...]


def _node_values(blocks: Sequence[ColumnBlock], node: Floats, name: str) -> Floats:
    """A horizon value of every block at every node; shape (blocks, nodes)."""
    return np.array([getattr(b.profile, name)[b.profile.horizon_at(node)] for b in blocks])


def _daylight() -> Floats:
    """Share of the day's water use in each step; nothing between 20:00 and 06:00."""
    hour = (np.arange(STEPS_PER_DAY) + 0.5) * STEP_HOURS
    light = np.maximum(np.sin(np.pi * (hour - 6) / 14), 0.0)
    light[(hour < 6) | (hour > 20)] = 0
    share: Floats = light / light.sum()
    return share


def simulate_columns(
    blocks: Sequence[ColumnBlock],
    weather: Weather,
    first_day: date,
    stop_step: int,
    depth_mm: float = 1200.0,
) -> ColumnRun:
    """Run all columns together from a full soil.

    Parameters
    ----------
    blocks : sequence of ColumnBlock
    weather : Weather
    first_day : date
        Day 0 of the run and of the weather.
    stop_step : int
        Number of 15-minute steps to run.
    depth_mm : float [mm]

    Returns
    -------
    ColumnRun
    """
    n_blocks, n_nodes = len(blocks), int(depth_mm / NODE_MM)
    node = (np.arange(n_nodes) + 0.5) * NODE_MM
    full = _node_values(blocks, node, "theta_full")
    wilt = _node_values(blocks, node, "theta_wilt")
    sat = _node_values(blocks, node, "theta_sat")
    ksat = np.array(
        [[b.profile.limits[h].ksat_mm_h for h in b.profile.horizon_at(node)] for b in blocks]
    )
    # Time in which a node gives off most of what it holds above full.
    drain = 1 - np.exp(-STEP_HOURS / np.clip(20 / np.maximum(ksat, 0.1), 0.5, 8.0))
    light = _daylight()

    days = weather.et0_mm.size
    day = np.arange(days)
    planted = [(b.season.planted_on - first_day).days for b in blocks]
    grown = season_days([b.season for b in blocks], first_day, days)
    strip = np.array([b.strip for b in blocks])
    kc = np.where([day < p for p in planted], 0.25, grown.kc)
    demand = kc / strip[:, None]
    root = np.minimum(grown.root_mm, depth_mm)

    theta = full.copy()
    out = np.empty((stop_step + 1, n_blocks, n_nodes))
    out[0] = theta
    sets: list[SimulatedSet] = []
    inflow = np.zeros((stop_step + STEPS_PER_DAY * 4, n_blocks))
    for d, rain in enumerate(weather.rain_mm):
        if rain > 0:
            first = d * STEPS_PER_DAY + 56
            steps = int(RAIN_HOURS / STEP_HOURS)
            inflow[first : first + steps] += rain / steps

    def give(block: int, start_step: int, net_mm: float) -> None:
        rate = blocks[block].policy.net_rate_mm_h
        steps = max(round(net_mm / rate / STEP_HOURS), 1)
        first, lasts = start_step, steps
        if (place := blocks[block].place) is not None:
            first, lasts = start_step + round(place * steps), PASSING_STEPS
        inflow[first : first + lasts, block] += net_mm / lasts / blocks[block].strip
        start = start_step * STEP_HOURS
        sets.append(SimulatedSet(block, start, start + steps * STEP_HOURS, net_mm))

    for i, b in enumerate(blocks):
        for g in b.policy.given:
            give(i, round((g.day * 24 + g.hour) / STEP_HOURS), g.net_mm)

    weight = inside = np.zeros((n_blocks, n_nodes))
    for step in range(stop_step):
        d, within = divmod(step, STEPS_PER_DAY)
        if within == 0:
            zr = root[:, d, None]
            inside = np.clip((zr - (node - NODE_MM / 2)) / NODE_MM, 0, 1)
            weight = inside * np.exp(-2.0 * node / zr)
        if within == DECISION_STEP:
            taw = ((full - wilt) * inside).sum(axis=1) * NODE_MM
            deficit = (np.maximum(full - theta, 0) * inside).sum(axis=1) * NODE_MM
            p = adjusted_p([b.season.crop.p for b in blocks], kc[:, d] * weather.et0_mm[d])
            for i, b in enumerate(blocks):
                due = deficit[i] >= b.policy.trigger * p[i] * taw[i]
                if due and planted[i] <= d < b.policy.until_day:
                    start = round((d * 24 + b.policy.start_hour) / STEP_HOURS)
                    net = float(deficit[i]) * b.strip * b.policy.refill_share
                    give(i, max(start, step), net)
        theta[:, 0] += inflow[step] / NODE_MM
        # What a node can't hold passes on at once; above full it drains slowly.
        over = np.maximum(theta - sat, 0)
        if over.any():
            for k in range(n_nodes - 1):
                excess = np.maximum(theta[:, k] - sat[:, k], 0)
                theta[:, k] -= excess
                theta[:, k + 1] += excess
            theta[:, -1] = np.minimum(theta[:, -1], sat[:, -1])
        flow = np.maximum(theta - full, 0) * drain
        theta -= flow
        theta[:, 1:] += flow[:, :-1]
        if light[within] > 0:
            wet = np.clip((theta - wilt) / (0.45 * (full - wilt)), 0, 1)
            pull = weight * wet
            total = pull.sum(axis=1, keepdims=True)
            limit = np.minimum(1.0, 1.2 * total[:, 0] / np.maximum(weight.sum(axis=1), 1e-9))
            use = demand[:, d] * weather.et0_mm[d] * light[within] * limit
            theta -= use[:, None] * pull / np.maximum(total, 1e-9) / NODE_MM
            theta = np.maximum(theta, wilt * 0.8)
        out[step + 1] = theta
    done = tuple(s for s in sets if s.start_hours < stop_step * STEP_HOURS)
    return ColumnRun(theta=out, node_mm=node, sets=done)
