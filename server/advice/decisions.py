"""What people do with an advice: take it, change it, decline it, and take that back."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from core.sentence import sentence
from server.advice.answers import answers, load
from server.advice.models import Decision
from server.advice.present import answer_out
from server.advice.record import advice_of_today
from server.advice.schemas import AnswerOut
from server.advice.stored import todays_decisions
from server.base.errors import NotFound, Problem, RequestError
from server.blocks.models import Block
from server.blocks.services import find_blocks
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.water.models import Irrigation
from server.water.sets import SetFigures, make_sets

Kind = Decision.Kind

ENTRY: dict[Kind, Done] = {
    Kind.ACCEPTED: Done.ADVICE_ACCEPTED,
    Kind.CHANGED: Done.ADVICE_ADJUSTED,
    Kind.DECLINED: Done.ADVICE_SKIPPED,
}


@dataclass(frozen=True)
class Decided:
    """What a person decided: for `CHANGED` the start and hours or depth that he wants instead;
    for `DECLINED` why."""

    kind: str
    start_at: datetime | None = None
    hours: float | None = None
    gross_mm: float | None = None
    why: str = ""
    reason: str = ""


def _shown(access: Access, blocks: Sequence[Block]) -> dict[int, AnswerOut]:
    """The answers as they stand now, by block id."""
    loaded = load(access.farm, blocks, access.now())
    found = answers(loaded)
    return {b.pk: answer_out(b, loaded.inputs[b.pk], found[b.pk]) for b in blocks}


def _set_of(access: Access, block: Block, decided: Decided, shown: AnswerOut) -> Irrigation:
    """The planned set that an accepted or changed advice comes to."""
    now = access.now()
    accepted = decided.kind == Kind.ACCEPTED
    start = shown.start_at if accepted else (decided.start_at or shown.start_at)
    if start is None or (accepted and shown.amount is None):
        raise RequestError(
            sentence("Nothing was scheduled."),
            (
                Problem(
                    field="start_at",
                    message=sentence(
                        "No irrigation is advised for {block}; enter start and hours.",
                        block=block.name,
                    ),
                ),
            ),
        )
    hours, gross = decided.hours, decided.gross_mm
    if accepted or (hours is None and gross is None):
        gross = shown.amount.gross_mm if shown.amount else None
        # What is accepted runs as it was shown, pauses and turns with it.
        hours = shown.run.total_hours if shown.run else None
    if accepted and start.tzinfo is not None and start < now:
        start = now
    figures = SetFigures(
        status=Irrigation.Status.PLANNED, started_at=start, hours=hours, gross_mm=gross
    )
    return make_sets(access, [block.pk], figures)[0]


def _decide(access: Access, block: Block, decided: Decided, shown: AnswerOut) -> Decision:
    now = access.now()
    advice = advice_of_today(access.farm, block, now)
    given = None
    if decided.kind != Kind.DECLINED:
        given = _set_of(access, block, decided, shown)
    row = Decision(
        advice=advice,
        kind=decided.kind,
        why=decided.why,
        reason=decided.reason.strip(),
        shown=shown.model_dump(mode="json"),
        made_at=now,
        made_by=access.user,
        given=given,
    )
    row.save()
    record(access, ENTRY[Kind(decided.kind)], block.name, thing=row.pk, block=block.pk)
    return row


@acting(Action.DECIDE)
def decide_on(access: Access, block_id: int, decided: Decided) -> Decision:
    """Decide on a block's advice of today; one decision is in force at a time.

    Raises
    ------
    RequestError
        Without a reason where one is declined, or when it was decided before.
    """
    blocks = find_blocks(access, [block_id])
    if decided.kind == Kind.DECLINED and not decided.why:
        raise RequestError(
            sentence("The decision was not saved."),
            (Problem(field="why", message=sentence("Enter a reason.")),),
        )
    if decided.why == Decision.Why.OTHER and not decided.reason.strip():
        raise RequestError(
            sentence("The decision was not saved."),
            (Problem(field="reason", message=sentence("Describe the reason in a note.")),),
        )
    if earlier := todays_decisions(access.farm, access.now(), [block_id]).get(block_id):
        who = earlier.made_by.name if earlier.made_by else "someone"
        raise RequestError(
            sentence(
                "{who} has {decided} today's advice already; undo that first.",
                who=who,
                decided=earlier.kind,
            )
        )
    return _decide(access, blocks[0], decided, _shown(access, blocks)[block_id])


@acting(Action.DECIDE)
def accept_many(access: Access, block_ids: Sequence[int]) -> list[Decision]:
    """Take the advice of several blocks as it stands; all or none.

    Raises
    ------
    RequestError
        Naming the blocks that have nothing to accept or were decided on before.
    """
    blocks = find_blocks(access, block_ids)
    earlier = todays_decisions(access.farm, access.now(), block_ids)
    shown = _shown(access, blocks)
    problems = []
    for block in blocks:
        answer = shown[block.pk]
        if block.pk in earlier:
            problems.append(
                Problem(
                    field="block_ids",
                    message=sentence("{block} already has a decision.", block=block.name),
                )
            )
        elif answer.start_at is None or answer.amount is None:
            problems.append(
                Problem(
                    field="block_ids",
                    message=sentence("No irrigation is advised for {block}.", block=block.name),
                )
            )
    if problems:
        raise RequestError(sentence("Nothing was scheduled; leave these out."), tuple(problems))
    return [_decide(access, b, Decided(Kind.ACCEPTED), shown[b.pk]) for b in blocks]


@acting(Action.DECIDE, undoes=tuple(ENTRY.values()))
def undo_decision(access: Access, decision_id: int) -> Decision:
    """Undo a decision; a set that it planned and that has not begun is cancelled.

    Raises
    ------
    RequestError
        When its set has begun: water that ran can't be taken back.
    """
    row: Decision | None = (
        Decision.objects.for_farm(access.farm)
        .select_related("given")
        .filter(pk=decision_id)
        .first()
    )
    if row is None or row.undone_at is not None:
        raise NotFound(sentence("There is no such decision, or it was undone already."))
    if row.given is not None:
        if row.given.status in (Irrigation.Status.RUNNING, Irrigation.Status.DONE):
            raise RequestError(
                sentence(
                    "Its irrigation is {status} already; correct the irrigation instead.",
                    status=row.given.status,
                )
            )
        if row.given.status == Irrigation.Status.PLANNED:
            row.given.status = Irrigation.Status.CANCELLED
            row.given.save()
    row.undone_at, row.undone_by = access.now(), access.user
    row.save()
    return row
