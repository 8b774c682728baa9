"""Rows of a file as readings, by its layout; what can't be one is named with row and reason."""

from dataclasses import dataclass, field
from datetime import datetime

import numpy as np
import polars as pl

from core.instrument.kinds import Quantity
from core.instrument.reading_units import code_of
from core.sentence import sentence
from server.files.times import SKIPPED_HOUR, Folds, to_instants, written_times
from server.imports.layout import Layout, Shape
from server.imports.numbers import read_numbers
from server.imports.sheet import Rows, cell_of, column_of
from server.readings.binary_copy import Records
from server.readings.incoming import check_rows
from server.readings.store import ROW

STAGED_ROW = np.dtype([("line", "i8"), *ROW.descr])
MAX_NAMED = 5_000  # of a file, told one by one
KEY_MARK = " | "


@dataclass(frozen=True)
class RefusedCell:
    """A row, or one cell of it, that is no reading."""

    row: int
    column: str
    value: str
    reason: str


@dataclass
class Tally:
    """What a file holds so far, besides its readings."""

    rows: int = 0
    gaps: int = 0
    refused_count: int = 0
    refused: list[RefusedCell] = field(default_factory=list)
    left_out: dict[str, int] = field(default_factory=dict)

    def refuse(self, cells: list[RefusedCell], more: int = 0) -> None:
        """Add refused cells; those beyond the limit, and ``more``, are only counted."""
        self.refused_count += len(cells) + more
        self.refused += cells[: MAX_NAMED - len(self.refused)]


