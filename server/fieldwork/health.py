"""Every instrument at a glance: its last word, how much of it is trusted, what is due."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db import connection

from core.instrument.kinds import InstrumentKind, Quantity, kinds
from core.instrument.life import LifeStatus, TaskDue, life_status, tasks_due
from core.quality.flags import reasons
from server.farms.models import Farm
from server.fieldwork.schemas import HealthOut, TaskOut
from server.instruments.models import Instrument

WEEK = timedelta(days=7)
_WEEK_OF = """
SELECT c.instrument_id, sum(s.count)::int8, sum(s.doubted)::int8, bit_or(s.flags)::int8
FROM readings_readingspan s JOIN instruments_channel c ON c.id = s.channel_id
WHERE c.instrument_id = ANY(%(instruments)s) AND s.start > %(since)s AND s.last_at <= %(now)s
GROUP BY 1
"""
# The newest reading of each channel by its key: no scan of the readings.
_LAST = """
SELECT c.instrument_id, max(r."time")
FROM instruments_channel c CROSS JOIN LATERAL (
    SELECT "time" FROM readings_reading
    WHERE channel_id = c.id AND "time" <= %(now)s ORDER BY "time" DESC LIMIT 1
) r
WHERE c.instrument_id = ANY(%(instruments)s)
GROUP BY 1
"""
_DEVICES = """
SELECT di.instrument_id, d.battery_v, d.signal_dbm
FROM devices_device_instruments di JOIN devices_device d ON d.id = di.device_id
WHERE di.instrument_id = ANY(%(instruments)s) AND d.revoked_at IS NULL
"""

# A logger that reaches the whole farm speaks for its logged instruments, if it is the only one.
_WHOLE_FARM = """
SELECT min(d.battery_v), min(d.signal_dbm) FROM devices_device d
WHERE d.farm_id = %(farm)s AND d.revoked_at IS NULL AND NOT EXISTS (
    SELECT FROM devices_device_instruments di WHERE di.device_id = d.id
)
HAVING count(*) = 1
"""


@dataclass(frozen=True)
class _Week:
    readings: int = 0
    doubted: int = 0
    flags: int = 0


def task_out(due: TaskDue, now: datetime) -> TaskOut:
    """A task with its dates."""
    return TaskOut(
        key=due.task.key,
        name=due.task.name,
        last=due.last,
        due=due.due,
        overdue=due.overdue(now),
    )


def instruments_of(farm: Farm) -> list[Instrument]:
    """The farm's instruments with channels, curves and log, in a fixed number of queries."""
    return list(
        Instrument.objects.for_farm(farm)
        .select_related("block")
        .defer("block__outline")
        .prefetch_related("channels__calibrations", "events")
        .order_by("block__name", "label")
    )


def health_of(farm: Farm, instruments: Sequence[Instrument]) -> list[HealthOut]:
    """Health of instruments whose parts are prefetched; four queries however many they are."""
    now = farm.now()
    asked: dict[str, datetime | int | list[int]] = {
        "instruments": [i.pk for i in instruments],
        "since": now - WEEK,
        "now": now,
        "farm": farm.pk,
    }
    with connection.cursor() as cursor:
        cursor.execute(_WEEK_OF, asked)
        week = {r[0]: _Week(*r[1:]) for r in cursor.fetchall()}
        cursor.execute(_LAST, asked)
        last = dict(cursor.fetchall())
        cursor.execute(_DEVICES, asked)
        device = {r[0]: r[1:] for r in cursor.fetchall()}
        cursor.execute(_WHOLE_FARM, asked)
        whole_farm = cursor.fetchone()
    return [
        _health(farm, i, now, week.get(i.pk, _Week()), last.get(i.pk), device.get(i.pk), whole_farm)
        for i in instruments
    ]


def _health(
    farm: Farm,
    row: Instrument,
    now: datetime,
    week: _Week,
    last: datetime | None,
    device: tuple[float | None, float | None] | None,
    whole_farm: tuple[float | None, float | None] | None,
) -> HealthOut:
    kind = InstrumentKind(row.kind)
    facts = kinds()[kind]
    log = [e.entry for e in row.events.all()]
    status = life_status(log, facts.settles_days, now)
    retired = status is LifeStatus.RETIRED
    tasks = [] if retired else tasks_due(facts.tasks, log, now)
    channels = row.channels.all()
    bare = [
        c
        for c in channels
        if c.quantity == Quantity.COUNTS
        and not any(k.undone_at is None for k in c.calibrations.all())
    ]
    battery, signal = device or ((whole_farm or (None, None)) if facts.logged else (None, None))
    return HealthOut(
        id=row.pk,
        label=row.label,
        kind=kind,
        kind_name=facts.name,
        block_id=row.block_id,
        block=row.block.name,
        serial=row.serial,
        site=row.site,
        depths_mm=sorted({c.depth_mm for c in channels if c.depth_mm is not None}),
        status=status,
        simulated=farm.simulated,
        last_at=last,
        silent=not retired and (last is None or now - last > timedelta(hours=facts.max_age_hours)),
        readings=week.readings,
        trusted=1 - week.doubted / week.readings if week.readings else None,
        flags=reasons(week.flags),
        battery_v=battery,
        signal_dbm=signal,
        next_task=task_out(tasks[0], now) if tasks else None,
        needs_calibration=bool(bare),
    )
