"""Steering by the leaf: settings, rounds of readings, and the next round to make."""

from datetime import date, datetime
from uuid import UUID
from zoneinfo import ZoneInfo

from django.http import HttpRequest
from ninja import Router

from core.leaf.bands import LeafPhase, Product, baseline_mpa, products
from core.leaf.round import LeafRound, RoundDoubt, RoundSays, Sky, round_says
from core.leaf.steering import Side, Strategy
from server.base.error_schema import ERRORS
from server.base.moment import Day
from server.base.schema import Body, DoneOut, Schema
from server.base.signed_in import person
from server.blocks.crop import season_under_way
from server.blocks.models import Block
from server.blocks.services import find_block
from server.farms.access import Access, enter
from server.leaves.models import Steering, StemRound, steering_of
from server.leaves.next_round import NextRoundOut, next_round
from server.leaves.recorded import core_round, stem_rounds
from server.leaves.rounds import (
    StemRoundIn,
    add_stem_round,
    keep_stem_round,
    remove_stem_round,
)
from server.leaves.settings import SteeringIn, remove_steering, save_steering

router = Router(tags=["leaf"])


class BandOut(Schema):
    """Edges of a phase in force, and the product's own; midday stem water potential [MPa]."""

    phase: LeafPhase
    upper_mpa: float
    lower_mpa: float
    product_upper_mpa: float
    product_lower_mpa: float


class ProductOut(Schema):
    """What a crop may be grown for, with its bands."""

    product: Product
    suits: bool
    bands: list[BandOut]


class ZoneOut(Schema):
    name: str
    share: float


class SteeringOut(Schema):
    """How a block is steered, see `SteeringIn`."""

    product: Product
    strategy: Strategy
    bands: list[BandOut]
    zones: list[ZoneOut]
    use_share: float | None
    since: date | None
    application_mm: float | None
    side: Side | None
    side_since: date | None
    side_days: int | None


class StemLeafOut(Schema):
    """``outlier`` : it does not stand for its zone and is left out of the mean."""

    zone: str
    plant: str
    mpa: float
    outlier: bool


class StemZoneOut(Schema):
    zone: str
    mpa: float
    leaves: int


class StemRoundOut(Schema):
    """A round with what it says; potentials [MPa]. ``mpa`` is null where no leaf counts.

    ``believed`` : whether it counts; ``baseline_mpa`` : of a fully watered plant in the same air,
    null where no source gives it or the air was not read.
    """

    id: int
    key: UUID
    started_at: datetime
    ended_at: datetime
    sky: Sky
    bagged_min: float | None
    air_c: float | None
    humidity: float | None
    kept: bool
    note: str
    made_by: str | None
    mpa: float | None
    sd_mpa: float | None
    se_mpa: float | None
    zones: list[StemZoneOut]
    doubts: list[RoundDoubt]
    believed: bool
    baseline_mpa: float | None
    leaves: list[StemLeafOut]


class LeafOut(Schema):
    """``steering`` and ``next_round`` are null where the block is not steered by its leaves."""

    steering: SteeringOut | None
    products: list[ProductOut]
    rounds: list[StemRoundOut]
    next_round: NextRoundOut | None


class KeptIn(Body):
    kept: bool


def _bands(product: Product, steering: Steering | None = None) -> list[BandOut]:
    own = products()[product].bands
    settled = steering.settled.bands if steering else own
    return [
        BandOut(
            phase=b.phase,
            upper_mpa=b.upper_mpa,
            lower_mpa=b.lower_mpa,
            product_upper_mpa=p.upper_mpa,
            product_lower_mpa=p.lower_mpa,
        )
        for b, p in zip(settled, own, strict=True)
    ]


def steering_out(row: Steering) -> SteeringOut:
    """What was settled, with the bands in force."""
    return SteeringOut(
        product=Product(row.product),
        strategy=Strategy(row.strategy),
        bands=_bands(Product(row.product), row),
        zones=[ZoneOut(name=n, share=s) for n, s in row.zones.items()],
        use_share=row.use_share,
        since=row.since,
        application_mm=row.application_mm,
        side=Side(row.side) if row.side else None,
        side_since=row.side_since,
        side_days=row.side_days,
    )


