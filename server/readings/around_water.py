"""Readings around water that came, judged again: a rise has its reason now, or has lost it."""

from datetime import datetime, timedelta

from server.farms.models import Farm
from server.instruments.models import Channel
from server.readings.store import rejudge

# Readings so long around water may rise because of it.
BEFORE, AFTER = timedelta(days=1), timedelta(days=3)


def judge_around_water(
    farm: Farm, first: datetime, last: datetime, block_id: int | None = None
) -> None:
    """Judge the readings around water between two instants; of one block, or of the whole farm."""
    channels = Channel.objects.for_farm(farm)
    if block_id is not None:
        channels = channels.filter(instrument__block=block_id)
    ids = list(channels.values_list("pk", flat=True))
    first, last = first - BEFORE, min(last + AFTER, farm.now())
    if ids and first < last:
        rejudge(ids, first, last)
