"""What becomes of a spot: core, settling, checks by hand, kept or moved."""

from datetime import date, timedelta
from typing import Any

import pytest

from core.siting.hand_check import CHECK_EVERY
from core.soil.texture import TextureClass
from server.blocks.models import Block
from server.demo.plan import polygon
from server.farms.models import Farm, Role
from server.instruments.models import Instrument, InstrumentEvent
from server.limits.models import BlockSoil
from server.maps.models import MapFeature
from server.siting.models import ProbeSpot, SpotDecision
from server.soils.models import SoilProfile
from server.surveys.models import SoilSurvey
from tests.server.conftest import Api

BASE = "/farms/thistlewick"
CORE = [
    {"top_mm": 0, "bottom_mm": 300, "texture": "sandy loam", "ece": 0.8},
    {"top_mm": 300, "bottom_mm": 1000, "texture": "sand", "gravel": 10},
]


@pytest.fixture
def spot(farm: Farm) -> ProbeSpot:
    """A spot in Quern Field at which its probe stands."""
    block = Block.objects.for_farm(farm).get(name="Quern Field")
    return put(block, "East", Instrument.objects.for_farm(farm).get(label="Probe Q1"))


def put(block: Block, name: str, instrument: Instrument | None = None) -> ProbeSpot:
    at = polygon((1000, 300))["coordinates"][0][0]
    told: dict[str, Any] = {"purpose": "block", "why": "even", "made_at": block.farm.now()}
    row = ProbeSpot(block=block, name=name, position=at, instrument=instrument, **told)
    row.save()
    return row


def record(api: Api, spot: ProbeSpot) -> Any:
    return api.get(f"{BASE}/probe-spots/{spot.pk}/record")


def core(api: Api, spot: ProbeSpot, status: int = 200, **told: Any) -> Any:
    body = {"taken_on": "2026-07-10", "horizons": CORE, **told}
    return api.put(f"{BASE}/probe-spots/{spot.pk}/core", body, status=status)


def test_a_core_becomes_a_soil_of_the_library(manager: Api, farm: Farm, spot: ProbeSpot) -> None:
    before = manager.get(f"{BASE}/probe-spots/{spot.pk}")["expected"]
    found = core(manager, spot)
    assert found["core_on"] == "2026-07-10"
    assert found["soil"]["name"] == "Quern Field, East"
    assert [h["texture"] for h in found["soil"]["horizons"]] == ["sandy loam", "sand"]
    soil = SoilProfile.objects.for_farm(farm).get(pk=found["soil"]["id"])
    assert soil.note == "core at Quern Field, East, 2026-07-10"
    assert soil.horizons.get(top_mm=0).ece == 0.8
    # The block stands on what it stood on, which is what was expected.
    assert manager.get(f"{BASE}/probe-spots/{spot.pk}")["expected"] == before


def test_a_core_puts_the_block_on_its_soil(manager: Api, farm: Farm, spot: ProbeSpot) -> None:
    found = core(manager, spot, name="East sand", for_block=True)
    last = BlockSoil.objects.for_farm(farm).filter(block=spot.block).order_by("pk").last()
    assert last is not None
    assert (last.soil_id, str(last.from_on)) == (found["soil"]["id"], "2026-07-10")
    assert last.reason == "core at Quern Field, East"
    assert manager.get(f"{BASE}/probe-spots/{spot.pk}")["expected"]["name"] == "East sand"


def test_a_core_describes_a_surveyed_soil_that_is_then_seen(
    manager: Api, farm: Farm, spot: ProbeSpot
) -> None:
    survey = SoilSurvey(farm=farm, file_name="s", made_at=farm.now())
    survey.save()
    soil = SoilProfile(farm=farm, name="Brook sand", survey=survey)
    soil.save()
    soil.horizons.create(top_mm=0, bottom_mm=900, texture=str(TextureClass.LOAMY_SAND))
    ground = polygon((900, 250), (1100, 250), (1100, 400), (900, 400))
    MapFeature(farm=farm, kind="soil zone", name="B", geometry=ground, soil=soil).save()
    expected = manager.get(f"{BASE}/probe-spots/{spot.pk}")["expected"]
    assert (expected["name"], expected["surveyed"]) == ("Brook sand", True)
    found = core(manager, spot, describes=soil.pk)
    assert (found["soil"]["name"], found["soil"]["surveyed"]) == ("Brook sand", False)
    seen = manager.get(f"{BASE}/probe-spots/{spot.pk}")["expected"]
    assert (seen["surveyed"], [h["texture"] for h in seen["horizons"]]) == (
        False,
        ["sandy loam", "sand"],
    )


