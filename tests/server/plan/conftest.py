"""The demo farm before anything is planned, and with its first run sheet."""

from collections.abc import Callable
from typing import Any

import pytest

from server.farms.models import Farm
from server.plan.models import RunSheet
from tests.server.conftest import Api

SHEET = "/farms/thistlewick/run-sheet"
Jobs = Callable[[], list[str]]


@pytest.fixture(autouse=True)
def nothing_planned_yet(farm: Farm) -> None:
    RunSheet.objects.for_farm(farm).delete()


@pytest.fixture
def planned(manager: Api, run_jobs: Jobs) -> dict[str, Any]:
    """The demo farm's first run sheet."""
    assert manager.get(SHEET)["sheet"] is None
    asked = manager.post(f"{SHEET}/plan", {}, 202)
    assert asked["planning"]
    assert "plan.make" in run_jobs()
    found: dict[str, Any] = manager.get(SHEET)
    assert not found["planning"]
    assert found["failed"] is None
    return found
