"""A block's pages are made once and sent again, until anything they rest on has changed."""

from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest

from server.advice import api as advice_api
from server.advice.models import StoredAnswer, StoredPage, Touched
from server.advice.pages import BEHIND_LOGGERS, PAGE_OLDEST
from server.advice.stored import refresh
from server.blocks.models import Block
from server.farms.models import Farm
from tests.server.conftest import Api
from tests.server.test_stored_board import (
    BASE,
    add_irrigations,
    bring_reading,
    hold,
    send_by_logger,
)


@pytest.fixture
def made(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    """Which pages were made, and not only sent."""
    heard: list[str] = []
    for name in ("_block_out", "block_series"):
        real = getattr(advice_api, name)

        def listen(*args: Any, real: Any = real, name: str = name) -> Any:
            heard.append(name)
            return real(*args)

        monkeypatch.setattr(advice_api, name, listen)
    return heard


@pytest.fixture
def page(farm: Farm, block: Block, manager: Api) -> Callable[[], Any]:
    refresh(farm)
    return lambda: manager.get(f"{BASE}/blocks/{block.pk}")


def test_a_page_is_made_once(
    page: Callable[[], Any], made: list[str], manager: Api, block: Block
) -> None:
    first = page()
    assert page() == first
    assert made == ["_block_out"]
    path = f"{BASE}/blocks/{block.pk}/series"
    assert manager.get(path) == manager.get(path) == manager.get(f"{path}?days=21")
    assert made == ["_block_out", "block_series"]
    # Another stretch is made for whoever asks for it.
    assert manager.get(f"{path}?days=30")["days"] == 30
    assert manager.get(f"{path}?days=30")["days"] == 30
    assert made[2:] == ["block_series"] * 2
    assert StoredPage.objects.for_farm(block.farm).count() == 2


@pytest.mark.parametrize("change", [bring_reading, add_irrigations, hold])
def test_what_a_person_did_is_on_the_page_at_once(
    page: Callable[[], Any],
    made: list[str],
    farm: Farm,
    block: Block,
    change: Callable[[Block], None],
) -> None:
    before = page()
    change(block)
    after = page()
    assert made == ["_block_out"] * 2
    assert after != before
    # It is kept again once the line is made that it stands beside.
    refresh(farm)
    assert page() == page() == after
    assert made == ["_block_out"] * 3


def test_another_blocks_change_makes_no_page_anew(
    page: Callable[[], Any], made: list[str], farm: Farm, block: Block
) -> None:
    page()
    other = Block.objects.for_farm(farm).exclude(pk=block.pk)[0]
    add_irrigations(other)
    page()
    refresh(farm)
    page()
    assert made == ["_block_out"]


def test_a_farms_change_makes_every_page_anew(
    page: Callable[[], Any], made: list[str], farm: Farm, manager: Api
) -> None:
    page()
    manager.put(f"{BASE}/stated-et", {"low": 4, "expected": 6, "high": 8})
    page()
    assert made == ["_block_out"] * 2


def a_minute_later(farm: Farm) -> None:
    rows = StoredPage.objects.for_farm(farm)
    rows.update(made_at=farm.now() - BEHIND_LOGGERS - timedelta(seconds=1))


def test_what_a_logger_sent_comes_within_a_minute(
    page: Callable[[], Any], made: list[str], farm: Farm, block: Block, manager: Api
) -> None:
    before = page()
    send_by_logger(manager, block)
    assert page() == before
    refresh(farm)
    assert page() == before
    assert made == ["_block_out"]
    a_minute_later(farm)
    assert page()["answer"] != before["answer"]
    assert made == ["_block_out"] * 2
    send_by_logger_late(block)
    page()
    assert made == ["_block_out"] * 3


@pytest.mark.parametrize("first", ["person", "logger"])
def test_a_persons_deed_waits_for_no_minute_beside_a_loggers(
    page: Callable[[], Any], made: list[str], farm: Farm, block: Block, manager: Api, first: str
) -> None:
    before = page()
    if first == "person":
        add_irrigations(block)
        refresh(farm)
    send_by_logger(manager, block)
    if first == "logger":
        add_irrigations(block)
    refresh(farm)
    after = page()
    assert after != before
    assert page() == after
    assert made == ["_block_out"] * 2


def test_a_minute_is_for_the_same_rules(
    page: Callable[[], Any], made: list[str], farm: Farm, block: Block, manager: Api
) -> None:
    page()
    StoredAnswer.objects.for_farm(farm).update(version="other")
    send_by_logger(manager, block)
    refresh(farm)
    page()
    assert made == ["_block_out"] * 2


def send_by_logger_late(block: Block) -> None:
    """A note that no worker took in for an hour."""
    at = datetime.now(UTC) - timedelta(hours=1)
    Touched(farm_id=block.farm_id, block_id=block.pk, by_logger=True, noted_at=at).save()


def test_an_old_page_is_made_anew(
    page: Callable[[], Any], made: list[str], farm: Farm, block: Block
) -> None:
    page()
    rows = StoredPage.objects.for_farm(farm)
    rows.update(made_at=farm.now() - PAGE_OLDEST - timedelta(seconds=1))
    page()
    assert made == ["_block_out"] * 2
    # A line of other rules vouches for nothing.
    StoredAnswer.objects.for_farm(farm).update(version="other")
    page()
    page()
    assert made == ["_block_out"] * 4


def test_a_kept_page_is_for_the_farms_own_people(
    page: Callable[[], Any], stranger: Api, block: Block
) -> None:
    page()
    stranger.get(f"{BASE}/blocks/{block.pk}", status=404)
    stranger.get(f"/farms/barrow/blocks/{block.pk}", status=404)
    stranger.get(f"/farms/barrow/blocks/{block.pk}/series", status=404)
