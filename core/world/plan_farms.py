"""Farms drawn to try plans on: blocks, sources and people that no one has seen."""

from dataclasses import dataclass

import numpy as np

from core.plan.plan_block import PlanBlock
from core.plan.shared import PlanMachine, PlanMain, PlanSource, Shared
from core.plan.slots import DAYS, SLOT_H, SLOTS, SLOTS_PER_DAY

HA_M2 = 10_000.0


@dataclass(frozen=True)
class _System:
    """Gross rate [mm/h], area [ha], least and most; efficiency [-]; people for each set."""

    rate: tuple[float, float]
    area: tuple[float, float]
    efficiency: float
    people: int


# Zones of solid sets, drip and pivots, of sizes and rates that are common.
SYSTEMS = (
    _System((3.5, 5.5), (1.0, 4.5), 0.78, 1),
    _System((1.0, 2.0), (2.0, 9.0), 0.92, 0),
    _System((0.45, 0.7), (15.0, 40.0), 0.85, 0),
)
NIGHT_PRICE, DAY_PRICE, PEAK_PRICE = 0.12, 0.22, 0.38


def drawn_farm(
    n_blocks: int, n_sources: int, load: float, seed: int, members: int = 20
) -> tuple[Shared, list[PlanBlock]]:
    """A farm whose blocks use so much of what its sources can bring.

    Parameters
    ----------
    load : float [-]
        Use of all blocks, gross, over what the sources bring in the hours they may run.
    """
    rng = np.random.default_rng(seed)
    of = rng.integers(0, n_sources, n_blocks)
    of[:n_sources] = np.arange(n_sources)
    use = rng.uniform(4.5, 7.5, n_blocks)
    drawn = [_block(rng, b, int(of[b]), float(use[b]), members) for b in range(n_blocks)]
    hours = np.ones((n_sources, SLOTS))
    # One source in three may not run in the afternoon.
    clock = (np.arange(SLOTS) % SLOTS_PER_DAY) * SLOT_H
    hours[2::3, (clock >= 14) & (clock < 18)] = 0.0
    price = np.where(clock < 6, NIGHT_PRICE, DAY_PRICE)
    price = np.where((clock >= 16) & (clock < 20), PEAK_PRICE, price)
    sources = []
    for s in range(n_sources):
        own = [b for b in range(n_blocks) if of[b] == s]
        # m3 an hour that the blocks use, all day round.
        used = sum(drawn[b].gross_m3_mm * use[b] / 24 for b in own)
        flow = used / 3.6 / load / hours[s].mean()
        flow = max(flow, 1.5 * max(drawn[b].flow_l_s for b in own))
        licence = np.full(DAYS, flow * 3.6 * 24 * 0.92 if s % 2 else np.inf)
        sources.append(
            PlanSource(
                name=f"Source {s + 1}",
                flow_l_s=flow * hours[s],
                day_m3=licence,
                price_kwh=price,
                kwh_m3=float(rng.uniform(0.15, 0.45)),
                water_price=0.01,
                peak_price=9.0,
                peak_so_far_kw=0.0,
            )
        )
    people = np.where((clock >= 6) & (clock < 20), max(2, n_blocks // 12), max(1, n_blocks // 30))
    mains = (PlanMain("North main", 0.75 * float(sources[0].flow_l_s.max())),)
    machines = (PlanMachine("Traveller", 1),)
    return Shared(tuple(sources), mains, machines, people.astype(float)), drawn


def _block(rng: np.random.Generator, b: int, source: int, use: float, members: int) -> PlanBlock:
    system = SYSTEMS[b % len(SYSTEMS)]
    area = float(rng.uniform(*system.area)) * HA_M2
    rate = float(rng.uniform(*system.rate)) * system.efficiency
    gross_m3_mm = area / 1000 / system.efficiency
    raw = float(rng.uniform(25.0, 60.0))
    taw = raw * float(rng.uniform(1.7, 2.4))
    days = use * rng.lognormal(0.0, 0.12, (members, 1)) * rng.lognormal(0.0, 0.1, (members, DAYS))
    rain = np.where(rng.random((members, DAYS)) < 0.08, rng.gamma(1.0, 6.0, (members, DAYS)), 0.0)
    allowed = np.ones(SLOTS, bool)
    if rng.random() < 0.15:
        held = int(rng.integers(0, SLOTS - 36))
        allowed[held : held + 36] = False
    now = float(rng.uniform(0.1, 1.05)) * raw
    # The traveller waters three solid sets of the first source.
    machine = 0 if source == 0 and b % 3 == 0 and b < 27 else None
    return PlanBlock(
        name=f"Block {b + 1}",
        source=source,
        mains=(0,) if source == 0 and b % 2 else (),
        machine=machine,
        people=system.people,
        flow_l_s=gross_m3_mm * rate / 3.6,
        net_mm_h=rate,
        gross_m3_mm=gross_m3_mm,
        smallest_mm=4.0,
        largest_mm=raw * 1.1,
        allowed=allowed,
        depletion_mm=np.maximum(now + rng.normal(0.0, 4.0, members), 0.0),
        use_mm=days,
        rain_mm=rain,
        raw_mm=np.full(DAYS, raw),
        taw_mm=np.full(DAYS, taw),
        loss_per_mm=float(rng.uniform(0.8, 1.25) * rng.uniform(2000, 9000) / 550) * area / HA_M2,
        labour=8.0,
    )
