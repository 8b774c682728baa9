"""Layers imported, cleaned and looked at; spots chosen and taken along."""

import io
import json
import zipfile
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
import pytest
import rasterio
import shapefile
from defusedxml.ElementTree import fromstring
from pyproj import CRS, Transformer
from rasterio.transform import from_origin

from server.blocks.limit_changes import timeline
from server.blocks.models import Block
from server.demo.plan import polygon
from server.farms.models import Change, Farm, Role
from server.instruments.models import Instrument
from server.siting.models import LayerFile, LayerFilePiece, SitingLayer
from server.soils.convert import soil_profile
from tests.server.conftest import Api

BASE = "/farms/thistlewick"
# Ground of Quern Field on the demo's plan.
WEST, SOUTH, EAST, NORTH = 800, 150, 1120, 475
MOVE = Transformer.from_crs(4326, 32631, always_xy=True)


def net(step: float = 8.0) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Longitude, latitude and a yield on a net over Quern Field: poorer in the west."""
    x, y = (
        a.ravel() for a in np.meshgrid(np.arange(WEST, EAST, step), np.arange(SOUTH, NORTH, step))
    )
    at = np.array([polygon((a, b))["coordinates"][0][0] for a, b in zip(x, y, strict=True)])
    rng = np.random.default_rng(5)
    return at[:, 0], at[:, 1], np.where(x < 950, 6.0, 9.0) * (1 + rng.normal(0, 0.05, len(x)))


def table(heading: str, *columns: Any, separator: str = ",") -> bytes:
    rows = (separator.join(f"{v:.7f}" for v in row) for row in zip(*columns, strict=True))
    return "\n".join([heading, *rows]).encode()


def yield_table(year: int = 0, heading: str = "Longitude,Latitude,Yield (t/ha)") -> bytes:
    lon, lat, value = net()
    return table(heading, lon, lat, value + year)


@dataclass
class Bench:
    """A person importing layers."""

    api: Api
    run_jobs: Callable[[], list[str]]
    block: int

    def upload(self, data: bytes, name: str = "maize 2024.csv") -> Any:
        row = self.api.upload(f"{BASE}/layer-files", name, data, status=202)
        assert row["state"] == "looking"
        self.run_jobs()
        return self.detail(row["id"])

    def detail(self, file: int) -> Any:
        return self.api.get(f"{BASE}/layer-files/{file}")

    def read(self, up: Any, status: int = 200, **changed: Any) -> Any:
        path = f"{BASE}/layer-files/{up['summary']['id']}"
        answer = self.api.put(f"{path}/reading", {**up["reading"], **changed}, status=status)
        if status != 200:
            return answer
        self.run_jobs()
        return self.detail(up["summary"]["id"])

    def store(self, up: Any) -> Any:
        path = f"{BASE}/layer-files/{up['summary']['id']}"
        self.api.post(f"{path}/store", {}, status=202)
        self.run_jobs()
        return self.detail(up["summary"]["id"])["summary"]

    def siting(self) -> Any:
        return self.api.get(f"{BASE}/blocks/{self.block}/siting")


@pytest.fixture
def bench(manager: Api, farm: Farm, run_jobs: Callable[[], list[str]]) -> Bench:
    return Bench(manager, run_jobs, Block.objects.for_farm(farm).get(name="Quern Field").pk)


def test_a_table_is_guessed_stored_and_undone(bench: Bench, farm: Farm) -> None:
    up = bench.upload(yield_table())
    reading = up["reading"]
    assert (reading["kind"], reading["year"], reading["unit"]) == ("yield", 2024, "t/ha")
    assert reading["columns"] == {
        "east": "Longitude",
        "north": "Latitude",
        "value": "Yield (t/ha)",
    }
    assert (up["look"]["near"], up["look"]["away_km"]) == ("Quern Field", 0)
    assert bench.siting()["layers"] == []
    stored = bench.store(up)
    assert stored["state"] == "stored"
    # Points beyond its corners lie near Tarn Breck too, a road away.
    assert [b["block"] for b in stored["report"]["blocks"]] == ["Quern Field"]
    assert not LayerFilePiece.objects.for_farm(farm).exists()
    layer = bench.siting()["layers"][0]
    assert (layer["name"], layer["year"], layer["facts"]["by"]) == ("maize 2024", 2024, "kriging")
    assert layer["facts"]["mean"] == pytest.approx(7.6, abs=0.3)
    bench.api.delete(f"{BASE}/layer-files/{up['summary']['id']}")
    assert bench.siting()["layers"] == []
    assert Change.objects.for_farm(farm).filter(done="layer_file_deleted").exists()


def as_shapefile(epsg: int = 32631, prj: bool = True) -> bytes:
    lon, lat, value = net()
    parts = {e: io.BytesIO() for e in ("shp", "shx", "dbf")}
    with shapefile.Writer(**parts, shapeType=shapefile.POINT) as writer:
        writer.field("YLD_KGHA", "N", decimal=1)
        for x, y, v in zip(*MOVE.transform(lon, lat), value, strict=True):
            writer.point(x, y)
            writer.record(v * 1000)
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w") as file:
        for ending, part in parts.items():
            file.writestr(f"harvest.{ending}", part.getvalue())
        if prj:
            file.writestr("harvest.prj", CRS.from_epsg(epsg).to_wkt("WKT1_ESRI"))
    return packed.getvalue()


def test_a_shapefile_of_points_in_metres_and_kilograms(bench: Bench) -> None:
    up = bench.upload(as_shapefile(), "harvest2023.zip")
    assert up["reading"]["unit"] == "kg/ha"
    assert "31N" in up["look"]["projection"]
    assert bench.store(up)["state"] == "stored"
    assert bench.siting()["layers"][0]["facts"]["mean"] == pytest.approx(7.6, abs=0.3)


def test_metres_without_a_projection_are_asked_for(bench: Bench) -> None:
    up = bench.upload(as_shapefile(prj=False), "harvest2023.zip")
    assert "Enter the EPSG number" in up["look"]["problem"]
    assert bench.read(up, projection="99999")["look"]["problem"].startswith("The projection")
    mended = bench.read(up, projection="32631")
    assert mended["look"]["problem"] == ""
    assert mended["look"]["away_km"] == 0
    assert bench.store(mended)["state"] == "stored"


def test_the_wrong_zone_is_told_by_its_distance(bench: Bench) -> None:
    up = bench.read(bench.upload(as_shapefile(prj=False), "h2023.zip"), projection="32632")
    assert up["look"]["away_km"] > 300
    stored = bench.store(up)
    assert stored["state"] == "looked"
    assert "km from" in stored["problem"]
    assert "another projection" in stored["problem"]


def test_swapped_axes_are_told_and_mended(bench: Bench) -> None:
    lon, lat, value = net()
    up = bench.upload(table("Longitude,Latitude,Yield", lat, lon, value))
    assert up["look"]["away_km"] > 1000
    assert up["look"]["swapped_km"] < 1
    assert "axes exchanged" in bench.store(up)["problem"]
    assert bench.store(bench.read(up, swap_axes=True))["state"] == "stored"


def test_a_table_of_semicolons_commas_and_bushels(bench: Bench) -> None:
    lon, lat, value = net()
    text = table(
        "Lon;Lat;Yield bu/ac;Moisture %", lon, lat, value / 0.0628, value * 0 + 15, separator=";"
    )
    up = bench.upload(b"Harvest of the east fields\n" + text.replace(b".", b","), "a 2022.csv")
    assert up["reading"]["unit"] == "bu/ac"
    assert "bushel" in up["look"]["problem"]
    stored = bench.store(bench.read(up, bushel_lb=56))
    assert stored["state"] == "stored"
    assert bench.siting()["layers"][0]["facts"]["mean"] == pytest.approx(7.6 * 0.85, abs=0.3)


def test_a_flow_becomes_a_yield_by_speed_and_width(bench: Bench) -> None:
    """8 t/ha cut at 5.4 km/h on 6 m is 7.2 kg/s."""
    lon, lat, _ = net()
    same = np.ones(len(lon))
    text = table("Lon,Lat,Flow kg/s,Speed km/h,Width", lon, lat, 7.2 * same, 5.4 * same, 6 * same)
    up = bench.upload(text, "b 2021.csv")
    assert up["reading"]["flow"]
    assert up["look"]["low"] == pytest.approx(8.0, abs=0.01)
    del up["reading"]["columns"]["speed"]
    assert "speed and swath width" in bench.read(up)["look"]["problem"]


def grid_file(crs: str | None = "EPSG:32631") -> bytes:
    lon, lat, _ = net()
    x, y = MOVE.transform(lon, lat)
    values = np.add.outer(np.zeros(40), np.arange(40.0)).astype("float32")
    values[:2] = -9999
    with rasterio.MemoryFile() as memory:
        with memory.open(
            driver="GTiff",
            width=40,
            height=40,
            count=1,
            dtype="float32",
            crs=crs,
            nodata=-9999,
            transform=from_origin(min(x), max(y), 9.0, 9.0),
        ) as file:
            file.write(values, 1)
        return memory.read()


def test_a_geotiff_of_elevations(bench: Bench) -> None:
    up = bench.upload(grid_file(), "elevation.tif")
    assert up["reading"]["kind"] == "elevation"
    assert up["look"]["away_km"] == 0
    assert bench.store(up)["state"] == "stored"
    layer = bench.siting()["layers"][0]
    assert (layer["kind"], layer["year"], layer["unit"]) == ("elevation", None, "")
    assert 0 < layer["facts"]["mean"] < 39


def test_an_ascii_grid_in_degrees(bench: Bench) -> None:
    lon, lat, _ = net()
    step = (max(lon) - min(lon)) / 30
    head = (
        f"ncols 30\nnrows 30\nxllcorner {min(lon)}\nyllcorner {min(lat) - step}\ncellsize {step}\n"
    )
    rows = "\n".join(" ".join(str(i + j) for j in range(30)) for i in range(30))
    up = bench.upload((head + rows).encode(), "dem.asc")
    assert up["reading"]["kind"] == "elevation"
    assert bench.store(up)["state"] == "stored"


@pytest.mark.parametrize(
    "data, name, said",
    [
        (b"a,b,c\n", "x.csv", "No row"),
        (b"1,2,3\n4,5,6\n", "x.csv", "No heading was found"),
        (b"\x00\x01\x02" * 50, "x.bin", "no file of points"),
        (b"II*\x00broken", "x.tif", "grid is broken"),
        (b"PK\x03\x04broken", "x.zip", "Shapefile is broken"),
        (b'{"type": "Topology"}', "x.json", "not GeoJSON"),
        (b"ncols 3\nnrows 2\n", "x.asc", "grid is broken"),
    ],
)
def test_a_broken_file_is_told_and_leaves_nothing(
    bench: Bench, farm: Farm, data: bytes, name: str, said: str
) -> None:
    up = bench.upload(data, name)
    told = up["summary"]["problem"] or up["look"]["problem"]
    assert said in told or "column is not chosen" in told
    assert not SitingLayer.objects.for_farm(farm).filter(block=bench.block).exists()


def test_points_of_areas_are_refused(bench: Bench) -> None:
    ground = polygon((0, 0), (10, 0), (10, 10))
    feature = {"type": "Feature", "properties": {}, "geometry": ground}
    data = json.dumps({"type": "FeatureCollection", "features": [feature]}).encode()
    assert "points are needed" in bench.upload(data, "zones.geojson")["summary"]["problem"]


def test_geojson_points(bench: Bench) -> None:
    features = [
        {
            "type": "Feature",
            "properties": {"ECa shallow": v * 3},
            "geometry": {"type": "Point", "coordinates": [x, y]},
        }
        for x, y, v in zip(*net(), strict=True)
    ]
    data = json.dumps({"type": "FeatureCollection", "features": features}).encode()
    up = bench.upload(data, "survey.geojson")
    assert up["reading"]["kind"] == "shallow conductivity"
    assert bench.store(up)["state"] == "stored"


def test_a_yield_needs_its_year(bench: Bench) -> None:
    up = bench.upload(yield_table(), "harvest.csv")
    assert up["reading"]["year"] is None
    path = f"{BASE}/layer-files/{up['summary']['id']}/store"
    refused = bench.api.post(path, {}, status=422)
    assert refused["problems"][0]["field"] == "year"


def test_what_is_stored_is_not_read_in_another_way(bench: Bench) -> None:
    up = bench.upload(yield_table())
    bench.store(up)
    refused = bench.read(up, status=422, name="other")
    assert "stored" in refused["message"]


def three_years(bench: Bench) -> None:
    for year, rain in ((2021, 190), (2022, 410), (2023, 300)):
        up = bench.upload(yield_table(), f"maize {year}.csv")
        bench.store(bench.read(up, rain_mm=rain))


def test_years_zones_and_spots_of_a_block(bench: Bench) -> None:
    three_years(bench)
    found = bench.siting()
    assert [layer["year_kind"] for layer in found["layers"]] == ["dry", "wet", "usual"]
    assert found["suggested"] == 2
    west, east = sorted(found["zones"], key=lambda z: z["level"]["all"])
    assert west["level"]["all"] == pytest.approx(6 / 7.6 * 100, abs=4)
    assert east["level"]["dry"] == pytest.approx(9 / 7.6 * 100, abs=4)
    assert sum(z["area_m2"] for z in found["zones"]) == pytest.approx(90_000, rel=0.05)
    best = found["spots"][0]
    assert best["zone"] == found["zone"]
    assert best["kept_off"] is None
    assert {x["term"] for x in best["terms"]} >= {"near the median", "even around", "walk"}
    assert found["pair"]["spot"]["zone"] != found["zone"]
    assert 0.5 < found["pair"]["gain"] <= 1


def test_a_purpose_moves_the_spots(bench: Bench) -> None:
    three_years(bench)
    path = f"{BASE}/blocks/{bench.block}/siting"
    limiting = bench.api.put(path, {"purpose": "limiting"})
    poorest = min(limiting["zones"], key=lambda z: z["level"]["dry"])
    assert limiting["zone"] == poorest["zone"]
    assert limiting["spots"][0]["zone"] == poorest["zone"]
    chosen = bench.api.put(path, {"purpose": "decisions", "zone": 1 - poorest["zone"]})
    assert chosen["zone"] == 1 - poorest["zone"]


def test_zones_are_named_merged_and_forgotten_with_their_number(bench: Bench) -> None:
    three_years(bench)
    path = f"{BASE}/blocks/{bench.block}/siting"
    named = bench.api.put(path, {"zone_names": ["East", "West"]})
    assert [z["name"] for z in named["zones"]] == ["East", "West"]
    merged = bench.api.put(path, {**named["settings"], "merged": {"1": 0}})
    assert [z["zone"] for z in merged["zones"]] == [0]
    assert merged["pair"] is None
    again = bench.api.put(path, {**merged["settings"], "zone_count": 3})
    assert [z["name"] for z in again["zones"]] == ["", "", ""]
    assert again["settings"]["merged"] == {}


def test_names_of_zones_do_not_outlive_their_layers(bench: Bench) -> None:
    three_years(bench)
    bench.api.put(f"{BASE}/blocks/{bench.block}/siting", {"zone_names": ["East", "West"]})
    layer = bench.siting()["layers"][0]
    left = bench.api.put(f"{BASE}/siting-layers/{layer['id']}", {"used": False})
    assert {z["name"] for z in left["zones"]} == {""}
    assert left["years"] == 2


def test_distances_keep_spots_away(bench: Bench) -> None:
    three_years(bench)
    path = f"{BASE}/blocks/{bench.block}/siting"
    far = bench.api.put(path, {"distances": {"edge and headland": 80}})
    assert far["settings"]["distances"] == {"edge and headland": 80}
    wide = bench.api.put(path, {"distances": {"edge and headland": 400}})
    assert wide["spots"] == []
    assert wide["pair"] is None
    lon, lat = far["spots"][0]["position"]
    query = f"longitude={lon}&latitude={lat}"
    spot = bench.api.get(f"{path}/spot?{query}")
    assert (spot["score"], spot["kept_off"]) == (None, "edge and headland")


@pytest.mark.parametrize(
    "changed",
    [
        {"distances": {"edge and headland": 900}},
        {"zone_count": 9},
        {"row_heading": 360},
        {"lane_spacing_m": 0.2},
        {"purpose": "best"},
    ],
)
def test_settings_out_of_range_are_refused(bench: Bench, changed: Any) -> None:
    bench.api.put(f"{BASE}/blocks/{bench.block}/siting", changed, status=422)


def test_cleaning_is_changed_and_shown(bench: Bench) -> None:
    bench.store(bench.upload(yield_table()))
    layer = bench.siting()["layers"][0]
    assert layer["facts"]["not_checked"] == ["speed", "overlap"]
    path = f"{BASE}/siting-layers/{layer['id']}"
    wide = bench.api.put(path, {"cleaning": {"headland_m": 40}})["layers"][0]
    assert wide["cleaning"] == {"headland_m": 40}
    assert wide["facts"]["dropped"]["headland"] > layer["facts"]["dropped"]["headland"]
    aside = bench.api.put(path, {"put_aside": [700, 701]})["layers"][0]
    assert aside["facts"]["dropped"]["put_aside"] == 2
    refused = bench.api.put(path, {"cleaning": {"headland_m": 100, "spreads": 1}}, status=200)
    assert refused["layers"][0]["facts"]["points"] < wide["facts"]["points"]
    bench.api.put(path, {"cleaning": {"headland_m": 500}}, status=422)


def test_no_point_left_is_refused_and_nothing_changes(bench: Bench) -> None:
    bench.store(bench.upload(yield_table()))
    layer = bench.siting()["layers"][0]
    path = f"{BASE}/siting-layers/{layer['id']}"
    every = list(range(layer["point_count"]))
    refused = bench.api.put(path, {"put_aside": every}, status=422)
    assert "No point is left" in refused["message"]
    assert bench.siting()["layers"][0]["facts"] == layer["facts"]


def test_a_coarse_table_of_yields_is_gridded_by_distance(bench: Bench) -> None:
    coarse = table("Lon,Lat,Yield", *(a[::19] for a in net()))
    assert bench.store(bench.upload(coarse, "few 2020.csv"))["state"] == "stored"
    facts = bench.siting()["layers"][0]["facts"]
    assert facts["by"] == "inverse distance"
    assert "delay" in facts["not_checked"]


def test_a_block_drawn_anew_needs_its_layers_made_again(bench: Bench) -> None:
    bench.store(bench.upload(yield_table()))
    ground = polygon((800, 180), (1000, 160), (1010, 470), (810, 475))
    bench.api.put(f"{BASE}/blocks/{bench.block}/outline", {"geometry": ground})
    stale = bench.siting()
    assert stale["layers"][0]["stale"]
    assert stale["zones"] == []
    layer = stale["layers"][0]["id"]
    made = bench.api.put(f"{BASE}/siting-layers/{layer}", {"used": True})
    assert not made["layers"][0]["stale"]
    assert made["spots"]


def test_a_block_without_an_outline_says_so(bench: Bench) -> None:
    bench.api.put(f"{BASE}/blocks/{bench.block}/outline", {"geometry": None})
    refused = bench.api.get(f"{BASE}/blocks/{bench.block}/siting", status=422)
    assert "Quern Field has no outline" in refused["message"]


def at(position: list[float]) -> dict[str, float]:
    return {"longitude": position[0], "latitude": position[1]}


def test_a_spot_is_chosen_once_by_name_and_taken_along(bench: Bench, farm: Farm) -> None:
    three_years(bench)
    position = bench.siting()["spots"][0]["position"]
    path = f"{BASE}/blocks/{bench.block}/siting/spots"
    body = {**at(position), "name": "Spot 1", "why": "near the median & even"}
    spot = bench.api.post(path, body, 201)
    assert spot["score"] > 50
    assert spot["made_by"]
    refused = bench.api.post(path, body, 422)
    assert refused["problems"][0]["field"] == "name"
    gpx = bench.api.client.get(f"/api{BASE}/probe-spots/export?form=gpx")
    point = fromstring(gpx.content)[0]
    assert float(point.get("lat") or 0) == pytest.approx(position[1], abs=1e-6)
    assert [child.text for child in point][1:3] == ["Quern Field Spot 1", "near the median & even"]
    geojson = json.loads(
        bench.api.client.get(f"/api{BASE}/probe-spots/export?form=geojson").content
    )
    assert geojson["features"][0]["geometry"]["coordinates"] == pytest.approx(position, abs=1e-6)
    bench.api.delete(f"{BASE}/probe-spots/{spot['id']}")
    assert bench.siting()["chosen"] == []


def chosen(bench: Bench) -> Any:
    three_years(bench)
    position = bench.siting()["spots"][0]["position"]
    body = {**at(position), "name": "Spot 1", "why": "near the median"}
    return bench.api.post(f"{BASE}/blocks/{bench.block}/siting/spots", body, 201)


def test_a_spot_tells_how_a_kind_is_installed(bench: Bench) -> None:
    spot = chosen(bench)
    path = f"{BASE}/probe-spots/{spot['id']}"
    sheet = bench.api.get(f"{path}?kind=tensiometer")
    assert (sheet["block"], sheet["spot"]["name"]) == ("Quern Field", "Spot 1")
    assert sheet["usual_depths_mm"] == [300, 600, 900]
    assert any("50 mm" in step for step in sheet["steps"])
    assert any("buried" in caution.lower() for caution in sheet["cautions"])


def test_an_instrument_at_a_spot_goes_onto_a_round(bench: Bench) -> None:
    spot = chosen(bench)
    walk = bench.api.get(f"{BASE}/rounds")["rounds"][0]
    path = f"{BASE}/probe-spots/{spot['id']}/instrument"
    body = {"label": "Probe Q9", "kind": "capacitance_probe", "depths_mm": [100, 300, 600]}
    made = bench.api.post(path, {**body, "round_id": walk["id"]}, 201)
    instrument = Instrument.unscoped.get(pk=made["instrument"])
    assert instrument.position == spot["position"]
    assert instrument.site == "Spot 1: near the median"
    stops = bench.api.get(f"{BASE}/rounds")["rounds"][0]["stops"]
    assert stops[-1]["instrument_id"] == made["instrument"]
    assert len(stops) == len(walk["stops"]) + 1
    assert "stands at this spot already" in bench.api.post(path, body, 422)["message"]
    # Its cable's reach counts from now on.
    terms = {x["term"]: x["value"] for x in bench.siting()["spots"][0]["terms"]}
    assert "cable" in terms


def test_an_instrument_without_depths_is_refused_whole(bench: Bench) -> None:
    spot = chosen(bench)
    path = f"{BASE}/probe-spots/{spot['id']}/instrument"
    body = {"label": "Probe Q9", "kind": "capacitance_probe", "depths_mm": []}
    refused = bench.api.post(path, body, 422)
    assert refused["problems"][0]["field"] == "depths_mm"
    assert not Instrument.unscoped.filter(label="Probe Q9").exists()


def test_which_kind_suits_a_block(bench: Bench, farm: Farm) -> None:
    """Potatoes (p 0.35 in FAO-56, table 22): at refill 35 % of each horizon's water is gone."""
    path = f"{BASE}/blocks/{bench.block}/instrument-choice"
    found = bench.api.post(path, {"visits_a_week": 2})
    assert (found["crop"], found["p"]) == ("Potato", 0.35)
    block = Block.objects.for_farm(farm).get(pk=bench.block)
    profile = soil_profile(timeline(block.soils.all())[-1].soil)
    full, wilt = profile.theta_full, profile.theta_wilt
    in_roots = len(found["refill_kpa"])
    kpa = np.full(len(full), 100.0)
    kpa[:in_roots] = found["refill_kpa"]
    left = profile.curve.theta_at(kpa) * (1 - profile.gravel)
    gone = ((full - left) / (full - wilt))[:in_roots]
    assert gone == pytest.approx([0.35] * in_roots, abs=1e-6)
    tensiometer = next(k for k in found["kinds"] if k["kind"] == "tensiometer")
    assert f"{min(found['refill_kpa']):.0f} kPa" in tensiometer["ruled_out"][0]
    logged = bench.api.post(path, {"logged": True, "prices": {"granular_matrix": 240}})
    assert {k["kind"] for k in logged["kinds"] if k["ruled_out"]} == {"tensiometer", "feel_check"}
    priced = next(k for k in logged["kinds"] if k["kind"] == "granular_matrix")
    assert priced["cost"] == 240
    bench.api.post(path, {"visits_a_week": -1}, 422)


