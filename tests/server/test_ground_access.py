"""Who may do what to the ground, endpoint by endpoint; a stranger finds nothing of it."""

from typing import Any

import pytest

from server.blocks.models import Block, CropSeason
from server.farms.models import Farm, Role
from server.limits.models import BlockSoil, RefillRule
from server.maps.models import MapFeature
from server.soils.models import SoilProfile
from tests.server.conftest import Api, new_block

HORIZONS = [{"top_mm": 0, "bottom_mm": 900, "texture": "loam"}]
POINT = {"type": "Point", "coordinates": [3.06, 56.41]}


class Ids:
    """Rows of the demo farm to ask for."""

    def __init__(self, farm: Farm) -> None:
        block = Block.objects.for_farm(farm).get(name="Tarn Breck")
        self.values = {
            "block": block.pk,
            "soil": SoilProfile.objects.for_farm(farm).first().pk,
            "season": CropSeason.objects.for_farm(farm).filter(block=block).first().pk,
            "rule": RefillRule.objects.for_farm(farm).first().pk,
            "block_soil": BlockSoil.objects.for_farm(farm).filter(block=block).first().pk,
            "feature": MapFeature.objects.for_farm(farm).first().pk,
            "cans": Block.objects.for_farm(farm).get(name="Quern Field").catch_can_tests.first().pk,
            "quern": Block.objects.for_farm(farm).get(name="Quern Field").pk,
        }

    def path(self, template: str) -> str:
        return template.format(**self.values)


READS = [
    "block-list",
    "soils",
    "soils/{soil}",
    "crops",
    "crops/own-1",
    "map",
    "blocks/{block}/limits",
    "blocks/{block}/seasons",
    "blocks/{quern}/catch-cans",
    "blocks/{block}/setup",
]
RULE = {"refill_method": "flat", "value": 0.4}
OUTLINE = {"geometry": None}
# method, path, body: acts that only who sets up the ground may do.
SETTING_UP: list[tuple[str, str, Any]] = [
    ("post", "soils", {"name": "N", "horizons": HORIZONS}),
    ("put", "soils/{soil}", {"name": "N", "horizons": HORIZONS}),
    ("delete", "soils/{soil}", None),
    ("post", "soils/{soil}/blocks", {"block_ids": []}),
    ("post", "blocks", new_block()),
    ("post", "bulk", {"block_ids": [1], **RULE}),
    ("post", "blocks/{block}/seasons", {"crop_key": "potato", "planted_on": "2027-01-01"}),
    ("put", "blocks/{block}/seasons/{season}", {"crop_key": "potato", "planted_on": "2026-04-28"}),
    ("delete", "blocks/{block}/seasons/{season}", None),
    ("post", "blocks/{block}/limits/refill", RULE),
    ("delete", "blocks/{block}/limits/refill/{rule}", None),
    ("delete", "blocks/{block}/limits/soil/{block_soil}", None),
    ("put", "blocks/{block}/outline", OUTLINE),
    ("post", "blocks/{block}/split", {"line": [[3, 56], [4, 57]], "name": "N"}),
    ("post", "map/features", {"kind": "pump", "name": "N", "geometry": POINT}),
    ("delete", "map/features/{feature}", None),
    ("delete", "crops/own-1", None),
]
# acts that a scout may do too
RECORDING: list[tuple[str, str, Any]] = [
    ("post", "blocks/{block}/seasons/{season}/events",
     {"kind": "stage", "on": "2026-07-13", "stage_key": "turning"}),
    ("post", "blocks/{quern}/catch-cans", {"on": "2026-07-01", "catch_mm": [5.0] * 8}),
    ("delete", "blocks/{quern}/catch-cans/{cans}", None),
]  # fmt: skip


def status(api: Api, method: str, path: str, body: Any) -> int:
    send = getattr(api.client, method)
    if body is None:
        return int(send(f"/api{path}").status_code)
    return int(send(f"/api{path}", body, content_type="application/json").status_code)


@pytest.mark.parametrize("path", READS)
def test_everyone_on_the_farm_may_look(as_role: Any, farm: Farm, path: str) -> None:
    ids = Ids(farm)
    if path == "crops/own-1":
        path = f"crops/own-{farm.crops.first().pk}"
    for role in Role:
        assert status(as_role(role), "get", f"/farms/thistlewick/{ids.path(path)}", None) == 200


@pytest.mark.parametrize("path", READS)
def test_a_stranger_finds_nothing(stranger: Api, farm: Farm, path: str) -> None:
    ids = Ids(farm)
    assert status(stranger, "get", f"/farms/thistlewick/{ids.path(path)}", None) == 404
    if "{" in path:
        # Not through his own farm's door either.
        assert status(stranger, "get", f"/farms/barrow/{ids.path(path)}", None) == 404


@pytest.mark.parametrize("method, path, body", SETTING_UP)
def test_only_who_sets_up_changes_the_ground(
    as_role: Any, farm: Farm, method: str, path: str, body: Any
) -> None:
    ids = Ids(farm)
    for role in (Role.SCOUT, Role.IRRIGATOR, Role.VIEWER):
        assert status(as_role(role), method, f"/farms/thistlewick/{ids.path(path)}", body) == 403


@pytest.mark.parametrize("method, path, body", SETTING_UP + RECORDING)
def test_a_stranger_changes_nothing(
    stranger: Api, farm: Farm, method: str, path: str, body: Any
) -> None:
    ids = Ids(farm)
    counts = (Block.unscoped.count(), BlockSoil.unscoped.count(), RefillRule.unscoped.count())
    assert status(stranger, method, f"/farms/thistlewick/{ids.path(path)}", body) == 404
    if "{" in path:
        assert status(stranger, method, f"/farms/barrow/{ids.path(path)}", body) == 404
    assert counts == (
        Block.unscoped.count(), BlockSoil.unscoped.count(), RefillRule.unscoped.count()
    )  # fmt: skip


@pytest.mark.parametrize("method, path, body", RECORDING)
def test_who_records_may_and_who_only_looks_may_not(
    as_role: Any, farm: Farm, method: str, path: str, body: Any
) -> None:
    ids = Ids(farm)
    where = f"/farms/thistlewick/{ids.path(path)}"
    assert status(as_role(Role.VIEWER), method, where, body) == 403
    assert status(as_role(Role.SCOUT), method, where, body) in (200, 201)


def test_changes_of_the_ground_are_kept_with_who(manager: Api, farm: Farm) -> None:
    ids = Ids(farm)
    rule = RefillRule.objects.for_farm(farm).get(pk=ids.values["rule"])
    where = ids.path("/farms/thistlewick/blocks/{block}/limits/refill/{rule}")
    assert status(manager, "delete", where, None) == 200
    newest = rule.history.first()
    assert newest.history_user is not None
    assert newest.undone_at is not None
    soil = SoilProfile.objects.for_farm(farm).get(name="Tye silt loam")
    horizon = soil.horizons.first()
    assert horizon.history.count() == 1


def test_two_people_making_the_same_soil(manager: Api, as_role: Any) -> None:
    body = {"name": "Twin", "horizons": HORIZONS}
    manager.post("/farms/thistlewick/soils", body, status=201)
    adviser = as_role(Role.ADVISER)
    answer = adviser.post("/farms/thistlewick/soils", body, status=422)
    assert answer["problems"][0]["field"] == "name"
