"""The whole slice through the real interface: board, new block, readings, advice, units."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, Request, expect

from tests.browser.conftest import WORKER_MS

pytestmark = pytest.mark.browser

PROBE_FILE = """time,10 cm,20 cm,40 cm
2026-07-13 18:00,24.9,25.9,33.4
2026-07-14 00:00,24.8,25.8,33.4
2026-07-14 06:00,24.8,25.7,33.3
"""


def fill_block(page: Page, name: str) -> None:
    """The new-block form, filled as a manager would."""
    page.get_by_role("link", name="New block").click()
    page.get_by_label("Name", exact=False).first.fill(name)
    page.get_by_label("Area").fill("2.5")
    page.get_by_label("Down to").nth(0).fill("30")
    page.get_by_label("Texture").nth(0).select_option("by percentages")
    page.get_by_label("Sand").fill("40")
    page.get_by_label("Silt").fill("40")
    page.get_by_label("Clay", exact=True).fill("20")
    page.get_by_label("Down to").nth(1).fill("90")
    page.get_by_label("Texture").nth(1).select_option("clay loam")
    page.get_by_label("Gravel, vol.").nth(1).fill("5")
    page.get_by_label("Crop", exact=True).select_option("Potato")
    page.get_by_label("Planted, or bud break", exact=True).fill("2026-05-01")
    page.get_by_label("Rate").fill("4")
    page.get_by_label("Efficiency").fill("75")


def add_instrument(page: Page, label: str, kind: str, depths: str) -> None:
    page.get_by_label("Instrument's name").fill(label)
    page.get_by_label("Kind").select_option(kind)
    page.get_by_label("Depths, cm").fill(depths)
    page.get_by_role("button", name="Add instrument").click()
    expect(page.get_by_role("tab", name="By hand")).to_be_visible()


def choose_file(page: Page, path: Path, text: str) -> None:
    path.write_text(text)
    page.locator("input[type=file]").set_input_files(path)


def test_the_board(at_board: Page) -> None:
    lines = at_board.locator("a.board-line")
    assert lines.count() >= 10
    names = " ".join(lines.all_inner_texts())
    for words in (
        "Below refill",
        "Irrigate now",
        "Flood by",
        "OK until",
        "Above full",
        "No reliable data since Fri",
    ):
        assert words in names
    # In words for who can't see the ribbon.
    first = lines.first.get_attribute("aria-label") or ""
    assert re.match(
        r"Tarn Breck, Carrot: Below refill for [\w ]+; now · \d h \d\d · \d\d mm", first
    )
    expect(at_board.get_by_role("heading", level=1)).to_contain_text("need irrigation within a day")
    expect(at_board.get_by_text("Tue 14 July 06:10")).to_be_visible()


def test_the_board_from_the_keyboard(at_board: Page) -> None:
    at_board.keyboard.press("j")
    at_board.keyboard.press("j")
    expect(at_board.locator("a.board-line").nth(1)).to_be_focused()
    at_board.keyboard.press("k")
    at_board.keyboard.press("Enter")
    expect(at_board.get_by_role("heading", level=1)).to_have_text("Tarn Breck")
    at_board.keyboard.press("b")
    expect(at_board.locator("a.board-line").first).to_be_visible()
    at_board.keyboard.press("?")
    expect(at_board.get_by_role("dialog")).to_contain_text("next block on the board")


def test_from_a_new_block_to_its_advice(at_board: Page, worker: None, tmp_path: Path) -> None:
    page = at_board
    fill_block(page, "Teasel Corner")
    # Limits appear while the soil is typed.
    expect(page.get_by_text("Roots today 40 cm (mid season)")).to_be_visible()
    page.get_by_role("button", name="Add block").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Teasel Corner")
    expect(page.get_by_text("This block has no instrument, and no irrigation")).to_be_visible()
    expect(page.get_by_text("In the root zone today: full")).to_be_visible()

    page.get_by_role("link", name="Add readings").click()
    add_instrument(page, "Probe X1", "Capacitance probe (water content)", "10 20 40")
    choose_file(page, tmp_path / "logger.csv", PROBE_FILE)
    page.get_by_role("button", name="Check the whole file").click(timeout=WORKER_MS)
    page.get_by_role("button", name="Import 9 readings").click(timeout=WORKER_MS)
    expect(page.get_by_role("heading", name="Imported")).to_be_visible(timeout=WORKER_MS)

    page.get_by_role("link", name="Board").click()
    page.locator("a.board-line", has_text="Teasel Corner").click()
    # The board's lines have the same words, until the block's page is there.
    expect(page.get_by_role("heading", name="Teasel Corner", level=1)).to_be_visible()
    expect(
        page.get_by_text(re.compile(r"Irrigate (now|by|today|tonight|tomorrow)"))
    ).to_be_visible()
    working = page.get_by_role("region", name="How this was calculated")
    for line in (
        "Roots today",
        "Allowable depletion, RAW",
        "Water left above refill",
        "Application, gross",
        "Hours",
    ):
        expect(working.get_by_text(line, exact=True)).to_be_visible()
    working.get_by_text("Allowable depletion, RAW").click()
    expect(working.get_by_text("RAW = p × TAW")).to_be_visible()
    layers = page.get_by_role("region", name="Readings converted to water depth")
    expect(layers.get_by_role("row")).to_have_count(4)
    expect(layers.get_by_text("0.24800")).to_be_visible()


def test_tensiometers_by_hand(at_board: Page) -> None:
    page = at_board
    page.locator("a.board-line", has_text="Tarn Breck").click()
    page.get_by_role("link", name="Add readings").click()
    expect(page.get_by_text("cbar, Mon 13 July 07:00").first).to_be_visible()
    page.get_by_label("Reading at 15 cm").fill("42")
    page.get_by_label("Reading at 30 cm").fill("9000")
    page.get_by_role("button", name="Save readings").click()
    expect(page.get_by_text("9000 cbar can't be a soil-water tension").first).to_be_visible()
    page.get_by_label("Reading at 30 cm").fill("38")
    page.get_by_label("Reading at 45 cm").fill("25")
    page.get_by_label("Read at (CET)", exact=True).fill("2026-07-14T06:00")
    page.get_by_role("button", name="Save readings").click()
    expect(page.get_by_text("Saved: 3 new, 0 changed, 0 unchanged.")).to_be_visible()
    expect(page.get_by_text("42 cbar, Tue 14 July 06:00")).to_be_visible()
    page.get_by_role("link", name="Tarn Breck").click()
    expect(page.get_by_text("Last reading 10 min ago")).to_be_visible()
    layers = page.get_by_role("region", name="Readings converted to water depth")
    expect(layers.get_by_text("42.0 kPa")).to_be_visible()
    expect(layers.get_by_text(re.compile(r"^A 0\.0\d+")).first).to_be_visible()


def test_a_block_that_can_not_be_is_refused_in_its_fields(at_board: Page) -> None:
    page = at_board
    fill_block(page, "Quern Field")
    page.get_by_label("Clay", exact=True).fill("50")
    page.get_by_label("Efficiency").fill("0")
    page.get_by_role("button", name="Add block").click()
    expect(page.get_by_text("Quern Field exists already.").first).to_be_visible()
    expect(page.get_by_text("enter 1 to 100 %").first).to_be_visible()
    page.get_by_label("Name", exact=False).first.fill("Another Field")
    page.get_by_label("Efficiency").fill("80")
    page.get_by_role("button", name="Add block").click()
    expect(page.get_by_text("add to 130 %").first).to_be_visible()
    expect(page.get_by_role("heading", level=1)).to_have_text("New block")


def test_units_theme_and_the_way_out(at_board: Page) -> None:
    page = at_board
    expect(page.get_by_text("mm/day for the days ahead")).to_be_visible()
    page.get_by_role("button", name="Maud Pellander").click()
    page.get_by_role("menuitemradio", name="US: inches").click()
    expect(page.get_by_text("in/day for the days ahead")).to_be_visible()
    page.get_by_role("menuitemradio", name="Dark").click()
    expect(page.locator("html")).to_have_class(re.compile("dark"))
    # Kept for the person, not for the page.
    page.reload()
    expect(page.locator("html")).to_have_class(re.compile("dark"))
    expect(page.get_by_text("in/day for the days ahead")).to_be_visible()
    page.get_by_role("button", name="Maud Pellander").click()
    page.get_by_role("menuitemradio", name="Metric").click()
    page.get_by_role("menuitem", name="Sign out").click()
    expect(page.get_by_role("button", name="Sign in as the demo manager")).to_be_visible()


def test_what_if_another_et_is_stated(at_board: Page) -> None:
    page = at_board
    page.get_by_role("button", name="Enter ET").click()
    page.get_by_label("Low", exact=True).fill("1")
    page.get_by_label("Expected", exact=True).fill("1.5")
    page.get_by_label("High", exact=True).fill("2")
    page.get_by_role("button", name="Save ET").click()
    expect(
        page.get_by_text(
            "Grass ET 1.5 mm/day for the days ahead (1.0 to 2.0), entered for the farm"
        )
    ).to_be_visible()
    page.get_by_role("button", name="Enter ET").click()
    page.get_by_role("button", name="Remove the entry").click()
    expect(page.get_by_text("simulated forecast of 14 July, 04:00")).to_be_visible()


def test_a_viewer_is_shown_and_not_asked(page: Page, base_url: str, console: list[str]) -> None:
    page.goto(base_url)
    page.get_by_role("button", name="viewer").click()
    expect(page.locator("a.board-line").first).to_be_visible()
    expect(page.get_by_role("link", name="New block")).to_have_count(0)
    expect(page.get_by_role("button", name="Enter ET")).to_have_count(0)
    page.goto(f"{base_url}/thistlewick/new-block")
    expect(page.get_by_role("heading", level=1)).to_have_text("Not allowed in your role")


def test_lines_by_depth_and_longer_stretches(at_board: Page) -> None:
    page = at_board
    page.locator("a.board-line", has_text="Long Tye").click()
    expect(page.get_by_role("img", name=re.compile("Wetness by depth"))).to_be_visible()
    page.get_by_text("season", exact=True).click()
    expect(page.get_by_role("img", name=re.compile("over 120 days"))).to_be_visible()
    page.keyboard.press("l")
    expect(page.locator(".uplot canvas")).to_be_visible()


@pytest.mark.parametrize("width", [360, 390])
def test_the_board_on_a_phone(at_board: Page, base_url: str, width: int) -> None:
    page = at_board
    page.set_viewport_size({"width": width, "height": 800})
    # Opened at its width, as a phone does: Chromium made narrower while styles are still coming in
    # now and then keeps the wide page's rules.
    page.goto(base_url)
    expect(page.locator("a.board-line").first).to_be_visible()
    page.wait_for_function("() => document.documentElement.scrollWidth <= window.innerWidth")
    page.locator("a.board-line", has_text="Tarn Breck").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Tarn Breck")
    page.wait_for_function("() => document.documentElement.scrollWidth <= window.innerWidth")


def test_first_load_is_light(page: Page, base_url: str) -> None:
    """Under 300 kB over the wire, fonts included, before the board is asked for."""
    fetched: list[Request] = []

    def hear(request: Request) -> None:
        fetched.append(request)

    page.on("requestfinished", hear)
    page.goto(base_url)
    expect(page.get_by_role("button", name="Sign in as the demo manager")).to_be_visible()
    page.evaluate("document.fonts.ready")
    page.wait_for_load_state("networkidle")
    # Asked here: a handler's own question to the browser may still be open when it is summed up.
    sizes = {request.url: request.sizes()["responseBodySize"] for request in fetched}
    assert 10_000 < sum(sizes.values()) < 300_000, sizes
