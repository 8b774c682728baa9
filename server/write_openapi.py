"""Writes the API's description, from which the interface's types are generated.

`python -m server.write_openapi`; with ``--check`` it fails when the description is stale.
"""

import json
import sys

import django

from server.reference.examples import with_examples
from server.reference.views import DESCRIPTION


def main(check: bool) -> int:
    django.setup()
    from server.api import api  # noqa: PLC0415 - needs the settings

    described = with_examples(api.get_openapi_schema(path_prefix="/api/"))
    text = json.dumps(described, indent=1) + "\n"
    if not check:
        DESCRIPTION.write_text(text, "utf-8")
    elif not DESCRIPTION.exists() or DESCRIPTION.read_text("utf-8") != text:
        print("server/openapi.json is stale: run './furrow api'", file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    raise SystemExit(main("--check" in sys.argv))
