"""Readings read out: the same figures in every format, raw beside meaning, doubts named."""

import io
import json
from typing import Any

import polars as pl
import pytest

from server.farms.models import Farm
from server.instruments.models import Instrument
from server.readings.models import Reading
from tests.server.conftest import Api

BASE = "/farms/thistlewick"


def read(api: Api, row: Instrument, form: str, **more: str) -> bytes:
    query = {"first": "2026-07-10T00:00", "last": "2026-07-14T06:10", "format": form, **more}
    answer = api.client.get(f"/api{BASE}/instruments/{row.pk}/export", query)
    assert answer.status_code == 200, answer.content[:500]
    assert form in answer["Content-Disposition"]
    content: bytes = answer.content
    return content


@pytest.fixture
def dead(farm: Farm) -> Instrument:
    found: Instrument = Instrument.objects.for_farm(farm).get(label="Probe Q1")
    return found


def test_every_format_says_the_same(manager: Api, dead: Instrument) -> None:
    parquet = pl.read_parquet(io.BytesIO(read(manager, dead, "parquet")))
    csv = pl.read_csv(io.BytesIO(read(manager, dead, "csv")))
    told: list[dict[str, Any]] = json.loads(read(manager, dead, "json"))
    assert parquet.height == csv.height == len(told)
    assert parquet.columns == csv.columns == list(told[0])
    for name in ("channel", "depth_mm", "raw", "value", "used", "unit"):
        assert parquet[name].to_list() == csv[name].to_list() == [r[name] for r in told]
    stored = Reading.unscoped.filter(
        channel__instrument=dead, time__gte=parquet["time"].min(), time__lte=parquet["time"].max()
    )
    assert stored.count() == parquet.height


def test_raw_beside_meaning_and_doubts_named(manager: Api, dead: Instrument) -> None:
    table = pl.read_parquet(io.BytesIO(read(manager, dead, "parquet")))
    assert set(table["raw_unit"]) == {"%"}
    assert set(table["unit"]) == {"m3/m3"}
    assert (table["value"] * 100 - table["raw"]).abs().max() < 1e-9
    flat = table.filter(~pl.col("used"))
    assert set(flat["depth_mm"]) == {300.0}
    assert set(flat["flags"]) == {"flat line"}


def test_what_can_not_be_read_out(manager: Api, stranger: Api, dead: Instrument) -> None:
    path = f"{BASE}/instruments/{dead.pk}/export"
    manager.get(f"{path}?first=2026-07-10T00:00&last=2026-07-14T00:00&format=doc", status=422)
    manager.get(f"{path}?first=2026-07-14T00:00&last=2026-07-10T00:00&format=csv", status=422)
    stranger.get(
        f"/farms/barrow/instruments/{dead.pk}/export?first=2026-07-10T00:00"
        "&last=2026-07-14T00:00&format=csv",
        status=404,
    )
