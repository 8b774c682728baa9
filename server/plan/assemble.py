"""What a plan is made from: the advice's state of each block, the network, the log."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime

import numpy as np

from core.advice.inputs import BlockInputs
from core.advice.needs_ahead import NeedsAhead
from core.advice.run_of_set import most_pulse_mm
from core.arrays import Floats
from core.crop.yield_loss import VALUE_UNKNOWN_HA
from core.irrigation.run import largest_pulse
from core.irrigation.system import SystemKind
from core.plan.from_advice import (
    CHANGE_MONEY,
    fixed_set,
    flow_of,
    is_sensible,
    labour_of,
    plan_block,
)
from core.plan.network import Network, same_name
from core.plan.over_slots import shared_over, slot_starts
from core.plan.plan_block import FixedSet, PlanBlock
from core.plan.season_ahead import block_to_come
from core.plan.shared import Shared
from core.plan.slots import DAYS
from core.plan.wind import windy_slots
from core.regime.assess import needs_ahead
from core.units import M2_PER_HECTARE
from server.advice.answers import load
from server.advice.apart import together_or_apart
from server.blocks.loading import blocks_of
from server.blocks.models import Block
from server.farms.models import Farm
from server.plan.clock import hours_between, midnight_before
from server.plan.drawn import drawn_so_far, one_spelling
from server.plan.models import AnnouncedSet
from server.plan.season import SeasonBlock
from server.plan.sheet_sets import SheetSet
from server.plan.stored import StoredSet
from server.plan.wind_ahead import wind_ahead
from server.supply.describe import network_in_force
from server.supply.document import NetworkDocument, network_of
from server.water.equipment import block_system
from server.water.models import Irrigation


@dataclass(frozen=True)
class PlanInputs:
    """A farm's blocks on the slots of a plan that begins at ``first_at``, a midnight.

    block_ids : numbers of the blocks, in their order; left_out : of those of which nothing may be
        said
    standing : irrigations on record that run or that a person scheduled, by block number
    value_assumed : whether the yield of any has no price
    season : its blocks with the rest of their seasons
    wind_m_s : strongest hour of each slot by the forecast; None where nothing is known
    """

    first_at: datetime
    shared: Shared
    blocks: tuple[PlanBlock, ...]
    block_ids: tuple[int, ...]
    left_out: tuple[int, ...]
    standing: Mapping[int, tuple[StoredSet, ...]]
    currency: str
    value_assumed: bool
    wind_m_s: tuple[float | None, ...]
    network: Network
    season: tuple[SeasonBlock, ...]


@dataclass
class _OnRecord:
    """Irrigations of a block that are not over: those that stand, and those that were announced and
    may be moved."""

    stand: list[Irrigation] = field(default_factory=list)
    told: list[Irrigation] = field(default_factory=list)


@dataclass(frozen=True)
class _Known:
    """What the advice knows of a block."""

    block: Block
    inputs: BlockInputs
    needs: NeedsAhead


def plan_inputs(farm: Farm, now: datetime, pinned: Sequence[SheetSet] = ()) -> PlanInputs:
    """Everything that a plan for a farm starts from.

    Parameters
    ----------
    now : datetime
        In the farm's time zone.
    pinned : sequence of SheetSet
        Of the run sheet in use, on the slots of this plan: they stay where they are.
    """
    document = network_in_force(farm).document
    network = network_of(document)
    first_at = midnight_before(now)
    known = _known(farm, now)
    blocks = [k.block for k in known]
    supplies = one_spelling(b.supply for b in blocks)
    flows = {
        supply: flow_of([block_system(b) for b in blocks if same_name(b.supply, supply)])
        for supply in supplies
    }
    drawn = drawn_so_far(farm, supplies, network, now)
    starts = slot_starts(first_at)
    on_record = _on_record(farm, now)
    standing: dict[int, tuple[StoredSet, ...]] = {}
    found: dict[int, PlanBlock] = {}
    wind_m_s = wind_ahead(farm, now, first_at)
    for one in known:
        own = on_record.get(one.block.pk, _OnRecord())
        standing[one.block.pk] = _standing(one.block, own.stand, first_at, now)
        held = [p for p in pinned if p.block_id == one.block.pk]
        runs = [(s.start, s.slots, s.net_mm) for s in standing[one.block.pk]]
        runs += [(p.start, p.slots, p.net_mm) for p in held]
        pinned_ids = {p.irrigation_id for p in held}
        may_move = [row for row in own.told if row.pk not in pinned_ids]
        made = _planned(
            one,
            network,
            document,
            next(k for k, s in enumerate(supplies) if same_name(one.block.supply, s)),
            hours_between(first_at, now),
            wind_m_s,
            fixed=tuple(FixedSet(*run) for run in runs),
            told=tuple(
                FixedSet(s.start, s.slots, s.net_mm)
                for s in _standing(one.block, may_move, first_at, now)
            ),
        )
        if is_sensible(made):
            found[one.block.pk] = made
    every = Block.objects.for_farm(farm).order_by("name").values_list("pk", flat=True)
    return PlanInputs(
        first_at=first_at,
        shared=shared_over(network, supplies, starts, drawn, flows, len(blocks)),
        blocks=tuple(found.values()),
        block_ids=tuple(found),
        left_out=tuple(b for b in every if b not in found),
        standing=standing,
        network=network,
        season=tuple(
            SeasonBlock(
                k.block.pk,
                k.block.supply,
                block_to_come(
                    k.needs,
                    k.inputs.assumed.wetted_share,
                    found[k.block.pk].gross_m3_mm,
                    _value(document, k),
                ),
            )
            for k in known
            if k.block.pk in found and not k.needs.finished
        ),
        wind_m_s=tuple(None if np.isnan(w) else float(w) for w in wind_m_s),
        currency=document.currency,
        value_assumed=any(
            document.value_ha(k.needs.season.crop.key) is None for k in known if k.block.pk in found
        ),
    )


def _known(farm: Farm, now: datetime) -> list[_Known]:
    """Blocks of which the advice knows enough; one that can't be worked out is left out and keeps
    no other from it."""

    def work(some: Sequence[Block]) -> list[_Known]:
        loaded = load(farm, some, now)
        inputs = [loaded.inputs[b.pk] for b in some]
        return [
            _Known(block, given, needs)
            for block, given, needs in zip(some, inputs, needs_ahead(inputs, DAYS), strict=True)
            if needs is not None
        ]

    done = together_or_apart(list(blocks_of(farm)), work)
    return sorted((k for _, some in done for k in some), key=lambda k: k.block.name)


def _on_record(farm: Farm, now: datetime) -> dict[int, _OnRecord]:
    """Irrigations that run or are to come, by block."""
    rows = Irrigation.objects.for_farm(farm).filter(
        status__in=[Irrigation.Status.PLANNED, Irrigation.Status.RUNNING], ended_at__gt=now
    )
    announced = set(AnnouncedSet.objects.for_farm(farm).values_list("irrigation_id", flat=True))
    out: dict[int, _OnRecord] = {}
    for row in rows.order_by("started_at"):
        own = out.setdefault(row.block_id, _OnRecord())
        may_move = row.pk in announced and row.status == Irrigation.Status.PLANNED
        (own.told if may_move else own.stand).append(row)
    return out


def _standing(
    block: Block, rows: Sequence[Irrigation], first_at: datetime, now: datetime
) -> tuple[StoredSet, ...]:
    """Irrigations on the slots of a plan, with their numbers."""
    out = []
    for row in rows:
        moments = (row.started_at, row.ended_at, now)
        start, end, at = (hours_between(first_at, t) for t in moments)
        made = fixed_set(start, end, row.gross_mm * block.efficiency, at)
        if made is not None:
            out.append(
                StoredSet(
                    start=made.start, slots=made.slots, net_mm=made.net_mm, irrigation_id=row.pk
                )
            )
    return tuple(out)


def _planned(
    known: _Known,
    network: Network,
    document: NetworkDocument,
    source: int,
    now_h: float,
    wind_m_s: Floats,
    fixed: tuple[FixedSet, ...],
    told: tuple[FixedSet, ...],
) -> PlanBlock:
    block, assumed = known.block, known.inputs.assumed
    connection = network.connection(block.pk)
    mains = [m.name for m in network.mains]
    machines = [m.name for m in network.machines]
    return plan_block(
        block.name,
        known.needs,
        assumed.system,
        known.inputs.holds,
        now_h,
        source=source,
        value=_value(document, known),
        mains=tuple(_places(mains, sorted(connection.mains))),
        machine=next(iter(_places(machines, [connection.machine or ""])), None),
        people=connection.people,
        labour=labour_of(connection.labour_h, network.labour_price, daily=block.little_and_often),
        daily=block.little_and_often,
        rain_room_mm=block.rain_room_mm,
        fixed=fixed,
        told=told,
        change=CHANGE_MONEY,
        groups=tuple(_places([g.name for g in network.groups], sorted(connection.groups))),
        pulse=largest_pulse(
            assumed.system, assumed.design, assumed.intake_mm_h, assumed.slope_percent
        ),
        most_at_once_mm=most_pulse_mm(assumed, float(known.needs.raw_mm[0])),
        windy=windy_slots(wind_m_s, _wind_limit(document, assumed.system.kind)),
    )


def _wind_limit(document: NetworkDocument, system: SystemKind) -> float | None:
    return next((w.most_m_s for w in document.wind_limits if w.system == system), None)


def _places(names: Sequence[str], wanted: Sequence[str]) -> list[int]:
    return [k for k, name in enumerate(names) if any(same_name(name, w) for w in wanted)]


def _value(document: NetworkDocument, known: _Known) -> float:
    """Money for all of a block's yield."""
    value_ha = document.value_ha(known.needs.season.crop.key) or VALUE_UNKNOWN_HA
    return value_ha * known.block.area_m2 / M2_PER_HECTARE
