"""Soil surveys: attributes of any name made out, soils and zones made, taken back."""

import io
import json
import zipfile
from collections.abc import Mapping
from typing import Any

import pytest
import shapefile

from server.blocks.models import Block
from server.demo.plan import polygon
from server.farms.models import Farm
from server.limits.models import BlockSoil
from server.maps.models import MapFeature
from server.soils.models import SoilProfile
from server.surveys.attributes import Figure, understood
from server.surveys.horizons import percent_per_unit, surveyed_soil
from server.surveys.models import SoilSurvey
from tests.server.conftest import Api
from tests.server.siting_bench import (
    BASE,
    MOVE,
    Bench,
    siting_bench,  # noqa: F401
    three_years,
)

WEST = polygon((760, 100), (950, 100), (950, 520), (760, 520))
EAST = polygon((950, 100), (1200, 100), (1200, 520), (950, 520))
FAR = {"type": "Polygon", "coordinates": [[[8, 50], [8.01, 50], [8.01, 50.01], [8, 50]]]}
TEXTURED = {"SOIL_NAME": "Brook sand", "TEX_1": "LS", "BOT_1": 40, "TEX_2": "sand", "BOT_2": 120}
LOAMY = {"SOIL_NAME": "Carse loam", "TEX_1": "loam", "BOT_1": 30, "TEX_2": "CL", "BOT_2": 110}


def survey(*areas: tuple[Any, Mapping[str, Any]]) -> bytes:
    features = [{"type": "Feature", "geometry": g, "properties": dict(p)} for g, p in areas]
    return json.dumps({"type": "FeatureCollection", "features": features}).encode()


TWO = survey((WEST, TEXTURED), (EAST, LOAMY))


def send(api: Api, data: bytes, name: str = "soils.geojson", status: int = 200, **told: Any) -> Any:
    return api.upload(f"{BASE}/soil-surveys", name, data, status=status, **told)


def horizons(properties: Mapping[str, Any], depth_mm: float = 1000.0) -> Any:
    known = understood(properties)
    percent = percent_per_unit([properties], known)
    return surveyed_soil(properties, known, percent, depth_mm)


def shown(found: Any) -> list[tuple[float, float, str | None, float | None, float | None]]:
    assert found.problem is None, str(found.problem)
    return [(h.top_mm, h.bottom_mm, h.texture, h.sand, h.clay) for h in found.horizons]


@pytest.mark.parametrize(
    ("properties", "expected"),
    [
        (
            {"tex1": "SL", "bot1": 30, "tex2": "C", "bot2": 90},
            [(0, 300, "sandy loam", None, None), (300, 900, "clay", None, None)],
        ),
        (
            {"sand_0_30cm": 70, "clay_0_30cm": 10, "sand_30_100cm": 40, "clay_30_100cm": 30},
            [(0, 300, None, 70, 10), (300, 1000, None, 40, 30)],
        ),
        (
            {"SAND_H1": 0.7, "CLAY_H1": 0.1, "THICK_H1": 50},
            [(0, 500, None, 70, 10)],
        ),
        (
            {"ClayPct": 18, "SandPct": 42, "Depth_mm": 800},
            [(0, 800, None, 42, 18)],
        ),
        (
            {"topsoil texture": "loam", "subsoil_texture": "clay loam"},
            [(0, 300, "loam", None, None), (300, 1000, "clay loam", None, None)],
        ),
        (
            {"arena": 700, "arcilla": 100, "desde": 0, "hasta": 60},
            [(0, 600, None, 70, 10)],
        ),
        (
            {"h1_top_in": 0, "h1_bottom_in": 10, "h1_texture": "sil", "h2_texture": "sicl"},
            [(0, 254, "silt loam", None, None), (254, 1000, "silty clay loam", None, None)],
        ),
        (
            {"horizons": [{"from": 0, "to": 25, "texture": "Sandy loam"}, {"to": 80, "class": "x",
              "sand": "30,5", "clay": "40"}]},
            [(0, 250, "sandy loam", None, None), (250, 800, None, 30.5, 40)],
        ),
        (
            {"tex_1": "sand", "bot_1": 30, "tex_2": "sand", "depth": 75, "tex_3": ""},
            [(0, 300, "sand", None, None), (300, 750, "sand", None, None)],
        ),
    ],
)  # fmt: skip
def test_attributes_of_any_sensible_name(properties: Any, expected: Any) -> None:
    assert shown(horizons(properties)) == expected


