"""Whatever is sent, the answer is a result or a refusal; never a crash, never half a state."""

import contextlib
import io
import json
import random
import zipfile
from collections.abc import Callable
from datetime import UTC, datetime
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.instrument.kinds import Quantity
from server.base.errors import RequestError
from server.blocks.models import Block
from server.calibration.sheet_file import read_sheet
from server.files.kept_file import spooled
from server.imports.guess import Sensor, guess
from server.imports.preview import preview, reader_of
from server.imports.sheet import read_rows, sample
from server.imports.understand import STAGED_ROW, Tally
from server.instruments.pictures import small_picture
from server.maps.files import read_outlines
from server.soils.laboratory_file import read_laboratory_file
from server.weather.hourly_file import Stamp
from server.weather.station_file import read_station_file
from tests.fuzz.files import FORMATS, Format, broken
from tests.server.conftest import Api, new_block

NOW = datetime(2026, 7, 14, 4, tzinfo=UTC)

cell = st.one_of(
    st.sampled_from(
        ["", "24.1", "-9999", "NaN", "inf", "1e400", "wet", "2026-07-14 04:00", '"', "٣"]
    ),
    st.text(max_size=8),
)
line = st.lists(cell, max_size=6).map(",".join)
heading = st.sampled_from(["time,10 cm,20 cm", "time;10 cm", "t,10 cm,10 cm", "time,depth", "x"])


@given(first=heading, lines=st.lists(line, max_size=8))
def test_any_text_is_read_or_refused(first: str, lines: list[str]) -> None:
    data = "\n".join([first, *lines]).encode()
    _read_or_refused(data)


@given(data=st.binary(max_size=400))
def test_any_bytes_are_read_or_refused(data: bytes) -> None:
    _read_or_refused(data)


SENSORS = [
    Sensor(1, 1, Quantity.THETA, 100.0, "", frozenset({"p"}), frozenset()),
    Sensor(2, 1, Quantity.THETA, 200.0, "", frozenset({"p"}), frozenset()),
]
QUANTITIES = {s.channel_id: s.quantity for s in SENSORS}


def _read(data: bytes) -> tuple[Any, Tally]:
    """Readings of a file as the bench reads it without any help, and what else it held."""
    with spooled([data]) as (path, _):
        layout = guess(path, "logger.csv", SENSORS, 1)
        rows = sample(path, layout)
        json.dumps(preview(layout, rows, "CET", QUANTITIES, NOW))
        reader = reader_of(layout, rows, "CET", QUANTITIES, NOW)
        taken = [reader.take(stretch) for stretch in read_rows(path, layout, 3)]
    return np.concatenate([np.empty(0, STAGED_ROW), *taken]), reader.tally


def _read_or_refused(data: bytes) -> None:
    with contextlib.suppress(RequestError):
        _taken(data)


def _taken(data: bytes) -> None:
    """Read a file of readings and hold what was taken against what may be; refusals go on."""
    try:
        readings, tally = _read(data)
    except RequestError as refused:
        assert refused.message
        for problem in refused.problems:
            assert problem.message
            assert problem.row is None or problem.row >= 1
        raise
    assert np.isfinite(readings["value"]).all()
    assert (readings["time"] <= NOW.timestamp() * 1e6 + 3e8).all()
    assert set(readings["channel_id"]) <= {1, 2}
    for cell in tally.refused:
        assert cell.reason
        assert cell.row >= 1


