"""Outlines: files of both kinds, projections, errors by feature, splitting, export."""

import io
import json
import zipfile
from typing import Any

import pytest
import shapefile
from pyproj import CRS, Geod, Transformer

from server.blocks.models import Block
from server.demo.plan import OUTLINES, circle, polygon
from server.farms.models import Farm, Role
from tests.server.conftest import Api

BASE = "/farms/thistlewick"
FREE = polygon((2000, 0), (2300, 0), (2300, 200), (2000, 200))


def collection(*features: dict[str, Any], **members: Any) -> bytes:
    return json.dumps({"type": "FeatureCollection", "features": features, **members}).encode()


def feature(name: str, geometry: dict[str, Any]) -> dict[str, Any]:
    return {"type": "Feature", "properties": {"Name": name, "crew": 3}, "geometry": geometry}


def send(api: Api, data: bytes, status: int = 200, name: str = "b.geojson", **form: Any) -> Any:
    return api.upload(f"{BASE}/map/import", name, data, status, **form)


def test_area_is_the_ellipsoids(manager: Api) -> None:
    """Against pyproj's own geodesic area of the same ring, and against the plan in metres."""
    found = {b["name"]: b for b in manager.get(f"{BASE}/map")["blocks"]}
    ring = OUTLINES["Quern Field"]["coordinates"][0]
    lon, lat = zip(*ring, strict=True)
    area, _ = Geod(ellps="WGS84").polygon_area_perimeter(lon, lat)
    assert found["Quern Field"]["outline_m2"] == pytest.approx(abs(area), rel=1e-9)
    # The invented plan takes 111 320 m to a degree both ways; the ellipsoid differs a little.
    assert found["Long Tye"]["outline_m2"] == pytest.approx(3.1416 * 348**2, rel=0.01)


def test_export_gives_back_what_came_in(manager: Api) -> None:
    came = feature("Quern Field", OUTLINES["Quern Field"])
    came["id"] = "q-7"
    send(manager, collection(came), dry_run=False)
    out = json.loads(manager.client.get(f"/api{BASE}/map/export").content)
    assert came in out["features"]
    again = send(manager, json.dumps(out).encode(), name_property="", dry_run=True)
    assert {x["action"] for x in again["lines"]} == {"outline"}


def test_a_file_is_shown_before_it_is_saved(manager: Api, farm: Farm) -> None:
    data = collection(feature("Quern Field", OUTLINES["Quern Field"]), feature("Far", FREE))
    shown = send(manager, data)
    assert [(x["name"], x["action"]) for x in shown["lines"]] == [
        ("Quern Field", "outline"),
        ("Far", "left out"),
    ]
    assert shown["name_property"] == "Name"
    assert not shown["saved"]
    like = Block.objects.for_farm(farm).get(name="Quern Field")
    saved = send(manager, data, like_block_id=like.pk, dry_run=False)
    assert saved["lines"][1]["action"] == "new block"
    made = Block.objects.for_farm(farm).get(name="Far")
    assert made.area_m2 == pytest.approx(60_000, rel=0.01)
    setup = manager.get(f"{BASE}/blocks/{made.pk}/setup")
    assert setup["soil_name"] == "Quern loam over clay loam as seen on Quern Field"
    assert setup["crop_key"] == "potato"


def projected(geometry: dict[str, Any], epsg: int) -> list[list[float]]:
    move = Transformer.from_crs(4326, epsg, always_xy=True)
    return [list(move.transform(*p)) for p in geometry["coordinates"][0]]


def zipped(geometry: dict[str, Any], epsg: int, prj: bool = True) -> bytes:
    parts = {e: io.BytesIO() for e in ("shp", "shx", "dbf")}
    with shapefile.Writer(**parts) as writer:
        writer.field("NAME", "C")
        writer.poly([projected(geometry, epsg)])
        writer.record("Quern Field")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        for ending, part in parts.items():
            packed.writestr(f"blocks.{ending}", part.getvalue())
        if prj:
            packed.writestr("blocks.prj", CRS.from_epsg(epsg).to_wkt("WKT1_ESRI"))
    return out.getvalue()


@pytest.mark.parametrize("epsg", [32631, 3857, 3035])
def test_a_shapefile_is_brought_to_wgs84(manager: Api, epsg: int) -> None:
    outline = OUTLINES["Quern Field"]
    found = send(manager, zipped(outline, epsg), name="b.zip")
    line = found["lines"][0]
    assert line["action"] == "outline"
    ring = line["geometry"]["coordinates"][0]
    expected = sorted(tuple(p) for p in outline["coordinates"][0][:-1])
    for ours, theirs in zip(sorted(map(tuple, ring[:-1])), expected, strict=True):
        assert ours == pytest.approx(theirs, abs=1e-7)


