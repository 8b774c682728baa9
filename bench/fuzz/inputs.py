"""What is sent: each sort of bad input, as many as stated."""

import json
import random
from collections.abc import Iterator
from typing import Any

from bench.fuzz.farm import SLUG, FuzzedFarm
from tests.fuzz.addresses import odd_address
from tests.fuzz.batches import batches, packed
from tests.fuzz.bodies import mutated
from tests.fuzz.bombs import files as bombs
from tests.fuzz.described import described, every_operation, name_of
from tests.fuzz.files import FORMATS, broken, sent
from tests.fuzz.good import Good
from tests.fuzz.request import Request, filled
from tests.server.minimal import body_of, operations

EACH = {"described": 60, "body": 110, "address": 10, "ingest": 2_000, "file": 500}
# They would end the session that the rest is asked with; the demo's door has a test of its own.
NOT_ASKED = {"sign_out", "demo_sign_in"}


def described_inputs(keys: dict[str, list[Any]]) -> Iterator[tuple[str, Any]]:
    for operation in every_operation():
        name = name_of(operation)
        if name not in NOT_ASKED:
            for request in described(operation, keys, EACH["described"] // 2):
                yield name, request


def bodies(good: Good, chance: random.Random) -> Iterator[tuple[str, Any]]:
    """Bodies that are taken, and the smallest and largest of the description, with odd things
    in them."""
    for method, path, operation in operations():
        name = operation["operationId"]
        kind, _ = body_of(operation)
        if kind != "application/json" or name in NOT_ASKED | {"ingest"}:
            continue
        for number in range(EACH["body"]):
            body = good.body(name, number) if number % 3 else None
            if body is None:
                _, body = body_of(operation, whole=number % 2 == 0)
            values = {k: chance.choice(v) for k, v in good.keys.items()}
            # The first are as they should be.
            text = json.dumps(body) if number < 3 else mutated(body, chance)
            address = filled(path, values)
            yield name, Request("body", method.upper(), address, text.encode(), kind)


def addresses(keys: dict[str, list[Any]], chance: random.Random) -> Iterator[tuple[str, Any]]:
    for method, path, operation in operations():
        if operation["operationId"] in NOT_ASKED:
            continue
        for _ in range(EACH["address"]):
            values = {
                p["name"]: chance.choice(keys[p["name"]])
                for p in operation.get("parameters", [])
                if p["in"] == "path" and p["name"] in keys
            }
            yield operation["operationId"], odd_address(method, path, operation, values, chance)


def sent_batches(farm: FuzzedFarm, chance: random.Random) -> Iterator[tuple[str, Any]]:
    for request in batches(farm.tokens, farm.channels, EACH["ingest"], chance):
        yield "ingest", request
    for request in packed(farm.tokens[0]):
        yield "ingest", request


def files(instrument_id: int, chance: random.Random) -> Iterator[tuple[str, Any]]:
    for kind in FORMATS:
        yield kind.name, sent(kind, kind.good(), SLUG, instrument_id)
        for _ in range(EACH["file"]):
            yield kind.name, sent(kind, broken(kind, chance), SLUG, instrument_id)
    for kind, data in bombs():
        yield f"{kind.name}, bomb", sent(kind, data, SLUG, instrument_id)
