"""A week of a rice field: tubes read, flooding scheduled, nitrogen, a deeper drying."""

import re

from playwright.sync_api import Page, expect


def open_block(page: Page, name: str) -> None:
    page.locator("a.board-line", has_text=name).click()
    expect(page.get_by_role("heading", level=1)).to_have_text(name)


def read(page: Page, tube: str, level_mm: str) -> None:
    page.get_by_role("link", name="Add readings").click()
    page.get_by_text(tube, exact=True).first.click()
    page.get_by_role("textbox", name="Reading", exact=True).fill(level_mm)
    page.get_by_role("button", name="Save readings").click()
    expect(page.get_by_text("Saved: 1 new, 0 changed, 0 unchanged.")).to_be_visible()
    page.get_by_role("link", name="← Reed Carr").click()


def test_from_the_tube_to_the_sluice(at_board: Page) -> None:
    page = at_board
    expect(page.locator("a.board-line", has_text="Reed Carr")).to_contain_text("Flood by")
    open_block(page, "Reed Carr")
    chart = page.get_by_role("img", name=re.compile("flooded again at 15 cm below the surface"))
    expect(chart).to_be_visible()
    for tube in ("Tube R1", "Tube R2"):
        read(page, tube, "-160")
    answer = page.get_by_text(re.compile("Below the threshold: start now, \\d+ h"))
    expect(answer).to_be_visible()
    page.get_by_role("button", name="Schedule", exact=True).click()
    expect(page.get_by_text("Scheduled").first).to_be_visible()
    page.get_by_role("button", name=re.compile("Mark nitrogen of .* as applied")).click()
    expect(page.get_by_text("Applied on 14 Jul 2026")).to_be_visible()


def test_a_deeper_drying_is_confirmed_and_taken_back(at_board: Page) -> None:
    page = at_board
    open_block(page, "Osier Carr")
    page.get_by_role("button", name="Allow drying to 20 cm below the surface").click()
    sheet = page.get_by_role("dialog")
    allow = sheet.get_by_role("button", name="Allow", exact=True)
    expect(allow).to_be_disabled()
    sheet.get_by_text("The last dryings did the crop no harm").click()
    allow.click()
    expect(page.get_by_text("Dried to 20 cm below the surface")).to_be_visible()
    expect(page.get_by_text("No drying has reached it yet.")).to_be_visible()
    page.get_by_role("button", name="Go back to 15 cm below the surface").click()
    expect(page.get_by_text("Dried to 15 cm below the surface")).to_be_visible()


def test_bunds_are_described_and_what_cannot_be_is_said(at_board: Page) -> None:
    page = at_board
    open_block(page, "Osier Carr")
    page.get_by_role("button", name="Edit rice field").click()
    sheet = page.get_by_role("dialog")
    sheet.get_by_label("Height of the bund").fill("3")
    sheet.get_by_role("button", name="Save", exact=True).click()
    expect(sheet.get_by_text("The bund must be 50 to 600 mm high.").first).to_be_visible()
    sheet.get_by_label("Height of the bund").fill("16")
    sheet.get_by_role("button", name="Save", exact=True).click()
    expect(sheet).to_have_count(0)