def test_a_shapefile_without_a_projection_asks_for_it(manager: Api) -> None:
    data = zipped(OUTLINES["Quern Field"], 32631, prj=False)
    assert send(manager, data, 422, "b.zip")["problems"][0]["field"] == "projection"
    send(manager, data, name="b.zip", projection="32631")
    bad = send(manager, data, 422, "b.zip", projection="the usual one")
    assert "EPSG number" in bad["problems"][0]["message"]


def test_an_old_geojson_names_its_projection(manager: Api) -> None:
    ring = projected(OUTLINES["Quern Field"], 32631)
    crs = {"type": "name", "properties": {"name": "urn:ogc:def:crs:EPSG::32631"}}
    data = collection(feature("Quern Field", {"type": "Polygon", "coordinates": [ring]}), crs=crs)
    found = send(manager, data)
    assert "31" in found["projection"]
    assert found["lines"][0]["outline_m2"] == pytest.approx(90_000, rel=0.1)


BOW = polygon((2000, 0), (2300, 200), (2300, 0), (2000, 200))
SWAPPED = {
    "type": "Polygon",
    "coordinates": [[[lat, lon] for lon, lat in FREE["coordinates"][0]]],
}
# A whole number of any length is JSON, and no number of a coordinate.
ENDLESS = {"type": "Polygon", "coordinates": [[[10**400, 56], [3, 57], [4, 57], [10**400, 56]]]}
FAR_NORTH = {"type": "Polygon", "coordinates": [[[3, 1], [120, 1], [120, 120], [3, 1]]]}


@pytest.mark.parametrize(
    "data, says",
    [
        (collection(feature("A", BOW)), "crosses or touches itself"),
        (collection(feature("A", ENDLESS)), "can't be read"),
        (collection(feature("A", FAR_NORTH)), "beyond 90"),
        (collection(feature("A", {"type": "Point", "coordinates": [3, 56]})), "not Point"),
        (collection(feature("A", FREE), feature("a", FREE)), "of feature 1 too"),
        (collection(feature("A", FREE), feature("B", FREE)), "share"),
        (collection(feature("A", circle(1000, 300, 200))), "left out"),
        (collection(feature("A", {"type": "Polygon", "coordinates": [[[3, 56]]]})), "ring"),
        (collection({"type": "Feature", "properties": {}}), "no geometry"),
        (collection(), "no features"),
        (b"lat,lon\n56,3\n", "not GeoJSON"),
        (b"", "empty"),
        (b"PK\x03\x04 not really", "not a zip archive"),
        (b"[" * 100_000, "not GeoJSON"),
    ],
)
def test_what_is_wrong_with_a_file_is_said(manager: Api, data: bytes, says: str) -> None:
    like = manager.get(f"{BASE}/block-list")[0]["id"]
    before = manager.get(f"{BASE}/map")
    if says == "left out":
        # Without a pattern block a stranger's outline changes nothing, wherever it lies.
        assert send(manager, data)["lines"][0]["action"] == "left out"
        return
    answer = send(manager, data, 422, like_block_id=like, dry_run=False)
    said = answer["message"] + " ".join(p["message"] for p in answer["problems"])
    assert says in said
    assert manager.get(f"{BASE}/map") == before


def test_swapped_axes_are_mended_by_a_tick(manager: Api) -> None:
    like = manager.get(f"{BASE}/block-list")[0]["id"]
    data = collection(feature("Far", SWAPPED))
    wrong = send(manager, data, 422, like_block_id=like)
    assert "latitude comes first" in wrong["problems"][0]["message"]
    right = send(manager, data, like_block_id=like, latitude_first=True)
    assert right["lines"][0]["geometry"]["coordinates"][0][0] == FREE["coordinates"][0][0]


def test_giants_are_refused(manager: Api) -> None:
    many = [feature(f"B{i}", FREE) for i in range(2001)]
    assert "2001 features" in send(manager, collection(*many), 422)["message"]
    ring = circle(3000, 300, 200)["coordinates"][0][:-1]
    dense = [
        [a[0] + (b[0] - a[0]) * k / 300, a[1] + (b[1] - a[1]) * k / 300]
        for a, b in zip(ring, [*ring[1:], ring[0]], strict=True)
        for k in range(300)
    ]
    giant = {"type": "Polygon", "coordinates": [[*dense, dense[0]]]}
    assert (
        "21601 corners"
        in send(manager, collection(feature("A", giant)), 422)["problems"][0]["message"]
    )


