"""Pages of this folder that are made from the sources: `./furrow docs` writes them, ``--check``
fails where one is stale."""

import sys

from docs.constants_page import CONSTANTS, constants_page
from docs.notices_page import NOTICES, notices_page

PAGES = {CONSTANTS: constants_page, NOTICES: notices_page}


def main(check: bool) -> int:
    stale = []
    for path, page in PAGES.items():
        text = page()
        if not check:
            path.write_text(text, "utf-8")
        elif not path.exists() or path.read_text("utf-8") != text:
            stale.append(path.name)
    if stale:
        print(f"stale in docs: {', '.join(stale)}; run './furrow docs'", file=sys.stderr)
    return 1 if stale else 0


if __name__ == "__main__":
    raise SystemExit(main("--check" in sys.argv))
