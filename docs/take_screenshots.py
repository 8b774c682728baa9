"""Takes the pictures of docs/screenshots from the demo; `./furrow shots` runs it.

A pytest module only to share the browser tests' server and browser.
"""

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.conftest import Demo, prefer, valve_controller

pytest_plugins = ["tests.browser.conftest"]

HERE = Path(__file__).parent / "screenshots"
PHONE = {"width": 390, "height": 844}
WRONG_FILE = """time,10 cm,20 cm,30 cm
2026-07-14 05:02,24.9,25.9,33.4
2026-07-14 05:17,24.8,wet,33.4
2026-07-14 05:17,24.8,25.7,33.3
14 July,24.8,25.7,333
"""


def take(page: Page, name: str, *, whole: bool = False) -> None:
    page.wait_for_load_state("networkidle")
    page.mouse.move(0, 0)
    page.wait_for_timeout(400)
    page.screenshot(path=HERE / f"{name}.png", full_page=whole)


def open_block(page: Page, base_url: str, name: str) -> None:
    page.goto(base_url)
    page.locator("a.board-line", has_text=name).click()
    expect(page.get_by_role("heading", level=1)).to_have_text(name)
    page.wait_for_load_state("networkidle")


def look_for_findings(page: Page, base_url: str) -> None:
    """Findings are made when a block is looked at; the pictures run no jobs."""
    for name in ("Quern Field", "Upper Hanger", "Low Ings", "Gorse Piece"):
        open_block(page, base_url, name)
        expect(page.get_by_role("heading", name="Findings")).to_be_visible()


def test_board(at_board: Page, base_url: str) -> None:
    look_for_findings(at_board, base_url)
    at_board.goto(f"{base_url}/thistlewick")
    expect(at_board.get_by_text("Sensor stands still").first).to_be_visible()
    take(at_board, "board")
    prefer(at_board, theme="dark", units="us")
    take(at_board, "board-dark-us")
    prefer(at_board, theme="light", units="metric")
    at_board.set_viewport_size(PHONE)
    take(at_board, "board-phone")


def test_block(at_board: Page, base_url: str) -> None:
    open_block(at_board, base_url, "Quern Field")
    at_board.get_by_role("region", name="How this was calculated").get_by_text(
        "Allowable depletion, RAW"
    ).click()
    take(at_board, "block", whole=True)
    open_block(at_board, base_url, "Upper Hanger")
    at_board.set_viewport_size(PHONE)
    take(at_board, "block-phone")


def test_irrigation(at_board: Page, base_url: str) -> None:
    page = at_board
    page.goto(f"{base_url}/thistlewick/irrigation")
    expect(page.get_by_role("heading", name="Scheduled and running")).to_be_visible()
    take(page, "water")


def test_rice(at_board: Page, base_url: str) -> None:
    open_block(at_board, base_url, "Reed Carr")
    expect(at_board.get_by_role("heading", name="Rice fields on Carr sluice")).to_be_visible()
    take(at_board, "rice", whole=True)


def test_vineyard(at_board: Page, base_url: str) -> None:
    open_block(at_board, base_url, "Wick Terrace")
    expect(at_board.get_by_role("heading", name="Rounds of leaf readings")).to_be_visible()
    expect(at_board.get_by_role("img", name=re.compile("plants to read"))).to_be_visible()
    take(at_board, "vineyard")


def farm_page(page: Page, base_url: str, part: str) -> None:
    page.goto(f"{base_url}/thistlewick/farm/{part}")
    expect(page.get_by_role("heading", level=1)).to_have_text("Farm")


def test_farm_pages(at_board: Page, base_url: str) -> None:
    page = at_board
    farm_page(page, base_url, "blocks")
    expect(page.get_by_role("link", name="Tarn Breck")).to_be_visible()
    farm_page(page, base_url, "map")
    page.get_by_role("button", name="Quern Field").click()
    take(page, "map")
    farm_page(page, base_url, "soils")
    page.get_by_role("link", name="Tye silt loam").click()
    expect(page.get_by_role("slider", name="Texture triangle")).to_be_visible()
    take(page, "soil")


def test_limits(at_board: Page, base_url: str) -> None:
    open_block(at_board, base_url, "Quern Field")
    at_board.get_by_role("link", name="Limits and season").click()
    expect(at_board.get_by_role("region", name="Refill point by three methods")).to_be_visible()
    expect(at_board.get_by_role("region", name="Full points seen")).to_be_visible()
    expect(at_board.get_by_role("region", name="Refill point seen")).to_be_visible()
    take(at_board, "limits", whole=True)


def test_seasons(at_board: Page, base_url: str) -> None:
    open_block(at_board, base_url, "Long Tye")
    at_board.get_by_role("link", name="Seasons").click()
    expect(at_board.get_by_role("img", name="Available water left")).to_be_visible()
    take(at_board, "seasons", whole=True)


def test_instruments(at_board: Page, base_url: str) -> None:
    page = at_board
    farm_page(page, base_url, "instruments")
    page.get_by_role("link", name="Probe Q1").click()
    expect(page.locator(".uplot canvas")).to_be_visible()
    take(page, "instrument", whole=True)


def test_run_sheet(at_board: Page, base_url: str) -> None:
    page = at_board
    page.goto(f"{base_url}/thistlewick/irrigation/run-sheet")
    page.get_by_role("button", name=re.compile("^Marl Pit, ")).first.click()
    expect(page.get_by_role("heading", name="Why then")).to_be_visible()
    take(page, "run-sheet", whole=True)


def test_valves(at_board: Page, base_url: str, demo: Demo, tmp_path: Path) -> None:
    page = at_board
    with valve_controller(page.context, demo, tmp_path / "field.json", contact_s=60):
        page.goto(f"{base_url}/thistlewick/irrigation/valves")
        page.get_by_role("button", name="Open Wick Terrace").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("button", name="Next").click()
        dialog.get_by_role("button", name="Open the valve").click()
        expect(page.get_by_text("1 valve is open")).to_be_attached()
        # The line fills.
        page.wait_for_timeout(60_000)
        take(page, "valves")


def test_round(at_board: Page, base_url: str) -> None:
    page = at_board
    page.set_viewport_size(PHONE)
    page.goto(f"{base_url}/thistlewick/rounds")
    page.get_by_role("link", name="Start round").first.click()
    for key in "41":
        page.get_by_role("group", name="Keys").get_by_role("button", name=key, exact=True).click()
    take(page, "round-phone")


def test_readings(at_board: Page, base_url: str, worker: None, tmp_path: Path) -> None:
    open_block(at_board, base_url, "Quern Field")
    at_board.get_by_role("link", name="Add readings").click()
    path = tmp_path / "logger.csv"
    path.write_text(WRONG_FILE)
    at_board.locator("input[type=file]").set_input_files(path)
    at_board.get_by_role("button", name="Check the whole file").click()
    expect(at_board.get_by_text("Import preview")).to_be_visible(timeout=60_000)
    take(at_board, "import")


def test_findings(at_board: Page, base_url: str) -> None:
    look_for_findings(at_board, base_url)
    farm_page(at_board, base_url, "findings")
    expect(at_board.get_by_role("heading", name="Water that nobody logged")).to_be_visible()
    at_board.get_by_role("button", name="Show evidence").nth(2).click()
    take(at_board, "findings")


def test_siting(at_board: Page, base_url: str) -> None:
    page = at_board
    page.goto(f"{base_url}/thistlewick/farm/siting")
    page.get_by_role("link", name="Long Tye", exact=True).first.click()
    expect(page.get_by_role("heading", name="Under the flag")).to_be_visible()
    take(page, "siting", whole=True)