def test_the_other_figures_of_a_horizon() -> None:
    told = {"texture": "loam", "depth": 60, "org_c": 1.0, "stones": 12, "BD": 1.4, "ECe": 2.5}
    (horizon,) = horizons(told).horizons
    # Organic matter is 1.724 times the carbon.
    assert (horizon.organic_matter, horizon.gravel) == (1.724, 12)
    assert (horizon.bulk_density, horizon.ece) == (1.4, 2.5)
    assert horizons({"texture": "loam", "om": 3}).horizons[0].organic_matter == 3


def test_a_depth_that_is_not_told_is_assumed_and_said() -> None:
    found = horizons({"texture": "loam"}, depth_mm=900.0)
    assert (found.depth_assumed, found.horizons[0].bottom_mm) == (True, 900)
    assert not horizons({"texture": "loam", "depth": 50}).depth_assumed


@pytest.mark.parametrize(
    ("properties", "reason"),
    [
        ({"name": "Peaty"}, "tells no texture"),
        ({"texture": "peat"}, "“peat” is no texture"),
        ({"sand": 40}, "tells no texture"),
        ({"tex_1": "sand", "tex_2": "clay", "bot_2": 90}, "where horizon 1 ends"),
        ({"sand": 70, "clay": 50, "depth": 60}, "add to 120"),
        ({"texture": "sand", "top": 20, "bottom": 60}, "starts at 20 cm"),
    ],
)
def test_what_can_not_be_described_says_why(properties: Any, reason: str) -> None:
    found = horizons(properties)
    assert found.horizons == []
    assert reason in str(found.problem)


def test_attributes_are_told_apart() -> None:
    known = understood(["SoilName", "MUSYM", "Sand_1", "Shape_Area", "Contour", "Station"])
    assert [(a.name, a.figure, a.horizon) for a in known.figures] == [("Sand_1", Figure.SAND, 1)]
    assert known.names == ("SoilName", "MUSYM")
    assert known.others == ("Shape_Area", "Contour", "Station")


def test_a_survey_is_looked_at_and_nothing_is_stored(manager: Api, farm: Farm) -> None:
    before = SoilProfile.objects.for_farm(farm).count()
    read = send(manager, TWO)
    assert read["name_property"] == "SOIL_NAME"
    assert read["survey"] is None
    brook, carse = read["soils"]
    assert (brook["name"], brook["state"]) == ("Brook sand", "new")
    assert "Quern Field" in brook["blocks"]
    assert [h["texture"] for h in carse["horizons"]] == ["loam", "clay loam"]
    field = Block.objects.for_farm(farm).get(name="Quern Field")
    assert field.outline_m2 is not None
    assert brook["area_m2"] < field.outline_m2 < brook["area_m2"] + carse["area_m2"]
    assert SoilProfile.objects.for_farm(farm).count() == before
    assert not SoilSurvey.objects.for_farm(farm).exists()


