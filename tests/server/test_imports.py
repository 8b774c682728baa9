"""The import bench: files of any sensible shape, checked, stored, taken back whole."""

import io
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

import pytest
from openpyxl import Workbook

from server.blocks.models import Block
from server.farms.models import Role
from server.imports import staging
from server.imports.models import FileImport, FilePiece, SavedLayout
from server.readings.models import Reading, ReadingBatch, ReadingRevision
from tests.server.conftest import Api, new_block

BASE = "/farms/thistlewick"
GOOD = b"""time,10 cm,20 cm,40 cm
2026-07-14 04:00,24.1,25.2,30.0
2026-07-14 05:00,24.0,,30.0
2026-07-14 06:00,23.9,25.0,29.9
"""


@dataclass
class Bench:
    """A person at the import bench with a probe that has read nothing yet."""

    api: Api
    run_jobs: Callable[[], list[str]]
    block: int
    probe: dict[str, Any]

    def upload(self, data: bytes, name: str = "logger.csv", **form: Any) -> Any:
        """The bench once the file's first rows are read."""
        form = form or {"instrument_id": self.probe["id"]}
        row = self.api.upload(f"{BASE}/imports", name, data, status=202, **form)
        assert row["state"] == "reading"
        self.run_jobs()
        return self.api.get(f"{BASE}/imports/{row['id']}")

    def unreadable(self, data: bytes, name: str = "logger.csv") -> str:
        """What is said of a file that can't be read."""
        up = self.upload(data, name)
        assert (up["summary"]["state"], up["layout"], up["preview"]) == ("failed", None, None)
        return up["summary"]["problem"]

    def change(self, up: Any, status: int = 200, **layout: Any) -> Any:
        path = f"{BASE}/imports/{up['summary']['id']}/layout"
        answer = self.api.put(path, {**up["layout"], **layout}, status=status)
        if status != 200 or answer["summary"]["state"] != "reading":
            return answer
        self.run_jobs()
        return self.api.get(f"{BASE}/imports/{up['summary']['id']}")

    def check(self, up: Any) -> Any:
        path = f"{BASE}/imports/{up['summary']['id']}"
        self.api.post(f"{path}/check", {}, status=202)
        self.run_jobs()
        return self.api.get(path)

    def store(self, up: Any, **keep: Any) -> Any:
        path = f"{BASE}/imports/{up['summary']['id']}"
        self.api.post(f"{path}/store", keep, status=202)
        self.run_jobs()
        return self.api.get(path)

    def bring_in(self, data: bytes, name: str = "logger.csv") -> Any:
        return self.store(self.check(self.upload(data, name)))

    def stored(self) -> list[tuple[str, float, str]]:
        rows = Reading.unscoped.filter(channel__instrument=self.probe["id"])
        return [
            (f"{r.time.astimezone(UTC):%m-%d %H:%M}", r.value, str(r.in_unit))
            for r in rows.order_by("time", "channel")
        ]


@pytest.fixture
def bench(manager: Api, run_jobs: Callable[[], list[str]]) -> Bench:
    made = manager.post(f"{BASE}/blocks", new_block(), status=201)
    body = {"label": "P", "kind": "capacitance_probe", "depths_mm": [100, 200, 400]}
    probe = manager.post(f"{BASE}/blocks/{made['id']}/instruments", body, status=201)
    return Bench(manager, run_jobs, made["id"], probe)


def test_a_file_from_upload_to_the_blocks_word(bench: Bench) -> None:
    up = bench.upload(GOOD)
    assert up["summary"]["state"] == "ready"
    assert [c["unit"] for c in up["layout"]["columns"]] == ["%"] * 3
    assert up["preview"]["understood"][0]["time"] == "2026-07-14T02:00:00Z"
    assert list(up["preview"]["understood"][0]["values"].values()) == [24.1, 25.2, 30.0]
    assert bench.stored() == []
    checked = bench.check(up)
    report = checked["summary"]["report"]
    assert (report["new"], report["gaps"], report["rows"], report["refused_count"]) == (8, 1, 3, 0)
    assert bench.stored() == []
    done = bench.store(checked)
    assert done["summary"]["state"] == "stored"
    assert len(bench.stored()) == 8
    answer = bench.api.get(f"{BASE}/blocks/{bench.block}")
    assert answer["answer"]["state"] != "no_reliable_data"
    batch = ReadingBatch.unscoped.get(file_name="logger.csv")
    assert (batch.new, batch.made_by.name, len(batch.sha256)) == (8, "Maud Pellander", 64)
    # The content goes once it is stored; what became of it stays.
    assert not FilePiece.unscoped.exists()
    assert not staging.is_staged(done["summary"]["id"])


