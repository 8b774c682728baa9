"""Instruments: their kinds, log, health, pictures; readings seen, doubted, taken back."""

import io
from datetime import timedelta
from typing import Any

import numpy as np
import pytest
from PIL import Image

from core.instrument.kinds import InstrumentKind, kinds
from core.quality.flags import Flag
from server.blocks.models import Block
from server.farms.models import Farm, Role
from server.instruments.models import Instrument
from server.readings.models import Reading, ReadingBatch, ReadingRevision, ReadingSpan
from server.readings.store import ROW, row_of, store_readings
from tests.server.conftest import Api

BASE = "/farms/thistlewick"


def instrument(farm: Farm, label: str) -> Instrument:
    found: Instrument = Instrument.objects.for_farm(farm).get(label=label)
    return found


@pytest.mark.parametrize("kind", list(InstrumentKind))
def test_every_kind_can_be_put_in(manager: Api, farm: Farm, kind: InstrumentKind) -> None:
    block = instrument(farm, "Probe A1").block_id
    facts = kinds()[kind]
    depths = list(facts.usual_depths_mm) if facts.has_depths else []
    body = {"label": "New", "kind": kind, "depths_mm": depths}
    made = manager.post(f"{BASE}/blocks/{block}/instruments", body, status=201)
    detail = manager.get(f"{BASE}/instruments/{made['id']}")
    assert [c["depth_mm"] for c in detail["channels"]] == (depths or [None])
    assert detail["health"]["silent"] is True
    assert detail["health"]["last_at"] is None
    assert bool(detail["cautions"]) == bool(facts.cautions)
    # A block with any instrument still has its answer.
    manager.get(f"{BASE}/blocks/{block}")


@pytest.mark.parametrize(
    "change, field",
    [
        ({"label": " "}, "label"),
        ({"label": "probe a1"}, "label"),
        ({"depths_mm": []}, "depths_mm"),
        ({"depths_mm": [100, 100]}, "depths_mm"),
        ({"depths_mm": [-5]}, "depths_mm"),
        ({"quantity": "resistance"}, "quantity"),
        ({"kind": "rain_gauge", "depths_mm": [100]}, "depths_mm"),
    ],
)
def test_what_is_no_instrument(manager: Api, farm: Farm, change: dict, field: str) -> None:
    block = instrument(farm, "Probe A1").block_id
    body = {"label": "New", "kind": "capacitance_probe", "depths_mm": [100], **change}
    answer = manager.post(f"{BASE}/blocks/{block}/instruments", body, status=422)
    assert field in {p["field"] for p in answer["problems"]}


def test_health_at_a_glance(manager: Api) -> None:
    rows = {r["label"]: r for r in manager.get(f"{BASE}/instruments")}
    assert rows["Probe A1"]["trusted"] == 1.0
    assert not rows["Probe A1"]["silent"]
    assert rows["Probe G1"]["silent"]
    # One of six depths is dead.
    assert rows["Probe Q1"]["trusted"] == pytest.approx(5 / 6, abs=0.01)
    assert "flat line" in rows["Probe Q1"]["flags"]
    assert all(r["status"] == "in service" for r in rows.values())


