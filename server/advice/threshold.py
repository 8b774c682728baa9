"""How deep a rice field is dried: one step deeper at a time, by a person who saw no harm."""

from core.ponded.cycles import NotDeeper
from core.ponded.field import THRESHOLDS_MM
from core.sentence import Sentence, sentence
from server.advice.answers import answers, load
from server.base.errors import Problem, RequestError
from server.blocks.services import find_block
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.paddies.models import Paddy
from server.paddies.settings import find_paddy

WHY: dict[NotDeeper, Sentence] = {
    NotDeeper.DEEPEST: sentence("30 cm below the surface is the deepest threshold."),
    NotDeeper.FEW_CYCLES: sentence(
        "The next threshold is allowed after two dryings to the present one."
    ),
    NotDeeper.NOT_DRYING: sentence(
        "The field is not dried at this stage; wait for wetting and drying."
    ),
    NotDeeper.FLOWERING_NEAR: sentence(
        "Flowering is near, when the field is not dried. Wait until it is over."
    ),
}


@acting(Action.DECIDE)
def set_threshold(access: Access, block_id: int, threshold_mm: float, no_harm: bool) -> Paddy:
    """Allow a deeper drying, or go back to one that is less deep.

    Parameters
    ----------
    threshold_mm : level [mm], below zero
    no_harm : whether the person confirms to have seen no harm in the field; not asked for going
        back

    Raises
    ------
    RequestError
        Where it is more than a step deeper, or the field is not ready for it.
    """
    block = find_block(access, block_id)
    row = find_paddy(block)
    if threshold_mm not in THRESHOLDS_MM:
        raise _refused(sentence("The threshold must be 15, 20, 25 or 30 cm below the surface."))
    if threshold_mm < row.threshold_mm:
        if threshold_mm != row.field.next_threshold_mm:
            raise _refused(sentence("Go one step of 5 cm deeper at a time."))
        if not no_harm:
            raise _refused(
                sentence("Confirm that the last dryings did the crop no harm."), "no_harm"
            )
        answer = answers(load(access.farm, [block], access.now()))[block.pk]
        said = answer.ponded
        if said is None:
            raise _refused(sentence("Nothing is known of the field's water. Read the tube first."))
        if said.not_deeper is not None:
            raise _refused(WHY[said.not_deeper])
    row.threshold_mm, row.threshold_since = threshold_mm, access.now().date()
    row.save()
    record(access, Done.THRESHOLD_CHANGED, block.name, row.pk, block.pk)
    return row


def _refused(message: Sentence, field: str = "threshold_mm") -> RequestError:
    return RequestError(
        sentence("The threshold was not changed."), (Problem(field=field, message=message),)
    )
