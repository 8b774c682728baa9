"""Sets planned, begun, ended, logged and mended; holds."""

from typing import Any

import pytest

from core.quality.flags import Flag
from server.advice.assemble import block_inputs, recent_sets
from server.blocks.models import Block
from server.blocks.services import BLOCK_PARTS
from server.farms.models import Farm, Role
from server.readings.models import Reading
from server.water.models import Irrigation
from server.weather.recorded import farm_weather
from tests.server.conftest import Api

BASE = "/farms/thistlewick"
WATER = f"{BASE}/water"


def a_set(block: Block, **changes: Any) -> dict[str, Any]:
    return {
        "block_ids": [block.pk],
        "status": "done",
        "started_at": "2026-07-13T20:00",
        "ended_at": "2026-07-13T23:00",
        **changes,
    }


def test_hours_become_depth_by_the_blocks_rate(manager: Api, block: Block) -> None:
    (row,) = manager.post(WATER, a_set(block), 201)
    assert row["gross_mm"] == pytest.approx(3 * 4.2)
    assert row["net_mm"] == pytest.approx(3 * 4.2 * 0.75)
    assert row["volume_m3"] == pytest.approx(12.6 / 1000 * 90_000)
    assert row["amount_from"] == "hours"
    assert row["made_by"] == "Maud Pellander"
    assert row["started_at"] == "2026-07-13T18:00:00Z"


def test_a_meter_leads_over_hours_and_spreads_by_area(manager: Api, farm: Farm) -> None:
    two = list(Block.objects.for_farm(farm).filter(name__in=["Quern Field", "Marl Pit"]))
    body = a_set(two[0], block_ids=[b.pk for b in two], meter_start_m3=1000, meter_end_m3=2430)
    rows = manager.post(WATER, body, 201)
    # 1430 m3 over 14.3 ha are 10 mm on each.
    assert [r["gross_mm"] for r in rows] == pytest.approx([10, 10])
    assert {r["amount_from"] for r in rows} == {"meter"}
    kept = Irrigation.objects.for_farm(farm).filter(pk__in=[r["id"] for r in rows])
    assert len({r.together for r in kept}) == 1


def on_one_meter(manager: Api, farm: Farm, **changes: Any) -> tuple[list[Block], Any]:
    """Two blocks of 9 and 5.3 ha whose water one meter counted: 1430 m3, 10 mm on each."""
    two = list(Block.objects.for_farm(farm).filter(name__in=["Quern Field", "Marl Pit"]))
    ids = [b.pk for b in two]
    body = a_set(two[0], block_ids=ids, meter_start_m3=1000, meter_end_m3=2430)
    rows = manager.post(WATER, {**body, **changes}, 201)
    return [Block.unscoped.get(pk=r["block_id"]) for r in rows], rows


def depths(farm: Farm, rows: Any) -> list[float]:
    kept = Irrigation.objects.for_farm(farm).filter(pk__in=[r["id"] for r in rows])
    return list(kept.order_by("pk").values_list("gross_mm", flat=True))


def corrected(row: Any, **changes: Any) -> dict[str, Any]:
    names = ("status", "started_at", "ended_at", "share", "meter_start_m3", "meter_end_m3", "note")
    return {**{n: row[n] for n in names}, **changes}


def test_a_shared_meter_read_wrongly_is_corrected_for_all_its_blocks(
    manager: Api, farm: Farm
) -> None:
    """2002 m3 over 14.3 ha are 14 mm on each, whichever of the two is corrected."""
    _, rows = on_one_meter(manager, farm)
    assert [r["meter_shared_with"] for r in rows] == [1, 1]
    mended = manager.put(f"{WATER}/{rows[1]['id']}", corrected(rows[1], meter_end_m3=3002))
    assert mended["gross_mm"] == pytest.approx(14)
    assert depths(farm, rows) == pytest.approx([14, 14])
    other = Irrigation.objects.for_farm(farm).get(pk=rows[0]["id"])
    assert (other.meter_end_m3, other.history.count()) == (3002, 2)


def test_a_note_on_one_of_a_shared_meter_changes_no_amount(manager: Api, farm: Farm) -> None:
    _, rows = on_one_meter(manager, farm)
    manager.put(f"{WATER}/{rows[0]['id']}", corrected(rows[0], note="valve was stiff"))
    assert depths(farm, rows) == pytest.approx([10, 10])


