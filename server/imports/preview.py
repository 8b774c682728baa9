"""The first rows of a file beside what they are taken to say."""

from datetime import datetime
from typing import Any

import numpy as np

from core.instrument.kinds import Quantity
from server.imports.guess import heading_texts, runs_backwards
from server.imports.layout import Layout, Shape
from server.imports.sheet import Rows
from server.imports.times import SKIPPED_HOUR
from server.imports.understand import Reader, row_keys
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
    above = [k for k, n in enumerate(rows.lines) if n < layout.data_from][-SHOWN_ABOVE:]
    below = [k for k, n in enumerate(rows.lines) if n >= layout.data_from][:SHOWN_ROWS]
    said: dict[int, dict[str, Any]] = {rows.lines[k]: {"time": None, "values": {}} for k in below}
    times = reader_of(layout, rows, zone, quantities, now).times(
        [rows.cells[k] for k in below], np.zeros(len(below), np.int64)
    )
    for k, time in zip(below, times, strict=True):
        if time > SKIPPED_HOUR:
            said[rows.lines[k]]["time"] = instant(int(time)).isoformat()
    for row in taken:
        line = said.get(int(row["line"]))
        if line is not None:
            line["values"][str(int(row["channel_id"]))] = float(row["value"])
    tally = reader.tally
    keys: list[str] = []
    if layout.shape is Shape.LONG:
        cells = [c for n, c in zip(rows.lines, rows.cells, strict=True) if n >= layout.data_from]
        keys = list(dict.fromkeys(row_keys(cells, layout.key_columns)))[:200]
    return {
        "heading": reader.heading[:SHOWN_COLUMNS],
        "width": max((len(c) for c in rows.cells), default=0),
        "rows": [
            {"line": rows.lines[k], "cells": [c[:60] for c in rows.cells[k][:SHOWN_COLUMNS]]}
            for k in above + below
        ],
        "understood": [{"line": n, **s} for n, s in said.items()],
        "keys": keys,
        "sampled": tally.rows,
        "readings": int(taken.size),
        "gaps": tally.gaps,
        "refused_count": tally.refused_count,
        "refused": [vars(r) for r in tally.refused[:NAMED]],
    }
