"""Rounds on foot: what the phone takes along, and visits that arrive late, twice, or together."""

from datetime import timedelta
from typing import Any
from uuid import uuid4

import pytest

from core.instrument.kinds import InstrumentKind, Quantity
from core.instrument.surprise import usual_next
from server.farms.models import Farm, Role
from server.fieldwork.models import Visit
from server.instruments.models import Instrument
from server.readings.models import Reading
from tests.server.conftest import Api

BASE = "/farms/thistlewick"


@pytest.fixture
def gauge(farm: Farm) -> Instrument:
    found: Instrument = Instrument.objects.for_farm(farm).get(label="Tensiometers T1")
    return found


@pytest.fixture
def scout(as_role: Any) -> Api:
    api: Api = as_role(Role.SCOUT)
    return api


def visit(gauge: Instrument, values: list[float], **more: Any) -> dict[str, Any]:
    channels = gauge.channels.order_by("depth_mm")
    return {
        "key": str(uuid4()),
        "instrument_id": gauge.pk,
        "at": "2026-07-14T04:00:00Z",
        "age_seconds": 600,
        "unit": "cbar",
        "values": [
            {"channel_id": c.pk, "value": v} for c, v in zip(channels, values, strict=False)
        ],
        **more,
    }


def send(api: Api, *visits: dict) -> list[dict]:
    told: list[dict] = api.post(f"{BASE}/visits", {"visits": list(visits)})
    return told


def today(gauge: Instrument, farm: Farm) -> list[tuple[float, int]]:
    """Values read today with their seconds before now."""
    rows = Reading.unscoped.filter(
        channel__instrument=gauge, time__gt=farm.now() - timedelta(hours=2)
    ).order_by("time", "channel")
    return [(r.value, round((farm.now() - r.time).total_seconds())) for r in rows]


def test_what_the_phone_takes_along(scout: Api) -> None:
    told = scout.get(f"{BASE}/rounds")
    walk = next(r for r in told["rounds"] if r["name"] == "Monday and Thursday")
    assert [s["label"] for s in walk["stops"]] == ["Tensiometers T1", "Tensiometers U2"]
    stop = walk["stops"][0]
    assert stop["site"]
    assert [c["depth_mm"] for c in stop["channels"]] == [150, 300, 450]
    first = stop["channels"][0]
    assert first["unit"] == "cbar"
    assert first["usual_low"] < first["last"] < first["usual_high"]
    assert first["possible_low"] < 0
    assert {t["key"] for t in stop["tasks"]} == {"refill", "stopper"}


def test_a_visit_comes_in_with_what_was_done(scout: Api, gauge: Instrument, farm: Farm) -> None:
    sent = visit(gauge, [22, 31, 28], done=["refill"], note="gauge fogged")
    assert send(scout, sent)[0]["taken"] is True
    # Ten minutes old by the phone's own watch, whatever its clock says.
    assert today(gauge, farm) == [(22, 600), (31, 600), (28, 600)]
    entry = gauge.events.latest("at")
    assert (entry.kind, entry.done, entry.note) == ("serviced", ["refill"], "gauge fogged")
    assert entry.made_by.name == "Wren Haskett"


def test_sent_again_it_is_taken_once(scout: Api, gauge: Instrument, farm: Farm) -> None:
    sent = visit(gauge, [22, 31, 28], done=["refill"])
    first, second = send(scout, sent), send(scout, {**sent, "age_seconds": 4000})
    assert (first[0]["repeated"], second[0]["repeated"]) == (False, True)
    both = send(scout, sent, sent)
    assert all(v["taken"] and v["repeated"] for v in both)
    assert len(today(gauge, farm)) == 3
    assert gauge.events.filter(at__gt=farm.now() - timedelta(hours=2)).count() == 1


def test_two_phones_at_one_gauge(scout: Api, manager: Api, gauge: Instrument, farm: Farm) -> None:
    send(scout, visit(gauge, [22, 31]))
    send(manager, visit(gauge, [24, 33]))
    assert sorted(v for v, _ in today(gauge, farm)) == [22, 24, 31, 33]
    assert sorted({s for _, s in today(gauge, farm)}) == [599, 600]


