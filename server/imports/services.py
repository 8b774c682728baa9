"""An import from upload to undo: what a person may do in which state."""

from collections.abc import Iterable
from pathlib import Path

from django.db import transaction
from django.db.models import QuerySet, Sum

from core.sentence import sentence
from server.base.errors import NotFound, Problem, RequestError
from server.devices.services import find_device
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.files.kept_file import keep, spooled
from server.imports import staging, tasks
from server.imports.guess import heading_texts
from server.imports.layout import Layout, check_layout
from server.imports.models import BUSY, FileImport, FilePiece, ImportState, SavedLayout
from server.imports.preview import preview
from server.imports.sampled import sampled_rows, sheets_of
from server.imports.sensors import sensors_of, units_of_channels
from server.instruments.services import find_instrument
from server.readings.undo import require_own

MAX_BYTES = 1 << 30
# Of files that wait to be stored; what is stored keeps none.
FARM_BYTES = 4 << 30


def imports_listed(access: Access) -> QuerySet[FileImport]:
    """The farm's imports as a list tells them, without the rows that only its page shows."""
    rows: QuerySet[FileImport] = FileImport.objects.for_farm(access.farm)
    return rows.select_related("made_by").defer("sample", "layout", "refused", "parts")


def find_import(
    access: Access, import_id: int, *, lock: bool = False, listed: bool = False
) -> FileImport:
    """An import of the farm; ``told``: only what a list tells of it."""
    rows = imports_listed(access) if listed else FileImport.objects.for_farm(access.farm)
    if lock:
        rows = rows.select_for_update()
    row: FileImport | None = rows.filter(pk=import_id).first()
    if row is None:
        raise NotFound(sentence("There is no such import on this farm."))
    return row


@acting(Action.RECORD_READINGS, whole=False)
def upload(
    access: Access, file_name: str, size: int, blocks: Iterable[bytes], instrument_id: int | None
) -> FileImport:
    """Take a file in as it is; a worker reads its first rows. Nothing is stored yet.

    Raises
    ------
    RequestError
        When it is empty or too large, or the farm keeps too many.
    """
    if size > MAX_BYTES:
        raise RequestError(
            sentence(
                "The file has {size:.0f} MB; up to {max_bytes:.0f} MB can be imported at once. "
                "Split it and import the parts.",
                size=size / 1000000.0,
                max_bytes=MAX_BYTES / 1000000.0,
            )
        )
    if size == 0:
        raise RequestError(sentence("The file is empty. Export it again."))
    _require_room(access, size)
    instrument = None if instrument_id is None else find_instrument(access, instrument_id)
    with spooled(blocks) as (path, sha256), transaction.atomic():
        row = FileImport(
            farm=access.farm,
            file_name=Path(file_name).name[:255] or "file",
            sha256=sha256,
            size=path.stat().st_size,
            instrument=instrument,
            made_by=access.user,
        )
        row.save()
        keep(path, lambda n, block: FilePiece(file_import=row, number=n, data=block))
        _begin(access, row, ImportState.READING)
        record(access, Done.FILE_UPLOADED, row.file_name)
    return row


def _require_room(access: Access, size: int) -> None:
    over = (ImportState.STORED, ImportState.UNDONE)
    waiting = FileImport.objects.for_farm(access.farm).exclude(state__in=over)
    kept = waiting.aggregate(kept=Sum("size"))["kept"] or 0
    if kept + size > FARM_BYTES:
        raise RequestError(
            sentence(
                "{kept:.1f} GB of files wait to be imported, and a farm can keep {farm_bytes:.1f} "
                "GB. Store or drop some of them under Files, then upload this one.",
                kept=kept / 1000000000.0,
                farm_bytes=FARM_BYTES / 1000000000.0,
            )
        )


def _begin(access: Access, row: FileImport, state: ImportState) -> None:
    """Put an import's next step to the workers; it runs once what is under way is committed."""
    row.state, row.problem, row.attempts, row.step_by = state, "", 0, access.user
    row.done = 0
    row.save()
    tasks.queue_step(row)


def shown(access: Access, row: FileImport) -> dict[str, object] | None:
    """First rows as they stand and as they are understood; None until they are read."""
    if row.layout is None or row.sample is None:
        return None
    quantities = {s.channel_id: s.quantity for s in sensors_of(access.farm)}
    layout = Layout.model_validate(row.layout)
    return preview(layout, sampled_rows(row), access.farm.time_zone, quantities, access.now())


@acting(Action.RECORD_READINGS)
def change_layout(access: Access, import_id: int, layout: Layout) -> FileImport:
    """Read the file in another way; what was checked before no longer holds.

    Raises
    ------
    RequestError
        While a step is running, when it was stored, or when the layout contradicts itself.
    """
    row = find_import(access, import_id, lock=True)
    if row.state not in (ImportState.READY, ImportState.CHECKED):
        raise RequestError(
            sentence("This import can't be changed any more. Upload the file again.")
        )
    check_layout(layout, units_of_channels(sensors_of(access.farm)))
    if layout.sheet and layout.sheet not in sheets_of(row):
        problem = Problem(field="sheet", message=sentence("The workbook has no such sheet."))
        raise RequestError(sentence("The file can't be read with this layout."), (problem,))
    before = Layout.model_validate(row.layout)
    _forget_check(row)
    row.layout = layout.model_dump(mode="json")
    apart = ("sheet", "encoding", "delimiter")
    if any(getattr(before, n) != getattr(layout, n) for n in apart):
        _begin(access, row, ImportState.READING)
    else:
        row.state, row.problem = ImportState.READY, ""
        row.save()
    return row


