"""Irrigation systems worked out, intake checked, catch-can tests."""

from datetime import date
from math import isfinite

from django.http import HttpRequest
from ninja import Field, Router, Status

from core.irrigation.catch_can import uniformity
from core.irrigation.design import design_of
from core.irrigation.intake import BASIC_INTAKE_MM_H, check_intake
from core.irrigation.run import CARRIED, SURFACE
from core.irrigation.system import SystemKind, SystemProblem
from core.sentence import sentence
from core.soil.texture import TextureClass
from core.units import water_volume_m3
from server.base.error_schema import ERRORS
from server.base.errors import Problem, RequestError
from server.base.schema import Body, DoneOut, Schema
from server.base.signed_in import person
from server.blocks.limit_changes import timeline
from server.blocks.services import find_block
from server.farms.access import enter
from server.soils.convert import soil_profile
from server.soils.services import find_soil
from server.water.catch_cans import (
    CatchIn,
    catch_cans_of,
    delete_catch_cans,
    save_catch_cans,
)
from server.water.models import CatchCanTest

router = Router(tags=["irrigation"])


class DesignIn(Body):
    """Figures of a system by their names, SI; a set of ``gross_mm`` is checked on the soil.

    ``soil_id`` or ``block_id`` says whose surface soil takes the water in.
    """

    kind: SystemKind
    figures: dict[str, float | None] = Field(max_length=12)
    area_m2: float = Field(gt=0, le=1e8)
    slope_percent: float = Field(1, ge=0, le=100)
    gross_mm: float = Field(25, gt=0, le=1000)
    soil_id: int | None = None
    block_id: int | None = None


class IntakeOut(Schema):
    """``safe_mm`` null: the soil keeps up with any set."""

    texture: TextureClass
    intake_mm_h: float
    storage_mm: float
    runs_off: bool
    safe_mm: float | None
    pulses: int
    on_hours: float | None
    pause_hours: float | None


class DesignOut(Schema):
    """``set_hours`` for the gross depth asked: to cross the block where the system moves."""

    rate_mm_h: float
    peak_rate_mm_h: float
    smallest_mm: float | None
    pass_hours: float
    pass_mm: float
    covered_m2: float | None
    set_hours: float
    set_m3: float
    speed_percent: float | None
    intake: IntakeOut | None


class CatchOut(Schema):
    id: int
    on: date
    note: str
    catch_mm: list[float]
    distance_m: list[float] | None
    cans: int
    mean_mm: float
    low_quarter_mm: float
    du_lq: float
    cu: float


@router.post(
    "/farms/{slug}/irrigation-design",
    response={200: DesignOut, **ERRORS},
    operation_id="irrigation_design",
)
def work_out(request: HttpRequest, slug: str, data: DesignIn) -> DesignOut:
    """What a system's figures come to, and whether the soil takes the water in."""
    access = enter(person(request), slug)
    try:
        design = design_of(data.kind, data.figures)
    except SystemProblem as problem:
        raise RequestError(
            sentence("Some figures are missing."),
            (Problem(field=f"system.design.{problem.field}", message=problem.message),),
        ) from None
    made = design.operation(data.area_m2)
    soil = None
    if data.soil_id is not None:
        soil = find_soil(access, data.soil_id)
    elif data.block_id is not None:
        soil = timeline(find_block(access, data.block_id).soils.all())[-1].soil
    intake = None
    if soil is not None and data.kind not in SURFACE:
        texture = soil_profile(soil).limits[0].texture
        carried = data.kind in CARRIED
        found = check_intake(
            made.peak_rate_mm_h, data.gross_mm, BASIC_INTAKE_MM_H[texture], data.slope_percent
        )
        intake = IntakeOut(
            texture=texture,
            intake_mm_h=found.intake_mm_h,
            storage_mm=found.storage_mm,
            runs_off=found.runs_off,
            safe_mm=found.safe_mm if isfinite(found.safe_mm) else None,
            pulses=1 if carried else found.pulses,
            on_hours=None if carried else found.on_hours,
            pause_hours=None if carried else found.pause_hours,
        )
    by_speed = data.kind in (SystemKind.PIVOT, SystemKind.LINEAR)
    return DesignOut(
        rate_mm_h=made.rate_mm_h,
        peak_rate_mm_h=made.peak_rate_mm_h,
        smallest_mm=made.smallest_mm,
        pass_hours=made.pass_hours,
        pass_mm=made.pass_mm,
        covered_m2=made.covered_m2,
        set_hours=data.gross_mm / made.rate_mm_h,
        set_m3=water_volume_m3(data.gross_mm, data.area_m2),
        speed_percent=min(100 * made.pass_mm / data.gross_mm, 100) if by_speed else None,
        intake=intake,
    )


def _catch_out(row: CatchCanTest) -> CatchOut:
    found = uniformity(row.catch_mm, row.distance_m)
    return CatchOut(
        id=row.pk or 0,
        on=row.on,
        note=row.note,
        catch_mm=row.catch_mm,
        distance_m=row.distance_m,
        cans=found.cans,
        mean_mm=found.mean,
        low_quarter_mm=found.low_quarter,
        du_lq=found.du_lq,
        cu=found.cu,
    )


HERE = "/farms/{slug}/blocks/{block_id}/catch-cans"


@router.get(HERE, response={200: list[CatchOut], **ERRORS}, operation_id="catch_cans")
def tests_of(request: HttpRequest, slug: str, block_id: int) -> list[CatchOut]:
    """The block's tests, the newest first."""
    block = find_block(enter(person(request), slug), block_id)
    return [_catch_out(t) for t in block.catch_can_tests.all()]


@router.post(
    HERE + "/preview", response={200: CatchOut, **ERRORS}, operation_id="preview_catch_cans"
)
def preview(request: HttpRequest, slug: str, block_id: int, data: CatchIn) -> CatchOut:
    """Uniformity of the cans as they are typed; nothing is saved."""
    return _catch_out(catch_cans_of(find_block(enter(person(request), slug), block_id), data))


@router.post(HERE, response={201: CatchOut, **ERRORS}, operation_id="save_catch_cans")
def save(request: HttpRequest, slug: str, block_id: int, data: CatchIn) -> Status[CatchOut]:
    access = enter(person(request), slug)
    return Status(201, _catch_out(save_catch_cans(access, find_block(access, block_id), data)))


@router.delete(
    HERE + "/{test_id}", response={200: DoneOut, **ERRORS}, operation_id="delete_catch_cans"
)
def remove(request: HttpRequest, slug: str, block_id: int, test_id: int) -> DoneOut:
    access = enter(person(request), slug)
    delete_catch_cans(access, find_block(access, block_id), test_id)
    return DoneOut()
