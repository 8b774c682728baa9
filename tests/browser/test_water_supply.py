"""The water supply through the real interface: described in dialogs, imported, undone."""

from playwright.sync_api import Page, expect

PAGE = "/thistlewick/farm/water-supply"


def test_a_source_is_added_with_its_limits_and_undone(at_board: Page, base_url: str) -> None:
    page = at_board
    page.goto(f"{base_url}{PAGE}")
    page.get_by_role("button", name="Add source").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Name").fill("Gravel pit")
    dialog.get_by_label("Maximum flow").fill("abc")
    dialog.get_by_role("button", name="Save").click()
    expect(dialog).to_be_visible()
    dialog.get_by_label("Maximum flow").fill("85")
    dialog.get_by_role("button", name="Save").click()
    expect(dialog).to_be_hidden()
    row = page.get_by_role("row").filter(has=page.get_by_role("button", name="Gravel pit"))
    expect(row).to_contain_text("85 m³/h")
    page.goto(f"{base_url}/thistlewick/farm/change-history")
    expect(page.get_by_text("Water supply changed").first).to_be_visible()
    page.get_by_role("button", name="Undo").first.click()
    expect(page.get_by_text("undone").first).to_be_visible()
    page.goto(f"{base_url}{PAGE}")
    expect(page.get_by_role("button", name="North bore").first).to_be_visible()
    expect(page.get_by_role("button", name="Gravel pit")).to_have_count(0)


def test_wind_limits_are_set(at_board: Page, base_url: str) -> None:
    page = at_board
    page.goto(f"{base_url}{PAGE}")
    section = page.locator("section").filter(has=page.get_by_role("heading", name="Wind limits"))
    expect(section).to_contain_text("pivot: no limit · solid set sprinkler: 4.7 m/s")
    section.get_by_role("button", name="Change").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("pivot").fill("-2")
    dialog.get_by_role("button", name="Save").click()
    expect(dialog.get_by_text("Enter a wind above 0")).to_be_visible()
    dialog.get_by_label("pivot").fill("8")
    dialog.get_by_role("button", name="Save").click()
    expect(section).to_contain_text("pivot: 8.0 m/s")


def test_a_group_is_made_and_a_block_put_in_it_on_the_plan(at_board: Page, base_url: str) -> None:
    page = at_board
    page.goto(f"{base_url}{PAGE}")
    page.get_by_role("button", name="Add group").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Name").fill("East filter")
    dialog.get_by_label("Blocks at a time").fill("0")
    dialog.get_by_role("button", name="Save").click()
    expect(dialog.get_by_text("Enter 1 to 100 blocks.").first).to_be_visible()
    dialog.get_by_label("Blocks at a time").fill("2")
    dialog.get_by_role("button", name="Save").click()
    expect(page.get_by_text("2 blocks at a time")).to_be_visible()
    plan = page.get_by_test_id("plan")
    plan.get_by_role("button", name="Low Ings").press("Enter")
    dialog.get_by_text("East filter").click()
    dialog.get_by_role("button", name="Save").click()
    expect(dialog).to_be_hidden()
    blocks = page.locator("section").filter(has=page.get_by_role("heading", name="Blocks"))
    expect(blocks.get_by_role("row", name="Low Ings").first).to_contain_text("East filter")
    # A group renamed is renamed where blocks are in it.
    page.get_by_role("button", name="East filter").first.click()
    dialog.get_by_label("Name").fill("Sand filter")
    dialog.get_by_role("button", name="Save").click()
    expect(blocks.get_by_role("row", name="Low Ings").first).to_contain_text("Sand filter")


def test_a_source_is_opened_and_placed_on_the_plan(at_board: Page, base_url: str) -> None:
    page = at_board
    page.goto(f"{base_url}{PAGE}")
    plan = page.get_by_test_id("plan")
    plan.get_by_role("button", name="North bore").press("Enter")
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_label("Name")).to_have_value("North bore")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Place Hill tank").click()
    expect(page.get_by_text("Click where Hill tank stands.")).to_be_visible()
    plan.scroll_into_view_if_needed()
    box = plan.bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + 0.8 * box["width"], box["y"] + 0.6 * box["height"])
    expect(plan.get_by_role("button", name="Hill tank")).to_be_visible()
    expect(page.get_by_role("button", name="Place Hill tank")).to_have_count(0)


def test_a_file_is_read_shown_and_saved(at_board: Page, base_url: str) -> None:
    page = at_board
    page.goto(f"{base_url}{PAGE}")
    table = (
        "kind,name,flow m3/h,day m3,kWh/m3\nsource,Weir pump,140,2400,0.21\nmain,East main,90,,\n"
    )
    chooser = page.locator("input[type=file]")
    chooser.set_input_files(
        {"name": "supply.csv", "mimeType": "text/csv", "buffer": table.encode()}
    )
    expect(page.get_by_text("Read: 6 sources, 2 mains")).to_be_visible()
    expect(page.get_by_role("button", name="Weir pump")).to_have_count(0)
    page.get_by_role("button", name="Save what was read").click()
    expect(page.get_by_role("button", name="Weir pump", exact=True)).to_be_visible()
    expect(page.get_by_role("button", name="East main")).to_be_visible()
    wrong = "kind,name,flow m3/h\nsource,Weir pump,much\n"
    chooser.set_input_files({"name": "wrong.csv", "mimeType": "text/csv", "buffer": wrong.encode()})
    expect(page.get_by_text("Row 2").first).to_be_visible()


def test_the_rest_of_the_season_is_shown(at_board: Page, base_url: str) -> None:
    page = at_board
    page.goto(f"{base_url}{PAGE}")
    section = page.locator("section").filter(
        has=page.get_by_role("heading", name="Rest of the season")
    )
    expect(section).to_contain_text("North bore")
    expect(section).to_contain_text("Licence left")
    expect(section).to_contain_text("Alder Reach")
