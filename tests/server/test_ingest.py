"""Loggers sending readings: each stored once, bad rows named, tokens that end."""

import gzip
import json
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone
from hypothesis import given
from hypothesis import strategies as st

from server.devices import auth
from server.devices.models import Device
from server.farms.models import Farm, Role
from server.instruments.models import Channel, Instrument
from server.readings.models import Reading, ReadingBatch
from tests.server.conftest import Api

BASE = "/farms/thistlewick"
START = datetime(2026, 7, 1, tzinfo=UTC)


@dataclass
class Logger:
    """A device with its token."""

    token: str
    device_id: int

    def send(
        self, body: Any, status: int = 200, kind: str = "application/json", **headers: str
    ) -> Any:
        data = body if isinstance(body, bytes) else json.dumps(body).encode()
        answer = Client().post(
            "/api/ingest",
            data,
            content_type=kind,
            headers={"Authorization": f"Bearer {self.token}", **headers},
        )
        assert answer.status_code == status, answer.content[:1000]
        return json.loads(answer.content)


@pytest.fixture
def probe(farm: Farm) -> Instrument:
    """A probe without readings of its own."""
    block = Instrument.objects.for_farm(farm).get(label="Probe A1").block
    made = Instrument(block=block, label="Spare", kind="capacitance_probe")
    made.save()
    for depth in (100, 200, 300):
        Channel(instrument=made, quantity="theta", depth_mm=depth).save()
    return made


@pytest.fixture
def channels(probe: Instrument) -> list[int]:
    return [c.pk for c in probe.channels.order_by("depth_mm")]


@pytest.fixture
def logger(manager: Api) -> Logger:
    made = manager.post(f"{BASE}/devices", {"name": "Gate"}, status=201)
    return Logger(made["token"], made["device"]["id"])


def series(channel: int, count: int = 4, start: datetime = START, level: float = 25.0) -> dict:
    return {
        "channel": channel,
        "unit": "%",
        "times": [(start + timedelta(minutes=15 * i)).isoformat() for i in range(count)],
        "values": [level + 0.01 * i for i in range(count)],
    }


def stored(channels: list[int]) -> int:
    return Reading.unscoped.filter(channel__in=channels).count()


def test_a_batch_comes_in(logger: Logger, channels: list[int], farm: Farm) -> None:
    now = farm.now()
    answer = logger.send(
        {
            "sent_at": now.isoformat(),
            "battery_v": 12.4,
            "signal_dbm": -87,
            "series": [series(c) for c in channels],
            "readings": [
                {
                    "channel": channels[0],
                    "time": "2026-07-02T00:00:00Z",
                    "value": 0.2,
                    "unit": "m3/m3",
                }
            ],
        }
    )
    assert (answer["new"], answer["refused_count"], answer["clock_wrong"]) == (13, 0, False)
    assert stored(channels) == 13
    device = Device.unscoped.get(pk=logger.device_id)
    assert (device.battery_v, device.signal_dbm, device.last_seen_at) == (12.4, -87, now)
    batch = ReadingBatch.unscoped.get(pk=answer["batch"])
    assert (batch.origin, batch.device_id) == ("device", device.pk)


def test_the_same_batch_three_times_interleaved_with_another(
    logger: Logger, channels: list[int]
) -> None:
    one = {"batch": "a", "series": [series(channels[0], 10)]}
    two = {"batch": "b", "series": [series(channels[0], 20), series(channels[1], 5)]}
    answers = [logger.send(b) for b in (one, two, one, two, one)]
    assert [a["repeated"] for a in answers] == [False, False, True, True, True]
    assert [a["new"] for a in answers] == [10, 15, 10, 15, 10]
    assert stored(channels) == 25
    # The name alone tells a batch: without one the readings tell themselves.
    again = logger.send({"series": one["series"]})
    assert (again["new"], again["unchanged"], again["repeated"]) == (0, 10, False)
    assert stored(channels) == 25


def test_good_rows_are_taken_and_bad_ones_named(
    logger: Logger, channels: list[int], farm: Farm
) -> None:
    good = {"channel": channels[0], "time": START.isoformat(), "value": 24.0, "unit": "%"}
    future = (farm.now() + timedelta(hours=2)).isoformat()
    bad = [
        ({"channel": 10**9}, "no such channel"),
        ({"channel": True}, "no such channel"),
        ({"time": "yesterday"}, "time can't be read"),
        ({"time": "2026-07-01T00:00:00"}, "with an offset"),
        ({"time": "1970-01-01T00:00:10Z"}, "before 1980"),
        ({"time": future}, "in the future"),
        ({"value": None}, "no number"),
        ({"value": "24"}, "no number"),
        ({"value": -9999}, "no number"),
        ({"value": 240}, "can't be a water content"),
        ({"unit": "m3/m3"}, "choose percent"),
        ({"unit": "kPa"}, "recorded in m3/m3, %, mm/100mm"),
        ({"unit": "cubits"}, "unit is unknown"),
        ({"value": 25.0}, "another value"),
    ]
    rows = [good, *({**good, **change} for change, _ in bad), dict(good)]
    answer = logger.send({"readings": rows})
    # The last row says the same as the first: dropped, and no fault.
    assert (answer["new"], answer["refused_count"]) == (1, len(bad))
    for (_, reason), told in zip(bad, answer["refused"], strict=True):
        assert reason in told["reason"]
    assert [r["row"] for r in answer["refused"]] == list(range(1, len(bad) + 1))
    assert stored(channels) == 1


