"""Deciding through the real interface: give, change, not now, many at once, looking back."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Locator, Page, expect

pytestmark = pytest.mark.browser


def line(page: Page, name: str) -> Locator:
    return page.locator("li", has=page.locator("a.board-line", has_text=name))


def open_block(page: Page, name: str) -> None:
    page.locator("a.board-line", has_text=name).click()
    expect(page.get_by_role("heading", level=1)).to_have_text(name)


def test_one_click_gives_and_one_takes_it_back(at_board: Page) -> None:
    page = at_board
    row = line(page, "Tarn Breck")
    page.get_by_role("button", name="Schedule irrigation for Tarn Breck").click()
    undo = page.get_by_role("button", name="Undo the decision for Tarn Breck")
    expect(undo).to_contain_text("Scheduled")
    expect(row).to_contain_text("scheduled today 06:10")
    undo.click()
    expect(page.get_by_role("button", name="Schedule irrigation for Tarn Breck")).to_be_visible()
    expect(row).not_to_contain_text("planned")


def test_not_now_from_the_keyboard_with_a_reason(at_board: Page) -> None:
    page = at_board
    page.locator("a.board-line", has_text="Wick Terrace").focus()
    page.keyboard.press("x")
    dialog = page.get_by_role("dialog", name="Wick Terrace")
    dialog.get_by_role("button", name="Skip", exact=True).click()
    expect(dialog.get_by_text("Enter a reason.").first).to_be_visible()
    dialog.get_by_label("Reason").select_option("no labour available")
    dialog.get_by_label("Note").fill("two men short")
    dialog.get_by_role("button", name="Skip", exact=True).click()
    expect(dialog).to_have_count(0)
    row = line(page, "Wick Terrace")
    expect(row).to_contain_text("Skipped, Maud Pellander: no labour available, two men short")
    page.locator("a.board-line", has_text="Wick Terrace").focus()
    page.keyboard.press("z")
    expect(row).not_to_contain_text("Skipped")


def test_many_at_once(at_board: Page) -> None:
    page = at_board
    page.get_by_role("button", name=re.compile(r"Schedule all \d due")).click()
    dialog = page.get_by_role("dialog", name="Schedule all that is due")
    dialog.get_by_text("Marl Pit").wait_for()
    boxes = dialog.get_by_role("checkbox")
    for k in range(boxes.count() - 2):
        boxes.nth(k).locator("xpath=..").click()
    dialog.get_by_role("button", name="Schedule 2 irrigations").click()
    expect(dialog).to_have_count(0)
    undos = page.get_by_role("button", name=re.compile("Undo the decision"))
    expect(undos).to_have_count(2)
    undos.first.click()
    expect(undos).to_have_count(1)
    undos.first.click()
    expect(undos).to_have_count(0)


def test_find_and_group(at_board: Page) -> None:
    page = at_board
    page.keyboard.press("f")
    page.keyboard.type("grape")
    expect(page.locator("a.board-line")).to_have_count(1)
    page.get_by_role("button", name="show all").click()
    page.get_by_label("Group", exact=True).select_option("by water supply")
    expect(page.get_by_role("heading", level=2, name="River pump")).to_be_visible()
    page.get_by_label("Show only").select_option("Tam Orrowby")
    expect(page.get_by_text(re.compile(r"8 of 12 blocks"))).to_be_visible()
    page.reload()
    expect(page.get_by_text(re.compile(r"8 of 12 blocks"))).to_be_visible()


def test_what_if_moves_and_becomes_a_plan(at_board: Page) -> None:
    page = at_board
    open_block(page, "Quern Field")
    page.get_by_role("button", name="What if").click()
    panel = page.get_by_role("region", name="What if")
    said = panel.get_by_role("status")
    expect(said).to_contain_text("Irrigate now")
    panel.get_by_role("slider", name="start").press("ArrowRight")
    expect(said).not_to_contain_text("Irrigate now")
    panel.get_by_role("button", name="As it is").click()
    expect(said).to_contain_text("Irrigate now")
    runs = panel.get_by_role("slider", name="running time")
    before = float(runs.get_attribute("aria-valuenow") or "nan")
    runs.press("ArrowRight")
    panel.get_by_role("button", name="Schedule this irrigation").click()
    dialog = page.get_by_role("dialog", name="Quern Field")
    expect(dialog.get_by_label("Hours")).to_have_value(f"{before + 0.5:g}")
    dialog.get_by_label("Note").fill("a little longer")
    dialog.get_by_role("button", name="Schedule").click()
    expect(page.get_by_text("Adjusted, Maud Pellander: a little longer.")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Schedule", exact=True)).to_be_visible()


def test_water_is_kept_off_and_let_on_again(at_board: Page) -> None:
    page = at_board
    open_block(page, "Quern Field")
    page.get_by_role("button", name="Hold irrigation…").click()
    dialog = page.get_by_role("dialog", name="Hold irrigation of Quern Field")
    dialog.get_by_label("Note").fill("blight spray")
    dialog.get_by_label("Until", exact=True).fill("2026-07-16T12:00")
    dialog.get_by_role("button", name="Hold irrigation").click()
    expect(page.get_by_text("On hold: spray interval").first).to_be_visible()
    expect(
        page.get_by_text("No irrigation until Thu 12:00: spray interval (blight spray).")
    ).to_be_visible()
    page.get_by_role("link", name="Irrigation", exact=True).click()
    holds = page.get_by_role("region", name="Holds")
    held = holds.locator("div", has_text="Quern Field").filter(has_text="blight").last
    held.get_by_role("button", name="Lift the hold").click()
    expect(holds).not_to_contain_text("Quern Field")


def test_water_logged_corrected_and_taken_out(at_board: Page) -> None:
    page = at_board
    page.get_by_role("link", name="Irrigation", exact=True).click()
    page.get_by_role("button", name="Log irrigation").click()
    dialog = page.get_by_role("dialog", name="Log irrigation")
    for name in ("Quern Field", "Tarn Breck"):
        dialog.get_by_text(name).click()
    dialog.get_by_label("Started", exact=True).fill("2026-07-14T02:00")
    dialog.get_by_label("Ended", exact=True).fill("2026-07-14T01:00")
    dialog.get_by_role("button", name="Save").click()
    expect(dialog.get_by_text("It ends before it starts.").first).to_be_visible()
    dialog.get_by_label("Ended", exact=True).fill("2026-07-14T05:00")
    dialog.get_by_label("Amount by").select_option("two meter readings")
    dialog.get_by_label("Meter at the start").fill("10000")
    dialog.get_by_label("Meter at the end").fill("11780")
    dialog.get_by_role("button", name="Save").click()
    expect(dialog).to_have_count(0)
    # 1780 m3 over 17.8 ha are 10 mm on each.
    given = page.locator("li", has_text="Tue 14 July 02:00 to 05:00")
    expect(given).to_have_count(2)
    expect(given.first).to_contain_text("10 mm gross, 3 h")
    expect(given.first).to_contain_text("by meter")
    given.first.get_by_role("button", name="Correct").click()
    dialog = page.get_by_role("dialog", name=re.compile("Correct irrigation"))
    dialog.get_by_label("Amount by").select_option("gross depth")
    dialog.get_by_label("Gross depth").fill("6")
    dialog.get_by_role("button", name="Save").click()
    expect(given.first).to_contain_text("6 mm gross")
    for _ in range(2):
        given.get_by_role("button", name="Did not run").first.click()
        expect(page.get_by_role("dialog")).to_have_count(0)
    # Others may have been taken back by other tests.
    expect(given.filter(has_text="Cancelled")).to_have_count(2)


def test_rain_by_the_gauge(at_board: Page) -> None:
    page = at_board
    page.get_by_role("link", name="Irrigation", exact=True).click()
    gauge = page.get_by_role("region", name="Rain by gauge")
    gauge.get_by_label("Day", exact=True).fill("2026-07-11")
    gauge.get_by_label("Rain").fill("3,5")
    gauge.get_by_role("button", name="Save").click()
    expect(gauge.get_by_text("Sat 11 July")).to_be_visible()
    expect(gauge.get_by_text("3.5 mm")).to_be_visible()
    gauge.get_by_label("Day", exact=True).fill("2026-07-11")
    gauge.get_by_role("button", name="Save").click()
    expect(gauge.get_by_text("Sat 11 July")).to_have_count(0)


def test_the_past_stays_and_is_told_anew(at_board: Page) -> None:
    page = at_board
    open_block(page, "Upper Hanger")
    page.get_by_role("link", name="Past advice").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Past advice, Upper Hanger")
    rows = page.locator("tbody tr")
    expect(rows.first).to_contain_text("Tue 14 July")
    assert rows.count() >= 10
    rows.nth(3).get_by_role("link").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Upper Hanger, Sat 11 July 06:10")
    expect(page.get_by_role("region", name="Then and now")).to_contain_text("As it was given")
    expect(page.get_by_text("Known that morning: Probe U1")).to_be_visible()
    expect(page.get_by_role("region", name="How this was calculated")).to_be_visible()


def test_a_stations_sheet(at_board: Page, tmp_path: Path) -> None:
    page = at_board
    page.keyboard.press("i")
    page.get_by_role("link", name="Weather").click()
    expect(page.get_by_role("region", name="Ahead")).to_contain_text("simulated forecast")
    page.get_by_role("button", name="Import station data").click()
    dialog = page.get_by_role("dialog", name="Import station data")
    path = tmp_path / "station.csv"
    path.write_text("date,tmin,tmax\n2026-07-12,12,banana\n")
    dialog.locator("input[type=file]").set_input_files(path)
    expect(dialog.get_by_role("alert")).to_contain_text("“banana” is not a number")
    path.write_text("date,tmin,tmax,wind m/s,remark\n2026-03-12,4,12.5,3,fine\n")
    dialog.locator("input[type=file]").set_input_files(path)
    expect(dialog.get_by_role("status")).to_contain_text("Import preview: 1 days")
    expect(dialog.get_by_text("Not used: remark.")).to_be_visible()
    dialog.get_by_role("button", name="Import 1 day").click()
    expect(dialog.get_by_role("status")).to_contain_text("Imported")
    dialog.get_by_role("button", name="Done").click()
    page.get_by_label("Period").select_option("last 200 days")
    day = page.locator("tr", has_text="Thu 12 March")
    expect(day).to_contain_text("Penman-Monteith")


def test_the_morning(at_board: Page) -> None:
    page = at_board
    page.keyboard.press("i")
    page.get_by_role("link", name="Daily summary").click()
    expect(page.get_by_text("Gorse Piece: No reliable data.")).to_be_visible()
    page.get_by_role("button", name="Create an address").click()
    address = page.locator("code", has_text="/api/calendar/").inner_text()
    assert "BEGIN:VCALENDAR" in page.request.get(address).text()
    page.get_by_role("button", name="Revoke").click()
    expect(page.get_by_role("button", name="Create an address")).to_be_visible()
    assert page.request.get(address).status == 404
    link = page.get_by_role("link", name="PDF to print").get_attribute("href")
    assert link
    assert page.request.get(link).body()[:5] == b"%PDF-"
