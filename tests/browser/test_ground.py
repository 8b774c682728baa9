"""The ground through the real interface: map import, triangle, observed stage, methods, many."""

import io
import json
import re
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from server.demo.plan import OUTLINES, polygon
from tests.browser.conftest import open_farm_page, prefer

pytestmark = pytest.mark.browser


def limits_of(page: Page, block: str) -> None:
    open_farm_page(page, "Blocks")
    page.get_by_role("link", name=block).click()
    expect(page.get_by_role("heading", level=1)).to_have_text(f"Limits of {block}")


def geojson(*features: tuple[str, dict[str, Any]]) -> dict[str, Any]:
    return {
        "name": "blocks.geojson",
        "mimeType": "application/geo+json",
        "buffer": json.dumps(
            {
                "type": "FeatureCollection",
                "features": [
                    {"type": "Feature", "properties": {"name": n}, "geometry": g}
                    for n, g in features
                ],
            }
        ).encode(),
    }


def test_outlines_are_imported_after_a_look(at_board: Page) -> None:
    page = at_board
    open_farm_page(page, "Map")
    page.get_by_role("button", name="Import outlines").click()
    sheet = page.get_by_role("dialog")
    bow = polygon((1700, 0), (1900, 200), (1900, 0), (1700, 200))
    sheet.locator("input[type=file]").set_input_files(geojson(("Bow", bow)))
    expect(sheet.get_by_text("crosses or touches itself")).to_be_visible()
    new = polygon((1700, 0), (1900, 0), (1900, 200), (1700, 200))
    files = geojson(("Gorse Piece", OUTLINES["Gorse Piece"]), ("Drove End", new))
    sheet.locator("input[type=file]").set_input_files(files)
    expect(sheet.get_by_text("no block of this name: left out")).to_be_visible()
    sheet.get_by_label("Outlines without a block").select_option("make blocks like Gorse Piece")
    expect(sheet.get_by_text("becomes a block")).to_be_visible()
    sheet.get_by_role("button", name="Import 2 outlines").click()
    expect(sheet.get_by_role("status")).to_have_text("Imported 2 outlines.")
    sheet.get_by_role("button", name="Close", exact=True).last.click()
    plan = page.get_by_role("group", name="Map of the farm")
    plan.get_by_role("button", name="Drove End").click()
    expect(page.get_by_role("region", name="Drove End")).to_contain_text("outlined 4.0")
    with page.expect_download() as saved:
        page.get_by_role("link", name="Export GeoJSON").click()
    out = json.loads(saved.value.path().read_text())
    assert {"Drove End", "Gorse Piece"} <= {f["properties"]["name"] for f in out["features"]}


def test_a_block_is_drawn_and_cut_on_the_plan(at_board: Page) -> None:
    page = at_board
    open_farm_page(page, "Map")
    plan = page.get_by_role("group", name="Map of the farm")
    plan.get_by_role("button", name="Tarn Breck").click()
    panel = page.get_by_role("region", name="Tarn Breck")
    expect(panel).to_contain_text("Entered area 8.800 ha")
    panel.get_by_role("button", name="Split block").click()
    box = plan.get_by_role("button", name="Tarn Breck").bounding_box()
    assert box is not None
    middle = box["x"] + box["width"] * 0.35
    page.mouse.click(middle, box["y"] - 12)
    page.mouse.click(middle, box["y"] + box["height"] + 12)
    page.get_by_label("Name of the smaller part").fill("Tarn Side")
    split = page.get_by_role("button", name="Split here")
    split.click()
    expect(split).to_have_count(0)
    expect(plan.get_by_role("button", name="Tarn Side")).to_be_visible()
    plan.get_by_role("button", name="Tarn Side").click()
    side = page.get_by_role("region", name="Tarn Side")
    expect(side).to_contain_text("Carrot")
    side.get_by_role("button", name="Edit corners").click()
    expect(page.get_by_text("on the ellipsoid")).to_be_visible()
    page.get_by_role("button", name="Cancel").click()


