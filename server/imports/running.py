"""The long steps of an import, as a worker runs them: read, check, store, take back.

Each can be broken off at any point and begun again; its state says which it is.
"""

from collections.abc import Callable, Mapping
from datetime import datetime
from types import MappingProxyType
from typing import Any

from django.db import connection, transaction
from django.db.models import F

from core.sentence import sentence
from server.base.errors import Problem, RequestError
from server.base.hold import held
from server.base.incident import NOBODYS, record_incident
from server.base.retrying import retried
from server.farms.access import enter
from server.files.confined import confined, confined_parts
from server.files.kept_file import drop_file, kept_file
from server.imports import staging
from server.imports.layout import Layout
from server.imports.models import BUSY, FileImport, ImportState
from server.imports.parsing import look_first, read_whole
from server.imports.sampled import kept_sample, saved_for, sheets_of
from server.imports.sensors import sensors_of
from server.imports.sheet import sample
from server.imports.understand import Tally
from server.readings.binary_copy import Records
from server.readings.models import ReadingBatch
from server.readings.store import open_months, store_readings
from server.readings.undo import undo_batch

# A step that its worker or the database did not survive as often is not tried again by itself.
MAX_ATTEMPTS = 3


def run_step(import_id: int) -> None:
    """Do what an import's state asks for; nothing when another worker does, or it was dropped."""
    with held(f"import-{import_id}") as is_held:
        if not is_held:
            return
        row = _taken_up(import_id)
        if row is None:
            return
        state = ImportState(row.state)
        if row.attempts > MAX_ATTEMPTS:
            _fail(
                row,
                sentence(
                    "The import failed {max_attempts} times. {try_again}",
                    max_attempts=MAX_ATTEMPTS,
                    try_again=_TRY_AGAIN,
                ),
            )
            return
        try:
            _WORK[state](row)
        except RequestError as refused:
            _fail(row, _problem_text(refused))
        except NOBODYS:
            # Of the database: its connection's lock on the import ends, and another takes it up.
            raise
        except Exception:
            number = record_incident(f"import {import_id}, {state}")
            _fail(
                row,
                sentence(
                    "The import failed, incident {number}. {try_again}",
                    number=number,
                    try_again=_TRY_AGAIN,
                ),
            )


_TRY_AGAIN = "Nothing was lost; try again."


def _taken_up(import_id: int) -> FileImport | None:
    rows = FileImport.unscoped.filter(pk=import_id, state__in=BUSY)
    if not rows.update(attempts=F("attempts") + 1):
        return None
    found: FileImport | None = rows.select_related("farm", "made_by", "step_by").first()
    return found


def _fail(row: FileImport, message: str) -> None:
    """Put an import back to where a person can go on from."""
    if row.state == ImportState.STORING:
        back = ImportState.FAILED
    elif row.state == ImportState.UNDOING:
        back = ImportState.STORED
    elif row.state == ImportState.CHECKING or row.layout is not None:
        back = ImportState.READY
    else:
        back = ImportState.FAILED
    if back is ImportState.READY:
        staging.drop_staging(row.pk)
    FileImport.unscoped.filter(pk=row.pk, state=row.state).update(state=back, problem=message[:500])


def _problem_text(refused: RequestError) -> str:
    return " ".join([refused.message, *(_place(p) + p.message for p in refused.problems[:3])])


def _place(problem: Problem) -> str:
    return "" if problem.row is None else f"Row {problem.row}: "


def _read(row: FileImport) -> None:
    """Read the first rows; by the layout that a person chose, or else by the likeliest."""
    with kept_file(row) as path:
        if row.layout is not None:
            rows = confined(sample, path, Layout.model_validate(row.layout))
            row.sample = kept_sample(rows, sheets_of(row))
        else:
            sensors = sensors_of(row.farm)
            look = confined(look_first, path, row.file_name, sensors, row.instrument_id)
            rows, layout = look.rows, look.layout
            row.saved_layout = saved_for(row.farm, look.heading, sensors, row.instrument_id)
            if row.saved_layout is not None:
                layout = Layout.model_validate(row.saved_layout.layout)
                rows = confined(sample, path, layout)
            row.layout = layout.model_dump(mode="json")
            row.sample = kept_sample(rows, look.sheets)
    FileImport.unscoped.filter(pk=row.pk, state=ImportState.READING).update(
        state=ImportState.READY,
        layout=row.layout,
        sample=row.sample,
        saved_layout=row.saved_layout,
    )


class _Dropped(Exception):
    """A person dropped the import while it was at work."""


