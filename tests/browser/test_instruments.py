"""Instruments at work: one that wants looking at, a review, a curve from masses, a token ended."""

import json
import re
import urllib.error
import urllib.request
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.conftest import open_farm_page

SHEET = """raw,wet_g,dry_g,tare_g,volume_ml
7,153.4,150,20,100
14,161.8,150,20,100
19,168.1,150,20,100
25,176.2,150,20,100
33,187.9,150,20,100
"""


def open_instrument(page: Page, label: str) -> None:
    open_farm_page(page, "Instruments")
    page.get_by_role("link", name=label, exact=True).click()
    expect(page.get_by_role("heading", level=1)).to_have_text(label)


def test_what_wants_looking_at_comes_first(at_board: Page) -> None:
    page = at_board
    open_farm_page(page, "Instruments")
    rows = page.get_by_role("row")
    expect(rows.nth(1)).to_contain_text("Probe G1")
    expect(rows.nth(1)).to_contain_text("no recent readings")
    page.get_by_label("only those that need attention").check(force=True)
    expect(page.get_by_role("row").filter(has_text="Probe A1")).to_have_count(0)
    expect(page.get_by_role("row").filter(has_text="flat line")).to_contain_text("Probe Q1")


def test_a_dead_depth_is_named_and_a_person_may_overrule(at_board: Page) -> None:
    page = at_board
    open_instrument(page, "Probe Q1")
    expect(page.locator(".uplot canvas")).to_be_visible()
    found = page.get_by_role("region", name="Quality checks")
    expect(found).to_contain_text("flat line at 30 cm – excluded")
    word = page.get_by_role("region", name="Review readings")
    word.get_by_label("30 cm").check(force=True)
    expect(word.get_by_role("button", name="Include readings")).to_be_disabled()
    word.get_by_label("Reason").fill("saturated there, it stands still")
    word.get_by_role("button", name="Include readings").click()
    expect(word.get_by_text("saturated there, it stands still (Maud Pellander)")).to_be_visible()
    word.get_by_role("button", name="undo").click()
    expect(word.get_by_text("undone by Maud Pellander")).to_be_visible()


def test_a_closer_look_and_back(at_board: Page) -> None:
    page = at_board
    open_instrument(page, "Probe L1")
    box = page.locator(".u-over").bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] * 0.4, box["y"] + 80)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * 0.6, box["y"] + 80, steps=5)
    page.mouse.up()
    expect(page.get_by_text("Every reading is drawn.")).to_be_visible()
    page.get_by_role("button", name="show all").click()
    expect(page.get_by_text(re.compile("Each point represents"))).to_be_visible()


def test_from_masses_to_a_curve_in_force(at_board: Page, tmp_path: Path) -> None:
    page = at_board
    open_instrument(page, "Probe I1")
    page.get_by_role("link", name="Open the calibration worksheet").click()
    expect(page.get_by_role("heading", name="Calibration worksheet")).to_be_visible()
    # A probe that reads percent is written down in its core unit.
    sheet = tmp_path / "sheet.csv"
    lines = SHEET.splitlines()
    fractions = [f"{float(x.split(',')[0]) / 100},{x.split(',', 1)[1]}" for x in lines[1:]]
    sheet.write_text("\n".join([lines[0], *fractions]))
    page.locator("input[type=file]").set_input_files(sheet)
    expect(page.get_by_role("cell", name="0.262")).to_be_visible()
    expect(page.get_by_role("button", name="quadratic", exact=True)).to_have_attribute(
        "aria-pressed", "true"
    )
    page.get_by_role("button", name="linear", exact=True).click()
    # A slip of the balance is named where it stands.
    page.get_by_label("Wet, g, sample 3").fill("140")
    expect(page.get_by_text("Wet soil can't weigh less than dry.")).to_be_visible()
    page.get_by_label("Wet, g, sample 3").fill("168.1")
    page.get_by_role("button", name="linear", exact=True).click()
    page.get_by_label("Source").fill("bench, Ings topsoil")
    page.get_by_role("button", name="Apply the linear curve").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Probe I1")
    curves = page.get_by_role("region", name="Calibration")
    expect(curves.get_by_text("bench, Ings topsoil, Maud Pellander").first).to_be_visible()
    curves.get_by_role("button", name="undo").first.click()
    expect(curves.get_by_text("undone by Maud Pellander").first).to_be_visible()


def test_the_log_and_what_is_due(at_board: Page) -> None:
    page = at_board
    open_instrument(page, "Tensiometers U2")
    upkeep = page.get_by_role("region", name="Maintenance")
    upkeep.get_by_label("New stopper").check(force=True)
    upkeep.get_by_role("button", name="Record as done").click()
    log = page.get_by_role("region", name="Log")
    expect(log.get_by_text("New stopper", exact=True)).to_be_visible()
    log.get_by_role("button", name="Add entry").click()
    log.get_by_label("Event").select_option("suspect: excluded")
    log.get_by_role("button", name="Add entry").click()
    expect(log.get_by_text("Enter why it is suspect.")).to_be_visible()
    log.get_by_label("Note").fill("needle sticks")
    log.get_by_role("button", name="Add entry").click()
    expect(log.get_by_text("needle sticks")).to_be_visible()
    expect(page.get_by_text("suspect, last reading")).to_be_visible()


def send(base_url: str, token: str, body: dict) -> int:
    request = urllib.request.Request(  # noqa: S310
        f"{base_url}/api/ingest",
        json.dumps(body).encode(),
        {"Authorization": f"Bearer {token}", "Content-Type": "application/json"},
    )
    try:
        with urllib.request.urlopen(request) as answer:  # noqa: S310
            return int(answer.status)
    except urllib.error.HTTPError as error:
        return error.code


def test_a_revoked_token_is_shut_out(at_board: Page, base_url: str) -> None:
    page = at_board
    open_farm_page(page, "Instruments")
    page.get_by_role("link", name="Loggers").click()
    page.get_by_role("button", name="New logger").click()
    page.get_by_label("Name", exact=True).fill("Gate mast")
    page.get_by_role("button", name="Create and show the token").click()
    token = page.locator("code").filter(has_text=re.compile(r"^efd_")).inner_text().strip()
    page.get_by_role("button", name="I have copied it").click()
    assert send(base_url, token, {"battery_v": 12.4, "readings": []}) == 200
    page.reload()
    row = page.get_by_role("row").filter(has_text="Gate mast")
    expect(row).to_contain_text("12.4 V")
    row.get_by_role("button", name="Revoke").click()
    expect(row).to_contain_text("revoked")
    assert send(base_url, token, {"readings": []}) == 401
