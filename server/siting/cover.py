"""The farm's kinds of block and the sites that stand for them, of what is on record."""

from core.instrument.kinds import InstrumentKind, kinds
from core.irrigation.system import SystemKind
from core.siting.farm_cover import CoverBlock, CoverGroup, farm_cover, slope_class
from core.units import M2_PER_HECTARE
from server.blocks.crop import season_crop, season_under_way
from server.blocks.limit_changes import timeline
from server.blocks.loading import blocks_of
from server.blocks.models import Block
from server.blocks.services import GROUND_PARTS
from server.farms.access import Access
from server.instruments.models import Instrument
from server.siting.cover_schemas import CoverBlockOut, CoverGroupOut, CoverOut
from server.siting.spots.record import spot_lines
from server.supply.describe import network_in_force
from server.supply.document import NetworkDocument


def cover_of(access: Access) -> CoverOut:
    """Groups of similar blocks, those first where one more site tells most."""
    network = network_in_force(access.farm).document
    groups, ids = _groups(access, network)
    layers = set(
        Block.objects.for_farm(access.farm)
        .filter(siting_layers__isnull=False)
        .values_list("pk", flat=True)
    )
    return CoverOut(
        currency=network.currency,
        groups=[_group_out(g, ids, layers) for g in groups],
        spots=spot_lines(access),
    )


def similar_blocks(access: Access, block: Block) -> tuple[CoverBlock, list[CoverBlock]]:
    """A block and those of the same crop, soil, slope and irrigation system that have sites."""
    groups, ids = _groups(access, network_in_force(access.farm).document)
    (group,) = (g for g in groups if any(ids[b.name] == block.pk for b in g.blocks))
    own = next(b for b in group.blocks if ids[b.name] == block.pk)
    return own, [b for b in group.blocks if b.sites and b is not own]


def _groups(access: Access, network: NetworkDocument) -> tuple[list[CoverGroup], dict[str, int]]:
    """Groups of similar blocks, and the numbers of blocks by their names."""
    blocks = blocks_of(access.farm, GROUND_PARTS)
    sites = _sites(access)
    told = [_cover_block(access, b, sites.get(b.pk, ()), network) for b in blocks]
    return farm_cover(told), {b.name: b.pk for b in blocks}


def _sites(access: Access) -> dict[int, tuple[str, ...]]:
    # A rice field is told by its tube.
    of_site = [str(k) for k, f in kinds().items() if f.in_soil or k is InstrumentKind.RICE_TUBE]
    rows = Instrument.objects.for_farm(access.farm).filter(kind__in=of_site).order_by("label")
    found: dict[int, tuple[str, ...]] = {}
    for block, label in rows.values_list("block_id", "label"):
        found[block] = (*found.get(block, ()), label)
    return found


def _cover_block(
    access: Access, block: Block, sites: tuple[str, ...], network: NetworkDocument
) -> CoverBlock:
    season = season_under_way(block, access.now().date())
    value_ha = network.value_ha(season.crop_key) if season else None
    return CoverBlock(
        name=block.name,
        crop=season_crop(season).name if season else "",
        soil=timeline(block.soils.all())[-1].soil.name,
        slope=slope_class(block.slope_percent),
        system=block.system_kind,
        area_m2=block.area_m2,
        sites=sites,
        value=None if value_ha is None else value_ha * block.area_m2 / M2_PER_HECTARE,
    )


def _group_out(group: CoverGroup, ids: dict[str, int], layers: set[int]) -> CoverGroupOut:
    return CoverGroupOut(
        crop=group.crop,
        soil=group.soil,
        slope=group.slope,
        system=SystemKind(group.system),
        area_m2=group.area_m2,
        value=group.value,
        sites=len(group.sites),
        blocks=[
            CoverBlockOut(
                id=ids[b.name],
                name=b.name,
                area_m2=b.area_m2,
                sites=list(b.sites),
                has_layers=ids[b.name] in layers,
            )
            for b in group.blocks
        ],
    )
