"""Every instrument at a glance: its last word, how much of it is trusted, what is due."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import NamedTuple

from django.db import connection

from core.instrument.kinds import InstrumentKind, Quantity, kinds
from core.instrument.life import LifeStatus, LogEntry, LogKind, TaskDue, life_status, tasks_due
from core.quality.flags import reasons
from server.farms.models import Farm
from server.fieldwork.schemas import HealthOut, TaskOut
from server.instruments.models import Instrument, InstrumentEvent

# An instrument with a smaller share of trusted readings needs attention (working assumption, no
# source).
RELIABLE_SHARE = 0.9
WEEK = timedelta(days=7)
# Channel by channel by the spans' key: joined as one, the whole season's spans would be read. The
# newest reading by the newest span, which is looked for only where none is of the week.
_CHANNELS = """
SELECT c.instrument_id,
    coalesce(sum(week.readings), 0)::int8, coalesce(sum(week.doubted), 0)::int8,
    coalesce(bit_or(week.flags), 0)::int8, max(coalesce(week.last_at, newest.last_at)),
    coalesce(array_agg(DISTINCT c.depth_mm) FILTER (WHERE c.depth_mm IS NOT NULL), '{}'),
    bool_or(c.quantity = %(counts)s AND NOT EXISTS (
        SELECT FROM instruments_channelcalibration curve
        WHERE curve.channel_id = c.id AND curve.undone_at IS NULL
    ))
FROM instruments_channel c
CROSS JOIN LATERAL (
    SELECT sum(count) AS readings, sum(doubted) AS doubted, bit_or(flags) AS flags,
        max(last_at) AS last_at
    FROM readings_readingspan
    WHERE channel_id = c.id AND start > %(since)s AND last_at <= %(now)s
) week
LEFT JOIN LATERAL (
    SELECT last_at FROM readings_readingspan
    WHERE week.last_at IS NULL
        AND channel_id = c.id AND last_at <= %(now)s AND start <= %(now)s
    ORDER BY start DESC LIMIT 1
) newest ON true
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


class _Instrument(NamedTuple):
    """What is told of an instrument and its block."""

    id: int
    label: str
    kind: str
    serial: str
    site: str
    block_id: int
    block: str


@dataclass(frozen=True)
class _Channels:
    """All channels of an instrument: its past week's readings, its newest one, its depths [mm],
    and whether one writes counts that no curve turns into anything."""

    readings: int = 0
    doubted: int = 0
    flags: int = 0
    last_at: datetime | None = None
    depths_mm: Sequence[float] = ()
    needs_calibration: bool = False


@dataclass(frozen=True)
class _Parts:
    """What is known of an instrument; ``device`` tells battery [V] and signal [dBm]."""

    channels: _Channels
    device: tuple[float | None, float | None] | None
    log: list[LogEntry]


def task_out(due: TaskDue, now: datetime) -> TaskOut:
    """A task with its dates."""
    return TaskOut(
        key=due.task.key,
        name=due.task.name,
        last=due.last,
        due=due.due,
        overdue=due.overdue(now),
    )


def health_of(farm: Farm, only: int | None = None) -> list[HealthOut]:
    """Health of the farm's instruments by block and label, or of one alone; a few queries however
    many they are."""
    now = farm.now()
    instruments = _instruments(farm, only)
    ids = [i.id for i in instruments]
    asked: dict[str, datetime | int | str | list[int]] = {
        "instruments": ids,
        "counts": str(Quantity.COUNTS),
        "since": now - WEEK,
        "now": now,
        "farm": farm.pk,
    }
    with connection.cursor() as cursor:
        cursor.execute(_CHANNELS, asked)
        channels = {r[0]: _Channels(*r[1:]) for r in cursor.fetchall()}
        cursor.execute(_DEVICES, asked)
        device = {r[0]: r[1:] for r in cursor.fetchall()}
        cursor.execute(_WHOLE_FARM, asked)
        whole_farm = cursor.fetchone()
    log = _logs(ids)
    return [
        _health(
            farm,
            i,
            now,
            _Parts(
                channels.get(i.id, _Channels()),
                device.get(i.id, whole_farm if kinds()[InstrumentKind(i.kind)].logged else None),
                log[i.id],
            ),
        )
        for i in instruments
    ]


def _instruments(farm: Farm, only: int | None) -> list[_Instrument]:
    rows = Instrument.objects.for_farm(farm).order_by("block__name", "label")
    if only is not None:
        rows = rows.filter(pk=only)
    facts = rows.values_list("pk", "label", "kind", "serial", "site", "block_id", "block__name")
    return [_Instrument(*row) for row in facts]


def _logs(instruments: Sequence[int]) -> dict[int, list[LogEntry]]:
    """The log of each instrument, oldest first."""
    out: dict[int, list[LogEntry]] = defaultdict(list)
    rows = InstrumentEvent.unscoped.filter(instrument__in=instruments).order_by("at", "pk")
    for instrument, kind, at, done in rows.values_list("instrument_id", "kind", "at", "done"):
        out[instrument].append(LogEntry(LogKind(kind), at, tuple(done)))
    return out


def _health(farm: Farm, row: _Instrument, now: datetime, parts: _Parts) -> HealthOut:
    kind = InstrumentKind(row.kind)
    facts = kinds()[kind]
    status = life_status(parts.log, facts.settles_days, now)
    retired = status is LifeStatus.RETIRED
    tasks = [] if retired else tasks_due(facts.tasks, parts.log, now)
    battery, signal = parts.device or (None, None)
    found = parts.channels
    last = found.last_at
    trusted = 1 - found.doubted / found.readings if found.readings else None
    return HealthOut(
        id=row.id,
        label=row.label,
        kind=kind,
        kind_name=facts.name,
        block_id=row.block_id,
        block=row.block,
        serial=row.serial,
        site=row.site,
        depths_mm=list(found.depths_mm),
        status=status,
        simulated=farm.simulated,
        last_at=last,
        silent=not retired and (last is None or now - last > timedelta(hours=facts.max_age_hours)),
        readings=found.readings,
        trusted=trusted,
        unreliable=trusted is not None and trusted < RELIABLE_SHARE,
        flags=reasons(found.flags),
        battery_v=battery,
        signal_dbm=signal,
        next_task=task_out(tasks[0], now) if tasks else None,
        needs_calibration=found.needs_calibration,
    )
