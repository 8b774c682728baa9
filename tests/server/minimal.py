"""The smallest request that an operation's own description allows."""

import json
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[2]
DESCRIPTION = json.loads((ROOT / "server" / "openapi.json").read_text())
FORMATS = {
    "date-time": "2026-07-14T05:00:00+02:00",
    "date": "2026-07-14",
    "uuid": "6f2c1f0e-5d0b-4a6e-9a52-0d7c0f6d7c11",
    "email": "somebody@example.org",
    "binary": "a file",
}


def _resolved(schema: dict[str, Any]) -> dict[str, Any]:
    while "$ref" in schema:
        found: Any = DESCRIPTION
        for part in schema["$ref"].removeprefix("#/").split("/"):
            found = found[part]
        schema = found
    return schema


def example(schema: dict[str, Any], *, whole: bool = False) -> Any:
    """The smallest value of a schema: what is optional is left out, unless the whole is wanted."""
    schema = _resolved(schema)
    for key in ("const", "default"):
        if key in schema and schema[key] is not None and not (whole and key == "default"):
            return schema[key]
    if "enum" in schema:
        return schema["enum"][0]
    for key in ("anyOf", "oneOf", "allOf"):
        if key in schema:
            chosen = [s for s in schema[key] if _resolved(s).get("type") != "null"]
            return example(chosen[0], whole=whole)
    kind = schema.get("type", "object")
    if kind == "object":
        return {
            name: example(inner, whole=whole)
            for name, inner in schema.get("properties", {}).items()
            if whole or name in schema.get("required", [])
        }
    if kind == "array":
        items = schema.get("prefixItems") or [schema.get("items", {"type": "string"})]
        return [example(s, whole=whole) for s in items] * max(schema.get("minItems", 1), 1)
    if kind in ("integer", "number"):
        low = schema.get("minimum", schema.get("exclusiveMinimum", 0))
        high = schema.get("maximum", schema.get("exclusiveMaximum", low + 2))
        if kind == "integer":
            return int(low) + ("exclusiveMinimum" in schema)
        return low if "minimum" in schema else (low + high) / 2
    if kind == "boolean":
        return False
    if kind == "null":
        return None
    text = FORMATS.get(schema.get("format", ""), "a")
    return text.ljust(schema.get("minLength", 0), "a")


def operations() -> list[tuple[str, str, dict[str, Any]]]:
    """Method, path and description of every operation, as the file has them."""
    return [
        (method, path, operation)
        for path, methods in DESCRIPTION["paths"].items()
        for method, operation in methods.items()
    ]


def body_of(operation: dict[str, Any], *, whole: bool = False) -> tuple[str, Any]:
    """Content type and content; two empty ones where there is none."""
    content = operation.get("requestBody", {}).get("content", {})
    for kind in ("application/json", "multipart/form-data", "text/csv"):
        if kind in content:
            return kind, example(content[kind]["schema"], whole=whole)
    return "", None


def query_of(operation: dict[str, Any]) -> dict[str, Any]:
    """The query that must be there."""
    return {
        p["name"]: example(p["schema"])
        for p in operation.get("parameters", [])
        if p["in"] == "query" and p.get("required")
    }
