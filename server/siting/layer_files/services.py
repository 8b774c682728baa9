"""A layer file from upload to undo: what a person may do in which state."""

from collections.abc import Iterable
from pathlib import Path

from django.db import transaction
from django.db.models import QuerySet, Sum

from core.sentence import sentence
from core.siting.layer import LayerKind
from server.base.errors import NotFound, Problem, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.files.kept_file import keep, spooled
from server.siting import tasks
from server.siting.layer_files.reading import LayerReading
from server.siting.models import AT_WORK, LayerFile, LayerFilePiece, LayerFileState

MAX_BYTES = 1 << 30
# Of files that wait to be stored; what is stored keeps none.
FARM_BYTES = 4 << 30


def layer_files(access: Access) -> QuerySet[LayerFile]:
    """The farm's files, newest first."""
    rows: QuerySet[LayerFile] = LayerFile.objects.for_farm(access.farm)
    return rows.select_related("made_by").order_by("-made_at", "-pk")


def find_layer_file(access: Access, file_id: int) -> LayerFile:
    """A file of the farm.

    Raises
    ------
    NotFound
    """
    row = layer_files(access).filter(pk=file_id).first()
    if row is None:
        raise NotFound(sentence("There is no such layer file on this farm."))
    return row


@acting(Action.SET_UP_GROUND, whole=False)
def upload_layer(access: Access, file_name: str, size: int, blocks: Iterable[bytes]) -> LayerFile:
    """Take a file in as it is; a worker looks at it next.

    Raises
    ------
    RequestError
        When it is empty or too large, or the farm keeps too many.
    """
    if size == 0:
        raise RequestError(sentence("The file is empty. Export it again."))
    waiting = LayerFile.objects.for_farm(access.farm).exclude(state=LayerFileState.STORED)
    kept = waiting.aggregate(kept=Sum("size"))["kept"] or 0
    if size > MAX_BYTES or kept + size > FARM_BYTES:
        raise RequestError(
            sentence(
                "The file has {size:.0f} MB, and {kept:.0f} MB wait to be stored; up to {most:.0f} "
                "MB are taken at once. Split it, or store or delete what waits.",
                size=size / 1e6,
                kept=kept / 1e6,
                most=MAX_BYTES / 1e6,
            )
        )
    with spooled(blocks) as (path, sha256), transaction.atomic():
        row = LayerFile(
            farm=access.farm,
            file_name=Path(file_name).name[:255] or "file",
            sha256=sha256,
            size=path.stat().st_size,
            made_by=access.user,
        )
        row.save()
        keep(path, lambda n, block: LayerFilePiece(layer_file=row, number=n, data=block))
        tasks.queue_step(row)
        record(access, Done.LAYER_FILE_UPLOADED, row.file_name)
    return row


def _begin(row: LayerFile, state: LayerFileState) -> LayerFile:
    row.state, row.problem, row.attempts, row.done = state, "", 0, 0
    row.save()
    tasks.queue_step(row)
    return row


def _require_at_rest(row: LayerFile) -> None:
    if row.state in AT_WORK:
        raise RequestError(sentence("The file is being read just now. Wait until it is done."))
    if row.state == LayerFileState.STORED:
        raise RequestError(sentence("The file is stored. Delete its layers to read it anew."))


@acting(Action.SET_UP_GROUND)
def change_reading(access: Access, file_id: int, reading: LayerReading) -> LayerFile:
    """Read the file in another way; its first rows are looked at again.

    Raises
    ------
    RequestError
        While it is read, or once it is stored.
    """
    row = find_layer_file(access, file_id)
    _require_at_rest(row)
    row.reading = reading.model_dump(mode="json")
    record(access, Done.LAYER_READING_CHANGED, row.file_name)
    return _begin(row, LayerFileState.LOOKING)


@acting(Action.SET_UP_GROUND)
def store_layer(access: Access, file_id: int) -> LayerFile:
    """Make layers of the file, for each block that its points lie in.

    Raises
    ------
    RequestError
        Before it was looked at, or where a yield has no year.
    """
    row = find_layer_file(access, file_id)
    _require_at_rest(row)
    if row.look is None or row.reading is None:
        raise RequestError(sentence("The file could not be read. Delete it and try another."))
    reading = LayerReading.model_validate(row.reading)
    if reading.kind is LayerKind.YIELD and reading.year is None:
        raise RequestError(
            sentence("The layers were not stored."),
            (Problem(field="year", message=sentence("Enter the year of the harvest.")),),
        )
    record(access, Done.LAYER_FILE_STORED, row.file_name)
    return _begin(row, LayerFileState.STORING)


@acting(Action.SET_UP_GROUND)
def delete_layer_file(access: Access, file_id: int) -> None:
    """Take a file away with all layers that were made of it."""
    row = find_layer_file(access, file_id)
    record(access, Done.LAYER_FILE_DELETED, row.file_name)
    row.delete()
