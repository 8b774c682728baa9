"""An import as the API tells it."""

from datetime import datetime

from ninja import Field

from core.instrument.kinds import InstrumentKind, Quantity
from core.instrument.reading_units import ReadingUnit
from server.base.language import Translated
from server.base.schema import Body, Schema
from server.imports.layout import Layout
from server.imports.models import ImportState


class FileRowOut(Schema):
    line: int
    cells: list[str]


class UnderstoodOut(Schema):
    """``values`` by channel; a time that could not be read is null."""

    line: int
    time: datetime | None
    values: dict[str, float]


class RefusedCellOut(Schema):
    row: int
    column: str
    value: str
    reason: Translated


class FilePreviewOut(Schema):
    """The first rows; counts are of the ``sampled`` rows only."""

    heading: list[str]
    width: int
    rows: list[FileRowOut]
    understood: list[UnderstoodOut]
    keys: list[str]
    sampled: int
    readings: int
    gaps: int
    refused_count: int
    refused: list[RefusedCellOut]


class ChannelTallyOut(Schema):
    """Readings of one channel, ``low`` and ``high`` in the unit of the file."""

    channel_id: int
    readings: int
    new: int
    changed: int
    first: datetime
    last: datetime
    low: float
    high: float


class FileReportOut(Schema):
    """``left_out`` counts rows whose key is given to no sensor."""

    rows: int
    readings: int
    new: int
    changed: int
    unchanged: int
    gaps: int
    repeated: int
    refused_count: int
    left_out: dict[str, int]
    channels: list[ChannelTallyOut]


class FileImportOut(Schema):
    """``done`` of ``total``: rows while checking (total 0: not known), readings while storing."""

    id: int
    file_name: str
    size: int
    state: ImportState
    made_at: datetime
    made_by: str
    done: int
    total: int
    problem: Translated
    batch: int | None
    report: FileReportOut | None


class SavedLayoutOut(Schema):
    id: int
    name: str
    device: int | None
    used_at: datetime


class ImportDetail(Schema):
    """One import with all that its page shows; ``layout`` and ``preview`` once its first rows are
    read."""

    summary: FileImportOut
    layout: Layout | None
    instrument: int | None
    sheets: list[str]
    preview: FilePreviewOut | None
    refused: list[RefusedCellOut]
    saved_layout: SavedLayoutOut | None


class ImportSensorOut(Schema):
    """A sensor that a column may be given to."""

    channel_id: int
    instrument_id: int
    block: str
    instrument: str
    kind: InstrumentKind
    quantity: Quantity
    depth_mm: float | None
    units: list[ReadingUnit]


class StoreIn(Body):
    """``keep_as`` names the layout under which the next such file is read; empty: not kept."""

    keep_as: str = Field(default="", max_length=80)
    device_id: int | None = None


class WhoseIn(Body):
    """The instrument that a file is of; none: of several, or it is not known."""

    instrument_id: int | None = None
