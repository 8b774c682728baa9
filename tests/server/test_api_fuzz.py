"""Every operation of the API, fed by its own description: an answer or a refusal, never a crash.

A slice of what `bench/bench_fuzz.py` sends to the running service.
"""

import json
import logging
import random
from collections.abc import Iterator
from functools import cache

import pytest
from django.test import Client
from schemathesis.schemas import APIOperation

from server.accounts.demo_people import demo_user
from server.accounts.models import User
from server.farms.models import Farm, Role
from tests.fuzz.addresses import odd_address
from tests.fuzz.bodies import mutated
from tests.fuzz.described import described, every_operation, name_of
from tests.fuzz.good import Good, good
from tests.fuzz.request import Request, filled
from tests.server.minimal import body_of

# Signing out would end the session that the rest is asked with.
NOT_ASKED = {"sign_out"}
# Each a test with a name of its own: tests are given out to the workers by their names.
OPERATIONS = [o for o in every_operation() if name_of(o) not in NOT_ASKED]
DESCRIBED, BODIES, ADDRESSES = 3, 4, 2


@pytest.fixture
def client(farm: Farm) -> Iterator[Client]:
    user: User | None = demo_user(Role.MANAGER)
    assert user is not None
    client = Client(raise_request_exception=False)
    client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
    # Refusals by the hundred are what is asked for here.
    logging.disable(logging.ERROR)
    yield client
    logging.disable(logging.NOTSET)


@cache
def _known(farm: Farm) -> Good:
    """The demo is the same for every test, and takes hundreds of questions to know."""
    return good(farm)


def _requests(operation: APIOperation, farm: Farm) -> Iterator[Request]:
    chance = random.Random(name_of(operation))
    known = _known(farm)
    keys = known.keys
    yield from described(operation, keys, DESCRIBED)
    raw = operation.definition.raw
    method, path = operation.method.upper(), operation.path
    for _ in range(ADDRESSES):
        values = {k: v[0] for k, v in keys.items() if f"{{{k}}}" in path}
        yield odd_address(method.lower(), path, raw, values, chance)
    for number in range(BODIES):
        kind, body = body_of(raw, whole=number % 2 == 0)
        if kind == "application/json":
            body = known.body(name_of(operation), number) or body
            values = {k: chance.choice(v) for k, v in keys.items()}
            text = mutated(body, chance) if number else json.dumps(body)
            yield Request("body", method, filled(path, values), text.encode(), kind)


@pytest.mark.parametrize("operation", OPERATIONS, ids=lambda o: o.label)
def test_no_request_breaks_the_server(operation: APIOperation, client: Client, farm: Farm) -> None:
    for request in _requests(operation, farm):
        ask(request, client)


def ask(request: Request, client: Client) -> None:
    """Ask one thing; the answer is one, or a refusal in words."""
    # What is answered should be readable here.
    headers = {k: v for k, v in request.headers_sent().items() if k != "Accept-Encoding"}
    answer = client.generic(
        request.method,
        request.path,
        request.body,
        content_type=headers.pop("Content-Type", request.content_type),
        headers=headers,
    )
    assert answer.status_code < 500, (answer.status_code, str(request))
    kind = answer.headers.get("Content-Type", "")
    if answer.status_code >= 400 and kind.startswith("application/json"):
        assert json.loads(answer.content)["message"]
