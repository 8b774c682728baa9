"""Why a block is irrigated when it is on the run sheet in use."""

from core.plan.pulses import hours_of
from core.plan.reasons import block_reason
from core.sentence import sentence
from server.base.errors import NotFound
from server.farms.access import Access
from server.plan.in_use import current_edit, sheet_in_use
from server.plan.live_sets import live_sets
from server.plan.money import whole_blocks
from server.plan.present import starts_of, store_out
from server.plan.schemas import InTheWayOut, RatherOut, WhyOut
from server.plan.sheet_sets import planned_sets
from server.plan.stored import StoredInputs, plan_block_of


def why(access: Access, block_id: int) -> WhyOut:
    """What a block would rather do, what stands in the way, and how its store goes.

    Raises
    ------
    NotFound
        Where there is no sheet, or the block is not on it.
    """
    sheet = sheet_in_use(access.farm)
    inputs = StoredInputs.model_validate(sheet.inputs) if sheet else None
    place = inputs.place(block_id) if inputs else None
    if sheet is None or inputs is None or place is None:
        raise NotFound(sentence("This block is not on the run sheet."))
    sets = live_sets(access.farm, current_edit(sheet)).sets
    whole = whole_blocks(sheet, inputs, [block_id])
    store = store_out(sheet, inputs, sets, block_id)
    if block_id not in whole or store is None:
        raise NotFound(sentence("This block is not on the run sheet."))
    blocks = [whole.get(b.block_id) or plan_block_of(b) for b in inputs.blocks]
    found = block_reason(inputs.shared(), blocks, planned_sets(inputs, sets), place)
    starts = starts_of(access, sheet)
    own = inputs.blocks[place]
    return WhyOut(
        cost=round(found.cost, 2),
        rather=[
            RatherOut(
                starts_at=starts[s.start],
                hours=round(hours_of(s.net_mm, own.net_mm_h, own.pulses), 3),
            )
            for s in found.rather
        ],
        rather_cost=round(found.rather_cost, 2),
        in_the_way=[
            InTheWayOut(
                kind=w.kind,
                name=w.name,
                slots=list(w.slots),
                block_ids=[inputs.blocks[b].block_id for b in w.blocks],
            )
            for w in found.in_the_way
        ],
        earlier=found.earlier,
        later=found.later,
        store=store,
    )
