"""A farm's network over the slots of a plan: what may be drawn when, and at what price."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from math import ceil, inf

import numpy as np

from core.arrays import Bools, Floats
from core.plan.network import Network, Source, same_name
from core.plan.shared import (
    M3_H_PER_L_S,
    PlanGroup,
    PlanMachine,
    PlanMain,
    PlanSource,
    Shared,
)
from core.plan.slots import DAYS, SLOT_H, SLOTS
from core.plan.tariff import DAY_HOURS, Tariff, slot_prices


@dataclass(frozen=True)
class Drawn:
    """What was drawn of a source: today and since its licence began [m3], and the month's highest
    power [kW]."""

    today_m3: float = 0.0
    season_m3: float = 0.0
    peak_kw: float = 0.0


def slot_starts(midnight: datetime) -> tuple[datetime, ...]:
    """The begin of each slot from a midnight of the farm on, by its clock; the slots stay two hours
    long when the clocks change."""
    first = midnight.astimezone(UTC)
    return tuple(
        (first + k * timedelta(hours=SLOT_H)).astimezone(midnight.tzinfo) for k in range(SLOTS)
    )


def shared_over(
    network: Network,
    supplies: Sequence[str],
    starts: Sequence[datetime],
    drawn: Mapping[str, Drawn],
    flows_l_s: Mapping[str, float],
    blocks: int,
) -> Shared:
    """What a farm's blocks share over the slots of a plan.

    Parameters
    ----------
    supplies : sequence of str
        Names of the sources wanted, in the order that blocks count them; one that the network does
        not describe is not limited.
    starts : sequence of datetime
        Of `slot_starts`.
    drawn, flows_l_s : mapping by supply
        What was drawn so far; the flow of all its blocks together [L/s], which stands for a flow
        that is not limited.
    blocks : int
        How many there are: as many can be begun at once where nobody is listed who does.
    """
    sources = []
    for supply in supplies:
        source = network.source_of(supply) or Source(supply or "-")
        tariff = _tariff(network, source)
        used = drawn.get(supply, Drawn())
        flow = source.flow_m3_h / M3_H_PER_L_S if source.flow_m3_h else flows_l_s[supply]
        day = np.full(DAYS, source.day_m3 or inf)
        day[0] = max(day[0] - used.today_m3, 0.0)
        total = inf if source.season_m3 is None else max(source.season_m3 - used.season_m3, 0.0)
        sources.append(
            PlanSource(
                name=supply,
                flow_l_s=np.where(runs(source, starts), flow, 0.0),
                day_m3=day,
                price_kwh=slot_prices(tariff, starts),
                total_m3=total,
                kwh_m3=source.energy_kwh_m3,
                water_price=source.water_price,
                peak_price=tariff.peak_price,
                peak_so_far_kw=used.peak_kw,
                smallest_l_s=(source.smallest_m3_h or 0.0) / M3_H_PER_L_S,
            )
        )
    return Shared(
        tuple(sources),
        tuple(PlanMain(m.name, m.flow_m3_h / M3_H_PER_L_S) for m in network.mains),
        tuple(PlanMachine(m.name, ceil(m.moving_hours / SLOT_H)) for m in network.machines),
        _people(network, starts, blocks),
        tuple(PlanGroup(g.name, g.most_together) for g in network.groups),
    )


def _tariff(network: Network, source: Source) -> Tariff:
    """The tariff of a source; without one its power costs nothing."""
    wanted = source.tariff
    named = (t for name, t in network.tariffs if wanted is not None and same_name(name, wanted))
    return next(named, Tariff(0.0))


def runs(source: Source, starts: Sequence[datetime]) -> Bools:
    """In which slots a source may run from begin to end; array of bool, shape (slots,)."""
    return np.array([_open(source, start) for start in starts])


def _open(source: Source, start: datetime) -> bool:
    hour = start.hour + start.minute / 60
    first, last = source.from_hour, source.to_hour
    open_h = (last - first) % DAY_HOURS or DAY_HOURS
    if (hour - first) % DAY_HOURS + SLOT_H > open_h + 1e-9 and open_h < DAY_HOURS:
        return False
    if (turn := source.turn) is None:
        return True
    since = (start - turn.first_at) / timedelta(hours=1)
    return since >= 0 and since % (turn.every_days * DAY_HOURS) + SLOT_H <= turn.hours + 1e-9


def _people(network: Network, starts: Sequence[datetime], blocks: int) -> Floats:
    """How many irrigations can be begun in each slot; array, shape (slots,)."""
    if not network.workers:
        return np.full(len(starts), float(max(blocks, 1)))
    return np.array(
        [
            float(
                sum(
                    w.starts
                    for w in network.workers
                    if start.weekday() in w.weekdays
                    and w.from_hour <= start.hour + start.minute / 60 < w.to_hour
                )
            )
            for start in starts
        ]
    )
