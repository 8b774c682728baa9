"""A run sheet made from everything that is known."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime
from math import inf

from django.db import transaction

from core.plan.make_plan import Plan, PlannedSet, cheapest_plan, make_plan
from core.plan.network import same_name
from core.plan.plan_block import FixedSet, PlanBlock
from core.plan.slots import SLOT_H
from server.base.incident import NOBODYS, record_incident
from server.farms.models import Farm
from server.plan.assemble import PlanInputs, plan_inputs
from server.plan.clock import hours_between, midnight_before
from server.plan.in_use import current_edit, sheet_in_use
from server.plan.live_sets import live_sets
from server.plan.models import BlockAhead, EditKind, RunSheet, SheetEdit, SheetStatus
from server.plan.money import money_by_block
from server.plan.outcome import outcome_of
from server.plan.season import season_ahead
from server.plan.sheet_sets import SheetSet, dump_sets, within_days
from server.plan.stored import (
    StoredAhead,
    StoredGroup,
    StoredInputs,
    StoredMachine,
    StoredMain,
    stored_block,
    stored_source,
)

# Sheets that were neither announced nor are in use; more of them nobody looks for.
KEPT_SHEETS = 10
DIGITS = 4


def make_sheet(sheet_id: int) -> None:
    """Work out a run sheet that was asked for; it says so itself where that fails."""
    sheet = RunSheet.unscoped.select_related("farm").filter(pk=sheet_id).first()
    if sheet is None or sheet.status != SheetStatus.WAITING:
        return
    try:
        _make(sheet)
    except NOBODYS:
        raise
    except Exception:
        number = record_incident(f"run sheet {sheet.pk}")
        RunSheet.unscoped.filter(pk=sheet.pk).update(
            status=SheetStatus.FAILED, outcome={"incident": number}
        )


def _make(sheet: RunSheet) -> None:
    farm = sheet.farm
    now = farm.now()
    used = sheet_in_use(farm)
    pinned = _pinned(farm, used, midnight_before(now), now)
    inputs = plan_inputs(farm, now, pinned)
    plan = _plan(inputs)
    sets = _sheet_sets(inputs, plan, pinned)
    # On the sheet pinned irrigations are irrigations like others.
    blocks = _unpinned(inputs)
    places = {b: k for k, b in enumerate(inputs.block_ids)}
    run = [PlannedSet(places[s.block_id], s.start, s.slots, s.net_mm) for s in sets]
    money = money_by_block(inputs.shared, blocks, run)
    outcome = outcome_of(inputs, blocks, plan, run)
    season = _season(farm, now, inputs)
    with transaction.atomic():
        sheet.status, sheet.made_at, sheet.first_at = SheetStatus.READY, now, inputs.first_at
        sheet.inputs = _stored(inputs, blocks).model_dump(mode="json")
        sheet.outcome = outcome.model_dump(mode="json")
        sheet.season = season
        sheet.taken_at = now if used is None else None
        sheet.save()
        BlockAhead.unscoped.bulk_create(
            BlockAhead(sheet=sheet, block_id=b, ahead=StoredAhead.of(block).model_dump())
            for b, block in zip(inputs.block_ids, blocks, strict=True)
        )
        SheetEdit(
            sheet=sheet,
            number=1,
            kind=EditKind.PLANNED,
            sets=dump_sets(sets),
            money={str(b): m.model_dump() for b, m in zip(inputs.block_ids, money, strict=True)},
            made_at=now,
            made_by=sheet.asked_by,
        ).save()
        _forget_old(farm)


def _plan(inputs: PlanInputs) -> Plan:
    """The best plan that can be had: by cheapest fit alone where the search fails."""
    try:
        return make_plan(inputs.shared, inputs.blocks)
    except Exception:
        record_incident("the search for a plan")
        return cheapest_plan(inputs.shared, inputs.blocks)


def _season(farm: Farm, now: datetime, inputs: PlanInputs) -> dict[str, object] | None:
    """The rest of the season; a sheet is one without it."""
    left = [
        next((s.total_m3 for s in inputs.shared.sources if same_name(s.name, source.name)), inf)
        for source in inputs.network.sources
    ]
    try:
        found = season_ahead(farm, now, inputs.network, inputs.season, left)
    except NOBODYS:
        raise
    except Exception:
        record_incident("the season's water")
        return None
    return found.model_dump(mode="json")


def _pinned(farm: Farm, used: RunSheet | None, midnight: datetime, now: datetime) -> list[SheetSet]:
    """Pinned irrigations of the sheet in use that are still to come, on slots from a midnight on.

    One that was announced and then cancelled or started is not: the log has it.
    """
    if used is None or used.first_at is None:
        return []
    later = round(hours_between(used.first_at, midnight) / SLOT_H)
    first = hours_between(midnight, now) / SLOT_H
    live = live_sets(farm, current_edit(used))
    begun = live.begun
    moved = [s.moved(-later) for s in live.sets if s.pinned and s.id not in begun]
    return [s for s in within_days(moved) if s.start >= first]


def _sheet_sets(inputs: PlanInputs, plan: Plan, pinned: Sequence[SheetSet]) -> list[SheetSet]:
    planned = [
        SheetSet(
            id=0,
            block_id=inputs.block_ids[s.block],
            start=s.start,
            slots=s.slots,
            net_mm=round(s.net_mm, DIGITS),
        )
        for s in plan.sets
    ]
    held = [p for p in pinned if p.block_id in inputs.block_ids]
    return [s.model_copy(update={"id": k}) for k, s in enumerate([*planned, *held], start=1)]


def _unpinned(inputs: PlanInputs) -> list[PlanBlock]:
    """Blocks on which only what is on record stands."""
    out = []
    for number, block in zip(inputs.block_ids, inputs.blocks, strict=True):
        stands = inputs.standing.get(number, ())
        fixed = tuple(FixedSet(s.start, s.slots, s.net_mm) for s in stands)
        out.append(replace(block, fixed=fixed))
    return out


def _stored(inputs: PlanInputs, blocks: Sequence[PlanBlock]) -> StoredInputs:
    rows = []
    for number, block in zip(inputs.block_ids, blocks, strict=True):
        # With the irrigations' own numbers, so that each can be looked up.
        stands = list(inputs.standing.get(number, ()))
        rows.append(stored_block(number, block).model_copy(update={"fixed": stands}))
    return StoredInputs(
        currency=inputs.currency,
        value_assumed=inputs.value_assumed,
        sources=[stored_source(s) for s in inputs.shared.sources],
        mains=[StoredMain.model_validate(m) for m in inputs.shared.mains],
        groups=[StoredGroup.model_validate(g) for g in inputs.shared.groups],
        machines=[StoredMachine.model_validate(m) for m in inputs.shared.machines],
        people=inputs.shared.people.tolist(),
        blocks=rows,
        left_out=list(inputs.left_out),
        wind_m_s=list(inputs.wind_m_s),
    )


def _forget_old(farm: Farm) -> None:
    """Remove sheets that nobody will look for again."""
    rows = RunSheet.objects.for_farm(farm).filter(announcements=None)
    used = sheet_in_use(farm)
    old = rows.exclude(pk=used.pk if used else None).order_by("-pk").values_list("pk", flat=True)
    RunSheet.objects.for_farm(farm).filter(pk__in=list(old[KEPT_SHEETS:])).delete()