def test_a_log_from_preparing_to_retiring(manager: Api, farm: Farm) -> None:
    row = instrument(farm, "Tensiometers T1")
    row.events.all().delete()
    path = f"{BASE}/instruments/{row.pk}"
    tip = kinds()[InstrumentKind.TENSIOMETER].install[1]
    post = f"{path}/events"
    manager.post(post, {"kind": "prepared", "at": "2026-05-01T08:00", "done": [tip]}, status=201)
    good = manager.post(
        post, {"kind": "installed", "at": "2026-05-02T08:00", "proof": 1.0}, status=201
    )
    assert good["passed"] is True
    bad = manager.post(post, {"kind": "note", "note": "odd", "proof": 12.0}, status=201)
    assert bad["passed"] is False
    manager.post(post, {"kind": "serviced", "at": "2026-07-13T08:00", "done": ["refill"]}, 201)
    detail = manager.get(path)
    assert detail["health"]["status"] == "in service"
    due = {t["key"]: t["overdue"] for t in detail["tasks"]}
    assert due == {"refill": False, "stopper": True}
    assert detail["health"]["next_task"]["key"] == "stopper"
    assert [e["kind"] for e in detail["events"]] == ["note", "serviced", "installed", "prepared"]
    manager.post(post, {"kind": "retired"}, status=201)
    assert manager.get(path)["health"]["status"] == "retired"
    # Its newest readings are not heard any more: the balance goes on alone, and less sure.
    answer = manager.get(f"{BASE}/blocks/{row.block_id}")
    assert answer["weighed"]["observed_mm"] is None
    assert "carried_from_reading" in answer["answer"]["reasons"]
    # Whoever has the sensors lead has no word then.
    Block.objects.for_farm(farm).filter(pk=row.block_id).update(estimate_from="sensors")
    answer = manager.get(f"{BASE}/blocks/{row.block_id}")
    assert answer["answer"]["state"] == "no_reliable_data"
    entry = manager.get(path)["events"][0]["id"]
    manager.client.delete(f"/api{path}/events/{entry}")
    assert manager.get(f"{BASE}/blocks/{row.block_id}")["answer"]["state"] != "no_reliable_data"


@pytest.mark.parametrize(
    "entry, field",
    [
        ({"kind": "serviced"}, "done"),
        ({"kind": "serviced", "done": ["polish"]}, "done"),
        ({"kind": "suspect"}, "note"),
        ({"kind": "note", "note": "x", "at": "2030-01-01T00:00"}, "at"),
    ],
)
def test_what_is_no_entry(manager: Api, farm: Farm, entry: dict, field: str) -> None:
    row = instrument(farm, "Tensiometers T1")
    answer = manager.post(f"{BASE}/instruments/{row.pk}/events", entry, status=422)
    assert answer["problems"][0]["field"] == field


def test_a_scout_services_and_doubts_but_does_not_install(as_role: Any, farm: Farm) -> None:
    row = instrument(farm, "Tensiometers T1")
    scout, path = as_role(Role.SCOUT), f"{BASE}/instruments/{row.pk}/events"
    scout.post(path, {"kind": "serviced", "done": ["refill"]}, status=201)
    scout.post(path, {"kind": "suspect", "note": "gauge fogged"}, status=201)
    scout.post(path, {"kind": "retired"}, status=403)
    as_role(Role.VIEWER).post(path, {"kind": "note", "note": "hm"}, status=403)


def test_what_is_known_of_one_can_be_changed(manager: Api, farm: Farm, stranger: Api) -> None:
    row = instrument(farm, "Probe A1")
    path = f"{BASE}/instruments/{row.pk}"
    body = {
        "serial": "K-11",
        "site": "third row from the lane",
        "position": [3.05, 56.4],
        "constants": {"air": 12800, "water": 37200},
    }
    manager.patch(path, body)
    detail = manager.get(path)
    assert detail["health"]["serial"] == "K-11"
    assert detail["constants"] == {"air": 12800, "water": 37200}
    manager.patch(path, {"label": "Probe A1 new"})
    assert manager.get(path)["health"]["site"] == "third row from the lane"
    manager.patch(path, {"position": [400, 0]}, status=422)
    stranger.patch(f"/farms/barrow/instruments/{row.pk}", {"serial": "x"}, status=404)
    stranger.get(f"/farms/barrow/instruments/{row.pk}", status=404)


def picture(kind: str = "PNG", size: tuple[int, int] = (2400, 1200)) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, (120, 90, 60)).save(out, kind)
    return out.getvalue()


