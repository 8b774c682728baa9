"""Pictures with reports from the field, and what the log tells of a report."""

import io
from datetime import timedelta
from typing import Any
from uuid import uuid4

from PIL import Image

from server.farms.models import Farm, Role
from server.plan.models import FieldPhoto
from server.water.models import Irrigation
from tests.server.conftest import Api
from tests.server.test_field_reports import (
    JOBS,
    nothing_planned_yet,
    report,
    scheduled,
    send,
    tam,
)
from tests.server.test_instruments import picture

__all__ = ["nothing_planned_yet", "scheduled", "tam"]


def test_a_picture_comes_before_its_report_and_once(
    tam: Api, manager: Api, scheduled: Irrigation, farm: Farm, stranger: Api
) -> None:
    start = report(scheduled, "start", 50, meter_m3=100.0, pressure_kpa=320)
    for _ in range(2):
        tam.upload(f"{JOBS}/photos", "field.jpg", picture(), status=201, key=start["key"])
    assert FieldPhoto.objects.for_farm(farm).count() == 1
    stop = report(scheduled, "stop", 5, why="breakdown", note="pipe off")
    send(tam, start, stop)
    begun, ended = manager.get(f"{JOBS}/reports?days=1")
    assert (begun["kind"], begun["meter_m3"], begun["pressure_kpa"]) == ("start", 100.0, 320.0)
    assert (begun["why"], begun["made_by"]) == (None, "Tam Orrowby")
    assert (ended["why"], ended["note"], ended["photo_id"]) == ("breakdown", "pipe off", None)
    assert [r["irrigation_id"] for r in (begun, ended)] == [scheduled.pk] * 2
    answer = manager.client.get(f"/api{JOBS}/photos/{begun['photo_id']}")
    shown = Image.open(io.BytesIO(answer.content))
    assert (shown.format, shown.size) == ("JPEG", (1600, 800))
    stranger.get(f"/farms/barrow/jobs/photos/{begun['photo_id']}", status=404)
    # The same key on another farm is another picture.
    stranger.upload("/farms/barrow/jobs/photos", "x.jpg", picture(), status=201, key=start["key"])
    assert stranger.get("/farms/barrow/jobs/reports") == []


def test_what_is_no_picture_is_refused(tam: Api, as_role: Any, farm: Farm) -> None:
    key = str(uuid4())
    tam.upload(f"{JOBS}/photos", "x.jpg", b"no picture", status=422, key=key)
    as_role(Role.VIEWER).upload(f"{JOBS}/photos", "x.jpg", picture(), status=403, key=key)
    assert not FieldPhoto.objects.for_farm(farm).exists()


def test_reports_of_so_many_days(tam: Api, manager: Api, scheduled: Irrigation, farm: Farm) -> None:
    begun = farm.now() - timedelta(days=3)
    scheduled.started_at, scheduled.ended_at = begun, begun + timedelta(hours=4)
    scheduled.save()
    send(tam, report(scheduled, "start", 2.5 * 1440), report(scheduled, "stop", 30, why="finished"))
    assert [r["kind"] for r in manager.get(f"{JOBS}/reports?days=1")] == ["stop"]
    assert [r["kind"] for r in manager.get(f"{JOBS}/reports")] == ["start", "stop"]
    manager.get(f"{JOBS}/reports?days=0", status=422)