def test_a_block_without_a_crop_has_no_refill_point_to_see(bench: Bench, farm: Farm) -> None:
    block = Block.objects.for_farm(farm).get(pk=bench.block)
    block.seasons.all().delete()
    found = bench.api.post(f"{BASE}/blocks/{bench.block}/instrument-choice", {})
    assert (found["crop"], found["p"], found["refill_kpa"]) == ("", None, [])
    assert found["root_mm"] == 600


def test_like_blocks_and_their_sites(bench: Bench) -> None:
    cover = bench.api.get(f"{BASE}/siting")
    names = [b["name"] for g in cover["groups"] for b in g["blocks"]]
    assert sorted(names) == sorted(set(names))
    tye = next(g for g in cover["groups"] if g["blocks"][0]["name"] == "Long Tye")
    assert tye["blocks"][0]["has_layers"]
    assert tye["sites"] == len(tye["blocks"][0]["sites"]) > 0
    assert cover["groups"][0]["sites"] == 0 or all(g["sites"] for g in cover["groups"])


def test_a_spot_outside_the_block_is_refused(bench: Bench) -> None:
    three_years(bench)
    path = f"{BASE}/blocks/{bench.block}/siting"
    body = {**at([3.05, 56.4]), "name": "Far", "why": "why"}
    assert "outside the block" in bench.api.post(f"{path}/spots", body, 422)["message"]
    bench.api.get(f"{path}/spot?longitude=3.05&latitude=56.4", status=422)