def test_csv_and_gzip(logger: Logger, channels: list[int]) -> None:
    text = f"time,channel,unit,value\n2026-07-01T00:00:00Z,{channels[0]},%,24.1\n"
    text += f"1782864900,{channels[0]},%,24.2\n,{channels[0]},%,24.3\n\n"
    body = gzip.compress(text.encode(), mtime=0)
    answer = logger.send(body, kind="text/csv", **{"Content-Encoding": "gzip"})
    assert (answer["new"], answer["refused_count"]) == (2, 1)


UNREADABLE = {
    "half JSON": (b"{", "application/json", "", "not JSON"),
    "a list": (b"[]", "application/json", "", "JSON object"),
    "series a number": (b'{"series": 5}', "application/json", "", "lists"),
    "a series a number": (b'{"series": [7]}', "application/json", "", "series[0] is not an object"),
    "times without values": (
        b'{"series": [{"times": ["2026-07-01T00:00Z"], "values": []}]}',
        "application/json",
        "",
        "must pair",
    ),
    "batch without a name": (b'{"batch": ""}', "application/json", "", "up to 80"),
    "columns missing": (b"time,value\n", "text/csv", "", "channel, unit missing"),
    "no text": (b"\xff\xfe", "text/csv", "", "not CSV"),
    "not gzip": (b"plain", "application/json", "gzip", "not gzip"),
    "half gzip": (
        gzip.compress(b"x" * 5000, mtime=0)[:-30],
        "application/json",
        "gzip",
        "incomplete",
    ),
    "unknown packing": (b"", "application/json", "br", "plain or gzip"),
    "XML": (b"<x/>", "application/xml", "", "application/json or text/csv"),
}


@pytest.mark.parametrize("name", UNREADABLE)
def test_what_can_not_be_read_is_refused_whole(logger: Logger, name: str) -> None:
    body, kind, encoding, message = UNREADABLE[name]
    before = ReadingBatch.unscoped.count()
    answer = logger.send(body, status=422, kind=kind, **{"Content-Encoding": encoding})
    assert message in answer["problems"][0]["message"]
    assert ReadingBatch.unscoped.count() == before


def test_a_bomb_is_not_unpacked(logger: Logger) -> None:
    bomb = gzip.compress(bytes(80 * 1024 * 1024), 1, mtime=0)
    answer = logger.send(bomb, status=422, **{"Content-Encoding": "gzip"})
    assert "16 MB" in answer["problems"][0]["message"]


@pytest.mark.parametrize(
    "body",
    [
        b'{"readings":[' + b"{}," * 3_000_000 + b"{}]}",
        b'{"series":[' + b"[]," * 3_000_000 + b"[]]}",
        b"[1" + b",1" * 3_000_000 + b"]",
        b"channel,time,value,unit" + b"\n" * 10_000_000,
        b"channel,time,value,unit\n" + b"," * 10_000_000,
        b"channel,time,value,unit" + b"\r" * 10_000_000,
    ],
    ids=["objects", "lists", "values", "lines", "cells", "other lines"],
)
def test_what_would_fill_memory_is_not_parsed(
    logger: Logger, body: bytes, monkeypatch: pytest.MonkeyPatch
) -> None:
    for parser in ("json", "csv"):
        monkeypatch.setattr(f"server.devices.body.{parser}", None)
    kind = "text/csv" if body.startswith(b"channel") else "application/json"
    answer = logger.send(body, status=422, kind=kind)
    assert answer["problems"][0]["message"] == (
        "A batch has up to 100,000 readings. Send smaller ones."
    )


def test_the_largest_batch_that_comes_in(logger: Logger, channels: list[int]) -> None:
    """Of the wordiest shape: what is refused as too many is no batch of that size."""
    row = {"channel": 0, "time": "2026-07-14T05:00:00+00:00", "value": 0.24, "unit": "m3/m3"}
    wordy = json.dumps({"readings": [{**row, "more": 1, "still": 2}] * 100_000}, indent=1).encode()
    packed = gzip.compress(wordy, 1, mtime=0)
    answer = logger.send(packed, **{"Content-Encoding": "gzip"})
    assert answer["refused_count"] == 100_000