def test_a_part_of_one_block_leaves_more_of_the_meter_to_the_other(
    manager: Api, farm: Farm
) -> None:
    """1430 m3 over all of one block and half of the other; the same depth where water fell."""
    (first, second), rows = on_one_meter(manager, farm)
    manager.put(f"{WATER}/{rows[1]['id']}", corrected(rows[1], share=0.5))
    depth = 1430 / (first.area_m2 + second.area_m2 / 2) * 1000
    assert depths(farm, rows) == pytest.approx([depth, depth / 2])


def test_what_did_not_run_left_its_share_of_the_meter_to_the_others(
    manager: Api, farm: Farm
) -> None:
    (first, _), rows = on_one_meter(manager, farm)
    manager.client.delete(f"/api{WATER}/{rows[1]['id']}")
    assert depths(farm, rows)[0] == pytest.approx(1430 / first.area_m2 * 1000)
    # Known by depth instead, one takes nothing of the meter's either.
    (_, second), rows = on_one_meter(manager, farm)
    by_depth = corrected(rows[0], gross_mm=7, meter_start_m3=None, meter_end_m3=None)
    assert manager.put(f"{WATER}/{rows[0]['id']}", by_depth)["meter_shared_with"] == 0
    assert depths(farm, rows) == pytest.approx([7, 1430 / second.area_m2 * 1000])


def test_blocks_that_run_on_one_meter_are_ended_by_one_reading(manager: Api, farm: Farm) -> None:
    now = {"started_at": "2026-07-14T04:00", "ended_at": "2026-07-14T08:00"}
    _, rows = on_one_meter(manager, farm, status="running", meter_end_m3=None, **now)
    ended = {"status": "done", "ended_at": "2026-07-14T06:00", "meter_end_m3": 1715}
    manager.put(f"{WATER}/{rows[0]['id']}", corrected(rows[0], **ended))
    assert depths(farm, rows) == pytest.approx([5, 5])
    kept = Irrigation.objects.for_farm(farm).get(pk=rows[1]["id"])
    assert (kept.status, kept.amount_from, kept.meter_end_m3) == ("running", "meter", 1715)


def test_a_part_of_the_block_is_spread_over_it(manager: Api, block: Block) -> None:
    (row,) = manager.post(WATER, a_set(block, gross_mm=20, share=0.25), 201)
    assert row["gross_mm"] == pytest.approx(5)
    assert row["amount_from"] == "depth"


def test_plan_begin_end(manager: Api, as_role: Any, block: Block) -> None:
    (plan,) = manager.post(
        WATER,
        a_set(block, status="planned", started_at="2026-07-14T20:00", ended_at=None, hours=4),
        201,
    )
    irrigator = as_role(Role.IRRIGATOR)
    begun = irrigator.post(f"{WATER}/{plan['id']}/begin", {"at": "2026-07-14T05:10"})
    assert begun["status"] == "running"
    assert begun["ended_at"] == "2026-07-14T07:10:00Z"
    ended = irrigator.put(
        f"{WATER}/{plan['id']}",
        {
            "status": "done",
            "started_at": "2026-07-14T05:10",
            "ended_at": "2026-07-14T06:10",
            "note": "pipe burst",
        },
    )
    assert ended["gross_mm"] == pytest.approx(4.2)
    assert ended["planned_gross_mm"] == pytest.approx(16.8)
    assert ended["planned_start_at"] == "2026-07-14T18:00:00Z"
    history = Irrigation.history.model.objects.filter(id=plan["id"])  # type: ignore[attr-defined]
    assert [h.status for h in history.order_by("history_id")] == ["planned", "running", "done"]


