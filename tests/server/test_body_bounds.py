"""Every list and every text that a body may hold has an end, and every number is finite."""

import json
from typing import Any, get_args

import pytest
from pydantic import BaseModel

from server.api import api
from server.base.schema import Body, Schema
from tests.fuzz.good import CROP
from tests.server.conftest import Api
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


def models_of(annotation: Any) -> set[type[BaseModel]]:
    """What a request is read into, with all that it holds."""
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        held = {m for f in annotation.model_fields.values() for m in models_of(f.annotation)}
        return {annotation} | held
    return {m for part in get_args(annotation) for m in models_of(part)}


def test_no_body_takes_a_number_that_is_not_finite() -> None:
    read = {
        model
        for _, router in api._routers
        for view in router.path_operations.values()
        for operation in view.operations
        for params in operation.models
        for model in models_of(params)
    }
    ours = {m for m in read if issubclass(m, Schema)}
    assert len(ours) > 40
    assert [m.__name__ for m in ours if not issubclass(m, Body)] == []


@pytest.mark.parametrize("number", ["-Infinity", "NaN", "1e999", '"inf"', '"nan"'])
def test_a_number_that_is_not_finite_is_refused_where_it_stands(manager: Api, number: str) -> None:
    body = json.dumps({**CROP, "degree_days": {**CROP["degree_days"], "base_c": 7.25}})
    sent = body.replace("7.25", number)
    answer = manager.client.post(
        "/api/farms/thistlewick/crops", sent, content_type="application/json"
    )
    assert answer.status_code == 422
    assert answer.json()["problems"][0]["field"] == "degree_days.base_c"