def test_the_same_file_again_brings_nothing(bench: Bench) -> None:
    bench.bring_in(GOOD)
    again = bench.check(bench.upload(GOOD))
    report = again["summary"]["report"]
    assert (report["new"], report["changed"], report["unchanged"]) == (0, 0, 8)
    path = f"{BASE}/imports/{again['summary']['id']}/store"
    assert "already stored" in bench.api.post(path, {}, status=422)["message"]


def test_a_changed_value_keeps_its_old_word_and_undo_gives_it_back(bench: Bench) -> None:
    bench.bring_in(GOOD)
    before = bench.stored()
    done = bench.bring_in(GOOD.replace(b"23.9", b"22.9") + b"2026-07-14 03:00,25,25,30\n")
    report = done["summary"]["report"]
    assert (report["new"], report["changed"], report["unchanged"]) == (3, 1, 7)
    old = ReadingRevision.unscoped.get()
    assert (old.value, old.unit, old.batch.pk != old.replaced_by.pk) == (23.9, 2, True)
    path = f"{BASE}/imports/{done['summary']['id']}"
    bench.api.post(f"{path}/undo", {}, status=202)
    bench.run_jobs()
    assert bench.api.get(path)["summary"]["state"] == "undone"
    assert bench.stored() == before
    bench.api.post(f"{path}/undo", {}, status=422)
    # Uploaded again it comes in again.
    assert bench.bring_in(GOOD.replace(b"23.9", b"22.9"))["summary"]["report"]["changed"] == 1


def test_a_storing_that_broke_off_and_was_checked_again_can_be_taken_back(bench: Bench) -> None:
    done = bench.bring_in(GOOD)
    # As a worker leaves it whose last word was lost: everything is stored, the import says failed.
    again = bench.upload(GOOD)
    FileImport.unscoped.filter(pk=done["summary"]["id"]).update(batch=None)
    FileImport.unscoped.filter(pk=again["summary"]["id"]).update(
        state="failed", batch=ReadingBatch.unscoped.get(file_name="logger.csv")
    )
    checked = bench.check(again)
    assert checked["summary"]["state"] == "checked"
    assert checked["summary"]["report"]["new"] == 0
    path = f"{BASE}/imports/{again['summary']['id']}"
    bench.api.post(f"{path}/undo", {}, status=202)
    assert "is running" in bench.api.post(f"{path}/undo", {}, status=422)["message"]
    bench.run_jobs()
    assert bench.api.get(path)["summary"]["state"] == "undone"
    assert bench.stored() == []


UGLY = (
    "Station;Carr gate;;;\r\n"
    "Logger;17;;;\r\n"
    "\r\n"
    "Date;Clock;Soil 10 cm;Soil 20 cm;Temp 10 cm;Battery\r\n"
    ";;Vol.%;Vol.%;°C;V\r\n"
    "14.07.2026;04:00;24,1;25,2;18,0;3,6\r\n"
    "14.07.2026;05:00;---;1.025,2;18,0;3,6\r\n"
    "13.07.2026;05:00;23,0;25,0;18,0;3,6\r\n"
    "14.07.2026;06:00;-9999;25,0;18,0;3,6\r\n"
    "14.07.2026;06:00;23,5;25,0;18,0;3,6\r\n"
    "14.07.2026;06:00;23,7;25,0;18,0;3,6\r\n"
    "15.07.2026;06:00;23,7;25,0;18,0;3,6\r\n"
    "14.07.2026;wet;23,7;25,0;18,0;3,6\r\n"
)


