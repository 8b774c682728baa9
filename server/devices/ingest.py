"""A device's batch into the readings: once, however often it is sent."""

from dataclasses import dataclass, replace
from datetime import datetime

import numpy as np
from django.db import IntegrityError, connection

from core.instrument.kinds import Quantity
from core.sentence import sentence
from server.base.errors import RequestError
from server.base.retrying import retried
from server.devices.auth import count_request
from server.devices.body import Sent
from server.devices.models import Device
from server.instruments.models import Channel
from server.readings.incoming import Checked, RefusedRow, check_rows
from server.readings.models import ReadingBatch
from server.readings.store import UpsertCount, open_months, store_readings

CLOCK_WRONG_SECONDS = 120.0


@dataclass(frozen=True)
class IngestReport:
    """What became of a batch; ``repeated`` when it had come before."""

    batch: int
    count: UpsertCount
    refused: list[RefusedRow]
    refused_count: int
    repeated: bool = False
    skew_seconds: float | None = None


def channels_of(device: Device) -> dict[int, Quantity]:
    """Channels that a device may write to, with what each writes down."""
    rows = Channel.objects.for_farm(device.farm)
    scope = list(device.instruments.values_list("pk", flat=True))
    if scope:
        rows = rows.filter(instrument__in=scope)
    return {pk: Quantity(q) for pk, q in rows.values_list("pk", "quantity")}


def _earlier_report(device: Device, key: str | None) -> IngestReport | None:
    if key is None:
        return None
    batch = ReadingBatch.objects.for_farm(device.farm).filter(device=device, key=key).first()
    if batch is None:
        return None
    refused = [RefusedRow(**r) for r in batch.refused]
    count = UpsertCount(batch.new, batch.changed, batch.unchanged)
    return IngestReport(batch.pk, count, refused, batch.refused_count, repeated=True)


def ingest(device: Device, sent: Sent, at: datetime) -> IngestReport:
    """Store what a device sent: the good rows, each once; the others are named.

    Parameters
    ----------
    at : datetime
        The real time, against which the device's rate is held; readings are judged by the
        farm's own clock.

    Raises
    ------
    TooMuch
    RequestError
        When the device was revoked meanwhile, or two requests brought the same batch at once.
    """
    now = device.farm.now()
    checked = check_rows(
        sent.channel, sent.time_us, sent.value, sent.unit, channels_of(device), now
    )
    open_months(checked.rows)
    try:
        return _taken(device, sent, checked, at, now)
    except IntegrityError as error:
        raise RequestError(
            sentence("The same batch was received twice at once. Send it again.")
        ) from error


@retried
def _taken(
    device: Device, sent: Sent, checked: Checked, at: datetime, now: datetime
) -> IngestReport:
    # One request of a device at a time: what it says of itself must not interleave.
    earlier = (
        Device.objects.for_farm(device.farm)
        .select_for_update(of=("self",))
        .select_related("farm")
        .filter(pk=device.pk, revoked_at=None)
        .first()
    )
    if earlier is None:
        raise RequestError(sentence("This device's token was revoked."))
    count_request(earlier, sent.channel.size, at)
    report = _earlier_report(earlier, sent.key)
    if report is None:
        with connection.cursor() as cursor:
            # So that nobody who looks at the board waits for what it changes.
            cursor.execute("SET LOCAL furrow.by_logger = 'on'")
            report = _stored(earlier, sent, checked)
            cursor.execute("SET LOCAL furrow.by_logger = ''")
    _note_health(earlier, sent, now, report)
    return replace(report, skew_seconds=earlier.skew_seconds)


def _stored(device: Device, sent: Sent, checked: Checked) -> IngestReport:
    batch = ReadingBatch(
        farm=device.farm,
        origin=ReadingBatch.Origin.DEVICE,
        device=device,
        key=sent.key,
        refused=[{"row": r.row, "reason": r.reason} for r in checked.refused],
        refused_count=checked.refused_count,
    )
    batch.save()
    count = store_readings(batch, checked.rows)
    return IngestReport(batch.pk, count, checked.refused, checked.refused_count)


def _note_health(device: Device, sent: Sent, now: datetime, report: IngestReport) -> None:
    device.last_seen_at = now
    device.last_refused = report.refused_count
    if sent.sent_at is not None:
        device.skew_seconds = float(np.clip((sent.sent_at - now).total_seconds(), -1e9, 1e9))
    if sent.battery_v is not None:
        device.battery_v = sent.battery_v
    if sent.signal_dbm is not None:
        device.signal_dbm = sent.signal_dbm
    # Past the change history: a logger's word every quarter of an hour is no change of set-up.
    Device.objects.for_farm(device.farm).filter(pk=device.pk).update(
        last_seen_at=device.last_seen_at,
        last_refused=device.last_refused,
        skew_seconds=device.skew_seconds,
        battery_v=device.battery_v,
        signal_dbm=device.signal_dbm,
        window_start=device.window_start,
        window_requests=device.window_requests,
        window_rows=device.window_rows,
    )
