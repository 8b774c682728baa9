"""The refill point and the use that the field has shown, for the limits page."""

from datetime import date, timedelta, tzinfo

from django.http import HttpRequest
from ninja import Field, Router, Status

from core.advice.answer import Assessment
from core.learned.refill_point import NoBreak, SiteRefill
from core.learned.use_factor import UseFactor, UseFit
from server.advice.adopt_use import adopt_use
from server.advice.refill_seen import BlockRefill, block_refill
from server.advice.similar_blocks import borrow_readings, similar_to
from server.base.error_schema import ERRORS
from server.base.schema import Body, DoneOut, Schema
from server.base.signed_in import person
from server.blocks.models import Block
from server.blocks.schemas import BlockRef
from server.blocks.services import find_block
from server.events.reading import InstrumentRecord
from server.farms.access import Access, enter

router = Router(tags=["limits"])


class UptakeDay(Schema):
    """One dry day: share of the roots' available water gone before it, share of the stated use
    that was taken [-]."""

    on: date
    gone: float
    share: float


class SiteRefillOut(Schema):
    """What an instrument shows: its dry days, and where the use broke.

    ``break_gone`` [-] with its standard error, ``level`` of the use before it [-] and how much of
    that is lost for each share more that is gone; null with ``why_not``.
    """

    instrument: str
    days: list[UptakeDay]
    break_gone: float | None
    break_spread: float | None
    level: float | None
    slope: float | None
    why_not: NoBreak | None


class UseSeenOut(Schema):
    """What the crop took of its stated use on dry days of mid season with enough water [-]; its
    middle 80 percent, and how it goes with the stated one."""

    days: int
    share: float
    low: float
    high: float
    fit: UseFit


class AdoptUseIn(Body):
    """``similar_block_id`` is the block that it was seen on, for one without a site."""

    reason: str = Field("", max_length=280)
    similar_block_id: int | None = None


class RootZoneOut(Schema):
    """Where a root zone stands: water missing [mm] and its spread; ``used_share`` is of the
    available water. Null where it is not known."""

    deficit_mm: float | None
    sigma_mm: float | None
    used_share: float | None


class SimilarBlockOut(Schema):
    """A similar block that has sites; ``use`` is null where too few days tell it."""

    id: int
    name: str
    sites: list[str]
    now: RootZoneOut
    use: UseSeenOut | None


class BorrowIn(Body):
    """Null borrows from none."""

    similar_block_id: int | None


class SimilarOut(Schema):
    """A block without sites beside those of the same crop, soil, slope and irrigation system that
    have some; ``now`` is null and ``blocks`` empty where it has sites of its own."""

    sites: list[str]
    borrows_from: BlockRef | None
    now: RootZoneOut | None
    blocks: list[SimilarBlockOut]


class RefillSeenOut(Schema):
    """The refill point that the crop has shown this season.

    ``raw_mm`` and ``taw_mm`` are in force. ``depletion_mm``, ``low_mm`` and ``high_mm``: water gone
    when the crop begins to suffer, best figure and middle 80 percent, null where no site shows it;
    ``share`` is the best figure as a share of the available water, null where it can't be adopted.
    All depths are of the whole ground.
    """

    raw_mm: float
    taw_mm: float
    depletion_mm: float | None
    low_mm: float | None
    high_mm: float | None
    share: float | None
    use: UseSeenOut | None
    sites: list[SiteRefillOut]


@router.get(
    "/farms/{slug}/blocks/{block_id}/refill-point",
    response={200: RefillSeenOut | None, **ERRORS},
    operation_id="refill_seen",
)
def refill_seen(request: HttpRequest, slug: str, block_id: int) -> RefillSeenOut | None:
    """Where the crop of a block began to take less than it would, by each instrument; null where
    nothing is estimated of the block."""
    access = enter(person(request), slug)
    found = block_refill(access.farm, find_block(access, block_id))
    return _refill_out(found, access.now().tzinfo) if found else None


@router.post(
    "/farms/{slug}/blocks/{block_id}/use",
    response={201: DoneOut, **ERRORS},
    operation_id="adopt_use",
)
def post_use(request: HttpRequest, slug: str, block_id: int, data: AdoptUseIn) -> Status[DoneOut]:
    """Make the use that was seen the Kc of the block's season."""
    access = enter(person(request), slug)
    adopt_use(access, find_block(access, block_id), data.reason, data.similar_block_id)
    return Status(201, DoneOut())


@router.get(
    "/farms/{slug}/blocks/{block_id}/similar",
    response={200: SimilarOut, **ERRORS},
    operation_id="similar_blocks",
)
def get_similar(request: HttpRequest, slug: str, block_id: int) -> SimilarOut:
    """Similar blocks that have sites, where the block has none."""
    access = enter(person(request), slug)
    return _similar_out(access, find_block(access, block_id))


@router.put(
    "/farms/{slug}/blocks/{block_id}/similar",
    response={200: SimilarOut, **ERRORS},
    operation_id="borrow_readings",
)
def put_similar(request: HttpRequest, slug: str, block_id: int, data: BorrowIn) -> SimilarOut:
    """Estimate a block without sites from those of a similar one, or from none any more."""
    access = enter(person(request), slug)
    block = borrow_readings(access, find_block(access, block_id), data.similar_block_id)
    return _similar_out(access, block)


def _similar_out(access: Access, block: Block) -> SimilarOut:
    found = similar_to(access, block)
    return SimilarOut(
        sites=list(found.sites),
        borrows_from=_ref(block.borrows_from),
        now=_root_zone(found.answer) if found.answer else None,
        blocks=[
            SimilarBlockOut(
                id=x.block.pk,
                name=x.block.name,
                sites=list(x.sites),
                now=_root_zone(x.answer),
                use=_use_out(x.use),
            )
            for x in found.blocks
        ],
    )


def _ref(block: Block | None) -> BlockRef | None:
    return BlockRef.model_validate(block) if block else None


def _root_zone(answer: Assessment) -> RootZoneOut:
    return RootZoneOut(
        deficit_mm=answer.deficit_mm,
        sigma_mm=answer.sigma_mm,
        used_share=answer.used_share,
    )


def _use_out(use: UseFactor | None) -> UseSeenOut | None:
    return UseSeenOut(**vars(use), fit=use.fit) if use else None


def _refill_out(found: BlockRefill, zone: tzinfo | None) -> RefillSeenOut:
    told = found.told
    return RefillSeenOut(
        raw_mm=found.raw_mm,
        taw_mm=found.taw_mm,
        depletion_mm=told.depletion_mm if told else None,
        low_mm=told.low_mm if told else None,
        high_mm=told.high_mm if told else None,
        share=found.share,
        use=_use_out(found.use),
        sites=[_site_refill(of, site, zone) for of, site in found.sites],
    )


def _site_refill(of: InstrumentRecord, site: SiteRefill, zone: tzinfo | None) -> SiteRefillOut:
    days, stick = site.days, site.stick
    rows = zip(days.ends_hours.tolist(), days.gone.tolist(), days.share.tolist(), strict=True)
    return SiteRefillOut(
        instrument=of.instrument.label,
        days=[
            UptakeDay(
                on=(of.until + timedelta(hours=end)).astimezone(zone).date(), gone=gone, share=share
            )
            for end, gone, share in rows
        ],
        break_gone=stick.at if stick else None,
        break_spread=stick.spread if stick else None,
        level=stick.level if stick else None,
        slope=stick.slope if stick else None,
        why_not=site.why_not,
    )
