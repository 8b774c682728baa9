"""A run sheet as a page shows it."""

from collections.abc import Mapping, Sequence
from datetime import datetime, timedelta
from math import isfinite
from typing import Any

import numpy as np

from core.plan.over_slots import slot_starts
from core.plan.pulses import hours_of, pulses_of
from core.plan.relief import LEAST_LACK_MM
from core.plan.shared import M3_H_PER_L_S, Shared
from core.plan.sheet import broken_rules, peak_of
from core.plan.slots import SLOT_H, SLOTS
from core.plan.store_course import store_course
from core.units import water_volume_m3
from core.weather.nights import nights
from server.blocks.models import Block
from server.farms.access import Access
from server.farms.models import Farm
from server.plan.edits import Changed
from server.plan.in_use import current_edit
from server.plan.late_starts import late_on_sheet
from server.plan.live_sets import LiveSets, live_sets
from server.plan.models import EditKind, RunSheet, SheetEdit
from server.plan.money import BlockMoneyOut, money_after, whole_blocks
from server.plan.outcome import Outcome, ShortBlockOut
from server.plan.schemas import (
    BrokenOut,
    NightOut,
    SheetBlock,
    SheetOut,
    SheetSetOut,
    SheetSource,
    SheetTotals,
    StandingOut,
    StoreOut,
    TriedOut,
)
from server.plan.sheet_sets import SheetSet, planned_sets
from server.plan.stored import StoredBlock, StoredInputs, plan_block_of
from server.water.models import Irrigation

MM_PER_M = 1000.0


def starts_of(access: Access, sheet: RunSheet) -> tuple[datetime, ...]:
    """The begin of each slot of a ready sheet, by the farm's clock."""
    if sheet.first_at is None:
        raise ValueError("a sheet that is ready has a first moment")
    return slot_starts(sheet.first_at.astimezone(access.now().tzinfo))


def _set_out(
    one: SheetSet, block: StoredBlock, area_m2: float, starts: Sequence[datetime], live: LiveSets
) -> SheetSetOut:
    hours = hours_of(one.net_mm, block.net_mm_h, block.pulses)
    drawn = one.net_mm * block.gross_m3_mm
    begins = starts[one.start]
    return SheetSetOut(
        id=one.id,
        block_id=one.block_id,
        start=one.start,
        slots=one.slots,
        starts_at=begins,
        ends_at=begins + timedelta(hours=hours),
        hours=round(hours, 3),
        pulses=pulses_of(one.net_mm, block.pulses),
        pause_hours=0.0 if block.pulses is None else round(block.pause_h, 3),
        net_mm=one.net_mm,
        gross_mm=round(drawn / area_m2 * MM_PER_M, 2),
        volume_m3=round(drawn, 1),
        pinned=one.pinned,
        status=live.status(one),
        irrigation_id=one.irrigation_id,
    )


def sets_out(
    sets: Sequence[SheetSet],
    inputs: StoredInputs,
    areas: Mapping[int, float],
    starts: Sequence[datetime],
    live: LiveSets,
) -> list[SheetSetOut]:
    """Irrigations of blocks that are planned and still there."""
    of = {b.block_id: b for b in inputs.blocks if b.block_id in areas}
    return [
        _set_out(s, of[s.block_id], areas[s.block_id], starts, live)
        for s in sets
        if s.block_id in of
    ]


def _broken(inputs: StoredInputs, shared: Shared, sets: Sequence[SheetSet]) -> list[BrokenOut]:
    blocks = [plan_block_of(b) for b in inputs.blocks]
    return [
        BrokenOut(
            rule=b.rule,
            name=b.name,
            slots=list(b.slots),
            block_ids=[inputs.blocks[k].block_id for k in b.blocks],
        )
        for b in broken_rules(shared, blocks, planned_sets(inputs, sets))
    ]


