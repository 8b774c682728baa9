"""Rice fields at work: the season's water and dryings, how deep to dry, fields on one supply."""

from datetime import date, datetime

import numpy as np
from django.http import HttpRequest
from ninja import Router

from core.ponded.phases import Phase
from core.regime.ponded_season import PondedSeason, ponded_season
from core.units import M2_PER_HECTARE
from server.advice.answers import answers, load, load_whole
from server.advice.regime_schemas import LikelyOut
from server.advice.threshold import set_threshold
from server.base.error_schema import ERRORS
from server.base.schema import Body, DoneOut, Schema
from server.base.signed_in import person
from server.blocks.loading import blocks_of
from server.blocks.services import find_block
from server.farms.access import enter
from server.paddies.settings import find_paddy

router = Router(tags=["rice"])


class ThresholdIn(Body):
    """``no_harm`` confirms that the last dryings did the crop no harm; needed to go deeper."""

    threshold_mm: float
    no_harm: bool = False


class DryingOut(Schema):
    """A drying of the season; ``ended_on`` is null while it goes on, levels [mm]."""

    began_on: date
    ended_on: date | None
    deepest_mm: float


class PaddySeasonOut(Schema):
    """The season so far, net depths over the field [mm]; ``saved`` is the share saved against
    keeping it ponded: a tenth, half and nine tenths of what it may be [-]."""

    first: date
    last: date
    given_mm: float
    given_m3: float
    rain_mm: float
    use_mm: float
    continuous_mm: float
    saved: LikelyOut
    saved_m3: float
    dryings: list[DryingOut]
    unread_days: int


class PaddySeasonAnswer(Schema):
    """``season`` is null before planting, and where no tube was read."""

    season: PaddySeasonOut | None


class FieldOnSupply(Schema):
    """A rice field beside the others of its supply; level [mm], ``start_at`` of the next
    flooding."""

    block_id: int
    block: str
    area_ha: float
    phase: Phase | None
    level_mm: float | None
    start_at: datetime | None
    hours: float | None
    volume_m3: float | None


class SupplyFields(Schema):
    """Fields that one supply feeds, in the order in which they need water."""

    supply: str
    fields: list[FieldOnSupply]


@router.get(
    "/farms/{slug}/blocks/{block_id}/paddy/season",
    response={200: PaddySeasonAnswer, **ERRORS},
    operation_id="paddy_season",
)
def season(request: HttpRequest, slug: str, block_id: int) -> PaddySeasonAnswer:
    """Water and dryings of a rice field this season, and what was saved."""
    access = enter(person(request), slug)
    block = find_block(access, block_id)
    find_paddy(block)
    found = ponded_season(load_whole(access.farm, [block], access.now()).inputs[block.pk])
    return PaddySeasonAnswer(season=_season_out(found, block.area_m2) if found else None)


def _season_out(found: PondedSeason, area_m2: float) -> PaddySeasonOut:
    water = found.water
    low, middle, high = water.saved
    # In the measure of the log, where anything was logged.
    logged = water.given_mm / max(1.0 - middle, 0.05)
    continuous = logged if water.given_mm > 0 else float(np.median(water.continuous_mm))
    return PaddySeasonOut(
        first=found.first,
        last=found.last,
        given_mm=round(water.given_mm, 1),
        given_m3=round(water.given_mm / 1000 * area_m2, 1),
        rain_mm=round(water.rain_mm, 1),
        use_mm=round(water.use_mm, 1),
        continuous_mm=round(continuous, 1),
        saved=LikelyOut(low=round(low, 3), middle=round(middle, 3), high=round(high, 3)),
        saved_m3=round((continuous - water.given_mm) / 1000 * area_m2, 1),
        dryings=[DryingOut.model_validate(d) for d in found.dryings],
        unread_days=found.unread_days,
    )


@router.put(
    "/farms/{slug}/blocks/{block_id}/paddy/threshold",
    response={200: DoneOut, **ERRORS},
    operation_id="set_threshold",
)
def threshold(request: HttpRequest, slug: str, block_id: int, data: ThresholdIn) -> DoneOut:
    """Allow a deeper drying, one step at a time, or go back."""
    set_threshold(enter(person(request), slug), block_id, data.threshold_mm, data.no_harm)
    return DoneOut()


@router.get(
    "/farms/{slug}/rice-fields",
    response={200: list[SupplyFields], **ERRORS},
    operation_id="rice_fields",
)
def rice_fields(request: HttpRequest, slug: str) -> list[SupplyFields]:
    """The farm's rice fields by the supply that feeds them, those due first on top."""
    access = enter(person(request), slug)
    now = access.now()
    blocks = list(blocks_of(access.farm).filter(paddy__isnull=False))
    found = answers(load(access.farm, blocks, now)) if blocks else {}
    by_supply: dict[str, list[FieldOnSupply]] = {}
    for block in blocks:
        answer = found[block.pk]
        said = answer.ponded
        by_supply.setdefault(block.supply, []).append(
            FieldOnSupply(
                block_id=block.pk,
                block=block.name,
                area_ha=block.area_m2 / M2_PER_HECTARE,
                phase=said.phase if said else None,
                level_mm=said.level.middle if said and said.level else None,
                start_at=answer.start_at,
                hours=answer.amount.hours if answer.amount else None,
                volume_m3=answer.amount.volume_m3 if answer.amount else None,
            )
        )
    far = datetime.max.replace(tzinfo=now.tzinfo)
    return [
        SupplyFields(supply=supply, fields=sorted(own, key=lambda f: (f.start_at or far, f.block)))
        for supply, own in sorted(by_supply.items())
    ]
