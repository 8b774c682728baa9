"""Setting up a block: soil, crop and equipment in one act, and one act on many blocks."""

from collections.abc import Sequence

from core.crop.catalogue import Crop
from core.irrigation.design import design_of
from core.irrigation.fixed import Drip, SolidSet
from core.irrigation.system import MOVING, IrrigationSystem, SystemProblem
from core.limits.refill_method import LimitRule, RefillMethod
from core.sentence import Sentence, sentence
from server.base.errors import NotFound, Problem, RequestError
from server.base.moment import AHEAD, TOO_FAR_AHEAD
from server.blocks.crop import season_under_way
from server.blocks.limit_changes import put_in_force, set_refill_rule, timeline
from server.blocks.models import Block, CropSeason
from server.blocks.rooting import require_depth
from server.blocks.schemas import BlockIn, BulkIn, SystemIn
from server.blocks.seasons import check_clock
from server.crops.services import crop_by_key, season_columns
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, Entry, record, record_each
from server.farms.people import is_member
from server.farms.rules import Action
from server.soils.convert import soil_profile, typed_profile
from server.soils.models import SoilProfile
from server.soils.schemas import SoilIn
from server.soils.services import assign_soil, find_soil, save_soil

# Where the core's names of an input differ from the form's.
_SYSTEM_FIELD = {
    "area": "area_m2",
    "efficiency": "system.efficiency",
    "rate": "system.rate_mm_h",
    "flow": "system.flow_m3_h",
    "largest": "system.largest_mm",
}


def worked_out(data: SystemIn, area_m2: float) -> SystemIn:
    """The system with its rate or flow worked out from its design, where it has one.

    Raises
    ------
    RequestError
        With the path of the figure to mend.
    """
    figures = {n: v for n, v in data.design.items() if v is not None}
    if not figures:
        return data
    try:
        design = design_of(data.kind, figures)
    except SystemProblem as problem:
        raise RequestError(
            sentence("The block was not saved."),
            (Problem(field=f"system.design.{problem.field}", message=problem.message),),
        ) from None
    rate = design.operation(area_m2).rate_mm_h
    by_rate = isinstance(design, Drip | SolidSet)
    return data.model_copy(
        update={
            "design": figures,
            "rate_mm_h": rate if by_rate else None,
            "flow_m3_h": None if by_rate else rate * area_m2 / 1000,
        }
    )


def _check(access: Access, data: BlockIn, system: SystemIn, block: Block | None) -> None:
    problems = []
    name = data.name.strip()
    if not name:
        problems.append(Problem(field="name", message=sentence("Enter a name for the block.")))
    same = Block.objects.for_farm(access.farm).filter(name__iexact=name)
    if same.exclude(pk=block.pk if block else None).exists():
        problems.append(
            Problem(
                field="name",
                message=sentence("{name} exists already. Choose another name.", name=name),
            )
        )
    if (data.crop_key is None) != (data.planted_on is None):
        field = "planted_on" if data.planted_on is None else "crop_key"
        problems.append(
            Problem(
                field=field,
                message=sentence("A crop needs its planting date, and a date its crop."),
            )
        )
    if data.planted_on is not None and data.planted_on > access.now().date() + AHEAD:
        problems.append(Problem(field="planted_on", message=TOO_FAR_AHEAD))
    if block is not None and data.planted_on is not None:
        now = season_under_way(block, access.now().date())
        others = [s.planted_on for s in block.seasons.all() if s is not now]
        if data.planted_on in others:
            problems.append(
                Problem(
                    field="planted_on",
                    message=sentence("The block has a crop from that date already."),
                )
            )
    if data.irrigator_id is not None and not is_member(access.farm, data.irrigator_id):
        problems.append(
            Problem(
                field="irrigator_id", message=sentence("That person is not a member of the farm.")
            )
        )
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
        raise RequestError(sentence("The block was not saved."), tuple(problems))


