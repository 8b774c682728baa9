"""Where a farm's water comes from and what its blocks share."""

from django.http import HttpRequest
from ninja import File, Router, UploadedFile

from core.plan.network_remarks import Draw, network_remarks
from core.plan.wind import THROWN
from server.base.error_schema import ERRORS
from server.base.signed_in import person
from server.blocks.crop import season_crop, season_under_way
from server.blocks.loading import blocks_of
from server.blocks.models import Block
from server.farms.access import Access, enter
from server.files.confined import content_of
from server.supply.capacity import capacities, peak_et0
from server.supply.describe import InForce, describe_network, network_in_force
from server.supply.document import network_of
from server.supply.network_file import network_from_file
from server.supply.schemas import NetworkIn, NetworkOut, RemarkOut, SuppliedBlock
from server.water.equipment import block_system

router = Router(tags=["water supply"])
PARTS = ("seasons", "seasons__farm_crop")


def _supplied(block: Block, access: Access) -> SuppliedBlock:
    season = season_under_way(block, access.now().date())
    crop = season_crop(season) if season else None
    system = block_system(block)
    return SuppliedBlock(
        id=block.pk,
        name=block.name,
        supply=block.supply,
        area_m2=block.area_m2,
        flow_m3_h=system.application_rate_mm_h * block.area_m2 / 1000,
        crop_key=crop.key if crop else None,
        crop=crop.name if crop else None,
    )


def _out(access: Access, found: InForce) -> NetworkOut:
    rows = list(blocks_of(access.farm, PARTS))
    blocks = [_supplied(b, access) for b in rows]
    peak = peak_et0(access)
    names = {b.id: b.name for b in blocks}
    network = network_of(found.document)
    remarks = network_remarks(network, [Draw(b.id, b.supply, b.flow_m3_h) for b in blocks])
    return NetworkOut(
        version=found.number,
        made_at=found.made_at,
        network=found.document,
        energy_kwh_m3=[s.energy_kwh_m3 for s in network.sources],
        capacity=capacities(access, network, rows, peak),
        peak_et0_mm_day=peak,
        blocks=blocks,
        wind_systems=sorted({block_system(b).kind for b in rows} & THROWN),
        remarks=[
            RemarkOut(remark=r.remark, name=r.name, blocks=[names[b] for b in r.blocks])
            for r in remarks
        ],
    )


@router.get(
    "/farms/{slug}/supply", response={200: NetworkOut, **ERRORS}, operation_id="water_supply"
)
def water_supply(request: HttpRequest, slug: str) -> NetworkOut:
    """The description in force, the blocks that it is about, and what it leaves open."""
    access = enter(person(request), slug)
    return _out(access, network_in_force(access.farm))


@router.put(
    "/farms/{slug}/supply",
    response={200: NetworkOut, **ERRORS},
    operation_id="change_water_supply",
)
def change_water_supply(request: HttpRequest, slug: str, data: NetworkIn) -> NetworkOut:
    """Describe the whole of it anew; all or nothing."""
    access = enter(person(request), slug)
    return _out(access, describe_network(access, data.version, data.network))


@router.post(
    "/farms/{slug}/supply/import",
    response={200: NetworkOut, **ERRORS},
    operation_id="read_water_supply",
)
def read_water_supply(request: HttpRequest, slug: str, file: File[UploadedFile]) -> NetworkOut:
    """What the description would be with the rows of a file in it; nothing is saved."""
    access = enter(person(request), slug)
    before = network_in_force(access.farm)
    blocks = {b.name.strip().casefold(): b.pk for b in Block.objects.for_farm(access.farm)}
    document = network_from_file(content_of(file), before.document, blocks)
    return _out(access, InForce(before.number, before.made_at, document))