def test_pictures_are_made_small(manager: Api, farm: Farm, stranger: Api) -> None:
    path = f"{BASE}/instruments/{instrument(farm, 'Probe A1').pk}/photos"
    made = manager.upload(path, "site.png", picture(), status=201, note="after rain")
    answer = manager.client.get(f"/api{BASE}/photos/{made['id']}")
    shown = Image.open(io.BytesIO(answer.content))
    assert (shown.format, shown.size) == ("JPEG", (1600, 800))
    assert manager.get(path.removesuffix("/photos"))["photos"][0]["note"] == "after rain"
    stranger.get(f"/farms/barrow/photos/{made['id']}", status=404)
    # A phone that got no answer sends it again under its own name: it is kept once.
    key = "6a1f4c1e-6d0a-4f57-9f3b-0c9f4b6a1d11"
    twice = [manager.upload(path, "x.png", picture(), status=201, key=key) for _ in range(2)]
    assert twice[0]["id"] == twice[1]["id"]
    for data in (b"no picture", picture("GIF"), picture()[:200]):
        manager.upload(path, "x.png", data, status=422)
    assert manager.client.delete(f"/api{BASE}/photos/{made['id']}").status_code == 200


def chart(api: Api, row: Instrument, days: float, farm: Farm, **more: Any) -> dict:
    first = farm.now() - timedelta(days=days)
    query = "&".join(f"{k}={v}" for k, v in more.items())
    stretch = f"first={first:%Y-%m-%dT%H:%M}&last={farm.now():%Y-%m-%dT%H:%M}"
    answer: dict = api.get(f"{BASE}/instruments/{row.pk}/chart?{stretch}&{query}")
    return answer


def test_a_chart_of_a_week_and_of_a_season(manager: Api, farm: Farm) -> None:
    row = instrument(farm, "Probe Q1")
    week = chart(manager, row, 7, farm)
    assert week["step_s"] == 0
    assert [line["depth_mm"] for line in week["lines"]] == [100, 200, 300, 400, 500, 600]
    dead = week["lines"][2]
    assert not dead["times"]
    assert all(flags & Flag.FLAT for _, _, flags in dead["doubts"])
    season = chart(manager, row, 104, farm)
    assert season["step_s"] > 3 * 3600
    assert all(len(line["times"]) < 1500 for line in season["lines"])


def test_no_peak_is_lost_in_a_long_chart(manager: Api, farm: Farm) -> None:
    """The highest and lowest trusted readings of a season are among the points drawn."""
    row = instrument(farm, "Probe L1")
    season = chart(manager, row, 103, farm)
    for line in season["lines"]:
        values = np.array(
            [
                r.value / 100
                for r in Reading.unscoped.filter(
                    channel=line["channel_id"], time__gte=farm.now() - timedelta(days=102)
                )
            ]
        )
        drawn = [v for v in line["values"] if v is not None]
        assert max(drawn) >= values.max() - 1e-9
        assert min(drawn) <= values.min() + 1e-9


def test_raw_is_what_was_written_down(manager: Api, farm: Farm) -> None:
    row = instrument(farm, "Probe A1")
    first = row.channels.earliest("depth_mm")
    first.calibrations.create(
        kind="offset", coefficients=[0.05, 1.0], reason="cores", made_at=farm.now()
    )
    raw = chart(manager, row, 3, farm, calibrated="false")["lines"][0]
    told = chart(manager, row, 3, farm)["lines"][0]
    difference = np.array(told["values"], float) - np.array(raw["values"], float)
    assert np.nanmax(np.abs(difference - 0.05)) < 2e-4


def test_gaps_are_shown_as_gaps(manager: Api, farm: Farm) -> None:
    row = instrument(farm, "Probe A1")
    now = farm.now()
    Reading.unscoped.filter(
        channel__instrument=row,
        time__gt=now - timedelta(days=4),
        time__lt=now - timedelta(days=2),
    ).delete()
    line = chart(manager, row, 7, farm)["lines"][0]
    assert line["values"].count(None) == 1


