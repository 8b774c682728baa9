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
from server.write_texts import accented
from tests.browser.conftest import ACTION_MS, send, sign_in

AXE = (Path(__file__).parents[2] / "web/node_modules/axe-core/axe.min.js").read_text()
# Colours that pass into each other would be looked at halfway.
AT_ONCE = """() => {
  const sheet = new CSSStyleSheet();
  const still = "transition: none !important; animation: none !important";
  sheet.replaceSync(`*, *::before, *::after { ${still} }`);
  document.adoptedStyleSheets = [...document.adoptedStyleSheets, sheet];
}"""
WIDE, PHONE = {"width": 1280, "height": 800}, {"width": 390, "height": 844}
# What a keyboard can't reach, what can't be told by its name, what can't be read: WCAG 2.2 AA.
STANDARD = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
FARM = "/thistlewick"
VIEWS = {
    "board": FARM,
    "block": f"{FARM}/blocks/{{block}}",
    "rice field": f"{FARM}/blocks/{{rice}}",
    "vineyard": f"{FARM}/blocks/{{vines}}",
    "hay field": f"{FARM}/blocks/{{hay}}",
    "limits": f"{FARM}/blocks/{{block}}/limits",
    "seasons": f"{FARM}/blocks/{{block}}/seasons",
    "past advice": f"{FARM}/blocks/{{block}}/history",
    "readings": f"{FARM}/blocks/{{block}}/readings",
    "set-up": f"{FARM}/blocks/{{block}}/setup",
    "catch cans": f"{FARM}/blocks/{{block}}/catch-cans",
    "new block": f"{FARM}/new-block",
    "run sheet": f"{FARM}/irrigation/run-sheet",
    "jobs": f"{FARM}/irrigation/jobs",
    "valves": f"{FARM}/irrigation/valves",
    "log": f"{FARM}/irrigation/log",
    "weather": f"{FARM}/irrigation/weather",
    "daily summary": f"{FARM}/irrigation/summary",
    "blocks": f"{FARM}/farm/blocks",
    "map": f"{FARM}/farm/map",
    "water supply": f"{FARM}/farm/water-supply",
    "soils": f"{FARM}/farm/soils",
    "soil": f"{FARM}/farm/soils/{{soil}}",
    "crops": f"{FARM}/farm/crops",
    "crop": f"{FARM}/farm/crops/maize-grain",
    "instruments": f"{FARM}/farm/instruments",
    "instrument": f"{FARM}/instruments/{{instrument}}",
    "calibration": f"{FARM}/instruments/{{instrument}}/calibration",
    "loggers": f"{FARM}/farm/loggers",
    "siting": f"{FARM}/farm/siting",
    "siting of a block": f"{FARM}/blocks/{{surveyed}}/siting",
    "points of a layer": f"{FARM}/blocks/{{surveyed}}/siting/layers/{{layer}}",
    "spot": f"{FARM}/spots/{{spot}}",
    "kind of instrument": f"{FARM}/blocks/{{block}}/instrument-choice",
    "layer file": f"{FARM}/layer-files/{{layer_file}}",
    "people": f"{FARM}/farm/people",
    "change history": f"{FARM}/farm/change-history",
    "files": f"{FARM}/farm/files",
    "data received": f"{FARM}/farm/data-received",
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
    layer_files = ask.get(f"{base_url}/api/farms/thistlewick/layer-files").json()
    block = next(r["id"] for r in board if r["name"] == "Quern Field")
    surveyed = next(r["id"] for r in board if r["name"] == "Long Tye")
    siting = ask.get(f"{base_url}/api/farms/thistlewick/blocks/{surveyed}/siting").json()
    page_of = ask.get(f"{base_url}/api/farms/thistlewick/blocks/{block}").json()
    numbers = {
        "block": block,
        "rice": next(r["id"] for r in board if r["name"] == "Reed Carr"),
        "vines": next(r["id"] for r in board if r["name"] == "Wick Terrace"),
        "hay": next(r["id"] for r in board if r["name"] == "Sallow Bank"),
        "surveyed": surveyed,
        "layer": siting["layers"][0]["id"],
        "spot": spot_with_a_probe(signed_in, base_url, surveyed, siting["spots"][0]["position"]),
        "layer_file": layer_files[0]["id"],
        "soil": soils[0]["id"],
        "instrument": page_of["instruments"][0]["id"],
        "round": rounds["rounds"][0]["id"],
        "invitation": send(signed_in, base_url, "POST", "/api/farms/thistlewick/people", NEW)[
            "token"
        ],
    }
    return {view: base_url + path.format(**numbers) for view, path in VIEWS.items()}


def spot_with_a_probe(
    context: BrowserContext, base_url: str, block: int, position: list[float]
) -> int:
    """A chosen spot at which a probe was put in just now."""
    farm, (longitude, latitude) = "/api/farms/thistlewick", position
    body = {"longitude": longitude, "latitude": latitude, "name": "Spot 7", "why": "even"}
    spot = send(context, base_url, "POST", f"{farm}/blocks/{block}/siting/spots", body)
    probe = {"label": "Probe L7", "kind": "capacitance_probe", "depths_mm": [100, 300]}
    send(context, base_url, "POST", f"{farm}/probe-spots/{spot['id']}/instrument", probe)
    return int(spot["id"])


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
        if size is WIDE:
            # Another theme changes colours alone, whatever the width.
            page.evaluate("document.documentElement.classList.add('dark')")
            told += [f"dark, {x}" for x in barriers(page, "color-contrast")]
            page.evaluate("document.documentElement.classList.remove('dark')")
        if told:
            found[str(size["width"])] = told
    assert found == {}, json.dumps(found, indent=1)


# Words that are the same in every language: symbols, units, names of methods and of files.
SYMBOLS = frozenset(
    (
        *(
            "kPa",
            "MPa",
            "kWh",
            "ETc",
            "ETo",
            "ETr",
            "TAW",
            "RAW",
            "Kcb",
            "TEW",
            "few",
            "ECe",
            "ECw",
        ),
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


# What people named or wrote, crops, and where a figure comes from: a name or a source stands as it
# is in every language.
NAMED = {
    *(
        "name",
        "label",
        "serial",
        "site",
        "sites",
        "note",
        "reason",
        "block",
        "blocks",
        "crop",
        "soil",
    ),
    *("farm", "supply", "irrigator", "about", "by", "made_by", "undone_by", "file_name", "sender"),
    *("email", "time_zone", "key", "source", "sources", "ahead_source", "et_method", "symbol"),
    *("formula", "result", "left_out", "machines", "currency", "valve", "controller"),
    *("not_confirmed", "out_of_contact"),
}


def words_of(data: Any, named: bool = False) -> Iterator[str]:
    """Words of the names in an answer of the API; its other texts are the catalogue's."""
    if isinstance(data, str) and named:
        yield from (w.lower() for w in WORD.findall(data))
    elif isinstance(data, dict):
        for key, value in data.items():
            yield from words_of(value, key in NAMED or (named and isinstance(value, str)))
    elif isinstance(data, list):
        for value in data:
            yield from words_of(value, named)


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


class Reader:
    """Reads pages in accented English, and knows the names that are in what they fetched."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.words = {w.lower() for w in SYMBOLS | calendar(page)}
        self.answers: list[Response] = []
        page.on("response", self._hear)

    def _hear(self, answer: Response) -> None:
        self.answers.append(answer)

    def allowed(self) -> set[str]:
        """Words that may be plain. Answers are read here and not as they come: a handler's own
        question to the browser may still be open when the page is read."""
        for answer in self.answers:
            # What the browser had is said to be unchanged, without its type.
            if "/api/" in answer.url and "json" in answer.headers.get("content-type", "json"):
                self.words.update(words_of(answer.json()))
        self.answers.clear()
        return self.words

    def left_plain(self) -> set[str]:
        """Texts that are in no catalogue."""
        # What has a word of its own in the vocabulary is named by that, not as the API calls it.
        named = {word for words in vocabulary().values() for word in words.values()}
        shown = {text.strip() for text in self.page.evaluate(TEXTS)}
        allowed = self.allowed()
        return {
            text
            for text in shown
            if text in named or not {w.lower() for w in WORD.findall(text)} <= allowed
        }


@pytest.mark.parametrize("view", VIEWS)
def test_every_view(page: Page, addresses: dict[str, str], view: str, console: list[str]) -> None:
    """In accented English, a third longer: all of it is from the catalogue and has room, and
    nobody meets a barrier."""
    reader = Reader(page)
    opened(page, addresses[view], "en-XA")
    assert page.evaluate("document.documentElement.lang") == "en-XA"
    assert reader.left_plain() == set()
    no_barrier(page)


PERSON = "Maud Pellander"
# What opens over a view: the buttons to press, one after another.
DIALOGS = {
    "enter ET": ("board", ["Enter ET"]),
    "schedule all": ("board", ["Schedule all * due…"]),
    "person": ("board", [PERSON]),
    "adjust": ("block", ["Adjust…"]),
    "skip": ("block", ["Skip…"]),
    "hold": ("block", ["Hold irrigation…"]),
    "what if": ("block", ["What if"]),
    "describe rice field": ("rice field", ["Edit rice field"]),
    "dry deeper": ("rice field", ["Allow drying to *"]),
    "round of leaves": ("vineyard", ["Enter a round"]),
    "steering": ("vineyard", ["Edit steering"]),
    "calendar of cuts": ("hay field", ["Edit calendar"]),
    "less water": ("block", ["Less water by plan…"]),
    "change limits": ("limits", ["Change limits"]),
    "source": ("water supply", ["Add source"]),
    "group": ("water supply", ["Add group"]),
    "tariff": ("water supply", ["Add tariff"]),
    "prices": ("water supply", ["Change"]),
    "new valve": ("valves", ["New valve"]),
    "new controller": ("valves", ["New controller"]),
    "log irrigation": ("log", ["Log irrigation"]),
    "correct": ("log", ["Correct"]),
    "weather day": ("weather", ["Enter a day"]),
    "station file": ("weather", ["Import station data"]),
    "new round": ("rounds", ["New round"]),
    "new logger": ("loggers", ["New logger"]),
    "new person": ("people", ["Add a person"]),
    "choose spot": ("siting of a block", ["Choose this spot"]),
    "distances": ("siting of a block", ["Change distances"]),
    "draw a zone": ("siting of a block", ["Draw an area"]),
    "draw around points": ("points of a layer", ["Draw around points"]),
    "core": ("spot", ["Record a core"]),
    "check by hand": ("spot", ["Record a check"]),
    "rain by year": ("siting", ["Enter rain"]),
    "soil survey": ("soils", ["Import soil survey…"]),
}


@pytest.mark.parametrize("dialog", DIALOGS)
def test_every_dialog(page: Page, addresses: dict[str, str], dialog: str) -> None:
    view, buttons = DIALOGS[dialog]
    reader = Reader(page)
    opened(page, addresses[view], "en-XA")
    for button in buttons:
        parts = [button] if button == PERSON else [accented(p) for p in button.split("*")]
        name = "\\S*".join(map(re.escape, parts))
        page.get_by_role("button", name=re.compile(name)).first.click()
        page.wait_for_load_state("networkidle")
    shown = page.locator("[role=dialog]:visible, [role=menu]:visible, section:visible")
    expect(shown.first).to_be_visible()
    assert reader.left_plain() == set()
    assert sticks_out(page) == ""
    page.evaluate(AXE)
    page.evaluate(AT_ONCE)
    assert barriers(page) == []


def test_an_error_is_said_in_the_language(
    page: Page, addresses: dict[str, str], base_url: str
) -> None:
    reader = Reader(page)
    opened(page, addresses["new block"], "en-XA")
    page.get_by_label(accented("Area")).fill("5")
    page.get_by_role("button", name=accented("Add block")).click()
    expect(page.get_by_text(accented("Enter a name for the block.")).first).to_be_visible()
    assert reader.left_plain() == set()


def test_accented_english_is_for_this_browser_alone(at_board: Page, base_url: str) -> None:
    at_board.goto(f"{base_url}{FARM}?language=en-XA")
    expect(at_board.get_by_role("link", name="Ɓóáŕð")).to_be_visible()
    at_board.goto(f"{base_url}{FARM}?language=en")
    expect(at_board.get_by_role("link", name="Board", exact=True)).to_be_visible()
