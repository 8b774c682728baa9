"""Readings typed by hand."""

from dataclasses import dataclass
from datetime import datetime
from zoneinfo import ZoneInfo

import numpy as np

from core.instrument.kinds import InstrumentKind, kinds
from core.instrument.possible import why_impossible
from core.instrument.reading_units import ReadingUnit, code_of, quantity_of
from core.sentence import sentence
from server.base.errors import Problem, RequestError
from server.base.moment import to_instant
from server.base.retrying import retried
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.instruments.models import Channel, Instrument
from server.readings.binary_copy import Records
from server.readings.models import Reading, ReadingBatch
from server.readings.store import ROW, UpsertCount, open_months, row_of, store_readings


def _check_unit(instrument: Instrument, unit: ReadingUnit) -> None:
    kind = InstrumentKind(instrument.kind)
    if quantity_of(unit) != kinds()[kind].quantity:
        raise RequestError(
            sentence(
                "{instrument} can't be read in {unit}.",
                instrument=instrument.label,
                unit=unit,
            ),
            (
                Problem(
                    field="unit",
                    message=sentence(
                        "{name} do not read in {unit}. Choose another unit or another instrument.",
                        name=kinds()[kind].name,
                        unit=unit,
                    ),
                ),
            ),
        )


@dataclass(frozen=True)
class HandReading:
    """A value read off at one channel."""

    channel_id: int
    value: float


@acting(Action.RECORD_READINGS, whole=False)
def enter_readings(
    access: Access,
    instrument: Instrument,
    time: datetime,
    unit: ReadingUnit,
    values: list[HandReading],
) -> UpsertCount:
    """Store readings of one visit.

    ``time`` without an offset is farm-local. RequestError whole when one value can't be.
    """
    _check_unit(instrument, unit)
    instant = to_instant(time, ZoneInfo(access.farm.time_zone))
    problems = []
    if instant is None:
        problems.append(
            Problem(
                field="time",
                message=sentence("That time was skipped when the clocks went forward."),
            )
        )
    elif instant > access.now():
        problems.append(Problem(field="time", message=sentence("That time is in the future.")))
    if not values:
        problems.append(Problem(field="values", message=sentence("Enter at least one reading.")))
    channels: dict[int, Channel] = {c.pk: c for c in instrument.channels.all()}
    for i, item in enumerate(values):
        if item.channel_id not in channels:
            problems.append(
                Problem(
                    field=f"values.{i}",
                    message=sentence("That sensor does not belong to this instrument."),
                )
            )
            continue
        wrong = why_impossible(item.value, unit)
        if wrong is not None:
            problems.append(Problem(field=f"values.{i}", message=wrong))
    if len({v.channel_id for v in values}) < len(values):
        problems.append(Problem(field="values", message=sentence("A sensor has two readings.")))
    if problems or instant is None:
        raise RequestError(sentence("The readings were not stored."), tuple(problems))
    rows = [row_of(v.channel_id, instant, v.value, code_of(unit)) for v in values]
    records = np.array(rows, ROW)
    open_months(records)
    return _stored(access, instrument, records)


@retried
def _stored(access: Access, instrument: Instrument, rows: Records) -> UpsertCount:
    batch = ReadingBatch(farm=access.farm, origin=ReadingBatch.Origin.HAND, made_by=access.user)
    batch.save()
    record(
        access,
        Done.READINGS_ENTERED,
        instrument.label,
        thing=batch.pk,
        block=instrument.block_id,
    )
    return store_readings(batch, rows)


def last_readings(instrument: Instrument) -> dict[int, Reading]:
    """Newest reading of each channel of an instrument."""
    newest = (
        Reading.unscoped.filter(channel__instrument=instrument)
        .order_by("channel_id", "-time")
        .distinct("channel_id")
    )
    return {r.channel_id: r for r in newest}