def test_one_year_alone_is_allowed_and_known_as_such(bench: Bench) -> None:
    bench.store(bench.upload(yield_table()))
    found = bench.siting()
    assert found["years"] == 1
    assert not found["difference_told"]
    assert found["layers"][0]["year_kind"] == "unknown"
    assert found["spots"]


def test_a_scout_sees_and_does_not_change(bench: Bench, as_role: Any) -> None:
    bench.store(bench.upload(yield_table()))
    scout = as_role(Role.SCOUT)
    layer = scout.get(f"{BASE}/blocks/{bench.block}/siting")["layers"][0]
    scout.put(f"{BASE}/siting-layers/{layer['id']}", {"used": False}, status=403)
    scout.put(f"{BASE}/blocks/{bench.block}/siting", {}, status=403)


def test_another_farms_layers_are_not_found(bench: Bench, stranger: Api, farm: Farm) -> None:
    up = bench.upload(yield_table())
    bench.store(up)
    layer = SitingLayer.objects.for_farm(farm).filter(block=bench.block)[0]
    for path in (f"siting-layers/{layer.pk}", f"layer-files/{up['summary']['id']}/reading"):
        stranger.put(f"{BASE}/{path}", up["reading"], status=404)
    stranger.get(f"{BASE}/blocks/{bench.block}/siting", status=404)
    assert LayerFile.objects.for_farm(farm).filter(pk=up["summary"]["id"]).exists()
