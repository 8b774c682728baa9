"""What a change makes wrong: each model says it, and the database notes it whoever writes."""

from collections.abc import Callable
from datetime import UTC, date, datetime, timedelta

import pytest
from django.apps import apps
from django.db import connection

from server.advice import touching
from server.advice.models import Touched
from server.blocks.models import Block
from server.farms.models import Farm
from server.farms.scope import FarmOwned
from server.readings.models import ReadingSpan
from server.soils.models import Horizon
from server.water.models import Hold, Irrigation
from server.weather.models import WeatherDay

TRIGGERS = """
SELECT c.relname, p.proname, t.tgname, pg_get_triggerdef(t.oid), pg_get_functiondef(p.oid)
FROM pg_trigger t JOIN pg_class c ON c.oid = t.tgrelid JOIN pg_proc p ON p.oid = t.tgfoid
WHERE p.proname LIKE '%\\_touches' ORDER BY 1, 3
"""
# No first morning: each is wrong. One after them all: none is.
ALL, NONE = None, date.max


def triggers() -> list[tuple[str, ...]]:
    with connection.cursor() as cursor:
        cursor.execute(TRIGGERS)
        return cursor.fetchall()


def touched(change: Callable[[], object]) -> set[tuple[int, int | None, object]]:
    """What a change makes wrong: farm, block and first morning."""
    Touched.objects.all().delete()
    change()
    with connection.cursor() as cursor:
        # The database's infinity is no date of Python's.
        cursor.execute(
            "SELECT farm_id, block_id, CASE WHEN first_on = 'infinity' THEN DATE '9999-12-31' "
            "ELSE first_on END FROM advice_touched"
        )
        return set(cursor.fetchall())


def test_every_model_of_a_farm_says_what_it_touches() -> None:
    silent = [
        m.__name__
        for m in apps.get_models()
        if issubclass(m, FarmOwned) and not hasattr(m, "touches")
    ]
    assert silent == []
    assert {"farms_farm", "water_irrigation", "readings_readingspan"} <= set(touching.declared())


@pytest.mark.django_db
def test_the_database_has_what_is_declared() -> None:
    there = triggers()
    assert {t[0] for t in there} == set(touching.declared())
    touching.install()
    assert triggers() == there


@pytest.mark.django_db
def test_what_is_declared_otherwise_is_made_anew(monkeypatch: pytest.MonkeyPatch) -> None:
    there = triggers()
    with connection.cursor() as cursor:
        cursor.execute("DROP FUNCTION water_hold_touches() CASCADE")
    fewer = touching.declared()
    del fewer["water_hold"], fewer["water_irrigation"]
    with monkeypatch.context() as planted:
        planted.setattr(touching, "declared", lambda: fewer)
        touching.install()
    assert {t[0] for t in triggers()} == set(fewer)
    touching.install()
    assert triggers() == there


def test_a_run_is_heard_of_the_next_morning(farm: Farm, block: Block) -> None:
    """From noon of the farm's day on it is the next day's: 11:00 UTC is noon in summer here."""
    row = Irrigation.objects.for_farm(farm).filter(block=block)[0]
    was = set(touched(row.save))  # as it was and as it is, one morning

    def move() -> None:
        row.started_at = datetime(2026, 7, 2, 11, 0, tzinfo=UTC)
        row.ended_at = row.started_at + timedelta(hours=3)
        row.save()

    assert touched(move) == was | {(farm.pk, block.pk, date(2026, 7, 3))}
    row.started_at = datetime(2026, 7, 2, 10, 59, tzinfo=UTC)
    assert (farm.pk, block.pk, date(2026, 7, 2)) in touched(row.save)


def test_a_hold_changes_no_day_that_was(farm: Farm, block: Block) -> None:
    now = farm.now()
    hold = Hold(block=block, kind="harvest", starts_at=now, ends_at=now + timedelta(days=1))
    assert touched(hold.save) == {(farm.pk, block.pk, NONE)}


def test_a_days_weather_is_heard_of_by_the_morning_after(farm: Farm) -> None:
    row = WeatherDay.objects.for_farm(farm).get(date=date(2026, 6, 30))
    assert touched(row.save) == {(farm.pk, None, date(2026, 7, 1))}
    assert touched(row.delete) == {(farm.pk, None, date(2026, 7, 1))}


def test_a_clock_that_is_set_changes_no_day_that_was(farm: Farm) -> None:
    def change(**columns: object) -> set[tuple[int, int | None, object]]:
        return touched(lambda: Farm.objects.filter(pk=farm.pk).update(**columns))

    assert change(fixed_now=datetime(2026, 7, 20, tzinfo=UTC)) == {(farm.pk, None, NONE)}
    assert change(time_zone="UTC") == {(farm.pk, None, ALL)}
    assert change(name="Another") == set()


def test_a_soil_touches_the_blocks_that_stand_on_it(farm: Farm, block: Block) -> None:
    soil = block.soils.order_by("pk")[0].soil
    horizon = Horizon.objects.for_farm(farm).filter(profile=soil)[0]
    blocks = set(Block.objects.for_farm(farm).filter(soils__soil=soil).values_list("pk", flat=True))
    expected = {(farm.pk, b, ALL) for b in blocks}
    assert touched(horizon.save) == expected
    assert touched(soil.save) == expected


def test_readings_touch_their_block_once_from_the_first_of_them(farm: Farm, block: Block) -> None:
    spans = ReadingSpan.objects.for_farm(farm).filter(channel__instrument__block=block)
    first = min(spans.values_list("start", flat=True))
    # Ten in the evening here: the morning of 1 April is the first to hear of it.
    assert first == datetime(2026, 3, 31, 21, tzinfo=UTC)
    assert touched(lambda: spans.update(count=1)) == {(farm.pk, block.pk, date(2026, 4, 1))}
