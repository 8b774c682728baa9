"""The first rows of a file beside what they are taken to say."""

from datetime import datetime
from typing import Any

import numpy as np

from core.instrument.kinds import Quantity
from server.files.times import SKIPPED_HOUR, Folds, to_instants
from server.imports.guess import heading_texts, runs_backwards
from server.imports.layout import Layout, Shape
from server.imports.sheet import Rows
from server.imports.understand import Reader, row_keys, row_times
from server.readings.store import instant

SHOWN_ROWS = 10
SHOWN_ABOVE = 6
SHOWN_COLUMNS = 40
NAMED = 20


def reader_of(
    layout: Layout, rows: Rows, zone: str, quantities: dict[int, Quantity], now: datetime
) -> Reader:
    """A reader for a file of which ``rows`` are the first."""
    return Reader(
        layout,
        heading_texts(rows, layout.data_from),
        zone,
        quantities,
        now,
        newest_first=runs_backwards(rows, layout),
    )


def preview(
    layout: Layout, rows: Rows, zone: str, quantities: dict[int, Quantity], now: datetime
) -> dict[str, Any]:
    """First rows as they stand, as they are understood, and what of the sample is refused.

    Parameters
    ----------
    rows : the file's first rows
    quantities : quantity of each channel of the farm
    """
    reader = reader_of(layout, rows, zone, quantities, now)
    taken = reader.take(rows)
    above, data = rows.above(layout.data_from), rows.below(layout.data_from)
    lines, cells = data.lines[:SHOWN_ROWS], data.cells[:SHOWN_ROWS]
    understood: dict[int, dict[str, Any]] = {n: {"time": None, "values": {}} for n in lines}
    # Told also of rows without a reading; as one series, since a row's sensor may be unknown.
    one, folds = np.zeros(len(lines), np.int64), Folds(reader.folds.newest_first)
    times = to_instants(*row_times(cells, layout), layout.clock, zone, one, folds)
    for line, time in zip(lines, times, strict=True):
        if time > SKIPPED_HOUR:
            understood[line]["time"] = instant(int(time)).isoformat()
    for row in taken:
        shown = understood.get(int(row["line"]))
        if shown is not None:
            shown["values"][str(int(row["channel_id"]))] = float(row["value"])
    tally = reader.tally
    keys: list[str] = []
    if layout.shape is Shape.LONG:
        keys = list(dict.fromkeys(row_keys(data.cells, layout.key_columns)))[:200]
    return {
        "heading": reader.heading[:SHOWN_COLUMNS],
        "width": max((len(c) for c in rows.cells), default=0),
        "rows": [
            {"line": n, "cells": [c[:60] for c in row[:SHOWN_COLUMNS]]}
            for n, row in zip(
                above.lines[-SHOWN_ABOVE:] + lines, above.cells[-SHOWN_ABOVE:] + cells, strict=True
            )
        ],
        "understood": [{"line": n, **s} for n, s in understood.items()],
        "keys": keys,
        "sampled": tally.rows,
        "readings": int(taken.size),
        "gaps": tally.gaps,
        "refused_count": tally.refused_count,
        "refused": [vars(r) for r in tally.refused[:NAMED]],
    }
