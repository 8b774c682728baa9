"""Events brought up to the readings: only what changed is read anew.

What is read anew begins at an event some days before the first change, so that water on its way
down, and what drained from an event until the next, is told from all of its readings.
"""

from collections.abc import Iterable
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from django.db import connection, transaction

from core.events.event import site_noise, wetting_events
from core.events.rises import LONGEST_GAP_H
from core.events.version import EVENTS_VERSION
from server.base.incident import isolated
from server.base.json_out import known
from server.blocks.loading import blocks_of
from server.blocks.models import Block
from server.blocks.record_days import first_day
from server.events.models import EventsRead, Wetting
from server.events.reading import InstrumentRecord, block_records, midnight, wetting_rows
from server.farms.models import Farm
from server.limits.facts import block_facts, warmth_since
from server.readings.recent import thinned_readings
from server.readings.sites import channel_ids, soil_channels
from server.readings.water_table import water_tables
from server.water.models import Irrigation
from server.weather.recorded import farm_weather

# Readings closer together add nothing to an event [h].
STEP_H = 0.25
# A change may alter events that began so long before it: water is on its way for days.
ON_ITS_WAY = timedelta(days=6)
# The rise of an event is seen from readings before it, across a gap.
BEFORE = timedelta(hours=LONGEST_GAP_H + 12)
# The noise of sensors is found anew with the whole season, so often.
WHOLE_EVERY = timedelta(days=30)

# Notes are taken and what they make wrong is marked in one statement: none is taken unseen.
_TAKE = """
WITH taken AS (
    DELETE FROM events_touched WHERE farm_id = %(farm)s RETURNING block_id, first_on
), wrong AS (
    SELECT b.id AS block_id, min(coalesce(t.first_on, '-infinity')) AS first_on
    FROM taken t JOIN blocks_block b ON b.farm_id = %(farm)s
        AND (t.block_id IS NULL OR t.block_id = b.id)
    WHERE coalesce(t.first_on, '-infinity') < 'infinity'
    GROUP BY b.id
)
UPDATE events_eventsread r
SET wrong_from = greatest(least(coalesce(r.wrong_from, 'infinity'), w.first_on), %(oldest)s)
FROM wrong w WHERE r.block_id = w.block_id
"""
# Asked without a lock: a hundred people may look at a page at once.
_IS_DUE = """
SELECT EXISTS (
    SELECT FROM events_touched WHERE farm_id = %(farm)s
        AND (block_id IS NULL OR block_id = ANY(%(blocks)s))
        AND coalesce(first_on, '-infinity') < 'infinity'
) OR EXISTS (
    SELECT FROM blocks_block b LEFT JOIN events_eventsread r ON r.block_id = b.id
    WHERE b.farm_id = %(farm)s AND b.id = ANY(%(blocks)s) AND (
        r.block_id IS NULL OR r.version <> %(version)s OR r.wrong_from IS NOT NULL
        OR r.whole_at < %(whole)s
    )
)
"""
# The database's locks have numbers of 31 bits: two blocks that share one only wait.
LOCK_NUMBERS = 2**31
# No record of a farm begins earlier; Python's dates know no infinity.
_OLDEST = date(1900, 1, 1)


def _take_notes(farm: Farm) -> None:
    """Mark what has changed of the farm's blocks since, and take the notes of it away."""
    with connection.cursor() as cursor:
        cursor.execute(_TAKE, {"farm": farm.pk, "oldest": _OLDEST})