def test_the_triangle_sets_the_texture(at_board: Page) -> None:
    page = at_board
    open_farm_page(page, "Soils")
    page.get_by_role("link", name="New soil").click()
    page.get_by_label("Name", exact=True).fill("Sedge peat edge")
    triangle = page.get_by_role("slider", name="Texture triangle")
    box = triangle.bounding_box()
    assert box is not None
    # Low on the right: nearly all silt.
    page.mouse.click(box["x"] + box["width"] * 0.86, box["y"] + box["height"] * 0.86)
    expect(page.get_by_label("Silt", exact=True)).to_have_value(re.compile(r"^(8|9)\d$"))
    profile = page.get_by_role("group", name="Soil profile")
    expect(profile.get_by_role("button").first).to_have_accessible_name(re.compile("silt"))
    triangle.focus()
    before = page.get_by_label("Clay", exact=True).input_value()
    page.keyboard.press("Shift+ArrowUp")
    expect(page.get_by_label("Clay", exact=True)).to_have_value(str(int(before) + 5))
    page.get_by_label("Sand", exact=True).fill("60")
    expect(page.get_by_text("they must add to 100").first).to_be_visible()
    page.get_by_role("button", name="find the class by hand").click()
    for answer in ("It holds together as a ball", "2.5 to 5 cm", "A little of both"):
        page.get_by_role("dialog").get_by_role("button", name=re.compile(answer)).click()
    expect(page.get_by_label("Texture", exact=True)).to_have_value("clay loam")
    page.get_by_role("radio", name="Rosetta (van Genuchten)").check()
    expect(page.get_by_text("Rosetta, in force")).to_be_visible()
    profile.get_by_role("button").nth(1).click()
    page.get_by_text("Roots stop at its top").click()
    page.get_by_role("button", name="Save soil").click()
    expect(page.get_by_role("link", name="Sedge peat edge")).to_be_visible()


def test_a_laboratory_sheet_fills_the_library(at_board: Page) -> None:
    page = at_board
    open_farm_page(page, "Soils")
    page.get_by_role("button", name="Import laboratory sheet…").click()
    sheet = page.get_by_role("dialog")
    text = io.BytesIO(b"soil,top cm,bottom cm,sand,silt,clay\nCarr 1,0,30,40,45,20\n")
    file = {"name": "lab.csv", "mimeType": "text/csv", "buffer": text.getvalue()}
    sheet.locator("input[type=file]").set_input_files(file)  # type: ignore[arg-type]
    expect(sheet.get_by_text("add to 105 %")).to_be_visible()
    file["buffer"] = b"soil,top cm,bottom cm,sand,silt,clay\nCarr 1,0,30,40,40,20\n"
    sheet.locator("input[type=file]").set_input_files(file)  # type: ignore[arg-type]
    sheet.get_by_role("button", name="Save 1 soils").click()
    expect(sheet.get_by_text("Saved 1 soils")).to_be_visible()


def test_an_observed_stage_bends_the_season(at_board: Page) -> None:
    page = at_board
    limits_of(page, "Marl Pit")
    expect(page.get_by_text("Onion, dry · mid season")).to_be_visible()
    season = page.get_by_role("region", name="Crop season")
    season.get_by_label("Stage").select_option("a tenth of the ground covered")
    season.get_by_label("On", exact=True).fill("2026-07-10")
    season.get_by_role("button", name="Record").click()
    expect(page.get_by_text("Onion, dry · development")).to_be_visible()
    expect(season.get_by_text("a tenth of the ground covered").first).to_be_visible()
    season.get_by_label("On", exact=True).fill("2026-12-24")
    season.get_by_label("Stage").select_option("half of the ground covered")
    season.get_by_role("button", name="Record").click()
    expect(season.get_by_text("is in the future").first).to_be_visible()
    season.get_by_role("button", name="Remove a tenth of the ground covered").click()
    expect(page.get_by_text("Onion, dry · mid season")).to_be_visible()


