"""Irrigations that move over their block: where the machine is, and what that credits."""

from datetime import datetime, timedelta
from typing import Any

import pytest

from server.advice.assemble import block_inputs, recent_sets
from server.advice.models import Advice
from server.advice.record import advice_of_today
from server.blocks.loading import blocks_of
from server.blocks.models import Block
from server.blocks.services import BLOCK_PARTS
from server.farms.models import Farm, Role
from server.instruments.models import Instrument
from server.water.models import Irrigation
from server.weather.recorded import farm_weather
from tests.server.conftest import Api

BASE = "/farms/thistlewick"
WATER = f"{BASE}/water"


@pytest.fixture
def pivot(farm: Farm) -> Block:
    """Long Tye: a pivot; its probe's place on the way is not known, and nothing was given."""
    found: Block = Block.objects.for_farm(farm).get(name="Long Tye")
    Instrument.objects.for_farm(farm).filter(block=found).update(pass_place=None)
    Irrigation.objects.for_farm(farm).filter(block=found).delete()
    return found


def running(manager: Api, block: Block, hours_ago: float, hours: float, **more: Any) -> dict:
    start = block.farm.now() - timedelta(hours=hours_ago)
    status = "running" if hours > hours_ago else "done"
    body = {
        "block_ids": [block.pk],
        "status": status,
        "started_at": start.isoformat(),
        "hours": hours,
        "gross_mm": 24.0,
        **more,
    }
    (row,) = manager.post(WATER, body, 201)
    return row


def credited(block: Block) -> tuple[list[tuple[float, float]], list[tuple[float, float]]]:
    """Water behind and ahead, by hours from now [h, mm net]."""
    farm, now = block.farm, block.farm.now()
    rows = list(blocks_of(farm, BLOCK_PARTS).filter(pk=block.pk))
    inputs = block_inputs(farm, rows, now, farm_weather(farm, now), recent_sets(farm, rows, now))
    one = inputs[block.pk]
    behind = [(w.hours, w.net_mm) for w in one.waterings if not w.is_rain]
    return behind, [(p.end_hours, p.net_mm) for p in one.planned]


def see(manager: Api, row: dict, at: datetime, place: float, status: int = 200, **more: str) -> Any:
    body = {"at": at.isoformat(), "place": place, **more}
    return manager.post(f"{WATER}/{row['id']}/positions", body, status)


def test_a_pass_under_way_is_credited_as_far_as_it_has_come(manager: Api, pivot: Block) -> None:
    """24 mm gross in 48 h, 30 h of them gone: 24 x 30 / 48 x efficiency are in the ground."""
    row = running(manager, pivot, 30, 48)
    assert row["way"]["place"] == pytest.approx(30 / 48)
    behind, ahead = credited(pivot)
    net = 24 * pivot.efficiency
    assert sum(mm for _, mm in behind) == pytest.approx(net * 30 / 48)
    assert sum(mm for _, mm in ahead) == pytest.approx(net * 18 / 48)
    assert [h for h, _ in behind] == pytest.approx([-24, -18, -12, -6, 0], abs=0.01)


def test_a_probe_whose_place_is_known_has_its_water_when_it_is_passed(
    manager: Api, pivot: Block
) -> None:
    (probe,) = Instrument.objects.for_farm(pivot.farm).filter(block=pivot)
    manager.patch(f"{BASE}/instruments/{probe.pk}", {"pass_place": 0.25})
    assert manager.get(f"{BASE}/instruments/{probe.pk}")["pass_place"] == 0.25
    row = running(manager, pivot, 30, 48)
    net = 24 * pivot.efficiency
    assert credited(pivot) == ([(pytest.approx(-18), pytest.approx(net))], [])
    manager.patch(f"{BASE}/instruments/{probe.pk}", {"pass_place": 0.75})
    assert credited(pivot) == ([], [(pytest.approx(6), pytest.approx(net))])
    # It is slower than it was meant to be: a quarter after 30 h; half of the way to the probe.
    shown = see(manager, row, pivot.farm.now(), 0.25)
    assert shown["way"]["place"] == pytest.approx(0.25)
    _, ((arrives, mm),) = credited(pivot)
    assert arrives == pytest.approx(0.5 * 48)
    # 30 h for the first quarter, 36 for the rest: of 24 mm 36 / 66 on three quarters of it.
    assert mm == pytest.approx(net * 36 / 66 / 0.75)


def test_stops_and_reverses_are_recorded_and_taken_back(manager: Api, pivot: Block) -> None:
    now = pivot.farm.now()
    row = running(manager, pivot, 30, 48)
    see(manager, row, now - timedelta(hours=20), 0.2, going="stopped")
    shown = see(manager, row, now - timedelta(hours=8), 0.2, going="back")
    assert [p["going"] for p in shown["way"]["positions"]] == ["stopped", "back"]
    # Back at 1 / 48 of the way in an hour: 8 h are 1 / 6.
    assert shown["way"]["place"] == pytest.approx(0.2 - 8 / 48)
    again = manager.client.delete(f"/api{WATER}/{row['id']}/positions").json()
    assert [p["going"] for p in again["way"]["positions"]] == ["stopped"]
    assert again["way"]["place"] == pytest.approx(0.2)
    assert credited(pivot)[1] == [], "what stands gives nothing more until it is seen to go on"