def test_what_is_planned_counts_ahead_and_never_behind(
    manager: Api, farm: Farm, block: Block
) -> None:
    manager.post(
        WATER,
        a_set(block, status="planned", started_at="2026-07-14T20:00", ended_at=None, hours=4),
        201,
    )
    loaded = Block.objects.for_farm(farm).prefetch_related(*BLOCK_PARTS).get(pk=block.pk)
    now = farm.now()
    before = recent_sets(farm, [loaded], now)
    inputs = block_inputs(farm, [loaded], now, farm_weather(farm, now, 60), before)[block.pk]
    (planned,) = inputs.planned
    assert planned.start_hours == pytest.approx(13 + 50 / 60)
    assert planned.net_mm == pytest.approx(4 * 4.2 * 0.75)
    assert all(w.hours <= 0 for w in inputs.waterings)
    row = next(r for r in manager.get(f"{BASE}/board")["rows"] if r["id"] == block.pk)
    assert {"planned_in_time", "planned_too_late"} & set(row["answer"]["reasons"])
    assert [s["status"] for s in row["sets"]][-1] == "planned"


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"ended_at": "2026-07-13T19:00"}, "ended_at"),
        ({"ended_at": "2026-07-14T09:00"}, "ended_at"),
        ({"started_at": "2026-06-30T20:00"}, "ended_at"),
        ({"status": "running", "started_at": "2026-07-14T08:00", "ended_at": None}, "started_at"),
        ({"status": "planned"}, "started_at"),
        ({"meter_start_m3": 50, "meter_end_m3": 50}, "meter_end_m3"),
        ({"started_at": "2026-03-29T02:30", "ended_at": "2026-03-29T05:00"}, "started_at"),
    ],
)
def test_what_can_not_be_is_refused_with_its_field(
    manager: Api, farm: Farm, block: Block, changes: dict[str, Any], field: str
) -> None:
    before = Irrigation.objects.for_farm(farm).count()
    answer = manager.post(WATER, a_set(block, **changes), 422)
    assert field in [p["field"] for p in answer["problems"]]
    assert Irrigation.objects.for_farm(farm).count() == before


def test_one_foreign_block_refuses_all(manager: Api, farm: Farm, block: Block) -> None:
    before = Irrigation.objects.for_farm(farm).count()
    manager.post(WATER, a_set(block, block_ids=[block.pk, 10**6]), 404)
    assert Irrigation.objects.for_farm(farm).count() == before


def test_who_may_do_what(as_role: Any, block: Block, stranger: Api) -> None:
    plan = a_set(block, status="planned", started_at="2026-07-14T20:00", ended_at=None, hours=4)
    as_role(Role.IRRIGATOR).post(WATER, plan, 403)
    as_role(Role.IRRIGATOR).post(WATER, a_set(block), 201)
    as_role(Role.SCOUT).post(WATER, a_set(block), 403)
    as_role(Role.VIEWER).get(WATER)
    stranger.get(WATER, 404)
    stranger.post(WATER, a_set(block), 404)


def log(manager: Api, block: Block, count: int) -> list[int]:
    """Irrigations of an hour each, one after the other; their ids, the newest first."""
    made = []
    for k in range(count):
        times = {"started_at": f"2026-07-12T{k:02}:00", "ended_at": f"2026-07-12T{k + 1:02}:00"}
        made += [r["id"] for r in manager.post(WATER, a_set(block, **times), 201)]
    return made[::-1]


def test_what_was_given_is_listed_as_far_as_asked_the_newest_first(
    manager: Api, farm: Farm, block: Block
) -> None:
    Irrigation.objects.for_farm(farm).delete()
    ids = log(manager, block, 5)
    ahead = {"started_at": "2026-07-14T20:00", "ended_at": None, "hours": 4}
    (plan,) = manager.post(WATER, a_set(block, status="planned", **ahead), 201)
    some = manager.get(f"{WATER}?given=3")
    # What is still to be done is there however little is asked for.
    assert [s["id"] for s in some["sets"]] == [plan["id"], *ids[:3]]
    assert some["given_count"] == 5
    every = manager.get(f"{WATER}?given=5")
    assert [s["id"] for s in every["sets"]] == [plan["id"], *ids]
    assert every["given_count"] == 5
    manager.get(f"{WATER}?given=0", status=422)
    manager.get(f"{WATER}?given=5001", status=422)