def test_limits_by_method_are_changed_and_undone(at_board: Page) -> None:
    page = at_board
    limits_of(page, "Wick Terrace")
    refill_methods = page.get_by_role("region", name="Refill point by three methods")
    expect(refill_methods.get_by_text("crop's p · in force")).to_be_visible()
    page.get_by_role("button", name="Change limits").click()
    sheet = page.get_by_role("dialog")
    sheet.get_by_label("Refill point by").select_option("tension limit")
    sheet.get_by_label("At most").fill("2")
    sheet.get_by_role("button", name="Apply").click()
    expect(sheet.get_by_text("lies outside 5-500 kPa").first).to_be_visible()
    sheet.get_by_label("At most").fill("60")
    sheet.get_by_label("In force from", exact=True).fill("2026-07-01")
    sheet.get_by_label("Reason").fill("hold the berries small")
    sheet.get_by_role("button", name="Apply").click()
    expect(refill_methods.get_by_text("tension limit · in force")).to_be_visible()
    changes = page.get_by_role("region", name="Changes")
    expect(changes).to_contain_text("refill by tension limit, 60 kPa")
    expect(changes).to_contain_text("hold the berries small · Maud Pellander")
    # The days before keep the method they had.
    curve = page.get_by_role("slider", name=re.compile("Full, refill and wilting"))
    curve.focus()
    for _ in range(2):
        page.keyboard.press("PageUp")
    for _ in range(3):
        page.keyboard.press("ArrowLeft")
    expect(page.get_by_text("Shown as they were in force on")).to_be_visible()
    page.get_by_role("button", name="Back to today").click()
    changes.get_by_role("button", name="Undo refill by tension limit").click()
    expect(changes).to_contain_text("undone by Maud Pellander")
    expect(refill_methods.get_by_text("crop's p · in force")).to_be_visible()


def test_many_blocks_get_a_crop_in_one_go(at_board: Page) -> None:
    page = at_board
    open_farm_page(page, "Blocks")
    page.get_by_label("Find a block").fill("solid set")
    tick = page.get_by_role("checkbox", name="Select all blocks shown")
    tick.evaluate("e => e.closest('label').click()")
    page.get_by_role("button", name=re.compile(r"^Edit \d blocks")).click()
    sheet = page.get_by_role("dialog")
    sheet.get_by_role("combobox", name="Crop").select_option("Celery")
    sheet.get_by_role("button", name=re.compile("^Save")).click()
    expect(sheet.get_by_text("A crop needs its planting date").first).to_be_visible()
    sheet.get_by_label("Planted, or bud break", exact=True).fill("2026-08-01")
    sheet.get_by_role("button", name=re.compile("^Save")).click()
    expect(sheet).to_be_hidden()
    # Planted later: the crop in the ground stays until then.
    page.get_by_role("link", name="Low Ings").click()
    expect(page.get_by_text("Also: Celery from 1 Aug 2026")).to_be_visible()


def test_a_crop_of_our_own_shows_what_differs(at_board: Page) -> None:
    page = at_board
    open_farm_page(page, "Crops")
    page.get_by_label("Find a crop").fill("potato")
    page.get_by_role("link", name="Potato", exact=True).click()
    page.get_by_role("button", name="Make the farm's own copy").click()
    page.get_by_label("Name", exact=True).fill("Potato, Levels seed")
    page.get_by_label("p at 5 mm/day").fill("0,95")
    page.get_by_role("button", name="Save crop").click()
    expect(page.get_by_text("p is 0.95").first).to_be_visible()
    page.get_by_label("p at 5 mm/day").fill("0,3")
    page.get_by_role("button", name="Save crop").click()
    expect(page.get_by_role("heading", name="Potato, Levels seed")).to_be_visible()
    differs = page.get_by_role("region", name="Differences from the published values")
    expect(differs).to_contain_text("p at 5 mm/day0.30.35")


def test_a_system_by_its_design_in_us_units(at_board: Page) -> None:
    page = at_board
    prefer(page, units="us")
    page.get_by_role("link", name=re.compile("Quern Field")).click()
    page.get_by_role("link", name="Edit block").click()
    page.get_by_label("Known by").select_option("its design")
    page.get_by_label("Flow of a sprinkler").fill("6")
    page.get_by_label("Spacing along the line").fill("40")
    page.get_by_label("Line spacing").fill("50")
    # 6 gal/min on 40 x 50 ft: 96.25 x 6 / 2000 = 0.289 in/h (common practice, no source).
    expect(page.get_by_text("0.289 in/h").first).to_be_visible()
    page.get_by_role("button", name="Save changes").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Quern Field")
    page.get_by_role("link", name="Edit block").click()
    expect(page.get_by_label("Flow of a sprinkler")).to_have_value("6")
    page.get_by_role("link", name="Catch-can tests").click()
    page.get_by_label(re.compile("Caught in each can")).fill("0.4 0.5 0.6 0.5 0.4 0.5 0.6")
    expect(page.get_by_text("7 cans")).to_be_visible()
    page.get_by_label(re.compile("Caught in each can")).fill("0.4 0.5 0.6 0.5 0.4 0.5 0.6 0.5")
    expect(page.get_by_text("80.0 %")).to_be_visible()
