"""How the farm's probes lie to the mean of all of them, over a season."""

from collections.abc import Sequence

from core.instrument.site import Site
from core.siting.probe_stores import probe_stores
from core.siting.temporal_stability import read_together, temporal_stability
from server.blocks.loading import Ground, blocks_of
from server.blocks.models import Block
from server.farms.access import Access
from server.instruments.models import Instrument
from server.readings.recent import daily_readings
from server.readings.sites import channel_ids, instrument_sites, soil_channels
from server.siting.spots.schemas import ProbeStanding, SpotStanding

# Of a season that is compared.
DAYS = 120
# Probes that are compared: with those of the block they come from its neighbours in the list until
# there are so many.
ENOUGH_PROBES = 60
_PARTS = ("soils__soil__horizons", "instruments__channels", "instruments__events")


def standing_in(access: Access, block_id: int) -> SpotStanding | None:
    """Compare the probes of a farm, those of a block first.

    Returns
    -------
    SpotStanding or None
        None where fewer than three were read on enough days together.
    """
    now = access.now()
    blocks = _probed(sorted(blocks_of(access.farm, _PARTS), key=lambda b: b.pk != block_id))
    readings = daily_readings(channel_ids(blocks), now, DAYS)
    ground, pairs = Ground(), list[tuple[Instrument, Site]]()
    for block in blocks:
        soils = ground.under(block, now.date())
        if soils:
            pairs += instrument_sites(block, soils[-1].profile, readings, now)
    heard = [(i, s) for i, s in pairs if s.hours.size]
    stores = probe_stores([s for _, s in heard], DAYS)
    if stores is None:
        return None
    enough = read_together(stores.store_mm)
    found = temporal_stability(stores.store_mm[enough])
    if found is None:
        return None
    heard = [pair for pair, told in zip(heard, enough, strict=True) if told]
    names = {b.pk: b.name for b in blocks}
    return SpotStanding(
        depth_mm=stores.depth_mm,
        days=found.times,
        probes=[
            ProbeStanding(
                instrument=heard[k][0].pk,
                label=heard[k][0].label,
                block=names[heard[k][0].block_id],
                difference=float(found.difference[k]),
                spread=float(found.spread[k]),
                index=float(found.index[k]),
            )
            for k in (int(o) for o in found.order)
        ],
    )


def _probed(blocks: Sequence[Block]) -> list[Block]:
    """The first of some blocks that have enough probes together."""
    chosen: list[Block] = []
    probes = 0
    for block in blocks:
        own = sum(bool(soil_channels(i)) for i in block.instruments.all())
        if own and probes < ENOUGH_PROBES:
            chosen.append(block)
            probes += own
    return chosen