def test_an_ended_pass_runs_to_its_end_by_where_it_was_seen(manager: Api, pivot: Block) -> None:
    row = running(manager, pivot, 30, 24)
    assert row["status"] == "done"
    see(manager, row, pivot.farm.now() - timedelta(hours=12), 0.25)
    behind, ahead = credited(pivot)
    assert sum(mm for _, mm in behind) == pytest.approx(24 * pivot.efficiency)
    assert ahead == []


def test_what_can_not_be_a_position_is_refused(
    manager: Api, pivot: Block, block: Block, as_role: Any
) -> None:
    now = pivot.farm.now()
    row = running(manager, pivot, 30, 48)
    for at, message in {
        now + timedelta(hours=2): "is in the future",
        now - timedelta(hours=40): "after its pass began",
    }.items():
        refused = see(manager, row, at, 0.5, 422)
        assert message in refused["problems"][0]["message"]
    see(manager, row, now, 1.5, 422)
    still = running(manager, block, 5, 3)
    assert still["way"] is None
    assert "no positions" in see(manager, still, now, 0.5, 422)["message"]
    (plan,) = manager.post(
        WATER,
        {
            "block_ids": [pivot.pk],
            "status": "planned",
            "started_at": (now + timedelta(hours=5)).isoformat(),
            "hours": 20,
        },
        201,
    )
    assert "start it first" in see(manager, plan, now, 0.5, 422)["message"]
    reader = as_role(Role.VIEWER)
    assert reader.client.delete(f"/api{WATER}/{row['id']}/positions").status_code == 403
    assert manager.client.delete(f"/api{WATER}/{row['id']}/positions").status_code == 422
    nowhere = {"place_from": 0.5, "place_to": 0.5}
    refused = manager.post(
        WATER,
        {
            "block_ids": [pivot.pk],
            "status": "done",
            "started_at": (now - timedelta(hours=9)).isoformat(),
            "hours": 4,
            **nowhere,
        },
        422,
    )
    assert [p["field"] for p in refused["problems"]] == ["place_to"]


def test_a_part_of_a_block_has_its_own_place(manager: Api, pivot: Block) -> None:
    """A quarter of the way back from the end: all of its water on that quarter."""
    (probe,) = Instrument.objects.for_farm(pivot.farm).filter(block=pivot)
    manager.patch(f"{BASE}/instruments/{probe.pk}", {"pass_place": 0.9})
    row = running(manager, pivot, 10, 8, share=0.25, place_from=1.0, place_to=0.75)
    assert row["gross_mm"] == pytest.approx(6)
    ((hours, mm),) = credited(pivot)[0]
    assert hours == pytest.approx(-10 + 8 * 0.1 / 0.25)
    assert mm == pytest.approx(24 * pivot.efficiency)


def test_the_sets_on_record_are_counted_not_their_pieces(manager: Api, pivot: Block) -> None:
    running(manager, pivot, 60, 48)
    Advice.objects.for_farm(pivot.farm).filter(block=pivot).delete()
    row = advice_of_today(pivot.farm, pivot, pivot.farm.now())
    assert row.inputs["sets"] == 1
    assert row.inputs["newest_set_hours"] == pytest.approx(-12)


@pytest.mark.parametrize(
    ("hours_ago", "hours", "place", "crossing"),
    [(30, 48, None, True), (30, 24, None, True), (30, 48, 0.4, False), (30, 8, None, False)],
    ids=["under way", "lately", "place known", "short"],
)
def test_a_long_pass_over_sensors_of_unknown_place_is_said_and_accuses_nobody(
    manager: Api,
    pivot: Block,
    hours_ago: float,
    hours: float,
    place: float | None,
    crossing: bool,
) -> None:
    (probe,) = Instrument.objects.for_farm(pivot.farm).filter(block=pivot)
    manager.patch(f"{BASE}/instruments/{probe.pk}", {"pass_place": place})
    running(manager, pivot, hours_ago, hours)
    answer = manager.get(f"{BASE}/blocks/{pivot.pk}")["answer"]
    assert ("place_not_known" in answer["reasons"]) is crossing
    if crossing:
        assert answer["question"] is None
        assert not {"irrigation_fell_short", "water_not_logged"} & set(answer["reasons"])


def test_places_are_checked_where_nothing_moves_yet(manager: Api, block: Block) -> None:
    """Another system may be put on the block: the board is still made."""
    start = block.farm.now() - timedelta(hours=9)
    body = {"block_ids": [block.pk], "status": "done", "started_at": start.isoformat(), "hours": 3}
    refused = manager.post(WATER, {**body, "place_from": 1.0}, 422)
    assert [p["field"] for p in refused["problems"]] == ["place_to"]
    manager.post(WATER, {**body, "place_from": 0.5, "share": 0.25}, 201)
    block.system_kind, block.design = "pivot", {}
    block.save()
    assert len(manager.get(f"{BASE}/board")["rows"]) == 12
