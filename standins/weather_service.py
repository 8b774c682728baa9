"""A simulated weather service: a process of its own with days behind and an ensemble ahead.

It knows nothing of the application. Who asks says which instant it is for him, since a demo's
clock is not ours. Everything it tells is simulated, and says so.

    python -m standins.weather_service --port 8440
    GET /v1/weather?now=2026-07-14T06:10:00%2B02:00&days=5
"""

import argparse
import json
from datetime import date, datetime, timedelta
from http import HTTPStatus
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any
from urllib.parse import parse_qs, urlsplit
from zoneinfo import ZoneInfo

import numpy as np

from core.world.climates import FORECAST_DAYS, simulate_forecast
from core.world.weather import Weather, simulate_weather
from core.world.wind import simulate_wind
from server.demo.farm import DRY_TAIL_DAYS, FIRST_DAY, NOW, SEED, ZONE
from server.demo.plan import SOUTH, WEST

SOURCE = "simulated weather service"
PAST_DAYS = (NOW.date() - FIRST_DAY).days + 1
DAYS = PAST_DAYS + 60
ISSUE_HOURS = (4, 16)
WET_CHANCE, WET_MM = 0.22, 6.0
MOST_DAYS = 60


def _season() -> Weather:
    """The demo's season, and how it goes on: by the same hand, without its dry end."""
    first = FIRST_DAY.timetuple().tm_yday
    past = simulate_weather(PAST_DAYS, first, SEED, DRY_TAIL_DAYS)
    later = simulate_weather(DAYS, first, SEED + 1)
    # What the demo has on record stays as it is; yesterday is its last day.
    end = PAST_DAYS - 1

    def joined(name: str) -> np.ndarray:
        return np.concatenate([getattr(past, name)[:end], getattr(later, name)[end:]])

    return Weather(*(joined(n) for n in ("et0_mm", "rain_mm", "t_min_c", "t_max_c")))


class Service:
    """What the service tells at an instant."""

    def __init__(self) -> None:
        self._weather = _season()

    def _place(self, on: date) -> int:
        return (on - FIRST_DAY).days

    def tell(self, now: datetime, days: int) -> dict[str, Any]:
        """Days before today, and the newest forecast issued by then.

        Raises
        ------
        ValueError
            When the instant lies outside the season that is simulated.
        """
        local = now.astimezone(ZoneInfo(ZONE))
        today = self._place(local.date())
        if not 1 <= today <= DAYS - FORECAST_DAYS:
            raise ValueError(f"no weather is simulated around {local.date()}")
        w = self._weather
        behind = range(max(today - days, 0), today)
        return {
            "source": SOURCE,
            "simulated": True,
            "station": {"latitude": SOUTH, "longitude": WEST, "elevation_m": 4},
            "days": [
                {
                    "date": (FIRST_DAY + timedelta(days=d)).isoformat(),
                    "et0_mm": float(w.et0_mm[d]),
                    "rain_mm": float(w.rain_mm[d]),
                    "t_min_c": float(w.t_min_c[d]),
                    "t_max_c": float(w.t_max_c[d]),
                }
                for d in behind
            ],
            "forecast": self._forecast(local, today),
        }

    def _forecast(self, now: datetime, today: int) -> dict[str, Any]:
        issued = max((h for h in ISSUE_HOURS if h <= now.hour), default=None)
        day = today if issued is not None else today - 1
        hour = issued if issued is not None else ISSUE_HOURS[-1]
        ahead = slice(day, day + FORECAST_DAYS)
        # The same issue says the same, whoever asks and however often.
        rng = np.random.default_rng([SEED, day, hour])
        w = self._weather
        et0, rain = simulate_forecast(w.et0_mm[ahead], w.rain_mm[ahead], WET_CHANCE, WET_MM, rng)
        on = FIRST_DAY + timedelta(days=day)
        at = datetime(on.year, on.month, on.day, hour, tzinfo=ZoneInfo(ZONE))
        return {
            "issued_at": at.isoformat(),
            "first_day": on.isoformat(),
            "et0_mm": np.round(et0, 2).tolist(),
            "rain_mm": np.round(rain, 1).tolist(),
            "wind_m_s": simulate_wind(day, FORECAST_DAYS, SEED).tolist(),
        }


def handler_of(service: Service) -> type[BaseHTTPRequestHandler]:
    """The service behind an HTTP server."""

    class Handler(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            asked = urlsplit(self.path)
            query = parse_qs(asked.query)
            try:
                if asked.path != "/v1/weather":
                    self._say(HTTPStatus.NOT_FOUND, {"error": "there is only /v1/weather"})
                    return
                now = datetime.fromisoformat(query["now"][0])
                days = min(max(int(query.get("days", ["5"])[0]), 0), MOST_DAYS)
                self._say(HTTPStatus.OK, service.tell(now, days))
            except (KeyError, ValueError) as wrong:
                self._say(HTTPStatus.BAD_REQUEST, {"error": str(wrong)})

        def _say(self, status: HTTPStatus, body: dict[str, Any]) -> None:
            data = json.dumps(body).encode()
            self.send_response(status)
            self.send_header("Content-Type", "application/json")
            self.send_header("Content-Length", str(len(data)))
            self.end_headers()
            self.wfile.write(data)

        def log_message(self, format: str, *args: Any) -> None:
            """It keeps no log."""

    return Handler


def main() -> None:
    parser = argparse.ArgumentParser(description="A simulated weather service.")
    parser.add_argument("--port", type=int, required=True)
    given = parser.parse_args()
    server = ThreadingHTTPServer(("127.0.0.1", given.port), handler_of(Service()))
    print(f"weather (simulated): http://127.0.0.1:{given.port}/v1/weather", flush=True)
    server.serve_forever()


if __name__ == "__main__":
    main()
