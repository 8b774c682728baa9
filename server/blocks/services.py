"""Setting up a block: soil, crop and equipment in one act."""

from django.db import transaction

from core.crop.catalogue import crops
from core.irrigation.system import IrrigationSystem, SystemProblem
from core.soil.horizon import Horizon as HorizonInput
from core.soil.horizon import HorizonProblem
from core.soil.profile import Profile
from server.blocks.models import Block, CropSeason
from server.blocks.schemas import BlockIn, HorizonIn
from server.farms.access import Access
from server.farms.rules import Action
from server.refusal import NotThere, Problem, Refused
from server.soils.models import Horizon, SoilProfile

# Where the core's names of an input differ from the form's.
_HORIZON_FIELD = {"top": "top_mm", "bottom": "bottom_mm"}
_SYSTEM_FIELD = {
    "area": "area_m2",
    "efficiency": "system.efficiency",
    "rate": "system.rate_mm_h",
    "flow": "system.flow_m3_h",
    "largest": "system.largest_mm",
}


def to_profile(horizons: list[HorizonIn]) -> Profile:
    """Horizons of a form as a profile; refused with the field to mend."""
    try:
        return Profile.from_horizons([HorizonInput(**h.model_dump()) for h in horizons])
    except HorizonProblem as problem:
        field = _HORIZON_FIELD.get(problem.field, problem.field)
        raise Refused(
            "The soil needs mending.",
            (Problem(field=f"horizons.{problem.index}.{field}", message=problem.message),),
        ) from None


def _check(access: Access, data: BlockIn, block: Block | None) -> None:
    problems = []
    name = data.name.strip()
    if not name:
        problems.append(Problem(field="name", message="Give the block a name."))
    same = Block.objects.for_farm(access.farm).filter(name__iexact=name)
    if same.exclude(pk=block.pk if block else None).exists():
        problems.append(
            Problem(field="name", message=f"{name} exists already. Choose another name.")
        )
    if (data.crop_key is None) != (data.planted_on is None):
        field = "planted_on" if data.planted_on is None else "crop_key"
        problems.append(
            Problem(field=field, message="A crop needs its planting date, and a date its crop.")
        )
    if data.crop_key is not None and data.crop_key not in crops():
        problems.append(
            Problem(field="crop_key", message="The catalogue has no such crop; choose one from it.")
        )
    system = data.system
    try:
        IrrigationSystem(
            kind=system.kind,
            area_m2=data.area_m2,
            efficiency=system.efficiency,
            rate_mm_h=system.rate_mm_h,
            flow_m3_h=system.flow_m3_h,
            smallest_mm=system.smallest_mm,
            largest_mm=system.largest_mm,
        )
    except SystemProblem as problem:
        problems.append(
            Problem(field=_SYSTEM_FIELD.get(problem.field, "system"), message=problem.message)
        )
    if problems:
        raise Refused("The block was not saved.", tuple(problems))


def _write_soil(access: Access, block: Block | None, data: BlockIn) -> SoilProfile:
    """The block's profile; a soil that other blocks share is not changed under them."""
    profile = None
    if block is not None and block.soil_profile.blocks.count() == 1:
        profile = block.soil_profile
    if profile is None:
        base = data.soil_name.strip() or f"Soil of {data.name.strip()}"
        name, n = base, 1
        while SoilProfile.objects.for_farm(access.farm).filter(name=name).exists():
            n += 1
            name = f"{base} ({n})"
        profile = SoilProfile(farm=access.farm, name=name)
        profile.save()
    for old in profile.horizons.all():
        old.delete()
    for h in data.horizons:
        values = h.model_dump()
        values["texture"] = str(h.texture) if h.texture else ""
        values["method"] = str(h.method)
        Horizon(profile=profile, **values).save()
    return profile


def save_block(access: Access, data: BlockIn, block_id: int | None = None) -> Block:
    """Make a block, or change one; refused whole with every field to mend."""
    access.require(Action.SET_UP_GROUND)
    block: Block | None = None
    if block_id is not None:
        block = find_block(access, block_id)
    _check(access, data, block)
    to_profile(data.horizons)
    with transaction.atomic():
        soil = _write_soil(access, block, data)
        block = block or Block(farm=access.farm)
        block.name = data.name.strip()
        block.area_m2 = data.area_m2
        block.soil_profile = soil
        block.system_kind = str(data.system.kind)
        block.rate_mm_h = data.system.rate_mm_h
        block.flow_m3_h = data.system.flow_m3_h
        block.efficiency = data.system.efficiency
        block.smallest_mm = data.system.smallest_mm
        block.largest_mm = data.system.largest_mm
        block.rain_room_mm = data.rain_room_mm
        block.school = str(data.school)
        block.save()
        if data.crop_key is not None and data.planted_on is not None:
            current = block.seasons.order_by("-planted_on").first()
            season = current or CropSeason(block=block)
            season.crop_key = data.crop_key
            season.planted_on = data.planted_on
            season.save()
    return block


def find_block(access: Access, block_id: int) -> Block:
    """A block of the farm, or a refusal that does not tell whether it exists elsewhere."""
    block: Block | None = (
        Block.objects.for_farm(access.farm)
        .select_related("soil_profile")
        .prefetch_related("soil_profile__horizons", "seasons", "instruments__channels")
        .filter(pk=block_id)
        .first()
    )
    if block is None:
        raise NotThere("There is no such block on this farm.")
    return block
