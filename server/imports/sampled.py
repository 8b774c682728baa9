"""The first rows of a file, as they are kept beside its import, and the layout they are read by."""

from server.base.errors import RequestError
from server.farms.models import Farm
from server.imports.guess import Sensor
from server.imports.layout import Layout, check_layout
from server.imports.models import FileImport, SavedLayout
from server.imports.sensors import units_of_channels
from server.imports.sheet import MAX_CELL, Rows


def kept_sample(rows: Rows, sheets: list[str]) -> dict[str, object]:
    """The first rows as they are kept beside the file, and the sheets of a workbook."""
    cells = [[c[:MAX_CELL] for c in r] for r in rows.cells]
    return {"lines": rows.lines, "cells": cells, "sheets": sheets}


def sampled_rows(row: FileImport) -> Rows:
    """The first rows of an import's file, as kept; none before they are read."""
    if row.sample is None:
        return Rows([], [])
    return Rows(row.sample["lines"], row.sample["cells"])


def sheets_of(row: FileImport) -> list[str]:
    """Sheets of an import's workbook; none of a text file's."""
    return [] if row.sample is None else list(row.sample["sheets"])


def saved_for(
    farm: Farm, heading: list[str], sensors: list[Sensor], instrument_id: int | None
) -> SavedLayout | None:
    """The layout kept for files with this heading, when it fits what the file is said to be of."""
    units = units_of_channels(sensors)
    for saved in SavedLayout.objects.for_farm(farm).order_by("-used_at")[:200]:
        if not heading or saved.heading != heading:
            continue
        layout = Layout.model_validate(saved.layout)
        try:
            check_layout(layout, units)
        except RequestError:
            continue
        used = {u.channel_id for u in layout.columns} | {u.channel_id for u in layout.keys}
        channel_ids = {s.channel_id for s in sensors if instrument_id in (None, s.instrument_id)}
        if used and used <= channel_ids:
            return saved
    return None
