"""The board's lines are made anew where something changed, and only there."""

from collections.abc import Callable
from datetime import UTC, date, datetime, timedelta

import numpy as np
import pytest
from django.db import IntegrityError, connection, transaction

from core.instrument.reading_units import code_of
from server.advice.models import Advice, StoredAnswer, Touched
from server.advice.stored import OLDEST, WORKER_TAKES_S, needs_refresh, refresh
from server.blocks.models import Block, CropSeason, EventKind, SeasonEvent
from server.farms.models import Farm
from server.instruments.models import Channel, Instrument, InstrumentEvent
from server.limits.models import RefillRule
from server.readings.models import ReadingBatch
from server.readings.store import ROW, row_of, store_readings
from server.soils.models import Horizon
from server.today.tasks import freshen
from server.water.models import Hold, Irrigation
from server.weather.models import WeatherDay
from tests.server.conftest import Api

BASE = "/farms/thistlewick"


@pytest.fixture
def fresh(farm: Farm) -> Farm:
    refresh(farm)
    assert not needs_refresh(farm)
    return farm


def bring_reading(block: Block) -> None:
    channel = Channel.objects.for_farm(block.farm).filter(instrument__block=block).first()
    assert channel is not None
    batch = ReadingBatch(farm=block.farm, origin=ReadingBatch.Origin.HAND)
    batch.save()
    at = block.farm.now() - timedelta(minutes=3)
    rows = [row_of(channel.pk, at, 0.24, code_of("m3/m3"))]
    store_readings(batch, np.array(rows, ROW))


def change_limits(block: Block) -> None:
    RefillRule.unscoped.bulk_create(
        [RefillRule(block=block, refill_method="flat", reason="", made_at=datetime.now(UTC))]
    )


def see_stage(block: Block) -> None:
    season = CropSeason.objects.for_farm(block.farm).filter(block=block).first()
    SeasonEvent(season=season, kind=EventKind.CUT, on=date(2026, 7, 1)).save()


def log_service(block: Block) -> None:
    instrument = Instrument.objects.for_farm(block.farm).filter(block=block).first()
    InstrumentEvent(instrument=instrument, kind="note", at=block.farm.now(), note="x").save()


def add_irrigations(block: Block) -> None:
    at = block.farm.now() - timedelta(hours=5)
    Irrigation(block=block, started_at=at, ended_at=at + timedelta(hours=2), gross_mm=9).save()


def hold(block: Block) -> None:
    now = block.farm.now()
    Hold(block=block, kind="spray", starts_at=now, ends_at=now + timedelta(days=1)).save()


def rename(block: Block) -> None:
    Block.unscoped.filter(pk=block.pk).update(name="Quern Field, lower")


@pytest.mark.parametrize(
    "change", [bring_reading, change_limits, see_stage, log_service, add_irrigations, hold, rename]
)
def test_a_change_of_a_block_makes_its_line_anew_and_no_other(
    fresh: Farm, block: Block, change: Callable[[Block], None]
) -> None:
    change(block)
    assert needs_refresh(fresh)
    assert refresh(fresh) == [block.pk]
    assert not needs_refresh(fresh)
    assert not Touched.objects.filter(farm_id=fresh.pk).exists()


def change_soil(farm: Farm) -> None:
    row = Horizon.unscoped.filter(profile__farm=farm).first()
    assert row is not None
    row.gravel = 3
    row.save()


def change_rain(farm: Farm) -> None:
    WeatherDay.objects.for_farm(farm).filter(date="2026-07-10").update(rain_mm=4)


def enter_et(farm: Farm) -> None:
    farm.et0_low, farm.et0_expected, farm.et0_high = 4, 5, 6
    farm.save()


def test_a_soil_makes_the_lines_of_its_blocks_anew(fresh: Farm) -> None:
    change_soil(fresh)
    row = Horizon.unscoped.filter(profile__farm=fresh).first()
    assert row is not None
    under = Block.objects.for_farm(fresh).filter(soils__soil=row.profile)
    assert sorted(refresh(fresh)) == sorted(under.values_list("pk", flat=True)) != []


