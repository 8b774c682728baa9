"""Every operation of the API, fed by its own description: an answer or a refusal, never a crash.

schemathesis makes the requests from the OpenAPI file; keys of things that exist stand in its
paths half of the time, so that what is behind them is reached.
"""

import json
import logging
from collections.abc import Iterator
from pathlib import Path

import pytest
import requests
import schemathesis
from django.test import Client
from hypothesis import HealthCheck, Phase, given, settings
from schemathesis.schemas import APIOperation

from server.accounts.models import User
from server.blocks.models import Block
from server.crops.models import FarmCrop
from server.demo.people import demo_user
from server.farms.models import Farm, Role
from server.fieldwork.models import Round
from server.instruments.models import Channel, Instrument
from server.maps.models import MapFeature
from server.readings.models import ReadingBatch
from server.soils.models import SoilProfile

ROOT = Path(__file__).resolve().parents[2]
DESCRIPTION = json.loads((ROOT / "server" / "openapi.json").read_text())
# Signing out would end the session that the rest is asked with.
NOT_ASKED = {"sign_out"}
# Each a test with a name of its own: tests are given out to the workers by their names.
OPERATIONS = [
    operation
    for found in schemathesis.openapi.from_dict(DESCRIPTION).get_all_operations()
    if (operation := found.ok()).definition.raw["operationId"] not in NOT_ASKED
]
EXISTING = {
    "block_id": Block,
    "instrument_id": Instrument,
    "channel_id": Channel,
    "soil_id": SoilProfile,
    "round_id": Round,
    "feature_id": MapFeature,
    "batch_id": ReadingBatch,
    "crop_id": FarmCrop,
}


@pytest.fixture
def keys(farm: Farm) -> dict[str, int]:
    return {
        name: model.objects.for_farm(farm).values_list("pk", flat=True).first() or 1
        for name, model in EXISTING.items()
    }


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


@pytest.mark.parametrize("operation", OPERATIONS, ids=lambda o: o.label)
def test_no_request_breaks_the_server(
    operation: APIOperation, client: Client, keys: dict[str, int]
) -> None:
    @given(case=operation.as_strategy())
    @settings(
        max_examples=6,
        deadline=None,
        derandomize=True,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    def asked(case: schemathesis.Case) -> None:
        ask(case, client, keys)

    asked()


def ask(case: schemathesis.Case, client: Client, keys: dict[str, int]) -> None:
    """Ask one thing; the answer is one, or a refusal in words."""
    path = case.path_parameters
    if path:
        if "slug" in path:
            path["slug"] = "thistlewick"
        for name, key in keys.items():
            if name in path and len(repr(case.body)) % 2 == 0:
                path[name] = key
    prepared = requests.Request(**case.as_transport_kwargs(base_url="http://testserver")).prepare()
    # The session is the test client's; what is answered should be readable here.
    left = ("content-length", "accept-encoding", "cookie", "authorization")
    headers = {k: v for k, v in prepared.headers.items() if k.lower() not in left}
    body = prepared.body or b""
    answer = client.generic(
        prepared.method or "GET",
        (prepared.url or "").removeprefix("http://testserver"),
        body.encode() if isinstance(body, str) else body,
        content_type=headers.pop("Content-Type", "application/json"),
        headers=headers,
    )
    assert answer.status_code < 500, (answer.status_code, prepared.method, prepared.url, body)
    if answer.status_code >= 400 and answer.headers.get("Content-Type", "").startswith(
        "application/json"
    ):
        assert json.loads(answer.content)["message"]
