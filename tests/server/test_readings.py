"""Readings in: files whole or not at all, hand readings, the same twice changes nothing."""

from datetime import UTC, datetime
from typing import Any

import pytest

from server.blocks.models import Block
from server.readings.models import Reading, ReadingBatch, ReadingRevision
from tests.server.conftest import Api, new_block

BASE = "/farms/thistlewick"


@pytest.fixture
def probe(manager: Api) -> dict[str, Any]:
    """A new block with a probe that has read nothing yet."""
    made = manager.post(f"{BASE}/blocks", new_block(), status=201)
    body = {"label": "P", "kind": "capacitance_probe", "depths_mm": [100, 200, 400]}
    instrument = manager.post(f"{BASE}/blocks/{made['id']}/instruments", body, status=201)
    return {**instrument, "block": made["id"]}


GOOD = b"""time,10 cm,20 cm,40 cm
2026-07-14 04:00,24.1,25.2,30.0
2026-07-14 05:00,24.0,,30.0
2026-07-14 06:00,23.9,25.0,29.9
"""


def send(api: Api, probe: dict, data: bytes, unit: str = "%", status: int = 200, dry: bool = False):
    return api.upload(
        f"{BASE}/instruments/{probe['id']}/file",
        "logger.csv",
        data,
        status=status,
        unit=unit,
        dry_run=str(dry).lower(),
    )


def stored(probe: dict) -> list[tuple[float, str]]:
    rows = Reading.unscoped.filter(channel__instrument=probe["id"]).order_by("time", "channel")
    return [(r.value, str(r.in_unit)) for r in rows]


def test_a_file_comes_in_and_the_block_has_a_word(manager: Api, probe: dict) -> None:
    looked = send(manager, probe, GOOD, dry=True)
    assert (looked["new"], looked["gaps"], looked["rows"]) == (8, 1, 3)
    assert stored(probe) == []
    report = send(manager, probe, GOOD)
    assert (report["new"], report["changed"], report["unchanged"]) == (8, 0, 0)
    # Farm-local times become instants: 06:00 in summer time is 04:00 UTC.
    assert report["last"] == "2026-07-14T04:00:00Z"
    assert len(stored(probe)) == 8
    answer = manager.get(f"{BASE}/blocks/{probe['block']}")
    assert answer["answer"]["state"] != "no_word"
    assert answer["answer"]["deficit_mm"] > 0
    batch = ReadingBatch.unscoped.get(file_name="logger.csv")
    assert (batch.new, batch.made_by.name, len(batch.sha256)) == (8, "Maud Pellander", 64)


def test_the_same_file_again_changes_nothing(manager: Api, probe: dict) -> None:
    send(manager, probe, GOOD)
    batches = ReadingBatch.unscoped.count()
    again = send(manager, probe, GOOD)
    assert (again["new"], again["changed"], again["unchanged"]) == (0, 0, 8)
    assert ReadingBatch.unscoped.count() == batches
    assert ReadingRevision.unscoped.count() == 0


def test_a_changed_value_keeps_its_old_word(manager: Api, probe: dict) -> None:
    send(manager, probe, GOOD)
    report = send(manager, probe, GOOD.replace(b"23.9", b"22.9"))
    assert (report["new"], report["changed"], report["unchanged"]) == (0, 1, 7)
    old = ReadingRevision.unscoped.get()
    assert (old.value, old.unit) == (23.9, 2)
    assert old.batch.pk != old.replaced_by.pk
    assert (22.9, "%") in stored(probe)


@pytest.mark.parametrize(
    "unit, values, fraction",
    [
        ("m3/m3", "0.241,0.252,0.3", 0.241),
        ("%", "24.1,25.2,30", 0.241),
        ("mm/100mm", "24.1,25.2,30", 0.241),
    ],
)
def test_units_of_a_file(
    manager: Api, probe: dict, unit: str, values: str, fraction: float
) -> None:
    data = f"time,10 cm,20 cm,40 cm\n2026-07-14 06:00,{values}\n".encode()
    send(manager, probe, data, unit=unit)
    # The raw value and its unit are kept; the meaning is computed.
    assert stored(probe)[0] == (float(values.split(",", maxsplit=1)[0]), unit)
    layers = manager.get(f"{BASE}/blocks/{probe['block']}")["layers"]
    assert layers[0]["theta"] == pytest.approx(fraction)


