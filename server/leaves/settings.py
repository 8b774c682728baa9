"""What a person settles of a block that is steered by its leaves."""

from typing import Annotated

from ninja import Field

from core.leaf.bands import BandProblem, LeafPhase, Product
from core.leaf.steering import Side, SteeringProblem, Strategy
from core.sentence import sentence
from server.base.errors import NotFound, Problem, RequestError
from server.base.moment import Day
from server.base.schema import Body
from server.blocks.models import Block
from server.blocks.services import find_block
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.leaves.models import LONGEST_NAME, Steering, steering_of

MOST_ZONES = 12


class BandIn(Body):
    """A person's own edges of a phase [MPa]."""

    phase: LeafPhase
    upper_mpa: float = Field(ge=-10, le=10)
    lower_mpa: float = Field(ge=-10, le=10)


class ZoneIn(Body):
    """A zone and its share of the block's ground; shares are taken in proportion."""

    name: str = Field(min_length=1, max_length=LONGEST_NAME)
    share: float = Field(gt=0, le=1000)


class SteeringIn(Body):
    """Product, strategy, own bands, zones; ``use_share`` is of ETc [-], ``application_mm`` net."""

    product: Product
    strategy: Strategy = Strategy.BAND
    own: Annotated[list[BandIn], Field(max_length=len(LeafPhase))] = []
    zones: Annotated[list[ZoneIn], Field(max_length=MOST_ZONES)] = []
    use_share: float | None = Field(None, ge=0, le=1)
    since: Day | None = None
    application_mm: float | None = Field(None, gt=0, le=500)
    side: Side | None = None
    side_since: Day | None = None
    side_days: int | None = Field(None, ge=0, le=1000)


def _refused(field: str, problem: BandProblem | SteeringProblem) -> RequestError:
    return RequestError(
        sentence("Steering by the leaf was not saved."),
        (Problem(field=field, message=problem.message),),
    )


@acting(Action.SET_UP_GROUND)
def save_steering(access: Access, block_id: int, data: SteeringIn) -> Steering:
    """Steer a block by its leaves.

    Raises
    ------
    RequestError
    """
    block = find_block(access, block_id)
    names = [z.name.strip() for z in data.zones]
    if len(set(names)) < len(names) or "" in names:
        raise RequestError(
            sentence("Steering by the leaf was not saved."),
            (Problem(field="zones", message=sentence("Each zone needs a name of its own.")),),
        )
    row = steering_of(block) or Steering(block=block)
    row.product, row.strategy = data.product, data.strategy
    row.own = {str(b.phase): [b.upper_mpa, b.lower_mpa] for b in data.own}
    total = sum(z.share for z in data.zones)
    row.zones = {n: z.share / total for n, z in zip(names, data.zones, strict=True)}
    row.use_share, row.since = data.use_share, data.since
    row.application_mm = data.application_mm
    row.side = data.side or ""
    row.side_since = data.side_since or access.now().date() if data.side else None
    row.side_days = (data.side_days or 0) if data.side else None
    try:
        row.settled  # noqa: B018 - it is checked by being made
    except BandProblem as problem:
        raise _refused(f"own.{problem.field}", problem) from None
    except SteeringProblem as problem:
        raise _refused(problem.field, problem) from None
    row.save()
    record(access, Done.STEERING_CHANGED, block.name, row.pk, block.pk)
    return row


def find_steering(block: Block) -> Steering:
    """How a block is steered by its leaves.

    Raises
    ------
    NotFound
    """
    row = steering_of(block)
    if row is None:
        raise NotFound(sentence("This block is not steered by its leaves."))
    return row


@acting(Action.SET_UP_GROUND)
def remove_steering(access: Access, block_id: int) -> None:
    """The block is no longer steered by its leaves; its rounds stay."""
    block = find_block(access, block_id)
    row = find_steering(block)
    record(access, Done.STEERING_REMOVED, block.name, row.pk, block.pk)
    row.delete()