def test_an_ugly_file_is_understood(bench: Bench) -> None:
    """Preamble, two heading rows, day first, decimal comma, disorder, twins, the future."""
    up = bench.upload(UGLY.encode("cp1252"))
    layout = up["layout"]
    assert (layout["encoding"], layout["delimiter"], layout["decimal_comma"]) == (
        "cp1252",
        ";",
        True,
    )
    assert (layout["data_from"], layout["time_column"], layout["time_of_day_column"]) == (6, 0, 1)
    assert layout["time_order"] == "dmy"
    assert [c["column"] for c in layout["columns"]] == [2, 3]
    assert up["preview"]["heading"][2] == "Soil 10 cm Vol.%"
    done = bench.check(up)
    report = done["summary"]["report"]
    assert (report["rows"], report["gaps"], report["repeated"]) == (8, 2, 2)
    told = {(r["row"], r["column"], r["value"]): r["reason"] for r in done["refused"]}
    assert "can't be a water content" in told[(7, "Soil 20 cm Vol.%", "1025.2")]
    assert "future" in told[(12, "Soil 10 cm Vol.%", "23.7")]
    assert "not a time" in told[(13, "Date", "14.07.2026 wet")]
    assert "Row 10 has the same time" in told[(11, "", "23.7")]
    assert report["refused_count"] == 5
    bench.store(done)
    assert [(t, v) for t, v, _ in bench.stored()] == [
        ("07-13 03:00", 23.0),
        ("07-13 03:00", 25.0),
        ("07-14 02:00", 24.1),
        ("07-14 02:00", 25.2),
        ("07-14 04:00", 23.5),
        ("07-14 04:00", 25.0),
    ]
    text = bench.api.client.get(f"/api{BASE}/imports/{done['summary']['id']}/report.csv")
    lines = text.content.decode().splitlines()
    assert lines[0] == "row,column,value,reason"
    assert len(lines) == 6


LONG = """sensor;depth_cm;when;value;unit
P;10;2026-07-14T04:00:00Z;24.1;%
P;20;2026-07-14T04:00:00Z;25.1;%
Q;20;2026-07-14T04:00:00Z;35.1;%
P;10;2026-07-14T03:00:00Z;24.3;%
P;20;2026-07-14T03:00:00Z;25.3;%
Q;20;2026-07-14T03:00:00Z;35.3;%
"""


def test_a_long_file_and_what_is_left_out(bench: Bench) -> None:
    up = bench.upload(LONG.encode())
    layout = up["layout"]
    assert (layout["shape"], layout["value_column"], layout["key_columns"]) == ("long", 3, [0, 1])
    # What is of another sensor's name is the person's to decide: both look like this probe.
    keys = {k["key"]: k["channel_id"] for k in layout["keys"]}
    ids = [c["id"] for c in bench.probe["channels"]]
    assert keys["P | 10"] == ids[0]
    keep = [
        {"key": "P | 10", "channel_id": ids[0], "unit": "%"},
        {"key": "P | 20", "channel_id": ids[1], "unit": "%"},
    ]
    done = bench.check(bench.change(up, keys=keep))
    assert done["summary"]["report"]["left_out"] == {"Q | 20": 2}
    bench.store(done)
    assert [v for _, v, _ in bench.stored()] == [24.3, 25.3, 24.1, 25.1]


def test_a_workbook(bench: Bench) -> None:
    book = Workbook()
    book.active.title = "Notes"
    book.active.append(["nothing here"])
    sheet = book.create_sheet("July")
    sheet.append(["When", "10 cm (%)", "20 cm (%)"])
    for hour in range(4):
        sheet.append([datetime(2026, 7, 14, hour), 24.5 - hour / 10, None])
    out = io.BytesIO()
    book.save(out)
    up = bench.upload(out.getvalue(), "logger.xlsx")
    assert (up["sheets"], up["layout"]["sheet"]) == (["Notes", "July"], "July")
    done = bench.store(bench.check(up))
    assert done["summary"]["report"]["gaps"] == 4
    assert bench.stored()[0] == ("07-13 22:00", 24.5, "%")
    assert len(bench.stored()) == 4


@pytest.mark.parametrize(
    "data, count",
    [
        (b"time;10 cm;20 cm;40 cm\r\n14.07.2026 06:00;24,1;25,2;30,0\r\n", 3),
        (b"time\t10cm\t20cm\t40cm\n2026-07-14T06:00:00\t24.1\t25.2\t30.0\n", 3),
        ("\ufefftime,theta_100mm,theta_200mm,0.4 m\n2026-07-14T04:00:00Z,24,25,30\n".encode(), 3),
        ("time;10 cm\n2026-07-14 06:00;24\n".encode("utf-16"), 1),
        (b'"time","4 in","8 inches","15.75 in"\n"2026/07/14 06:00","24","25","30"\n\n', 2),
        (b"time,10 cm,40 cm\n14/07/2026 06:00,24,---\n", 1),
        (b"time,10 cm\n2026-07-14 06:00,NaN\n2026-07-14 05:00,-9999\n2026-07-14 04:00,24\n", 1),
        (b"epoch,10 cm\n1783994400,24\n1783998000,25\n", 2),
    ],
)
def test_shapes_of_files_that_loggers_write(bench: Bench, data: bytes, count: int) -> None:
    assert bench.upload(data)["preview"]["readings"] == count