def require_basal(dual: bool, crop: Crop, refused: Sentence, field: str, block: str = "") -> None:
    """Refuse to count evaporation apart for a crop without a basal coefficient.

    Raises
    ------
    RequestError
    """
    if not dual or crop.kcb is not None:
        return
    message = (
        sentence(
            "{block} calculates soil evaporation apart, and {crop} has no basal coefficient "
            "(Kcb). Choose the single coefficient, or enter its Kcb in a copy of the crop.",
            block=block,
            crop=crop.name,
        )
        if block
        else sentence(
            "{crop} has no basal coefficient (Kcb). Choose the single coefficient, or enter its "
            "Kcb in a copy of the crop.",
            crop=crop.name,
        )
    )
    raise RequestError(refused, (Problem(field=field, message=message),))


def _soil(access: Access, data: BlockIn) -> SoilProfile:
    """The soil chosen from the library, or the one described with the block."""
    if data.soil_id is not None:
        try:
            return find_soil(access, data.soil_id)
        except NotFound:
            raise RequestError(
                sentence("The block was not saved."),
                (
                    Problem(
                        field="soil_id", message=sentence("There is no such soil; choose another.")
                    ),
                ),
            ) from None
    base = data.soil_name.strip() or sentence("Soil of {data}", data=data.name.strip())
    name, n = base, 1
    there = SoilProfile.objects.for_farm(access.farm).filter(superseded=False)
    while there.filter(name__iexact=name).exists():
        n += 1
        name = f"{base} ({n})"
    return save_soil(access, SoilIn(name=name, horizons=data.horizons))


@acting(Action.SET_UP_GROUND)
def save_block(access: Access, data: BlockIn, block_id: int | None = None) -> Block:
    """Make a block, or change one; refused whole with every field to mend."""
    old = find_block(access, block_id) if block_id is not None else None
    system = worked_out(data.system, data.area_m2)
    _check(access, data, system, old)
    grown = season_columns(access, data.crop_key) if data.crop_key is not None else None
    keeps_soil = old is not None and data.soil_id is None and not data.horizons
    if data.soil_id is None and not keeps_soil:
        typed_profile(data.horizons)
    soil = None if keeps_soil else _soil(access, data)
    if data.crop_key is not None:
        standing = soil or (timeline(old.soils.all())[-1].soil if old else None)
        if standing is not None:
            field = "soil_id" if data.soil_id is not None else "crop_key"
            if data.horizons and data.soil_id is None:
                field = f"horizons.{len(data.horizons) - 1}.bottom_mm"
            grown_crop = crop_by_key(access, data.crop_key)
            refused = sentence("The block was not saved.")
            require_depth(soil_profile(standing), grown_crop, refused, field)
            require_basal(data.dual, grown_crop, refused, "dual")
    block = old or Block(farm=access.farm)
    block.name = data.name.strip()
    block.area_m2 = data.area_m2
    block.system_kind = str(system.kind)
    block.design = system.design
    block.rate_mm_h = system.rate_mm_h
    block.flow_m3_h = system.flow_m3_h
    block.efficiency = system.efficiency
    block.smallest_mm = system.smallest_mm
    block.largest_mm = system.largest_mm
    block.slope_percent = data.slope_percent
    block.rain_room_mm = data.rain_room_mm
    block.water_ecw = data.water_ecw
    block.estimate_from = str(data.estimate_from)
    block.dual = data.dual
    block.capillary_mm_day = data.capillary_mm_day
    block.water_table_mm = data.water_table_mm
    # What moves over the block can not come each day.
    block.little_and_often = data.little_and_often and system.kind not in MOVING
    block.supply = data.supply.strip()
    block.irrigator_id = data.irrigator_id
    block.save()
    if soil is not None and (old is None or timeline(old.soils.all())[-1].soil_id != soil.pk):
        put_in_force(access, [block.pk], soil, data.soil_from if old else None, "set-up")
    if old is None and data.refill_method is not RefillMethod.CROP_P:
        set_refill_rule(access, [block], LimitRule(data.refill_method), "set-up")
    if grown is not None and data.planted_on is not None:
        current = season_under_way(old, access.now().date()) if old else None
        season = current or CropSeason(block=block)
        season.crop_key, season.farm_crop = grown["crop_key"], grown["farm_crop"]
        season.planted_on = data.planted_on
        if not check_clock(season):
            season.clock = CropSeason.Clock.DAYS
        season.save()
    done = Done.BLOCK_CHANGED if old else Done.BLOCK_ADDED
    record(access, done, block.name, block=block.pk)
    return block


