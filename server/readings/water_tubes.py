"""What the water tubes of rice fields read."""

from collections.abc import Sequence
from datetime import datetime

import numpy as np

from core.instrument.kinds import InstrumentKind
from core.ponded.tube import CARRIED_DAYS, Tube
from core.quality.flags import doubting
from server.blocks.models import Block
from server.readings.recent import thinned_readings
from server.readings.sites import silent

# A season of rice; and one reading of each so many hours, where a logger sends more.
READ_DAYS, EACH_HOURS = 220, 6.0
HOURS_PER_DAY = 24.0


def water_tubes(blocks: Sequence[Block], now: datetime) -> dict[int, tuple[Tube, ...]]:
    """The tubes of blocks with their readings of the season, by block id; those that have none are
    left out.

    Parameters
    ----------
    blocks : sequence of Block
        Their instruments should be prefetched.
    now : datetime, aware, in the farm's time zone
    """
    channels = {
        b.pk: [
            (i, c.pk)
            for i in b.instruments.all()
            if i.kind == InstrumentKind.RICE_TUBE
            for c in i.channels.all()
            if not c.suspect
        ]
        for b in blocks
    }
    ids = [pk for own in channels.values() for _, pk in own]
    if not ids:
        return {}
    readings = thinned_readings(ids, now, READ_DAYS, EACH_HOURS)
    out = {}
    for block_id, own in channels.items():
        tubes = []
        for tube, pk in own:
            hours, value, flags = readings.table([pk])
            known = ~np.isnan(value[:, 0])
            believed = ((flags[:, 0] & doubting()) == 0) & ~silent(
                tube, hours, now, HOURS_PER_DAY * CARRIED_DAYS
            )
            tubes.append(Tube(tube.label, hours[known], value[known, 0], believed[known]))
        if tubes:
            out[block_id] = tuple(tubes)
    return out
