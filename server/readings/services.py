"""Bringing readings in: a logger's file, and readings typed by hand."""

import hashlib
from dataclasses import dataclass
from datetime import datetime
from zoneinfo import ZoneInfo

import numpy as np
from django.db import transaction

from core.instrument.kinds import InstrumentKind, kinds
from core.instrument.reading_units import ReadingUnit, code_of, quantity_of
from server.farms.access import Access
from server.farms.rules import Action
from server.instruments.models import Channel, Instrument
from server.readings.logger_file import range_problem, read_logger_file, to_instant
from server.readings.models import Reading, ReadingBatch
from server.readings.store import ROW, UpsertCount, row_of, store_readings
from server.refusal import Problem, Refused

DEPTH_TOLERANCE_MM = 3.0  # a depth in inches and the same one in whole centimetres


@dataclass(frozen=True)
class ImportReport:
    """What a file holds and what became, or would become, of it."""

    rows: int
    readings: int
    gaps: int
    new: int
    changed: int
    unchanged: int
    first: datetime
    last: datetime
    depths_mm: tuple[float, ...]
    dry_run: bool


def _check_unit(instrument: Instrument, unit: ReadingUnit) -> None:
    kind = InstrumentKind(instrument.kind)
    if quantity_of(unit) != kinds()[kind].quantity:
        raise Refused(
            f"{instrument.label} can't be read in {unit}.",
            (
                Problem(
                    field="unit",
                    message=f"{kinds()[kind].name} do not read in {unit}. Choose another unit "
                    "or another instrument.",
                ),
            ),
        )


def _channels_by_depth(instrument: Instrument, depths_mm: tuple[float, ...]) -> dict[float, int]:
    """Channel of each depth of a file; refused when the instrument has none there."""
    channels = list(instrument.channels.all())
    have = ", ".join(f"{c.depth_mm / 10:g} cm" for c in channels if c.depth_mm)
    found: dict[float, int] = {}
    problems = []
    for depth in depths_mm:
        near = [c for c in channels if abs((c.depth_mm or 0.0) - depth) <= DEPTH_TOLERANCE_MM]
        if near:
            found[depth] = near[0].pk
        else:
            problems.append(
                Problem(
                    row=1,
                    column=f"{depth / 10:g} cm",
                    message=f"{instrument.label} has no sensor at {depth / 10:g} cm; it has "
                    f"{have}. Correct the heading or choose another instrument.",
                )
            )
    if problems:
        raise Refused("The file was not imported: its depths don't fit.", tuple(problems))
    return found


def import_file(
    access: Access,
    instrument: Instrument,
    file_name: str,
    data: bytes,
    unit: ReadingUnit,
    *,
    dry_run: bool,
) -> ImportReport:
    """Import a logger's file whole, or nothing of it; a dry run only counts."""
    access.require(Action.RECORD_READINGS)
    _check_unit(instrument, unit)
    zone = ZoneInfo(access.farm.time_zone)
    table = read_logger_file(data, unit, InstrumentKind(instrument.kind), zone, access.farm.now())
    channel = _channels_by_depth(instrument, table.depths_mm)
    with transaction.atomic():
        batch = ReadingBatch(
            farm=access.farm,
            origin=ReadingBatch.Origin.FILE,
            file_name=file_name[:255],
            sha256=hashlib.sha256(data).hexdigest(),
            made_by=access.user,
        )
        batch.save()
        code = code_of(unit)
        rows = [row_of(channel[r.depth_mm], r.time, r.value, code) for r in table.readings]
        count = store_readings(batch, np.array(rows, ROW))
        if dry_run or (count.new == 0 and count.changed == 0):
            transaction.set_rollback(True)
    times = [r.time for r in table.readings]
    return ImportReport(
        rows=table.rows,
        readings=len(table.readings),
        gaps=table.gaps,
        new=count.new,
        changed=count.changed,
        unchanged=count.unchanged,
        first=min(times),
        last=max(times),
        depths_mm=table.depths_mm,
        dry_run=dry_run,
    )


@dataclass(frozen=True)
class HandReading:
    """A value read off at one channel."""

    channel_id: int
    value: float


def record_by_hand(
    access: Access,
    instrument: Instrument,
    time: datetime,
    unit: ReadingUnit,
    values: list[HandReading],
) -> UpsertCount:
    """Store readings of one visit.

    ``time`` without an offset is farm-local. Refused whole when one value can't be.
    """
    access.require(Action.RECORD_READINGS)
    _check_unit(instrument, unit)
    instant = to_instant(time, ZoneInfo(access.farm.time_zone), None)
    problems = []
    if instant is None:
        problems.append(
            Problem(field="time", message="That time was skipped when the clocks went forward.")
        )
    elif instant > access.farm.now():
        problems.append(Problem(field="time", message="That time lies in the future."))
    if not values:
        problems.append(Problem(field="values", message="Type at least one reading."))
    channels: dict[int, Channel] = {c.pk: c for c in instrument.channels.all()}
    for i, item in enumerate(values):
        if item.channel_id not in channels:
            problems.append(
                Problem(field=f"values.{i}", message="That sensor is not of this instrument.")
            )
            continue
        wrong = range_problem(item.value, unit, InstrumentKind(instrument.kind))
        if wrong is not None:
            problems.append(Problem(field=f"values.{i}", message=wrong))
    if len({v.channel_id for v in values}) < len(values):
        problems.append(Problem(field="values", message="A sensor has two readings."))
    if problems or instant is None:
        raise Refused("The readings were not stored.", tuple(problems))
    with transaction.atomic():
        batch = ReadingBatch(farm=access.farm, origin=ReadingBatch.Origin.HAND, made_by=access.user)
        batch.save()
        rows = [row_of(v.channel_id, instant, v.value, code_of(unit)) for v in values]
        return store_readings(batch, np.array(rows, ROW))


def last_readings(instrument: Instrument) -> dict[int, Reading]:
    """Newest reading of each channel of an instrument."""
    newest = (
        Reading.unscoped.filter(channel__instrument=instrument)
        .order_by("channel_id", "-time")
        .distinct("channel_id")
    )
    return {r.channel_id: r for r in newest}
