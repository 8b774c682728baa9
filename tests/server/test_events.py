"""Wetting events as they are read, kept and shown; the core's own tests hold what they say."""

from datetime import timedelta
from typing import Any
from unittest import mock

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from server.blocks.models import Block
from server.events import bring_up as bring_up_module
from server.events.bring_up import bring_up
from server.events.models import EventsRead, EventsTouched, Wetting
from server.farms.models import Farm
from server.readings.models import Reading
from server.water.models import Irrigation
from tests.server.conftest import Api

BASE = "/farms/thistlewick"

COLUMNS = [
    f.attname for f in Wetting._meta.concrete_fields if f.attname not in ("id", "instrument_id")
]


def rows(block: Block) -> list[tuple[Any, ...]]:
    """All that is kept of a block's events."""
    return list(
        Wetting.unscoped.filter(block=block)
        .order_by("began_by", "instrument", "pk")
        .values_list(*COLUMNS)
    )


def shown(api: Api, block: Block, query: str = "") -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = api.get(f"{BASE}/blocks/{block.pk}/wettings{query}")
    return found


def test_a_season_of_events(manager: Api, block: Block) -> None:
    """Each figure lies where it can; the demo's irrigations answer."""
    events = shown(manager, block)
    assert len(events) > 10
    assert [e["began_by"] for e in events] == sorted(e["began_by"] for e in events)
    for event in events:
        assert event["began_after"] < event["began_by"] <= event["settled_at"]
        assert event["reached_low_mm"] <= event["reached_mm"]
        assert event["reached_high_mm"] is None or event["reached_mm"] <= event["reached_high_mm"]
        assert any(s["arrived_by"] for s in event["sensors"])
    brought = [e for e in events if e["irrigations"]]
    assert len(brought) > 5
    told = [e["recovery"] for e in brought if e["recovery"] is not None]
    assert 0.4 < sorted(told)[len(told) // 2] < 1.4


def test_by_day(manager: Api, block: Block) -> None:
    every = shown(manager, block)
    day = every[len(every) // 2]["began_by"][:10]
    some = shown(manager, block, f"?since={day}&until={day}")
    assert some
    assert len(some) < len(every)
    assert all(day <= e["began_by"][:10] for e in some[1:])


def test_another_farm_sees_none_of_it(stranger: Api, block: Block) -> None:
    stranger.get(f"{BASE}/blocks/{block.pk}/wettings", status=404)


def test_nothing_changed_nothing_read(farm: Farm, block: Block) -> None:
    assert block.pk in bring_up(farm)
    before = rows(block)
    assert bring_up(farm) == []
    assert rows(block) == before


def touched_reading(farm: Farm, block: Block, ago: timedelta, by: float) -> None:
    """Change the readings of a block's shallowest sensor in an hour some time ago."""
    channel = sorted(
        (c for i in block.instruments.all() for c in i.channels.all() if c.depth_mm),
        key=lambda c: (c.instrument_id, c.depth_mm or 0),
    )[0]
    at = farm.now() - ago
    changed = Reading.unscoped.filter(
        channel=channel, time__gt=at, time__lt=at + timedelta(hours=4)
    )
    assert changed.count() > 2
    for reading in changed:
        Reading.unscoped.filter(channel=channel, time=reading.time).update(value=reading.value + by)
    with connection.cursor() as cursor:
        cursor.execute(
            "INSERT INTO events_touched (farm_id, block_id, first_on) VALUES (%s, %s, %s)",
            [farm.pk, block.pk, (at + timedelta(hours=12)).date()],
        )


@pytest.mark.parametrize("ago", [timedelta(days=2), timedelta(days=11), timedelta(days=40)])
def test_what_is_read_anew_is_what_all_of_it_would_be(
    farm: Farm, block: Block, ago: timedelta
) -> None:
    """A change in the past, read from there on and read with all of the season: the same."""
    bring_up(farm, [block.pk])
    before = rows(block)
    touched_reading(farm, block, ago, 4.0)
    with mock.patch.object(
        bring_up_module, "site_records", wraps=bring_up_module.site_records
    ) as records:
        assert bring_up(farm, [block.pk]) == [block.pk]
    (_, _, begin, now, _), _ = records.call_args
    partly = rows(block)
    assert now - begin < ago + timedelta(days=40)
    noise = EventsRead.unscoped.get(block=block).noise
    EventsRead.unscoped.filter(block=block).update(version="older")
    bring_up(farm, [block.pk])
    assert EventsRead.unscoped.get(block=block).noise == pytest.approx(noise, nan_ok=True)
    assert rows(block) == partly
    assert partly != before or ago > timedelta(days=30)


def test_a_new_reading_is_noted_and_read(manager: Api, farm: Farm, block: Block) -> None:
    """By the database's own triggers: an irrigation logged for last week is joined."""
    bring_up(farm, [block.pk])
    start = farm.now() - timedelta(days=3)
    Irrigation.unscoped.create(
        block=block, started_at=start, ended_at=start + timedelta(hours=2), gross_mm=12.0
    )
    assert EventsTouched.objects.filter(block_id=block.pk).exists()
    assert bring_up(farm, [block.pk]) == [block.pk]
    assert not EventsTouched.objects.filter(farm_id=farm.pk).exists()


def test_an_irrigation_that_is_gone_is_left_out(manager: Api, farm: Farm, block: Block) -> None:
    events = shown(manager, block)
    event = next(e for e in reversed(events) if e["irrigations"])
    gone = event["irrigations"][0]["id"]
    Irrigation.unscoped.filter(pk=gone).delete()
    again = shown(manager, block)
    assert all(gone != s["id"] for e in again for s in e["irrigations"])


def test_one_block_that_fails_keeps_no_other(farm: Farm, block: Block) -> None:
    def broken(*args: Any) -> Any:
        if args[1].pk == block.pk:
            raise ValueError("broken")
        return whole(*args)

    whole = bring_up_module.site_records
    with mock.patch.object(bring_up_module, "site_records", side_effect=broken):
        done = bring_up(farm)
    assert block.pk not in done
    assert len(done) > 3
    assert block.pk in bring_up(farm)


def test_the_noise_of_a_season_is_found_anew_after_a_month(farm: Farm, block: Block) -> None:
    bring_up(farm, [block.pk])
    month = EventsRead.unscoped.get(block=block).whole_at - timedelta(days=31)
    EventsRead.unscoped.filter(block=block).update(whole_at=month)
    assert bring_up(farm, [block.pk]) == [block.pk]


def test_who_only_looks_waits_for_nobody(farm: Farm, block: Block) -> None:
    """One question, and no lock, where nothing of the block has changed."""
    bring_up(farm)
    EventsTouched.objects.create(farm_id=farm.pk, block_id=block.pk + 1, first_on=farm.now().date())
    with CaptureQueriesContext(connection) as queries:
        assert bring_up(farm, [block.pk]) == []
    assert len(queries) == 1
    EventsTouched.objects.create(farm_id=farm.pk, block_id=None, first_on=farm.now().date())
    assert bring_up(farm, [block.pk]) == [block.pk]


def test_a_fixed_number_of_queries(farm: Farm, block: Block) -> None:
    bring_up(farm, [block.pk])
    EventsRead.unscoped.filter(block=block).update(wrong_from=farm.now().date())
    with CaptureQueriesContext(
        connection,
    ) as queries:
        bring_up(farm, [block.pk])
    assert len(queries) < 45


def hours(api: Api, block: Block) -> dict[str, Any] | None:
    found: dict[str, Any] | None = api.get(f"{BASE}/blocks/{block.pk}/run-hours")
    return found


def test_run_hours(manager: Api, block: Block) -> None:
    """By the demo's own irrigations: in order, and as much water as hours."""
    told = hours(manager, block)
    assert told is not None
    assert len(told["irrigations"]) >= 2
    now, *deeper = told["enough"]
    assert now["low"] < now["likely"]
    assert now["high"] is None or now["likely"] < now["high"]
    rate = told["habit_gross_mm"] / told["habit_hours"]
    assert now["gross_mm"] == pytest.approx(rate * now["likely"])
    assert all(now["root_mm"] < h["root_mm"] for h in deeper)
    assert told["habit_net_mm"] < told["habit_gross_mm"]


def test_run_hours_of_roots_as_they_deepen(manager: Api, farm: Farm, block: Block) -> None:
    """Planted three weeks ago, the roots will be deeper in a fortnight."""
    season = block.seasons.latest("planted_on")
    type(season).unscoped.filter(pk=season.pk).update(
        planted_on=farm.now().date() - timedelta(days=40)
    )
    told = hours(manager, block)
    if told is not None:
        roots = [h["root_mm"] for h in told["enough"]]
        assert roots == sorted(set(roots))
        assert len(roots) > 1


def test_no_run_hours_without_irrigations_or_a_crop(manager: Api, farm: Farm, block: Block) -> None:
    Irrigation.unscoped.filter(block=block).delete()
    assert hours(manager, block) is None
    block.seasons.all().delete()
    assert hours(manager, block) is None


def test_run_hours_are_of_irrigations_alone(manager: Api, farm: Farm, block: Block) -> None:
    """What rain added to tells nothing of hours."""
    told = hours(manager, block)
    assert told is not None
    newest = Wetting.objects.for_farm(farm).filter(
        block=block, irrigations__contains=[told["irrigations"][-1]]
    )
    newest.update(rain_days=[farm.now().date()])
    again = hours(manager, block)
    assert again is None or told["irrigations"][-1] not in again["irrigations"]


def test_full_points_that_sensors_have_shown(manager: Api, farm: Farm, block: Block) -> None:
    """Three events that drained to 0.29 tell it for the first sensor; two for the second do not."""
    shown(manager, block)
    rows = list(Wetting.objects.for_farm(farm).filter(block=block))
    for k, row in enumerate(rows):
        row.drained_theta = [None] * len(row.depth_mm)
        if k < 3:
            row.drained_theta[0] = 0.289 + 0.001 * k
            row.drained_theta[1] = 0.28 if k else None
        row.save()
    levels = manager.get(f"{BASE}/blocks/{block.pk}/learned")["learned"]["levels"]
    by_depth = {level["depth_mm"]: level["drained"] for level in levels}
    first, second, *_ = rows[0].depth_mm
    assert by_depth[first]["events"] == 3
    assert by_depth[first]["theta"] == pytest.approx(0.290)
    assert by_depth[first]["low"] < 0.290 < by_depth[first]["high"]
    assert by_depth[second] is None


def test_how_deep_roots_feed(manager: Api, block: Block) -> None:
    """By the demo's probe: shares of a day's use, down to within what its sensors see."""
    (told,) = manager.get(f"{BASE}/blocks/{block.pk}/root-activity")
    assert told["instrument"] == block.instruments.get(kind="capacitance_probe").label
    assert 3 <= told["days"] <= 10
    depths = [layer["depth_mm"] for layer in told["layers"]]
    assert depths == sorted(depths)
    uptake = [x["uptake_mm"] for x in told["layers"] if x["uptake_mm"] is not None]
    assert len(uptake) >= 4
    assert uptake[0] == max(uptake)
    assert 3.0 < sum(uptake) < 9.0
    assert 200 < told["feeds_mm"] < 450
    assert told["low_mm"] < told["feeds_mm"] < told["high_mm"]
    assert told["root_mm"] == pytest.approx(400, abs=60)
    assert told["fit"] == "fits"


def test_root_activity_without_readings(manager: Api, farm: Farm, block: Block) -> None:
    block.instruments.all().delete()
    assert manager.get(f"{BASE}/blocks/{block.pk}/root-activity") == []