def totals_of(
    inputs: StoredInputs, shared: Shared, sets: Sequence[SheetSet], money: Mapping[str, Any]
) -> SheetTotals:
    """Money of the whole sheet."""
    blocks = [plan_block_of(b) for b in inputs.blocks]
    peak = peak_of(shared, blocks, planned_sets(inputs, sets))
    rows = [BlockMoneyOut.model_validate(m) for m in money.values()]

    def added(name: str) -> float:
        return round(sum(getattr(m, name) for m in rows), 2)

    return SheetTotals(
        total=round(added("total") + peak, 2),
        lost=added("lost"),
        power=added("power"),
        water=added("water"),
        labour=added("labour"),
        peak=round(peak, 2),
        energy_kwh=added("energy_kwh"),
        drawn_m3=added("drawn_m3"),
    )


def sheet_out(access: Access, sheet: RunSheet) -> SheetOut:
    """The sheet in use, all of it."""
    inputs = StoredInputs.model_validate(sheet.inputs)
    shared = inputs.shared()
    edit = current_edit(sheet)
    live = live_sets(access.farm, edit)
    starts = starts_of(access, sheet)
    blocks = {
        b.pk: b
        for b in Block.objects.for_farm(access.farm)
        .select_related("irrigator")
        .only("name", "area_m2", "irrigator__name")
    }
    areas = {pk: b.area_m2 for pk, b in blocks.items()}
    planned = [b for b in inputs.blocks if b.block_id in blocks]
    by = edit.made_by if edit.kind == EditKind.CHANGED else None
    return SheetOut(
        id=sheet.pk,
        made_at=_made_at(sheet),
        first_at=starts[0],
        edit=edit.number,
        can_undo=edit.kind == EditKind.CHANGED,
        changed_by=by.name if by else None,
        changed_at=edit.made_at,
        currency=inputs.currency,
        value_assumed=inputs.value_assumed,
        starts=list(starts),
        nights=_nights(access.farm, starts),
        people=[int(p) for p in inputs.people],
        sources=_sources(shared, inputs),
        machines=[m.name for m in inputs.machines],
        wind_m_s=inputs.wind_m_s,
        blocks=[_block(b, blocks[b.block_id], edit) for b in planned],
        left_out=[blocks[pk].name for pk in inputs.left_out if pk in blocks],
        sets=sets_out(live.sets, inputs, areas, starts, live),
        standing=_standing(access, planned, areas),
        broken=_broken(inputs, shared, live.sets),
        late_starts=late_on_sheet(access.farm, sheet, inputs, live.sets),
        short=_short(planned, edit),
        totals=totals_of(inputs, shared, live.sets, edit.money),
        outcome=Outcome.model_validate(sheet.outcome),
    )


def _nights(farm: Farm, starts: Sequence[datetime]) -> list[NightOut]:
    if farm.latitude is None or farm.longitude is None:
        return []
    end = starts[-1] + timedelta(hours=SLOT_H)
    found = nights(farm.latitude, farm.longitude, starts[0], end)
    return [NightOut(from_at=sunset, to_at=sunrise) for sunset, sunrise in found]


def _short(planned: Sequence[StoredBlock], edit: SheetEdit) -> list[ShortBlockOut]:
    """Blocks that lack more water than nobody would see, the costliest first."""
    rows = [
        (b.block_id, BlockMoneyOut.model_validate(edit.money[str(b.block_id)])) for b in planned
    ]
    short = [
        ShortBlockOut(block_id=number, lacking_mm=m.lacking_mm, money=m.lost)
        for number, m in rows
        if m.lacking_mm >= LEAST_LACK_MM
    ]
    return sorted(short, key=lambda s: (-s.money, s.block_id))


def _made_at(sheet: RunSheet) -> datetime:
    if sheet.made_at is None:
        raise ValueError("a sheet that is ready was made")
    return sheet.made_at


