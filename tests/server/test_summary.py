"""The daily summary: what is due, next, changed, in need of attention; and how it is written."""

from datetime import datetime, timedelta
from typing import Any

import pytest

from core.advice.vocabulary import BY_WEIGHT, Reason
from server.advice.kept import FORMAT
from server.advice.models import Advice
from server.advice.record import record_day
from server.advice.stored import refresh
from server.base.vocabulary import word
from server.blocks.models import Block
from server.farms.models import Farm
from server.today.rows import board_rows
from server.today.summary import Change, ChangeKind, SummaryOut, summary_of
from server.today.written import written
from server.water.models import Hold, Irrigation
from tests.server.conftest import Api

BASE = "/farms/thistlewick"


def block_named(farm: Farm, name: str) -> Block:
    found: Block = Block.objects.for_farm(farm).get(name=name)
    return found


def test_what_is_due_comes_in_the_order_of_its_start(manager: Api, farm: Farm) -> None:
    told = manager.get(f"{BASE}/today")["summary"]
    rows = {r["name"]: r for r in manager.get(f"{BASE}/board")["rows"]}
    names = [x["block"] for x in told["today"]]
    # What is scheduled for a later day is told there.
    due = [
        n
        for n, r in rows.items()
        if r["answer"]["state"] in ("below_refill", "irrigate_now") and not r["sets"][-1:]
    ]
    assert set(due) <= set(names)
    assert "Tarn Breck" in names
    assert told["below_refill"] == sum(
        r["answer"]["state"] == "below_refill" for r in rows.values()
    )
    first = next(x for x in told["today"] if x["block"] == "Tarn Breck")
    answer = rows["Tarn Breck"]["answer"]
    assert first["hours"] == pytest.approx(answer["run"]["total_hours"])
    assert first["gross_mm"] == pytest.approx(answer["amount"]["gross_mm"])
    assert first["volume_m3"] == pytest.approx(answer["amount"]["volume_m3"])
    starts = [x["start_at"] for x in told["today"] if x["scheduled"] is None]
    assert starts == sorted(starts)
    # What starts later than today, and is no part of it.
    assert not set(names) & {x["block"] for x in told["next"]}


def test_what_is_scheduled_counts_as_it_is_scheduled(manager: Api, farm: Farm) -> None:
    now, block = farm.now(), block_named(farm, "Quern Field")
    Irrigation.unscoped.create(
        block=block,
        status=Irrigation.Status.PLANNED,
        started_at=now + timedelta(hours=3),
        ended_at=now + timedelta(hours=5, minutes=30),
        gross_mm=8,
    )
    told = summary_of(farm, board_rows(farm))
    line = next(x for x in told.today if x.block == "Quern Field")
    assert line.scheduled is not None
    assert (line.hours, line.gross_mm) == (pytest.approx(2.5), 8)
    assert line.volume_m3 == pytest.approx(8 * block.area_m2 / 1000)


def test_what_a_person_skipped_is_not_todays(manager: Api, farm: Farm) -> None:
    block = block_named(farm, "Tarn Breck")
    shown = manager.get(f"{BASE}/board")["rows"]
    assert shown[0]["id"] == block.pk
    said = {"kind": "declined", "why": "no_hands", "reason": "two men short"}
    manager.post(f"{BASE}/blocks/{block.pk}/decisions", said, 201)
    after = summary_of(farm, board_rows(farm))
    assert "Tarn Breck" not in [x.block for x in (*after.today, *after.next)]


def test_totals_go_by_name_and_who_is_not_named_comes_last(farm: Farm) -> None:
    Block.objects.for_farm(farm).update(supply="", irrigator=None)
    Block.objects.for_farm(farm).filter(name="Tarn Breck").update(supply="River pump")
    told = summary_of(farm, board_rows(farm))
    (nobody,) = told.by_irrigator
    assert (nobody.name, nobody.blocks) == ("", len(told.today))
    assert nobody.hours == pytest.approx(sum(x.hours or 0 for x in told.today))
    assert nobody.volume_m3 == pytest.approx(sum(x.volume_m3 or 0 for x in told.today))
    assert [x.name for x in told.by_supply][-1] == ""
    assert told.by_supply[0].name == "River pump"


