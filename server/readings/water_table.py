"""The water tables below blocks, from their observation wells or as stated."""

from collections.abc import Sequence
from datetime import datetime, timedelta

import numpy as np

from core.arrays import Floats
from core.instrument.kinds import InstrumentKind
from core.quality.flags import doubting
from core.soil.water_table import WaterTable
from server.blocks.models import Block
from server.readings.recent import thinned_readings

# A level read longer ago than this is not that of today [days].
HOLDS_DAYS = 60
FOLLOWED_DAYS = 430


def _wells(block: Block) -> list[int]:
    """Channels of a block's observation wells; its instruments should be prefetched."""
    return [
        c.pk
        for i in block.instruments.all()
        if i.kind == InstrumentKind.OBSERVATION_WELL
        for c in i.channels.all()
        if not c.suspect
    ]


def water_tables(blocks: Sequence[Block], now: datetime) -> dict[int, WaterTable]:
    """The water table below each block of which anything is known, by block id.

    A level that was read holds until the next, or for sixty days; before the first and after the
    last the stated one does. Of several wells the mean is taken.

    Parameters
    ----------
    blocks : sequence of Block
    now : datetime, aware, in the farm's time zone
    """
    wells = {b.pk: found for b in blocks if (found := _wells(b))}
    ids = [c for own in wells.values() for c in own]
    readings = thinned_readings(ids, now, FOLLOWED_DAYS, 24.0) if ids else None
    first = now.date() - timedelta(days=FOLLOWED_DAYS)
    out = {}
    for block in blocks:
        stated = np.inf if block.water_table_mm is None else block.water_table_mm
        depth = np.full(FOLLOWED_DAYS + 1, stated)
        source = "as entered"
        if readings is not None and block.pk in wells:
            hours, value, flags = readings.table(wells[block.pk])
            level = np.where(flags & doubting(), np.nan, value)
            read = _by_day(hours, level, now)
            depth = np.where(np.isnan(read), depth, read)
            source = "read in an observation well" if not np.isnan(read[-1]) else source
        if np.isfinite(depth).any():
            out[block.pk] = WaterTable(first, depth, source)
    return out


def _by_day(hours: Floats, level_mm: Floats, now: datetime) -> Floats:
    """Mean level of the wells by day, each held until its next reading; (days,) [mm]."""
    days = FOLLOWED_DAYS + 1
    held = np.full((days, level_mm.shape[1]), np.nan)
    since = now.hour + now.minute / 60
    at = FOLLOWED_DAYS + np.floor((hours + since) / 24).astype(int)
    for well in range(level_mm.shape[1]):
        known = np.flatnonzero(~np.isnan(level_mm[:, well]))
        for k in known.tolist():
            # A later reading takes the place of what an earlier one left from its day on.
            first, last = int(at[k]), int(at[k]) + HOLDS_DAYS
            held[max(first, 0) :, well] = np.nan
            held[max(first, 0) : max(last, 0), well] = level_mm[k, well]
    some = ~np.isnan(held).all(axis=1)
    out = np.full(days, np.nan)
    out[some] = np.nanmean(held[some], axis=1)
    return out