@pytest.mark.parametrize(
    ("told", "field"),
    [
        ({"taken_on": "2030-01-01"}, "taken_on"),
        ({"horizons": [{"top_mm": 0, "bottom_mm": 300}]}, "horizons.0.texture"),
        ({"horizons": []}, "horizons"),
        ({"describes": 10**6}, None),
    ],
)
def test_a_core_that_can_not_be(
    manager: Api, farm: Farm, spot: ProbeSpot, told: Any, field: str | None
) -> None:
    soils = SoilProfile.objects.for_farm(farm).count()
    refused = core(manager, spot, 422 if field else 404, **told)
    assert field is None or refused["problems"][0]["field"] == field
    assert SoilProfile.objects.for_farm(farm).count() == soils
    assert record(manager, spot)["core_on"] is None


def check(api: Api, spot: ProbeSpot, status: int = 201, **told: Any) -> Any:
    body = {"way": "oven-dried core", "depths": [{"depth_mm": 300, "value": 0.2}], **told}
    return api.post(f"{BASE}/probe-spots/{spot.pk}/checks", body, status)


def test_a_check_by_hand_beside_what_the_probe_said(manager: Api, spot: ProbeSpot) -> None:
    said = record(manager, spot)
    assert said["instrument"] == "Probe Q1"
    assert said["status"] == "in service"
    assert said["depths_mm"][0] == 100
    mm = said["depths_mm"][1]
    hand = {"depth_mm": mm, "value": 0.2}
    (first,) = check(manager, spot, note="damp", depths=[hand])["checks"]
    (depth,) = first["depths"]
    assert depth["sensor"] is not None
    assert 0.05 < depth["sensor"] < 0.5
    assert depth["differs"] == (abs(depth["sensor"] - 0.2) > 0.04)
    same = check(manager, spot, depths=[{"depth_mm": mm, "value": depth["sensor"] + 0.05}])
    assert same["checks"][-1]["depths"][0]["differs"]
    assert same["next_check"] is not None
    manager.delete(f"{BASE}/spot-checks/{first['id']}")
    assert len(record(manager, spot)["checks"]) == 1
    manager.delete(f"{BASE}/spot-checks/{first['id']}", status=404)


def test_a_check_of_another_time_of_day(manager: Api, farm: Farm, spot: ProbeSpot) -> None:
    """The clock of the farm counts where no offset is told; next due follows the check."""
    made = check(manager, spot, at="2026-07-01T06:00", depths=[{"depth_mm": 100, "value": 0.2}])
    assert made["checks"][0]["depths"][0]["sensor"] is not None
    assert made["checks"][0]["at"][:10] == "2026-07-01"
    assert made["next_check"] == str(date(2026, 7, 1) + CHECK_EVERY)
    long_ago = check(manager, spot, at="2019-07-01T06:00")
    assert long_ago["checks"][0]["depths"][0]["sensor"] is None


def test_by_feel_half_of_the_water_is_half_way(manager: Api, spot: ProbeSpot) -> None:
    ends = [{"depth_mm": d, "value": v} for d, v in ((100, 0.0), (110, 0.5), (120, 1.0))]
    (made,) = check(manager, spot, way="feel", depths=ends)["checks"]
    wilt, half, full = (d["by_hand"] for d in made["depths"])
    assert half == pytest.approx((wilt + full) / 2)
    assert 0.03 < wilt < full < 0.5


@pytest.mark.parametrize(
    ("told", "field"),
    [
        ({"at": "2030-01-01T06:00"}, "at"),
        ({"depths": [{"depth_mm": 100, "value": 0.2}] * 2}, "depths"),
        ({"depths": [{"depth_mm": 100, "value": 20}]}, "depths.0.value"),
        ({"depths": []}, "depths"),
    ],
)
def test_a_check_that_can_not_be(manager: Api, spot: ProbeSpot, told: Any, field: str) -> None:
    assert check(manager, spot, 422, **told)["problems"][0]["field"] == field
    assert record(manager, spot)["checks"] == []


