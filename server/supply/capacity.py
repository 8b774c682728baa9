"""Whether each source can keep up with the peak use of its blocks."""

from collections.abc import Sequence
from datetime import timedelta

import numpy as np

from core.plan.network import Network, same_name
from core.plan.source_capacity import PEAK_DAYS, PeakLoad, source_capacity
from server.blocks.crop import season_crop, season_under_way
from server.blocks.models import Block
from server.farms.access import Access
from server.supply.schemas import CapacityOut
from server.weather.models import WeatherDay
from server.weather.recorded import farm_weather

RECORD = timedelta(days=400)


def peak_et0(access: Access) -> float | None:
    """The highest mean of ten days on end on record in the past year, or the stated ET where that
    is more [mm/day]; None where neither is known."""
    now = access.now()
    rows = WeatherDay.objects.for_farm(access.farm).filter(
        date__gte=(now - RECORD).date(), et0_mm__isnull=False
    )
    days = np.array(rows.order_by("date").values_list("et0_mm", flat=True), float)
    found = []
    if days.size >= PEAK_DAYS:
        found.append(float(np.convolve(days, np.full(PEAK_DAYS, 1 / PEAK_DAYS), "valid").max()))
    stated = farm_weather(access.farm, now).stated
    if stated is not None:
        found.append(stated.expected)
    return max(found, default=None)


def capacities(
    access: Access, network: Network, blocks: Sequence[Block], et0: float | None
) -> list[CapacityOut | None]:
    """Of each source of a network, in their order."""
    on = access.now().date()
    out: list[CapacityOut | None] = []
    for source in network.sources:
        loads = []
        for block in blocks:
            season = season_under_way(block, on)
            if season is None or et0 is None or not same_name(block.supply, source.name):
                continue
            use = max(season_crop(season).kc) * et0
            loads.append(PeakLoad(block.area_m2, block.efficiency, use))
        found = source_capacity(source, loads)
        out.append(None if found is None else CapacityOut.model_validate(found))
    return out
