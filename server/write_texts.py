"""Writes the catalogue of the server's texts: its sentences, its vocabulary and its data files'.

`python -m server.write_texts`; with ``--check`` it fails when the catalogue is stale, with
``--compile`` it makes of every language's catalogue what the server reads.

What is written is accented English, a third longer, which proves that a text is in the catalogue
and has room. A language's own catalogue is a copy of it with texts of its own, beside it under
`locale/<language>`, and a line in the settings.
"""

import json
import re
import sys
from collections.abc import Iterator
from io import BytesIO
from math import ceil
from pathlib import Path
from typing import Any

from babel.messages.catalog import Catalog
from babel.messages.extract import extract, extract_from_dir
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po
from django.utils.translation.template import templatize

from core.instrument.trust import Doubt

ROOT = Path(__file__).resolve().parent.parent
CATALOGUE = ROOT / "server" / "locale" / "en_XA" / "LC_MESSAGES" / "django.po"
# Calls whose first arguments are texts; of `ngettext` one and many.
CALLS = {"sentence": None, "gettext": None, "gettext_noop": None, "ngettext": (1, 2)}
# Files of data and the keys in them whose values people read.
DATA = {
    "server/base/vocabulary.json": None,
    "core/quality/rules.json": {"name", "meaning", "likely", "source"},
    "core/diagnosis/causes.json": {"name", "seen", "check", "changes", "source"},
    "core/instrument/kinds.json": {"name", "lies", "install", "proof", "source"},
    "core/instrument/cautions.json": {"title", "text"},
    "core/instrument/feel.json": {"name", "hand"},
    "core/soil/by_hand.json": {"ask", "say"},
}
GROWTH_STAGES = "core/crop/growth_stages.json"
CROPS = "core/crop/catalogue.json"

# One text, or one and many.
Text = str | tuple[str, ...]

# As in the interface, see `web/src/language/pseudo.ts`.
ACCENTED = str.maketrans(
    "acdeghijklnorstuwyzABCDEGHIJKLNOPRSTUWYZ", "áçðéĝĥíĵķļñóŕšţúŵýžÁƁÇÐÉĜĤÍĴĶĻÑÓÞŔŠŢÚŴÝŽ"
)
# A placeholder is for the program, and stands as it is.
PLACEHOLDER = re.compile(r"(%\(\w+\)[ds]|%%|\{[^{}]*\})")
# A third longer, by the word.
LONGER = 0.34


def accented(text: str) -> str:
    """A text in accented English, its placeholders as they are."""

    def longer(word: re.Match[str]) -> str:
        more = ceil(len(word[0]) * LONGER) if len(word[0]) > 2 else 0
        return word[0].translate(ACCENTED) + "~" * more

    parts = PLACEHOLDER.split(text)
    return "".join(p if PLACEHOLDER.fullmatch(p) else re.sub("[A-Za-z]+", longer, p) for p in parts)


def _read_by_people(data: Any, keys: set[str] | None, read: bool = False) -> Iterator[str]:
    if isinstance(data, str) and (read or keys is None):
        yield data
    elif isinstance(data, list):
        for item in data:
            yield from _read_by_people(item, keys, read)
    elif isinstance(data, dict):
        for key, value in data.items():
            yield from _read_by_people(value, keys, keys is not None and key in keys)


def texts() -> dict[str, tuple[Text, set[str]]]:
    """Each text, or one and many, with the files that it stands in; by its first form."""
    found: dict[str, tuple[Text, set[str]]] = {}

    def add(text: Text, where: str) -> None:
        first = text if isinstance(text, str) else text[0]
        found.setdefault(first, (text, set()))[1].add(where)

    for folder in ("core", "server"):
        for name, _, text, _, _ in extract_from_dir(
            str(ROOT / folder), [("**.py", "python")], keywords=CALLS
        ):
            add(text, f"{folder}/{name}")
    for page in sorted((ROOT / "server").glob("*/templates/**/*.*")):
        source = BytesIO(templatize(page.read_text("utf-8")).encode())
        for _, text, _, _ in extract("python", source, keywords=CALLS):
            add(text, str(page.relative_to(ROOT)))
    for path, keys in DATA.items():
        for text in _read_by_people(json.loads((ROOT / path).read_text("utf-8")), keys):
            add(text, path)
    stages = json.loads((ROOT / GROWTH_STAGES).read_text("utf-8"))
    for rows in stages.values():
        for row in rows if isinstance(rows, list) else []:
            add(row[1], GROWTH_STAGES)
    for doubt in filter(None, Doubt):
        add(str(doubt), "core/instrument/trust.py")
    for crop in json.loads((ROOT / CROPS).read_text("utf-8"))["crops"].values():
        windows = crop.get("ky", {}).get("windows", [])
        calendar = crop["stage_days"].get("calendar")
        for text in (crop["group"], calendar, *(w["name"] for w in windows)):
            if text:
                add(text, CROPS)
    return found


def catalogue() -> bytes:
    """The catalogue of accented English as its file holds it."""
    out = Catalog(locale=None, project="Even Furrow", fuzzy=False, header_comment="")
    for _, (text, files) in sorted(texts().items()):
        several = isinstance(text, tuple)
        own = tuple(accented(t) for t in text) if several else accented(str(text))
        message = out.add(text, own, locations=[(f, 0) for f in sorted(files)])
        # "5 % of" is no placeholder.
        if "%(" not in (text[0] if several else text):
            message.flags.discard("python-format")
    written = BytesIO()
    write_po(written, out, width=0, omit_header=True, include_lineno=False)
    header = (
        'msgid ""\nmsgstr ""\n"Content-Type: text/plain; charset=utf-8\\n"\n'
        '"Plural-Forms: nplurals=2; plural=(n != 1);\\n"\n\n'
    )
    return header.encode() + written.getvalue()


def compile_all() -> None:
    """What the server reads, beside the catalogue of each language."""
    for path in (ROOT / "server" / "locale").glob("*/LC_MESSAGES/django.po"):
        with path.open("rb") as source, path.with_suffix(".mo").open("wb") as out:
            write_mo(out, read_po(source))


def main(option: str) -> int:
    if option == "--compile":
        compile_all()
        return 0
    now = catalogue()
    if option != "--check":
        CATALOGUE.parent.mkdir(parents=True, exist_ok=True)
        CATALOGUE.write_bytes(now)
    elif not CATALOGUE.exists() or CATALOGUE.read_bytes() != now:
        print("the server's catalogue is stale: run './furrow texts'", file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    raise SystemExit(main(sys.argv[1] if len(sys.argv) > 1 else ""))
