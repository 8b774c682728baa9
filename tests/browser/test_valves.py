"""Valves through the real interface, with the simulated controller as a process of its own."""

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Locator, Page, expect

from standins.valve_controller import change_field
from standins.valve_field import read_field, write_field
from tests.browser.conftest import PHONE, Demo, send, valve_controller

PAGE = "/thistlewick/irrigation/valves"
Happen = Callable[[str, int | None], None]


@pytest.fixture
def happen(at_board: Page, demo: Demo, tmp_path: Path) -> Iterator[Happen]:
    """The controller runs, and what happens in the field is up to the test."""
    field = tmp_path / "field.json"

    def do(what: str, valve: int | None) -> None:
        around = read_field(field)
        change_field(around, what, valve)
        write_field(field, around)

    with valve_controller(at_board.context, demo, field, contact_s=8):
        yield do


def state(page: Page, valve: str) -> Locator:
    return page.get_by_role("row").filter(has=page.get_by_text(valve, exact=True)).first


def open_wick_terrace(page: Page) -> None:
    page.get_by_role("button", name="Open Wick Terrace").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Stays open for").fill("90")
    dialog.get_by_role("button", name="Next").click()
    expect(dialog.get_by_text("will open now and close after 1 h 30")).to_be_visible()
    expect(dialog.get_by_text("Valves that open from afar can hurt people")).to_be_visible()
    dialog.get_by_role("button", name="Open the valve").click()
    expect(dialog).to_be_hidden()
    expect(page.get_by_role("button", name="Close Wick Terrace")).to_be_enabled()
    expect(state(page, "Wick Terrace")).to_contain_text("closes in 1 h")


def test_opened_by_confirmation_locked_out_and_stopped(
    at_board: Page, happen: Happen, browser: Browser, base_url: str
) -> None:
    page = at_board
    page.goto(f"{base_url}{PAGE}")
    expect(page.get_by_role("button", name="Open Wick Terrace")).to_be_enabled()
    open_wick_terrace(page)
    # Somebody works at another valve: nobody opens it from here.
    happen("lock-out", 2)
    expect(state(page, "Upper Hanger, north")).to_contain_text("Locked out in the field")
    expect(page.get_by_role("button", name="Open Upper Hanger, north")).to_be_disabled()
    # On a phone, at the board, by a person who only looks.
    with browser.new_context(viewport=PHONE, service_workers="block") as phone:
        send(phone, base_url, "POST", "/api/session/demo", {"role": "viewer"})
        other = phone.new_page()
        other.goto(f"{base_url}/thistlewick")
        expect(other.get_by_text("1 valve is open")).to_be_visible()
        other.get_by_role("button", name="Emergency stop").locator("visible=true").click()
        expect(other.get_by_text("All controllers confirm")).to_be_visible()
        expect(other.get_by_role("button", name="Release the stop")).to_have_count(0)
    expect(page.get_by_text("Emergency stop since").first).to_be_visible()
    expect(state(page, "Wick Terrace")).to_contain_text("Closed")
    expect(page.get_by_role("button", name="Open Wick Terrace")).to_be_disabled()
    expect(page.get_by_text("Closed: emergency stop")).to_be_visible()
    page.get_by_role("button", name="Release the stop").click()
    expect(page.get_by_role("button", name="Open Wick Terrace")).to_be_enabled()
    expect(page.get_by_text("Emergency stop released")).to_be_visible()


def test_a_controller_gone_silent_is_not_guessed_at(
    at_board: Page, happen: Happen, base_url: str
) -> None:
    page = at_board
    page.goto(f"{base_url}{PAGE}")
    expect(page.get_by_role("button", name="Open Wick Terrace")).to_be_enabled()
    open_wick_terrace(page)
    happen("silent", None)
    expect(state(page, "Wick Terrace")).to_contain_text("No contact; open before", timeout=120_000)
    expect(page.get_by_text("open when contact was lost")).to_be_visible()
    expect(page.get_by_role("button", name="Open Alder Reach")).to_be_disabled()
    happen("heard", None)
    expect(page.get_by_text("Closed: no contact")).to_be_visible()
    expect(page.get_by_text("open when contact was lost")).to_be_hidden()


def test_switched_off_and_on_with_the_cautions_read(at_board: Page, base_url: str) -> None:
    page = at_board
    page.goto(f"{base_url}{PAGE}")
    page.get_by_role("button", name="Switch valve control off").click()
    expect(page.get_by_text("Valve control is off.")).to_be_visible()
    expect(page.get_by_role("button", name="Emergency stop")).to_have_count(0)
    page.get_by_role("button", name="Switch on…").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("button", name="Switch on")).to_be_disabled()
    dialog.get_by_text("I have read the cautions").click()
    dialog.get_by_role("button", name="Switch on").click()
    expect(page.get_by_role("button", name="Emergency stop").first).to_be_visible()


def test_a_valve_is_added_with_its_block(at_board: Page, base_url: str) -> None:
    page = at_board
    page.goto(f"{base_url}{PAGE}")
    page.get_by_role("button", name="New valve").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Name").fill("Quern Field, west")
    dialog.get_by_label("Output number").fill("4")
    dialog.get_by_label("Block").select_option("Quern Field")
    dialog.get_by_role("button", name="Save").click()
    expect(dialog.get_by_text("has a valve 4 already")).to_be_visible()
    dialog.get_by_label("Output number").fill("5")
    dialog.get_by_role("button", name="Save").click()
    expect(state(page, "Quern Field, west")).to_contain_text("Not known")


def test_a_dialog_does_not_cover_the_emergency_stop(at_board: Page, base_url: str) -> None:
    page = at_board
    page.goto(f"{base_url}/thistlewick/farm/water-supply")
    page.get_by_role("button", name="Add main").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="Emergency stop").click()
    expect(dialog.get_by_role("button", name="Emergency stop")).to_have_count(0)
    page.keyboard.press("Escape")
    expect(page.get_by_role("region", name="Valves")).to_contain_text("by Maud Pellander")
