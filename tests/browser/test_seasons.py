"""Two seasons of a field over each other, and a note at a time and a depth."""

import re

from playwright.sync_api import Page, expect


def open_block(page: Page, name: str) -> None:
    page.locator("a.board-line", has_text=name).click()
    expect(page.get_by_role("heading", level=1)).to_have_text(name)


def test_seasons_over_each_other(at_board: Page) -> None:
    page = at_board
    open_block(page, "Long Tye")
    page.get_by_role("link", name="Seasons").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Seasons of Long Tye")
    plot = page.get_by_role("img", name="Available water left through 2 seasons")
    expect(plot).to_be_visible()
    sums = page.get_by_role("table")
    irrigations = sums.get_by_role("row", name=re.compile("^Irrigations"))
    expect(irrigations).to_have_text("Irrigations146")
    page.get_by_text("Sums of as many days of each season").click()
    expect(irrigations).to_have_text("Irrigations1410")
    page.get_by_label("Align by").select_option(label="degree-days")
    expect(page.get_by_text("degree-days since planting, °C day")).to_be_visible()
    page.get_by_text("Maize, grain 2025", exact=True).first.click()
    expect(page.get_by_role("img", name="Available water left through one season")).to_be_visible()
    expect(sums.get_by_role("columnheader")).to_have_count(2)


def test_a_note_at_a_time_and_a_depth(at_board: Page) -> None:
    page = at_board
    open_block(page, "Quern Field")
    page.get_by_text("lines by depth").click()
    graph = page.locator(".u-over")
    expect(graph).to_be_visible()
    notes = page.get_by_role("region", name="Notes")
    expect(notes).to_contain_text("No notes yet")
    size = graph.bounding_box()
    assert size is not None
    # Between two wetting events: the moment itself is picked.
    graph.click(position={"x": size["width"] * 0.45, "y": 60})
    notes.get_by_role("button", name=re.compile(r"Write note of \d+ (June|July) \d\d:\d\d")).click()
    sheet = page.get_by_role("dialog")
    sheet.get_by_label("Depth", exact=True).select_option(label="20 cm")
    sheet.get_by_label("Note", exact=True).fill("Dug: moist to here")
    sheet.get_by_role("button", name="Save note").click()
    expect(notes).to_contain_text(re.compile(r"· 20 cm\s*Dug: moist to here \(Maud Pellander\)"))
    notes.get_by_role("button", name=re.compile("^Remove note of")).click()
    expect(notes).to_contain_text("No notes yet")


def test_a_click_near_an_event_chooses_it(at_board: Page) -> None:
    page = at_board
    open_block(page, "Quern Field")
    page.get_by_text("lines by depth").click()
    graph = page.locator(".u-over")
    expect(graph).to_be_visible()
    size = graph.bounding_box()
    assert size is not None
    chosen = page.get_by_role("region", name="Wetting events").get_by_role("button", name="Close")
    # Somewhere on the days shown one began: the first that is come near is chosen.
    for share in range(2, 99, 2):
        graph.click(position={"x": size["width"] * share / 100, "y": 60})
        if chosen.count():
            break
    expect(chosen.first).to_be_visible()
