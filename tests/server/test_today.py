"""What the morning is told: words, table, page, calendar, mail."""

import csv
import io
from datetime import datetime, timedelta
from typing import Any

import pytest
from django.core import mail
from django.test import Client
from icalendar import Calendar

from server.base.errors import RequestError
from server.blocks.models import Block
from server.farms.models import Farm, Membership, Role
from server.files.confined import read_confined
from server.instruments.pictures import small_picture
from server.today.models import CalendarToken
from server.today.tasks import freshen, morning
from tests.fuzz.files import picture
from tests.server.conftest import Api

BASE = "/farms/thistlewick"


def read(api: Api, path: str) -> bytes:
    answer = api.client.get(f"/api{BASE}/{path}")
    assert answer.status_code == 200
    return bytes(answer.content)


def test_the_table_reads_back(manager: Api, farm: Farm) -> None:
    Block.objects.for_farm(farm).filter(name="Tarn Breck").update(supply="=cmd()")
    rows = list(csv.DictReader(io.StringIO(read(manager, "today.csv").decode())))
    assert len(rows) == 12
    assert rows[0]["block"] == "Tarn Breck"
    assert rows[0]["supply"] == "'=cmd()", "no spreadsheet takes it for a formula"
    on_board = manager.get(f"{BASE}/board")["rows"][0]["answer"]["amount"]["gross_mm"]
    assert float(rows[0]["gross_mm"]) == pytest.approx(on_board, abs=0.1)
    assert datetime.fromisoformat(rows[0]["latest_start"]).utcoffset() == timedelta(hours=2)
    assert rows[-1]["state"] == "no_reliable_data"
    assert rows[-1]["gross_mm"] == ""


def test_the_page_is_a_pdf(manager: Api, stranger: Api) -> None:
    assert read(manager, "today.pdf")[:5] == b"%PDF-"
    # The engine that lays out pages makes half a picture pass as whole: those that people send
    # must not, though they are read where it is loaded.
    whole = picture("JPEG")()
    read_confined(small_picture, whole)
    with pytest.raises(RequestError):
        read_confined(small_picture, whole[: len(whole) // 2])
    stranger.get(f"{BASE}/today.pdf", 404)


def test_a_calendar_of_ones_own(manager: Api, farm: Farm) -> None:
    path = manager.post(f"{BASE}/calendar", {})["path"]
    token = path.rsplit("/", 1)[1].removesuffix(".ics")
    assert CalendarToken.objects.get().hashed != token
    outside = Client()
    answer = outside.get(path)
    assert answer["Content-Type"].startswith("text/calendar")
    events = Calendar.from_ical(answer.content).walk("VEVENT")
    planned = [e for e in events if e["STATUS"] == "TENTATIVE"]
    assert [str(e["SUMMARY"]) for e in planned] == ["Long Tye: 20 mm"]
    assert planned[0]["DTSTART"].dt.isoformat() == "2026-07-16T04:00:00+00:00"
    # A new address ends the old one; so does leaving the farm.
    second = manager.post(f"{BASE}/calendar", {})["path"]
    assert outside.get(path).status_code == 404
    assert outside.get(second).status_code == 200
    Membership.objects.get(farm=farm, role=Role.MANAGER).delete()
    assert outside.get(second).status_code == 404


def test_a_revoked_calendar(manager: Api) -> None:
    path = manager.post(f"{BASE}/calendar", {})["path"]
    assert manager.get(f"{BASE}/today")["has_calendar"]
    manager._read(manager.client.delete(f"/api{BASE}/calendar"), 200)
    assert Client().get(path).status_code == 404


def test_the_morning_comes_once(manager: Api, farm: Farm) -> None:
    manager.put(f"{BASE}/today/mail", {"morning_mail": True})
    morning(0)
    morning(0)
    (sent,) = mail.outbox
    assert sent.to == ["maud@thistlewick.example"]
    assert sent.subject.startswith("Thistlewick Levels, Tuesday 14 July 2026")
    assert "Marl Pit" in sent.body
    ((page, kind),) = sent.alternatives
    assert kind == "text/html"
    assert "Marl Pit" in page


def test_before_the_morning_nothing_goes_out(manager: Api, farm: Farm) -> None:
    manager.put(f"{BASE}/today/mail", {"morning_mail": True})
    farm.fixed_now = farm.now().replace(hour=3)
    farm.save()
    morning(0)
    assert mail.outbox == []


def test_boards_are_made_ready_before_anyone_asks(farm: Farm, manager: Api, as_role: Any) -> None:
    freshen(0)
    before = manager.get(f"{BASE}/board")["rows"]
    assert len(before) == 12
