"""Wetting events on a block's page: drawn, told, and two side by side."""

import re

from playwright.sync_api import Page, expect

NAME = re.compile("^Wetting event of")


def test_an_event_is_opened_and_compared(at_board: Page) -> None:
    page = at_board
    page.locator("a.board-line", has_text="Quern Field").click()
    marks = page.get_by_role("button", name=NAME)
    expect(marks.first).to_be_visible()
    drawn = marks.count()
    page.get_by_text("season", exact=True).click()
    expect(page.get_by_role("img", name=re.compile("over 120 days"))).to_be_visible()
    assert marks.count() > drawn > 5
    page.get_by_text("21 days", exact=True).click()
    expect(marks).to_have_count(drawn)
    # An irrigation of which most was found again, and a second one beside it.
    marks.nth(drawn - 2).focus()
    page.keyboard.press("Enter")
    events = page.get_by_role("region", name="Wetting events")
    expect(events.get_by_role("rowheader", name="Found again")).to_be_visible()
    expect(events.get_by_text(re.compile("irrigations of .* gross.* roots are at"))).to_be_visible()
    came = events.get_by_role("row", name=re.compile("^Came from")).get_by_role("cell")
    expect(came).to_have_text(re.compile(r"\d\d:\d\d – \d\d:\d\d, \d+\.\d mm"))
    events.get_by_label("Compare with").select_option(index=4)
    expect(came).to_have_count(2)
    events.get_by_role("button", name="Previous event").click()
    expect(came).to_have_count(1)
    events.get_by_role("button", name="Close").click()
    expect(events.get_by_role("rowheader")).to_have_count(0)


def test_all_events_of_a_phone(at_board: Page) -> None:
    page = at_board
    page.set_viewport_size({"width": 390, "height": 844})
    page.locator("a.board-line", has_text="Quern Field").click()
    events = page.get_by_role("region", name="Wetting events")
    rows = events.get_by_role("row")
    expect(rows).to_have_count(7)
    events.get_by_role("button", name=re.compile("^Show all")).click()
    assert rows.count() > 15
    events.get_by_role("button", name=re.compile(r"July \d\d:\d\d$")).first.click()
    expect(events.get_by_role("rowheader", name="Depth reached")).to_be_visible()
    page.wait_for_function("() => document.documentElement.scrollWidth <= window.innerWidth")