@pytest.mark.parametrize("kind, depths", [("capacitance_probe", [101.6, 203.2, 400.05])])
def test_depths_in_inches(bench: Bench, kind: str, depths: list[float]) -> None:
    body = {"label": "I", "kind": kind, "depths_mm": depths}
    bench.probe = bench.api.post(f"{BASE}/blocks/{bench.block}/instruments", body, status=201)
    up = bench.upload(b'"time","4 in","8 inches","15.75 in"\n"2026/07/14 06:00","24","25","30"\n')
    assert up["preview"]["readings"] == 3


def test_a_cell_that_no_database_can_hold(bench: Bench) -> None:
    """In UTF-16 every other byte is a nought, so that by these no file is known for what is no
    text."""
    rows = "2026-07-10 06:00,23\n2026-07-11 06:00,a\x00b\n2026-07-11 07:00,24\n"
    told = bench.check(bench.upload(f"time,10 cm\n{rows}".encode("utf-16")))
    assert told["summary"]["report"]["refused_count"] == 1


@pytest.mark.parametrize(
    "data, says",
    [
        (b"  \n ", "empty"),
        (b"PK\x03\x04\x00\x00", "workbook can't be read"),
        (b"\x00\x01\x02", "not a text file"),
        (b"just words\n1\n", "single column"),
        (b'"",""\n"",""\n', "every row is empty"),
    ],
)
def test_a_file_that_is_none(bench: Bench, data: bytes, says: str) -> None:
    assert says in bench.unreadable(data)


def test_an_empty_file_is_not_taken(bench: Bench) -> None:
    answer = bench.api.upload(f"{BASE}/imports", "a.csv", b"", status=422)
    assert "empty" in str(answer)
    assert not FileImport.unscoped.exists()


def test_a_fraction_given_as_percent_is_told_the_cure(bench: Bench) -> None:
    up = bench.upload(GOOD)
    columns = [{**c, "unit": "m3/m3"} for c in up["layout"]["columns"]]
    shown = bench.change(up, columns=columns)
    assert "choose percent" in shown["preview"]["refused"][0]["reason"]


@pytest.mark.parametrize(
    "change, field, says",
    [
        ({"clock": "Mars"}, "clock", "offset"),
        ({"time_column": 1}, "columns.0", "already holds the time"),
        ({"shape": "long"}, "value_column", "Choose the column"),
    ],
)
def test_layouts_that_contradict_themselves(
    bench: Bench, change: dict, field: str, says: str
) -> None:
    answer = bench.change(bench.upload(GOOD), status=422, **change)
    assert says in next(p["message"] for p in answer["problems"] if p["field"] == field)


def test_columns_must_fit_their_sensors(bench: Bench, block: Block) -> None:
    up = bench.upload(GOOD)
    columns = up["layout"]["columns"]
    wrong = [{**columns[0], "unit": "kPa"}, {**columns[1], "channel_id": 10**6}]
    answer = bench.change(up, status=422, columns=wrong)
    assert [p["field"] for p in answer["problems"]] == ["columns.0", "columns.1"]
    twice = [columns[0], {**columns[1], "channel_id": columns[0]["channel_id"]}]
    assert "Two columns" in bench.change(up, status=422, columns=twice)["problems"][0]["message"]
    none = bench.change(up, columns=[])
    path = f"{BASE}/imports/{none['summary']['id']}/check"
    assert "No column" in bench.api.post(path, {}, status=422)["message"]


