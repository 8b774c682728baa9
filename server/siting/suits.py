"""Which kind of instrument suits a block, by what is on record of its soil and crop."""

import numpy as np

from core.instrument.kinds import kinds
from core.siting.instrument_choice import BlockToMeasure, KindChoice, instrument_choice
from core.soil.profile import Profile
from server.blocks.crop import season_crop, season_under_way
from server.blocks.limit_changes import timeline
from server.blocks.services import find_block
from server.farms.access import Access
from server.siting.choice_schemas import InstrumentChoiceIn, InstrumentChoiceOut, KindChoiceOut
from server.soils.convert import soil_profile
from server.soils.models import SoilProfile

# Where no crop tells how deep roots go [mm]; common practice, no source.
WITHOUT_CROP_MM = 600.0


def what_suits(access: Access, block_id: int, data: InstrumentChoiceIn) -> InstrumentChoiceOut:
    """All kinds that tell of the root zone beside a block.

    Raises
    ------
    NotFound
    """
    block = find_block(access, block_id)
    season = season_under_way(block, access.now().date())
    grown = season_crop(season) if season else None
    soil = timeline(block.soils.all())[-1].soil
    profile = soil_profile(soil)
    deep = grown.root_schedule_mm if grown else WITHOUT_CROP_MM
    root_mm = min(deep, profile.root_limit_mm)
    told = BlockToMeasure(
        clay=_most_clay(soil, root_mm),
        gravel=float(100 * profile.gravel[profile.top_mm < root_mm].max()),
        ece_ds_m=profile.mean_ece(root_mm),
        refill_kpa=_refill_kpa(profile, root_mm, grown.p) if grown else (),
        p=grown.p if grown else None,
        root_mm=root_mm,
        tilled=data.tilled,
        visits_a_week=data.visits_a_week,
        logged=data.logged,
    )
    found = instrument_choice(told, data.prices)
    return InstrumentChoiceOut(
        block=block.name,
        crop=grown.name if grown else "",
        soil=soil.name,
        root_mm=root_mm,
        p=told.p,
        refill_kpa=list(told.refill_kpa),
        clay=told.clay,
        gravel=told.gravel or 0.0,
        ece_ds_m=told.ece_ds_m,
        kinds=[_kind_out(c) for c in found],
    )


def _most_clay(soil: SoilProfile, root_mm: float) -> float | None:
    known = [h.clay for h in soil.horizons.all() if h.top_mm < root_mm and h.clay is not None]
    return max(known, default=None)


def _refill_kpa(profile: Profile, root_mm: float, p: float) -> tuple[float, ...]:
    """Tension in each horizon of the roots when the share p of its water is used [kPa].

    A horizon's limits are of the whole soil, its curve of the fine earth.
    """
    refill = profile.theta_full - p * (profile.theta_full - profile.theta_wilt)
    tension = profile.curve.tension_at(refill / (1 - profile.gravel))
    in_roots = profile.top_mm < root_mm
    return tuple(float(t) for t in tension[in_roots] if np.isfinite(t))


def _kind_out(choice: KindChoice) -> KindChoiceOut:
    return KindChoiceOut(
        kind=choice.kind,
        name=kinds()[choice.kind].name,
        speaks_for=list(choice.speaks_for),
        against=list(choice.against),
        ruled_out=list(choice.ruled_out),
        depths_mm=list(choice.depths_mm),
        cost=choice.cost,
    )
