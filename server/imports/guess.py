"""A first layout for a file nobody has described yet, from its rows and the farm's sensors."""

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Generic, TypeVar

import numpy as np
import polars as pl

from core.instrument.kinds import Quantity
from core.instrument.reading_units import ReadingUnit, quantity_of, units_of
from core.sentence import sentence
from server.base.errors import RequestError
from server.files.times import NO_TIME, TimeOrder, is_time_of_day, likely_order, written_times
from server.imports.heading import Heading, read_heading, words
from server.imports.layout import ColumnUse, KeyUse, Layout, Shape
from server.imports.numbers import read_numbers, uses_decimal_comma
from server.imports.sheet import (
    Rows,
    cell_of,
    column_of,
    delimiter_of,
    encoding_of,
    further_cells,
    head_lines,
    is_workbook,
    sample,
    sheet_names,
)
from server.imports.understand import row_keys, row_times

DEPTH_TOLERANCE_MM = 3.0  # a depth in inches and the same one in whole centimetres
MAX_HEADING_ROWS = 4
# No soil holds more water than itself, and none is hotter for long [m3/m3, degrees C].
MOST_FRACTION, MOST_CELSIUS = 1.0, 45.0
Place = TypeVar("Place", int, str)  # of a column, or the key of its rows
_VALUE_WORDS = frozenset({"value", "reading", "measurement", "result", "data"})
_KEY_WORDS = frozenset(
    {"depth", "sensor", "port", "channel", "probe", "name", "id", "tag", "label"}
)
# A column of these judges the readings beside it and names no sensor.
_FLAG_WORDS = frozenset({"flag", "flags", "quality", "qc", "qf", "status", "remark", "remarks"})


@dataclass(frozen=True)
class Sensor:
    """A channel that a column may belong to."""

    channel_id: int
    instrument_id: int
    quantity: Quantity
    depth_mm: float | None
    serial: str
    names: frozenset[str]  # words of the instrument's label
    place: frozenset[str]  # words of its block's name


def format_of(path: Path) -> Layout:
    """How a file's rows are had, before anything is known of them.

    Raises
    ------
    RequestError
        When it holds no table.
    """
    if path.stat().st_size == 0:
        raise RequestError(sentence("The file is empty. Export it again."))
    if is_workbook(path):
        fullest, most = "", 0
        for name in sheet_names(path)[:20]:
            rows = sample(path, Layout(sheet=name, data_from=1, time_column=0))
            if len(rows.lines) > most:
                fullest, most = name, len(rows.lines)
        if not fullest:
            raise RequestError(sentence("The workbook holds no table: every sheet is empty."))
        return Layout(sheet=fullest, data_from=1, time_column=0)
    with path.open("rb") as file:
        encoding = encoding_of(file.read(1 << 20))
    lines = head_lines(path, encoding)
    if not lines:
        raise RequestError(sentence("The file is empty. Export it again."))
    return Layout(encoding=encoding, delimiter=delimiter_of(lines), data_from=1, time_column=0)


def heading_texts(rows: Rows, data_from: int) -> list[str]:
    """The heading of each column: its cells in the rows above the data, joined."""
    above, below = rows.above(data_from).cells, rows.below(data_from).cells
    width = max((len(c) for c in below), default=0)
    usual = np.median([sum(bool(x.strip()) for x in c) for c in below]) if below else 0
    heads = [c for c in above if sum(bool(x.strip()) for x in c) >= max(2, usual / 2)]
    out = []
    for column in range(width):
        cells = [c.strip() for c in column_of(heads[-MAX_HEADING_ROWS:], column)]
        out.append(" ".join(dict.fromkeys(x for x in cells if x)))
    return out


