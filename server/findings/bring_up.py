"""Findings brought up to the readings: made anew for blocks whose events were read anew, and once a
day, since silence grows by itself."""

from collections.abc import Iterable, Sequence
from datetime import datetime, timedelta

from django.db import transaction

from core.diagnosis.diagnose import diagnose
from core.diagnosis.finding import Evidence
from core.diagnosis.finding import Finding as Found
from core.diagnosis.version import DIAGNOSIS_VERSION
from server.base.incident import isolated
from server.base.json_out import known
from server.blocks.loading import blocks_of
from server.blocks.models import Block
from server.events import bring_up as events
from server.events.models import EventsRead
from server.events.reading import InstrumentRecord
from server.farms.models import Farm
from server.findings.models import Finding, FindingEvidence, FindingsRead, FindingStatus
from server.findings.seen_block import seen_block


def bring_up(farm: Farm, block_ids: Iterable[int] | None = None) -> list[int]:
    """Make anew what may have changed of blocks' findings, all of the farm's if none are named.

    Returns
    -------
    list of int
        The blocks that were looked at. One that can't be is recorded, and keeps nobody else's from
        being looked at.
    """
    asked = None if block_ids is None else list(block_ids)
    events.bring_up(farm, asked)
    now = farm.now()
    done = []
    for block in blocks_of(farm).filter(pk__in=_due(farm, asked, now)):
        with isolated(f"findings of block {block.pk}"), transaction.atomic():
            # Two who look at once would each add the same finding.
            events.lock_block("findings", block.pk)
            readings = _due(farm, [block.pk], now).get(block.pk)
            if readings is not None:
                _look(farm, block, now, readings)
                done.append(block.pk)
    return done


def _due(farm: Farm, asked: Sequence[int] | None, now: datetime) -> dict[int, int]:
    """Blocks to look at, each with how often its events were read."""
    read = EventsRead.objects.for_farm(farm)
    looked = FindingsRead.objects.for_farm(farm)
    if asked is not None:
        read, looked = read.filter(pk__in=asked), looked.filter(pk__in=asked)
    known_by = {r.pk: (r.version, r.on, r.readings) for r in looked}
    return {
        r.pk: r.readings
        for r in read
        if known_by.get(r.pk) != (DIAGNOSIS_VERSION, now.date(), r.readings)
    }


def _look(farm: Farm, block: Block, now: datetime, readings: int) -> None:
    seen, records = seen_block(farm, block, now)
    active = list(Finding.objects.for_farm(farm).filter(block=block, lapsed_at=None))
    kept = {(f.cause, f.instrument_id, f.depth_mm): f for f in active}
    for found in diagnose(seen) if records else []:
        row = _row(block, found, records, now)
        before = kept.pop((row.cause, row.instrument_id, row.depth_mm), None)
        if before is not None and _is_settled(before, row, now):
            before.lapsed_at = now
            before.save(update_fields=["lapsed_at"])
            before = None
        if before is not None:
            _carry_on(before, row)
        row.save()
        row.evidence.all().delete()
        FindingEvidence.unscoped.bulk_create(
            _evidence_row(row, evidence, records, now) for evidence in found.evidence
        )
    for gone in kept.values():
        gone.lapsed_at = now
        gone.save(update_fields=["lapsed_at"])
    FindingsRead(block=block, version=DIAGNOSIS_VERSION, on=now.date(), readings=readings).save()


def _is_settled(before: Finding, row: Finding, now: datetime) -> bool:
    """Whether what is seen now is another case than the one that was decided."""
    if before.status == FindingStatus.DONE:
        decided = before.decisions.filter(undone_at=None).last()
        return decided is not None and row.last_at > decided.made_at
    expired = before.until is not None and before.until < now.date()
    return before.status == FindingStatus.DISMISSED and expired


def _carry_on(before: Finding, row: Finding) -> None:
    """Make a new row the one that was kept, with what people decided about it."""
    row.pk, row.found_at = before.pk, before.found_at
    row.status, row.until = before.status, before.until
    row.first_at = min(before.first_at, row.first_at)


def _row(block: Block, found: Found, records: Sequence[InstrumentRecord], now: datetime) -> Finding:
    until = records[0].until
    record = None if found.site is None else records[found.site]
    return Finding(
        block=block,
        instrument=record.instrument if record else None,
        depth_mm=_depth(record, found.sensor),
        cause=str(found.cause),
        likelihood=found.likelihood,
        cost_mm_week=known(found.cost.mm_week),
        stress_days_week=known(found.cost.stress_days_week),
        first_at=until + timedelta(hours=found.from_hours),
        last_at=min(until + timedelta(hours=found.to_hours), now),
        found_at=now,
    )


def _depth(record: InstrumentRecord | None, sensor: int | None) -> float | None:
    if record is None or sensor is None:
        return None
    return float(record.record.site.depth_mm[sensor])


def _evidence_row(
    finding: Finding, evidence: Evidence, records: Sequence[InstrumentRecord], now: datetime
) -> FindingEvidence:
    until = records[0].until
    record = None if evidence.site is None else records[evidence.site]
    return FindingEvidence(
        finding=finding,
        from_at=until + timedelta(hours=evidence.from_hours),
        to_at=min(until + timedelta(hours=evidence.to_hours), now),
        figure=str(evidence.figure),
        seen=known(evidence.seen),
        expected=known(evidence.expected),
        instrument=record.instrument if record else None,
        depth_mm=_depth(record, evidence.sensor),
        irrigation_id=evidence.irrigation,
    )