def find_block(access: Access, block_id: int) -> Block:
    """A block of the farm, or a refusal that does not tell whether it exists elsewhere."""
    found = find_blocks(access, [block_id])
    return found[0]


def find_blocks(access: Access, block_ids: Sequence[int]) -> list[Block]:
    """Blocks of the farm with all that an answer needs; refused unless all are there."""
    rows = (
        Block.objects.for_farm(access.farm)
        .filter(pk__in=block_ids)
        .prefetch_related(*BLOCK_PARTS)
        .order_by("name")
    )
    found = list(rows)
    if len(found) != len(set(block_ids)):
        raise NotFound(sentence("There is no such block on this farm."))
    return found


# What an answer for a block is made of; prefetched, so that a farm takes a fixed number of queries.
GROUND_PARTS = (
    "soils__soil__horizons",
    "refill_rules",
    "seasons__events",
    "seasons__farm_crop",
)
BLOCK_PARTS = (
    *GROUND_PARTS,
    "instruments__channels",
    "instruments__events",
    "borrows_from__instruments__channels",
    "borrows_from__instruments__events",
    "paddy",
    "steering",
    "less_water",
    "cut_plan",
)


@acting(Action.SET_UP_GROUND)
def change_many(access: Access, data: BulkIn) -> int:
    """The same crop, soil or refill rule for many blocks; all or none."""
    blocks = find_blocks(access, data.block_ids)
    if data.crop_key is None and data.soil_id is None and data.refill_method is None:
        raise RequestError(sentence("Nothing was changed: choose a crop, a soil or a refill rule."))
    if data.crop_key is not None:
        if data.planted_on is None:
            raise RequestError(
                sentence("Nothing was changed."),
                (Problem(field="planted_on", message=sentence("A crop needs its planting date.")),),
            )
        columns = season_columns(access, data.crop_key)
        crop = crop_by_key(access, data.crop_key)
        for block in blocks:
            standing = soil_profile(timeline(block.soils.all())[-1].soil)
            refused = sentence("Nothing was changed.")
            require_depth(standing, crop, refused, "crop_key", block.name)
            require_basal(
                block.dual, crop, sentence("Nothing was changed."), "crop_key", block.name
            )
            season = next(
                (s for s in block.seasons.all() if s.planted_on == data.planted_on), None
            ) or CropSeason(block=block, planted_on=data.planted_on)
            season.crop_key, season.farm_crop = columns["crop_key"], columns["farm_crop"]
            season.clock = data.clock
            if not check_clock(season):
                raise RequestError(
                    sentence("Nothing was changed."),
                    (
                        Problem(
                            field="clock",
                            message=sentence(
                                "This crop has no degree-days; count days, or add "
                                "degree-days to a copy of it first."
                            ),
                        ),
                    ),
                )
            season.save()
        record_each(access, Done.SEASON_CHANGED, (Entry(b.name, block=b.pk) for b in blocks))
    if data.soil_id is not None:
        assign_soil(access, data.block_ids, data.soil_id, data.from_on, data.reason)
    if data.refill_method is not None:
        rule = LimitRule(data.refill_method, data.value, data.from_on, data.stage)
        # Seasons made above are not among those prefetched.
        set_refill_rule(access, find_blocks(access, data.block_ids), rule, data.reason)
    return len(blocks)