def advised(
    farm: Farm, name: str, state: str, start_at: datetime | None, written_as: int = FORMAT
) -> None:
    """What yesterday's advice said."""
    now = farm.now()
    block, day = block_named(farm, name), now.date() - timedelta(days=1)
    Advice.objects.for_farm(farm).filter(block=block, day=day).delete()
    Advice.unscoped.create(
        block=block,
        day=day,
        made_at=now - timedelta(days=1),
        version="x",
        format=written_as,
        state=state,
        start_at=start_at,
        answer={},
        working={},
        inputs={},
    )


def change_of(farm: Farm, name: str) -> Change | None:
    return next((c for c in summary_of(farm, board_rows(farm)).changes if c.block == name), None)


def test_changes_against_yesterdays_advice(farm: Farm, manager: Api) -> None:
    start = {
        r["name"]: r["answer"]["start_at"] and datetime.fromisoformat(r["answer"]["start_at"])
        for r in manager.get(f"{BASE}/board")["rows"]
    }
    long_tye = start["Long Tye"]
    assert long_tye is not None
    hours = timedelta(hours=1)
    for name, state, was, kind in (
        ("Tarn Breck", "irrigate_now", None, ChangeKind.BELOW_REFILL),
        ("Gorse Piece", "ok", None, ChangeKind.DATA_LOST),
        ("Long Tye", "no_reliable_data", None, ChangeKind.DATA_BACK),
        ("Long Tye", "below_refill", None, ChangeKind.NO_LONGER_BELOW),
        ("Long Tye", "ok", None, ChangeKind.NEWLY_DUE),
        ("Long Tye", "ok", long_tye + 13 * hours, ChangeKind.EARLIER),
        ("Long Tye", "ok", long_tye - 13 * hours, ChangeKind.LATER),
        ("Long Tye", "ok", long_tye - 11 * hours, None),
    ):
        advised(farm, name, state, was)
        found = change_of(farm, name)
        assert (found and found.kind) == kind, (name, state, was)


def test_yesterdays_advice_may_be_of_a_format_before(farm: Farm) -> None:
    advised(farm, "Long Tye", "no_word", None, written_as=6)
    found = change_of(farm, "Long Tye")
    assert found is not None
    assert found.kind == ChangeKind.DATA_BACK


def test_what_was_due_yesterday_and_still_is_is_no_later(farm: Farm, manager: Api) -> None:
    rows = {r["name"]: r["answer"] for r in manager.get(f"{BASE}/board")["rows"]}
    assert rows["Marl Pit"]["state"] == "irrigate_now"
    advised(farm, "Marl Pit", "irrigate_now", farm.now() - timedelta(days=1))
    assert change_of(farm, "Marl Pit") is None


def test_no_change_is_told_where_yesterday_had_no_advice(farm: Farm) -> None:
    Advice.objects.for_farm(farm).delete()
    assert summary_of(farm, board_rows(farm)).changes == []


def test_irrigation_of_the_past_day_is_told_and_no_older(farm: Farm) -> None:
    now, block = farm.now(), block_named(farm, "Quern Field")
    for hours in (2, 25):
        Irrigation.unscoped.create(
            block=block,
            status=Irrigation.Status.DONE,
            started_at=now - timedelta(hours=hours + 4),
            ended_at=now - timedelta(hours=hours),
            gross_mm=hours,
        )
    told = [x for x in summary_of(farm, board_rows(farm)).applied if x.block == "Quern Field"]
    assert [x.gross_mm for x in told] == [2]


