"""From a harvest's file to a flag in the ground."""

import json
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.conftest import WORKER_MS, open_farm_page
from tests.server.siting_bench import yield_table


def test_from_files_to_a_flag(at_board: Page, worker: None, tmp_path: Path) -> None:
    page = at_board
    for year, rain in (("2022", "190"), ("2023", "410"), ("2024", "300")):
        path = tmp_path / f"potatoes {year}.csv"
        path.write_bytes(yield_table())
        open_farm_page(page, "Siting")
        page.locator("input[type=file]").set_input_files(path)
        expect(page.get_by_role("heading", level=1)).to_have_text(path.name)
        expect(page.get_by_text("The points lie at Quern Field")).to_be_visible(timeout=WORKER_MS)
        expect(page.get_by_label("Year of harvest")).to_have_value(year)
        page.get_by_label("Rain of the season").fill(rain)
        page.get_by_role("button", name="Read it this way").click()
        page.get_by_role("button", name="Store layers").click(timeout=WORKER_MS)
        expect(page.get_by_text("Quern Field:")).to_be_visible(timeout=WORKER_MS)

    open_farm_page(page, "Siting")
    page.get_by_role("link", name="Quern Field", exact=True).first.click()
    expect(page.get_by_role("heading", name="Best spots in Zone 1")).to_be_visible()
    expect(page.get_by_role("cell", name="yield, dry year")).to_be_visible()

    # The flag tells its score as it is moved; a place in the other zone has none.
    plan = page.get_by_role("slider")
    best = plan.get_attribute("aria-valuetext")
    box = plan.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] * 0.5, box["y"] + box["height"] * 0.5)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * 0.03, box["y"] + box["height"] * 0.03, steps=8)
    page.mouse.up()
    expect(plan).to_have_attribute("aria-valuetext", "No score")
    page.get_by_role("button", name="1", exact=True).click()
    expect(plan).to_have_attribute("aria-valuetext", best or "")
    plan.focus()
    page.keyboard.press("ArrowRight")
    expect(plan).not_to_have_attribute("aria-valuetext", "No score")

    # Farther from the edge than the block is wide, no spot is left; put back, they are there again.
    page.get_by_role("button", name="Change distances").click()
    page.get_by_label("Edge and headland").fill("400")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("No spot is left")).to_be_visible()
    page.get_by_role("button", name="Change distances").click()
    page.get_by_label("Edge and headland").fill("")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("heading", name="Best spots in Zone 1")).to_be_visible()

    page.get_by_label("The probe should represent").select_option("The zone that limits the block")
    expect(page.get_by_role("heading", name="Best spots in Zone 2")).to_be_visible()
    page.get_by_role("button", name="1", exact=True).click()
    page.get_by_role("button", name="Choose this spot").click()
    page.get_by_label("Reason").fill("the poor west runs dry first")
    page.get_by_role("button", name="Save spot").click()
    expect(page.get_by_text("the poor west runs dry first")).to_be_visible()
    with page.expect_download() as download:
        page.get_by_role("link", name="Export GeoJSON").click()
    found = json.loads(Path(download.value.path()).read_text())["features"]
    assert [f["properties"]["why"] for f in found] == ["the poor west runs dry first"]


def test_a_file_with_its_axes_swapped(at_board: Page, worker: None, tmp_path: Path) -> None:
    page = at_board
    path = tmp_path / "carrots 2023.csv"
    heading = "Latitude,Longitude,Yield (t/ha)"
    path.write_bytes(yield_table(heading=heading))
    open_farm_page(page, "Siting")
    page.locator("input[type=file]").set_input_files(path)
    expect(page.get_by_text("exchanged they lie on it")).to_be_visible(timeout=WORKER_MS)
    page.get_by_text("Latitude comes first", exact=True).click()
    page.get_by_role("button", name="Read it this way").click()
    expect(page.get_by_text("The points lie at Quern Field")).to_be_visible(timeout=WORKER_MS)
    page.get_by_role("button", name="Delete file").click()
    expect(page.get_by_role("heading", name="Farm")).to_be_visible()
    expect(page.get_by_text(path.name)).to_have_count(0)