def _stage(row: FileImport) -> Tally:
    """Read the whole file into its staging table, and tell how far it is.

    Raises
    ------
    RequestError
    _Dropped
    """
    layout = Layout.model_validate(row.layout)
    quantities = {s.channel_id: s.quantity for s in sensors_of(row.farm)}
    is_held = FileImport.unscoped.filter(pk=row.pk, state=row.state)
    staging.make_staging(row.pk)
    read, tally = 0, Tally()
    with kept_file(row) as path:
        zone, now = row.farm.time_zone, row.farm.now()
        for part in confined_parts(read_whole, path, layout, zone, quantities, now):
            if isinstance(part, Tally):
                tally = part
                continue
            staging.add_staged(row.pk, part.readings)
            read += part.rows
            counts = {"done": read} if row.state == ImportState.CHECKING else {"state": row.state}
            if not is_held.update(**counts):
                raise _Dropped
    return tally


def _check(row: FileImport) -> None:
    """Report what the whole file would bring."""
    try:
        tally = _stage(row)
    except _Dropped:
        staging.drop_staging(row.pk)
        return
    with transaction.atomic():
        report = _report(row, tally)
        FileImport.unscoped.filter(pk=row.pk, state=ImportState.CHECKING).update(
            state=ImportState.CHECKED,
            report=report,
            refused=[vars(r) for r in tally.refused],
            parts=_starts(row),
            stored_parts=0,
            total=report["readings"],
            done=0,
        )


def _starts(row: FileImport) -> list[str]:
    starts: list[datetime] = staging.part_starts(row.pk)
    return [s.isoformat() for s in starts]


def _report(row: FileImport, tally: Tally) -> dict[str, Any]:
    repeated, twins, contrary = staging.drop_twins(row.pk)
    tally.refuse(twins, contrary - len(twins))
    channels = staging.compare(row.pk)
    readings = sum(c.readings for c in channels)
    new, changed = sum(c.new for c in channels), sum(c.changed for c in channels)
    return {
        "rows": tally.rows,
        "readings": readings,
        "new": new,
        "changed": changed,
        "unchanged": readings - new - changed,
        "gaps": tally.gaps,
        "repeated": repeated,
        "refused_count": tally.refused_count,
        "left_out": dict(sorted(tally.left_out.items())[:200]),
        "channels": [
            {**vars(c), "first": c.first.isoformat(), "last": c.last.isoformat()} for c in channels
        ],
    }


def _batch_of(row: FileImport) -> ReadingBatch:
    if row.batch is not None:
        return row.batch
    batch = ReadingBatch(
        farm=row.farm,
        origin=ReadingBatch.Origin.FILE,
        file_name=row.file_name,
        sha256=row.sha256,
        made_by=row.made_by,
        refused=row.refused[:200],
        refused_count=(row.report or {}).get("refused_count", 0),
    )
    with transaction.atomic():
        batch.save()
        row.batch = batch
        row.save(update_fields=["batch"])
    return batch


def _stage_again(row: FileImport) -> None:
    """The staging table does not outlive the database's end: the file is still there, and it is
    read once more. What was stored of it is found the same, and not stored twice."""
    _stage(row)
    with transaction.atomic():
        staging.drop_twins(row.pk)
        starts = _starts(row)
        if starts != row.parts:
            row.parts, row.stored_parts, row.done = starts, 0, 0
            row.save(update_fields=["parts", "stored_parts", "done"])


def _store(row: FileImport) -> None:
    """Store the checked readings, stretch by stretch; taken up where it broke off."""
    if row.stored_parts < len(row.parts) and not staging.is_staged(row.pk):
        _stage_again(row)
    batch = _batch_of(row)
    for k in range(row.stored_parts, len(row.parts)):
        after = row.parts[k + 1] if k + 1 < len(row.parts) else None
        with connection.cursor() as cursor:
            rows = staging.staged_part(cursor, row.pk, row.parts[k], after)
        open_months(rows)
        _store_part(row.pk, batch.pk, k, rows)
    _finish(row, ImportState.STORED)


@retried
def _store_part(import_id: int, batch_id: int, part: int, rows: Records) -> None:
    """Store a stretch and count it, together: a worker that dies repeats both or none."""
    store_readings(ReadingBatch.unscoped.get(pk=batch_id), rows)
    FileImport.unscoped.filter(pk=import_id).update(
        stored_parts=part + 1, done=F("done") + rows.size
    )


def _undo(row: FileImport) -> None:
    """Take back all that an import brought."""
    if row.step_by is None:
        raise RequestError(
            sentence("The person who asked for this is no longer a member. Undo it again.")
        )
    access = enter(row.step_by, row.farm.slug)
    if row.batch is not None and row.batch.undone_at is None:
        undo_batch(access, row.batch.pk)
    _finish(row, ImportState.UNDONE)


def _finish(row: FileImport, state: ImportState) -> None:
    """Let the content go; what became of it stays on record."""
    staging.drop_staging(row.pk)
    drop_file(row)
    row.state = state
    row.save(update_fields=["state"])


_WORK: Mapping[ImportState, Callable[[FileImport], None]] = MappingProxyType(
    {
        ImportState.READING: _read,
        ImportState.CHECKING: _check,
        ImportState.STORING: _store,
        ImportState.UNDOING: _undo,
    }
)
