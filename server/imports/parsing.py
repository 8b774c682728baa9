"""What is read out of an uploaded file, in the process that may be ended for it."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from core.instrument.kinds import Quantity
from server.imports.guess import Sensor, guess, heading_texts
from server.imports.layout import Layout
from server.imports.preview import reader_of
from server.imports.sheet import Rows, is_workbook, read_rows, sample, sheet_names
from server.imports.understand import Tally
from server.readings.binary_copy import Records


@dataclass(frozen=True)
class FirstLook:
    """A file nobody has described yet: its likeliest layout, and its first rows read by it."""

    layout: Layout
    rows: Rows
    heading: list[str]
    sheets: list[str]


@dataclass(frozen=True)
class Stretch:
    """Readings of consecutive rows, as `Reader.take` gives them."""

    rows: int
    readings: Records


def look_first(
    path: Path, file_name: str, sensors: list[Sensor], instrument_id: int | None
) -> FirstLook:
    """Guess how a file is read.

    Parameters
    ----------
    sensors : the farm's channels
    instrument_id : the instrument a person said the file is of

    Raises
    ------
    RequestError
        When it holds no table.
    """
    layout = guess(path, file_name, sensors, instrument_id)
    rows = sample(path, layout)
    sheets = sheet_names(path) if is_workbook(path) else []
    return FirstLook(layout, rows, heading_texts(rows, layout.data_from), sheets)


def read_whole(
    path: Path, layout: Layout, zone: str, quantities: dict[int, Quantity], now: datetime
) -> Iterator[Stretch | Tally]:
    """All of a file's readings, stretch by stretch, and at last what else it held.

    Parameters
    ----------
    zone : the farm's time zone
    quantities : quantity of each channel of the farm
    now : later readings are refused

    Raises
    ------
    RequestError
        When it can't be read in this way.
    """
    reader = reader_of(layout, sample(path, layout), zone, quantities, now)
    for rows in read_rows(path, layout):
        yield Stretch(len(rows.lines), reader.take(rows))
    yield reader.tally