def test_irrigations_are_found_by_a_part_of_their_blocks_name(manager: Api, farm: Farm) -> None:
    Irrigation.objects.for_farm(farm).delete()
    rows = Block.objects.for_farm(farm).filter(name__in=["Quern Field", "Marl Pit"])
    quern, marl = rows.order_by("-name")
    (first,), (second,) = log(manager, quern, 1), log(manager, marl, 1)
    asked = {w: manager.get(f"{WATER}?find={w}") for w in ("quern", "RL%20p", "%25", "Nowhere")}
    assert {w: [s["id"] for s in a["sets"]] for w, a in asked.items()} == {
        "quern": [first],
        "RL%20p": [second],
        "%25": [],
        "Nowhere": [],
    }
    assert [a["given_count"] for a in asked.values()] == [1, 1, 0, 0]


def test_water_can_be_logged_on_every_block(manager: Api, farm: Farm, stranger: Api) -> None:
    rows = {r["name"]: r for r in manager.get(f"{WATER}/blocks")}
    assert set(rows) == set(Block.objects.for_farm(farm).values_list("name", flat=True))
    quern = rows["Quern Field"]
    assert (quern["area_m2"], quern["rate_mm_h"], quern["moves"]) == (90_000, 4.2, False)
    # A pivot comes by part after part.
    assert rows["Long Tye"]["moves"]
    stranger.get(f"{WATER}/blocks", 404)


def test_a_cancelled_set_gave_nothing_and_stays_on_record(
    manager: Api, farm: Farm, block: Block
) -> None:
    (row,) = manager.post(WATER, a_set(block), 201)
    manager._read(manager.client.delete(f"/api{WATER}/{row['id']}"), 200)
    assert Irrigation.objects.for_farm(farm).get(pk=row["id"]).status == "cancelled"
    assert row["id"] not in [s.pk for s in recent_sets(farm, [block], farm.now())[block.pk]]
    assert "cancelled" in {s["status"] for s in manager.get(WATER)["sets"]}
    manager.put(f"{WATER}/{row['id']}", a_set(block), 422)


def test_a_logged_set_explains_a_rise(manager: Api, farm: Farm) -> None:
    """What rose without a reason has one once the set is logged, and loses it with the set."""
    block = Block.objects.for_farm(farm).get(name="Low Ings")
    sets = list(Irrigation.objects.for_farm(farm).filter(block=block).order_by("-started_at")[:2])
    readings = Reading.unscoped.filter(
        channel__instrument__block=block, time__gt=sets[-1].started_at
    )

    def rises() -> int:
        return sum(bool(r.flags & Flag.RISE_WITHOUT_WATER) for r in readings.all())

    assert rises() == 0
    for row in sets:
        manager._read(manager.client.delete(f"/api{WATER}/{row.pk}"), 200)
    assert rises() > 0
    for row in sets:
        times = {n: getattr(row, n).isoformat() for n in ("started_at", "ended_at")}
        manager.post(WATER, a_set(block, gross_mm=row.gross_mm, **times), 201)
    assert rises() == 0


def test_a_hold_keeps_the_water_off(manager: Api, block: Block) -> None:
    body = {
        "block_ids": [block.pk],
        "kind": "spray",
        "starts_at": "2026-07-14T05:00",
        "ends_at": "2026-07-16T12:00",
        "note": "re-entry",
    }
    (hold,) = manager.post(f"{BASE}/holds", body, 201)
    answer = manager.get(f"{BASE}/blocks/{block.pk}")["answer"]
    assert answer["state"] == "on_hold"
    assert answer["hold"] == "spray"
    assert answer["start_at"] == "2026-07-16T12:00:00+02:00"
    manager._read(manager.client.delete(f"/api{BASE}/holds/{hold['id']}"), 200)
    assert manager.get(f"{BASE}/blocks/{block.pk}")["answer"]["state"] != "on_hold"


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"ends_at": "2026-07-14T04:00"}, "ends_at"),
        ({"ends_at": "2026-07-14T05:30"}, "ends_at"),
        ({"ends_at": "2027-07-14T05:30"}, "ends_at"),
    ],
)
def test_holds_that_can_not_be(
    manager: Api, block: Block, changes: dict[str, Any], field: str
) -> None:
    body = {
        "block_ids": [block.pk],
        "kind": "wind",
        "starts_at": "2026-07-14T05:00",
        "ends_at": "2026-07-16T12:00",
        **changes,
    }
    answer = manager.post(f"{BASE}/holds", body, 422)
    assert [p["field"] for p in answer["problems"]] == [field]
