"""A source that begins too late for the rest of its season: on the run sheet, and by mail."""

import json
from datetime import date, timedelta
from pathlib import Path
from typing import Any

import pytest
from django.core import mail

from server.blocks.models import Block
from server.farms.models import Farm
from server.plan.clock import midnight_before
from server.plan.late_starts import late_starts
from server.plan.models import EditKind, RunSheet, SheetEdit, SheetStatus
from server.today.alarms_by_mail import send_alarms
from server.water.models import Irrigation

SAMPLES = Path(__file__).parents[1] / "samples"
TODAY = date(2026, 7, 14)


def sheet_with(farm: Farm, begin_by: dict[str, Any] | None, *starts: int) -> None:
    """A run sheet in use of one block, with irrigations that begin in some slots."""
    Irrigation.objects.for_farm(farm).filter(status__in=["planned", "running"]).delete()
    stored = json.loads((SAMPLES / "run-sheet-3.json").read_text())["content"]
    block = Block.objects.for_farm(farm).get(name="Quern Field")
    inputs = stored["inputs"]
    inputs["blocks"] = [{**inputs["blocks"][0], "block_id": block.pk, "source": 0}]
    season = {
        "format": 1,
        "years": 40,
        "from_on": str(TODAY),
        "sources": [{"name": "north bore ", "begin_by": begin_by, "licence": None}],
    }
    sheet = RunSheet(
        farm=farm,
        status=SheetStatus.READY,
        asked_at=farm.now(),
        made_at=farm.now(),
        taken_at=farm.now(),
        first_at=midnight_before(farm.now()),
        inputs=inputs,
        outcome=stored["outcome"],
        season=season,
    )
    sheet.save()
    sets = [
        {"id": k, "block_id": block.pk, "start": s, "slots": 3, "net_mm": 12.0}
        for k, s in enumerate(starts)
    ]
    SheetEdit(
        sheet=sheet, number=1, kind=EditKind.PLANNED, sets=sets, money={}, made_at=farm.now()
    ).save()


def by(on: date | None, *, beyond: bool = False) -> dict[str, Any]:
    return {"on": None if on is None else str(on), "kept": 0.8, "beyond": beyond, "never": []}


IN_TWO, IN_FOUR = TODAY + timedelta(days=2), TODAY + timedelta(days=4)


@pytest.mark.parametrize(
    ("begin_by", "starts", "late"),
    [
        (by(IN_TWO), [30], None),
        (by(IN_TWO), [36, 50], (IN_TWO, TODAY + timedelta(days=3))),
        (by(IN_FOUR), [], (IN_FOUR, None)),
        (by(None), [], (None, None)),
        (by(None), [8], None),
        (by(None), [14], (None, TODAY + timedelta(days=1))),
        (by(IN_TWO, beyond=True), [], None),
        (by(TODAY + timedelta(days=22)), [], None),
        (by(TODAY + timedelta(days=21)), [], (TODAY + timedelta(days=21), None)),
        (None, [], None),
    ],
)
def test_late_where_it_begins_after_its_latest_start(
    farm: Farm,
    begin_by: dict[str, Any] | None,
    starts: list[int],
    late: tuple[date | None, date | None] | None,
) -> None:
    sheet_with(farm, begin_by, *starts)
    found = [(x.source, x.begin_by, x.first_on) for x in late_starts(farm)]
    assert found == ([] if late is None else [("north bore ", *late)])


def test_what_runs_has_begun(farm: Farm) -> None:
    """Yesterday's irrigation counts, and one that was cancelled does not."""
    sheet_with(farm, by(IN_TWO), 40)
    block = Block.objects.for_farm(farm).get(name="Quern Field")
    began = farm.now() - timedelta(hours=20)
    row = Irrigation(
        block=block,
        status="done",
        started_at=began,
        ended_at=began + timedelta(hours=4),
        gross_mm=15,
    )
    row.save()
    assert late_starts(farm) == []
    row.status = "cancelled"
    row.save()
    assert len(late_starts(farm)) == 1


def test_who_decides_is_told_once_a_week(farm: Farm) -> None:
    sheet_with(farm, by(IN_TWO), 36)
    assert send_alarms(farm) == 2
    assert "north bore : must begin by 16 July, and begins on 17 July" in mail.outbox[0].body
    assert send_alarms(farm) == 0


def test_without_a_sheet_nothing_is_late(farm: Farm) -> None:
    RunSheet.objects.for_farm(farm).delete()
    assert late_starts(farm) == []