def _sources(shared: Shared, inputs: StoredInputs) -> list[SheetSource]:
    out = []
    for k, source in enumerate(shared.sources):
        most = sum(b.flow_l_s for b in inputs.blocks if b.source == k)
        flow = float(source.flow_l_s.max())
        out.append(
            SheetSource(
                name=source.name,
                flow_m3_h=round(flow * M3_H_PER_L_S, 2),
                # One that could feed all its blocks at once is no limit to them.
                limited=flow < most - 1e-6 or isfinite(source.total_m3),
                closed=np.flatnonzero(source.flow_l_s <= 0).tolist(),
                price_kwh=source.price_kwh.tolist(),
                peak_price=source.peak_price,
                peak_so_far_kw=round(source.peak_so_far_kw, 1),
            )
        )
    return out


def _block(stored: StoredBlock, block: Block, edit: SheetEdit) -> SheetBlock:
    gross = stored.gross_m3_mm / block.area_m2 * MM_PER_M
    windy = [t for t, c in enumerate(stored.windy) if c == "1"]
    return SheetBlock(
        id=block.pk,
        name=block.name,
        source=stored.source,
        machine=stored.machine,
        flow_m3_h=round(stored.flow_l_s * M3_H_PER_L_S, 2),
        smallest_mm=round(stored.smallest_mm * gross, 2),
        largest_mm=round(stored.largest_mm * gross, 2),
        held=[t for t, c in enumerate(stored.allowed) if c == "0" and t not in windy],
        windy=windy,
        irrigator=block.irrigator.name if block.irrigator else None,
        money=BlockMoneyOut.model_validate(edit.money[str(block.pk)]),
    )


def _standing(
    access: Access, planned: Sequence[StoredBlock], areas: Mapping[int, float]
) -> list[StandingOut]:
    ids = {f.irrigation_id: (b, f) for b in planned for f in b.fixed}
    rows = Irrigation.objects.for_farm(access.farm).filter(pk__in=[i for i in ids if i])
    out = []
    for row in rows.exclude(status=Irrigation.Status.CANCELLED).order_by("started_at", "pk"):
        _, at = ids[row.pk]
        out.append(
            StandingOut(
                irrigation_id=row.pk,
                block_id=row.block_id,
                start=at.start,
                slots=min(at.slots, SLOTS - at.start),
                starts_at=row.started_at,
                ends_at=row.ended_at,
                gross_mm=round(row.gross_mm, 2),
                volume_m3=round(water_volume_m3(row.gross_mm, areas[row.block_id]), 1),
                running=row.status == Irrigation.Status.RUNNING,
            )
        )
    return out


def tried_out(access: Access, changed: Changed) -> TriedOut:
    """What a change would bring."""
    inputs, sheet = changed.inputs, changed.sheet
    shared = inputs.shared()
    numbers = [b.block_id for b in changed.blocks]
    money = money_after(sheet, inputs, shared, changed.edit.money, changed.sets, numbers)
    rows = Block.objects.for_farm(access.farm).filter(pk__in=numbers)
    areas = dict(rows.values_list("pk", "area_m2"))
    live = live_sets(access.farm, changed.edit)
    own = [s for s in changed.sets if s.block_id in areas]
    return TriedOut(
        sets=sets_out(own, inputs, areas, starts_of(access, sheet), live),
        broken=_broken(inputs, shared, changed.sets),
        totals=totals_of(inputs, shared, changed.sets, money),
        money={n: BlockMoneyOut.model_validate(money[str(n)]) for n in numbers},
        store=store_out(sheet, inputs, changed.sets, numbers[0]),
    )


def store_out(
    sheet: RunSheet, inputs: StoredInputs, sets: Sequence[SheetSet], block_id: int
) -> StoreOut | None:
    """How a block's store goes with its irrigations; None where it is not planned."""
    block = whole_blocks(sheet, inputs, [block_id]).get(block_id)
    if block is None:
        return None
    found = store_course(block, planned_sets(inputs, [s for s in sets if s.block_id == block_id]))
    return StoreOut(
        low_mm=np.round(found.low, 1).tolist(),
        middle_mm=np.round(found.middle, 1).tolist(),
        high_mm=np.round(found.high, 1).tolist(),
        raw_mm=np.round(found.raw_mm, 1).tolist(),
    )