def lock_block(what: str, block_id: int) -> None:
    """Keep others from doing the same to a block until the transaction ends; its neighbours are
    nobody's matter, so that a page never waits for a whole farm."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT pg_advisory_xact_lock(hashtext(%s), %s)", [what, block_id % LOCK_NUMBERS]
        )


def bring_up(farm: Farm, block_ids: Iterable[int] | None = None) -> list[int]:
    """Read anew what has changed of blocks' events, all of the farm's if none are named.

    Returns
    -------
    list of int
        The blocks that were read. One that can't be is recorded, and keeps nobody else's from
        being read.
    """
    now = farm.now()
    asked = None if block_ids is None else list(block_ids)
    if asked is not None and not _any_due(farm, asked, now):
        return []
    _take_notes(farm)
    blocks = blocks_of(farm)
    if asked is not None:
        blocks = blocks.filter(pk__in=asked)
    read = {r.pk: r for r in EventsRead.objects.for_farm(farm)}
    done = []
    for block in (b for b in blocks if _is_due(read.get(b.pk), now)):
        with isolated(f"events of block {block.pk}"), transaction.atomic():
            lock_block("wetting events", block.pk)
            # Another one may have read it while this one waited.
            before = EventsRead.objects.for_farm(farm).filter(pk=block.pk).first()
            if _is_due(before, now):
                _read(farm, block, before, now)
                done.append(block.pk)
    return done


def _any_due(farm: Farm, blocks: list[int], now: datetime) -> bool:
    """Whether any of some blocks has changed, or has never been read by these rules."""
    with connection.cursor() as cursor:
        cursor.execute(
            _IS_DUE,
            {
                "farm": farm.pk,
                "blocks": blocks,
                "version": EVENTS_VERSION,
                "whole": now - WHOLE_EVERY,
            },
        )
        return bool(cursor.fetchone()[0])


def _is_due(read: EventsRead | None, now: datetime) -> bool:
    return (
        read is None
        or read.version != EVENTS_VERSION
        or read.wrong_from is not None
        or now - read.whole_at > WHOLE_EVERY
    )


def _read(farm: Farm, block: Block, read: EventsRead | None, now: datetime) -> None:
    kept = Wetting.objects.for_farm(farm).filter(block=block)
    cut = _cut(farm, block, read, now)
    if read is None or cut is None:
        begin = _beginning(farm, block, read, now)
        records = site_records(farm, block, begin, now, {})
        found = site_noise([r.record for r in records])
        records = [
            replace(r, record=replace(r.record, noise=own))
            for r, own in zip(records, found, strict=True)
        ]
        sensors = np.concatenate([np.empty(0), *found])
        channels = [c.pk for r in records for c in soil_channels(r.instrument)]
        read = EventsRead(
            block=block, whole_at=now, channels=channels, noise=[known(x) for x in sensors]
        )
        kept.filter(began_by__gte=begin).delete()
    else:
        begin = max(_beginning(farm, block, read, now), cut - BEFORE)
        pairs = zip(read.channels, read.noise, strict=True)
        noise = {c: np.nan if x is None else x for c, x in pairs}
        records = site_records(farm, block, begin, now, noise)
        kept.filter(began_by__gte=cut).delete()
    events = wetting_events([r.record for r in records])
    Wetting.unscoped.bulk_create(
        row
        for record, seen in zip(records, events, strict=True)
        for row in wetting_rows(block, record, seen)
        if cut is None or row.began_by >= cut
    )
    read.version, read.wrong_from = EVENTS_VERSION, None
    read.readings += 1
    read.save()


def _beginning(farm: Farm, block: Block, read: EventsRead | None, now: datetime) -> datetime:
    """Where a block's events begin: with its season; by other rules all are read anew."""
    begin = midnight(first_day(block, now.date()), now)
    if read is None or read.version == EVENTS_VERSION:
        return begin
    oldest = Wetting.objects.for_farm(farm).filter(block=block).first()
    return min(begin, oldest.began_after) if oldest else begin


def _cut(farm: Farm, block: Block, read: EventsRead | None, now: datetime) -> datetime | None:
    """The event from which events are read anew; None for all of the season."""
    if (
        read is None
        or read.version != EVENTS_VERSION
        or now - read.whole_at > WHOLE_EVERY
        or read.wrong_from is None
        or read.wrong_from <= _OLDEST
        or sorted(read.channels) != sorted(channel_ids([block]))
    ):
        return None
    changed = midnight(read.wrong_from - timedelta(days=1), now)
    before = Wetting.objects.for_farm(farm).filter(block=block, began_by__lte=changed - ON_ITS_WAY)
    # Of each instrument the last one goes on draining until its next.
    lasts = (
        before.order_by("instrument", "-began_by")
        .distinct("instrument")
        .values_list("began_by", flat=True)
    )
    return min(lasts, default=None)


def site_records(
    farm: Farm,
    block: Block,
    begin: datetime,
    now: datetime,
    noise: dict[int, float],
    step_h: float = STEP_H,
) -> list[InstrumentRecord]:
    """The block's record from a moment on, a reading in each step, in a fixed number of queries."""
    step = timedelta(hours=step_h)
    # Whole steps of the clock: whenever it is read, the same readings stand for the same time.
    until = now.astimezone(UTC)
    until += -(until - datetime.min.replace(tzinfo=UTC)) % step
    days = (until - begin) / timedelta(days=1)
    weather = farm_weather(farm, now, int(days) + 1, warmth_since([block], now.date()))
    facts = block_facts(farm, [block], now, weather, water_tables([block], now))[block.pk]
    sets = list(
        Irrigation.objects.for_farm(farm)
        .filter(block=block, ended_at__gt=begin)
        .order_by("started_at")
    )
    readings = thinned_readings(channel_ids([block]), until, days, step_h)
    zone = ZoneInfo(farm.time_zone)
    first = begin.astimezone(zone).date()
    return block_records(block, facts, weather, sets, readings, until, zone, first, noise)
