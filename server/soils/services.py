"""The farm's soils: described, described anew, taken away."""

from collections.abc import Sequence
from datetime import date

from django.db.models import Q, QuerySet

from core.sentence import Sentence, sentence
from core.soil.horizon_limits import HorizonLimits
from core.soil.profile import Profile
from server.base.errors import NotFound, Problem, RequestError
from server.blocks.crop import season_crop, season_under_way
from server.blocks.limit_changes import put_in_force
from server.blocks.models import Block
from server.blocks.rooting import require_depth
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, Entry, record, record_each
from server.farms.rules import Action
from server.limits.models import BlockSoil
from server.maps.models import MapFeature
from server.soils.convert import soil_profile, typed_profile, write_horizons
from server.soils.models import SoilProfile
from server.soils.schemas import SoilHorizonRow, SoilIn, SoilRow

LIBRARY_DEPTH_MM = 1000.0


def soils_of(access: Access) -> QuerySet[SoilProfile]:
    """The farm's soils with their horizons."""
    rows: QuerySet[SoilProfile] = SoilProfile.objects.for_farm(access.farm)
    return rows.prefetch_related("horizons").order_by("name", "pk")


def find_soil(access: Access, soil_id: int) -> SoilProfile:
    """A soil of the farm.

    Raises
    ------
    NotFound
    """
    soil = soils_of(access).filter(pk=soil_id).first()
    if soil is None:
        raise NotFound(sentence("There is no such soil on this farm."))
    return soil


def blocks_on(access: Access) -> dict[int, list[str]]:
    """Names of the blocks that stand on each soil today, by soil."""
    found: dict[int, list[str]] = {}
    for name, soil_id in soils_today(access).values():
        found.setdefault(soil_id, []).append(name)
    return found


def soils_today(access: Access) -> dict[int, tuple[str, int]]:
    """By block, its name and the soil it stands on by what was said last."""
    today = access.now().date()
    rows = (
        BlockSoil.objects.for_farm(access.farm)
        .filter(Q(from_on__isnull=True) | Q(from_on__lte=today), undone_at__isnull=True)
        .order_by("block__name", "pk")
        .values_list("block_id", "block__name", "soil_id")
    )
    return {block: (name, soil) for block, name, soil in rows}


def soil_row(soil: SoilProfile, blocks: list[str]) -> SoilRow:
    """A soil of the library with what it holds."""
    profile = soil_profile(soil)
    depth = min(profile.root_limit_mm, LIBRARY_DEPTH_MM)
    available = profile.available_between(0.0, depth)

    def held(limit: HorizonLimits, thick: float) -> float:
        return limit.available * thick

    rows = [
        SoilHorizonRow(
            top_mm=h.top_mm,
            bottom_mm=h.bottom_mm,
            texture=limit.texture,
            available_mm=held(limit, h.bottom_mm - h.top_mm),
            stops_roots=h.stops_roots,
        )
        for h, limit in zip(soil.horizons.all(), profile.limits, strict=True)
    ]
    variance = sum(
        (float(mm) / x.available * x.sigma_available) ** 2
        for mm, x in zip(available, profile.limits, strict=True)
    )
    return SoilRow(
        id=soil.pk,
        name=soil.name,
        note=soil.note,
        depth_mm=profile.depth_mm,
        available_mm=float(available.sum()),
        sigma_mm=variance**0.5,
        methods=sorted({x.method for x in profile.limits}),
        blocks=blocks,
        earlier=soil.superseded,
        surveyed=soil.survey_id is not None,
        horizons=rows,
    )


def _check_name(access: Access, name: str, but: SoilProfile | None) -> None:
    same = SoilProfile.objects.for_farm(access.farm).filter(name__iexact=name, superseded=False)
    problem = None
    if not name:
        problem = sentence("Enter a name for the soil.")
    elif same.exclude(pk=but.pk if but else None).exists():
        problem = sentence("{name} exists already. Choose another name.", name=name)
    if problem:
        raise RequestError(
            sentence("The soil was not saved."), (Problem(field="name", message=problem),)
        )


def _require_roots(
    access: Access, block_ids: Sequence[int], profile: Profile, message: Sentence, field: str
) -> None:
    """Refuse a soil described less deep than the crops now on it root."""
    today = access.now().date()
    blocks = Block.objects.for_farm(access.farm).filter(pk__in=block_ids)
    for block in blocks.prefetch_related("seasons__farm_crop"):
        season = season_under_way(block, today)
        if season is not None:
            require_depth(profile, season_crop(season), message, field, block.name)


@acting(Action.SET_UP_GROUND)
def save_soil(access: Access, data: SoilIn, soil_id: int | None = None) -> SoilProfile:
    """Describe a soil, or describe one anew.

    Where blocks stand on it the old description stays for the days before ``from_on``; the
    new one is put in force on each of those blocks, dated, signed and with its reason.
    """
    old = find_soil(access, soil_id) if soil_id is not None else None
    name = data.name.strip()
    _check_name(access, name, old)
    profile = typed_profile(data.horizons)
    standing = [b for b, (_, on) in soils_today(access).items() if old and on == old.pk]
    field = f"horizons.{len(data.horizons) - 1}.bottom_mm"
    _require_roots(access, standing, profile, sentence("The soil was not saved."), field)
    in_use = old is not None and old.block_soils.exists()
    if old is None or in_use:
        if old is not None:
            old.superseded = True
            old.save()
        soil = SoilProfile(farm=access.farm, survey=old.survey if old else None)
    else:
        soil = old
    soil.name, soil.note = name, data.note.strip()
    soil.save()
    write_horizons(soil, data.horizons)
    if old is not None and in_use:
        for zone in MapFeature.objects.for_farm(access.farm).filter(soil=old):
            zone.soil = soil
            zone.save()
        put_in_force(access, standing, soil, data.from_on, data.reason)
    record(access, Done.SOIL_CHANGED if old else Done.SOIL_ADDED, soil.name)
    return soil


@acting(Action.SET_UP_GROUND)
def assign_soil(
    access: Access, block_ids: list[int], soil_id: int, from_on: date | None, reason: str
) -> None:
    """Say that blocks stand on a soil of the library, from a date or since ever.

    Raises
    ------
    NotFound
        When the soil or one of the blocks is not the farm's.
    """
    soil = find_soil(access, soil_id)
    blocks = Block.objects.for_farm(access.farm).filter(pk__in=block_ids)
    names = dict(blocks.values_list("pk", "name"))
    if len(names) != len(set(block_ids)):
        raise NotFound(sentence("There is no such block on this farm."))
    _require_roots(
        access, block_ids, soil_profile(soil), sentence("Nothing was changed."), "soil_id"
    )
    rows = put_in_force(access, block_ids, soil, from_on, reason)
    record_each(
        access,
        Done.SOIL_ASSIGNED,
        (Entry(f"{names[r.block_id]}: {soil.name}", r.pk, r.block_id) for r in rows),
    )


@acting(Action.SET_UP_GROUND)
def delete_soil(access: Access, soil_id: int) -> None:
    """Take a soil out of the library; refused while any block's past needs it."""
    soil = find_soil(access, soil_id)
    if BlockSoil.objects.for_farm(access.farm).filter(soil=soil).exists():
        raise RequestError(
            sentence(
                "The soil was not removed: blocks stand on it, or stood on it. "
                "Put another soil under them; it then stays for their past only."
            )
        )
    soil.delete()
    record(access, Done.SOIL_REMOVED, soil.name)