@acting(Action.RECORD_READINGS)
def guess_for(access: Access, import_id: int, instrument_id: int | None) -> FileImport:
    """Have it guessed anew how the file is read, of the instrument named or of none.

    Raises
    ------
    RequestError
        While a step is running, or when it was stored.
    """
    row = find_import(access, import_id, lock=True)
    unread = row.state == ImportState.FAILED and row.layout is None
    if row.state not in (ImportState.READY, ImportState.CHECKED) and not unread:
        raise RequestError(
            sentence("This import can't be changed any more. Upload the file again.")
        )
    row.instrument = None if instrument_id is None else find_instrument(access, instrument_id)
    row.layout = row.sample = row.saved_layout = None
    _forget_check(row)
    _begin(access, row, ImportState.READING)
    return row


def _forget_check(row: FileImport) -> None:
    row.report, row.refused = None, []
    staging.drop_staging(row.pk)


@acting(Action.RECORD_READINGS)
def start_check(access: Access, import_id: int) -> FileImport:
    """Queue the reading of the whole file, which stores nothing.

    Raises
    ------
    RequestError
        While a step is running, or when no column is given to a sensor.
    """
    row = find_import(access, import_id, lock=True)
    if row.state in BUSY:
        raise RequestError(sentence("This import is running. Wait until it is done."))
    if row.state in (ImportState.STORED, ImportState.UNDONE):
        raise RequestError(
            sentence("This import is done. Upload the file again to import it once more.")
        )
    if row.layout is None:
        raise RequestError(sentence("The file could not be read. Delete it and upload it again."))
    layout = Layout.model_validate(row.layout)
    check_layout(layout, units_of_channels(sensors_of(access.farm)))
    if not layout.columns and not layout.keys:
        raise RequestError(
            sentence("No column is assigned to a sensor yet."),
            (
                Problem(
                    field="columns", message=sentence("Assign at least one column to a sensor.")
                ),
            ),
        )
    row.total = 0
    row.report, row.refused = None, []
    _begin(access, row, ImportState.CHECKING)
    return row


@acting(Action.RECORD_READINGS)
def start_store(access: Access, import_id: int, keep_as: str, device_id: int | None) -> FileImport:
    """Queue the storing of what was checked; ``keep_as`` names the layout to keep it.

    Raises
    ------
    RequestError
        Unless it was checked and brings anything.
    """
    row = find_import(access, import_id, lock=True)
    again = row.state == ImportState.FAILED and row.stored_parts < len(row.parts)
    if row.state != ImportState.CHECKED and not again:
        raise RequestError(sentence("Check the file first; then it can be imported."))
    report = row.report or {}
    if not again and report.get("new", 0) + report.get("changed", 0) == 0:
        raise RequestError(
            sentence("All readings of the file are already stored: there is nothing to import.")
        )
    if keep_as.strip():
        row.saved_layout = _keep_layout(access, row, keep_as.strip(), device_id)
    elif row.saved_layout is not None:
        row.saved_layout.used_at = access.now()
        row.saved_layout.save(update_fields=["used_at"])
    _begin(access, row, ImportState.STORING)
    record(access, Done.FILE_IMPORTED, row.file_name, thing=row.pk)
    return row


def _keep_layout(access: Access, row: FileImport, name: str, device_id: int | None) -> SavedLayout:
    device = None if device_id is None else find_device(access, device_id)
    layout = Layout.model_validate(row.layout)
    found = SavedLayout.objects.for_farm(access.farm).filter(name__iexact=name).first()
    saved: SavedLayout = found or SavedLayout(farm=access.farm, name=name[:80])
    saved.device, saved.layout, saved.made_by = device, row.layout, access.user
    saved.heading = heading_texts(sampled_rows(row), layout.data_from)
    saved.used_at = access.now()
    saved.save()
    return saved


@acting(Action.RECORD_READINGS, undoes=(Done.FILE_IMPORTED,))
def start_undo(access: Access, import_id: int) -> FileImport:
    """Queue the taking back of all that an import brought.

    Raises
    ------
    RequestError
        Unless it brought anything.
    """
    row = find_import(access, import_id, lock=True)
    if row.state in BUSY:
        raise RequestError(sentence("This import is running. Wait until it is done."))
    # Also after a check that followed a storing broken off: what it stored must have a way back.
    if row.batch is None or row.state == ImportState.UNDONE:
        raise RequestError(sentence("This import stored nothing that could be undone."))
    require_own(access, row.batch)
    _begin(access, row, ImportState.UNDOING)
    return row


@acting(Action.RECORD_READINGS)
def delete_import(access: Access, import_id: int) -> None:
    """Drop an import that stored nothing, with its file."""
    row = find_import(access, import_id, lock=True)
    if row.state == ImportState.STORING:
        raise RequestError(sentence("This import is running. Wait until it is done."))
    if row.batch is not None:
        raise RequestError(
            sentence("This import stored readings. Undo it instead; it stays on record.")
        )
    staging.drop_staging(row.pk)
    row.delete()
    record(access, Done.FILE_DELETED, row.file_name)


@acting(Action.RECORD_READINGS)
def delete_layout(access: Access, layout_id: int) -> None:
    """Drop a kept layout; imports that used it stay."""
    row = SavedLayout.objects.for_farm(access.farm).filter(pk=layout_id).first()
    if row is None:
        raise NotFound(sentence("There is no such layout on this farm."))
    row.delete()
    record(access, Done.LAYOUT_DELETED, row.name)
