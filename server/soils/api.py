"""The soil library: soils, their limits while being described, laboratory sheets."""

from django.http import HttpRequest
from ninja import Field, File, Form, Router, Status, UploadedFile

from core.soil.by_hand import by_hand_steps
from core.soil.triangle import PATCHES
from server.base.error_schema import ERRORS
from server.base.moment import Day
from server.base.schema import Body, DoneOut, Keys, Schema
from server.base.signed_in import person
from server.crops.services import crop_by_key
from server.farms.access import enter
from server.files.confined import content_of
from server.soils.convert import horizon_in
from server.soils.laboratory import import_laboratory_sheet
from server.soils.models import SoilProfile
from server.soils.preview import soil_preview
from server.soils.schemas import (
    HandStep,
    LaboratoryOut,
    LaboratorySoil,
    SoilIn,
    SoilOut,
    SoilPreviewIn,
    SoilPreviewOut,
    SoilRef,
    SoilRow,
    TriangleClass,
)
from server.soils.services import (
    assign_soil,
    blocks_on,
    delete_soil,
    find_soil,
    save_soil,
    soil_row,
    soils_of,
)

router = Router(tags=["soils"])


class TexturesOut(Schema):
    """The triangle's patches and the steps of texturing by hand."""

    triangle: list[TriangleClass]
    by_hand: list[HandStep]


class PutSoilIn(Body):
    """No date means that the blocks have always stood on it."""

    block_ids: Keys
    from_on: Day | None = None
    reason: str = Field("", max_length=300)


@router.get("/textures", response={200: TexturesOut, **ERRORS}, operation_id="textures")
def textures(request: HttpRequest) -> TexturesOut:
    return TexturesOut(
        triangle=[
            TriangleClass(
                texture=p.texture,
                sand=list(p.sand),
                clay=list(p.clay),
                label_sand=p.label[0],
                label_clay=p.label[1],
            )
            for p in PATCHES
        ],
        by_hand=[HandStep.model_validate(s, from_attributes=True) for s in by_hand_steps()],
    )


@router.get("/farms/{slug}/soils", response={200: list[SoilRow], **ERRORS}, operation_id="soils")
def soils(request: HttpRequest, slug: str) -> list[SoilRow]:
    """The library: soils in use, and those kept for use; no longer used ones are left out."""
    access = enter(person(request), slug)
    standing = blocks_on(access)
    return [
        soil_row(s, standing.get(s.pk, []))
        for s in soils_of(access)
        if not s.superseded or s.pk in standing
    ]


@router.post("/farms/{slug}/soils", response={201: SoilRef, **ERRORS}, operation_id="add_soil")
def add_soil(request: HttpRequest, slug: str, data: SoilIn) -> Status[SoilProfile]:
    return Status(201, save_soil(enter(person(request), slug), data))


@router.get("/farms/{slug}/soils/{soil_id}", response={200: SoilOut, **ERRORS}, operation_id="soil")
def soil(request: HttpRequest, slug: str, soil_id: int) -> SoilOut:
    access = enter(person(request), slug)
    found = find_soil(access, soil_id)
    return SoilOut(
        id=found.pk,
        name=found.name,
        note=found.note,
        horizons=[horizon_in(h) for h in found.horizons.all()],
        blocks=blocks_on(access).get(found.pk, []),
        earlier=found.superseded,
        surveyed=found.survey_id is not None,
    )


@router.put(
    "/farms/{slug}/soils/{soil_id}", response={200: SoilRef, **ERRORS}, operation_id="change_soil"
)
def change_soil(request: HttpRequest, slug: str, soil_id: int, data: SoilIn) -> SoilProfile:
    return save_soil(enter(person(request), slug), data, soil_id)


@router.delete(
    "/farms/{slug}/soils/{soil_id}", response={200: DoneOut, **ERRORS}, operation_id="delete_soil"
)
def remove_soil(request: HttpRequest, slug: str, soil_id: int) -> DoneOut:
    delete_soil(enter(person(request), slug), soil_id)
    return DoneOut()


@router.post(
    "/farms/{slug}/soils/{soil_id}/blocks",
    response={200: DoneOut, **ERRORS},
    operation_id="assign_soil",
)
def put_under(request: HttpRequest, slug: str, soil_id: int, data: PutSoilIn) -> DoneOut:
    """Say that blocks stand on this soil."""
    access = enter(person(request), slug)
    assign_soil(access, data.block_ids, soil_id, data.from_on, data.reason)
    return DoneOut()


@router.post(
    "/farms/{slug}/soil-preview",
    response={200: SoilPreviewOut, **ERRORS},
    operation_id="soil_preview",
)
def preview(request: HttpRequest, slug: str, data: SoilPreviewIn) -> SoilPreviewOut:
    """Limits of a soil as it is being typed, at today's roots of the crop."""
    access = enter(person(request), slug)
    crop = crop_by_key(access, data.crop_key) if data.crop_key else None
    day = (access.now().date() - data.planted_on).days if data.planted_on else None
    return soil_preview(data.horizons, crop, day)


@router.post(
    "/farms/{slug}/laboratory",
    response={200: LaboratoryOut, **ERRORS},
    operation_id="import_laboratory",
)
def laboratory(
    request: HttpRequest, slug: str, file: File[UploadedFile], dry_run: Form[bool] = True
) -> LaboratoryOut:
    """Soils of a laboratory's sheet; saved only when asked, and then all or none."""
    sheet, there = import_laboratory_sheet(enter(person(request), slug), content_of(file), dry_run)
    return LaboratoryOut(
        soils=[
            LaboratorySoil(
                name=s.name, row=s.row, exists=s.name.lower() in there, horizons=s.horizons
            )
            for s in sheet.soils
        ],
        columns=list(sheet.columns),
        ignored=list(sheet.ignored),
        saved=not dry_run,
    )