@pytest.mark.parametrize(
    "data, row_count",
    [
        (b"time;10 cm;20 cm;40 cm\r\n14.07.2026 06:00;24,1;25,2;30,0\r\n", 3),
        (b"time\t10cm\t20cm\t40cm\n2026-07-14T06:00:00\t24.1\t25.2\t30.0\n", 3),
        ("\ufefftime,theta_100mm,theta_200mm,0.4 m\n2026-07-14T04:00:00Z,24,25,30\n".encode(), 3),
        (b'"time","4 in","8 inches","15.75 in"\n"2026/07/14 06:00","24","25","30"\n\n', 3),
        (b"time,10 cm,40 cm\n14/07/2026 06:00,24,---\n", 1),
        (b"time,10 cm\n2026-07-14 06:00,NaN\n2026-07-14 05:00,-9999\n2026-07-14 04:00,24\n", 1),
    ],
)
def test_shapes_of_files_that_loggers_write(
    manager: Api, probe: dict, data: bytes, row_count: int
) -> None:
    if b"in" in data.split(b"\n")[0]:
        body = {"label": "inches", "kind": "capacitance_probe", "depths_mm": [101.6, 203.2, 400.05]}
        probe = manager.post(f"{BASE}/blocks/{probe['block']}/instruments", body, status=201)
    assert send(manager, probe, data)["new"] == row_count


def row(line: str, heading: str = "time,10 cm,20 cm,40 cm") -> bytes:
    return f"{heading}\n2026-07-14 04:00,24,25,30\n{line}\n".encode()


@pytest.mark.parametrize(
    "data, at_row, column, says",
    [
        (row("2026-07-14 05:00,24,wet,30"), 3, "20 cm", "'wet' is not a number"),
        (row("yesterday,24,25,30"), 3, "time", "'yesterday' is not a time"),
        (row("2026-07-14 04:00,24,25,30"), 3, "time", "stands already in row 2"),
        (row("2026-07-15 04:00,24,25,30"), 3, "time", "in the future"),
        (row("2026-03-29 02:30,24,25,30"), 3, "time", "does not exist"),
        (row("2026-07-14 05:00,24,250,30"), 3, "20 cm", "can't be a water content"),
        (row("2026-07-14 05:00,24,-3,30"), 3, "20 cm", "can't be a water content"),
        (row("2026-07-14 05:00,24,25,30,9"), 3, "column 5", "5 cells"),
        (row("", heading="time,sensor one,20 cm,40 cm"), 1, "sensor one", "names no depth"),
        (row("", heading="time,10 cm,20 cm,20 cm"), 1, "20 cm", "appears twice"),
        (row("", heading="time,10 cm,25 cm,40 cm"), 1, "25 cm", "has no sensor at 25 cm"),
        (b"\n\n" + row("2026-07-14 05:00,24,wet,30"), 5, "20 cm", "'wet' is not a number"),
        (row("\n\r\n2026-07-14 05:00,24,wet,30"), 5, "20 cm", "'wet' is not a number"),
        (b"just words\n1\n", 1, "just words", "Expected a heading"),
    ],
)
def test_a_wrong_file_names_row_column_and_cure(
    manager: Api, probe: dict, data: bytes, at_row: int, column: str, says: str
) -> None:
    answer = send(manager, probe, data, status=422)
    places = [(p["row"], p["column"]) for p in answer["problems"]]
    assert (at_row, column) in places
    assert any(says in p["message"] for p in answer["problems"])
    assert stored(probe) == []
    assert not ReadingBatch.unscoped.filter(file_name="logger.csv").exists()


@pytest.mark.parametrize(
    "data, says",
    [
        (b"", "empty"),
        (b"  \n ", "empty"),
        (b"\x1c\r\n", "empty"),
        (b"time,10 cm\n2026-07-14 04:00,\n", "no readings"),
        (b"PK\x03\x04\x00\x00", "not a text file"),
    ],
)
def test_a_file_that_is_none(manager: Api, probe: dict, data: bytes, says: str) -> None:
    assert says in send(manager, probe, data, status=422)["message"]


def test_a_fraction_given_as_percent_is_told_the_cure(manager: Api, probe: dict) -> None:
    answer = send(manager, probe, GOOD, unit="m3/m3", status=422)
    assert "choose percent" in answer["problems"][0]["message"]


def test_the_unit_must_fit_the_instrument(manager: Api, probe: dict) -> None:
    answer = send(manager, probe, GOOD, unit="kPa", status=422)
    assert answer["problems"][0]["field"] == "unit"


