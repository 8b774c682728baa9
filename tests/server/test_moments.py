"""Times at the border: none outside what a farm's record can be about comes in, anywhere."""

from collections.abc import Iterator
from datetime import UTC, date, datetime, timedelta
from typing import Any, get_args

import pytest
from django.db import IntegrityError, transaction
from pydantic import AfterValidator, BaseModel

from server.api import api
from server.base.moment import OUTSIDE
from server.blocks.models import Block
from server.farms.models import Farm
from server.instruments.models import Instrument, InstrumentEvent
from server.water.models import Irrigation
from tests.server.conftest import Api

BASE = "/farms/thistlewick"
EXTREMES = [
    "0001-01-01T00:00:00",
    "0001-01-01T00:00:00+14:00",
    "9999-12-31T23:59:59-14:00",
    "1949-12-31T23:00:00",
    "2100-01-01T00:00:00",
]


def _time_fields(model: type[BaseModel], seen: set[type]) -> Iterator[tuple[str, bool]]:
    """Fields of a request that hold a time, and whether each is bounded."""
    if model in seen:
        return
    seen.add(model)
    for name, field in model.model_fields.items():
        yield from _of(f"{model.__name__}.{name}", field.annotation, field.metadata, seen)


def _of(
    name: str, annotation: Any, metadata: list[Any], seen: set[type]
) -> Iterator[tuple[str, bool]]:
    if annotation in (datetime, date):
        yield name, any(isinstance(m, AfterValidator) for m in metadata)
        return
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        yield from _time_fields(annotation, seen)
        return
    for part in get_args(annotation):
        extra = [m for m in get_args(annotation) if isinstance(m, AfterValidator)]
        yield from _of(name, part, [*metadata, *extra], seen)


def _inputs() -> list[type[BaseModel]]:
    operations = [
        operation
        for _, router in api._routers
        for view in router.path_operations.values()
        for operation in view.operations
    ]
    return [model for operation in operations for model in operation.models]


def test_every_time_that_comes_in_is_bounded() -> None:
    """By the operations themselves: a new one is covered without a line written."""
    found: dict[str, bool] = {}
    for model in _inputs():
        found.update(_time_fields(model, set()))
    assert len(found) > 20
    assert [name for name, bounded in found.items() if not bounded] == []


@pytest.mark.parametrize("at", EXTREMES)
def test_a_log_entry_of_no_time(manager: Api, farm: Farm, at: str) -> None:
    instrument = Instrument.objects.for_farm(farm).first()
    assert instrument is not None
    body = {"kind": "note", "at": at, "note": "seen"}
    answer = manager.post(f"{BASE}/instruments/{instrument.pk}/events", body, status=422)
    assert answer["problems"][0]["field"] == "at"
    assert OUTSIDE in answer["problems"][0]["message"]
    manager.get(f"{BASE}/instruments")
    manager.get(f"{BASE}/board")


@pytest.mark.parametrize("at", EXTREMES)
def test_a_set_and_a_hold_of_no_time(manager: Api, block: Block, at: str) -> None:
    body = {"block_ids": [block.pk], "status": "done", "started_at": at, "hours": 4}
    problem = manager.post(f"{BASE}/water", body, status=422)["problems"][0]
    assert (problem["field"], OUTSIDE in problem["message"]) == ("started_at", True)
    hold = {"block_ids": [block.pk], "kind": "spray", "starts_at": at, "ends_at": at}
    fields = {p["field"] for p in manager.post(f"{BASE}/holds", hold, status=422)["problems"]}
    assert fields == {"starts_at", "ends_at"}


@pytest.mark.parametrize("day", ["0001-01-01", "9999-12-31"])
def test_days_of_no_time_in_a_path_and_a_query(manager: Api, block: Block, day: str) -> None:
    assert manager.put(f"{BASE}/rain/{day}", {"rain_mm": 3}, status=422)["problems"]
    assert manager.get(f"{BASE}/blocks/{block.pk}/limits?on={day}", status=422)["problems"]
    path = f"{BASE}/instruments/{block.instruments.all()[0].pk}/chart"
    query = f"first={day}T00:00:00Z&last=2026-07-14T00:00:00Z"
    assert manager.get(f"{path}?{query}", status=422)["problems"]


def test_nothing_is_planned_years_ahead(manager: Api, block: Block) -> None:
    body = {"block_ids": [block.pk], "status": "planned", "hours": 4}
    late = manager.post(f"{BASE}/water", {**body, "started_at": "2028-07-14T06:00"}, status=422)
    assert "more than a year ahead" in late["problems"][0]["message"]
    hold = {
        "block_ids": [block.pk],
        "kind": "spray",
        "starts_at": "2028-07-14T06:00",
        "ends_at": "2028-07-15T06:00",
    }
    late = manager.post(f"{BASE}/holds", hold, status=422)
    assert "more than a year ahead" in late["problems"][0]["message"]
    season = {"crop_key": "potato", "planted_on": "2028-04-01"}
    late = manager.post(f"{BASE}/blocks/{block.pk}/seasons", season, status=422)
    assert "more than a year ahead" in late["problems"][0]["message"]


def test_the_database_takes_no_such_time_either(farm: Farm, block: Block) -> None:
    year_one = datetime(1, 1, 3, tzinfo=UTC)
    instrument = Instrument.objects.for_farm(farm).first()
    rows = [
        InstrumentEvent(instrument=instrument, kind="note", at=year_one, done=[]),
        Irrigation(
            block=block,
            status="done",
            started_at=year_one,
            ended_at=year_one + timedelta(hours=4),
            gross_mm=10,
        ),
    ]
    for row in rows:
        with pytest.raises(IntegrityError, match="on_record"), transaction.atomic():
            row.save()
