"""The log of an instrument's life, and what an entry means for its readings."""

from datetime import datetime, timedelta

from core.instrument.kinds import InstrumentKind, kinds
from core.instrument.life import LogKind
from core.sentence import sentence
from server.base.errors import NotFound, Problem, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.past_moment import past_moment
from server.farms.rules import Action
from server.fieldwork.schemas import LogEntryIn
from server.instruments.models import Instrument, InstrumentEvent
from server.instruments.services import find_instrument
from server.readings.store import rejudge

# An entry that sets an instrument right changes how readings up to so long after are judged.
JUDGED_AGAIN = timedelta(days=45)
_SETS_RIGHT = frozenset({LogKind.SERVICED, LogKind.INSTALLED, LogKind.REPLACED})


# What a scout may write; the rest changes what the farm is made of.
_FIELD_KINDS = frozenset({LogKind.SERVICED, LogKind.SUSPECT, LogKind.NOTE})


@acting(Action.RECORD_READINGS)
def add_event(access: Access, instrument_id: int, data: LogEntryIn) -> InstrumentEvent:
    """Write into an instrument's log.

    A proof reading is held against what its kind should read; a failed one is kept as such.

    Raises
    ------
    RequestError
    """
    if data.kind not in _FIELD_KINDS:
        access.require(Action.SET_UP_GROUND)
    row = find_instrument(access, instrument_id)
    facts = kinds()[InstrumentKind(row.kind)]
    moment = past_moment(access, data.at, "at", sentence("The entry was not saved."))
    known = set(facts.install) | {t.key for t in facts.tasks}
    problems = []
    if unknown := [d for d in data.done if d not in known]:
        problems.append(
            Problem(
                field="done",
                message=sentence("“{unknown}” is not on the checklist.", unknown=unknown[0][:60]),
            )
        )
    if data.kind is LogKind.SERVICED and not data.done and not data.note.strip():
        problems.append(
            Problem(field="done", message=sentence("Tick what was done, or describe it."))
        )
    if data.kind is LogKind.SUSPECT and not data.note.strip():
        problems.append(Problem(field="note", message=sentence("Enter why it is suspect.")))
    if data.kind is LogKind.NOTE and not data.note.strip():
        problems.append(Problem(field="note", message=sentence("Enter what is to be noted.")))
    if data.depth_mm is not None and data.kind is not LogKind.NOTE:
        problems.append(Problem(field="depth_mm", message=sentence("Only a note has a depth.")))
    if problems:
        raise RequestError(sentence("The entry was not saved."), tuple(problems))
    passed = None
    if data.proof is not None and facts.proof_low is not None and facts.proof_high is not None:
        passed = facts.proof_low <= data.proof <= facts.proof_high
    event = InstrumentEvent(
        instrument=row,
        kind=str(data.kind),
        at=moment,
        note=data.note.strip(),
        done=data.done,
        proof=data.proof,
        passed=passed,
        depth_mm=data.depth_mm,
        made_by=access.user,
    )
    event.save()
    if data.kind in _SETS_RIGHT:
        judge_again(access, row, moment)
    record(access, Done.LOG_ENTRY_ADDED, row.label, block=row.block_id)
    return event


@acting(Action.SET_UP_GROUND)
def remove_event(access: Access, instrument_id: int, event_id: int) -> None:
    """Take an entry out of the log; the change history keeps it."""
    row = find_instrument(access, instrument_id)
    event = row.events.filter(pk=event_id).first()
    if event is None:
        raise NotFound(sentence("There is no such entry in the log."))
    event.delete()
    record(access, Done.LOG_ENTRY_REMOVED, row.label, block=row.block_id)
    if LogKind(event.kind) in _SETS_RIGHT:
        judge_again(access, row, event.at)


def judge_again(access: Access, row: Instrument, since: datetime) -> None:
    """A refill explains a fall of tension: what came after it is looked at again.

    Beyond `JUDGED_AGAIN` no reading's flags look back as far as the refill.
    """
    until = min(since + JUDGED_AGAIN, access.now())
    rejudge([c.pk for c in row.channels.all()], since, max(until, since))
