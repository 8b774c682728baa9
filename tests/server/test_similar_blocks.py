"""A block without a site borrows from similar ones."""

from typing import Any

import pytest

from core.learned.use_factor import UseFactor, UseFit
from server.blocks.models import Block
from server.farms.access import enter
from server.farms.models import Farm, Membership, Role
from server.instruments.models import Instrument
from server.maps.outlines import block_like
from tests.server.conftest import Api
from tests.server.test_touching import touched

BASE = "/farms/thistlewick"
PROBED = "Long Tye"


@pytest.fixture
def bare(manager: Api, farm: Farm) -> Block:
    """A block as Long Tye, without a probe."""
    user = Membership.objects.filter(farm=farm, role=Role.MANAGER)[0].user
    access = enter(user, farm.slug)
    pattern = Block.objects.for_farm(farm).get(name=PROBED)
    return block_like(access, pattern, "New Tye", 90_000, None)


def similar_to(api: Api, block: Block) -> Any:
    return api.get(f"{BASE}/blocks/{block.pk}/similar")


def test_a_bare_block_is_shown_beside_similar_ones(manager: Api, farm: Farm, bare: Block) -> None:
    found = similar_to(manager, bare)
    assert found["sites"] == []
    (similar,) = found["blocks"]
    assert (similar["name"], similar["sites"]) == (PROBED, ["Probe L1"])
    board = {r["name"]: r for r in manager.get(f"{BASE}/board")["rows"]}
    assert similar["now"]["deficit_mm"] == board[PROBED]["answer"]["deficit_mm"]
    assert found["now"]["deficit_mm"] == board["New Tye"]["answer"]["deficit_mm"]
    own = Block.objects.for_farm(farm).get(name=PROBED)
    assert similar_to(manager, own)["sites"] == ["Probe L1"]


def test_another_crop_slope_or_soil_is_not_similar(manager: Api, farm: Farm, bare: Block) -> None:
    bare.slope_percent = 9
    bare.save()
    assert similar_to(manager, bare)["blocks"] == []


def seen(monkeypatch: pytest.MonkeyPatch, share: float) -> None:
    """What the similar block's crop is taken to have shown."""
    found = UseFactor(days=20, share=share, low=share - 0.02, high=share + 0.02)

    class Shown:
        use = found

    for place in ("similar_blocks", "adopt_use"):
        monkeypatch.setattr(f"server.advice.{place}.block_refill", lambda *_: Shown())


def test_the_use_of_a_similar_block_becomes_its_kc(
    manager: Api, farm: Farm, bare: Block, monkeypatch: pytest.MonkeyPatch
) -> None:
    seen(monkeypatch, 0.8)
    assert similar_to(manager, bare)["blocks"][0]["use"]["fit"] == str(UseFit.DIFFERS)
    similar = Block.objects.for_farm(farm).get(name=PROBED)
    before = bare.seasons.order_by("-planted_on")[0]
    body = {"reason": "as its neighbour", "similar_block_id": similar.pk}
    manager.post(f"{BASE}/blocks/{bare.pk}/use", body, 201)
    season = bare.seasons.get(pk=before.pk)
    assert season.farm_crop is not None
    assert PROBED in season.farm_crop.name
    assert season.farm_crop.reason == "as its neighbour"
    assert similar.seasons.order_by("-planted_on")[0].farm_crop_id is None


def test_only_a_bare_block_borrows_and_only_from_a_similar_one(
    manager: Api, farm: Farm, bare: Block, monkeypatch: pytest.MonkeyPatch
) -> None:
    seen(monkeypatch, 0.8)
    other = Block.objects.for_farm(farm).get(name="Quern Field")
    own = Block.objects.for_farm(farm).get(name=PROBED)
    for block, similar in ((bare, other.pk), (own, own.pk), (own, bare.pk), (bare, 10**6)):
        body = {"reason": "", "similar_block_id": similar}
        refused = manager.post(f"{BASE}/blocks/{block.pk}/use", body, 422)
        assert refused["problems"][0]["field"] == "similar_block_id"


def test_a_block_with_a_second_probe_has_sites_of_its_own(
    manager: Api, farm: Farm, bare: Block
) -> None:
    Instrument(block=bare, label="N1", kind="granular_matrix").save()
    assert similar_to(manager, bare)["sites"] == ["N1"]


def borrow(api: Api, block: Block, similar: int | None, status: int = 200) -> Any:
    return api.put(
        f"{BASE}/blocks/{block.pk}/similar", {"similar_block_id": similar}, status=status
    )


def line(api: Api, block: Block) -> Any:
    rows = api.get(f"{BASE}/board")["rows"]
    return next(r["answer"] for r in rows if r["id"] == block.pk)


def test_a_bare_block_is_estimated_from_borrowed_readings(
    manager: Api, farm: Farm, bare: Block
) -> None:
    similar = Block.objects.for_farm(farm).get(name=PROBED)
    assert line(manager, bare)["deficit_mm"] is None
    found = borrow(manager, bare, similar.pk)
    assert (found["borrows_from"]["id"], found["borrows_from"]["name"]) == (similar.pk, PROBED)
    told, lent = line(manager, bare), line(manager, similar)
    assert told["deficit_mm"] is not None
    assert told["sigma_mm"] > lent["sigma_mm"]
    page = manager.get(f"{BASE}/blocks/{bare.pk}")
    assert "Probe L1, Long Tye" in str(page)
    assert borrow(manager, bare, None)["borrows_from"] is None
    assert line(manager, bare)["deficit_mm"] is None


def test_a_probe_of_its_own_comes_before_borrowed_ones(
    manager: Api, farm: Farm, bare: Block
) -> None:
    similar = Block.objects.for_farm(farm).get(name=PROBED)
    borrow(manager, bare, similar.pk)
    body = {"label": "N2", "kind": "tensiometer", "depths_mm": [300], "serial": "", "site": ""}
    manager.post(f"{BASE}/blocks/{bare.pk}/instruments", body, 201)
    assert line(manager, bare)["deficit_mm"] is None


def test_readings_are_borrowed_by_a_bare_block_of_a_similar_one_alone(
    manager: Api, farm: Farm, bare: Block, as_role: Any
) -> None:
    other = Block.objects.for_farm(farm).get(name="Quern Field")
    own = Block.objects.for_farm(farm).get(name=PROBED)
    for block, similar in ((bare, other.pk), (own, bare.pk), (bare, bare.pk), (bare, 10**6)):
        refused = borrow(manager, block, similar, 422)
        assert refused["problems"][0]["field"] == "similar_block_id"
    borrow(as_role(Role.SCOUT), bare, own.pk, 403)


def test_what_a_lender_reads_touches_its_borrowers(manager: Api, farm: Farm, bare: Block) -> None:
    similar = Block.objects.for_farm(farm).get(name=PROBED)
    borrow(manager, bare, similar.pk)
    probe = similar.instruments.get(label="Probe L1")
    channel = probe.channels.order_by("depth_mm")[0]
    value = {"channel_id": channel.pk, "value": 20.0}
    body = {"time": "2026-07-10T06:03", "unit": "%", "values": [value]}

    def read() -> None:
        manager.post(f"{BASE}/instruments/{probe.pk}/readings", body, 200)

    assert {block for _, block, _ in touched(read)} >= {bare.pk, similar.pk}
    assert {block for _, block, _ in touched(probe.save)} == {bare.pk, similar.pk}
