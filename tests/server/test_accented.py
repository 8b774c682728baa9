"""Mail, PDF and calendar in accented English: what stays plain there is in no catalogue."""

import re
from collections.abc import Iterator
from datetime import UTC, date, datetime, timedelta
from typing import Any

import pytest
from django.utils import translation

from server.accounts.demo_people import demo_user
from server.base.figures import Figures
from server.farms.models import Farm, Role
from server.today import sheets
from server.today.calendar import feed
from server.today.rows import board_rows
from server.today.summary import summary_of
from server.today.written import written
from server.write_texts import ACCENTED

# Every word of accented English has one of these, unless it has none of their plain letters.
PLAIN = set(map(chr, ACCENTED))
WORD = re.compile(r"[A-Za-z]{3,}")
# The unit of a day's water, as it stands in the table of measures.
SYMBOLS = {"day"}
# Days and months are Django's own, in every language but this one.
CALENDAR = {
    name
    for k in range(365)
    for name in (date(2026, 1, 1) + timedelta(k)).strftime("%a %A %b %B").split()
}


@pytest.fixture
def in_accents() -> Iterator[None]:
    with translation.override("en-xa"):
        yield


# What the farm's people named or wrote, and crops, which are data.
NAMED = {"farm", "block", "crop", "supply", "irrigator", "label", "made_by", "reason", "name"}


def names(data: Any, named: bool = False) -> Iterator[str]:
    if isinstance(data, str) and named:
        yield from WORD.findall(data)
    elif isinstance(data, dict):
        for key, value in data.items():
            yield from names(value, key in NAMED)
    elif isinstance(data, list):
        for value in data:
            yield from names(value, named)


def left_plain(text: str, known: set[str]) -> set[str]:
    """Words without an accent that have a letter which one belongs on."""
    words = {w for w in WORD.findall(text) if set(w) & PLAIN}
    # A word that was split at its accents is no word.
    whole = {w for w in words if re.search(rf"(?<![^\W\d_]){w}(?![^\W\d_])", text)}
    return whole - known - SYMBOLS - CALENDAR


@pytest.fixture
def known(farm: Farm) -> set[str]:
    rows = board_rows(farm)
    told = summary_of(farm, rows).model_dump(mode="json")
    return {*names(told), *names([row.model_dump(mode="json") for row in rows])}


def test_the_summary(farm: Farm, in_accents: None, known: set[str]) -> None:
    told = written(summary_of(farm, board_rows(farm)), "metric")
    assert "bļóçķ" in told.text, "the accents are there"
    assert left_plain(told.title, known) == set()
    assert left_plain(told.text, known) == set()
    page = re.sub(r"<style>.*?</style>|<[^>]+>", " ", told.page, flags=re.DOTALL)
    assert left_plain(page, known) == set()


def test_the_field_sheet(farm: Farm, in_accents: None, known: set[str]) -> None:
    user = demo_user(Role.MANAGER)
    assert user is not None
    text = sheets.field_sheet(farm, user, board_rows(farm))
    page = re.sub(r"<style>.*?</style>|<[^>]+>", " ", text, flags=re.DOTALL)
    assert left_plain(page, known) == set()


def test_the_calendar(farm: Farm, in_accents: None, known: set[str]) -> None:
    user = demo_user(Role.MANAGER)
    assert user is not None
    lines = feed(farm, user).decode().replace("\r\n ", "").splitlines()
    said = [x.split(":", 1)[1] for x in lines if re.match("SUMMARY|DESCRIPTION|X-WR", x)]
    notes = set(names([*farm.blocks.values_list("irrigations__note", flat=True)], named=True))
    assert left_plain("\n".join(said), known | notes) == set()


def test_english_is_as_it_was() -> None:
    shown = Figures("metric")
    assert shown.moment(datetime(2026, 7, 4, 4, 5, tzinfo=UTC), "CET") == "Sat 4 July 06:05"
    assert shown.running_time(0.25) == "15 min"