def guess(path: Path, file_name: str, sensors: list[Sensor], instrument_id: int | None) -> Layout:
    """The likeliest layout of a file.

    Parameters
    ----------
    sensors : the farm's channels
    instrument_id : int or None
        The instrument a person said the file is of.

    Raises
    ------
    RequestError
        When it holds no table.
    """
    layout = format_of(path)
    rows = sample(path, layout)
    if not rows.lines:
        raise RequestError(sentence("The file holds no table: every row is empty."))
    body = rows.cells[max(len(rows.cells) // 3, 1) :] or rows.cells
    width = max((len(c) for c in body), default=0)
    columns = [column_of(body, k) for k in range(width)]
    times = _time_columns(columns)
    if times is None:
        # Shown as it is: the person says where the time stands.
        return layout.model_copy(update={"data_from": rows.lines[min(1, len(rows.lines) - 1)]})
    time_column, clock_column, order = times
    layout = layout.model_copy(
        update={
            "time_column": time_column,
            "time_of_day_column": clock_column,
            "time_order": order,
            "data_from": _first_data_line(rows, time_column, order),
        }
    )
    skip = {time_column, clock_column}
    rest = [k for k in range(width) if k not in skip]
    comma = layout.delimiter != "," and uses_decimal_comma([x for k in rest for x in columns[k]])
    layout = layout.model_copy(update={"decimal_comma": comma})
    heading = heading_texts(rows, layout.data_from)
    above = " ".join(x for c in rows.above(layout.data_from).cells for x in c)
    matcher = _Matcher(sensors, instrument_id, words(f"{above} {Path(file_name).stem}"))
    named = _key_columns(columns, rest, heading, comma)
    if named is not None and _is_long(columns, time_column, clock_column, named):
        return _long(layout, rows, heading, named, matcher)
    found: list[_Column[int]] = []
    for k in rest:
        value, wrong = read_numbers(columns[k], comma, frozenset())
        heading_read = read_heading(heading[k] if k < len(heading) else "")
        # A sensor that was dead at first still has its column, by its depth or its place.
        placed = heading_read.depth_mm is not None or heading_read.level is not None
        if wrong.mean() > 0.5 or (not placed and not np.isfinite(value).any()):
            continue
        sensor = matcher.match(heading_read)
        if sensor is not None:
            found.append(_Column(k, sensor, heading_read.unit, value))
    if any(not np.isfinite(c.values).any() for c in found):
        found = _with_further(found, further_cells(path, layout), comma)
    units = _units(found)
    uses = [
        ColumnUse(column=c.place, channel_id=c.sensor.channel_id, unit=u)
        for c, u in zip(found, units, strict=True)
    ]
    return layout.model_copy(update={"columns": uses})


def _with_further(
    columns: list["_Column[int]"], cells: list[list[str]], comma: bool
) -> list["_Column[int]"]:
    """Columns with readings from further down, where the first rows hold none."""

    def values(of: _Column[int]) -> np.ndarray:
        if np.isfinite(of.values).any() or not cells:
            return of.values
        return read_numbers(column_of(cells, of.place), comma, frozenset())[0]

    return [replace(c, values=values(c)) for c in columns]


def runs_backwards(rows: Rows, layout: Layout) -> bool:
    """Whether a file's first rows go from new to old."""
    local, _ = row_times(rows.below(layout.data_from).cells, layout)
    steps = np.diff(local[local != NO_TIME])
    return bool((steps < 0).sum() > (steps > 0).sum())


def _time_columns(columns: list[list[str]]) -> tuple[int, int | None, TimeOrder] | None:
    for k, texts in enumerate(columns):
        order = likely_order(texts)
        if order is None:
            continue
        dated = [t for t in texts if t.strip()]
        if order in (TimeOrder.YMD, TimeOrder.DMY, TimeOrder.MDY) and not any(
            re.search(r"\d[:.h]\d{2}\D*$|T\d|\d{12}", t) and ":" in t for t in dated[:50]
        ):
            clock = next((j for j, c in enumerate(columns) if j != k and is_time_of_day(c)), None)
            return k, clock, order
        return k, None, order
    return None


def _first_data_line(rows: Rows, column: int, order: TimeOrder) -> int:
    texts = pl.Series(column_of(rows.cells, column), dtype=pl.String)
    local, _ = written_times(texts, order)
    good = np.flatnonzero(local != NO_TIME)
    return rows.lines[int(good[0])] if good.size else 1


def _key_columns(
    columns: list[list[str]], rest: list[int], heading: list[str], comma: bool
) -> tuple[int, list[int]] | None:
    """The value column and those that name a row's sensor, were the file long."""
    keys, numeric = [], []
    for k in rest:
        texts = [t.strip() for t in columns[k]]
        value, wrong = read_numbers(texts, comma, frozenset())
        distinct = len(set(texts))
        heading_read = words(heading[k]) if k < len(heading) else frozenset()
        if heading_read & _FLAG_WORDS:
            continue
        if wrong.mean() > 0.5:
            if distinct <= 200 and read_heading(texts[0]).unit is None:
                keys.append(k)
        elif heading_read & _KEY_WORDS and not heading_read & _VALUE_WORDS and distinct <= 64:
            keys.append(k)
        elif np.isfinite(value).any():
            numeric.append((bool(heading_read & _VALUE_WORDS), distinct, k))
    if not keys or not numeric:
        return None
    return max(numeric)[2], keys[:4]


def _is_long(
    columns: list[list[str]], time: int, clock: int | None, named: tuple[int, list[int]]
) -> bool:
    """A long file repeats its times, or has one column of readings and the rest are names."""
    moments = [
        (t, columns[clock][i] if clock is not None else "") for i, t in enumerate(columns[time])
    ]
    repeated = 1 - len(set(moments)) / len(moments)
    texts = Counter(row_keys(list(map(list, zip(*columns, strict=True))), named[1]))
    return repeated >= 0.3 or (len(columns) <= 3 + len(named[1]) and len(texts) <= len(moments) / 3)


def _long(
    layout: Layout,
    rows: Rows,
    heading: list[str],
    named: tuple[int, list[int]],
    matcher: "_Matcher",
) -> Layout:
    value_column, key_columns = named
    cells = rows.below(layout.data_from).cells
    keys = row_keys(cells, key_columns)
    texts = column_of(cells, value_column)
    values, _ = read_numbers(texts, layout.decimal_comma, frozenset())
    heading_read = (
        read_heading(heading[value_column]) if value_column < len(heading) else read_heading("")
    )
    found: list[_Column[str]] = []
    for key in dict.fromkeys(keys):
        of_key = np.array([k == key for k in keys])
        row = cells[int(np.flatnonzero(of_key)[0])]
        read = read_heading(_key_text(row, key_columns, heading))
        units = [read_heading(c).unit for k, c in enumerate(row) if k not in key_columns]
        unit = read.unit or next((u for u in units if u is not None), None) or heading_read.unit
        full = replace(read, text=key, unit=unit, quantity=read.quantity or heading_read.quantity)
        sensor = matcher.match(full)
        if sensor is not None:
            found.append(_Column(key, sensor, unit, values[of_key]))
    uses = [
        KeyUse(key=c.place, channel_id=c.sensor.channel_id, unit=u)
        for c, u in zip(found, _units(found), strict=True)
    ]
    return layout.model_copy(
        update={
            "shape": Shape.LONG,
            "value_column": value_column,
            "key_columns": key_columns,
            "keys": uses,
        }
    )


def _key_text(row: list[str], key_columns: list[int], heading: list[str]) -> str:
    """Key cells as one heading; a bare number under 'depth cm' gets its unit."""
    parts = []
    for k in key_columns:
        text = cell_of(row, k).strip()
        heading_read = words(heading[k]) if k < len(heading) else frozenset()
        unit = next((u for u in ("mm", "cm", "m", "in", "ft") if u in heading_read), "")
        bare = re.fullmatch(r"\d+(?:[.,]\d+)?", text)
        parts.append(f"{text} {unit}" if bare and "depth" in heading_read else text)
    return " ".join(parts)


class _Matcher:
    """Gives each heading the sensor it speaks of, each sensor once."""

    def __init__(
        self, sensors: list[Sensor], instrument_id: int | None, around: frozenset[str]
    ) -> None:
        self._all = [s for s in sensors if instrument_id in (None, s.instrument_id)]
        self.open = list(self._all)
        self.named = instrument_id is not None
        self.around = around

    def match(self, heading: Heading) -> Sensor | None:
        """The sensor of a heading; None when none fits or several fit equally."""
        scored = sorted(
            ((score, s.channel_id, s) for s in self.open if (score := self._score(heading, s)) > 0),
            reverse=True,
            key=lambda x: x[0],
        )
        if not scored or (len(scored) > 1 and scored[1][0] == scored[0][0]):
            return None
        sensor = scored[0][2]
        self.open.remove(sensor)
        return sensor

    def _score(self, heading: Heading, sensor: Sensor) -> float:
        wanted = quantity_of(heading.unit) if heading.unit else heading.quantity
        if wanted is not None and wanted != sensor.quantity:
            return 0
        if sensor.depth_mm is not None:
            alone = not any(
                o.instrument_id == sensor.instrument_id
                and o.quantity == sensor.quantity
                and o.channel_id != sensor.channel_id
                for o in self.open
            )
            if not self._stands_there(heading, sensor, alone and wanted is not None):
                return 0
        # Unsaid, a number is what the instrument is for, not its thermometer.
        score = 0.5 if wanted is None and sensor.quantity is Quantity.TEMPERATURE else 1.0
        known = 4.0 if self.named else 0.0
        if sensor.serial and sensor.serial in " ".join(heading.words):
            known += 3
        elif (sensor.names and sensor.names <= heading.words) or (
            sensor.serial and words(sensor.serial) <= self.around
        ):
            known += 2
        elif sensor.names and sensor.names <= self.around:
            known += 1
        if known and sensor.place <= (heading.words | self.around):
            known += 0.5
        return score * known

    def _stands_there(self, heading: Heading, sensor: Sensor, alone: bool) -> bool:
        """Whether a heading may speak of a sensor's depth; of one not said where it is alone."""
        depth = sensor.depth_mm or 0.0
        if heading.layer_mm is not None:
            top, bottom = heading.layer_mm
            return top < depth <= bottom
        if heading.depth_mm is not None:
            return abs(heading.depth_mm - depth) <= DEPTH_TOLERANCE_MM
        if heading.level is not None:
            levels = sorted(
                s.depth_mm or 0.0
                for s in self._all
                if (s.instrument_id, s.quantity) == (sensor.instrument_id, sensor.quantity)
            )
            return levels.index(depth) == heading.level - 1
        return alone


@dataclass(frozen=True)
class _Column(Generic[Place]):
    """A column or key of readings, the sensor that it is of, and its unit where it says one."""

    place: Place
    sensor: Sensor
    unit: ReadingUnit | None
    values: np.ndarray


def _units(columns: Sequence[_Column[Place]]) -> list[ReadingUnit]:
    """The unit of each column. One instrument writes all of a quantity in one unit: what one of
    its columns says, or what the readings of all of them together can be."""
    together: dict[tuple[int, Quantity], list[_Column[Place]]] = {}
    for c in columns:
        together.setdefault((c.sensor.instrument_id, c.sensor.quantity), []).append(c)
    shared = {of: _unit_of_all(of[1], same) for of, same in together.items()}
    return [c.unit or shared[c.sensor.instrument_id, c.sensor.quantity] for c in columns]


def _unit_of_all(quantity: Quantity, columns: Sequence[_Column[Place]]) -> ReadingUnit:
    heading_read = {c.unit for c in columns if c.unit is not None}
    if len(heading_read) == 1:
        return heading_read.pop()
    middles = [float(np.nanmedian(c.values)) for c in columns if np.isfinite(c.values).any()]
    highest = max(middles, default=float("nan"))
    if quantity is Quantity.THETA and highest > MOST_FRACTION:
        return ReadingUnit.PERCENT
    if quantity is Quantity.TEMPERATURE and highest > MOST_CELSIUS:
        return ReadingUnit.FAHRENHEIT
    return units_of(quantity)[0]
