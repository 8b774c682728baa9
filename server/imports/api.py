"""Importing a file: a file up, its layout corrected, checked, stored, taken back."""

import csv
import io

from django.http import HttpRequest, HttpResponse
from ninja import File, Form, Router, Status, UploadedFile

from core.instrument.kinds import InstrumentKind, Quantity
from core.instrument.reading_units import units_of
from core.sentence import sentence
from server.base.error_schema import ERRORS
from server.base.schema import DoneOut
from server.base.signed_in import person
from server.farms.access import Access, enter
from server.imports.layout import Layout
from server.imports.models import FileImport, ImportState, SavedLayout
from server.imports.sampled import sheets_of
from server.imports.schemas import (
    FileImportOut,
    FilePreviewOut,
    FileReportOut,
    ImportDetail,
    ImportSensorOut,
    RefusedCellOut,
    SavedLayoutOut,
    StoreIn,
    WhoseIn,
)
from server.imports.services import (
    change_layout,
    delete_import,
    delete_layout,
    find_import,
    guess_for,
    imports_listed,
    shown,
    start_check,
    start_store,
    start_undo,
    upload,
)
from server.instruments.models import Channel

router = Router(tags=["imports"])
SHOWN_REFUSED = 50
LISTED = 50


def _summary(row: FileImport) -> FileImportOut:
    return FileImportOut(
        id=row.pk,
        file_name=row.file_name,
        size=row.size,
        state=ImportState(row.state),
        made_at=row.made_at,
        made_by=row.made_by.name if row.made_by else "",
        done=row.done,
        total=row.total,
        problem=row.problem,
        batch=row.batch_id,
        report=FileReportOut.model_validate(row.report) if row.report else None,
    )


def _saved(row: SavedLayout) -> SavedLayoutOut:
    return SavedLayoutOut(id=row.pk, name=row.name, device=row.device_id, used_at=row.used_at)


def _detail(access: Access, row: FileImport) -> ImportDetail:
    preview = shown(access, row)
    return ImportDetail(
        summary=_summary(row),
        layout=None if row.layout is None else Layout.model_validate(row.layout),
        sheets=sheets_of(row),
        instrument=row.instrument_id,
        preview=None if preview is None else FilePreviewOut.model_validate(preview),
        refused=[RefusedCellOut.model_validate(r) for r in row.refused[:SHOWN_REFUSED]],
        saved_layout=_saved(row.saved_layout) if row.saved_layout else None,
    )


@router.get(
    "/farms/{slug}/imports",
    response={200: list[FileImportOut], **ERRORS},
    operation_id="file_imports",
)
def get_imports(request: HttpRequest, slug: str) -> list[FileImportOut]:
    access = enter(person(request), slug)
    return [_summary(r) for r in imports_listed(access).order_by("-made_at")[:LISTED]]


@router.post(
    "/farms/{slug}/imports",
    response={202: FileImportOut, **ERRORS},
    operation_id="upload_file",
)
def post_import(
    request: HttpRequest,
    slug: str,
    file: File[UploadedFile],
    instrument_id: Form[int | None] = None,
) -> Status[FileImportOut]:
    """A file to import. Its first rows are read next, and nothing is stored yet."""
    access = enter(person(request), slug)
    row = upload(access, file.name or "", file.size or 0, file.chunks(), instrument_id)
    return Status(202, _summary(row))


@router.get(
    "/farms/{slug}/imports/sensors",
    response={200: list[ImportSensorOut], **ERRORS},
    operation_id="import_sensors",
)
def get_sensors(request: HttpRequest, slug: str) -> list[ImportSensorOut]:
    """Sensors that a column may be given to."""
    access = enter(person(request), slug)
    rows = (
        Channel.objects.for_farm(access.farm)
        .select_related("instrument__block")
        .defer("instrument__block__outline")
        .order_by("instrument__block__name", "instrument__label", "depth_mm", "quantity")
    )
    return [
        ImportSensorOut(
            channel_id=c.pk,
            instrument_id=c.instrument_id,
            block=c.instrument.block.name,
            instrument=c.instrument.label,
            kind=InstrumentKind(c.instrument.kind),
            quantity=Quantity(c.quantity),
            depth_mm=c.depth_mm,
            units=units_of(Quantity(c.quantity)),
        )
        for c in rows
    ]


@router.get(
    "/farms/{slug}/imports/layouts",
    response={200: list[SavedLayoutOut], **ERRORS},
    operation_id="saved_layouts",
)
def get_layouts(request: HttpRequest, slug: str) -> list[SavedLayoutOut]:
    access = enter(person(request), slug)
    return [_saved(s) for s in SavedLayout.objects.for_farm(access.farm).order_by("name")]


