"""The soil core of a spot, recorded as a soil of the library."""

from core.sentence import sentence
from server.base.errors import Problem, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.siting.models import ProbeSpot
from server.siting.spots.chosen import find_spot, spot_name
from server.siting.spots.schemas import SpotCoreIn
from server.soils.schemas import SoilIn
from server.soils.services import assign_soil, find_soil, save_soil


@acting(Action.SET_UP_GROUND)
def record_core(access: Access, spot_id: int, data: SpotCoreIn) -> ProbeSpot:
    """Write down what a soil core showed: a soil of the library that was seen.

    Raises
    ------
    RequestError
        When the core is of a day to come, or the soil can't be described so.
    """
    row = find_spot(access, spot_id)
    if data.taken_on > access.now().date():
        raise RequestError(
            sentence("The core was not saved."),
            (Problem(field="taken_on", message=sentence("That day is in the future.")),),
        )
    described = find_soil(access, data.describes) if data.describes is not None else None
    name = data.name.strip() or (described.name if described else spot_name(row)[:120])
    soil = save_soil(
        access,
        SoilIn(
            name=name,
            note=data.note.strip() or f"core at {spot_name(row)}, {data.taken_on}",
            horizons=data.horizons,
            from_on=data.taken_on if described else None,
            reason=f"core at {spot_name(row)}"[:300] if described else "",
        ),
        described.pk if described else None,
    )
    # A soil of a survey that was seen is one of the farm.
    soil.survey = None
    soil.save()
    row.soil, row.core_on = soil, data.taken_on
    row.save()
    if data.for_block:
        why = f"core at {spot_name(row)}"[:300]
        assign_soil(access, [row.block_id], soil.pk, data.taken_on, why)
    record(access, Done.SPOT_CORE_RECORDED, spot_name(row), block=row.block_id)
    return row
