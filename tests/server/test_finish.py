"""A block's last irrigations on the demo farm."""

from itertools import pairwise
from typing import Any

import pytest

from server.blocks.models import Block
from server.farms.models import Farm
from tests.server.conftest import Api
from tests.server.test_water import WATER, a_set


def path(block: Block, query: str = "") -> str:
    return f"/farms/thistlewick/blocks/{block.pk}/finish{query}"


def finishes(manager: Api, farm: Farm, query: str = "") -> dict[str, Any]:
    return {b.name: manager.get(path(b, query)) for b in Block.objects.for_farm(farm)}


def test_an_annual_crop_has_a_finish_and_a_perennial_has_not(manager: Api, farm: Farm) -> None:
    of = finishes(manager, farm)
    assert of["Wick Terrace"]["status"] == "no_finish"
    assert of["Gorse Piece"]["status"] == "no_state"
    found = of["Quern Field"]
    assert (found["status"], found["ripe_on"], found["days"]) == ("known", "2026-08-28", 45)
    outcome = found["outcome"]
    assert outcome["finished"] is False
    # The sheet adds up, and the irrigations bring what is lacking at nine tenths of the courses.
    left = outcome["usable_mm"] + outcome["rain_mm"] - outcome["need_mm"]
    assert outcome["spare_mm"] == pytest.approx(left, abs=0.2)
    assert outcome["short"] > 0.9
    assert outcome["short_after"] <= 0.1
    assert sum(m["net_mm"] for m in outcome["more"]) >= -outcome["spare_mm"] - 1.0
    days = [(m["first_on"], m["last_on"]) for m in outcome["more"]]
    assert all(first <= last for first, last in days)
    assert all(before[1] < after[0] for before, after in pairwise(days))


def test_a_reserve_asks_for_more_and_a_lower_chance_for_less(manager: Api, block: Block) -> None:
    every = manager.get(path(block))
    kept = manager.get(path(block, "?method=reserve"))
    assert kept["reserve_mm"] == pytest.approx(0.4 * kept["taw_mm"], abs=0.1)
    assert kept["outcome"]["spare_mm"] == pytest.approx(
        every["outcome"]["spare_mm"] - kept["reserve_mm"], abs=0.2
    )
    even = manager.get(path(block, "?chance=0.5"))
    assert even["outcome"]["spare_mm"] > every["outcome"]["spare_mm"]
    assert manager.get(path(block, "?chance=1.5"), 422)["message"]
    # A crop that is further on needs less.
    assert every["if_earlier"]["need_mm"] < every["outcome"]["need_mm"]
    assert every["outcome"]["need_mm"] < every["if_later"]["need_mm"]


def test_a_loss_is_in_yield_and_its_price_is_the_farms(manager: Api, block: Block) -> None:
    """FAO-33: as much of the yield as Ky says for the share of the crop's use that is lacking."""
    found = manager.get(path(block))
    outcome = found["outcome"]
    assert 0.0 < outcome["short_after_loss"] < outcome["short_loss"] <= 1.0
    per_mm = outcome["short_loss"] / outcome["short_mm"]
    assert outcome["short_after_loss"] == pytest.approx(
        per_mm * outcome["short_after_mm"], abs=2e-3
    )
    assert (found["currency"], found["value"]) == ("€", pytest.approx(0.8 * block.area_m2))
    assert manager.get(path(block, "?method=reserve"))["outcome"]["short_loss"] is None


def test_a_stage_seen_in_the_field_moves_its_end_and_finds_the_table(
    manager: Api, farm: Farm
) -> None:
    """Maize at half milk line: 13 days and 57 mm to maturity in the tables, whatever day it is by
    the calendar; the day after one less."""
    maize = Block.objects.for_farm(farm).get(name="Long Tye")
    before = manager.get(path(maize))
    assert before["table"] is None
    seen = {"kind": "stage", "on": "2026-07-14", "stage_key": "half-milk"}
    at = f"/farms/thistlewick/blocks/{maize.pk}/seasons"
    manager.post(f"{at}/{manager.get(at)[0]['id']}/events", seen, 201)
    found = manager.get(path(maize))
    assert found["table"]["days"] == pytest.approx(13.0, abs=1.5)
    assert found["table"]["use_mm"] == pytest.approx(57.0, abs=8.0)
    assert found["days"] < before["days"] - 20


@pytest.fixture
def corn(farm: Farm) -> Block:
    """Sweet maize, a week before it is ripe."""
    return Block.objects.for_farm(farm).get(name="Alder Reach")


def test_board_and_page_tell_the_same_last_irrigation(manager: Api, corn: Block) -> None:
    found = manager.get(path(corn))
    (one,) = found["outcome"]["more"]
    rows = manager.get("/farms/thistlewick/board")["rows"]
    answer = next(r["answer"] for r in rows if r["id"] == corn.pk)
    assert "may_be_the_last" in answer["reasons"]
    assert answer["amount"]["net_mm"] == pytest.approx(one["net_mm"], abs=0.1)
    assert one["net_mm"] == pytest.approx(-found["outcome"]["spare_mm"], abs=0.1)
    assert one["first_on"] <= answer["start_at"][:10] <= one["last_on"]


def test_an_irrigation_has_the_price_of_its_water_and_power(manager: Api, corn: Block) -> None:
    """A kilowatt-hour outside the bands, what a cubic metre takes, and an hour of work."""
    network = manager.get("/farms/thistlewick/supply")["network"]
    source = next(s for s in network["sources"] if s["name"] == corn.supply)
    tariff = next(t for t in network["tariffs"] if t["name"] == source["tariff"])
    work = next((c for c in network["connections"] if c["block_id"] == corn.pk), None)
    (one,) = manager.get(path(corn))["outcome"]["more"]
    m3 = one["gross_mm"] * corn.area_m2 / 1000
    kwh = source["kwh_m3"] or source["head_m"] * 9.81 / 3600 / source["efficiency"]
    labour = (work["labour_h"] or 0.0) * network["labour_price"] if work else 0.0
    expected = m3 * (kwh * tariff["price"] + source["water_price"]) + labour
    assert one["price"] == pytest.approx(expected, rel=0.01)


def test_what_is_planned_may_finish_it(manager: Api, corn: Block) -> None:
    (one,) = manager.get(path(corn))["outcome"]["more"]
    # Drip brings 2.4 mm/h.
    hours = (one["gross_mm"] + 3.0) / 2.4
    plan = a_set(corn, status="planned", started_at="2026-07-16T06:00", ended_at=None, hours=hours)
    manager.post(WATER, plan, 201)
    outcome = manager.get(path(corn))["outcome"]
    assert outcome["finished"]
    assert outcome["planned_mm"] == pytest.approx((one["gross_mm"] + 3.0) * 0.9, abs=0.2)
    left = outcome["usable_mm"] + outcome["rain_mm"] + outcome["planned_mm"] - outcome["need_mm"]
    assert outcome["spare_mm"] == pytest.approx(left, abs=0.2)
    assert manager.get(f"/farms/thistlewick/blocks/{corn.pk}")["answer"]["state"] == "finished"