def test_tokens_end(manager: Api, logger: Logger, channels: list[int]) -> None:
    body = {"series": [series(channels[0], 2)]}
    manager.client.delete(f"/api{BASE}/devices/{logger.device_id}/token")
    logger.send(body, status=401)
    renewed = manager.post(f"{BASE}/devices/{logger.device_id}/token", {})
    logger.send(body, status=401)
    Logger(renewed["token"], logger.device_id).send(body)
    assert stored(channels) == 2
    assert renewed["token"] not in str(Device.unscoped.filter(pk=logger.device_id).values())


@pytest.mark.parametrize("header", ["", "Bearer", "Bearer nonsense", "Basic eDp5"])
def test_without_a_token_nothing_comes_in(db: None, header: str) -> None:
    answer = Client().post(
        "/api/ingest", b"{}", content_type="application/json", headers={"Authorization": header}
    )
    assert answer.status_code == 401


def test_a_token_reaches_no_further_than_its_scope(
    manager: Api, probe: Instrument, channels: list[int], farm: Farm
) -> None:
    other = Channel.objects.for_farm(farm).exclude(instrument=probe).first()
    assert other is not None
    made = manager.post(f"{BASE}/devices", {"name": "S", "instruments": [probe.pk]}, status=201)
    narrow = Logger(made["token"], made["device"]["id"])
    answer = narrow.send({"series": [series(channels[0], 1), series(other.pk, 1)]})
    assert (answer["new"], answer["refused_count"]) == (1, 1)
    heard = Client().get(
        "/api/ingest/channels", headers={"Authorization": f"Bearer {narrow.token}"}
    )
    assert [c["id"] for c in json.loads(heard.content)] == channels


def test_another_farms_logger_can_not_write_here(stranger: Api, channels: list[int]) -> None:
    made = stranger.post("/farms/barrow/devices", {"name": "Far"}, status=201)
    answer = Logger(made["token"], 0).send({"series": [series(channels[0], 3)]})
    assert (answer["new"], answer["refused_count"]) == (0, 3)
    stranger.get(f"{BASE}/devices", status=404)


def test_a_wrong_clock_is_told(logger: Logger, channels: list[int], farm: Farm) -> None:
    sent = farm.now() - timedelta(hours=1)
    answer = logger.send({"sent_at": sent.isoformat(), "series": [series(channels[0], 1)]})
    assert answer["clock_wrong"]
    assert answer["skew_seconds"] == pytest.approx(-3600, abs=5)


def test_too_many_requests(
    logger: Logger, channels: list[int], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(auth, "MAX_REQUESTS", 3)
    for i in range(3):
        logger.send({"series": [series(channels[0], i + 1)]})
    answer = Client().post(
        "/api/ingest",
        b"{}",
        content_type="application/json",
        headers={"Authorization": f"Bearer {logger.token}"},
    )
    assert answer.status_code == 429
    assert 1 <= int(answer["Retry-After"]) <= 60
    Device.unscoped.filter(pk=logger.device_id).update(
        window_start=timezone.now() - timedelta(minutes=2)
    )
    logger.send({"series": [series(channels[0], 4)]})
    assert stored(channels) == 4


@pytest.mark.parametrize("role", [Role.SCOUT, Role.IRRIGATOR, Role.VIEWER])
def test_who_may_not_manage_loggers(as_role: Any, role: Role, logger: Logger) -> None:
    someone = as_role(role)
    someone.get(f"{BASE}/devices")
    someone.post(f"{BASE}/devices", {"name": "X"}, status=403)
    someone.post(f"{BASE}/devices/{logger.device_id}/token", {}, status=403)


def test_a_logger_needs_a_name_of_its_own(manager: Api, logger: Logger) -> None:
    for name in ("", "  ", "gate"):
        answer = manager.post(f"{BASE}/devices", {"name": name}, status=422)
        assert answer["problems"][0]["field"] == "name"
    answer = manager.post(f"{BASE}/devices", {"name": "N", "instruments": [10**9]}, status=422)
    assert answer["problems"][0]["field"] == "instruments"


json_values = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=12),
    lambda inner: (
        st.lists(inner, max_size=4)
        | st.dictionaries(
            st.sampled_from(
                [
                    "series",
                    "readings",
                    "channel",
                    "times",
                    "values",
                    "unit",
                    "time",
                    "value",
                    "batch",
                    "sent_at",
                    "battery_v",
                ]
            ),
            inner,
            max_size=5,
        )
    ),
    max_leaves=20,
)


@given(
    body=st.dictionaries(st.sampled_from(["series", "readings", "batch", "sent_at"]), json_values)
)
def test_whatever_is_sent_is_answered(logger: Logger, body: dict) -> None:
    Device.unscoped.filter(pk=logger.device_id).update(window_start=None)
    answer = Client().post(
        "/api/ingest",
        json.dumps(body).encode(),
        content_type="application/json",
        headers={"Authorization": f"Bearer {logger.token}"},
    )
    assert answer.status_code in (200, 422)