def test_a_thousand_wrong_rows_are_counted_and_fifty_listed(manager: Api, probe: dict) -> None:
    lines = "\n".join(f"bad {i},1,2,3" for i in range(1000))
    answer = send(manager, probe, f"time,10 cm,20 cm,40 cm\n{lines}\n".encode(), status=422)
    assert "1000 places" in answer["message"]
    assert len(answer["problems"]) == 50


def test_the_hour_that_autumn_repeats_is_kept_whole(manager: Api, probe: dict, farm: Any) -> None:
    """Summer time ends at 03:00 on 25 October 2026; 02:00-02:59 comes twice."""
    farm.fixed_now = datetime(2026, 10, 26, tzinfo=UTC)
    farm.save()
    times = ["01:30", "02:00", "02:30", "02:00", "02:30", "03:00"]
    lines = "\n".join(f"2026-10-25 {t},{20 + i}" for i, t in enumerate(times))
    send(manager, probe, f"time,10 cm\n{lines}\n".encode())
    rows = Reading.unscoped.filter(channel__instrument=probe["id"]).order_by("time")
    assert [r.time.strftime("%H:%M") for r in rows] == [
        "23:30",
        "00:00",
        "00:30",
        "01:00",
        "01:30",
        "02:00",
    ]
    assert [r.value for r in rows] == [20, 21, 22, 23, 24, 25]


@pytest.fixture
def tensiometers(manager: Api, probe: dict) -> dict[str, Any]:
    body = {"label": "T", "kind": "tensiometer", "depths_mm": [150, 300]}
    return manager.post(f"{BASE}/blocks/{probe['block']}/instruments", body, status=201)


def by_hand(instrument: dict, values: list[float]) -> dict[str, Any]:
    ids = [c["id"] for c in instrument["channels"]]
    return {
        "time": "2026-07-14T05:30",
        "unit": "cbar",
        "values": [{"channel_id": i, "value": v} for i, v in zip(ids, values, strict=False)],
    }


def test_readings_by_hand(manager: Api, tensiometers: dict) -> None:
    path = f"{BASE}/instruments/{tensiometers['id']}"
    assert manager.post(f"{path}/readings", by_hand(tensiometers, [35, 28]))["new"] == 2
    assert manager.post(f"{path}/readings", by_hand(tensiometers, [35, 28]))["unchanged"] == 2
    last = manager.get(f"{path}/last")
    assert {(r["value"], r["unit"]) for r in last} == {(35, "cbar"), (28, "cbar")}
    # 05:30 on the farm's clock, in summer.
    assert {r["time"] for r in last} == {"2026-07-14T03:30:00Z"}


@pytest.mark.parametrize(
    "values, changes, field, says",
    [
        ([35, 5000], {}, "values.1", "can't be a soil-water tension"),
        ([35], {"time": "2026-07-14T09:00"}, "time", "future"),
        ([35], {"time": "2026-03-29T02:30"}, "time", "skipped"),
        ([], {}, "values", "at least one"),
        ([35], {"unit": "%"}, "unit", "do not read in %"),
        ([35], {"values": [{"channel_id": 1, "value": 3}]}, "values.0", "not of this instrument"),
    ],
)
def test_hand_readings_that_can_not_be(
    manager: Api, tensiometers: dict, values: list, changes: dict, field: str, says: str
) -> None:
    path = f"{BASE}/instruments/{tensiometers['id']}/readings"
    body = {**by_hand(tensiometers, values), **changes}
    answer = manager.post(path, body, status=422)
    problem = next(p for p in answer["problems"] if p["field"] == field)
    assert says in problem["message"]
    assert stored(tensiometers) == []


def test_a_marked_sensor_takes_no_part(manager: Api, block: Block) -> None:
    before = manager.get(f"{BASE}/blocks/{block.pk}")
    channel = next(c for i in before["instruments"] for c in i["channels"] if c["depth_mm"] == 100)
    manager.patch(f"{BASE}/channels/{channel['id']}", {"suspect": True})
    after = manager.get(f"{BASE}/blocks/{block.pk}")
    doubted = {r["depth_mm"]: r["doubt"] for r in after["layers"] if r["doubt"]}
    assert doubted[100] == "marked suspect"
    assert after["answer"]["deficit_mm"] != before["answer"]["deficit_mm"]
    manager.patch(f"{BASE}/channels/{channel['id']}", {"suspect": False})
    undone = manager.get(f"{BASE}/blocks/{block.pk}")
    assert undone["answer"]["deficit_mm"] == before["answer"]["deficit_mm"]
