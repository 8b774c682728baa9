"""Reading out by the OGC SensorThings API 1.1 (15-078r6): entities, links, options, paging."""

from typing import Any
from urllib.parse import quote, urlsplit

import pytest

from server.instruments.models import Channel, Instrument
from server.readings.models import Reading
from tests.server.conftest import Api

BASE = "/farms/thistlewick/sensorthings/v1.1"
# Mandatory properties by entity: 15-078r6, tables 2 to 11.
MANDATORY = {
    "Things": {"name", "description"},
    "Locations": {"name", "description", "encodingType", "location"},
    "Sensors": {"name", "description", "encodingType", "metadata"},
    "ObservedProperties": {"name", "definition", "description"},
    "Datastreams": {"name", "description", "observationType", "unitOfMeasurement"},
    "Observations": {"phenomenonTime", "resultTime", "result"},
}


def follow(api: Api, link: str) -> Any:
    parts = urlsplit(link)
    return api.get(f"{parts.path.removeprefix('/api')}{'?' + parts.query if parts.query else ''}")


@pytest.fixture
def channel(farm: Any) -> Channel:
    return Channel.objects.for_farm(farm).filter(instrument__label="Probe A1").first()


def test_every_set_has_its_mandatory_properties(manager: Api, farm: Any) -> None:
    placed = Instrument.objects.for_farm(farm).first()
    placed.position = [0.5, 53.0]
    placed.save()
    sets = manager.get(BASE)["value"]
    assert {s["name"] for s in sets} == set(MANDATORY)
    for entry in sets:
        rows = follow(manager, entry["url"])["value"]
        assert rows, entry
        for row in rows:
            assert {"@iot.id", "@iot.selfLink"} | MANDATORY[entry["name"]] <= row.keys()
    point = manager.get(f"{BASE}/Locations")["value"][0]["location"]
    assert point == {"type": "Point", "coordinates": [0.5, 53.0]}


def test_links_lead_from_thing_to_observation(manager: Api, channel: Channel) -> None:
    thing = manager.get(f"{BASE}/Things({channel.instrument_id})")
    assert thing["properties"]["label"] == "Probe A1"
    assert thing["properties"]["simulated"] is True
    streams = follow(manager, thing["Datastreams@iot.navigationLink"])["value"]
    assert len(streams) == 6
    stream = next(s for s in streams if s["@iot.id"] == channel.pk)
    assert stream["unitOfMeasurement"]["symbol"] == "m3/m3"
    assert follow(manager, stream["Thing@iot.navigationLink"])["name"] == thing["name"]
    assert follow(manager, stream["Sensor@iot.navigationLink"])["metadata"] == "capacitance_probe"
    seen = follow(manager, stream["ObservedProperty@iot.navigationLink"])
    assert seen["name"] == "Volumetric water content"
    first = follow(manager, stream["Observations@iot.navigationLink"] + "?$top=1")["value"][0]
    reading = Reading.unscoped.filter(channel=channel).order_by("time").first()
    # What it means, with the raw word beside it.
    assert first["result"] == pytest.approx(reading.value / 100)
    assert first["parameters"] == {"raw": reading.value, "raw_unit": "%"}
    assert first["resultQuality"]["used"] is True


def test_filters_and_pages_of_observations(manager: Api, channel: Channel) -> None:
    wanted = "phenomenonTime ge 2026-07-13T00:00:00Z and phenomenonTime lt 2026-07-14T00:00:00Z"
    path = f"{BASE}/Datastreams({channel.pk})/Observations"
    query = f"$filter={quote(wanted)}&$top=40&$count=true"
    page = manager.get(f"{path}?{query}")
    assert page["@iot.count"] == 96
    times = [o["phenomenonTime"] for o in page["value"]]
    while "@iot.nextLink" in page:
        page = follow(manager, page["@iot.nextLink"])
        times += [o["phenomenonTime"] for o in page["value"]]
    assert len(times) == len(set(times)) == 96
    assert times == sorted(times)
    assert (times[0], times[-1]) == ("2026-07-13T00:00:00Z", "2026-07-13T23:45:00Z")
    newest = manager.get(f"{path}?$orderby={quote('phenomenonTime desc')}&$top=1&$select=result")
    assert list(newest["value"][0]) == ["result"]


def test_filter_select_expand_of_things(manager: Api) -> None:
    query = f"$filter={quote(chr(39).join(['name eq ', 'Probe A1, Alder Reach', '']))}"
    found = manager.get(f"{BASE}/Things?{query}&$expand=Datastreams&$select=name")["value"]
    assert len(found) == 1
    assert set(found[0]) == {"name", "Datastreams"}
    assert len(found[0]["Datastreams"]) == 6
    two = manager.get(f"{BASE}/Things?$top=2&$count=true&$orderby={quote('name desc')}")
    names = [t["name"] for t in two["value"]]
    assert names == sorted(names, reverse=True)
    assert two["@iot.count"] > 2
    assert follow(manager, two["@iot.nextLink"])["value"][0]["name"] < names[1]


@pytest.mark.parametrize(
    "path, query, says",
    [
        ("Things", "$filter=name", "Not understood"),
        ("Things", "$filter=" + quote("name eq 'x' or name eq 'y'"), "Only 'and'"),
        ("Things", "$filter=" + quote("colour eq 'red'"), "not known here"),
        ("Things", "$top=many", "whole number"),
        ("Things", "$search=x", "not offered"),
        ("Things", "$expand=Observations", "can't be expanded"),
        ("Things", "$orderby=" + quote("name up"), "asc or desc"),
        ("Observations", "$filter=" + quote("result gt 0.3"), "filtered by phenomenonTime"),
    ],
)
def test_queries_that_can_not_be_answered(manager: Api, path: str, query: str, says: str) -> None:
    answer = manager.get(f"{BASE}/{path}?{query}", status=422)
    assert says in answer["problems"][0]["message"]


@pytest.mark.parametrize(
    "path", ["Cows", "Things(999999)", "Things(x)", "Things(1", "Sensors(1)/Y"]
)
def test_what_is_not_there(manager: Api, path: str) -> None:
    manager.get(f"{BASE}/{path}", status=404)


def test_a_stranger_sees_nothing(stranger: Api, channel: Channel) -> None:
    stranger.get(BASE, status=404)
    own = "/farms/barrow/sensorthings/v1.1"
    assert stranger.get(f"{own}/Things")["value"] == []
    assert stranger.get(f"{own}/Observations")["value"] == []
    stranger.get(f"{own}/Datastreams({channel.pk})/Observations", status=404)
