"""What a block without a site borrows from similar ones: where their root zones stand by their
probes, and the use that their crop has shown."""

from dataclasses import dataclass

from core.advice.answer import Assessment
from core.advice.inputs import BlockInputs
from core.learned.use_factor import UseFactor
from core.sentence import sentence
from server.advice.answers import answers, load
from server.advice.refill_seen import block_refill
from server.base.errors import Problem, RequestError
from server.base.incident import isolated
from server.blocks.loading import blocks_of
from server.blocks.models import Block
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.models import Farm
from server.farms.rules import Action
from server.siting.cover import similar_blocks

# Similar blocks that are looked at; the farm's map shows all.
MOST_SIMILAR = 6


@dataclass(frozen=True)
class SimilarBlock:
    """A block of the same crop, soil, slope and irrigation system, with the names of its sites.

    ``use`` is None where too few days tell it.
    """

    block: Block
    sites: tuple[str, ...]
    answer: Assessment
    use: UseFactor | None


@dataclass(frozen=True)
class Similar:
    """A block's sites; without one its own state by the balance, and similar ones with sites."""

    sites: tuple[str, ...]
    answer: Assessment | None
    blocks: list[SimilarBlock]


def similar_to(access: Access, block: Block) -> Similar:
    """A block without a site beside similar ones; one with a site needs none."""
    own, similar = similar_blocks(access, block)
    if own.sites:
        return Similar(own.sites, None, [])
    names = {b.name for b in similar[:MOST_SIMILAR]}
    rows = [b for b in blocks_of(access.farm) if b.name in names or b.pk == block.pk]
    loaded = load(access.farm, rows, access.now())
    found = answers(loaded)
    by_name = {b.name: b for b in rows}
    return Similar(
        own.sites,
        found[block.pk],
        [
            SimilarBlock(row, b.sites, found[row.pk], _use(access.farm, row, loaded.inputs[row.pk]))
            for b, row in ((b, by_name[b.name]) for b in similar[:MOST_SIMILAR])
        ],
    )


def _use(farm: Farm, block: Block, inputs: BlockInputs) -> UseFactor | None:
    with isolated(f"the use that block {block.pk} shows"):
        found = block_refill(farm, block, inputs)
        return found.use if found else None
    return None


def borrowed_from(access: Access, block: Block, similar_id: int) -> Block:
    """The similar block from which a block borrows.

    Raises
    ------
    RequestError
        When the block has a site of its own, or the other is no similar block with one.
    """
    own, similar = similar_blocks(access, block)
    names = {b.name for b in similar}
    found: Block | None = Block.objects.for_farm(access.farm).filter(pk=similar_id).first()
    if own.sites or found is None or found.name not in names:
        problem = sentence(
            "A block without a site can borrow from one of the same crop, soil, slope and "
            "irrigation system that has one."
        )
        raise RequestError(
            sentence("Nothing was changed."), (Problem(field="similar_block_id", message=problem),)
        )
    return found


@acting(Action.SET_UP_GROUND)
def borrow_readings(access: Access, block: Block, similar_id: int | None) -> Block:
    """Estimate a block without a site from the sites of a similar one, or from none any more.

    Raises
    ------
    RequestError
        When it has a site of its own, or the other is no similar block with one.
    """
    block.borrows_from = None if similar_id is None else borrowed_from(access, block, similar_id)
    block.save()
    of = block.borrows_from.name if block.borrows_from else "-"
    record(access, Done.READINGS_BORROWED, f"{block.name}: {of}", block=block.pk)
    return block
