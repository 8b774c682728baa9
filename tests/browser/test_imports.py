"""Importing a file nobody would wish for."""

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.conftest import WORKER_MS, open_farm_page

UGLY = (
    "Station;Carr gate;;;\r\n"
    "Logger;17;;;\r\n"
    "\r\n"
    "Date;Clock;Soil 10 cm;Soil 20 cm;Battery\r\n"
    ";;Vol.%;Vol.%;V\r\n"
    "01.03.2026;02:15;24,1;25,2;3,6\r\n"
    "01.03.2026;02:30;ERR;1.025,2;3,6\r\n"
    "29.03.2026;02:30;24,0;25,0;3,6\r\n"
    "29.03.2026;02:45;24,0;25,0;3,6\r\n"
    "29.03.2026;02:45;23,0;25,0;3,6\r\n"
)


def open_import(page: Page, path: Path) -> None:
    open_farm_page(page, "Instruments")
    page.get_by_role("link", name="Files").click()
    page.locator("input[type=file]").set_input_files(path)
    expect(page.get_by_role("heading", level=1)).to_have_text(path.name)


def test_an_ugly_file_from_upload_to_undo(at_board: Page, worker: None, tmp_path: Path) -> None:
    page = at_board
    path = tmp_path / "carr-gate.csv"
    path.write_bytes(UGLY.encode("cp1252"))
    open_import(page, path)
    expect(page.get_by_text("No column is assigned to a sensor yet")).to_be_visible(
        timeout=WORKER_MS
    )
    page.get_by_label("Instrument").select_option("Quern Field, Probe Q1")
    expect(page.get_by_label("Column C holds")).to_have_value(re.compile("sensor:"))
    # The hour that spring skips tells that this logger stays on winter time.
    skipped = page.get_by_text("went forward over this time").first
    expect(skipped).to_be_visible()
    page.get_by_label("Clock").select_option("a fixed offset all year")
    expect(skipped).to_have_count(0)
    expect(page.get_by_text("Sun 29 March 03:30")).to_be_visible()
    expect(page.get_by_text("This is not a number")).to_be_visible()
    page.get_by_label("Missing-value codes").fill("ERR")
    expect(page.get_by_text("This is not a number")).to_have_count(0)

    page.get_by_role("button", name="Check the whole file").click()
    expect(page.get_by_role("heading", name="Import preview")).to_be_visible(timeout=WORKER_MS)
    expect(page.get_by_text("2 rejected; they are not imported.")).to_be_visible()
    expect(page.get_by_text("Row 9 has the same time for this sensor")).to_be_visible()
    with page.expect_download() as download:
        page.get_by_role("link", name=re.compile("Download rejected")).click()
    report = Path(download.value.path()).read_text().splitlines()
    assert report[0] == "row,column,value,reason"
    assert report[1].startswith("7,Soil 20 cm Vol.%,1025.2,")

    page.get_by_label("Save this layout as").fill("Carr gate")
    page.get_by_role("button", name=re.compile("Import 6 readings")).click()
    expect(page.get_by_role("heading", name="Imported")).to_be_visible(timeout=WORKER_MS)
    expect(page.get_by_text("read as “Carr gate”")).to_be_visible()
    page.get_by_role("button", name="Undo the import").click()
    expect(page.get_by_role("heading", name="Undone")).to_be_visible(timeout=WORKER_MS)

    # The next file of this logger is read in the way that was kept.
    path.write_bytes(UGLY.replace("01.03", "02.03").encode("cp1252"))
    open_import(page, path)
    expect(page.get_by_text("read as “Carr gate”")).to_be_visible()
    expect(page.get_by_label("Clock")).to_have_value("still")
    page.get_by_role("button", name="Delete the file").click()
    expect(page.get_by_text("undone")).to_be_visible()


def test_a_file_that_is_no_table(at_board: Page, worker: None, tmp_path: Path) -> None:
    page = at_board
    open_farm_page(page, "Instruments")
    page.get_by_role("link", name="Files").click()
    path = tmp_path / "picture.csv"
    path.write_bytes(b"\x89PNG\x00\x00")
    page.locator("input[type=file]").set_input_files(path)
    expect(page.get_by_role("alert")).to_contain_text("This is not a text file", timeout=WORKER_MS)
    page.get_by_role("button", name="Delete the file").click()
    expect(page.get_by_text("picture.csv")).to_have_count(0)
