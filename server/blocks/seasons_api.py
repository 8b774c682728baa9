"""Crop seasons on the wire."""

from django.http import HttpRequest
from ninja import Router, Status

from core.crop.growth_stages import growth_stages
from core.sentence import sentence
from server.base.error_schema import ERRORS
from server.base.schema import DoneOut
from server.base.signed_in import person
from server.blocks.crop import book_key, season_crop, season_under_way
from server.blocks.models import Block, CropSeason, EventKind, SeasonEvent
from server.blocks.schemas import EventIn, EventOut, SeasonIn, SeasonOut, StageChoice
from server.blocks.seasons import delete_season, remove_observation, save_season, see
from server.blocks.services import find_block
from server.farms.access import enter

router = Router(tags=["seasons"])
HERE = "/farms/{slug}/blocks/{block_id}/seasons"


def _label(event: SeasonEvent, names: dict[str, str]) -> str:
    if event.kind == EventKind.STAGE:
        return names.get(event.stage_key, event.stage_key)
    if event.kind == EventKind.COVER:
        return sentence(
            "{cover:.0f} % of the ground covered, {height_m:g} m high",
            cover=(event.cover or 0) * 100,
            height_m=event.height_m,
        )
    return sentence("cut or grazed")


def _season_out(season: CropSeason, under_way: bool) -> SeasonOut:
    crop = season_crop(season)
    stages = growth_stages(book_key(season))
    names = {s.key: s.name for s in stages}
    return SeasonOut(
        id=season.pk,
        crop_key=crop.key,
        crop=crop.name,
        planted_on=season.planted_on,
        clock=CropSeason.Clock(season.clock),
        under_way=under_way,
        counts_warmth=crop.degree_days is not None,
        scales_with_cover=crop.canopy is not None,
        is_cut=crop.cutting is not None,
        perennial=crop.perennial,
        stages=[StageChoice(key=s.key, name=s.name) for s in stages],
        events=[
            EventOut(
                id=e.pk,
                kind=EventKind(e.kind),
                on=e.on,
                stage_key=e.stage_key,
                cover=e.cover,
                height_m=e.height_m,
                label=_label(e, names),
            )
            for e in sorted(season.events.all(), key=lambda e: (e.on, e.pk))
        ],
    )


@router.get(HERE, response={200: list[SeasonOut], **ERRORS}, operation_id="seasons")
def seasons(request: HttpRequest, slug: str, block_id: int) -> list[SeasonOut]:
    """The block's crop seasons, the newest first."""
    access = enter(person(request), slug)
    block: Block = find_block(access, block_id)
    now = season_under_way(block, access.now().date())
    rows = sorted(block.seasons.all(), key=lambda s: s.planted_on, reverse=True)
    return [_season_out(s, s is now) for s in rows]


@router.post(HERE, response={201: SeasonOut, **ERRORS}, operation_id="begin_season")
def begin(request: HttpRequest, slug: str, block_id: int, data: SeasonIn) -> Status[SeasonOut]:
    access = enter(person(request), slug)
    season = save_season(access, find_block(access, block_id), data)
    return Status(201, _season_out(season, False))


@router.put(
    HERE + "/{season_id}", response={200: SeasonOut, **ERRORS}, operation_id="change_season"
)
def change(
    request: HttpRequest, slug: str, block_id: int, season_id: int, data: SeasonIn
) -> SeasonOut:
    access = enter(person(request), slug)
    return _season_out(save_season(access, find_block(access, block_id), data, season_id), False)


@router.delete(
    HERE + "/{season_id}", response={200: DoneOut, **ERRORS}, operation_id="delete_season"
)
def remove(request: HttpRequest, slug: str, block_id: int, season_id: int) -> DoneOut:
    access = enter(person(request), slug)
    delete_season(access, find_block(access, block_id), season_id)
    return DoneOut()


@router.post(
    HERE + "/{season_id}/events", response={201: DoneOut, **ERRORS}, operation_id="add_observation"
)
def add_observation(
    request: HttpRequest, slug: str, block_id: int, season_id: int, data: EventIn
) -> Status[DoneOut]:
    access = enter(person(request), slug)
    see(access, find_block(access, block_id), season_id, data)
    return Status(201, DoneOut())


@router.delete(
    HERE + "/{season_id}/events/{event_id}",
    response={200: DoneOut, **ERRORS},
    operation_id="remove_observation",
)
def delete_observation(
    request: HttpRequest, slug: str, block_id: int, season_id: int, event_id: int
) -> DoneOut:
    access = enter(person(request), slug)
    remove_observation(access, find_block(access, block_id), season_id, event_id)
    return DoneOut()