def test_a_review_over_the_rules_and_back(manager: Api, farm: Farm, as_role: Any) -> None:
    row = instrument(farm, "Probe Q1")
    dead = row.channels.get(depth_mm=300)
    first, last = farm.now() - timedelta(days=5), farm.now()
    body = {
        "channels": [dead.pk],
        "first": first.isoformat(),
        "last": last.isoformat(),
        "trusted": True,
        "reason": "saturated: it is meant to stand still",
    }
    path = f"{BASE}/instruments/{row.pk}/reviews"
    as_role(Role.VIEWER).post(path, body, status=403)
    manager.post(path, {**body, "reason": " "}, status=422)
    manager.post(path, {**body, "channels": []}, status=422)
    manager.post(path, {**body, "last": "2020-01-01T00:00"}, status=422)
    given = manager.post(path, body, status=201)
    assert given["readings"] == pytest.approx(5 * 96, abs=2)

    def doubt() -> str:
        layers = manager.get(f"{BASE}/blocks/{row.block_id}/series?days=7")["sites"][0]
        return str(layers["doubt"][2])

    assert doubt() == ""
    # Flags are never rewritten; a word stands over them.
    assert Reading.unscoped.filter(channel=dead, review=1, flags=Flag.FLAT).exists()
    later = manager.post(path, {**body, "trusted": False}, status=201)
    assert doubt() == "marked suspect"
    manager.client.delete(f"/api{BASE}/reviews/{later['id']}")
    assert doubt() == ""
    manager.client.delete(f"/api{BASE}/reviews/{given['id']}")
    assert doubt() == "flat line"
    told = manager.get(path)
    assert [v["undone_by"] for v in told] == ["Maud Pellander"] * 2


def put(farm: Farm, channel: int, values: dict[int, float]) -> ReadingBatch:
    """Readings by hour before the farm's now."""
    batch = ReadingBatch(farm=farm, origin=ReadingBatch.Origin.FILE)
    batch.save()
    rows = [row_of(channel, farm.now() - timedelta(hours=h), v, 2) for h, v in values.items()]
    store_readings(batch, np.array(rows, ROW))
    return batch


def test_an_import_is_taken_back_whole(manager: Api, farm: Farm) -> None:
    block = instrument(farm, "Probe A1").block_id
    body = {"label": "U", "kind": "capacitance_probe", "depths_mm": [100]}
    made = manager.post(f"{BASE}/blocks/{block}/instruments", body, status=201)
    channel = made["channels"][0]["id"]
    one = put(farm, channel, {5: 20.0, 4: 21.0})
    two = put(farm, channel, {4: 22.0, 3: 23.0})
    three = put(farm, channel, {3: 24.0})

    def values() -> list[float]:
        rows = Reading.unscoped.filter(channel=channel).order_by("time")
        return list(rows.values_list("value", flat=True))

    assert values() == [20.0, 22.0, 24.0]
    done = manager.client.delete(f"/api{BASE}/batches/{two.pk}").json()
    assert done == {"removed": 0, "restored": 1}
    # What came later keeps its word, and now has nothing before it.
    assert values() == [20.0, 21.0, 24.0]
    assert not ReadingRevision.unscoped.filter(channel=channel).exists()
    assert manager.client.delete(f"/api{BASE}/batches/{two.pk}").status_code == 422
    manager.client.delete(f"/api{BASE}/batches/{three.pk}")
    manager.client.delete(f"/api{BASE}/batches/{one.pk}")
    assert values() == []
    assert not ReadingSpan.unscoped.filter(channel=channel).exists()
    listed = {b["id"]: b for b in manager.get(f"{BASE}/batches")}
    assert all(listed[b.pk]["undone_at"] for b in (one, two, three))


def test_rules_are_told(manager: Api) -> None:
    told = manager.get("/quality-rules")
    assert {r["flag"] for r in told["rules"]} == {int(f) for f in Flag}
