"""A full point that sensors have shown: adopted, and taken back."""

from playwright.sync_api import Page, expect

LOAM = "Quern loam over clay loam"


def test_adopted_and_taken_back(at_board: Page) -> None:
    page = at_board
    page.locator("a.board-line", has_text="Quern Field").click()
    page.get_by_role("link", name="Limits and season").click()
    seen = page.get_by_role("region", name="Full points seen")
    expect(seen.get_by_role("row")).to_have_count(2)
    seen.get_by_role("button", name="Adopt full points").click()
    sheet = page.get_by_role("dialog")
    horizon = sheet.get_by_text("becomes 0.358")
    horizon.click()
    expect(sheet.get_by_role("button", name="Adopt", exact=True)).to_be_disabled()
    horizon.click()
    sheet.get_by_label("Reason").fill("Seen once more")
    sheet.get_by_role("button", name="Adopt", exact=True).click()
    expect(sheet).to_have_count(0)
    expect(page.get_by_text(f"soil: {LOAM} as seen on Quern Field")).to_be_visible()
    expect(page.get_by_text("Seen once more")).to_be_visible()
    expect(seen.get_by_role("button", name="Adopt full points")).to_have_count(0)
    page.get_by_role("button", name="Undo").first.click()
    expect(seen.get_by_role("button", name="Adopt full points")).to_be_visible()
