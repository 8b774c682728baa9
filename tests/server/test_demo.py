"""The demo farm: made once, the same each time, invented throughout."""

from typing import Any

from django.core.management import call_command

from core.crop.catalogue import crops
from server.accounts.demo_people import PEOPLE, demo_user
from server.accounts.models import User
from server.demo.farm import BLOCKS, NOW
from server.demo.seed import simulate
from server.farms.models import Farm, Membership, Role
from server.readings.models import Reading, ReadingBatch
from server.water.models import Irrigation
from server.weather.models import WeatherDay


def test_seeding_again_changes_nothing(farm: Farm) -> None:
    before = Reading.objects.for_farm(farm).count()
    call_command("seed_demo")
    assert Farm.objects.filter(slug="thistlewick").count() == 1
    assert Reading.objects.for_farm(farm).count() == before


def test_the_world_is_the_same_each_time() -> None:
    (weather, run), (again, rerun) = simulate(), simulate()
    assert (weather.et0_mm == again.et0_mm).all()
    assert (run.theta == rerun.theta).all()
    assert run.sets == rerun.sets


def test_everyone_has_a_place(farm: Farm) -> None:
    assert set(PEOPLE) == set(Role)
    for role in Role:
        user = demo_user(role)
        assert user is not None
        assert Membership.objects.get(user=user, farm=farm).role == role
    assert User.objects.filter(email__endswith=".example").count() == len(PEOPLE)


def test_nothing_lies_after_the_farms_now(farm: Farm) -> None:
    assert farm.now() == NOW
    assert Reading.objects.for_farm(farm).latest("time").time <= NOW
    given = Irrigation.objects.for_farm(farm).filter(status=Irrigation.Status.DONE)
    assert given.latest("ended_at").ended_at <= NOW
    assert WeatherDay.objects.for_farm(farm).latest("date").date < NOW.date()


def test_everything_simulated_says_so(farm: Farm) -> None:
    assert farm.simulated
    origins = ReadingBatch.objects.for_farm(farm).values_list("origin", flat=True)
    assert set(origins) == {"simulated"}
    sources = WeatherDay.objects.for_farm(farm).values_list("source", flat=True)
    assert set(sources) == {"simulated"}


def test_blocks_differ_in_what_matters() -> None:
    assert len(BLOCKS) >= 6
    assert all(b.crop in crops() for b in BLOCKS)
    kinds: set[Any] = {i.kind for b in BLOCKS for i in b.instruments}
    units = {i.unit for b in BLOCKS for i in b.instruments}
    assert len(kinds) == 3
    assert len(units) == 4
    assert len({b.system for b in BLOCKS}) >= 5
    assert len({tuple(h.texture for h in b.horizons) for b in BLOCKS}) >= 6