def test_a_survey_becomes_soils_and_zones_and_is_taken_back(manager: Api, farm: Farm) -> None:
    read = send(manager, TWO, dry_run=False)
    soil = next(s for s in manager.get(f"{BASE}/soils") if s["name"] == "Brook sand")
    assert soil["surveyed"]
    assert [(h["top_mm"], h["texture"]) for h in soil["horizons"]] == [
        (0, "loamy sand"),
        (400, "sand"),
    ]
    zones = [f for f in manager.get(f"{BASE}/map")["features"] if f["surveyed"]]
    assert [(z["name"], z["soil"]) for z in zones] == [
        ("Brook sand", "Brook sand"),
        ("Carse loam", "Carse loam"),
    ]
    (listed,) = manager.get(f"{BASE}/soil-surveys")
    assert (listed["file_name"], listed["zones"], listed["soils"]) == ("soils.geojson", 2, 2)
    # A block is put on one of them: that one stays for its past.
    block = Block.objects.for_farm(farm).get(name="Quern Field")
    manager.post(f"{BASE}/soils/{soil['id']}/blocks", {"block_ids": [block.pk]}, 200)
    manager.delete(f"{BASE}/soil-surveys/{read['survey']}")
    left = {s["name"] for s in manager.get(f"{BASE}/soils")}
    assert "Brook sand" in left
    assert "Carse loam" not in left
    assert not MapFeature.objects.for_farm(farm).filter(survey__isnull=False).exists()
    assert not [f for f in manager.get(f"{BASE}/map")["features"] if f["name"] == "Brook sand"]
    manager.delete(f"{BASE}/soil-surveys/{read['survey']}", status=404)


def test_a_soil_described_anew_stays_with_its_zone(manager: Api, farm: Farm) -> None:
    send(manager, TWO, dry_run=False)
    soil = SoilProfile.objects.for_farm(farm).get(name="Brook sand")
    block = Block.objects.for_farm(farm).get(name="Quern Field")
    manager.post(f"{BASE}/soils/{soil.pk}/blocks", {"block_ids": [block.pk]}, 200)
    assert BlockSoil.objects.for_farm(farm).filter(soil=soil).exists()
    anew = {"name": "Brook sand", "horizons": [{"top_mm": 0, "bottom_mm": 900, "texture": "sand"}]}
    manager.put(f"{BASE}/soils/{soil.pk}", anew)
    zone = MapFeature.objects.for_farm(farm).get(name="Brook sand")
    assert zone.soil is not None
    assert zone.soil_id != soil.pk
    assert not zone.soil.superseded


def test_names_that_are_there_already(manager: Api, farm: Farm) -> None:
    there = SoilProfile.objects.for_farm(farm).filter(superseded=False).order_by("name")[0]
    data = survey((WEST, {**TEXTURED, "SOIL_NAME": there.name.upper()}), (EAST, LOAMY))
    assert [s["state"] for s in send(manager, data)["soils"]] == ["in library", "new"]
    send(manager, data, dry_run=False)
    send(manager, data, dry_run=False)
    zones = MapFeature.objects.for_farm(farm).filter(survey__isnull=False)
    assert {z.name for z in zones} == {
        there.name.upper(),
        f"{there.name.upper()} (2)",
        "Carse loam",
        "Carse loam (2)",
    }
    assert zones.get(name=there.name.upper()).soil_id == there.pk


def test_one_name_with_other_figures_is_another_soil(manager: Api) -> None:
    data = survey((WEST, TEXTURED), (EAST, {**TEXTURED, "BOT_1": 60}))
    assert [s["name"] for s in send(manager, data)["soils"]] == ["Brook sand (1)", "Brook sand (2)"]
    same = send(manager, survey((WEST, TEXTURED), (EAST, TEXTURED)))["soils"]
    assert [(s["name"], s["areas"]) for s in same] == [("Brook sand", 2)]


def test_a_soil_without_texture_is_a_zone_alone(manager: Api, farm: Farm) -> None:
    data = survey((WEST, {"soil": "Peat"}), (EAST, LOAMY | {"soil": "Carse"}))
    peat, carse = send(manager, data, name_property="soil", dry_run=False)["soils"]
    assert (peat["state"], peat["problem"]) == ("no texture", "The survey tells no texture of it.")
    zone = MapFeature.objects.for_farm(farm).get(name="Peat")
    assert zone.soil is None
    assert carse["state"] == "new"


