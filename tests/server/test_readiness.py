"""What a supervisor is told: the database, the worker, the morning."""

from datetime import timedelta

import pytest
from django.db import OperationalError, connection
from django.test import Client
from procrastinate.contrib.django.models import ProcrastinateWorker

from server.advice.models import Advice
from server.advice.record import record_day
from server.farms.models import Farm
from server.jobs import readiness as subject


def told() -> dict[str, str]:
    answer = Client().get("/healthz")
    assert answer.status_code == 200
    found: dict[str, str] = answer.json()
    return found


def beat(seconds_ago: float) -> None:
    with connection.cursor() as cursor:
        cursor.execute(
            "INSERT INTO procrastinate_workers (last_heartbeat)"
            " VALUES (NOW() - %s * INTERVAL '1 second')",
            [seconds_ago],
        )


@pytest.mark.parametrize(("seconds", "worker"), [(25, "running"), (35, "missing")])
def test_a_worker_silent_for_half_a_minute_is_missing(
    db: None, seconds: float, worker: str
) -> None:
    assert told()["worker"] == "missing"
    beat(seconds)
    assert ProcrastinateWorker.objects.exists()
    assert told()["worker"] == worker


def test_the_morning_is_late_while_a_block_has_no_advice_on_record(
    farm: Farm, monkeypatch: pytest.MonkeyPatch
) -> None:
    now = farm.now()
    Advice.objects.for_farm(farm).filter(day=now.date()).delete()
    for hour, minute, morning in [(4, 59, "on time"), (5, 29, "on time"), (5, 30, "late")]:
        at = now.replace(hour=hour, minute=minute, second=0, microsecond=0)
        monkeypatch.setattr(Farm, "now", lambda self, at=at: at)
        assert told()["morning"] == morning, at
    record_day(farm, farm.now())
    assert told()["morning"] == "on time"
    Advice.objects.for_farm(farm).filter(day=now.date()).first().delete()
    assert told()["morning"] == "late"
    yesterday = now - timedelta(days=1)
    monkeypatch.setattr(Farm, "now", lambda self: yesterday.replace(hour=5, minute=10))
    assert told()["morning"] == "on time"


def test_one_farm_late_is_enough(farm: Farm, monkeypatch: pytest.MonkeyPatch) -> None:
    at = farm.now().replace(hour=12)
    monkeypatch.setattr(Farm, "now", lambda self: at)
    record_day(farm, at)
    assert told()["morning"] == "on time"
    Farm.objects.create(name="Without a block", slug="without-a-block", time_zone="UTC")
    assert told()["morning"] == "on time"
    Advice.objects.for_farm(farm).filter(day=at.date()).first().delete()
    assert told()["morning"] == "late"


def test_without_a_farm_nothing_is_late(db: None) -> None:
    assert told()["morning"] == "on time"


def test_without_its_database_it_is_not_ready(db: None, monkeypatch: pytest.MonkeyPatch) -> None:
    def gone(**wanted: object) -> None:
        raise OperationalError("server closed the connection unexpectedly")

    monkeypatch.setattr(subject.ProcrastinateWorker.objects, "filter", gone)
    answer = Client().get("/healthz")
    assert answer.status_code == 503
    assert answer.json() == {"database": "missing", "worker": "unknown", "morning": "unknown"}
    assert "no-cache" in answer["Cache-Control"]
