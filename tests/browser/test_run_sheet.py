"""The run sheet through the real interface: dragged, moved by keys, planned again, announced; and
the jobs of it on a phone without signal."""

import re

from playwright.sync_api import Browser, Locator, Page, expect

from tests.browser.conftest import PHONE, WORKER_MS, sign_in
from tests.server.test_instruments import picture

SHEET = "/thistlewick/irrigation/run-sheet"


def bar(page: Page, name: str) -> Locator:
    return page.get_by_role("button", name=re.compile(f"^{name}, ")).first


def when(page: Page, name: str) -> str:
    """Day and hour at which a block's first irrigation begins, as its bar says it."""
    label = bar(page, name).get_attribute("aria-label") or ""
    return label.split(", ")[1]


def opened(page: Page) -> None:
    page.goto(SHEET)
    expect(page.get_by_role("button", name="Plan again")).to_be_visible()
    expect(bar(page, "Wick Terrace")).to_be_visible()


def test_dragged_undone_and_pushed_by_keys(at_board: Page) -> None:
    page = at_board
    opened(page)
    assert when(page, "Wick Terrace") == "Tue 14 July 08:00"
    box = bar(page, "Wick Terrace").bounding_box()
    axis = page.get_by_role("region", name="Run sheet chart").bounding_box()
    assert box and axis
    # Five days on the drawing, less its heads: a slot of two hours is a sixtieth.
    slot = (axis["width"] - 138) / 60
    page.mouse.move(box["x"] + 20, box["y"] + 18)
    page.mouse.down()
    page.mouse.move(box["x"] + 20 + slot, box["y"] + 18)
    page.mouse.move(box["x"] + 20 + 3 * slot, box["y"] + 18)
    expect(page.get_by_text("in total").first).to_be_visible()
    page.mouse.up()
    expect(bar(page, "Wick Terrace")).to_have_attribute(
        "aria-label", re.compile("Tue 14 July 14:00")
    )
    expect(page.get_by_text("changed by Maud Pellander")).to_be_visible()
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(bar(page, "Wick Terrace")).to_have_attribute(
        "aria-label", re.compile("Tue 14 July 08:00")
    )
    bar(page, "Wick Terrace").focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    expect(bar(page, "Wick Terrace")).to_have_attribute(
        "aria-label", re.compile("Tue 14 July 12:00")
    )
    page.keyboard.press("+")
    expect(page.get_by_role("button", name="Undo", exact=True)).to_be_enabled()
    page.keyboard.press("p")
    expect(bar(page, "Wick Terrace")).to_have_attribute("aria-label", re.compile("Pinned"))


def test_what_is_broken_is_said(at_board: Page) -> None:
    """The portable pump can't be in two places."""
    page = at_board
    opened(page)
    bar(page, "Marl Pit").click()
    expect(page.get_by_role("heading", name="Why then")).to_be_visible()
    expect(page.get_by_text("Portable pump is in use")).to_be_visible()
    bar(page, "Marl Pit").focus()
    for _ in range(3):
        page.keyboard.press("ArrowLeft")
    expect(page.get_by_role("heading", name=re.compile("Breaks"))).to_be_visible()
    expect(page.get_by_text("Portable pump is needed in two places").first).to_be_visible()


def test_planned_again_announced_and_run_without_signal(
    at_board: Page, browser: Browser, base_url: str, worker: None
) -> None:
    page = at_board
    opened(page)
    bar(page, "Quern Field").focus()
    page.keyboard.press("ArrowRight")
    expect(bar(page, "Quern Field")).to_have_attribute("aria-label", re.compile("10:00"))
    expect(page.get_by_role("button", name="Undo", exact=True)).to_be_enabled()
    page.get_by_role("button", name="Plan again").click()
    expect(page.get_by_role("heading", name=re.compile("The new plan"))).to_be_visible(
        timeout=WORKER_MS
    )
    page.get_by_role("button", name="Use the new plan").click()
    expect(bar(page, "Quern Field")).to_have_attribute("aria-label", re.compile("08:00"))
    page.get_by_role("button", name=re.compile("^Announce")).click()
    expect(page.get_by_text(re.compile("version 1 announced"))).to_be_visible()
    expect(bar(page, "Quern Field")).to_have_attribute("aria-label", re.compile(", Announced"))

    phone = browser.new_context(
        viewport=PHONE, locale="en-GB", base_url=base_url, service_workers="allow"
    )
    sign_in(phone, base_url)
    field = phone.new_page()
    field.goto("/thistlewick/irrigation/jobs")
    field.wait_for_function("() => navigator.serviceWorker.ready.then(() => true)")
    field.reload()
    field.wait_for_function("() => navigator.serviceWorker.controller !== null")
    expect(field.get_by_text("Run sheet version 1")).to_be_visible()
    field.wait_for_load_state("networkidle")
    phone.set_offline(True)
    field.reload()
    quern = field.locator("section div", has=field.get_by_text("Quern Field", exact=True)).last
    expect(field.get_by_text("Quern Field", exact=True).first).to_be_visible()
    field.get_by_role("button", name="Start", exact=True).first.click()
    field.get_by_label("Meter reading").fill("120")
    field.locator("input[type=file]").set_input_files(
        {"name": "meter.png", "mimeType": "image/png", "buffer": picture()}
    )
    field.get_by_role("button", name="Started now").click()
    expect(field.get_by_text("1 report waits on this phone.")).to_be_visible()
    field.reload()
    expect(field.get_by_role("button", name="Stop", exact=True).first).to_be_visible()
    phone.set_offline(False)
    expect(field.get_by_text("Everything on this phone is sent.")).to_be_visible()
    expect(quern).to_be_visible()
    page.reload()
    expect(page.get_by_role("button", name=re.compile(", Running")).first).to_be_visible()
    page.goto(f"{base_url}/thistlewick/irrigation/log")
    expect(
        page.get_by_text(re.compile("Started Tue 14 July 0.* by Maud Pellander"))
    ).to_be_visible()
    shown = page.request.get(
        base_url + str(page.get_by_role("link", name="Picture").get_attribute("href"))
    )
    assert shown.headers["content-type"] == "image/jpeg"
    phone.close()
