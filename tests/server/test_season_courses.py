"""A block's seasons, to be laid over each other: the demo has two of one field."""

from datetime import date, timedelta
from typing import Any

import pytest

from server.blocks.models import Block, CropSeason
from server.farms.models import Farm
from server.weather.models import WeatherDay
from tests.server.conftest import Api

BASE = "/farms/thistlewick"


@pytest.fixture
def maize(farm: Farm) -> Block:
    return Block.objects.for_farm(farm).get(name="Long Tye")


def courses(api: Api, block: Block) -> list[dict[str, Any]]:
    """The newest first."""
    rows = api.get(f"{BASE}/blocks/{block.pk}/seasons")
    return [api.get(f"{BASE}/blocks/{block.pk}/seasons/{r['id']}/course") for r in rows]


def at_the_end(course: dict[str, Any]) -> dict[str, Any]:
    return {name: sums[-1] for name, sums in course["totals"].items()}


def test_two_seasons_of_one_field(manager: Api, maize: Block, farm: Farm) -> None:
    now, last = courses(manager, maize)
    assert (now["is_over"], last["is_over"]) == (False, True)
    assert (now["first"], now["last"]) == ("2026-04-22", "2026-07-13")
    assert last["first"] == last["planted_on"] == "2025-04-27"
    # As long as the book has the crop stand, or as the record reaches.
    assert date.fromisoformat(last["last"]) - date.fromisoformat(last["first"]) > timedelta(120)
    for one in (now, last):
        days = (date.fromisoformat(one["last"]) - date.fromisoformat(one["first"])).days + 1
        for name in ("depletion_mm", "taw_mm", "raw_mm", "degree_days"):
            assert len(one[name]) == days
        warmth = one["degree_days"]
        assert warmth == sorted(warmth)
        known = [x for x in one["depletion_mm"] if x is not None]
        assert len(known) > 0.9 * days
        assert all(r < t for r, t in zip(one["raw_mm"], one["taw_mm"], strict=True) if r and t)
    assert {len(sums) for sums in last["totals"].values()} == {len(last["raw_mm"])}
    totals = at_the_end(last)
    early = {name: sums[30] for name, sums in last["totals"].items()}
    assert early["used_mm"] < totals["used_mm"]
    assert early["irrigations"] < totals["irrigations"]
    month = WeatherDay.objects.for_farm(farm).filter(
        date__gte=last["first"], date__lte=date.fromisoformat(last["first"]) + timedelta(30)
    )
    assert early["rain_mm"] == pytest.approx(sum(d.rain_mm for d in month))
    rain = WeatherDay.objects.for_farm(farm).filter(date__gte=last["first"], date__lte=last["last"])
    assert totals["rain_mm"] == pytest.approx(sum(d.rain_mm for d in rain))
    assert totals["irrigations"] == maize.irrigations.filter(started_at__year=2025).count() > 3
    assert totals["used_mm"] > at_the_end(now)["used_mm"] > 100
    assert totals["wettings"] > 3
    assert 0 <= totals["below_refill_days"] < 60


def test_water_of_one_season_is_not_the_other_s(manager: Api, maize: Block) -> None:
    """Their irrigations are all that are on record and done."""
    both = [at_the_end(c)["irrigations"] for c in courses(manager, maize)]
    done = maize.irrigations.filter(status="done").count()
    early = maize.irrigations.filter(status="done", started_at__lt="2025-04-26T22:00Z").count()
    assert sum(both) == done - early


def test_a_season_without_weather(manager: Api, maize: Block) -> None:
    """Nobody wrote down what the weather was: nothing is known."""
    row = CropSeason(block=maize, crop_key="maize-grain", planted_on=date(2020, 5, 1))
    row.save()
    path = f"{BASE}/blocks/{maize.pk}/seasons"
    assert "Nothing is known" in manager.get(f"{path}/{row.pk}/course", 404)["message"]
    manager.get(f"{path}/999999/course", 404)


def test_a_crop_without_degree_days(manager: Api, farm: Farm) -> None:
    block = Block.objects.for_farm(farm).get(name="Low Ings")
    (only,) = courses(manager, block)
    assert only["degree_days"] is None
