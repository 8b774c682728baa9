"""A full point that sensors have shown: taken back, and adopted again."""

from playwright.sync_api import Page, expect

LOAM = "Quern loam over clay loam"


def test_taken_back_and_adopted(at_board: Page) -> None:
    page = at_board
    page.locator("a.board-line", has_text="Quern Field").click()
    page.get_by_role("link", name="Limits and season").click()
    seen = page.get_by_role("region", name="Full points seen")
    expect(seen.get_by_role("row")).to_have_count(2)
    expect(seen.get_by_role("button", name="Adopt full points")).to_have_count(0)
    expect(page.get_by_text(f"{LOAM} as seen on Quern Field").first).to_be_visible()
    page.get_by_role("button", name="Undo").first.click()
    seen.get_by_role("button", name="Adopt full points").click()
    sheet = page.get_by_role("dialog")
    horizon = sheet.get_by_text("becomes 0.358")
    horizon.click()
    expect(sheet.get_by_role("button", name="Adopt", exact=True)).to_be_disabled()
    horizon.click()
    sheet.get_by_label("Reason").fill("Seen once more")
    sheet.get_by_role("button", name="Adopt", exact=True).click()
    expect(sheet).to_have_count(0)
    expect(page.get_by_text(f"soil: {LOAM} as seen on Quern Field (2)")).to_be_visible()
    expect(page.get_by_text("Seen once more")).to_be_visible()
