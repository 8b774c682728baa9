"""How a file is to be read: where its table begins, what its columns are, how its times are meant.

A layout is guessed from the first rows, corrected by a person, and kept for the next file of the
same logger.
"""

from enum import StrEnum
from typing import Annotated, Literal

from ninja import Field

from core.instrument.reading_units import ReadingUnit
from core.sentence import sentence
from server.base.errors import Problem, RequestError
from server.base.schema import Body
from server.files.times import FARM_CLOCK, TimeOrder, offset_minutes

Encoding = Literal["utf-8-sig", "utf-16", "cp1252"]
Delimiter = Literal["\t", ";", "|", ",", " "]
# A blank comes last: it stands in names and between date and time as well.
DELIMITERS: tuple[Delimiter, ...] = ("\t", ";", "|", ",", " ")


class Shape(StrEnum):
    """Wide: a column for each sensor. Long: a row for each reading, named by key columns."""

    WIDE = "wide"
    LONG = "long"


class ColumnUse(Body):
    """A column, counted from 0, that holds the readings of a channel."""

    column: int = Field(ge=0, lt=500)
    channel_id: int
    unit: ReadingUnit


class KeyUse(Body):
    """What stands in the key columns of a channel's rows, joined by a bar."""

    key: str = Field(max_length=300)
    channel_id: int
    unit: ReadingUnit


class Layout(Body):
    """Columns are counted from 0, lines from 1 as an editor counts them.

    ``clock`` is how times without an offset are meant: the farm's clock with its summer time,
    UTC, or an offset that holds all year ("+01:00"). A blank as delimiter is any run of blanks.
    """

    sheet: str = Field(default="", max_length=100)
    encoding: Encoding = "utf-8-sig"
    delimiter: Delimiter = ","
    data_from: int = Field(ge=1, le=10_000)
    decimal_comma: bool = False
    time_column: int = Field(ge=0, lt=500)
    time_of_day_column: int | None = Field(default=None, ge=0, lt=500)
    time_order: TimeOrder = TimeOrder.YMD
    clock: str = Field(default=FARM_CLOCK, max_length=40)
    shape: Shape = Shape.WIDE
    columns: list[ColumnUse] = Field(default=[], max_length=500)
    value_column: int | None = Field(default=None, ge=0, lt=500)
    key_columns: list[int] = Field(default=[], max_length=4)
    keys: list[KeyUse] = Field(default=[], max_length=2000)
    missing: list[Annotated[str, Field(max_length=40)]] = Field(default=[], max_length=20)


def check_layout(layout: Layout, units_of_channel: dict[int, frozenset[ReadingUnit]]) -> None:
    """Refuse a layout that contradicts itself or names what the farm does not have.

    Parameters
    ----------
    units_of_channel : units that each channel of the farm may be written in

    Raises
    ------
    RequestError
        With the field of each problem.
    """
    problems: list[Problem] = []
    try:
        offset_minutes(layout.clock)
    except ValueError:
        problems.append(
            Problem(
                field="clock",
                message=sentence("Choose the farm's time, UTC, or an offset like +01:00."),
            )
        )
    if layout.shape is Shape.WIDE:
        problems += _wide_problems(layout)
    else:
        problems += _long_problems(layout)
    place, uses = "columns", [(u.channel_id, u.unit) for u in layout.columns]
    if layout.shape is Shape.LONG:
        place, uses = "keys", [(u.channel_id, u.unit) for u in layout.keys]
    for i, (channel_id, unit) in enumerate(uses):
        units = units_of_channel.get(channel_id)
        if units is None:
            problems.append(
                Problem(field=f"{place}.{i}", message=sentence("There is no such sensor."))
            )
        elif unit not in units:
            problems.append(
                Problem(
                    field=f"{place}.{i}",
                    message=sentence(
                        "This sensor is not recorded in {unit}; it takes {units}.",
                        unit=unit,
                        units=", ".join(sorted(units)),
                    ),
                )
            )
    if problems:
        raise RequestError(sentence("The file can't be read with this layout."), tuple(problems))


def _wide_problems(layout: Layout) -> list[Problem]:
    problems = []
    times = {layout.time_column, layout.time_of_day_column}
    seen_columns: set[int] = set()
    seen_channels: set[int] = set()
    for i, use in enumerate(layout.columns):
        if use.column in times:
            problems.append(
                Problem(
                    field=f"columns.{i}", message=sentence("This column already holds the time.")
                )
            )
        if use.column in seen_columns:
            problems.append(
                Problem(field=f"columns.{i}", message=sentence("This column is assigned twice."))
            )
        if use.channel_id in seen_channels:
            problems.append(
                Problem(
                    field=f"columns.{i}",
                    message=sentence("Two columns are assigned to this sensor."),
                )
            )
        seen_columns.add(use.column)
        seen_channels.add(use.channel_id)
    return problems


def _long_problems(layout: Layout) -> list[Problem]:
    problems = []
    if layout.value_column is None:
        problems.append(
            Problem(
                field="value_column", message=sentence("Choose the column that holds the readings.")
            )
        )
    elif layout.value_column in {layout.time_column, *layout.key_columns}:
        problems.append(
            Problem(
                field="value_column",
                message=sentence("This column is the time or names the sensor."),
            )
        )
    if not layout.key_columns:
        problems.append(
            Problem(
                field="key_columns",
                message=sentence("Choose the columns that name the sensor of a row."),
            )
        )
    if len({k.key for k in layout.keys}) < len(layout.keys):
        problems.append(Problem(field="keys", message=sentence("A sensor name appears twice.")))
    return problems
