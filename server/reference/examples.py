"""The API's description made readable: what each operation does, and examples of what it takes."""

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


def _titled(operation: dict[str, Any]) -> str:
    """What it does in a line: the first sentence said of it, or its name in words."""
    first_line = str(operation.get("description", "")).split("\n\n")[0].replace("\n", " ")
    sentence = first_line.split(". ")[0].rstrip(".")
    return sentence or str(operation["operationId"]).replace("_", " ").capitalize()


def with_examples(description: dict[str, Any]) -> dict[str, Any]:
    """The description with a title for each operation, and each example beside its schema.

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
    for operation in operations.values():
        operation["summary"] = _titled(operation)
    for name, body in examples().items():
        operations[name]["requestBody"]["content"]["application/json"]["example"] = body
    return description