def test_a_shapefile_in_metres_and_areas_beyond_the_farm(manager: Api) -> None:
    parts = {e: io.BytesIO() for e in ("shp", "shx", "dbf")}
    with shapefile.Writer(**parts) as writer:
        writer.field("MUNAME", "C", 40)
        writer.field("SAND_1", "N", decimal=1)
        writer.field("CLAY_1", "N", decimal=1)
        writer.field("DEPTH_1", "N")
        for geometry, name in ((WEST, "Brook"), (FAR, "Elsewhere")):
            ring = [MOVE.transform(*p) for p in geometry["coordinates"][0]]
            writer.poly([ring])
            writer.record(name, 82, 6, 100)
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w") as archive:
        for ending, part in parts.items():
            archive.writestr(f"soils.{ending}", part.getvalue())
    refused = send(manager, packed.getvalue(), "soils.zip", status=422)
    assert refused["problems"][0]["field"] == "projection"
    read = send(manager, packed.getvalue(), "soils.zip", projection="32631")
    assert (read["beyond"], [s["name"] for s in read["soils"]]) == (1, ["Brook"])
    assert read["soils"][0]["horizons"][0]["sand"] == 82
    assert "31N" in read["projection"]


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (survey((FAR, TEXTURED)), "km from the farm's blocks"),
        (survey(({"type": "Point", "coordinates": [3, 56]}, TEXTURED)), "This is no area"),
        (survey((WEST, {})), "No attribute names the soil"),
        (b"{}", "holds no features"),
        (b"\x00\x01", "not GeoJSON"),
        (survey(({"type": "Polygon", "coordinates": [[[3, 56]]]}, TEXTURED)), "can't be read"),
        (
            survey(({"type": "Polygon", "coordinates": [[[3e5, 6e6], [3e5, 7e6], [4e5, 7e6],
                                                          [3e5, 6e6]]]}, TEXTURED)),
            "metres and not longitude",
        ),
    ],
)  # fmt: skip
def test_a_file_that_can_not_be_a_survey_of_this_farm(
    manager: Api, data: bytes, words: str
) -> None:
    refused = send(manager, data, status=422)
    said = " ".join([refused["message"], *(p["message"] for p in refused["problems"])])
    assert words in said


def test_an_attribute_that_is_not_there_is_refused(manager: Api) -> None:
    refused = send(manager, TWO, status=422, name_property="SERIES")
    assert refused["problems"][0]["field"] == "name_property"


def test_borders_that_cross_themselves_are_made_good(manager: Api) -> None:
    bow = polygon((800, 150), (1100, 450), (1100, 150), (800, 450))
    assert send(manager, survey((bow, TEXTURED)))["soils"][0]["blocks"] == ["Quern Field"]


def test_zones_of_a_block_by_its_soils_alone(bench: Bench) -> None:
    before = bench.siting()
    assert (before["zones"], before["spots"], before["soils"]) == ([], [], [])
    send(bench.api, TWO, dry_run=False)
    found = bench.siting()
    assert found["zones_from"] == "soils"
    assert [(s["name"], s["soil"], s["surveyed"]) for s in found["soils"]] == [
        (z["name"], z["name"], True) for z in found["zones"]
    ]
    assert [z["soils"] for z in found["zones"]] == [{z["name"]: 1.0} for z in found["zones"]]
    assert found["spots"][0]["zone"] == found["zone"]
    assert found["pair"]["gain"] > 0.5


def test_zones_by_soils_where_there_are_layers_too(bench: Bench) -> None:
    three_years(bench)
    send(bench.api, TWO, dry_run=False)
    found = bench.siting()
    assert found["zones_from"] == "layers"
    poor = min(found["zones"], key=lambda z: z["level"]["all"])
    assert poor["soils"]["Brook sand"] > 0.95
    path = f"{BASE}/blocks/{bench.block}/siting"
    by_soil = bench.api.put(path, {**found["settings"], "zones_from": "soils"})
    assert by_soil["zones_from"] == "soils"
    assert {z["name"] for z in by_soil["zones"]} == {"Brook sand", "Carse loam"}
    level = {z["name"]: z["level"]["all"] for z in by_soil["zones"]}
    assert level["Brook sand"] < 85
    assert level["Carse loam"] > 110
    named = bench.api.put(path, {**by_soil["settings"], "zone_names": ["Top"]})
    assert named["zones"][0]["name"] == "Top"