class Reader:
    """Turns a file's rows into readings, one stretch after the other.

    Parameters
    ----------
    layout : Layout, checked
    heading : text of each column's heading
    zone : the farm's time zone
    quantity_of_channel : what each channel of the layout writes down
    now : later readings are refused
    newest_first : whether the file runs backwards
    """

    def __init__(
        self,
        layout: Layout,
        heading: list[str],
        zone: str,
        quantity_of_channel: dict[int, Quantity],
        now: datetime,
        *,
        newest_first: bool = False,
    ) -> None:
        self.layout = layout
        self.heading = heading
        self.zone = zone
        self.quantities = quantity_of_channel
        self.now = now
        self.folds = Folds(newest_first)
        self.missing = frozenset(m.strip().lower() for m in layout.missing)
        self.tally = Tally()

    def take(self, rows: Rows) -> Records:
        """Readings of a stretch, in the order of the file.

        Returns
        -------
        array of `STAGED_ROW`; each (channel, time) may still stand there more than once
        """
        data = rows.below(self.layout.data_from)
        lines, cells = np.array(data.lines, np.int64), data.cells
        if not cells:
            return np.empty(0, STAGED_ROW)
        self.tally.rows += len(cells)
        if self.layout.shape is Shape.WIDE:
            return self._wide(lines, cells)
        return self._long(lines, cells)

    def name(self, column: int) -> str:
        """A column as a person finds it."""
        head = self.heading[column].strip() if column < len(self.heading) else ""
        return head or f"column {column + 1}"

    def _times(self, cells: list[list[str]], series: np.ndarray) -> np.ndarray:
        local, offset = row_times(cells, self.layout)
        return to_instants(local, offset, self.layout.clock, self.zone, series, self.folds)

    def _refuse_times(self, times: np.ndarray, lines: np.ndarray, cells: list[list[str]]) -> None:
        bad = np.flatnonzero(times <= SKIPPED_HOUR)
        column = self.layout.time_column
        rejected = []
        for k in bad[:MAX_NAMED]:
            value = cell_of(cells[k], column).strip()
            if self.layout.time_of_day_column is not None:
                value = f"{value} {cell_of(cells[k], self.layout.time_of_day_column).strip()}"
            rejected.append(
                RefusedCell(int(lines[k]), self.name(column), value[:60], self._why(times[k]))
            )
        self.tally.refuse(rejected, bad.size - len(rejected))

    def _why(self, time: np.int64) -> str:
        if time == SKIPPED_HOUR:
            return sentence(
                "The clocks of {zone} went forward over this time. A logger that keeps winter "
                "time all year is read with a fixed offset: choose it under Clock.",
                zone=self.zone,
            )
        return sentence(
            "This is not a time written as {orders}.", orders=_ORDERS[self.layout.time_order]
        )

    def _wide(self, lines: np.ndarray, cells: list[list[str]]) -> Records:
        times = self._times(cells, np.zeros(len(cells), np.int64))
        self._refuse_times(times, lines, cells)
        parts = []
        for use in self.layout.columns:
            channel = np.full(lines.size, use.channel_id, np.int64)
            unit = np.full(lines.size, code_of(use.unit), np.int16)
            parts.append(self._readings(cells, use.column, lines, times, channel, unit))
        return np.concatenate(parts) if parts else np.empty(0, STAGED_ROW)

    def _long(self, lines: np.ndarray, cells: list[list[str]]) -> Records:
        keys = row_keys(cells, self.layout.key_columns)
        names, which = np.unique(np.array(keys, object), return_inverse=True)
        uses = {k.key: k for k in self.layout.keys}
        counts = np.bincount(which, minlength=names.size)
        for name, count in zip(names, counts, strict=True):
            if name not in uses:
                self.tally.left_out[name] = self.tally.left_out.get(name, 0) + int(count)
        channel = np.array([uses[n].channel_id if n in uses else 0 for n in names], np.int64)[which]
        unit = np.array([code_of(uses[n].unit) if n in uses else 0 for n in names], np.int16)[which]
        of_sensor = np.flatnonzero(channel > 0)
        if not of_sensor.size or self.layout.value_column is None:
            return np.empty(0, STAGED_ROW)
        cells = [cells[k] for k in of_sensor]
        lines, channel, unit = lines[of_sensor], channel[of_sensor], unit[of_sensor]
        times = self._times(cells, channel)
        self._refuse_times(times, lines, cells)
        return self._readings(cells, self.layout.value_column, lines, times, channel, unit)

    def _readings(
        self,
        cells: list[list[str]],
        column: int,
        lines: np.ndarray,
        times: np.ndarray,
        channel: np.ndarray,
        unit: np.ndarray,
    ) -> Records:
        """Readings of one column, row by row of the channel and unit given."""
        text = column_of(cells, column)
        value, wrong = read_numbers(text, self.layout.decimal_comma, self.missing)
        timed = times > SKIPPED_HOUR
        self._refuse_text(np.flatnonzero(timed & wrong), lines, text, column)
        self.tally.gaps += int((timed & np.isnan(value) & ~wrong).sum())
        keep = np.flatnonzero(timed & np.isfinite(value))
        part = np.empty(keep.size, STAGED_ROW)
        part["line"], part["time"], part["value"] = lines[keep], times[keep], value[keep]
        part["channel_id"], part["unit"] = channel[keep], unit[keep]
        return self._sift(part, column)

    def _refuse_text(
        self, bad: np.ndarray, lines: np.ndarray, text: list[str], column: int
    ) -> None:
        rejected = [
            RefusedCell(
                int(lines[k]),
                self.name(column),
                text[k].strip()[:60],
                "This is not a number. If it stands for no reading, add it under No reading.",
            )
            for k in bad[:MAX_NAMED]
        ]
        self.tally.refuse(rejected, bad.size - len(rejected))

    def _sift(self, part: Records, column: int) -> Records:
        """Leave out what no instrument can write down and what is in the future."""
        checked = check_rows(
            part["channel_id"],
            part["time"],
            part["value"],
            part["unit"],
            self.quantities,
            self.now,
            once=False,
        )
        rejected = [
            RefusedCell(
                int(part["line"][r.row]),
                self.name(column),
                f"{part['value'][r.row]:g}",
                r.reason,
            )
            for r in checked.refused
        ]
        self.tally.refuse(rejected, checked.more)
        return part[checked.kept]


_ORDERS = {
    "ymd": "year-month-day",
    "dmy": "day-month-year",
    "mdy": "month-day-year",
    "epoch_s": "seconds since 1970",
    "epoch_ms": "milliseconds since 1970",
    "serial": "a spreadsheet's day number",
}


def row_times(cells: list[list[str]], layout: Layout) -> tuple[np.ndarray, np.ndarray]:
    """Local times of rows and what they say of their offset, as `written_times` gives them."""
    text = column_of(cells, layout.time_column)
    if layout.time_of_day_column is not None:
        clock = column_of(cells, layout.time_of_day_column)
        text = [f"{d} {t}" if t.strip() else "" for d, t in zip(text, clock, strict=True)]
    return written_times(pl.Series(text, dtype=pl.String), layout.time_order)


def row_keys(cells: list[list[str]], columns: list[int]) -> list[str]:
    """What names the sensor of each row of a long file."""
    return [KEY_MARK.join(cell_of(row, c).strip() for c in columns) for row in cells]
