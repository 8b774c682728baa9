"""Full points that sensors have shown, made those of the soil that a block stands on."""

from collections.abc import Sequence
from datetime import date

from core.instrument.kinds import InstrumentKind, reads_content
from core.learned.horizon_full import HorizonFull, horizon_full
from core.sentence import sentence
from core.soil.horizon import LimitMethod
from server.base.errors import Problem, RequestError
from server.blocks.as_seen import name_as_seen
from server.blocks.limit_changes import put_in_force, timeline
from server.blocks.models import Block
from server.events.bring_up import bring_up
from server.events.full_points import FullPoints, full_points_by_season
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, Entry, record_each
from server.farms.models import Farm
from server.farms.rules import Action
from server.limits.models import BlockSoil
from server.soils.convert import horizon_in, soil_profile, typed_profile, write_horizons
from server.soils.models import SoilProfile
from server.soils.schemas import HorizonIn


def horizons_seen(farm: Farm, block: Block) -> list[HorizonFull]:
    """What a block's sensors have shown of the horizons that it stands on now."""
    return horizons_by_season(farm, block)[0]


def horizons_by_season(farm: Farm, block: Block) -> tuple[list[HorizonFull], dict[int, float]]:
    """See `horizons_seen`; and the full points of horizons as seasons before this one have shown
    them, by place [m3/m3]."""
    bring_up(farm, [block.pk])
    profile = soil_profile(_soil_now(block, farm.now().date()))
    contents = {i.label for i in block.instruments.all() if reads_content(InstrumentKind(i.kind))}

    def by_horizon(seen: FullPoints) -> list[HorizonFull]:
        points = [(depth, p) for (label, depth), p in seen.items() if label in contents]
        return horizon_full(profile, sorted(points, key=lambda x: x[0]))

    now, before = full_points_by_season(farm, block)
    return by_horizon(now), {h.index: h.seen for h in by_horizon(before)}


def _soil_now(block: Block, today: date) -> SoilProfile:
    rows = [r for r in timeline(block.soils.all()) if r.from_on is None or r.from_on <= today]
    soil: SoilProfile = rows[-1].soil
    return soil


def adopted_horizons(farm: Farm, block: Block, horizons: Sequence[int]) -> list[HorizonIn]:
    """The horizons that a block stands on now, some with the full points that were seen.

    Raises
    ------
    RequestError
        Where one of them has shown none.
    """
    seen = {h.index: h for h in horizons_seen(farm, block) if h.can_be_adopted}
    if not horizons or not set(horizons) <= set(seen):
        raise RequestError(
            sentence("Nothing was changed."),
            (
                Problem(
                    field="horizons",
                    message=sentence("Choose horizons whose full point has been seen."),
                ),
            ),
        )
    rows = [horizon_in(h) for h in _soil_now(block, farm.now().date()).horizons.all()]
    for k in horizons:
        rows[k] = _adopted(rows[k], seen[k])
    return rows


@acting(Action.SET_UP_GROUND)
def adopt_full(
    access: Access, block: Block, horizons: Sequence[int], from_on: date | None, reason: str
) -> BlockSoil:
    """Put a soil under a block whose full points are those that its sensors have shown; undone as
    any change of the soil is.

    Parameters
    ----------
    horizons : sequence of int
        Places of the horizons to adopt; the others stay as they are.

    Raises
    ------
    RequestError
    """
    rows = adopted_horizons(access.farm, block, horizons)
    typed_profile(rows)
    old = _soil_now(block, access.now().date())
    taken = (
        SoilProfile.objects.for_farm(access.farm)
        .filter(superseded=False)
        .values_list("name", flat=True)
    )
    name = name_as_seen(old.name, block.name, taken, _NAME_ROOM)
    soil = SoilProfile(farm=access.farm, name=name, note=old.note)
    soil.save()
    write_horizons(soil, rows)
    (row,) = put_in_force(access, [block.pk], soil, from_on, reason)
    about = f"{block.name}: {soil.name}"
    record_each(access, Done.SOIL_ASSIGNED, [Entry(about, row.pk, block.pk)])
    return row


def _adopted(row: HorizonIn, seen: HorizonFull) -> HorizonIn:
    """The horizon with the full point seen and the wilting point that goes with it."""
    earth = 1 - row.gravel / 100
    return row.model_copy(
        update={
            "method": LimitMethod.LEARNED,
            "curve": None,
            "points": [],
            "theta_full": round(seen.seen / earth, 4),
            "theta_wilt": round(seen.wilt_then / earth, 4),
        }
    )


# A soil's name has 120 letters; some are left for a number.
_NAME_ROOM = 110