def test_a_skipped_stop_leaves_its_reason(scout: Api, gauge: Instrument, farm: Farm) -> None:
    sent = visit(gauge, [], unit=None, skipped="bull in the field", note="back tomorrow")
    assert send(scout, sent)[0]["taken"]
    assert today(gauge, farm) == []
    assert Visit.unscoped.get(key=sent["key"]).skipped == "bull in the field"
    assert gauge.events.latest("at").note == "skipped: bull in the field; back tomorrow"


def test_good_visits_are_taken_beside_bad_ones(scout: Api, gauge: Instrument, farm: Farm) -> None:
    probe = Instrument.objects.for_farm(farm).get(label="Probe A1")
    good = visit(gauge, [22])
    bad = [
        (visit(gauge, []), "values"),
        (visit(gauge, [22], skipped="no"), "skipped"),
        (visit(gauge, [22], unit="%"), "values.0"),
        (visit(gauge, [22], unit=None), "unit"),
        (visit(gauge, [90_000]), "values.0"),
        (visit(gauge, [22], done=["polish"]), "done"),
        (visit(gauge, [22], at="2030-01-01T00:00:00Z", age_seconds=None), "at"),
        (visit(gauge, [22], at="2020-01-01T00:00:00Z", age_seconds=None), "at"),
        (visit(probe, [22], instrument_id=gauge.pk), "values.0"),
        (visit(gauge, [22], instrument_id=10**9), None),
    ]
    told = send(scout, *(b for b, _ in bad), good)
    assert [t["taken"] for t in told] == [False] * len(bad) + [True]
    for (_, field), answer in zip(bad, told, strict=False):
        assert answer["message"]
        if field:
            assert field in [p["field"] for p in answer["problems"]]
    assert today(gauge, farm) == [(22, 600)]


def test_who_may_walk_and_who_may_plan(as_role: Any, scout: Api, gauge: Instrument) -> None:
    as_role(Role.VIEWER).post(f"{BASE}/visits", {"visits": [visit(gauge, [22])]}, status=403)
    body = {"name": "Mine", "instruments": [gauge.pk]}
    scout.post(f"{BASE}/rounds", body, status=403)
    adviser = as_role(Role.ADVISER)
    made = adviser.post(f"{BASE}/rounds", body, status=201)
    assert [s["label"] for s in made["stops"]] == ["Tensiometers T1"]
    changed = adviser.put(f"{BASE}/rounds/{made['id']}", {**body, "name": "Ours", "every_days": 3})
    assert (changed["name"], changed["every_days"]) == ("Ours", 3)
    sent = visit(gauge, [22], round_id=made["id"])
    send(scout, sent)
    assert adviser.client.delete(f"/api{BASE}/rounds/{made['id']}").status_code == 200
    # What was read on it stays.
    assert Visit.unscoped.get(key=sent["key"]).round is None


@pytest.mark.parametrize(
    "change, field",
    [
        ({"name": " "}, "name"),
        ({"name": "whole farm"}, "name"),
        ({"instruments": []}, "instruments"),
        ({"instruments": [10**9]}, "instruments"),
    ],
)
def test_what_is_no_round(manager: Api, gauge: Instrument, change: dict, field: str) -> None:
    body = {"name": "New", "instruments": [gauge.pk], **change}
    answer = manager.post(f"{BASE}/rounds", body, status=422)
    assert answer["problems"][0]["field"] == field


def test_another_farm_has_no_part_in_it(stranger: Api, gauge: Instrument, scout: Api) -> None:
    stranger.get(f"{BASE}/rounds", status=404)
    sent = visit(gauge, [22])
    send(scout, sent)
    told = stranger.post("/farms/barrow/visits", {"visits": [sent]})
    assert told[0]["taken"] is False


def test_what_surprises() -> None:
    """Bounds widen with the last reading and never leave the kind's own range."""
    kind, tension = InstrumentKind.TENSIOMETER, Quantity.TENSION
    assert usual_next(kind, tension, None) == (-5, 80)
    low, high = usual_next(kind, tension, 30)
    assert low < 0
    assert 30 < high <= 80
    assert usual_next(kind, tension, 78)[1] == 80
    low, high = usual_next(InstrumentKind.FLOW_METER, Quantity.VOLUME, 1200)
    assert low == 1200
    assert usual_next(InstrumentKind.CAPACITANCE_PROBE, Quantity.THETA, 0.2)[1] == pytest.approx(
        0.3
    )