def test_the_hour_that_autumn_repeats_is_kept_whole(bench: Bench, farm: Any) -> None:
    """Summer time ends at 03:00 on 25 October 2026; 02:00-02:59 comes twice."""
    farm.fixed_now = datetime(2026, 10, 26, tzinfo=UTC)
    farm.save()
    times = ["01:30", "02:00", "02:30", "02:00", "02:30", "03:00"]
    rows = [f"2026-10-25 {t},{20 + i}" for i, t in enumerate(times)]
    bench.bring_in("\n".join(["time,10 cm", *rows]).encode())
    whole = [
        ("10-24 23:30", 20.0, "%"),
        ("10-25 00:00", 21.0, "%"),
        ("10-25 00:30", 22.0, "%"),
        ("10-25 01:00", 23.0, "%"),
        ("10-25 01:30", 24.0, "%"),
        ("10-25 02:00", 25.0, "%"),
    ]
    assert bench.stored() == whole
    # The same file the other way round says the same.
    back = bench.check(bench.upload("\n".join(["time,10 cm", *rows[::-1]]).encode()))
    assert back["summary"]["report"]["unchanged"] == 6


def test_a_logger_on_winter_time_is_told_by_the_hour_that_spring_skips(
    bench: Bench, farm: Any
) -> None:
    up = bench.upload(b"time,10 cm\n2026-03-29 01:30,20\n2026-03-29 02:30,21\n")
    assert "fixed offset" in up["preview"]["refused"][0]["reason"]
    mended = bench.change(up, clock="+01:00")
    assert mended["preview"]["refused_count"] == 0
    assert mended["preview"]["understood"][1]["time"] == "2026-03-29T01:30:00Z"


def test_a_kept_layout_reads_the_next_file(bench: Bench) -> None:
    up = bench.upload(GOOD)
    only = bench.change(up, columns=up["layout"]["columns"][:1], clock="utc")
    bench.store(bench.check(only), keep_as="North gate")
    after = GOOD.replace(b"2026-07-14", b"2026-07-13")
    known = bench.upload(after)
    assert known["saved_layout"]["name"] == "North gate"
    assert (known["layout"]["clock"], len(known["layout"]["columns"])) == ("utc", 1)
    # Another heading is another file.
    assert bench.upload(after.replace(b"20 cm", b"25 cm"))["saved_layout"] is None
    layouts = bench.api.get(f"{BASE}/imports/layouts")
    answer = bench.api.client.delete(f"/api{BASE}/imports/layouts/{layouts[0]['id']}")
    assert answer.status_code == 200
    assert not SavedLayout.unscoped.exists()


def test_whose_file_it_is_may_be_said_later(bench: Bench) -> None:
    """Three probes have these depths; the file does not say whose it is."""
    up = bench.upload(GOOD, "a.csv", of=0)
    assert up["layout"]["columns"] == []
    # The times are understood all the same.
    assert up["preview"]["understood"][2]["time"] == "2026-07-14T04:00:00Z"
    path = f"{BASE}/imports/{up['summary']['id']}/guess"
    assert bench.api.post(path, {"instrument_id": bench.probe["id"]}, status=202)
    bench.run_jobs()
    told = bench.api.get(f"{BASE}/imports/{up['summary']['id']}")
    assert [c["channel_id"] for c in told["layout"]["columns"]] == [
        c["id"] for c in bench.probe["channels"]
    ]
    assert told["instrument"] == bench.probe["id"]
    bench.api.post(path, {"instrument_id": 10**6}, status=404)


def test_what_may_be_done_when(bench: Bench, as_role: Any, stranger: Api) -> None:
    up = bench.upload(GOOD)
    path = f"{BASE}/imports/{up['summary']['id']}"
    bench.api.post(f"{path}/store", {}, status=422)
    bench.api.post(f"{path}/undo", {}, status=422)
    stranger.get(path, status=404)
    viewer = as_role(Role.VIEWER)
    viewer.post(f"{path}/check", {}, status=403)
    bench.api.post(f"{path}/check", {}, status=202)
    assert "is running" in bench.api.post(f"{path}/check", {}, status=422)["message"]
    assert bench.api.client.delete(f"/api{path}").status_code == 200
    # Dropped while its check was queued: the worker finds nothing to do.
    assert bench.run_jobs() == ["imports.step"]
    assert bench.stored() == []
    done = bench.bring_in(GOOD)
    assert bench.api.client.delete(f"/api{BASE}/imports/{done['summary']['id']}").status_code == 422
    bench.change(done, status=422)
    listed = bench.api.get(f"{BASE}/imports")
    assert [i["state"] for i in listed] == ["stored"]