def test_outlines_may_have_so_many_corners_together(manager: Api) -> None:
    """Each is small enough; eleven of 19 000 corners are not."""
    ring = [[0.0, 0.0]] * 19_000
    many = [feature(f"B{i}", {"type": "Polygon", "coordinates": [ring]}) for i in range(11)]
    told = send(manager, collection(*many), 422)["message"]
    assert told.startswith("The outlines have 209000 corners together; up to 200000 are taken.")


@pytest.mark.parametrize("number", ["NaN", "-Infinity", "1e999"])
def test_a_geometry_of_no_numbers_is_refused(manager: Api, block: Block, number: str) -> None:
    """Also inside of a line, where a drawing library passes over it."""
    line = f'{{"type": "LineString", "coordinates": [[0.1, 51], [{number}, 51.1], [0.2, 51]]}}'
    area = f'{{"type": "Polygon", "coordinates": [[[0, 51], [{number}, 51], [1, 52], [0, 51]]]}}'
    for method, path, body in (
        ("post", "map/features", f'{{"kind": "pipe", "name": "P", "geometry": {line}}}'),
        ("post", "map/measure", f'{{"geometry": {area}}}'),
        ("put", f"blocks/{block.pk}/outline", f'{{"geometry": {area}}}'),
    ):
        send_raw = getattr(manager.client, method)
        answer = send_raw(f"/api{BASE}/{path}", body, content_type="application/json")
        assert answer.status_code == 422, path
        assert answer.json()["problems"][0]["field"] == "geometry"
    file = f'{{"type": "Feature", "properties": {{"name": "P", "ha": {number}}}, "geometry": null}}'
    told = send(manager, file.encode(), 422)["message"]
    assert told.startswith("This is not GeoJSON")


def test_a_block_is_drawn_and_split(manager: Api, farm: Farm, block: Block) -> None:
    path = f"{BASE}/blocks/{block.pk}"
    manager.put(f"{path}/outline", {"geometry": FREE, "take_area": True})
    block.refresh_from_db()
    whole = block.area_m2
    assert whole == pytest.approx(60_000, rel=0.01)
    (west, south), (east, _), (_, north) = FREE["coordinates"][0][:3]
    third = west + (east - west) / 3
    cut = [[third, south - 0.001], [third, north + 0.001]]
    manager.post(f"{path}/split", {"line": cut[:1] * 2, "name": "Quern West"}, status=422)
    manager.post(f"{path}/split", {"line": cut, "name": "Marl Pit"}, status=422)
    made = manager.post(f"{path}/split", {"line": cut, "name": "Quern West"}, status=201)
    block.refresh_from_db()
    small = Block.objects.for_farm(farm).get(pk=made["id"])
    assert small.area_m2 == pytest.approx(whole / 3, rel=1e-3)
    assert block.area_m2 + small.area_m2 == pytest.approx(whole)
    assert manager.get(f"{BASE}/blocks/{small.pk}")["crop"] == "Potato"
    assert small.instruments.count() == 0
    assert block.instruments.count() == 1


def test_neighbours_keep_their_ground(manager: Api, block: Block) -> None:
    body = {"geometry": OUTLINES["Marl Pit"]}
    answer = manager.put(f"{BASE}/blocks/{block.pk}/outline", body, status=422)
    assert "Quern Field and Marl Pit share" in answer["problems"][0]["message"]
    measured = manager.post(f"{BASE}/map/measure", {"geometry": OUTLINES["Marl Pit"]})
    assert "Marl Pit" in measured["problem"]
    assert measured["area_m2"] > 0
    assert "itself" in manager.post(f"{BASE}/map/measure", {"geometry": BOW})["problem"]


def test_things_on_the_plan(manager: Api, as_role: Any, stranger: Api) -> None:
    pump = {
        "kind": "pump",
        "name": "Pond pump",
        "geometry": {"type": "Point", "coordinates": [3, 56]},
    }
    made = manager.post(f"{BASE}/map/features", pump, status=201)
    manager.post(f"{BASE}/map/features", pump, status=422)
    manager.post(f"{BASE}/map/features", {**pump, "name": "B", "kind": "pipe"}, status=422)
    off = {"type": "Point", "coordinates": [300, 56]}
    manager.post(f"{BASE}/map/features", {**pump, "name": "C", "geometry": off}, status=422)
    as_role(Role.VIEWER).post(f"{BASE}/map/features", {**pump, "name": "D"}, status=403)
    stranger.get(f"{BASE}/map", status=404)
    path = f"/api/farms/barrow/map/features/{made['id']}"
    assert stranger.client.delete(path).status_code == 404
    assert manager.client.delete(f"/api{BASE}/map/features/{made['id']}").status_code == 200


