"""Every link of the documents leads somewhere."""

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]
PAGES = [ROOT / "README.md", *sorted((ROOT / "docs").glob("*.md"))]
LINK = re.compile(r"\]\(([^)\s]+)\)")


def anchors(page: Path) -> set[str]:
    """The names of a page's headings, as they are linked to."""
    heads = re.findall(r"^#+ (.*)$", page.read_text("utf-8"), re.MULTILINE)
    return {re.sub(r"[^\w\- ]", "", h.lower()).replace(" ", "-") for h in heads}


@pytest.mark.parametrize("page", PAGES, ids=lambda p: p.name)
def test_links_lead_somewhere(page: Path) -> None:
    for link in LINK.findall(page.read_text("utf-8")):
        if link.startswith(("http:", "https:")):
            continue
        name, _, anchor = link.partition("#")
        target = page.parent / name if name else page
        assert target.exists(), link
        assert not anchor or anchor in anchors(target), link


def test_every_page_is_linked_to() -> None:
    text = "".join(p.read_text("utf-8") for p in PAGES)
    linked = {link.partition("#")[0].rpartition("/")[2] for link in LINK.findall(text)}
    assert {p.name for p in PAGES[1:]} - linked == set()
