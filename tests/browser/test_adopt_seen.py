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


def test_worn_nozzles_become_the_rate(at_board: Page) -> None:
    """Three fifths of the stated rate are found; once adopted, nothing is known of the new one."""
    page = at_board
    page.locator("a.board-line", has_text="Gorse Piece").click()
    page.get_by_role("link", name="Limits and season").click()
    found = page.get_by_role("region", name="Water found")
    expect(found.get_by_text("read a flow meter or put out catch cans")).to_be_visible()
    found.get_by_role("button", name="Adopt as rate or efficiency").click()
    sheet = page.get_by_role("dialog")
    choice = sheet.get_by_label("Adopt as")
    expect(choice).to_have_value("rate")
    expect(choice.locator("option").first).to_have_text("application rate: 4.50 mm/h to 2.77 mm/h")
    choice.select_option("efficiency")
    expect(sheet.get_by_text("All irrigations of the season count")).to_be_visible()
    choice.select_option("rate")
    sheet.get_by_role("button", name="Adopt", exact=True).click()
    expect(sheet).to_have_count(0)
    expect(found).to_have_count(0)


def test_a_refill_point_that_was_seen(at_board: Page) -> None:
    """No block of the demo is dried far enough to show one: what the server tells of Low Ings is
    replaced, what it is told is not."""
    page = at_board
    day = {"on": "2026-07-01", "gone": 0.6, "share": 0.7}
    site = {"instrument": "Probe I1", "days": [day] * 14, "why_not": None}
    site |= {"break_gone": 0.5, "break_spread": 0.05, "level": 1.0, "slope": -3.0}
    seen = {"raw_mm": 40.0, "taw_mm": 100.0, "depletion_mm": 50.0, "low_mm": 42.0}
    seen |= {"high_mm": 58.0, "share": 0.5, "use": None, "sites": [site]}
    page.route("**/refill-point", lambda route: route.fulfill(json=seen))
    page.locator("a.board-line", has_text="Low Ings").click()
    page.get_by_role("link", name="Limits and season").click()
    region = page.get_by_role("region", name="Refill point seen")
    expect(region.get_by_text("Over 14 dry days use falls once 50 %")).to_be_visible()
    region.get_by_role("button", name="Adopt refill point").click()
    sheet = page.get_by_role("dialog")
    sheet.get_by_label("In stage").select_option(label="every stage")
    sheet.get_by_label("Reason").fill("Dried down in July")
    sheet.get_by_role("button", name="Adopt", exact=True).click()
    expect(sheet).to_have_count(0)
    changes = page.get_by_role("region", name="Changes")
    expect(changes.get_by_text("Dried down in July")).to_be_visible()
    expect(changes.get_by_text("50 %")).to_be_visible()
    changes.get_by_role("button", name="Undo").first.click()
    expect(changes.get_by_text("undone", exact=False).first).to_be_visible()
