"""Visits from the phone into the log and the readings: each once, one by one."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID

import numpy as np
from django.db import connection

from core.instrument.kinds import InstrumentKind, Quantity, kinds
from core.instrument.life import LogKind
from core.instrument.possible import why_impossible
from core.instrument.reading_units import ReadingUnit, code_of, units_of
from core.sentence import Sentence, sentence
from server.base.errors import Problem, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.fieldwork.log import judge_again
from server.fieldwork.models import Round, Visit
from server.instruments.models import Instrument, InstrumentEvent
from server.readings.models import Reading, ReadingBatch
from server.readings.store import ROW, lock_instruments, row_of, store_readings

OLDEST = timedelta(days=400)
GRACE = timedelta(minutes=10)  # phones' clocks differ
NUDGES = 120  # seconds in which two phones at one gauge find a place each


@dataclass(frozen=True)
class ValueRead:
    channel_id: int
    value: float


@dataclass(frozen=True)
class VisitSent:
    """A visit as the phone wrote it; ``at`` is aware."""

    key: UUID
    instrument_id: int
    round_id: int | None
    at: datetime
    unit: ReadingUnit | None
    values: tuple[ValueRead, ...]
    done: tuple[str, ...]
    skipped: str
    note: str


@dataclass(frozen=True)
class VisitTaken:
    """``repeated``: it had come before."""

    key: UUID
    repeated: bool


def _problems(access: Access, sent: VisitSent, instrument: Instrument) -> list[Problem]:
    now = access.now()
    facts = kinds()[InstrumentKind(instrument.kind)]
    channels = {c.pk: c for c in instrument.channels.all()}
    out = []
    if sent.at > now + GRACE:
        out.append(
            Problem(field="at", message=sentence("The visit is in the future: check the clock."))
        )
    if sent.at < now - OLDEST:
        out.append(Problem(field="at", message=sentence("The visit is more than a year ago.")))
    if not (sent.values or sent.skipped or sent.done or sent.note):
        out.append(
            Problem(field="values", message=sentence("Nothing was read and there is no reason."))
        )
    if sent.values and sent.skipped:
        out.append(
            Problem(
                field="skipped", message=sentence("It can't be read and skipped at the same time.")
            )
        )
    known = {t.key for t in facts.tasks}
    if any(d not in known for d in sent.done):
        out.append(
            Problem(field="done", message=sentence("A task is not on the list of this kind."))
        )
    if sent.values and sent.unit is None:
        out.append(Problem(field="unit", message=sentence("The readings have no unit.")))
    for i, read in enumerate(sent.values):
        channel = channels.get(read.channel_id)
        if channel is None:
            message: Sentence | None = sentence("That sensor does not belong to this instrument.")
        elif sent.unit is not None and sent.unit not in units_of(Quantity(channel.quantity)):
            message = sentence("This sensor is not read in {unit}.", unit=sent.unit)
        else:
            message = None if sent.unit is None else why_impossible(read.value, sent.unit)
        if message:
            out.append(Problem(field=f"values.{i}", message=message))
    if len({v.channel_id for v in sent.values}) < len(sent.values):
        out.append(Problem(field="values", message=sentence("A sensor has two readings.")))
    return out


def _free_moment(channels: list[int], at: datetime) -> datetime:
    """The visit's second, or the next at which none of the channels has a reading yet.

    Another phone may have stood at the same gauge in the same minute: both words are kept.
    """
    first = at.replace(microsecond=0)
    taken = {
        round((t - first).total_seconds())
        for t in Reading.unscoped.filter(
            channel__in=channels, time__gte=first, time__lt=first + timedelta(seconds=NUDGES)
        ).values_list("time", flat=True)
    }
    free = next((s for s in range(NUDGES) if s not in taken), 0)
    return first + timedelta(seconds=free)


def _store_values(access: Access, sent: VisitSent) -> ReadingBatch | None:
    if not sent.values or sent.unit is None:
        return None
    channels = [v.channel_id for v in sent.values]
    with connection.cursor() as cursor:
        lock_instruments(cursor, channels)
    moment = _free_moment(channels, sent.at)
    batch = ReadingBatch(farm=access.farm, origin=ReadingBatch.Origin.ROUND, made_by=access.user)
    batch.save()
    code = code_of(sent.unit)
    rows = [row_of(v.channel_id, moment, v.value, code) for v in sent.values]
    store_readings(batch, np.array(rows, ROW))
    return batch


@acting(Action.RECORD_READINGS)
def take_visit(access: Access, sent: VisitSent) -> VisitTaken:
    """Store one visit: its readings, what was done, why it was skipped; once.

    Raises
    ------
    RequestError
        Nothing of the visit is stored then.
    """
    instrument: Instrument | None = (
        Instrument.objects.for_farm(access.farm)
        .select_for_update(of=("self",))
        .filter(pk=sent.instrument_id)
        .first()
    )
    if instrument is None:
        raise RequestError(sentence("That instrument is no longer on this farm."))
    # The instrument's row is locked: the same visit sent twice at once comes here in turn.
    if Visit.unscoped.filter(key=sent.key).exists():
        if not Visit.objects.for_farm(access.farm).filter(key=sent.key).exists():
            raise RequestError(sentence("That visit belongs to another farm."))
        return VisitTaken(sent.key, repeated=True)
    problems = _problems(access, sent, instrument)
    if problems:
        raise RequestError(sentence("The visit was not stored."), tuple(problems))
    batch = _store_values(access, sent)
    walked = Round.objects.for_farm(access.farm).filter(pk=sent.round_id).first()
    Visit(
        farm=access.farm,
        key=sent.key,
        instrument=instrument,
        round=walked,
        at=sent.at,
        skipped=sent.skipped.strip()[:200],
        note=sent.note.strip()[:500],
        batch=batch,
        made_by=access.user,
    ).save()
    _write_log(access, instrument, sent)
    record(access, Done.VISIT_RECORDED, instrument.label, block=instrument.block_id)
    return VisitTaken(sent.key, repeated=False)


def _write_log(access: Access, instrument: Instrument, sent: VisitSent) -> None:
    note = sent.note.strip()
    if sent.skipped:
        note = f"skipped: {sent.skipped.strip()}{'; ' if note else ''}{note}"
    if not sent.done and not note:
        return
    InstrumentEvent(
        instrument=instrument,
        kind=str(LogKind.SERVICED if sent.done else LogKind.NOTE),
        at=sent.at,
        note=note[:500],
        done=list(sent.done),
        made_by=access.user,
    ).save()
    if sent.done:
        # A visit may reach us after others that followed it.
        judge_again(access, instrument, sent.at)
