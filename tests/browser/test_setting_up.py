"""Mending a block, marking a sensor, working in US units, and what the server serves."""

import gzip
import re
import urllib.error
import urllib.request
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import prefer

pytestmark = pytest.mark.browser


def open_block(page: Page, name: str) -> None:
    page.locator("a.board-line", has_text=name).click()
    expect(page.get_by_role("heading", level=1)).to_have_text(name)


def fact(page: Page, name: str) -> str:
    """A figure of the working by its name."""
    line = page.get_by_role("region", name="How this was calculated").locator(
        "summary", has_text=name
    )
    return line.inner_text().replace(name, "").strip()


def test_a_changed_soil_moves_the_limits_and_can_be_put_back(at_board: Page) -> None:
    page = at_board
    open_block(page, "Alder Reach")
    before = fact(page, "Total available water in the root zone, TAW")
    page.get_by_role("link", name="Edit block").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Edit Alder Reach")
    expect(page.get_by_label("Name", exact=False).first).to_have_value("Alder Reach")
    block = page.url.removesuffix("/setup")
    for method in ("Published value by class (FAO-56)", "Texture regression (Saxton & Rawls)"):
        page.get_by_role("link", name="Open this soil").click()
        page.get_by_role("radio", name=method).check()
        expect(page.get_by_text(f"{method} · in force")).to_be_visible()
        page.get_by_role("button", name="Save soil").click()
        expect(page.get_by_role("heading", level=1)).to_have_text("Farm")
        page.goto(block)
        expect(page.get_by_role("heading", level=1)).to_have_text("Alder Reach")
        now = fact(page, "Total available water in the root zone, TAW")
        assert (now == before) is ("regression" in method)
        page.get_by_role("link", name="Edit block").click()


def test_a_sensor_is_marked_and_taken_back(at_board: Page) -> None:
    page = at_board
    open_block(page, "Alder Reach")
    layers = page.get_by_role("region", name="Readings converted to water depth")
    expect(layers.get_by_text("excluded")).to_have_count(0)
    for marked in (True, False):
        page.get_by_role("link", name="Add readings").click()
        page.locator("label", has_text="20 cm").click()
        box = page.get_by_role("checkbox", name="20 cm")
        expect(box).to_be_checked(checked=marked)
        page.get_by_role("link", name="Alder Reach").click()
        expect(layers.get_by_text("excluded: marked suspect")).to_have_count(int(marked))


def test_a_block_in_us_units(at_board: Page) -> None:
    page = at_board
    prefer(page, units="us")
    page.get_by_role("link", name="New block").click()
    expect(page.get_by_label("Down to").nth(0)).to_have_value("12")
    page.get_by_label("Name", exact=False).first.fill("Sedge Forty")
    page.get_by_label("Area").fill("40")
    page.get_by_label("Crop", exact=True).select_option("Potato")
    page.get_by_label("Planted, or bud break", exact=True).fill("2026-05-01")
    page.get_by_label("Known by").select_option("flow to the block")
    page.get_by_label("Flow").fill("800")
    page.get_by_role("button", name="Add block").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Sedge Forty")
    expect(page.get_by_text("40.0 ac")).to_be_visible()
    page.get_by_role("link", name="Edit block").click()
    # What was typed comes back as it was typed.
    for label, value in (("Area", "40"), ("Flow", "800")):
        expect(page.get_by_label(label)).to_have_value(value)
    prefer(page, units="metric")
    expect(page.get_by_label("Area")).to_have_value("16.1874")
    page.get_by_role("link", name="Open this soil").click()
    expect(page.get_by_label("Down to")).to_have_value("30.48")


def test_the_working_unfolds_from_the_keyboard(at_board: Page) -> None:
    page = at_board
    open_block(page, "Quern Field")
    line = page.locator("summary", has_text="Depletion fraction, p")
    line.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_text("p = within(0.1, pt + 0.04 × (5 − ETc), 0.8)")).to_be_visible()
    expect(page.get_by_text("FAO-56 table 22, from memory").first).to_be_visible()
    expect(page.get_by_text("30 cm: flat line, excluded")).to_be_visible()


def test_the_pointer_reads_the_ribbon(at_board: Page) -> None:
    ribbon = at_board.locator("a.board-line", has_text="Long Tye").locator("svg").last
    box = ribbon.bounding_box()
    assert box is not None
    at_board.mouse.move(box["x"] + box["width"] * 0.2, box["y"] + box["height"] / 2)
    expect(at_board.get_by_text(re.compile(r"^\d+ mm above refill"))).to_be_visible()
    at_board.mouse.move(box["x"] + box["width"] * 0.9, box["y"] + box["height"] / 2)
    expect(at_board.get_by_text(re.compile(r"past above refill|above refill \("))).to_be_visible()


def test_strange_addresses_are_answered_kindly(at_board: Page, base_url: str) -> None:
    page = at_board
    page.goto(f"{base_url}/no-such-farm")
    expect(page.get_by_role("heading", name="Page not found")).to_be_visible()
    page.goto(f"{base_url}/thistlewick/nowhere/at/all")
    expect(page.get_by_role("heading", name="Page not found")).to_be_visible()


def fetch(url: str, **headers: str) -> tuple[int, dict[str, str], bytes]:
    request = urllib.request.Request(url, headers=headers)  # noqa: S310
    try:
        with urllib.request.urlopen(request) as answer:  # noqa: S310
            return answer.status, dict(answer.headers), answer.read()
    except urllib.error.HTTPError as error:
        return error.code, dict(error.headers), error.read()


def test_assets_are_compressed_and_kept_for_ever(base_url: str) -> None:
    _, headers, page = fetch(base_url)
    assert "no-store" in headers["Cache-Control"] or "no-cache" in headers["Cache-Control"]
    script = re.search(r'src="(/assets/[^"]+\.js)"', page.decode())
    assert script is not None
    status, headers, body = fetch(base_url + script[1], **{"Accept-Encoding": "gzip"})
    assert status == 200
    assert headers["Content-Encoding"] == "gzip"
    assert "immutable" in headers["Cache-Control"]
    assert len(gzip.decompress(body)) > 2 * len(body)


@pytest.mark.parametrize(
    "path", ["/assets/nothing-12345678.js", "/index.html/../manage.py", "/.furrow/secret-key"]
)
def test_nothing_else_is_served(base_url: str, path: str) -> None:
    _, _, body = fetch(base_url + path)
    assert b"import" not in body.split(b"<body")[0].replace(b"important", b"")
    secret = Path(__file__).resolve().parents[2] / ".furrow" / "secret-key"
    assert secret.read_bytes().strip() not in body


def test_the_api_answers_unknown_addresses_in_its_own_shape(base_url: str) -> None:
    status, _, body = fetch(f"{base_url}/api/nowhere")
    assert status == 404
    assert b"Traceback" not in body
