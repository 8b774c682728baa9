"""Full points that sensors have shown, adopted and taken back."""

from datetime import timedelta
from typing import Any

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from server.blocks.models import Block
from server.events.models import Wetting
from server.farms.models import Farm, Role
from tests.server.conftest import Api

BASE = "/farms/thistlewick"
LOAM = "Quern loam over clay loam"


def limits(api: Api, block: Block) -> dict[str, Any]:
    found: dict[str, Any] = api.get(f"{BASE}/blocks/{block.pk}/limits")
    return found


def seen(api: Api, block: Block) -> list[dict[str, Any]]:
    rows: list[dict[str, Any]] = api.get(f"{BASE}/blocks/{block.pk}/full-points")
    return rows


def adopt(api: Api, block: Block, horizons: list[int], status: int = 201, **more: Any) -> Any:
    body = {"horizons": horizons, "reason": "Five events", **more}
    return api.post(f"{BASE}/blocks/{block.pk}/full-points", body, status)


def undo(api: Api, block: Block) -> None:
    newest = next(c for c in limits(api, block)["changes"] if c["undone_at"] is None)
    path = f"/api{BASE}/blocks/{block.pk}/limits/soil/{newest['id']}"
    assert api.client.delete(path).status_code == 200


@pytest.fixture
def as_described(manager: Api, block: Block) -> Block:
    """Quern Field before what the demo's manager adopted."""
    undo(manager, block)
    return block


def test_the_demo_has_adopted_one(manager: Api, block: Block, farm: Farm) -> None:
    found = limits(manager, block)
    assert found["soil"] == f"{LOAM} as seen on Quern Field"
    assert found["changes"][0]["from_on"] == str(farm.now().date())
    (horizon,) = seen(manager, block)
    assert horizon["in_use"] == pytest.approx(horizon["seen"], abs=1e-4)
    assert horizon["low"] < horizon["seen"] < horizon["high"]
    assert horizon["events"] >= 3
    assert not horizon["can_be_adopted"]
    entry = manager.get(f"{BASE}/changes")["changes"][0]
    assert (entry["done"], entry["about"]) == ("soil_assigned", f"Quern Field: {found['soil']}")


def test_adopted_from_a_day_and_undone(manager: Api, farm: Farm, as_described: Block) -> None:
    block = as_described
    assert limits(manager, block)["soil"] == LOAM
    (before,) = seen(manager, block)
    assert before["in_use"] != pytest.approx(before["seen"], abs=1e-3)
    today = str(farm.now().date())
    adopt(manager, block, [before["index"]], from_on=today)
    found = limits(manager, block)
    assert found["soil"].startswith(f"{LOAM} as seen on Quern Field")
    # What is in use now is what was seen, and what lies between it and wilting is as it was.
    (now,) = seen(manager, block)
    assert now["in_use"] == pytest.approx(before["seen"], abs=1e-4)
    between = before["in_use"] - before["wilt"]
    assert now["in_use"] - now["wilt"] == pytest.approx(between, abs=2e-4)
    change = found["changes"][0]
    assert (change["kind"], change["reason"], change["from_on"]) == ("soil", "Five events", today)
    undo(manager, block)
    assert limits(manager, block)["soil"] == LOAM
    assert seen(manager, block) == [before]


def test_only_what_was_seen(manager: Api, block: Block) -> None:
    soil = limits(manager, block)["soil"]
    refused = adopt(manager, block, [], 422)
    assert refused["problems"][0]["field"] == "horizons"
    adopt(manager, block, [17], 422)
    assert limits(manager, block)["soil"] == soil


def test_another_time_it_gets_another_name(manager: Api, as_described: Block) -> None:
    block = as_described
    adopt(manager, block, [seen(manager, block)[0]["index"]])
    # There is nothing more to adopt.
    adopt(manager, block, [seen(manager, block)[0]["index"]], 422)
    assert limits(manager, block)["soil"] == f"{LOAM} as seen on Quern Field (2)"


def test_tensions_tell_no_content_to_adopt(manager: Api, farm: Farm) -> None:
    """Marl Pit's matrix sensors have drained to a level; its content hangs on the curve."""
    assert seen(manager, Block.objects.for_farm(farm).get(name="Marl Pit")) == []


def test_who_may(as_role: Any, stranger: Api, block: Block, manager: Api) -> None:
    horizons = [seen(manager, block)[0]["index"]]
    adopt(as_role(Role.SCOUT), block, horizons, 403)
    adopt(stranger, block, horizons, 404)


def test_what_former_seasons_have_shown(manager: Api, block: Block, farm: Farm) -> None:
    """The same events a year ago, each drained to 0.02 less: this season's stand by themselves."""
    (now,) = seen(manager, block)
    assert now["last_season"] is None
    for row in Wetting.objects.for_farm(farm).filter(block=block):
        row.pk = None
        for name in ("began_after", "began_by", "settled_at"):
            setattr(row, name, getattr(row, name) - timedelta(days=365))
        row.drained_theta = [None if x is None else x - 0.02 for x in row.drained_theta]
        row.save()
    (later,) = seen(manager, block)
    assert later["seen"] == pytest.approx(now["seen"])
    assert later["events"] == now["events"]
    assert later["last_season"] == pytest.approx(now["seen"] - 0.02, abs=1e-6)


def test_on_the_soil_of_the_block(manager: Api, block: Block, farm: Farm) -> None:
    """What a block has shown stands on its soil, in as many queries for two blocks as for one."""
    soil = limits(manager, block)["soil_id"]
    path = f"{BASE}/soils/{soil}/full-points"
    of_block = seen(manager, block)
    assert of_block
    on_soil = manager.get(path)
    assert [(x["block"], x["index"], x["seen"]) for x in on_soil] == [
        (block.name, h["index"], h["seen"]) for h in of_block
    ]
    assert all(x["low"] < x["seen"] < x["high"] for x in on_soil)
    with CaptureQueriesContext(connection) as one:
        manager.get(path)
    other = Block.objects.for_farm(farm).get(name="Low Ings")
    manager.post(f"{BASE}/soils/{soil}/blocks", {"block_ids": [other.pk]})
    # It has shown the very same.
    for row in Wetting.objects.for_farm(farm).filter(block=block):
        row.pk, row.block, row.instrument = None, other, other.instruments.get()
        row.save()
    with CaptureQueriesContext(connection) as two:
        assert {x["block"] for x in manager.get(path)} == {block.name, "Low Ings"}
    assert len(two) == len(one)
