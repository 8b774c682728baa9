"""The water that sensors found, made a block's rate or efficiency."""

from typing import Any

import pytest

from server.blocks.models import Block
from server.farms.models import Change, Farm, Role
from server.water.models import Irrigation
from tests.server.conftest import Api

BASE = "/farms/thistlewick"
# What Gorse Piece's worn nozzles apply of the stated rate in the simulated season.
CAME = 0.62


@pytest.fixture
def gorse(farm: Farm) -> Block:
    block: Block = Block.objects.for_farm(farm).get(name="Gorse Piece")
    return block


def seen(api: Api, block: Block) -> Any:
    return api.get(f"{BASE}/blocks/{block.pk}/application")


def adopt(api: Api, block: Block, figure: str, status: int = 201) -> Any:
    return api.post(f"{BASE}/blocks/{block.pk}/application", {"figure": figure}, status)


def test_adopted_as_efficiency(manager: Api, gorse: Block) -> None:
    """Net depths on record become what was found, so what is found then fits."""
    before = seen(manager, gorse)
    assert before["fit"] == "differs", before
    assert before["low"] < CAME < before["high"] < 1
    assert before["share"] == pytest.approx(CAME, abs=0.05)
    assert before["efficiency_seen"] == pytest.approx(
        before["efficiency"] * before["share"], abs=0.001
    )
    adopt(manager, gorse, "efficiency")
    gorse.refresh_from_db()
    assert gorse.efficiency == before["efficiency_seen"]
    after = seen(manager, gorse)
    assert after["fit"] == "fits"
    assert after["share"] == pytest.approx(1.0, abs=0.05)
    assert Change.objects.for_farm(gorse.farm).order_by("-pk")[0].done == "block_changed"
    # Once is enough.
    adopt(manager, gorse, "efficiency", 422)


def test_adopted_as_rate(manager: Api, gorse: Block) -> None:
    """Irrigations on record keep their amounts, and tell nothing of the new rate."""
    before = seen(manager, gorse)
    assert before["rate_mm_h_seen"] == pytest.approx(4.5 * before["share"], abs=0.001)
    assert before["flow_m3_h_seen"] is None
    adopt(manager, gorse, "rate")
    gorse.refresh_from_db()
    assert (gorse.rate_mm_h, gorse.flow_m3_h) == (before["rate_mm_h_seen"], None)
    assert seen(manager, gorse) is None
    adopt(manager, gorse, "rate", 422)


def test_a_flow_is_adopted_as_flow(manager: Api, gorse: Block) -> None:
    Block.objects.for_farm(gorse.farm).filter(pk=gorse.pk).update(rate_mm_h=None, flow_m3_h=80.0)
    before = seen(manager, gorse)
    assert before["rate_mm_h_seen"] is None
    adopt(manager, gorse, "rate")
    gorse.refresh_from_db()
    assert gorse.flow_m3_h == pytest.approx(80.0 * before["share"], abs=0.001)


def test_a_rate_by_design_is_changed_there(manager: Api, gorse: Block) -> None:
    Block.objects.for_farm(gorse.farm).filter(pk=gorse.pk).update(design={"wetted_fraction": 1.0})
    assert seen(manager, gorse)["rate_mm_h_seen"] is None
    refused = adopt(manager, gorse, "rate", 422)
    assert "change the design" in str(refused)


def test_more_than_was_applied_is_no_efficiency(manager: Api, gorse: Block) -> None:
    for row in Irrigation.objects.for_farm(gorse.farm).filter(block=gorse):
        row.gross_mm *= 0.4
        row.save()
    found = seen(manager, gorse)
    assert found["share"] > 1
    assert found["efficiency_seen"] is None
    refused = adopt(manager, gorse, "efficiency", 422)
    assert "as the application rate" in str(refused)


def test_tensions_do_not_tell_it(manager: Api, farm: Farm) -> None:
    block = Block.objects.for_farm(farm).get(name="Tarn Breck")
    assert seen(manager, block) is None
    adopt(manager, block, "rate", 422)


def test_who_may(as_role: Any, gorse: Block) -> None:
    scout = as_role(Role.SCOUT)
    assert seen(scout, gorse)["share"] < 1
    adopt(scout, gorse, "efficiency", 403)
