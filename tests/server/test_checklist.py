"""How far a farm is set up, and steps that it does without."""

from datetime import timedelta
from typing import Any

import pytest

from server.blocks.models import Block
from server.farms.models import Farm, Membership, Role
from server.instruments.models import Instrument
from server.readings.models import Reading
from server.weather.models import WeatherDay, WeatherForecast
from tests.server.conftest import Api

BASE = "/farms/thistlewick/checklist"


def steps(api: Api) -> dict[str, Any]:
    return {s["step"]: s for s in api.get(BASE)}


def test_the_demo_is_set_up(manager: Api, farm: Farm) -> None:
    found = steps(manager)
    assert list(found) == [
        *("position", "soil", "blocks", "equipment", "crop", "weather"),
        *("instruments", "readings", "people"),
    ]
    assert all(s["done"] and not s["skipped"] for s in found.values())
    assert (found["crop"]["count"], found["crop"]["of"]) == (12, 12)
    instruments = Instrument.objects.for_farm(farm).count()
    assert found["instruments"]["count"] == instruments
    assert found["people"]["count"] == Membership.objects.filter(farm=farm).count() - 1


@pytest.fixture
def bare(db: None, manager: Api) -> Farm:
    """A farm as `create_farm` leaves it, of the demo's manager."""
    made = Farm.objects.create(name="Bare", slug="bare", time_zone="CET")
    user = Membership.objects.get(farm__slug="thistlewick", role=Role.MANAGER).user
    Membership.objects.create(farm=made, user=user, role=Role.MANAGER)
    return made


def test_a_new_farm_has_everything_to_do(bare: Farm, manager: Api) -> None:
    found = manager.get("/farms/bare/checklist")
    assert not any(s["done"] or s["skipped"] for s in found)
    assert {s["step"]: s["of"] for s in found if s["of"] is not None} == {
        "position": 1,
        "equipment": 0,
        "crop": 0,
        "readings": 0,
    }


def test_each_kind_of_weather_counts(bare: Farm, manager: Api) -> None:
    def weather() -> int:
        found = manager.get("/farms/bare/checklist")
        return next(int(s["count"]) for s in found if s["step"] == "weather")

    bare.et0_low, bare.et0_expected, bare.et0_high = 4, 5, 6
    bare.save()
    assert weather() == 1
    today = bare.now().date()
    WeatherDay.unscoped.create(farm=bare, date=today - timedelta(days=4), et0_mm=5)
    assert weather() == 1, "older weather helps no morning"
    WeatherDay.unscoped.create(farm=bare, date=today - timedelta(days=3), et0_mm=5)
    assert weather() == 2
    assert not WeatherForecast.objects.for_farm(bare).exists()


def test_blocks_without_a_crop_are_counted(manager: Api, farm: Farm) -> None:
    Block.objects.for_farm(farm).get(name="Tarn Breck").seasons.all().delete()
    crop = steps(manager)["crop"]
    assert (crop["count"], crop["of"], crop["done"]) == (11, 12, True)


def test_an_instrument_that_was_never_read_is_counted(manager: Api, farm: Farm) -> None:
    Reading.unscoped.filter(channel__instrument__label="Probe Q1").delete()
    readings = steps(manager)["readings"]
    assert readings["count"] == readings["of"] - 1


def test_a_step_is_not_needed_and_needed_after_all(bare: Farm, manager: Api) -> None:
    path = "/farms/bare/checklist/people"
    for _ in range(2):
        found = {s["step"]: s for s in manager.put(path, {"skipped": True})}
        assert found["people"]["skipped"]
    assert not found["crop"]["skipped"]
    assert steps(manager)["people"]["skipped"] is False, "of the other farm"
    found = {s["step"]: s for s in manager.put(path, {"skipped": False})}
    assert not found["people"]["skipped"]


def test_who_may_not_set_up_may_not_skip(as_role: Any, farm: Farm) -> None:
    scout: Api = as_role(Role.SCOUT)
    assert steps(scout)["soil"]["done"]
    scout.put(f"{BASE}/people", {"skipped": True}, 403)
    manager: Api = as_role(Role.MANAGER)
    manager.put(f"{BASE}/lunch", {"skipped": True}, 422)
