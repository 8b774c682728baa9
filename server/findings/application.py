"""The share of applied water that a block's sensors found, and making it its rate or efficiency."""

from enum import StrEnum

from core.diagnosis.application_seen import ApplicationFit, ApplicationSeen, application_seen
from core.sentence import Sentence, sentence
from server.base.errors import Problem, RequestError
from server.blocks.models import Block
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.models import Farm
from server.farms.rules import Action
from server.findings.seen_block import seen_block


class ApplicationFigure(StrEnum):
    """What the seen share is made of a block."""

    RATE = "rate"
    EFFICIENCY = "efficiency"


def block_application(farm: Farm, block: Block) -> ApplicationSeen | None:
    """What the sensors of a block found; None where too few irrigations tell it."""
    seen, _ = seen_block(farm, block, farm.now())
    return application_seen(seen)


def efficiency_as_seen(block: Block, share: float) -> float | None:
    """The efficiency with which the stated gross depth would bring what was found; None where more
    came than was applied, which another rate alone explains."""
    efficiency = round(block.efficiency * share, 3)
    return efficiency if 0 < efficiency <= 1 else None


def rate_as_seen(block: Block, share: float) -> float | None:
    """The rate [mm/h], or flow [m3/h] where the block states that, which would have brought what
    was found; None where it is worked out from a design."""
    stated = block.rate_mm_h or block.flow_m3_h
    return None if block.design or stated is None else round(stated * share, 3)


@acting(Action.SET_UP_GROUND)
def adopt_application(access: Access, block: Block, figure: ApplicationFigure) -> None:
    """Make what was found the block's application rate, for irrigations from now on, or its
    efficiency, for all of them; undone by changing the block.

    Raises
    ------
    RequestError
    """
    seen = block_application(access.farm, block)
    if seen is None or seen.fit is not ApplicationFit.DIFFERS:
        raise _refused(sentence("Sensors show no amount that differs from the one on record."))
    if figure is ApplicationFigure.EFFICIENCY:
        efficiency = efficiency_as_seen(block, seen.share)
        if efficiency is None:
            raise _refused(
                sentence("More water came than was applied: adopt it as the application rate.")
            )
        block.efficiency = efficiency
    else:
        rate = rate_as_seen(block, seen.share)
        if rate is None:
            raise _refused(
                sentence("The rate comes from the design of the system: change the design.")
            )
        if block.flow_m3_h is None:
            block.rate_mm_h = rate
        else:
            block.flow_m3_h = rate
    block.save()
    record(access, Done.BLOCK_CHANGED, block.name, block=block.pk)


def _refused(why: Sentence) -> RequestError:
    return RequestError(sentence("Nothing was changed."), (Problem(field="figure", message=why),))
