"""Examples of what requests bring, put into the API's description."""

import json
from functools import cache
from pathlib import Path
from typing import Any

_FILE = Path(__file__).with_name("examples.json")


@cache
def examples() -> dict[str, Any]:
    """A body that is taken, by the operation's name."""
    found: dict[str, Any] = json.loads(_FILE.read_text("utf-8"))
    return found


def with_examples(description: dict[str, Any]) -> dict[str, Any]:
    """The description with each example beside the schema of its body.

    Raises
    ------
    KeyError
        When there is an example of an operation that does not exist.
    """
    operations = {
        o["operationId"]: o
        for path in description["paths"].values()
        for o in path.values()
        if "operationId" in o
    }
    for name, body in examples().items():
        operations[name]["requestBody"]["content"]["application/json"]["example"] = body
    return description
