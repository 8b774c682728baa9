"""Siting by hand: soils of a survey, zones drawn, points left out, a spot from its core to its
checks, and the way to it without a signal."""

from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import PHONE, open_farm_page

SPOT = {"latitude": 56.405484, "longitude": 3.053152}


def open_siting(page: Page) -> None:
    open_farm_page(page, "Siting")
    page.get_by_role("link", name="Long Tye", exact=True).first.click()
    expect(page.get_by_role("heading", name="Best spots in")).to_be_visible()


def draw(page: Page, plan: str, *corners: tuple[int, int]) -> None:
    box = page.get_by_role("slider", name=plan).bounding_box()
    assert box is not None
    for x, y in corners:
        page.mouse.click(box["x"] + x, box["y"] + y)


def test_soils_of_a_survey_become_zones_and_an_area_changes_them(at_board: Page) -> None:
    page = at_board
    open_farm_page(page, "Soils")
    page.get_by_role("button", name="Import soil survey…").click()
    page.get_by_role("button", name="Try the sample").click()
    expect(page.get_by_text("0–30 cm sandy loam")).to_be_visible()
    page.get_by_role("button", name="Import 3 soil zones").click()
    expect(page.get_by_text("3 soil zones were imported.")).to_be_visible()
    page.get_by_role("button", name="Close").click()
    expect(page.get_by_text("surveyed, not seen").first).to_be_visible()

    open_siting(page)
    page.get_by_label("Zones follow").select_option("the soil zones of the map")
    expect(page.get_by_label("Name of Sample silt")).to_be_visible()
    page.get_by_label("Zones follow").select_option("the layers")
    expect(page.get_by_label("Number of zones")).to_be_visible()
    page.get_by_label("Name of Zone 3").fill("Hollow")
    page.get_by_role("button", name="Save names").click()
    expect(page.get_by_label("Name of Hollow")).to_be_visible()

    page.get_by_label("Merge Zone 2 with").select_option("Hollow")
    expect(page.get_by_label("Name of Zone 2")).to_have_count(0)
    page.get_by_role("button", name="Undo merging").click()
    expect(page.get_by_label("Name of Zone 2")).to_be_visible()

    page.get_by_role("button", name="Draw an area").click()
    page.get_by_role("slider", name="Plan of the block").scroll_into_view_if_needed()
    draw(page, "Plan of the block", (300, 120), (400, 120), (400, 200))
    page.get_by_label("The area belongs to").select_option("a new zone")
    page.get_by_role("button", name="Change zone").click()
    expect(page.get_by_label("Name of Zone 4")).to_be_visible()
    page.get_by_role("button", name="Undo last area").click()
    expect(page.get_by_label("Name of Zone 4")).to_have_count(0)
    expect(page.get_by_label("Name of Hollow")).to_be_visible()

    # The same by keyboard: Enter sets a corner where the flag stands.
    page.get_by_role("button", name="Draw an area").click()
    plan = page.get_by_role("slider", name="Plan of the block")
    plan.focus()
    for key, times in (("Enter", 1), ("ArrowRight", 9), ("Enter", 1), ("ArrowDown", 9)):
        for _ in range(times):
            page.keyboard.press(key)
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Change zone").click()
    expect(page.get_by_role("button", name="Undo last area")).to_be_visible()
    page.get_by_role("button", name="Undo last area").click()
    expect(page.get_by_role("button", name="Undo last area")).to_have_count(0)


def test_points_are_left_out_by_rules_and_by_hand(at_board: Page) -> None:
    page = at_board
    open_siting(page)
    page.get_by_role("link", name="Clean Maize 2023").click()
    expect(page.get_by_text("On the headland")).to_be_visible()
    before = page.get_by_text("On the headland").text_content()
    slider = page.get_by_role("slider", name="Headland")
    slider.focus()
    for _ in range(8):
        page.keyboard.press("ArrowRight")
    expect(page.get_by_text("On the headland")).not_to_have_text(before or "")
    page.get_by_role("button", name="Back to the usual rules").click()
    expect(page.get_by_text("On the headland")).to_have_text(before or "")

    plan = page.get_by_role("slider", name="Points of the layer")
    plan.focus()
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("ArrowRight")
    expect(plan).not_to_have_attribute("aria-valuetext", "No point chosen")
    page.get_by_role("button", name="Draw around points").click()
    plan.scroll_into_view_if_needed()
    draw(page, "Points of the layer", (250, 250), (330, 250), (330, 330), (250, 330))
    page.get_by_role("button", name="Leave out all inside").click()
    expect(page.get_by_text("Left out by hand")).to_be_visible()
    page.get_by_role("button", name="Make the layer again").click()
    expect(page.get_by_role("heading", name="Best spots in")).to_be_visible()
    page.get_by_role("link", name="Clean Maize 2023").click()
    expect(page.get_by_text("Left out by hand")).to_be_visible()
    page.get_by_role("button", name="choices by hand").click()
    expect(page.get_by_text("Left out by hand")).to_have_count(0)
    page.get_by_role("button", name="Make the layer again").click()
    expect(page.get_by_role("heading", name="Best spots in")).to_be_visible()


