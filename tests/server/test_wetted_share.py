"""Water under drip: the same figures wherever a block's root zone is told of."""

import pytest

from server.blocks.models import Block
from server.farms.models import Farm
from server.water.equipment import wetted_share
from tests.server.conftest import Api

BASE = "/farms/thistlewick"


@pytest.fixture
def alder(farm: Farm) -> Block:
    return Block.objects.for_farm(farm).get(name="Alder Reach")


def test_list_limits_and_working_tell_one_taw_and_raw(manager: Api, alder: Block) -> None:
    """Sweet maize under drip that wets 45 percent of the ground."""
    line = next(b for b in manager.get(f"{BASE}/block-list") if b["id"] == alder.pk)
    limits = manager.get(f"{BASE}/blocks/{alder.pk}/limits")
    steps = {s["key"]: s for s in manager.get(f"{BASE}/blocks/{alder.pk}")["steps"]}
    taw, raw = steps["taw"], steps["raw"]
    assert limits["taw_mm"] == pytest.approx(taw["value"])
    assert line["taw_mm"] == pytest.approx(taw["value"])
    assert limits["raw_mm"] == pytest.approx(raw["value"], rel=0.01)
    assert line["raw_mm"] == pytest.approx(limits["raw_mm"])
    assert limits["wetted_share"] == line["wetted_share"] == 0.45
    strip = next(t for t in taw["terms"] if t["symbol"] == "strip")
    assert strip["value"] == 0.45
    held = sum(x["full_mm"] - x["wilt_mm"] for x in limits["layers"])
    assert held == pytest.approx(limits["taw_mm"])
    assert limits["full_mm"] - limits["wilt_mm"] == pytest.approx(limits["taw_mm"])


def test_drip_without_a_design_is_assumed_to_wet_a_part(alder: Block) -> None:
    assert (wetted_share(alder).share, wetted_share(alder).source) == (0.45, "design")
    alder.design = {}
    assert wetted_share(alder).share == 0.35
    assert wetted_share(alder).source.startswith("FAO-56 table 20")
    alder.system_kind = "micro-sprinkler"
    assert wetted_share(alder).share == 0.5
    alder.system_kind = "pivot"
    assert wetted_share(alder).share == 1.0
