"""Every instrument at a glance: its last word, how much of it is trusted, what is due."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db import connection
from django.db.models import Exists, OuterRef

from core.instrument.kinds import InstrumentKind, Quantity, kinds
from core.instrument.life import LifeStatus, LogEntry, TaskDue, life_status, tasks_due
from core.quality.flags import reasons
from server.farms.models import Farm
from server.fieldwork.schemas import HealthOut, TaskOut
from server.instruments.models import Channel, ChannelCalibration, Instrument, InstrumentEvent

WEEK = timedelta(days=7)
# What is told of an instrument and its block.
OF_INSTRUMENT = ("label", "kind", "serial", "site", "block_id", "block__name")
# Channel by channel by the spans' key: joined as one, the whole season's spans would be read.
_WEEK_OF = """
SELECT c.instrument_id, sum(s.readings)::int8, sum(s.doubted)::int8, bit_or(s.flags)::int8
FROM instruments_channel c CROSS JOIN LATERAL (
    SELECT sum(count) AS readings, sum(doubted) AS doubted, bit_or(flags) AS flags
    FROM readings_readingspan
    WHERE channel_id = c.id AND start > %(since)s AND last_at <= %(now)s
) s
WHERE c.instrument_id = ANY(%(instruments)s) AND s.readings > 0
GROUP BY 1
"""
# The newest reading of each channel by the newest span: no look into every month of readings.
_LAST = """
SELECT c.instrument_id, max(s.last_at)
FROM instruments_channel c CROSS JOIN LATERAL (
    SELECT last_at FROM readings_readingspan
    WHERE channel_id = c.id AND last_at <= %(now)s AND start <= %(now)s
    ORDER BY start DESC LIMIT 1
) s
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


@dataclass(frozen=True)
class _Channel:
    quantity: str
    depth_mm: float | None
    has_curve: bool


@dataclass(frozen=True)
class _Parts:
    """What is known of an instrument; ``device`` tells battery [V] and signal [dBm]."""

    week: _Week
    last: datetime | None
    device: tuple[float | None, float | None] | None
    log: list[LogEntry]
    channels: list[_Channel]


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
    """The farm's instruments with their blocks, by block and label."""
    return list(
        Instrument.objects.for_farm(farm)
        .select_related("block")
        .only(*OF_INSTRUMENT)
        .order_by("block__name", "label")
    )


def health_of(farm: Farm, instruments: Sequence[Instrument]) -> list[HealthOut]:
    """Health of instruments with their blocks; six queries however many they are."""
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
    log, channels = _logs(instruments), _channels(instruments)
    return [
        _health(
            farm,
            i,
            now,
            _Parts(
                week.get(i.pk, _Week()),
                last.get(i.pk),
                device.get(i.pk, whole_farm if kinds()[InstrumentKind(i.kind)].logged else None),
                log[i.pk],
                channels[i.pk],
            ),
        )
        for i in instruments
    ]


def _logs(instruments: Sequence[Instrument]) -> dict[int, list[LogEntry]]:
    """The log of each instrument, oldest first."""
    out: dict[int, list[LogEntry]] = defaultdict(list)
    rows = InstrumentEvent.unscoped.filter(instrument__in=[i.pk for i in instruments])
    for event in rows.order_by("at", "pk"):
        out[event.instrument_id].append(event.entry)
    return out


def _channels(instruments: Sequence[Instrument]) -> dict[int, list[_Channel]]:
    """The channels of each instrument."""
    out: dict[int, list[_Channel]] = defaultdict(list)
    curve = ChannelCalibration.unscoped.filter(channel=OuterRef("pk"), undone_at=None)
    rows = Channel.unscoped.filter(instrument__in=[i.pk for i in instruments])
    for instrument, *channel in rows.values_list(
        "instrument_id", "quantity", "depth_mm", Exists(curve)
    ):
        out[instrument].append(_Channel(*channel))
    return out


def _health(
    farm: Farm,
    row: Instrument,
    now: datetime,
    parts: _Parts,
) -> HealthOut:
    kind = InstrumentKind(row.kind)
    facts = kinds()[kind]
    status = life_status(parts.log, facts.settles_days, now)
    retired = status is LifeStatus.RETIRED
    tasks = [] if retired else tasks_due(facts.tasks, parts.log, now)
    battery, signal = parts.device or (None, None)
    week, last = parts.week, parts.last
    return HealthOut(
        id=row.pk,
        label=row.label,
        kind=kind,
        kind_name=facts.name,
        block_id=row.block_id,
        block=row.block.name,
        serial=row.serial,
        site=row.site,
        depths_mm=sorted({c.depth_mm for c in parts.channels if c.depth_mm is not None}),
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
        needs_calibration=any(
            c.quantity == Quantity.COUNTS and not c.has_curve for c in parts.channels
        ),
    )