@pytest.mark.parametrize("change", [change_rain, enter_et])
def test_a_change_of_the_farm_makes_every_line_anew(
    fresh: Farm, change: Callable[[Farm], None]
) -> None:
    change(fresh)
    assert len(refresh(fresh)) == 12


def test_another_farm_is_left_alone(fresh: Farm, stranger: Api) -> None:
    other = Farm.objects.get(slug="barrow")
    WeatherDay(farm=other, date=date(2026, 7, 10), rain_mm=4, source="x").save()
    assert not needs_refresh(fresh)
    assert needs_refresh(other)
    assert refresh(other) == []
    assert not needs_refresh(other)


def test_a_line_grows_old_with_the_clock(fresh: Farm) -> None:
    StoredAnswer.objects.for_farm(fresh).update(made_at=fresh.now() - OLDEST * 1.1)
    assert needs_refresh(fresh)
    assert len(refresh(fresh)) == 12


def test_other_rules_make_every_line_anew(fresh: Farm) -> None:
    StoredAnswer.objects.for_farm(fresh).update(version="older")
    assert len(refresh(fresh)) == 12


def test_stored_lines_are_what_the_block_itself_says(manager: Api, farm: Farm) -> None:
    for row in manager.get(f"{BASE}/board")["rows"][:4]:
        block = manager.get(f"{BASE}/blocks/{row['id']}")
        assert row["answer"]["state"] == block["answer"]["state"]
        assert row["ahead"] == block["ahead"]


def test_an_advice_is_never_rewritten(farm: Farm) -> None:
    row = Advice.objects.for_farm(farm).first()
    assert row is not None
    row.state = "ok"
    with pytest.raises(IntegrityError, match="never rewritten"), transaction.atomic():
        row.save()
    with (
        pytest.raises(IntegrityError, match="never rewritten"),
        transaction.atomic(),
        connection.cursor() as cursor,
    ):
        cursor.execute("UPDATE advice_advice SET gross_mm = 1")


def send_by_logger(manager: Api, block: Block) -> None:
    made = manager.post(f"{BASE}/devices", {"name": "L", "instruments": []}, status=201)
    channel = Channel.objects.for_farm(block.farm).filter(instrument__block=block).first()
    assert channel is not None
    at = (block.farm.now() - timedelta(minutes=3)).isoformat()
    series = {"channel": channel.pk, "unit": "m3/m3", "times": [at], "values": [0.24]}
    answer = manager.client.post(
        "/api/ingest",
        {"series": [series]},
        content_type="application/json",
        headers={"Authorization": f"Bearer {made['token']}"},
    )
    assert answer.json()["new"] == 1


def made_at(block: Block) -> datetime:
    return StoredAnswer.objects.for_farm(block.farm).get(block=block).made_at


def test_nobody_waits_for_what_a_logger_sent_a_moment_ago(
    fresh: Farm, block: Block, manager: Api
) -> None:
    """A worker takes it in within seconds; what none took in for a minute, who looks does."""
    StoredAnswer.objects.for_farm(fresh).update(made_at=fresh.now() - timedelta(minutes=9))
    before = made_at(block)
    send_by_logger(manager, block)
    assert needs_refresh(fresh)
    assert not needs_refresh(fresh, also_loggers=False)
    manager.get(f"{BASE}/board")
    assert made_at(block) == before
    Touched.objects.filter(by_logger=True).update(
        noted_at=datetime.now(UTC) - timedelta(seconds=WORKER_TAKES_S + 1)
    )
    assert needs_refresh(fresh, also_loggers=False)
    manager.get(f"{BASE}/board")
    assert made_at(block) == fresh.now()


@pytest.mark.parametrize("change", [bring_reading, add_irrigations])
def test_everybody_sees_at_once_what_a_person_did(
    fresh: Farm, block: Block, manager: Api, change: Callable[[Block], None]
) -> None:
    send_by_logger(manager, block)
    change(block)
    assert needs_refresh(fresh, also_loggers=False)
    # What a logger says of itself ends with its own request.
    assert set(Touched.objects.values_list("by_logger", flat=True)) == {True, False}
    freshen(0)
    assert not needs_refresh(fresh)
