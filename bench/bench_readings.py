"""Readings at volume: ingest through HTTP against a bare COPY, a season's chart against plain JSON.

Limits: ingest with checks and flags reaches 30 % of the rows per second of a COPY into the same
table; a chart of one season, 8 depths, every 15 minutes takes under 5 % of the time that
serialising all its points to JSON takes (objects of channel, time, value and flags, the rows
already in memory), and at most 200 kB on the wire. All in the same run,
against the same database.
"""

import gzip
import json
import subprocess
import sys
import time
import urllib.request
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from statistics import median
from typing import Any

from bench.database import DEPTHS, START, bench_database, make_farm
from bench.figures import Figure, run

ROOT = Path(__file__).resolve().parents[1]
PORT = 8497
SEASON_DAYS = 180
BATCH_TIMES = 1000  # of 8 depths: batches of 8,000 readings
BATCHES = 8
INGEST_SHARE, CHART_SHARE, CHART_BYTES = 0.30, 0.05, 200_000


def timed(call: Callable[[], Any]) -> tuple[float, Any]:
    start = time.perf_counter()
    result = call()
    return time.perf_counter() - start, result


def values(first: int, count: int, depth: int) -> list[float]:
    """Percent, with steps by day and a wetting each week."""
    return [
        round(24 + depth * 0.6 + 4 * ((i // 672) % 2) * (1 - (i % 672) / 672) + (i % 7) * 0.01, 3)
        for i in range(first, first + count)
    ]


def body_of(channels: list[int], first: int) -> bytes:
    times = [(START + timedelta(minutes=15 * (first + i))).timestamp() for i in range(BATCH_TIMES)]
    return json.dumps(
        {
            "batch": f"from {first}",
            "series": [
                {"channel": c, "unit": "%", "times": times, "values": values(first, BATCH_TIMES, k)}
                for k, c in enumerate(channels)
            ],
        }
    ).encode()


def post(token: str, body: bytes) -> dict[str, Any]:
    request = urllib.request.Request(
        f"http://127.0.0.1:{PORT}/api/ingest",
        body,
        {"Authorization": f"Bearer {token}", "Content-Type": "application/json"},
    )
    with urllib.request.urlopen(request) as answer:
        told: dict[str, Any] = json.loads(answer.read())
    return told


def bare_copy(channels: list[int], batch: int, first: int) -> float:
    """Seconds of a COPY of as many rows of the same kind straight into the table."""
    import numpy as np
    from django.db import connection, transaction

    from server.readings.binary_copy import EPOCH_US, copy_in
    from server.readings.partitions import ensure_months
    from server.readings.store import ROW

    dtype = np.dtype(
        [*ROW.descr, ("flags", "i2"), ("review", "i2"), ("rules", "i2"), ("batch_id", "i8")]
    )
    rows = np.zeros((len(channels), BATCH_TIMES), dtype)
    moments = START.timestamp() * 1e6 + (first + np.arange(BATCH_TIMES)) * 900e6
    rows["channel_id"] = np.array(channels)[:, None]
    rows["time"] = moments.astype(np.int64) - EPOCH_US
    rows["value"] = [values(first, BATCH_TIMES, k) for k in range(len(channels))]
    rows["unit"], rows["batch_id"] = 2, batch
    ensure_months(
        datetime.fromtimestamp(moments[0] / 1e6, UTC),
        datetime.fromtimestamp(moments[-1] / 1e6, UTC),
    )

    def write() -> None:
        with transaction.atomic(), connection.cursor() as cursor:
            copy_in(cursor, "readings_reading", rows.ravel())

    return timed(write)[0]


def ingest(token: str, channels: list[int], batch: int) -> tuple[float, float]:
    """Rows per second of the ingest and of the bare COPY, taken in turn."""
    rows = BATCH_TIMES * len(channels)
    sent, copied = [], []
    post(token, body_of(channels, 0))
    bare_copy(channels, batch, BATCH_TIMES)
    for k in range(1, BATCHES):
        first = 2 * k * BATCH_TIMES
        body = body_of(channels, first)
        seconds, told = timed(lambda body=body: post(token, body))  # type: ignore[misc]
        assert told["new"] == rows, told
        sent.append(seconds)
        copied.append(bare_copy(channels, batch, first + BATCH_TIMES))
    return rows / median(sent), rows / median(copied)


def chart(channels: list[int], instrument: int) -> tuple[float, float, int]:
    """Seconds of a season's chart and of all its points as JSON, and the chart's bytes."""
    from django.core.serializers.json import DjangoJSONEncoder
    from django.test import Client

    from server.accounts.models import User
    from server.instruments.models import Channel
    from server.readings.models import Reading
    from server.readings.store import rejudge

    end = START + timedelta(days=SEASON_DAYS)
    rejudge(channels, START, end)
    client = Client()
    client.force_login(
        User.objects.get(email="bench@example.org"),
        backend="django.contrib.auth.backends.ModelBackend",
    )
    path = f"/api/farms/bench/instruments/{instrument}/chart"
    stretch = {"first": START.isoformat(), "last": end.isoformat()}
    seconds, answers = [], []
    for _ in range(9):
        took, answer = timed(lambda: client.get(path, stretch))
        assert answer.status_code == 200
        seconds.append(took)
        answers.append(answer)
    points = list(
        Reading.unscoped.filter(channel__in=channels, time__lte=end).values(
            "channel_id", "time", "value", "flags"
        )
    )
    assert len(points) > 16_000 * len(DEPTHS) * 0.9, len(points)
    assert Channel.unscoped.count() == len(DEPTHS)
    whole = median(timed(lambda: json.dumps(points, cls=DjangoJSONEncoder))[0] for _ in range(3))
    return median(seconds), whole, len(gzip.compress(answers[0].content))


def measure() -> list[Figure]:
    with bench_database():
        token, channels, instrument, batch = make_farm()
        server = subprocess.Popen(
            [
                str(Path(sys.executable).with_name("gunicorn")),
                *("server.wsgi", "--bind", f"127.0.0.1:{PORT}", "--log-level", "error"),
                "--no-control-socket",
            ],
            cwd=ROOT,
        )
        try:
            time.sleep(4)
            sent, copied = ingest(token, channels, batch)
            charted, whole, size = chart(channels, instrument)
        finally:
            server.terminate()
            server.wait(15)
    share = 100 * sent / copied
    print(f"ingest: {sent:,.0f} rows/s through HTTP, {copied:,.0f} by bare COPY")
    return [
        Figure("ingest through HTTP, of a bare COPY", share, "%", 100 * INGEST_SHARE, "at least"),
        Figure("chart, of all points as JSON", 100 * charted / whole, "%", 100 * CHART_SHARE),
        Figure("chart on the wire", size / 1000, "kB", CHART_BYTES / 1000),
    ]


if __name__ == "__main__":
    run(measure)