CANS = [13.1, 12.4, 11.0, 12.8, 14.2, 13.6, 9.8, 10.4]


def test_catch_cans(manager: Api, block: Block) -> None:
    path = f"{BASE}/blocks/{block.pk}/catch-cans"
    assert len(manager.get(path)) == 1
    shown = manager.post(f"{path}/preview", {"on": "2026-07-01", "catch_mm": CANS})
    assert shown["du_lq"] == pytest.approx((9.8 + 10.4) / 2 / (sum(CANS) / 8))
    assert len(manager.get(path)) == 1
    saved = manager.post(path, {"on": "2026-07-01", "catch_mm": CANS}, status=201)
    assert manager.get(path)[0]["id"] == saved["id"]
    assert manager.client.delete(f"/api{path}/{saved['id']}").status_code == 200
    few = manager.post(path, {"on": "2026-07-01", "catch_mm": CANS[:5]}, status=422)
    assert "at least 8" in few["problems"][0]["message"]
    manager.post(path, {"on": "2027-07-01", "catch_mm": CANS}, status=422)
    manager.post(f"{path}/preview", {"on": "2026-07-01", "catch_mm": [1e300] * 8}, status=422)
    manager.post(f"{path}/preview", {"on": "2026-07-01", "catch_mm": [float("nan")] * 8}, 422)


def test_a_design_is_checked_on_the_soil(manager: Api, farm: Farm) -> None:
    clay = Block.objects.for_farm(farm).get(name="Marl Pit")
    body = {
        "kind": "solid set sprinkler",
        "figures": {"nozzle_m3_h": 3.0, "spacing_m": 12, "row_spacing_m": 15},
        "area_m2": 50_000,
        "slope_percent": 2,
        "gross_mm": 30,
        "block_id": clay.pk,
    }
    found = manager.post(f"{BASE}/irrigation-design", body)
    assert found["rate_mm_h"] == pytest.approx(3000 / 180)
    assert found["intake"]["runs_off"]
    assert found["intake"]["pulses"] >= 2
    assert found["set_m3"] == 1500
    body["figures"] = {"nozzle_m3_h": 3.0}
    answer = manager.post(f"{BASE}/irrigation-design", body, status=422)
    assert answer["problems"][0]["field"] == "system.design.spacing_m"


@pytest.mark.parametrize("far", [10**400, 1e308])
def test_a_thing_out_of_this_world_is_refused(manager: Api, far: float) -> None:
    line = {"type": "LineString", "coordinates": [[0.001, 51.0], [0.002, far]]}
    said = manager.post(
        f"{BASE}/map/features", {"kind": "pipe", "name": "Far", "geometry": line}, status=422
    )
    assert "not longitude and latitude" in said["problems"][0]["message"]


HELD_BY_NO_TEXT = ["half \ud800 a character", "two \ud800\ud800 halves", "no\x00thing"]


def kept_geometry(block: Block) -> dict[str, Any]:
    block.refresh_from_db()
    assert block.outline is not None
    geometry: dict[str, Any] = block.outline["geometry"]
    return geometry


@pytest.mark.parametrize("odd", HELD_BY_NO_TEXT)
def test_what_else_a_drawn_geometry_carries_is_not_kept(manager: Api, farm: Farm, odd: str) -> None:
    point = {"type": "Point", "coordinates": [0.002, 51.001], odd: odd, "crs": {"x": [odd]}}
    pump = {"kind": "pump", "name": "Well", "geometry": point}
    made = manager.post(f"{BASE}/map/features", pump, status=201)
    assert made["geometry"] == {"type": "Point", "coordinates": [0.002, 51.001]}
    block = Block.objects.for_farm(farm).filter(outline__isnull=False)[0]
    ring = {**kept_geometry(block), odd: odd}
    manager.put(f"{BASE}/blocks/{block.pk}/outline", {"geometry": ring, "take_area": False})
    assert set(kept_geometry(block)) == {"type", "coordinates"}


@pytest.mark.parametrize("odd", HELD_BY_NO_TEXT)
def test_properties_that_no_text_holds_are_refused_with_their_cure(
    manager: Api, farm: Farm, odd: str
) -> None:
    like = Block.objects.for_farm(farm)[0].pk
    far = {**feature("Far", FREE), "properties": {"Name": "Far", "soil": odd}}
    said = send(manager, collection(far), 422, dry_run=False, like_block_id=like)
    assert "without invisible or control characters" in str(said["problems"])
    assert not Block.objects.for_farm(farm).filter(name="Far").exists()
