"""A chosen spot taken to the field: what to do there, and the instrument that was put in."""

from django.db.models import Max

from core.instrument.cautions import cautions
from core.instrument.kinds import InstrumentKind, kinds
from core.sentence import sentence
from server.base.errors import RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.fieldwork.models import RoundStop
from server.fieldwork.rounds import find_round
from server.instruments.schemas import InstrumentIn
from server.instruments.services import add_instrument
from server.siting.answer import chosen_out
from server.siting.models import ProbeSpot
from server.siting.schemas import SpotInstrumentIn, SpotSheet
from server.siting.spots import find_spot

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
    record(access, Done.SPOT_INSTALLED, f"{row.block.name}, {row.name}", block=row.block_id)
    if walk is not None:
        last = walk.stops.aggregate(last=Max("place"))["last"]
        place = 0 if last is None else last + 1
        RoundStop(round=walk, instrument=made, place=place).save()
    return row