@router.delete(
    "/farms/{slug}/imports/layouts/{layout_id}",
    response={200: DoneOut, **ERRORS},
    operation_id="delete_layout",
)
def delete_saved_layout(request: HttpRequest, slug: str, layout_id: int) -> DoneOut:
    delete_layout(enter(person(request), slug), layout_id)
    return DoneOut()


@router.get(
    "/farms/{slug}/imports/{import_id}",
    response={200: ImportDetail, **ERRORS},
    operation_id="file_import",
)
def get_import(request: HttpRequest, slug: str, import_id: int) -> ImportDetail:
    access = enter(person(request), slug)
    return _detail(access, find_import(access, import_id))


@router.get(
    "/farms/{slug}/imports/{import_id}/progress",
    response={200: FileImportOut, **ERRORS},
    operation_id="import_progress",
)
def get_progress(request: HttpRequest, slug: str, import_id: int) -> FileImportOut:
    """How far the running step is."""
    return _summary(find_import(enter(person(request), slug), import_id, listed=True))


@router.put(
    "/farms/{slug}/imports/{import_id}/layout",
    response={200: ImportDetail, **ERRORS},
    operation_id="change_layout",
)
def put_layout(request: HttpRequest, slug: str, import_id: int, data: Layout) -> ImportDetail:
    access = enter(person(request), slug)
    return _detail(access, change_layout(access, import_id, data))


@router.post(
    "/farms/{slug}/imports/{import_id}/guess",
    response={202: FileImportOut, **ERRORS},
    operation_id="guess_layout",
)
def post_guess(
    request: HttpRequest, slug: str, import_id: int, data: WhoseIn
) -> Status[FileImportOut]:
    """Guess anew how the file is read, as one of a given instrument."""
    access = enter(person(request), slug)
    return Status(202, _summary(guess_for(access, import_id, data.instrument_id)))


@router.post(
    "/farms/{slug}/imports/{import_id}/check",
    response={202: FileImportOut, **ERRORS},
    operation_id="check_import",
)
def post_check(request: HttpRequest, slug: str, import_id: int) -> Status[FileImportOut]:
    """Read the whole file and say what it would bring; stores nothing."""
    access = enter(person(request), slug)
    return Status(202, _summary(start_check(access, import_id)))


@router.post(
    "/farms/{slug}/imports/{import_id}/store",
    response={202: FileImportOut, **ERRORS},
    operation_id="store_import",
)
def post_store(
    request: HttpRequest, slug: str, import_id: int, data: StoreIn
) -> Status[FileImportOut]:
    access = enter(person(request), slug)
    return Status(202, _summary(start_store(access, import_id, data.keep_as, data.device_id)))


@router.post(
    "/farms/{slug}/imports/{import_id}/undo",
    response={202: FileImportOut, **ERRORS},
    operation_id="undo_import",
)
def post_undo(request: HttpRequest, slug: str, import_id: int) -> Status[FileImportOut]:
    access = enter(person(request), slug)
    return Status(202, _summary(start_undo(access, import_id)))


@router.delete(
    "/farms/{slug}/imports/{import_id}",
    response={200: DoneOut, **ERRORS},
    operation_id="delete_import",
)
def delete_file_import(request: HttpRequest, slug: str, import_id: int) -> DoneOut:
    delete_import(enter(person(request), slug), import_id)
    return DoneOut()


@router.get(
    "/farms/{slug}/imports/{import_id}/report.csv",
    operation_id="import_report",
    response={200: None, **ERRORS},
)
def get_report(request: HttpRequest, slug: str, import_id: int) -> HttpResponse:
    """What the check found, refused cells row by row, as CSV."""
    row = find_import(enter(person(request), slug), import_id)
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["row", "column", "value", "reason"])
    for r in row.refused:
        writer.writerow([r["row"], _plain(r["column"]), _plain(r["value"]), r["reason"]])
    report = row.report or {}
    beyond = report.get("refused_count", 0) - len(row.refused)
    if beyond > 0:
        writer.writerow(["", "", "", sentence("and {beyond} more like these", beyond=beyond)])
    for key, count in report.get("left_out", {}).items():
        writer.writerow(
            [
                "",
                _plain(key),
                "",
                sentence("{count} rows left out: not assigned to a sensor", count=count),
            ]
        )
    answer = HttpResponse(out.getvalue(), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="import-{row.pk}-report.csv"'
    return answer


def _plain(text: str) -> str:
    """Text from a stranger's file that a spreadsheet must not take for a formula."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t") and not _number(text) else text


def _number(text: str) -> bool:
    try:
        float(text.replace(",", "."))
    except ValueError:
        return False
    return True
