"""The API's description: served with its viewer, and with examples that are taken as they stand."""

from typing import Any

import pytest
from django.test import Client

from server.blocks.models import Block
from server.farms.models import Farm
from server.instruments.models import Instrument
from server.reference.examples import examples, with_examples
from tests.server.conftest import Api

BASE = "/farms/thistlewick"


def test_anybody_may_read_how_to_call_it() -> None:
    reader = Client()
    page = reader.get("/api/docs")
    assert page.status_code == 200
    for part in ("swagger-ui.css", "swagger-ui-bundle.js", "start.js"):
        assert f"/api/docs/{part}" in page.content.decode()
        assert reader.get(f"/api/docs/{part}").status_code == 200
    described = reader.get("/api/openapi.json").json()
    ingest = described["paths"]["/api/ingest"]["post"]
    assert (
        ingest["summary"]
        == "A device's readings; good rows are stored, each once, bad ones are named"
    )
    assert described["paths"]["/api/session"]["post"]["summary"]
    body = described["paths"]["/api/ingest"]["post"]["requestBody"]["content"]
    assert body["application/json"]["example"] == examples()["ingest"]


def test_nothing_else_of_the_server_is_served_beside_it() -> None:
    for name in ("views.py", "..%2fviews.py", "redoc.standalone.js", "swagger-ui-init.js"):
        assert Client().get(f"/api/docs/{name}").status_code == 404, name


def test_an_example_of_no_operation_is_a_fault() -> None:
    with pytest.raises(KeyError, match="sign_in"):
        with_examples({"paths": {}})


def test_examples_are_taken(manager: Api, farm: Farm, block: Block) -> None:
    """Numbers of things are other ones here; all else as it stands."""
    example: dict[str, Any] = examples()
    made = manager.post(
        f"{BASE}/blocks/{block.pk}/instruments", example["add_instrument"], status=201
    )
    ids = [c["id"] for c in made["channels"]]
    hand = example["enter_readings"]
    values = [{**v, "channel_id": c} for v, c in zip(hand["values"], ids, strict=True)]
    manager.post(f"{BASE}/instruments/{made['id']}/readings", {**hand, "values": values})
    manager.post(f"{BASE}/blocks/{block.pk}/decisions", example["decide"], 201)
    manager.post(f"{BASE}/holds", {**example["add_holds"], "block_ids": [block.pk]}, 201)
    manager.put(f"{BASE}/rain/{farm.now().date()}", example["set_rain"])
    manager.post(f"{BASE}/blocks/{block.pk}/what-if", example["what_if"])


def test_the_example_of_a_batch_is_taken(manager: Api, farm: Farm) -> None:
    probe = Instrument.objects.for_farm(farm).get(label="Probe A1")
    channel = probe.channels.filter(quantity="theta").first()
    assert channel is not None
    body = {**examples()["add_device"], "instruments": [probe.pk]}
    token = manager.post(f"{BASE}/devices", body, 201)["token"]
    batch = examples()["ingest"]
    series = [{**s, "channel": channel.pk} for s in batch["series"]]
    answer = Client().post(
        "/api/ingest",
        {**batch, "series": series},
        content_type="application/json",
        headers={"Authorization": f"Bearer {token}"},
    )
    assert answer.status_code == 200, answer.content
    assert answer.json()["refused"] == []
