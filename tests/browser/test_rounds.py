"""A round on foot without signal, on a phone; nothing is lost and nothing arrives twice."""

from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.browser.conftest import PHONE


@pytest.fixture
def phone(browser: Browser, base_url: str) -> Iterator[BrowserContext]:
    context = browser.new_context(
        viewport=PHONE, locale="en-GB", base_url=base_url, service_workers="allow"
    )
    yield context
    context.close()


def at_rounds(context: BrowserContext) -> Page:
    """Signed in, the rounds open, the worker in charge of the page."""
    page = context.new_page()
    page.goto("/")
    page.get_by_role("button", name="Sign in as the demo manager").click()
    page.get_by_role("link", name="Rounds").click()
    expect(page.get_by_role("heading", name="Monday and Thursday")).to_be_visible()
    page.wait_for_function("() => navigator.serviceWorker.ready.then(() => true)")
    # From here on the worker sees every request; it keeps the page and the rounds.
    page.reload()
    expect(page.get_by_role("heading", name="Monday and Thursday")).to_be_visible()
    page.wait_for_function("() => navigator.serviceWorker.controller !== null")
    page.wait_for_load_state("networkidle")
    return page


def type_figures(page: Page, figures: list[str]) -> None:
    boxes = page.get_by_role("group", name="Readings").get_by_role("textbox")
    expect(boxes).to_have_count(len(figures))
    for i, figure in enumerate(figures):
        boxes.nth(i).click()
        for key in figure:
            page.get_by_role("group", name="Keys").get_by_role(
                "button", name=key, exact=True
            ).click()


def last_of(page: Page, label: str) -> list[float]:
    """What the server holds as the last readings of an instrument of the rounds."""
    found: list[float] = page.evaluate(
        """async (label) => {
            const answer = await fetch('/api/farms/thistlewick/rounds', {cache: 'no-store'});
            const stops = (await answer.json()).rounds.flatMap((r) => r.stops);
            return stops.find((s) => s.label === label).channels.map((c) => c.last);
        }""",
        label,
    )
    return found


def test_a_whole_round_without_signal(phone: BrowserContext) -> None:
    page = at_rounds(phone)
    phone.set_offline(True)
    page.get_by_role("link", name="Start round").first.click()
    expect(page.get_by_role("heading", name="Tensiometers T1")).to_be_visible()
    type_figures(page, ["41", "29", "33"])
    page.get_by_role("button", name="Next").click()

    # The second card: a figure that surprises is asked again, one that can't be is not taken.
    expect(page.get_by_role("heading", name="Tensiometers U2")).to_be_visible()
    expect(page.get_by_role("status").get_by_text("1 unsent")).to_be_visible()
    type_figures(page, ["9999", "35", "38"])
    expect(page.get_by_text("not possible: enter it again")).to_be_visible()
    expect(page.get_by_role("button", name="Next")).to_be_disabled()

    # The browser is closed in the middle and opened again, still without signal.
    page.close()
    page = phone.new_page()
    page.goto("/thistlewick/rounds")
    expect(page.get_by_role("heading", name="Monday and Thursday")).to_be_visible()
    page.get_by_role("link", name="Start round").first.click()
    expect(page.get_by_role("heading", name="Monday and Thursday: 1 of 2")).to_be_visible()
    boxes = page.get_by_role("group", name="Readings").get_by_role("textbox")
    expect(boxes.nth(1)).to_have_value("35")
    boxes.nth(0).fill("78")
    page.get_by_role("button", name="Next").click()
    expect(page.get_by_role("alert")).to_contain_text("Look at the gauge again")
    page.get_by_role("button", name="Confirm and continue").click()
    expect(page.get_by_role("heading", name="The round is done")).to_be_visible()
    expect(page.get_by_text("2 readings are stored on this phone")).to_be_visible()

    phone.set_offline(False)
    page.get_by_role("button", name="send now").click()
    expect(page.get_by_text("Everything is sent.")).to_be_visible()
    assert last_of(page, "Tensiometers T1") == [41, 29, 33]
    assert last_of(page, "Tensiometers U2") == [78, 35, 38]
    page.get_by_role("button", name="Close the round").click()
    expect(page.get_by_text("all sent")).to_be_visible()


def test_an_answer_lost_on_the_way(phone: BrowserContext) -> None:
    """The server took it, the phone never heard: sent again, it is there once."""
    page = at_rounds(phone)
    lost = []

    def lose(route: object) -> None:
        if not lost:
            lost.append(route.fetch().status)  # type: ignore[attr-defined]
            route.abort()  # type: ignore[attr-defined]
        else:
            route.continue_()  # type: ignore[attr-defined]

    phone.route("**/visits", lose)
    page.get_by_role("link", name="Start round").first.click()
    type_figures(page, ["42", "28", "34"])
    with page.expect_event("requestfailed", lambda r: r.url.endswith("/visits")):
        page.get_by_role("button", name="Next").click()
    assert lost == [200]
    expect(page.get_by_text("1 unsent")).to_be_visible()
    page.get_by_role("button", name="send now").click()
    expect(page.get_by_text("all sent")).to_be_visible()
    page.goto("/thistlewick/farm/data-received")
    walked = page.get_by_role("row").filter(has_text="a round")
    before = walked.count()
    page.reload()
    expect(walked).to_have_count(before)
    assert last_of(page, "Tensiometers T1") == [42, 28, 34]


def test_a_stop_is_skipped_with_its_reason(phone: BrowserContext) -> None:
    page = at_rounds(phone)
    page.get_by_role("link", name="Start round").nth(1).click()
    page.get_by_role("button", name="Tensiometers T1, to do").click()
    page.get_by_role("button", name="Skip", exact=True).click()
    page.get_by_label("Reason for skipping").select_option("stock or sprays in the field")
    page.get_by_role("button", name="Skip").click()
    expect(page.get_by_role("button", name="Tensiometers T1, skipped")).to_be_visible()
    expect(page.get_by_text("all sent")).to_be_visible()
    page.goto("/thistlewick/farm/instruments")
    page.get_by_role("link", name="Tensiometers T1").click()
    expect(page.get_by_text("skipped: stock or sprays in the field")).to_be_visible()
