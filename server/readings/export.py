"""Readings read out in open formats: CSV, JSON or Parquet, raw and with what they mean."""

import io
from datetime import datetime
from enum import StrEnum

import numpy as np
import polars as pl
from django.db import connection

from core.instrument.reading_units import UNIT_OF_CODE, units_of
from core.quality.flags import doubted, reasons
from server.instruments.models import Instrument
from server.readings.channels import channel_facts, meaning
from server.readings.judging import derived_values, effective_flags
from server.readings.store import stored_around

MAX_ROWS = 2_000_000


class ExportFormat(StrEnum):
    CSV = "csv"
    JSON = "json"
    PARQUET = "parquet"


CONTENT_TYPES = {
    ExportFormat.CSV: "text/csv; charset=utf-8",
    ExportFormat.JSON: "application/json",
    ExportFormat.PARQUET: "application/vnd.apache.parquet",
}


def readings_table(instrument: Instrument, first: datetime, last: datetime) -> pl.DataFrame:
    """Readings of an instrument between two instants, one row each.

    Columns: time (UTC), channel, depth_mm, quantity, raw and raw_unit as written down; value
    and unit as what it means by the curve of its day, null where no curve is known; used, and
    the reasons against it.
    """
    ids = sorted(c.pk for c in instrument.channels.all())
    with connection.cursor() as cursor:
        rows = stored_around(
            cursor, ids, round(first.timestamp() * 1e6), round(last.timestamp() * 1e6)
        )[:MAX_ROWS]
    facts = channel_facts(np.array(ids, np.int64))
    value, _ = derived_values(facts, rows)
    flags = effective_flags(rows)
    place = np.searchsorted(facts.ids, rows["channel_id"])
    means = [meaning(q) for q in facts.quantity]
    words = {int(f): "; ".join(reasons(int(f))) for f in np.unique(flags)}
    return pl.DataFrame(
        {
            "time": pl.Series(rows["time"]).cast(pl.Datetime("us", "UTC")),
            "channel": rows["channel_id"],
            "depth_mm": facts.depth_mm[place],
            "quantity": [str(means[k]) for k in place],
            "raw": rows["value"],
            "raw_unit": [str(UNIT_OF_CODE[int(u)]) for u in rows["unit"]],
            "value": value,
            "unit": [str(units_of(means[k])[0]) for k in place],
            "used": ~doubted(flags),
            "flags": [words[int(f)] for f in flags],
        }
    ).with_columns(pl.col("value", "depth_mm").fill_nan(None))


def written(table: pl.DataFrame, form: ExportFormat) -> bytes:
    """The table as bytes of a format; times as ISO 8601 with their offset where they are text."""
    if form is ExportFormat.PARQUET:
        out = io.BytesIO()
        table.write_parquet(out)
        return out.getvalue()
    text = table.with_columns(pl.col("time").dt.strftime("%Y-%m-%dT%H:%M:%S%.6f+00:00"))
    return (text.write_csv() if form is ExportFormat.CSV else text.write_json()).encode()