def _round_out(
    row: StemRound, read: LeafRound, says: RoundSays | None, steering: Steering | None
) -> StemRoundOut:
    outliers = set(says.outliers) if says else set()
    product = Product(steering.product) if steering else None
    return StemRoundOut(
        id=row.pk,
        key=row.key,
        started_at=row.started_at,
        ended_at=row.ended_at,
        sky=Sky(row.sky),
        bagged_min=row.bagged_min,
        air_c=row.air_c,
        humidity=row.humidity,
        kept=row.kept,
        note=row.note,
        made_by=row.made_by.name if row.made_by else None,
        mpa=says.mpa if says else None,
        sd_mpa=says.sd_mpa if says else None,
        se_mpa=says.se_mpa if says else None,
        zones=[StemZoneOut.model_validate(z) for z in says.zones] if says else [],
        doubts=list(says.doubts) if says else [],
        believed=says.believed if says else False,
        baseline_mpa=baseline_mpa(product, read.vpd_kpa) if product else None,
        leaves=[
            StemLeafOut(zone=x.zone, plant=x.plant, mpa=x.mpa, outlier=k in outliers)
            for k, x in enumerate(row.leaves.all())
        ],
    )


def _said(
    access: Access, rows: list[StemRound], steering: Steering | None
) -> list[tuple[StemRoundOut, RoundSays | None]]:
    now, zone = access.now(), ZoneInfo(access.farm.time_zone)
    shares = steering.settled.zones if steering else {}
    out = []
    for row in rows:
        read = core_round(row, now, access.farm.longitude, zone)
        says = round_says(read, shares)
        out.append((_round_out(row, read, says, steering), says))
    return out


def _one(access: Access, block: Block, row: StemRound) -> StemRoundOut:
    return _said(access, [row], steering_of(block))[0][0]


@router.get(
    "/farms/{slug}/blocks/{block_id}/leaf",
    response={200: LeafOut, **ERRORS},
    operation_id="leaf",
)
def leaf(request: HttpRequest, slug: str, block_id: int, on: Day | None = None) -> LeafOut:
    """How the block is steered by its leaves, its rounds, and the round to make ``on`` a day."""
    access = enter(person(request), slug)
    block = find_block(access, block_id)
    steering, today = steering_of(block), access.now().date()
    said = _said(access, stem_rounds(access.farm, block, access.now()), steering)
    season = season_under_way(block, today)
    grown = season.crop_key if season else None
    return LeafOut(
        steering=steering_out(steering) if steering else None,
        products=[
            ProductOut(product=key, suits=grown in p.crops, bands=_bands(key))
            for key, p in products().items()
        ],
        rounds=[out for out, _ in said],
        next_round=next_round(
            access.farm,
            block,
            steering,
            [s for _, s in said if s is not None and s.believed],
            on or today,
        )
        if steering
        else None,
    )


@router.put(
    "/farms/{slug}/blocks/{block_id}/leaf",
    response={200: SteeringOut, **ERRORS},
    operation_id="save_steering",
)
def save(request: HttpRequest, slug: str, block_id: int, data: SteeringIn) -> SteeringOut:
    """Steer the block by its leaves."""
    return steering_out(save_steering(enter(person(request), slug), block_id, data))


@router.delete(
    "/farms/{slug}/blocks/{block_id}/leaf",
    response={200: DoneOut, **ERRORS},
    operation_id="remove_steering",
)
def remove(request: HttpRequest, slug: str, block_id: int) -> DoneOut:
    """The block is no longer steered by its leaves; its rounds stay."""
    remove_steering(enter(person(request), slug), block_id)
    return DoneOut()


@router.post(
    "/farms/{slug}/blocks/{block_id}/leaf/rounds",
    response={200: StemRoundOut, **ERRORS},
    operation_id="add_stem_round",
)
def add(request: HttpRequest, slug: str, block_id: int, data: StemRoundIn) -> StemRoundOut:
    """Record a round of leaf readings; sent again with the same key it is left as it is."""
    access = enter(person(request), slug)
    row = add_stem_round(access, block_id, data)
    return _one(access, row.block, row)


@router.put(
    "/farms/{slug}/blocks/{block_id}/leaf/rounds/{round_id}",
    response={200: StemRoundOut, **ERRORS},
    operation_id="keep_stem_round",
)
def keep(
    request: HttpRequest, slug: str, block_id: int, round_id: int, data: KeptIn
) -> StemRoundOut:
    """Take a round for good whatever speaks against it, or leave that to the checks."""
    access = enter(person(request), slug)
    row = keep_stem_round(access, block_id, round_id, data.kept)
    return _one(access, row.block, row)


@router.delete(
    "/farms/{slug}/blocks/{block_id}/leaf/rounds/{round_id}",
    response={200: DoneOut, **ERRORS},
    operation_id="remove_stem_round",
)
def remove_round(request: HttpRequest, slug: str, block_id: int, round_id: int) -> DoneOut:
    """Take a round out."""
    remove_stem_round(enter(person(request), slug), block_id, round_id)
    return DoneOut()