def test_without_a_probe_there_is_nothing_to_check_or_keep(manager: Api, spot: ProbeSpot) -> None:
    bare = put(spot.block, "West")
    assert "No instrument stands" in check(manager, bare, 422)["message"]
    path = f"{BASE}/probe-spots/{bare.pk}/decisions"
    assert "No instrument" in manager.post(path, {"kept": True, "why": "w"}, 422)["message"]
    found = record(manager, bare)
    assert (found["standing"], found["next_check"], found["status"]) == (None, None, None)


def test_a_probe_is_kept_with_how_it_stood(manager: Api, spot: ProbeSpot) -> None:
    standing = record(manager, spot)["standing"]
    differences = [p["difference"] for p in standing["probes"]]
    assert differences == sorted(differences)
    assert sum(differences) == pytest.approx(0, abs=1e-9)
    assert standing["days"] >= 10
    own = next(p for p in standing["probes"] if p["label"] == "Probe Q1")
    path = f"{BASE}/probe-spots/{spot.pk}/decisions"
    (made,) = manager.post(path, {"kept": True, "why": "steady"}, 201)["decisions"]
    assert (made["kept"], made["why"], made["sites"]) == (True, "steady", len(differences))
    assert made["difference"] == pytest.approx(own["difference"])
    assert made["spread"] == pytest.approx(own["spread"])


def test_a_probe_moved_settles_again_at_its_new_spot(
    manager: Api, farm: Farm, spot: ProbeSpot
) -> None:
    other = put(spot.block, "West")
    path = f"{BASE}/probe-spots/{spot.pk}/decisions"
    body = {"kept": False, "why": "off and unsteady", "moved_to": other.pk}
    left = manager.post(path, body, 201)
    assert (left["instrument"], left["decisions"][0]["moved_to"]) == ("", "West")
    there = record(manager, other)
    assert (there["instrument"], there["status"]) == ("Probe Q1", "settling")
    instrument = Instrument.objects.for_farm(farm).get(label="Probe Q1")
    assert instrument.position == other.position
    assert instrument.site == "West: even"
    assert there["next_check"] == str((farm.now() + timedelta(days=18)).date())
    last = (
        InstrumentEvent.objects.for_farm(farm).filter(instrument=instrument).order_by("pk").last()
    )
    assert last is not None
    assert (last.kind, last.note) == ("replaced", "off and unsteady")


def test_a_probe_taken_out_is_retired(manager: Api, farm: Farm, spot: ProbeSpot) -> None:
    path = f"{BASE}/probe-spots/{spot.pk}/decisions"
    manager.post(path, {"kept": False, "why": "in the wheel track"}, 201)
    probe = Instrument.objects.for_farm(farm).get(label="Probe Q1")
    last = InstrumentEvent.objects.for_farm(farm).filter(instrument=probe).order_by("pk").last()
    assert last is not None
    assert last.kind == "retired"


def test_a_probe_moves_to_a_free_spot_of_its_block_alone(
    manager: Api, farm: Farm, spot: ProbeSpot
) -> None:
    away = put(Block.objects.for_farm(farm).get(name="Long Tye"), "Away")
    path = f"{BASE}/probe-spots/{spot.pk}/decisions"
    for to in (away.pk, spot.pk):
        refused = manager.post(path, {"kept": False, "why": "w", "moved_to": to}, 422)
        assert refused["problems"][0]["field"] == "moved_to"
    assert not SpotDecision.objects.for_farm(farm).exists()


def test_a_scout_checks_and_does_not_decide(spot: ProbeSpot, as_role: Any) -> None:
    scout = as_role(Role.SCOUT)
    assert check(scout, spot)["checks"]
    core(scout, spot, 403)
    scout.post(f"{BASE}/probe-spots/{spot.pk}/decisions", {"kept": True, "why": "w"}, 403)


def test_an_instrument_put_in_settles_from_that_day(manager: Api, spot: ProbeSpot) -> None:
    bare = put(spot.block, "West")
    body = {
        "label": "Q7",
        "kind": "capacitance_probe",
        "depths_mm": [100],
        "installed_at": "2026-07-10T08:00",
    }
    manager.post(f"{BASE}/probe-spots/{bare.pk}/instrument", body, 201)
    found = record(manager, bare)
    assert (found["installed_at"][:10], found["status"]) == ("2026-07-10", "settling")
    assert found["settled_at"][:10] == "2026-07-28"
    assert found["next_check"] == "2026-07-28"
