"""Layer files: guessed, corrected, stored for the blocks they lie in, undone."""

import io
import json
import zipfile
from typing import Any

import numpy as np
import pytest
import rasterio
import shapefile
from pyproj import CRS
from rasterio.transform import from_origin

from server.demo.plan import polygon
from server.farms.models import Change, Farm
from server.siting.models import LayerFilePiece, SitingLayer
from tests.server.siting_bench import BASE, MOVE, Bench, net, siting_bench, table, yield_table  # noqa: F401


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
    up = bench.read(bench.upload(as_shapefile(prj=False), "harvest2023.zip"), projection="")
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


def picture(bands: int = 3, driver: str = "PNG") -> bytes:
    """A picture of the west of Quern Field dark and the east light in its second band."""
    value = np.zeros((bands, 66, 66), np.uint8)
    value[1 if bands > 1 else 0, :, 33:] = 200
    with rasterio.MemoryFile() as memory:
        with memory.open(driver=driver, width=66, height=66, count=bands, dtype="uint8") as grid:
            grid.write(value)
        return bytes(memory.read())


def corners(*metres: tuple[float, float]) -> list[dict[str, float]]:
    ring = polygon(*metres)["coordinates"][0][:-1]
    return [{"east": lon, "north": lat} for lon, lat in ring]


# From the upper left, clockwise.
GROUND = corners((790, 480), (1120, 480), (1120, 150), (790, 150))


@pytest.mark.parametrize(("driver", "name"), [("PNG", "ndvi.png"), ("JPEG", "ndvi.jpg")])
def test_a_picture_is_placed_by_its_corners(bench: Bench, driver: str, name: str) -> None:
    up = bench.upload(picture(driver=driver), name)
    assert (up["look"]["placed"], up["reading"]["kind"]) == (False, "vegetation index")
    assert "Enter where its corners lie" in up["look"]["problem"]
    columns = {**up["reading"]["columns"], "value": "band 2"}
    read = bench.read(up, corners=GROUND, band=2, columns=columns)
    assert (read["look"]["problem"], read["look"]["near"]) == ("", "Quern Field")
    assert bench.store(read)["state"] == "stored"
    layer = bench.siting()["layers"][0]
    assert layer["facts"]["low"] == pytest.approx(0, abs=8)
    assert layer["facts"]["high"] == pytest.approx(200, abs=8)
    # The middle of the picture lies 955 m along the plan: the light part begins there.
    assert layer["facts"]["mean"] == pytest.approx(200 * (1120 - 955) / 320, rel=0.12)


def test_corners_turned_half_round_turn_the_picture(bench: Bench) -> None:
    up = bench.upload(picture(1), "index.png")
    turned = [*GROUND[2:], *GROUND[:2]]
    read = bench.read(up, corners=turned)
    path = f"{BASE}/layer-files/{up['summary']['id']}"
    bench.api.post(f"{path}/store", {}, status=202)
    bench.run_jobs()
    found = bench.siting()
    zones = {z["zone"]: z["medians"][read["reading"]["name"]] for z in found["zones"]}
    west = bench.api.get(
        f"{BASE}/blocks/{bench.block}/siting/spot?"
        + "longitude={}&latitude={}".format(*polygon((860, 300))["coordinates"][0][0])
    )
    assert zones[west["zone"]] > 150


def test_three_corners_are_no_place(bench: Bench) -> None:
    up = bench.upload(picture(1), "index.png")
    assert "corners lie" in bench.read(up, corners=GROUND[:3])["look"]["problem"]
    bench.read(up, 422, corners=[*GROUND, GROUND[0]])


def test_points_without_a_place_are_counted_and_left_out(bench: Bench) -> None:
    lon, lat, value = net()
    places: list[Any] = [
        {"type": "Point", "coordinates": [x, y]} for x, y in zip(lon, lat, strict=True)
    ]
    places[5] = None
    features = [
        {"type": "Feature", "geometry": place, "properties": {"yield": v}}
        for place, v in zip(places, value, strict=True)
    ]
    found = {"type": "FeatureCollection", "features": features}
    stored = bench.store(bench.upload(json.dumps(found).encode(), "maize 2021.geojson"))
    assert stored["report"]["without_position"] == 1

    parts = {e: io.BytesIO() for e in ("shp", "shx", "dbf")}
    with shapefile.Writer(**parts, shapeType=shapefile.POINT) as writer:
        writer.field("YIELD", "N", decimal=2)
        for x, y, v in zip(lon, lat, value, strict=True):
            writer.null() if v == value[7] else writer.point(x, y)
            writer.record(v)
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w") as file:
        for ending, part in parts.items():
            file.writestr(f"harvest.{ending}", part.getvalue())
    stored = bench.store(bench.upload(packed.getvalue(), "harvest 2022.zip"))
    assert stored["report"]["without_position"] == 1
