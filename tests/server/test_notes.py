"""Notes about a time and a depth, in an instrument's log."""

from datetime import timedelta
from typing import Any

import pytest

from server.blocks.models import Block
from server.farms.models import Farm, Role
from server.instruments.models import Instrument
from tests.server.conftest import Api

BASE = "/farms/thistlewick"


@pytest.fixture
def probe(block: Block) -> Instrument:
    return block.instruments.order_by("pk")[0]


def write(api: Api, probe: Instrument, status: int = 201, **changes: Any) -> Any:
    body = {"kind": "note", "note": "Roots seen", "depth_mm": 300, **changes}
    return api.post(f"{BASE}/instruments/{probe.pk}/events", body, status)


def notes(api: Api, block: Block) -> list[dict[str, Any]]:
    rows: list[dict[str, Any]] = api.get(f"{BASE}/blocks/{block.pk}/notes")
    return rows


def test_written_shown_and_removed(
    manager: Api, block: Block, probe: Instrument, farm: Farm
) -> None:
    assert notes(manager, block) == []
    earlier = farm.now() - timedelta(days=2)
    write(manager, probe, at=earlier.isoformat(), note="  Dug: moist to here ")
    write(manager, probe, depth_mm=None)
    newest, older = notes(manager, block)
    assert (newest["note"], newest["depth_mm"]) == ("Roots seen", None)
    assert (older["note"], older["depth_mm"]) == ("Dug: moist to here", 300)
    assert older["at"][:16] == earlier.isoformat()[:16] or older["at"].endswith("Z")
    assert (older["instrument"], older["made_by"]) == (probe.label, "Maud Pellander")
    path = f"/api{BASE}/instruments/{probe.pk}/events/{older['id']}"
    assert manager.client.delete(path).status_code == 200
    assert [n["id"] for n in notes(manager, block)] == [newest["id"]]


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"note": "  "}, "note"),
        ({"depth_mm": 0}, "depth_mm"),
        ({"depth_mm": 5001}, "depth_mm"),
        ({"kind": "suspect"}, "depth_mm"),
        ({"at": "2026-07-20T06:00"}, "at"),
    ],
)
def test_what_is_no_note(
    manager: Api, probe: Instrument, block: Block, changes: dict[str, Any], field: str
) -> None:
    """Empty, outside of the soil, a depth of what is none, or of a time to come."""
    refused = write(manager, probe, 422, **changes)
    assert [p["field"] for p in refused["problems"]] == [field]
    assert notes(manager, block) == []


def test_other_entries_are_no_notes(manager: Api, block: Block, probe: Instrument) -> None:
    write(manager, probe, kind="suspect", note="Jumps", depth_mm=None)
    assert notes(manager, block) == []


def test_who_writes_and_who_reads(
    as_role: Any, stranger: Api, block: Block, probe: Instrument
) -> None:
    """A scout writes and does not remove; a viewer reads alone."""
    scout = as_role(Role.SCOUT)
    write(scout, probe)
    (note,) = notes(as_role(Role.VIEWER), block)
    path = f"{BASE}/instruments/{probe.pk}/events/{note['id']}"
    assert scout.client.delete(f"/api{path}").status_code == 403
    write(as_role(Role.VIEWER), probe, 403)
    assert stranger.client.get(f"/api{BASE}/blocks/{block.pk}/notes").status_code == 404
