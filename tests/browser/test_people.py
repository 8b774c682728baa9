"""A person comes to the farm: added by its manager, in by a link, with a password of his own."""

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import open_farm_page

pytestmark = pytest.mark.browser
PASSWORD = "three wet furrows"


def test_from_the_link_to_the_board(at_board: Page, browser: Browser, base_url: str) -> None:
    page = at_board
    open_farm_page(page, "People")
    page.get_by_role("button", name="Add a person").click()
    page.get_by_label("Name", exact=True).fill("Jory Fenn")
    page.get_by_label("E-mail").fill("jory@fenn.example")
    page.keyboard.press("Enter")
    link = page.get_by_role("dialog").locator("code")
    expect(link).to_contain_text(f"{base_url}/join#")
    # It stays until it is put away: nobody sees it a second time.
    row = page.get_by_role("row", name="Jory Fenn")
    expect(row).to_have_count(0)  # behind the dialog
    address = link.inner_text()
    page.get_by_role("button", name="Done").click()
    expect(row).to_contain_text("invited, not yet signed in")

    with browser.new_context(viewport={"width": 390, "height": 844}) as phone:
        his = phone.new_page()
        his.goto(address)
        expect(his.get_by_role("heading", level=1)).to_have_text("Welcome, Jory Fenn")
        his.get_by_label("Password").fill("short")
        his.get_by_role("button", name="Save and sign in").click()
        expect(his.get_by_text("This password is too short")).to_be_visible()
        his.get_by_label("Password").fill(PASSWORD)
        his.keyboard.press("Enter")
        expect(his.locator("a.board-line").first).to_be_visible()
        # What an irrigator may not do is not offered.
        open_farm_page(his, "People")
        expect(his.get_by_role("cell", name="Jory Fenn (you)")).to_be_visible()
        expect(his.get_by_role("button", name="Add a person")).to_have_count(0)
        his.goto(address)
        expect(his.get_by_role("alert")).to_contain_text("no longer valid")

    page.reload()
    expect(row).not_to_contain_text("invited")
    page.get_by_role("button", name="Remove Jory Fenn").click()
    page.get_by_role("dialog").get_by_role("button", name="Remove Jory Fenn").click()
    expect(row).to_have_count(0)
