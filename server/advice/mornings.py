"""Blocks' ensembles kept by morning, so that a day costs a day and not a season.

A row is true for as long as nothing that happened before its morning was told otherwise since:
what changes such things notes the first morning that it makes wrong, see `Touched`. Rows are
only written while the farm's lock is held, so that none made of older records comes in behind
their removal.
"""

from collections.abc import Collection, Mapping, Sequence
from datetime import date, timedelta
from typing import Any

import numpy as np
from django.db import connection, transaction

from core.advice.estimated import STEPS_A_DAY
from core.advice.version import RULES_VERSION
from core.estimate.blocks import MEMBERS
from core.estimate.checkpoint import Checkpoint
from core.estimate.ensemble import COUNTERS
from core.estimate.news import REMEMBERED
from core.estimate.notes import NOTES
from server.farms.models import Farm

# Members are kept of the newest days, and of every fifth before them: to replay from.
DAILY, EVERY = 10, 5
# Of so many days before a checkpoint the notes are read with it.
NOTED_DAYS = 18
LONGEST_SEASON = timedelta(days=400)

# What somebody changed lately and no line has taken in yet still makes mornings wrong.
_NEWEST = """
WITH wrong AS (
    SELECT block_id, min(coalesce(first_on, '-infinity')) AS first_on
    FROM advice_touched WHERE farm_id = %(farm)s GROUP BY block_id
)
SELECT DISTINCT ON (m.block_id) m.block_id, m."on", m.ground, m.members, m.memory, m.counters
FROM advice_estimatedmorning m
WHERE m.block_id = ANY(%(blocks)s) AND m."on" < %(today)s AND m.version = %(version)s
    AND m.members IS NOT NULL AND NOT EXISTS (
        SELECT 1 FROM wrong w
        WHERE (w.block_id IS NULL OR w.block_id = m.block_id) AND m."on" >= w.first_on
    )
ORDER BY m.block_id, m."on" DESC
"""
_NOTES = """
SELECT block_id, "on", notes FROM advice_estimatedmorning
WHERE block_id = ANY(%(blocks)s) AND "on" > %(since)s AND "on" < %(today)s
    AND version = %(version)s
ORDER BY block_id, "on"
"""
_KEEP = """
INSERT INTO advice_estimatedmorning
    (block_id, "on", version, ground, notes, members, memory, counters)
VALUES (%s, %s, %s, %s, %s, %s, %s, %s)
ON CONFLICT (block_id, "on") DO UPDATE SET version = EXCLUDED.version,
    ground = EXCLUDED.ground, notes = EXCLUDED.notes,
    members = EXCLUDED.members, memory = EXCLUDED.memory, counters = EXCLUDED.counters
"""
_THIN = """
UPDATE advice_estimatedmorning SET members = NULL, memory = NULL, counters = NULL
WHERE block_id = ANY(%(blocks)s) AND members IS NOT NULL AND "on" < %(daily)s
    AND ("on" - DATE '0001-01-01' + 1) %% %(every)s <> 0
"""
_FORGET = 'DELETE FROM advice_estimatedmorning WHERE block_id = ANY(%(blocks)s) AND "on" < %(old)s'
# A block of which nothing could be followed has an empty row as of yesterday: nobody tries again
# before something changes, or before tomorrow.
_IN_VAIN = """
SELECT m.block_id FROM advice_estimatedmorning m
WHERE m.block_id = ANY(%(blocks)s) AND m."on" = %(on)s AND m.version = %(version)s
    AND m.notes = ''::bytea AND NOT EXISTS (
        SELECT 1 FROM advice_touched t
        WHERE t.farm_id = %(farm)s AND (t.block_id IS NULL OR t.block_id = m.block_id)
            AND m."on" >= coalesce(t.first_on, '-infinity')
    )
"""
# The notes are taken and what they make wrong goes, in one statement: none is taken unseen.
_TAKE = """
WITH taken AS (
    DELETE FROM advice_touched WHERE farm_id = %(farm)s RETURNING block_id, first_on, by_logger
), wrong AS (
    SELECT block_id, min(coalesce(first_on, '-infinity')) AS first_on,
        bool_and(by_logger) AS by_logger
    FROM taken GROUP BY block_id
), gone AS (
    DELETE FROM advice_estimatedmorning m USING wrong w, blocks_block b
    WHERE b.farm_id = %(farm)s AND m.block_id = b.id
        AND (w.block_id IS NULL OR w.block_id = m.block_id) AND m."on" >= w.first_on
)
SELECT block_id, by_logger FROM wrong
"""


