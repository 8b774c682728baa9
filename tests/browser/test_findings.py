"""What is wrong on the farm: marked on the board, opened on a graph, decided and taken back."""

import re

from playwright.sync_api import Locator, Page, expect


def card(page: Page, name: str) -> Locator:
    return page.get_by_role("listitem").filter(has=page.get_by_role("heading", name=name))


def open_findings(page: Page) -> None:
    """Looked at by block, as the hourly job does it: the test runs no jobs."""
    for block in ("Low Ings", "Gorse Piece"):
        page.locator("a.board-line", has_text=block).click()
        expect(page.get_by_role("heading", name="Findings")).to_be_visible()
        page.get_by_role("link", name="Board").first.click()
    page.get_by_role("navigation").get_by_role("link", name="Farm").click()
    page.get_by_role("link", name="Findings").click()


def test_from_the_mark_to_the_evidence(at_board: Page) -> None:
    page = at_board
    open_findings(page)
    unlogged = card(page, "Water that nobody logged")
    expect(unlogged).to_contain_text("Low Ings")
    expect(unlogged).to_contain_text(
        re.compile(r"Typically: water found 3\d\.\d mm, where 0\.0 mm")
    )
    unlogged.get_by_role("button", name="Show evidence").click()
    rows = unlogged.get_by_role("row")
    expect(rows).to_have_count(2)
    expect(rows.nth(1)).to_contain_text("4 July")
    unlogged.get_by_role("link", name="Show on the block's graph").click()
    expect(page.get_by_text('Shaded: the evidence of "Water that nobody logged"')).to_be_visible()
    expect(page.locator(".u-legend")).to_be_visible()
    page.get_by_role("button", name="Hide it").click()
    expect(page.get_by_text("Shaded:")).to_have_count(0)
    page.get_by_role("link", name="Board").first.click()
    expect(page.locator("a.board-line", has_text="Low Ings")).to_contain_text(
        "Water that nobody logged"
    )


def test_confirmed_dismissed_done_and_taken_back(at_board: Page) -> None:
    page = at_board
    open_findings(page)
    not_run = card(page, "Logged, but did not run")
    not_run.get_by_role("button", name="Confirm").click()
    sheet = page.get_by_role("dialog")
    sheet.get_by_label("What was found in the field").fill("Valve 3 was shut")
    sheet.get_by_role("button", name="Confirm").click()
    expect(not_run).to_contain_text("Confirmed: Valve 3 was shut Maud Pellander")
    not_run.get_by_role("button", name="Undo").click()
    expect(not_run).not_to_contain_text("Valve 3")

    not_run.get_by_role("button", name="Dismiss").click()
    sheet.get_by_role("button", name="Dismiss").click()
    expect(sheet).to_contain_text("Say why it is nothing.")
    sheet.get_by_label("Why it is nothing").fill("Moved to another day")
    sheet.get_by_role("button", name="Dismiss").click()
    expect(not_run).to_have_count(0)
    page.get_by_text("Decided and past").click()
    expect(not_run).to_contain_text("Dismissed: Moved to another day")
    not_run.get_by_role("button", name="Undo").click()
    expect(not_run).to_have_count(0)
    page.get_by_text("Open", exact=True).click()
    not_run.get_by_role("button", name="Mark as done").click()
    sheet.get_by_role("button", name="Mark as done").click()
    expect(not_run).to_have_count(0)


def test_on_a_phone(at_board: Page) -> None:
    page = at_board
    open_findings(page)
    expect(card(page, "No readings")).to_be_visible()
    page.set_viewport_size({"width": 390, "height": 844})
    page.reload()
    card(page, "No readings").get_by_role("button", name="Show evidence").click()
    page.wait_for_function("() => document.documentElement.scrollWidth <= window.innerWidth")
