"""A chosen spot taken to the field: what to do there, and the instrument that was put in."""

from datetime import datetime

from django.db.models import Max
from shapely.geometry import Point, shape

from core.instrument.cautions import cautions
from core.instrument.kinds import InstrumentKind, kinds
from core.instrument.life import LogKind
from core.sentence import sentence
from server.base.errors import RequestError
from server.blocks.limit_changes import timeline
from server.blocks.loading import blocks_of
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.fieldwork.log import add_event
from server.fieldwork.models import RoundStop
from server.fieldwork.rounds import find_round
from server.fieldwork.schemas import LogEntryIn
from server.instruments.models import Instrument
from server.instruments.schemas import InstrumentIn
from server.instruments.services import add_instrument
from server.maps.models import FeatureKind, MapFeature
from server.siting.answer import chosen_out
from server.siting.models import ProbeSpot
from server.siting.spots.chosen import find_spot, spot_name
from server.siting.spots.schemas import SpotInstrumentIn, SpotSheet, SpotSoil
from server.soils.models import SoilProfile
from server.soils.services import soil_row

LONGEST_SITE = 300


def sheet_of(row: ProbeSpot, kind: InstrumentKind) -> SpotSheet:
    """What to take along: where the spot is, and how a kind is installed there."""
    facts = kinds()[kind]
    return SpotSheet(
        spot=chosen_out(row),
        block_id=row.block_id,
        block=row.block.name,
        kind=kind,
        kind_name=facts.name,
        steps=list(facts.install),
        proof=facts.proof,
        usual_depths_mm=list(facts.usual_depths_mm),
        cautions=[cautions()[k].text for k in facts.cautions],
        expected=_expected(row),
    )


def _expected(row: ProbeSpot) -> SpotSoil | None:
    """The soil of the map's zone at the spot, or else the block's."""
    at = Point(row.position)
    zones = MapFeature.objects.for_farm(row.block.farm).filter(
        kind=FeatureKind.SOIL_ZONE, soil__isnull=False
    )
    for zone in zones.select_related("soil").order_by("pk"):
        if zone.soil is not None and shape(zone.geometry).contains(at):
            return spot_soil(zone.soil, of_zone=True)
    block = blocks_of(row.block.farm, ("soils__soil__horizons",)).get(pk=row.block_id)
    return spot_soil(timeline(block.soils.all())[-1].soil)


def spot_soil(soil: SoilProfile, of_zone: bool = False) -> SpotSoil:
    """A soil of the library, told at a spot."""
    return SpotSoil(
        of_zone=of_zone,
        id=soil.pk,
        name=soil.name,
        surveyed=soil.survey_id is not None,
        horizons=soil_row(soil, []).horizons,
    )


def write_log(
    access: Access,
    instrument: Instrument,
    kind: LogKind,
    at: datetime | None = None,
    note: str = "",
) -> None:
    """Write into an instrument's log what became of it at a spot; no time is now."""
    add_event(
        access, instrument.pk, LogEntryIn(kind=kind, at=at, note=note, done=[], depth_mm=None)
    )


@acting(Action.SET_UP_GROUND)
def install_at(access: Access, spot_id: int, data: SpotInstrumentIn) -> ProbeSpot:
    """Put an instrument in at a chosen spot, and onto a round where one is named.

    Raises
    ------
    RequestError
        When there is one at the spot already, or what is told of it can't be.
    """
    row = find_spot(access, spot_id)
    if row.instrument is not None:
        raise RequestError(
            sentence(
                "{instrument} stands at this spot already. Choose another spot for one more.",
                instrument=row.instrument.label,
            )
        )
    walk = find_round(access, data.round_id) if data.round_id is not None else None
    told = InstrumentIn(
        label=data.label,
        kind=data.kind,
        depths_mm=data.depths_mm,
        serial="",
        site=f"{row.name}: {row.why}"[:LONGEST_SITE],
    )
    made = add_instrument(access, row.block, told)
    made.position = row.position
    made.save()
    row.instrument = made
    row.save()
    write_log(access, made, LogKind.INSTALLED, data.installed_at)
    record(access, Done.SPOT_INSTALLED, spot_name(row), block=row.block_id)
    if walk is not None:
        last = walk.stops.aggregate(last=Max("place"))["last"]
        place = 0 if last is None else last + 1
        RoundStop(round=walk, instrument=made, place=place).save()
    return row
