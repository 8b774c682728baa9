"""Every view, wide and narrow, light and dark: no barrier that axe finds, nothing that sticks out,
and every text from the catalogue."""

import json
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, Response, expect

from server.base.vocabulary import vocabulary
from tests.browser.conftest import ACTION_MS, send, sign_in

AXE = (Path(__file__).parents[2] / "web/node_modules/axe-core/axe.min.js").read_text()
# Colours that pass into each other would be looked at halfway.
AT_ONCE = """() => {
  const sheet = new CSSStyleSheet();
  sheet.replaceSync("*, *::before, *::after { transition: none !important }");
  document.adoptedStyleSheets = [...document.adoptedStyleSheets, sheet];
}"""
WIDE, PHONE = {"width": 1280, "height": 800}, {"width": 390, "height": 844}
# What a keyboard can't reach, what can't be told by its name, what can't be read: WCAG 2.2 AA.
STANDARD = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
FARM = "/thistlewick"
VIEWS = {
    "board": FARM,
    "block": f"{FARM}/blocks/{{block}}",
    "limits": f"{FARM}/blocks/{{block}}/limits",
    "past advice": f"{FARM}/blocks/{{block}}/history",
    "readings": f"{FARM}/blocks/{{block}}/readings",
    "set-up": f"{FARM}/blocks/{{block}}/setup",
    "catch cans": f"{FARM}/blocks/{{block}}/catch-cans",
    "new block": f"{FARM}/new-block",
    "log": f"{FARM}/water/sets",
    "weather": f"{FARM}/water/weather",
    "daily summary": f"{FARM}/water/morning",
    "blocks": f"{FARM}/ground/blocks",
    "map": f"{FARM}/ground/map",
    "soils": f"{FARM}/ground/soils",
    "soil": f"{FARM}/ground/soils/{{soil}}",
    "crops": f"{FARM}/ground/crops",
    "crop": f"{FARM}/ground/crops/maize-grain",
    "instruments": f"{FARM}/ground/instruments",
    "instrument": f"{FARM}/instruments/{{instrument}}",
    "calibration": f"{FARM}/instruments/{{instrument}}/calibration",
    "loggers": f"{FARM}/ground/loggers",
    "people": f"{FARM}/ground/people",
    "change history": f"{FARM}/ground/changes",
    "files": f"{FARM}/ground/files",
    "data received": f"{FARM}/ground/arrivals",
    "rounds": f"{FARM}/rounds",
    "round": f"{FARM}/rounds/{{round}}",
    "join": "/join#{invitation}",
    "no such page": f"{FARM}/nowhere/at/all",
}


@pytest.fixture(scope="module")
def signed_in(
    browser: Browser, browser_context_args: dict[str, Any], base_url: str
) -> Iterator[BrowserContext]:
    """One browser for all views, so that scripts and fonts are fetched and compiled once."""
    context = browser.new_context(**browser_context_args)
    sign_in(context, base_url)
    yield context
    context.close()


@pytest.fixture
def page(signed_in: BrowserContext) -> Iterator[Page]:
    """A page of its own for each test."""
    made = signed_in.new_page()
    made.set_default_timeout(ACTION_MS)
    yield made
    made.close()


@pytest.fixture(scope="module")
def addresses(signed_in: BrowserContext, base_url: str) -> dict[str, str]:
    """Where each view is."""
    ask = signed_in.request
    board = ask.get(f"{base_url}/api/farms/thistlewick/board").json()["rows"]
    soils = ask.get(f"{base_url}/api/farms/thistlewick/soils").json()
    rounds = ask.get(f"{base_url}/api/farms/thistlewick/rounds").json()
    block = next(r["id"] for r in board if r["name"] == "Quern Field")
    page_of = ask.get(f"{base_url}/api/farms/thistlewick/blocks/{block}").json()
    numbers = {
        "block": block,
        "soil": soils[0]["id"],
        "instrument": page_of["instruments"][0]["id"],
        "round": rounds["rounds"][0]["id"],
        "invitation": send(signed_in, base_url, "POST", "/api/farms/thistlewick/people", NEW)[
            "token"
        ],
    }
    return {view: base_url + path.format(**numbers) for view, path in VIEWS.items()}


def opened(page: Page, where: str, language: str = "en") -> None:
    page_of, *fragment = where.split("#")
    page.goto("#".join([f"{page_of}?language={language}", *fragment]))
    page.wait_for_load_state("networkidle")
    expect(page.locator("h1, h2").first).to_be_visible()


def barriers(page: Page, *rules: str) -> list[str]:
    """What axe finds, by some rules or by all of the standard's: the rule and the first element
    that breaks it. One is on trial there: names may say more than what can be seen."""
    only = {"type": "rule", "values": rules} if rules else {"type": "tag", "values": STANDARD}
    found = page.evaluate(
        """async (only) => (await axe.run({runOnly: only, resultTypes: ["violations"],
               rules: {"label-content-name-mismatch": {enabled: false}}})).violations
           .map((v) => `${v.id}: ${v.nodes.length} × ${v.nodes[0].html.slice(0, 160)}`)""",
        only,
    )
    assert isinstance(found, list)
    return found