@given(
    values=st.lists(
        st.lists(st.floats(1.1, 60).map(lambda v: round(v, 2)), min_size=2, max_size=2),
        min_size=1,
        max_size=28,
    ),
    delimiter=st.sampled_from([",", ";", "\t"]),
)
def test_what_a_logger_wrote_is_what_is_read(values: list[list[float]], delimiter: str) -> None:
    comma = delimiter != ","
    rows = [delimiter.join(["time", "10 cm", "20 cm"])]
    for i, row in enumerate(values):
        cells = [str(v).replace(".", ",") if comma else str(v) for v in row]
        rows.append(delimiter.join([f"2026-06-{1 + i:02d}T12:00:00", *cells]))
    readings, tally = _read("\n".join(rows).encode())
    assert tally.refused_count == tally.gaps == 0
    in_order = readings[np.lexsort((readings["channel_id"], readings["time"]))]
    assert in_order["value"].tolist() == [v for row in values for v in row]
    assert set(in_order["time"] // 3_600_000_000 % 24) == {10}


odd = st.one_of(
    st.none(),
    st.booleans(),
    st.text(max_size=5),
    st.floats(allow_nan=True, allow_infinity=True),
    st.integers(-(10**12), 10**12),
    st.lists(st.integers(), max_size=2),
)
FIELDS = [
    "name",
    "area_m2",
    "horizons",
    "crop_key",
    "planted_on",
    "system",
    "rain_room_mm",
    "refill_method",
]
HORIZON = ["top_mm", "bottom_mm", "sand", "clay", "texture", "organic_matter", "gravel", "method"]
SYSTEM = ["kind", "rate_mm_h", "flow_m3_h", "efficiency", "smallest_mm", "largest_mm"]


@given(part=st.sampled_from(["block", "horizon", "system"]), data=st.data(), value=odd)
def test_any_block_is_made_or_refused(manager: Api, part: str, data: Any, value: Any) -> None:
    body = json.loads(json.dumps(new_block(name="Fuzz")))
    names = {"block": FIELDS, "horizon": HORIZON, "system": SYSTEM}[part]
    target = {"block": body, "horizon": body["horizons"][0], "system": body["system"]}[part]
    target[data.draw(st.sampled_from(names))] = value
    before = Block.unscoped.count()
    answer = manager.client.post(
        "/api/farms/thistlewick/blocks", json.dumps(body), content_type="application/json"
    )
    assert answer.status_code in (201, 422), (body, answer.content[:500])
    if answer.status_code == 422:
        assert answer.json()["problems"], body
        assert Block.unscoped.count() == before
        return
    made = answer.json()["id"]
    # What was let in can be shown.
    manager.get(f"/farms/thistlewick/blocks/{made}")
    Block.unscoped.filter(pk=made).delete()


@pytest.mark.parametrize(
    "body", ["", "{", "[]", "null", '"text"', '{"name": "x"}', '{"area_m2": 1e999}']
)
def test_broken_bodies_are_refused_in_the_same_shape(manager: Api, body: str) -> None:
    answer = manager.client.post(
        "/api/farms/thistlewick/blocks", body, content_type="application/json"
    )
    assert answer.status_code in (400, 422)
    assert answer.json()["message"]
    assert isinstance(answer.json()["problems"], list)


def test_text_that_no_database_can_hold_is_refused(manager: Api, block: Block) -> None:
    base = "/farms/thistlewick"
    for name in ("name", "soil_name"):
        manager.post(f"{base}/blocks", new_block(**{name: "a\x00b"}), status=422)
    instrument = {"label": "a\x00", "kind": "tensiometer", "depths_mm": [100]}
    answer = manager.post(f"{base}/blocks/{block.pk}/instruments", instrument, status=422)
    assert "control characters" in answer["problems"][0]["message"]
    assert not Block.unscoped.filter(name__startswith="a").exists()
    manager.get("/farms/this%00tle/board", status=422)
    manager.post("/session", {"email": "a\x00@b.c", "password": "x"}, status=422)


sheet_cell = st.sampled_from(
    ["", "A", "0", "30", "60", "40,5", "-9999", "x", "1e9", "NaN"]
) | st.text(max_size=6)
sheet_heading = st.sampled_from(
    ["soil,top,bottom,sand,clay", "soil;top cm;bottom cm;sand;silt;clay", "a,b", "sand", "soil,top"]
)


@given(first=sheet_heading, rows=st.lists(st.lists(sheet_cell, max_size=7), max_size=6))
def test_any_laboratory_sheet_is_read_or_refused(first: str, rows: list[list[str]]) -> None:
    delimiter = ";" if ";" in first else ","
    data = "\n".join([first, *(delimiter.join(r) for r in rows)]).encode()
    try:
        sheet = read_laboratory_file(data)
    except RequestError as refused:
        assert refused.message
        return
    for soil in sheet.soils:
        assert soil.name
        assert all(0 <= h.top_mm < h.bottom_mm <= 5000 for h in soil.horizons)


some_json = st.recursive(
    st.none() | st.floats() | st.text(max_size=5),
    lambda inner: (
        st.lists(inner, max_size=3)
        | st.dictionaries(
            st.sampled_from(["type", "features", "geometry", "coordinates", "crs", "properties"]),
            inner | st.sampled_from(["Feature", "FeatureCollection", "Polygon"]),
            max_size=4,
        )
    ),
    max_leaves=16,
)


@given(found=some_json, swap=st.booleans(), projection=st.sampled_from(["", "32632", "4326", "?"]))
def test_any_outlines_are_read_or_refused(found: Any, swap: bool, projection: str) -> None:
    try:
        features = read_outlines(json.dumps(found).encode(), "x.geojson", projection, swap)
    except RequestError as refused:
        assert refused.message
        return
    assert features.features


# The first look at a projection reads its database.
@given(data=st.binary(max_size=200), zipped=st.booleans())
def test_any_bytes_are_no_outlines_or_some(data: bytes, zipped: bool) -> None:
    packed = io.BytesIO()
    if zipped:
        with zipfile.ZipFile(packed, "w") as archive:
            archive.writestr("a.shp", data)
            archive.writestr("a.dbf", data)
            archive.writestr("a.prj", data)
        data = packed.getvalue()
    with contextlib.suppress(RequestError):
        read_outlines(data, "a.zip", "", False)


def _station(data: bytes) -> None:
    read_station_file(data, NOW, Stamp.END, None)


def _outlines(name: str) -> Callable[[bytes], object]:
    return lambda data: read_outlines(data, name, "", False)


READERS: dict[str, Callable[[bytes], object]] = {
    "readings as CSV": _taken,
    "readings as a workbook": _taken,
    "days of weather": _station,
    "hours of weather": _station,
    "laboratory sheet": read_laboratory_file,
    "worksheet": read_sheet,
    "outlines as GeoJSON": _outlines("blocks.geojson"),
    "outlines as a shapefile": _outlines("blocks.zip"),
    "photo as JPEG": small_picture,
    "photo as PNG": small_picture,
}
BROKEN = 40


# Libraries say what they think of a broken file in warnings.
@pytest.mark.filterwarnings("ignore")
@pytest.mark.parametrize("kind", FORMATS, ids=lambda k: k.name)
def test_a_good_file_is_read_and_a_broken_one_refused_or_read(kind: Format) -> None:
    read = READERS[kind.name]
    read(kind.good())
    chance = random.Random(kind.name)
    refused = 0
    for _ in range(BROKEN):
        try:
            read(broken(kind, chance))
        except RequestError as said:
            assert said.message
            refused += 1
    assert refused > 0