def test_what_needs_attention(farm: Farm) -> None:
    now = farm.now()
    Hold.unscoped.create(
        block=block_named(farm, "Quern Field"),
        kind="spray",
        starts_at=now - timedelta(hours=1),
        ends_at=now + timedelta(days=9),
    )
    told = summary_of(farm, board_rows(farm))
    assert "Gorse Piece" in [x.block for x in told.no_data]
    held = [x for x in told.on_hold if x.block == "Quern Field"]
    assert [(x.hold, x.until) for x in held] in ([], [("spray", now + timedelta(days=9))])
    concerns = {x.label: x for x in told.instruments}
    assert concerns["Probe G1"].silent
    assert not concerns["Probe Q1"].silent
    assert concerns["Probe Q1"].reliable == pytest.approx(0.83, abs=0.01)
    assert "Probe A1" not in concerns


def test_weather_of_yesterday_and_the_days_ahead(farm: Farm) -> None:
    days = summary_of(farm, board_rows(farm)).weather
    today = farm.now().date()
    assert [d.on for d in days if d.recorded] == [today - timedelta(days=1)]
    ahead = [d for d in days if not d.recorded]
    assert [d.on for d in ahead] == [today + timedelta(days=k) for k in range(3)]
    assert all(d.rain_chance is not None for d in ahead)


def test_it_is_written_as_text_and_as_a_page(farm: Farm) -> None:
    refresh(farm)
    told = summary_of(farm, board_rows(farm))
    for units, gross in (("metric", "mm"), ("us", "in")):
        letter = written(told, units)
        assert letter.title == "Thistlewick Levels, Tuesday 14 July 2026, 06:10"
        assert letter.text.startswith(f"{letter.title} (simulated)\n")
        for form in (letter.text, letter.page):
            assert "Tarn Breck" in form
            assert "Below refill" in form
            assert f" {gross}" in form
            assert "No reliable data" in form
            assert "does not replace an agronomist" in form.replace("\n", " ")
        assert "\n\n\n" not in letter.text
        assert "None" not in letter.text


def test_a_quiet_day_is_written_whole() -> None:
    """Nothing due, nothing changed, nothing known of the weather."""
    letter = written(quiet(), "metric")
    assert "No irrigation is due today." in letter.text
    assert "No change in the advice, and no irrigation ended." in letter.text
    assert "No weather is recorded, and there is no forecast." in letter.text
    assert "Irrigate today" not in letter.page


def quiet(**over: Any) -> SummaryOut:
    at = datetime.fromisoformat("2026-07-14T06:10:00+02:00")
    lists = ("today", "by_supply", "by_irrigator", "next", "changes", "applied", "no_data")
    more = ("on_hold", "asked", "instruments", "weather")
    return SummaryOut(
        farm="F",
        time_zone="CET",
        now=at,
        simulated=False,
        below_refill=0,
        overdue_tasks=0,
        **{**{name: [] for name in (*lists, *more)}, **over},
    )


def test_names_are_escaped_on_the_page_and_plain_in_the_text() -> None:
    no_data = [{"block_id": 1, "block": "<b>Ings & Co</b>", "reasons": [Reason.NO_INSTRUMENT]}]
    letter = written(quiet(no_data=no_data), "metric")
    assert "<b>Ings & Co</b>: No reliable data." in letter.text
    assert "&lt;b&gt;Ings &amp; Co&lt;/b&gt;" in letter.page
    assert "<b>Ings" not in letter.page


def test_reasons_come_by_weight(manager: Api, farm: Farm) -> None:
    assert sorted(BY_WEIGHT) == sorted(Reason)
    order = [str(r) for r in BY_WEIGHT]
    for row in manager.get(f"{BASE}/board")["rows"]:
        reasons = row["answer"]["reasons"]
        assert reasons == sorted(reasons, key=order.index)


def test_yesterdays_record_is_compared_without_its_figures(
    farm: Farm, django_assert_max_num_queries: Any
) -> None:
    record_day(farm, farm.now() - timedelta(days=1))
    summary_of(farm, board_rows(farm))
    with django_assert_max_num_queries(25):
        summary_of(farm, board_rows(farm))


def test_every_change_has_its_words() -> None:
    for kind in ChangeKind:
        change = {"block_id": 1, "block": "B", "kind": kind, "was_at": None, "now_at": None}
        letter = written(quiet(changes=[change]), "metric")
        assert f"B {word('change', kind).split('{')[0]}" in letter.text, kind