def sticks_out(page: Page) -> str:
    """What makes the page wider than the window; empty where nothing does."""
    found = page.evaluate(
        """() => {
          if (document.documentElement.scrollWidth <= window.innerWidth + 1) return "";
          const wide = [...document.querySelectorAll("main *, header *")].filter(
            (e) => e.getBoundingClientRect().right > window.innerWidth + 1);
          return wide.at(-1)?.outerHTML.slice(0, 200) ?? "something";
        }"""
    )
    return str(found)


@pytest.mark.parametrize("view", VIEWS)
def test_no_barrier(page: Page, addresses: dict[str, str], view: str, console: list[str]) -> None:
    opened(page, addresses[view])
    no_barrier(page)


def test_no_barrier_to_sign_in(
    browser: Browser, browser_context_args: dict[str, Any], base_url: str
) -> None:
    with browser.new_context(**browser_context_args) as stranger:
        page = stranger.new_page()
        opened(page, base_url)
        no_barrier(page)


def no_barrier(page: Page) -> None:
    """Wide and narrow, light and dark."""
    page.evaluate(AXE)
    page.evaluate(AT_ONCE)
    found: dict[str, list[str]] = {}
    for size in (WIDE, PHONE):
        page.set_viewport_size(size)
        page.wait_for_timeout(150)
        told = barriers(page)
        if wide := sticks_out(page):
            told.append(f"wider than the window: {wide}")
        # Another theme changes colours alone.
        page.evaluate("document.documentElement.classList.add('dark')")
        told += [f"dark, {x}" for x in barriers(page, "color-contrast")]
        page.evaluate("document.documentElement.classList.remove('dark')")
        if told:
            found[str(size["width"])] = told
    assert found == {}, json.dumps(found, indent=1)


# Words that are the same in every language: symbols, units, names of methods and of files.
SYMBOLS = frozenset(
    (
        *("kPa", "MPa", "ETc", "ETo", "ETr", "TAW", "RAW", "Kcb", "TEW", "few", "ECe", "ECw"),
        *(
            "CSV",
            "PDF",
            "JSON",
            "NaN",
            "UTC",
            "cbar",
            "bar",
            "kOhm",
            "gal",
            "gpm",
            "min",
            "psi",
            "day",
        ),
        *("dBm", "RMSE", "DUlq", "EPSG", "GeoJSON", "Shapefile", "Parquet", "Err", "Even"),
        *("Furrow", "Saxton", "Rawls", "Genuchten", "Rosetta", "Penman", "Monteith"),
        *("Hargreaves", "Christiansen"),
    )
)
# Comes by the link of an invitation.
NEW = {"name": "Hale Orrick", "email": "hale@orrick.example", "role": "viewer"}
WORD = re.compile(r"[A-Za-z]{3,}")
TEXTS = """() => {
  const found = new Set();
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  while (walker.nextNode()) {
    const tag = walker.currentNode.parentElement.tagName;
    if (!["SCRIPT", "STYLE", "CODE"].includes(tag)) found.add(walker.currentNode.data);
  }
  for (const element of document.querySelectorAll("[aria-label], [placeholder], [title]")) {
    for (const name of ["aria-label", "placeholder", "title"]) {
      if (element.getAttribute(name)) found.add(element.getAttribute(name));
    }
  }
  return [...found];
}"""


def words_of(data: Any) -> Iterator[str]:
    """Words of every text in an answer of the API: names, crops, stages are not the catalogue's."""
    if isinstance(data, str):
        yield from (w.lower() for w in WORD.findall(data))
    elif isinstance(data, dict):
        for value in data.values():
            yield from words_of(value)
    elif isinstance(data, list):
        for value in data:
            yield from words_of(value)


def calendar(page: Page) -> set[str]:
    """Names of days and months as the browser writes them."""
    written = page.evaluate(
        """() => [...Array(366).keys()].flatMap((k) => {
            const day = new Date(Date.UTC(2026, 0, 1 + k, 12));
            return ["short", "long"].map((size) => day.toLocaleDateString("en-GB",
                {weekday: size, month: size}));
        }).join(" ")"""
    )
    return set(WORD.findall(written))


@pytest.mark.parametrize("view", VIEWS)
def test_every_text_is_in_the_catalogue(
    page: Page, addresses: dict[str, str], view: str, console: list[str]
) -> None:
    allowed = {w.lower() for w in SYMBOLS | calendar(page)}

    def hear(answer: Response) -> None:
        if "/api/" in answer.url and "json" in answer.headers.get("content-type", ""):
            allowed.update(words_of(answer.json()))

    page.on("response", hear)
    opened(page, addresses[view], "en-XA")
    assert page.evaluate("document.documentElement.lang") == "en-XA"
    # What has a word of its own in the vocabulary is named by that, not as the API calls it.
    named = {word for words in vocabulary().values() for word in words.values()}
    left = {
        text.strip()
        for text in page.evaluate(TEXTS)
        if text.strip() in named or not {w.lower() for w in WORD.findall(text)} <= allowed
    }
    assert left == set()
    for size in (WIDE, PHONE):
        page.set_viewport_size(size)
        page.wait_for_timeout(150)
        assert sticks_out(page) == "", size


def test_accented_english_is_for_this_browser_alone(at_board: Page, base_url: str) -> None:
    at_board.goto(f"{base_url}{FARM}?language=en-XA")
    expect(at_board.get_by_role("link", name="Ɓóáŕð")).to_be_visible()
    at_board.goto(f"{base_url}{FARM}?language=en")
    expect(at_board.get_by_role("link", name="Board", exact=True)).to_be_visible()
