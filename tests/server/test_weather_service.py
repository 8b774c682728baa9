"""The simulated weather service asked over HTTP, well and unwell."""

import json
import threading
from collections.abc import Iterator
from datetime import timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

import numpy as np
import pytest
from django.core.management import CommandError, call_command

from server.demo.farm import NOW
from server.farms.models import Farm
from server.weather import service
from server.weather.models import WeatherDay, WeatherForecast
from server.weather.service import ServiceProblem, fetch_weather, is_due
from server.weather.tasks import fetch
from standins.weather_service import Service, handler_of


def serve(handler: type[BaseHTTPRequestHandler]) -> Iterator[str]:
    server = ThreadingHTTPServer(("127.0.0.1", 0), handler)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    yield f"http://127.0.0.1:{server.server_port}/v1/weather"
    server.shutdown()
    server.server_close()


@pytest.fixture(scope="module")
def simulated() -> Iterator[str]:
    yield from serve(handler_of(Service()))


@pytest.fixture
def asks(settings: Any) -> Any:
    def at(url: str) -> None:
        settings.CONFIG = type(settings.CONFIG)(**{**settings.CONFIG.__dict__, "weather_url": url})

    return at


@pytest.fixture
def three_days_on(farm: Farm) -> Farm:
    farm.fixed_now = NOW + timedelta(days=3)
    farm.save()
    return farm


def test_days_and_forecast_come_once(three_days_on: Farm, simulated: str, asks: Any) -> None:
    asks(simulated)
    farm = three_days_on
    before = WeatherDay.objects.for_farm(farm).count()
    got = fetch_weather(farm)
    assert got.days.new == 3
    assert got.new_forecast
    assert WeatherDay.objects.for_farm(farm).count() == before + 3
    newest = WeatherDay.objects.for_farm(farm).latest("date")
    assert newest.source == "simulated weather service"
    forecast = WeatherForecast.objects.for_farm(farm).latest("issued_at")
    assert forecast.members == 50
    assert forecast.source == "simulated forecast"
    again = fetch_weather(farm)
    assert (again.days.new, again.days.changed, again.new_forecast) == (0, 0, False)


def test_a_service_is_left_alone_while_nothing_is_missing(
    farm: Farm, three_days_on: Farm, simulated: str, asks: Any
) -> None:
    asks(simulated)
    assert is_due(three_days_on)
    fetch(0)
    assert not is_due(three_days_on)
    three_days_on.fixed_now = NOW + timedelta(days=3, hours=12)
    assert is_due(three_days_on)


def test_what_a_person_entered_stays(three_days_on: Farm, simulated: str, asks: Any) -> None:
    asks(simulated)
    on = NOW.date() + timedelta(days=1)
    WeatherDay(farm=three_days_on, date=on, rain_mm=17, et0_mm=2, source="by hand").save()
    fetch_weather(three_days_on)
    assert WeatherDay.objects.for_farm(three_days_on).get(date=on).rain_mm == 17


def test_errors_of_the_forecast_grow_with_lead() -> None:
    service = Service()
    errors = []
    for day in range(20):
        now = NOW - timedelta(days=40 - day)
        said = service.tell(now, 0)["forecast"]
        told = {d["date"]: d for d in service.tell(now + timedelta(days=12), 12)["days"]}
        first = np.array(said["et0_mm"])
        days = [str(now.date() + timedelta(days=k)) for k in range(10)]
        truth = np.array([told[d]["et0_mm"] for d in days])
        errors.append(np.abs(first[:, :10] - truth).mean(axis=0))
    mean = np.mean(errors, axis=0)
    assert mean[8] > 1.5 * mean[1]


@pytest.mark.parametrize(
    ("body", "said"),
    [
        (b"<html>down</html>", "can't be read"),
        (json.dumps({"source": "x", "days": "none"}).encode(), "can't be read"),
        (
            json.dumps(
                {
                    "source": "x",
                    "days": [{"date": "2026-07-14", "rain_mm": 3}],
                    "forecast": {
                        "issued_at": "2026-07-16T04:00:00+02:00",
                        "first_day": "2026-07-16",
                        "et0_mm": [[4, 4], [4]],
                        "rain_mm": [[0, 0], [0]],
                    },
                }
            ).encode(),
            "not all of one length",
        ),
    ],
)
def test_what_can_not_be_used_changes_nothing(
    three_days_on: Farm, asks: Any, body: bytes, said: str
) -> None:
    before = WeatherDay.objects.for_farm(three_days_on).count()
    for url in serve(answers(200, body)):
        asks(url)
        with pytest.raises(ServiceProblem, match=said):
            fetch_weather(three_days_on)
    assert WeatherDay.objects.for_farm(three_days_on).count() == before


def answers(status: int, body: bytes) -> type[BaseHTTPRequestHandler]:
    class Handler(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            self.send_response(status)
            self.end_headers()
            self.wfile.write(body)

        def log_message(self, format: str, *args: Any) -> None:
            pass

    return Handler


def test_a_service_that_fails_says_so(three_days_on: Farm, asks: Any) -> None:
    for url in serve(answers(500, b"{}")):
        asks(url)
        with pytest.raises(ServiceProblem, match=r"can't be reached.*500"):
            fetch_weather(three_days_on)


def test_a_service_that_trickles_is_not_waited_for(
    three_days_on: Farm, asks: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(service, "LONGEST_S", -1)
    for url in serve(answers(200, b"{}")):
        asks(url)
        with pytest.raises(ServiceProblem, match="took longer than"):
            fetch_weather(three_days_on)


def test_a_service_that_is_away_is_no_disaster(
    three_days_on: Farm, asks: Any, caplog: pytest.LogCaptureFixture
) -> None:
    asks("http://127.0.0.1:9/v1/weather")
    fetch(0)
    assert "can't be reached" in caplog.text
    with pytest.raises(CommandError, match="can't be reached"):
        call_command("fetch_weather", "thistlewick")
    asks("file:///etc/hostname")
    with pytest.raises(ServiceProblem, match="http"):
        fetch_weather(three_days_on)
    asks("")
    fetch(0)
