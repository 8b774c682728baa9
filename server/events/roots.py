"""How deep the roots of a block feed, by its instruments."""

from datetime import datetime, timedelta
from math import isnan

from core.events.event import wetting_events
from core.learned.root_activity import MOST_DAYS, root_activity
from server.base.json_out import known
from server.blocks.models import Block
from server.events.bring_up import site_records
from server.events.schemas import LayerUptake, RootActivityOut
from server.farms.models import Farm

# Dry days are looked for so far back: roots of earlier are others.
LOOKED_BACK = timedelta(days=3 * MOST_DAYS)


def block_root_activity(farm: Farm, block: Block, now: datetime) -> list[RootActivityOut]:
    """Of each instrument that tells it."""
    records = site_records(farm, block, now - LOOKED_BACK, now, {})
    events = wetting_events([r.record for r in records])
    out = []
    for of, seen in zip(records, events, strict=True):
        found = root_activity(of.record, seen)
        if found is None:
            continue
        root = of.record.root_at(0.0)
        uptake = (found.uptake_mm * of.record.wetted_share).tolist()
        layers = zip(of.record.site.depth_mm.tolist(), uptake, strict=True)
        out.append(
            RootActivityOut(
                instrument=of.instrument.label,
                days=found.days,
                layers=[LayerUptake(depth_mm=d, uptake_mm=known(mm)) for d, mm in layers],
                low_mm=found.low_mm,
                feeds_mm=known(found.feeds_mm),
                high_mm=known(found.high_mm),
                root_mm=known(root),
                fit=None if isnan(root) else found.beside(root),
            )
        )
    return out
