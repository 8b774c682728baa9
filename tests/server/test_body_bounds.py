"""Every list and every text that a body may hold has an end."""

from typing import Any

import pytest

from tests.server.minimal import DESCRIPTION, operations

# Read by its own reader, which counts before it parses; held by tests/server/test_ingest.py.
OF_ITS_OWN = {"ingest"}
BODIES = [
    pytest.param(schema, id=operation["operationId"])
    for _, _, operation in operations()
    if operation["operationId"] not in OF_ITS_OWN
    for kind, content in operation.get("requestBody", {}).get("content", {}).items()
    if kind == "application/json"
    for schema in [content["schema"]]
]
ENDS = {
    "array": ("maxItems",),
    "string": ("maxLength", "format", "enum", "const", "pattern"),
}


def unbounded(schema: dict[str, Any], path: str = "") -> list[str]:
    if "$ref" in schema:
        name = schema["$ref"].rpartition("/")[2]
        return unbounded(DESCRIPTION["components"]["schemas"][name], path)
    found = []
    kind = schema.get("type", "")
    if kind in ENDS and not any(end in schema for end in ENDS[kind]):
        found.append(f"{path or 'body'}: {kind}")
    for key in ("anyOf", "oneOf", "allOf"):
        for one in schema.get(key, []):
            found += unbounded(one, path)
    if kind == "array":
        for one in [*schema.get("prefixItems", []), schema.get("items", {})]:
            found += unbounded(one, f"{path}[]")
    for name, one in schema.get("properties", {}).items():
        found += unbounded(one, f"{path}.{name}")
    return found


@pytest.mark.parametrize("schema", BODIES)
def test_nothing_in_a_body_is_endless(schema: dict[str, Any]) -> None:
    assert unbounded(schema) == []
