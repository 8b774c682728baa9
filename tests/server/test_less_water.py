"""Plans of less water and calendars of cuts, over the API."""

from collections.abc import Callable
from typing import Any

import pytest

from server.blocks.models import Block, EventKind, SeasonEvent
from server.cuttings.models import CutPlan
from server.farms.models import Farm, Role
from server.supply.describe import network_in_force
from tests.server.conftest import Api

pytestmark = pytest.mark.django_db

BASE = "/farms/thistlewick/blocks"


def at(farm: Farm, name: str) -> str:
    return f"{BASE}/{Block.objects.for_farm(farm).get(name=name).pk}"


def test_a_plan_of_less_water(manager: Api, farm: Farm) -> None:
    block = at(farm, "Quern Field")
    assert manager.get(f"{block}/less-water")["plan"] is None
    usual = manager.get(block)["answer"]
    stages = [
        {"stage": "mid season", "use_share": 0.7},
        {"stage": "late season", "allowed": 0.6},
    ]
    saved = manager.put(
        f"{block}/less-water", {"stages": stages, "since": "2026-07-10", "application_mm": 10}
    )
    assert {s["stage"]: s["use_share"] or s["allowed"] for s in saved["stages"]} == {
        "mid season": 0.7,
        "late season": 0.6,
    }
    answer = manager.get(block)["answer"]
    assert answer["regime"] == "deficit"
    assert answer["deficit"]["use_share"] == 0.7
    assert answer["deficit"]["application_mm"] == 10
    assert 0 < answer["deficit"]["yield_share"] < 1
    assert "less_by_plan" in answer["reasons"]
    assert answer["deficit_mm"] == pytest.approx(usual["deficit_mm"])
    manager.delete(f"{block}/less-water")
    assert manager.get(block)["answer"]["regime"] == "above_refill"
    manager.delete(f"{block}/less-water", status=404)


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"stages": []}, "stages"),
        ({"stages": [{"stage": "mid season"}]}, "use_share"),
        ({"stages": [{"stage": "mid season", "use_share": 0.1}]}, "use_share"),
        ({"stages": [{"stage": "mid season", "allowed": 0.95}]}, "allowed"),
        ({"stages": [{"stage": "season over", "allowed": 0.6}]}, "stages"),
    ],
)
def test_plans_that_are_none_are_refused(
    manager: Api, farm: Farm, body: dict[str, Any], field: str
) -> None:
    block = at(farm, "Quern Field")
    refused = manager.put(f"{block}/less-water", body, status=422)
    assert field in {p["field"] for p in refused["problems"]}
    assert manager.get(f"{block}/less-water")["plan"] is None


def test_the_demos_hay(manager: Api, farm: Farm) -> None:
    block = at(farm, "Sallow Bank")
    plan = manager.get(f"{block}/cut-plan")["plan"]
    assert (plan["planned"], plan["every_days"]) == (["2026-07-15"], 28)
    answer = manager.get(block)["answer"]
    assert answer["regime"] == "cut_or_grazed"
    ahead = answer["cutting"]["ahead"]
    assert [h["on"] for h in ahead] == ["2026-07-15", "2026-08-12"]
    assert (ahead[0]["dry_from"], ahead[0]["water_from"]) == ("2026-07-11", "2026-07-17")


def test_hay_follows_the_weather_where_nobody_says_how_long(manager: Api, farm: Farm) -> None:
    block = at(farm, "Sallow Bank")
    manager.put(f"{block}/cut-plan", {"planned": ["2026-07-16"], "dry_before_days": 2})
    ahead = manager.get(block)["answer"]["cutting"]["ahead"][0]
    # 18 mm at about 5.8 a day are four days, a little more or less.
    assert "2026-07-19" <= ahead["water_from_early"] <= ahead["water_from"] <= "2026-07-23"


def test_paddocks_are_grazed_in_their_order(manager: Api, farm: Farm) -> None:
    first, second = at(farm, "Low Ings"), at(farm, "Sallow Bank")
    grazed = {"harvested": "grazed", "rotation": "Carr round", "taken_days": 4}
    manager.put(f"{first}/cut-plan", {**grazed, "place": 1})
    manager.put(f"{second}/cut-plan", {**grazed, "rotation": "carr round", "place": 2})
    pasture = Block.objects.for_farm(farm).get(name="Low Ings").seasons.get()
    SeasonEvent(season=pasture, kind=EventKind.CUT, on="2026-07-12").save()
    # Stock came to the first on the 12th for four days, then goes to the second, and back.
    told = [
        [h["on"] for h in manager.get(b)["answer"]["cutting"]["ahead"]] for b in (first, second)
    ]
    assert told[0][:2] == ["2026-07-12", "2026-07-20"]
    assert told[1][:2] == ["2026-07-16", "2026-07-24"]


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({}, "planned"),
        ({"every_days": 2}, "every_days"),
        ({"every_days": 28, "dry_before_days": 70}, "dry_before_days"),
        ({"harvested": "grazed", "every_days": 28}, "taken_days"),
    ],
)
def test_calendars_that_are_none_are_refused(
    manager: Api, farm: Farm, body: dict[str, Any], field: str
) -> None:
    block = at(farm, "Low Ings")
    refused = manager.put(f"{block}/cut-plan", body, status=422)
    assert field in {p["field"] for p in refused["problems"]}
    assert not CutPlan.objects.for_farm(farm).filter(block__name="Low Ings").exists()


def test_a_calendar_is_removed(manager: Api, farm: Farm) -> None:
    block = at(farm, "Sallow Bank")
    manager.delete(f"{block}/cut-plan")
    assert manager.get(f"{block}/cut-plan")["plan"] is None
    assert manager.get(block)["answer"]["regime"] == "above_refill"
    manager.delete(f"{block}/cut-plan", status=404)


def test_a_yield_is_worth_what_the_farm_says(manager: Api, farm: Farm) -> None:
    found = manager.get(f"{at(farm, 'Long Tye')}/yield-value")
    wanted = network_in_force(farm).document.value_ha("maize-grain")
    assert found["value"] == (None if wanted is None else pytest.approx(wanted * 38.0))


def test_only_who_sets_up_may_change_rules(as_role: Callable[[Role], Api], farm: Farm) -> None:
    scout = as_role(Role.SCOUT)
    block = at(farm, "Sallow Bank")
    scout.put(f"{block}/cut-plan", {"every_days": 28}, status=403)
    scout.put(
        f"{block}/less-water", {"stages": [{"stage": "mid season", "use_share": 0.7}]}, status=403
    )
