"""The long steps of an import, as a worker runs them: check, store, take back."""

from typing import Any

from django.db import connection, transaction

from core.instrument.kinds import Quantity
from server.accounts.models import User
from server.farms.access import enter
from server.imports import staging
from server.imports.kept_file import drop_file, kept_file
from server.imports.layout import Layout
from server.imports.models import FileImport, ImportState
from server.imports.preview import reader_of
from server.imports.sensors import sensors_of
from server.imports.sheet import read_rows, sample
from server.imports.understand import Reader
from server.readings.models import ReadingBatch
from server.readings.store import store_readings
from server.readings.undo import undo_batch
from server.refusal import Refused

_BROKE_OFF = (
    "The work broke off for a reason that is not in the file. Nothing was lost; try it again."
)


def _find(import_id: int, state: str) -> FileImport | None:
    """An import that waits for a step; None when it was dropped or went another way."""
    found: FileImport | None = (
        FileImport.unscoped.select_related("farm", "made_by")
        .filter(pk=import_id, state=state)
        .first()
    )
    return found


def _fail(import_id: int, back_to: str, message: str) -> None:
    FileImport.unscoped.filter(pk=import_id).update(state=back_to, problem=message[:500])


def _still_wanted(row: FileImport, done: int) -> bool:
    """Tell how far the check is; False when the import was dropped meanwhile."""
    return bool(FileImport.unscoped.filter(pk=row.pk, state=ImportState.CHECKING).update(done=done))


def run_check(import_id: int) -> None:
    """Read the whole file into its staging table and report what it would bring."""
    row = _find(import_id, ImportState.CHECKING)
    if row is None:
        return
    try:
        _check(row)
    except Refused as refused:
        staging.drop_staging(import_id)
        _fail(import_id, ImportState.READY, _spoken(refused))
    except Exception:
        _fail(import_id, ImportState.READY, _BROKE_OFF)
        raise


def _spoken(refused: Refused) -> str:
    return " ".join([refused.message, *(p.message for p in refused.problems[:3])])


def _check(row: FileImport) -> None:
    layout = Layout.model_validate(row.layout)
    quantities: dict[int, Quantity] = {s.channel_id: s.quantity for s in sensors_of(row.farm)}
    staging.make_staging(row.pk)
    with kept_file(row) as path:
        rows = sample(path, layout)
        reader = reader_of(layout, rows, row.farm.time_zone, quantities, row.farm.now())
        read = 0
        for stretch in read_rows(path, layout):
            staging.add_staged(row.pk, reader.take(stretch))
            read += len(stretch.lines)
            if not _still_wanted(row, read):
                staging.drop_staging(row.pk)
                return
    with transaction.atomic():
        report = _report(row, reader)
        starts = [s.isoformat() for s in staging.part_starts(row.pk)]
        FileImport.unscoped.filter(pk=row.pk, state=ImportState.CHECKING).update(
            state=ImportState.CHECKED,
            report=report,
            refused=[vars(r) for r in reader.tally.refused],
            parts=starts,
            stored_parts=0,
            total=report["readings"],
            done=0,
            problem="",
        )


def _report(row: FileImport, reader: Reader) -> dict[str, Any]:
    tally = reader.tally
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


def run_store(import_id: int) -> None:
    """Store the checked readings, stretch by stretch; taken up where it broke off."""
    row = _find(import_id, ImportState.STORING)
    if row is None:
        return
    try:
        if row.parts and not staging.is_staged(import_id):
            _fail(
                import_id,
                ImportState.READY if row.stored_parts == 0 else ImportState.FAILED,
                "The database stopped in between. Check the file again; nothing is stored twice.",
            )
            return
        _store(row)
    except Exception:
        _fail(import_id, ImportState.FAILED, _BROKE_OFF)
        raise


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
    batch.save()
    row.batch = batch
    row.save(update_fields=["batch"])
    return batch


def _store(row: FileImport) -> None:
    batch = _batch_of(row)
    for k in range(row.stored_parts, len(row.parts)):
        after = row.parts[k + 1] if k + 1 < len(row.parts) else None
        # Stored and counted together: a worker that dies repeats the stretch, not its count.
        with transaction.atomic(), connection.cursor() as cursor:
            rows = staging.staged_part(cursor, row.pk, row.parts[k], after)
            store_readings(batch, rows)
            row.stored_parts = k + 1
            row.done += rows.size
            row.save(update_fields=["stored_parts", "done"])
    row.state, row.problem = ImportState.STORED, ""
    row.save(update_fields=["state", "problem"])
    staging.drop_staging(row.pk)
    drop_file(row)


def run_undo(import_id: int, user_id: int) -> None:
    """Take back all that an import brought."""
    row = _find(import_id, ImportState.UNDOING)
    if row is None:
        return
    try:
        access = enter(User.objects.get(pk=user_id), row.farm.slug)
        with transaction.atomic():
            if row.batch is not None and row.batch.undone_at is None:
                undo_batch(access, row.batch.pk)
            row.state, row.problem = ImportState.UNDONE, ""
            row.save(update_fields=["state", "problem"])
    except Refused as refused:
        _fail(import_id, ImportState.STORED, _spoken(refused))
        return
    except Exception:
        _fail(import_id, ImportState.STORED, _BROKE_OFF)
        raise
    staging.drop_staging(import_id)
    drop_file(row)