def test_a_spot_from_its_core_to_its_checks(at_board: Page) -> None:
    page = at_board
    open_siting(page)
    page.get_by_role("button", name="Choose this spot").click()
    page.get_by_label("Reason").fill("even all around")
    page.get_by_role("button", name="Save spot").click()
    page.get_by_role("link", name="Open Spot 1").click()
    expect(page.get_by_role("heading", name="Soil core")).to_be_visible()
    page.emulate_media(media="print")
    expect(page.get_by_text("Buried services located and marked")).to_be_visible()
    for pressed in ("Print", "Record a core", "Emergency stop"):
        expect(page.get_by_role("button", name=pressed)).to_have_count(0)
    page.emulate_media(media="screen")

    page.get_by_role("button", name="Record a core").click()
    day = page.get_by_label("Core taken on").first
    day.fill("10 Jul 2026")
    day.press("Tab")
    page.get_by_label("Down to").nth(0).fill("30")
    page.get_by_label("Texture").nth(0).select_option("silt loam")
    page.get_by_label("Down to").nth(1).fill("120")
    page.get_by_role("button", name="Save core").click()
    expect(page.get_by_text("Seen in the core of 10 Jul 2026")).to_be_visible()
    expect(page.get_by_text("30–120 cm loam")).to_be_visible()

    page.get_by_label("Name of the instrument").fill("Probe L5")
    page.get_by_role("button", name="Add instrument").click()
    expect(page.get_by_text("It settles until")).to_be_visible()
    page.get_by_role("button", name="Record a check").click()
    page.get_by_label("Water content at 10 cm").fill("24")
    page.get_by_role("button", name="Save check").click()
    expect(page.get_by_role("cell", name="24.0 %")).to_be_visible()
    expect(page.get_by_role("cell", name="no reading")).to_be_visible()

    expect(page.get_by_role("cell", name="Probe L1, Long Tye")).to_be_visible()
    page.get_by_label("Decision").select_option("Keep it here")
    page.get_by_label("Reason").fill("it has only settled")
    page.get_by_role("button", name="Save decision").click()
    expect(page.get_by_text("it has only settled")).to_be_visible()
    open_farm_page(page, "Siting")
    expect(page.get_by_role("cell", name="Settles until")).to_be_visible()


def test_a_spot_is_found_without_a_signal(browser: Browser, base_url: str) -> None:
    """All that the page needs is in its address, and the application is on the phone already."""
    phone = browser.new_context(
        viewport=PHONE, locale="en-GB", base_url=base_url, service_workers="allow"
    )
    phone.grant_permissions(["geolocation"])
    phone.set_geolocation({"latitude": 56.404584, "longitude": 3.053152, "accuracy": 6})
    page = phone.new_page()
    page.goto("/")
    page.get_by_role("button", name="Sign in as the demo manager").click()
    expect(page.get_by_role("link", name="Rounds")).to_be_visible()
    page.wait_for_function("() => navigator.serviceWorker.ready.then(() => true)")
    page.reload()
    page.wait_for_function("() => navigator.serviceWorker.controller !== null")
    page.wait_for_load_state("networkidle")
    page.close()

    phone.set_offline(True)
    page = phone.new_page()
    where = f"latitude={SPOT['latitude']}&longitude={SPOT['longitude']}&name=Long+Tye"
    page.goto(f"/thistlewick/find-spot?{where}")
    # A thousandth of a degree less 0.0001 to the north: 100 m.
    expect(page.get_by_text("100 m")).to_be_visible()
    phone.set_geolocation({**SPOT, "accuracy": 4})
    expect(page.get_by_text("It is here")).to_be_visible()
    phone.close()
