"""Days whose ET comes from the level in an atmometer's tube."""

from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np
import pytest

from server.farms.models import Farm
from server.instruments.models import Instrument
from server.weather.atmometers import Stretch, fill_from_atmometers
from server.weather.models import WeatherDay
from tests.server.conftest import Api

BASE = "/farms/thistlewick"


@pytest.fixture
def tube(manager: Api, farm: Farm) -> Instrument:
    """An atmometer read at six in the morning: 5 mm a day, filled up after four days."""
    WeatherDay.objects.for_farm(farm).delete()
    block = Instrument.objects.for_farm(farm).get(label="Probe A1").block_id
    body = {"label": "Tube", "kind": "atmometer", "depths_mm": []}
    made = manager.post(f"{BASE}/blocks/{block}/instruments", body, status=201)
    row: Instrument = Instrument.objects.for_farm(farm).get(pk=made["id"])
    read(manager, farm, row, {8: 100.0, 4: 80.0})
    read(manager, farm, row, {4: 200.0}, minute=5)
    read(manager, farm, row, {1: 185.0})
    return row


def morning(farm: Farm, days_back: int, minute: int = 0) -> datetime:
    on = farm.now().date() - timedelta(days=days_back)
    return datetime(on.year, on.month, on.day, 6, minute, tzinfo=ZoneInfo(farm.time_zone))


def read(
    manager: Api, farm: Farm, tube: Instrument, levels: dict[int, float], minute: int = 0
) -> None:
    channel = tube.channels.get().pk
    for days_back, level in levels.items():
        manager.post(
            f"{BASE}/instruments/{tube.pk}/readings",
            {
                "time": morning(farm, days_back, minute).isoformat(),
                "unit": "mm",
                "values": [{"channel_id": channel, "value": level}],
            },
        )


def on_record(farm: Farm) -> dict[int, float | None]:
    today = farm.now().date()
    rows = WeatherDay.objects.for_farm(farm)
    return {(today - r.date).days: r.et0_mm for r in rows}


def day_of(farm: Farm, days_back: int) -> date:
    return farm.now().date() - timedelta(days=days_back)


def test_whole_days_get_their_share(farm: Farm, tube: Instrument) -> None:
    assert fill_from_atmometers(farm) == 6
    # The first and the last day are covered in part. Fifteen millimetres from five past six on
    # are 5.005 a day, kept to the hundredth.
    assert on_record(farm) == pytest.approx(dict.fromkeys(range(2, 8), 5.0), abs=0.0101)
    row = WeatherDay.objects.for_farm(farm).get(date=day_of(farm, 3))
    assert (row.source, row.et_method, row.rain_mm) == ("atmometer", "atmometer Tube", None)
    assert fill_from_atmometers(farm) == 0


def test_an_alfalfa_cover_is_turned_to_grass(manager: Api, farm: Farm, tube: Instrument) -> None:
    manager.patch(f"{BASE}/instruments/{tube.pk}", {"constants": {"to_grass": 0.8}})
    fill_from_atmometers(farm)
    assert on_record(farm)[3] == pytest.approx(4.0, abs=0.0101)


def test_it_leads_over_temperatures_alone_and_nothing_else(
    manager: Api, farm: Farm, tube: Instrument
) -> None:
    for back, day in ((7, {"t_min_c": 12, "t_max_c": 30}), (6, {"t_min_c": 12, "t_max_c": 16})):
        manager.put(f"{BASE}/weather/{day_of(farm, back)}", day)
    manager.put(f"{BASE}/weather/{day_of(farm, 2)}", {"et0_mm": 3.3})
    fill_from_atmometers(farm)
    found = on_record(farm)
    assert found[2] == 3.3
    # A stretch with a day without temperatures is shared evenly.
    assert found[7] == pytest.approx(5.0, abs=0.0101)
    for back in (8, 5, 4):
        manager.put(f"{BASE}/weather/{day_of(farm, back)}", {"t_min_c": 12, "t_max_c": 25})
    fill_from_atmometers(farm)
    found = on_record(farm)
    # The wide day lost more than the narrow one; Hargreaves-Samani gives the share.
    assert found[7] is not None and found[6] is not None
    assert found[7] > 5.5 and found[6] < 4.5


def test_an_instrument_taken_out_leaves_what_it_told(farm: Farm, tube: Instrument) -> None:
    fill_from_atmometers(farm)
    tube.delete()
    assert fill_from_atmometers(farm) == 0
    assert on_record(farm)[3] == pytest.approx(5.0, abs=0.0101)


def test_a_corrected_level_corrects_its_days(manager: Api, farm: Farm, tube: Instrument) -> None:
    fill_from_atmometers(farm)
    read(manager, farm, tube, {1: 188.0})
    assert fill_from_atmometers(farm) >= 2
    assert on_record(farm)[2] == pytest.approx(4.0, abs=0.0101)
    # A level that rose since says nothing of those days any more: unknown, not nought.
    read(manager, farm, tube, {1: 260.0})
    fill_from_atmometers(farm)
    assert on_record(farm)[2] is None


@pytest.mark.parametrize(
    "on, hours", [(date(2026, 3, 29), 23), (date(2026, 10, 25), 25), (date(2026, 7, 1), 24)]
)
def test_time_runs_forward_when_the_clock_is_changed(on: date, hours: int) -> None:
    """Europe's summer time of 2026 begins on 29 March and ends on 25 October."""
    zone = ZoneInfo("Europe/London")
    stretch = Stretch(on, np.full(1, np.nan), zone)
    midnight = datetime(on.year, on.month, on.day, tzinfo=zone).astimezone(UTC)
    places = [stretch.place(midnight + timedelta(minutes=15 * k)) for k in range(hours * 4 + 1)]
    assert np.all(np.diff(places) > 0)
    assert (places[0], places[-1]) == (0, 1)