def lock_farm(farm: Farm) -> None:
    """Keep others from writing the farm's mornings until the transaction ends."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_advisory_xact_lock(hashtext('advice mornings'), %s)", [farm.pk])


def take_touched(farm: Farm) -> dict[int | None, bool]:
    """Which blocks were touched, None for all of the farm, and whether only by loggers; the notes
    are taken away, and with them the mornings that they make wrong.

    What is noted from here on is seen by the loading after it, and stays noted all the same.
    """
    with connection.cursor() as cursor:
        cursor.execute(_TAKE, {"farm": farm.pk})
        return dict(cursor.fetchall())


def followed_in_vain(farm: Farm, blocks: Collection[int], today: date) -> set[int]:
    """Blocks of which nothing could be followed today."""
    on = today - timedelta(days=1)
    with connection.cursor() as cursor:
        cursor.execute(
            _IN_VAIN,
            {"farm": farm.pk, "blocks": list(blocks), "on": on, "version": RULES_VERSION},
        )
        return {row[0] for row in cursor.fetchall()}


def note_in_vain(blocks: Sequence[int], today: date) -> None:
    """Note that nothing of blocks could be followed; the farm's lock must be held."""
    on = today - timedelta(days=1)
    with connection.cursor() as cursor:
        cursor.executemany(
            _KEEP, [(b, on, RULES_VERSION, b"", b"", None, None, None) for b in blocks]
        )


def is_kept(on: date, today: date) -> bool:
    """Whether the members of a morning are kept."""
    return on >= today - timedelta(days=DAILY) or on.toordinal() % EVERY == 0


def checkpoints(farm: Farm, blocks: Collection[int], today: date) -> dict[int, Checkpoint]:
    """The newest true checkpoint of each block from before today, with its last days' notes."""
    where: dict[str, Any] = {
        "farm": farm.pk,
        "blocks": list(blocks),
        "today": today,
        "version": RULES_VERSION,
    }
    with connection.cursor() as cursor:
        cursor.execute(_NEWEST, where)
        newest = {row[0]: row[1:] for row in cursor.fetchall()}
        if not newest:
            return {}
        earliest = min(row[0] for row in newest.values())
        where["since"] = earliest - timedelta(days=NOTED_DAYS)
        cursor.execute(_NOTES, where)
        noted: dict[int, dict[date, memoryview]] = {}
        for block, on, notes in cursor.fetchall():
            noted.setdefault(block, {})[on] = notes
    return {
        block: Checkpoint(
            on=on,
            ground=bytes(ground),
            members=np.frombuffer(members, np.float32).reshape(-1, MEMBERS),
            memory=np.frombuffer(memory).reshape(-1, REMEMBERED),
            counters=np.frombuffer(counters),
            notes=_notes_before(on, noted.get(block, {})),
        )
        for block, (on, ground, members, memory, counters) in newest.items()
        # A row written by other sizes than these is of no use.
        if len(counters) == 8 * COUNTERS
    }


def _notes_before(on: date, noted: Mapping[date, memoryview]) -> np.ndarray:
    """Notes of the days up to a morning, as far back as there is no gap."""
    days: list[np.ndarray] = []
    while on in noted and len(days) < NOTED_DAYS:
        days.append(np.frombuffer(noted[on], np.float32).reshape(-1, NOTES))
        on -= timedelta(days=1)
    return np.concatenate(days[::-1]) if days else np.empty((0, NOTES), np.float32)


@transaction.atomic
def keep(
    found: Mapping[int, Sequence[Checkpoint]],
    today: date,
    after: Mapping[int, date],
) -> None:
    """Keep checkpoints of blocks, and the notes of the days between them.

    The farm's lock must be held. ``after`` is the morning from which a block went on: what lies
    before it is there already.
    """
    rows = []
    for block, own in found.items():
        if not own:
            continue
        by_morning = {c.on: c for c in own if is_kept(c.on, today)}
        last, begin = own[-1], after.get(block, date.min)
        for k in range(last.notes.shape[0] // STEPS_A_DAY):
            on = last.on - timedelta(days=k)
            if on <= begin:
                break
            end = last.notes.shape[0] - k * STEPS_A_DAY
            rows.append(_row(block, on, last, last.notes[end - STEPS_A_DAY : end], by_morning))
    if not rows:
        return
    blocks = list(found)
    with connection.cursor() as cursor:
        cursor.executemany(_KEEP, rows)
        daily = today - timedelta(days=DAILY)
        cursor.execute(_THIN, {"blocks": blocks, "daily": daily, "every": EVERY})
        cursor.execute(_FORGET, {"blocks": blocks, "old": today - LONGEST_SEASON})


def _row(
    block: int,
    on: date,
    last: Checkpoint,
    notes: np.ndarray,
    by_morning: Mapping[date, Checkpoint],
) -> list[Any]:
    at = by_morning.get(on)
    parts = (at.members, at.memory, at.counters) if at is not None else (None, None, None)
    state = [None if p is None else p.tobytes() for p in parts]
    return [block, on, RULES_VERSION, last.ground, notes.tobytes(), *state]


def mornings_to_keep(first: date, today: date) -> list[date]:
    """Mornings after a day and before today whose members are kept."""
    days = (first + timedelta(days=k) for k in range(1, (today - first).days))
    return [d for d in days if is_kept(d, today)]
