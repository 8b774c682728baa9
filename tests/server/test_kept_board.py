"""The board is made once for the many who look at it, until anything it shows has changed."""

from collections.abc import Callable
from datetime import date, datetime, timedelta
from typing import Any

import pytest

from server.advice import api as advice_api
from server.advice.kept_board import KEPT_FOR
from server.advice.stored import refresh
from server.blocks.models import Block
from server.farms.models import Farm, Role
from server.weather.models import WeatherDay
from tests.server.conftest import Api
from tests.server.test_stored_board import (
    BASE,
    add_irrigations,
    bring_reading,
    change_rain,
    change_soil,
    enter_et,
    hold,
    rename,
    send_by_logger,
)


@pytest.fixture
def made(monkeypatch: pytest.MonkeyPatch, farm: Farm) -> list[str]:
    """The farms whose board was made, and not only sent."""
    heard: list[str] = []
    real = advice_api._board

    def listen(of: Farm) -> str:
        heard.append(of.slug)
        return real(of)

    monkeypatch.setattr(advice_api, "_board", listen)
    refresh(farm)
    return heard


@pytest.fixture
def board(manager: Api) -> Callable[[], Any]:
    return lambda: manager.get(f"{BASE}/board")


def test_a_board_is_made_once_for_everybody(
    board: Callable[[], Any], made: list[str], as_role: Any
) -> None:
    first = board()
    assert board() == first
    assert as_role(Role.VIEWER).get(f"{BASE}/board") == first
    assert made == ["thistlewick"]


def test_each_farm_has_its_own(board: Callable[[], Any], made: list[str], stranger: Api) -> None:
    assert len(board()["rows"]) == 12
    assert stranger.get("/farms/barrow/board")["rows"] == []
    stranger.get(f"{BASE}/board", status=404)
    assert len(board()["rows"]) == 12
    assert made == ["thistlewick", "barrow"]


@pytest.mark.parametrize("change", [bring_reading, add_irrigations, hold, rename])
def test_what_a_person_did_to_a_block_is_on_the_board_at_once(
    board: Callable[[], Any], made: list[str], block: Block, change: Callable[[Block], None]
) -> None:
    before = board()
    change(block)
    assert board() != before
    assert len(made) == 2


@pytest.mark.parametrize("change", [change_soil, change_rain, enter_et])
def test_what_a_person_did_to_the_farm_is_on_the_board_at_once(
    board: Callable[[], Any], made: list[str], farm: Farm, change: Callable[[Farm], None]
) -> None:
    before = board()
    change(farm)
    assert board() != before
    assert len(made) == 2


def test_a_farm_of_another_name_has_it_on_the_board_at_once(
    board: Callable[[], Any], farm: Farm
) -> None:
    board()
    Farm.objects.filter(pk=farm.pk).update(name="Thistlewick, upper")
    assert board()["farm"] == "Thistlewick, upper"


def test_a_decision_is_on_the_board_at_once(board: Callable[[], Any], manager: Api) -> None:
    block = next(r["id"] for r in board()["rows"] if r["answer"]["state"] == "irrigate_now")
    manager.post(f"{BASE}/blocks/{block}/decisions", {"kind": "declined", "why": "rain"}, 201)
    row = next(r for r in board()["rows"] if r["id"] == block)
    assert row["decision"]["kind"] == "declined"


def test_a_removed_block_is_gone_at_once(
    board: Callable[[], Any], made: list[str], block: Block
) -> None:
    board()
    block.delete()
    assert block.name not in [r["name"] for r in board()["rows"]]


def test_what_a_logger_sent_comes_with_the_line(
    board: Callable[[], Any], made: list[str], farm: Farm, block: Block, manager: Api
) -> None:
    before = board()
    send_by_logger(manager, block)
    assert board() == before
    refresh(farm)
    assert board() != before
    assert len(made) == 2


def test_a_board_tells_the_time_to_a_minute(
    board: Callable[[], Any], made: list[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    real, gone = Farm.now, timedelta(0)
    monkeypatch.setattr(Farm, "now", lambda farm: real(farm) + gone)
    first = datetime.fromisoformat(board()["now"])
    gone = KEPT_FOR
    assert datetime.fromisoformat(board()["now"]) == first
    for gone in (KEPT_FOR + timedelta(seconds=1), -timedelta(seconds=1)):
        assert datetime.fromisoformat(board()["now"]) == first + gone
    assert len(made) == 3


def test_a_farm_without_blocks_is_told_its_weather_at_once(stranger: Api) -> None:
    other = Farm.objects.get(slug="barrow")
    on = other.now().date() - timedelta(days=2)
    stranger.get("/farms/barrow/board")
    WeatherDay(farm=other, date=on, rain_mm=4, source="gauge").save()
    (day,) = stranger.get("/farms/barrow/board")["rain"]
    assert (date.fromisoformat(day["date"]), day["rain_mm"]) == (on, 4)
