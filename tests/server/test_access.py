"""Farms are closed to one another, roles to what is not theirs."""

from collections import Counter
from enum import Enum
from typing import Any

import pytest
from ninja import Schema

from server.api import api
from server.blocks.models import Block
from server.farms.models import Farm, Role
from server.farms.rules import ALLOWED, Action, may
from server.farms.scope import UnscopedQuery
from server.instruments.models import Channel, Instrument
from server.readings.models import Reading
from tests.server.conftest import Api, new_block


def test_a_query_without_a_farm_fails_loudly(farm: Farm) -> None:
    for model in (Block, Instrument, Channel, Reading):
        with pytest.raises(UnscopedQuery, match="for_farm"):
            model.objects.all()
        with pytest.raises(UnscopedQuery):
            model.objects.filter(pk=1).exists()
    assert Block.objects.for_farm(farm).count() == 12


def test_another_farms_manager_sees_nothing(stranger: Api, farm: Farm, block: Block) -> None:
    instrument = block.instruments.get()
    channel = instrument.channels.first()
    here = f"/farms/{farm.slug}"
    slugs = [f["slug"] for f in stranger.get("/session")["farms"]]
    assert slugs == ["barrow"]
    for path in (
        "/board",
        f"/blocks/{block.pk}",
        f"/blocks/{block.pk}/series",
        f"/blocks/{block.pk}/setup",
        f"/instruments/{instrument.pk}/last",
    ):
        stranger.get(here + path, status=404)
        # Nor through his own farm's address.
        if path != "/board":
            stranger.get("/farms/barrow" + path, status=404)
    for slug in (farm.slug, "barrow"):
        base = f"/farms/{slug}"
        stranger.put(f"{base}/blocks/{block.pk}/setup", new_block(), status=404)
        stranger.patch(f"{base}/channels/{channel.pk}", {"suspect": True}, status=404)
        stranger.post(
            f"{base}/blocks/{block.pk}/instruments",
            {"label": "X", "kind": "tensiometer", "depths_mm": [300]},
            status=404,
        )
        stranger.post(
            f"{base}/instruments/{instrument.pk}/readings",
            {
                "time": "2026-07-14T05:00",
                "unit": "%",
                "values": [{"channel_id": channel.pk, "value": 20}],
            },
            status=404,
        )
        stranger.upload(
            f"{base}/imports",
            "a.csv",
            b"time,10 cm\n2026-07-14 05:00,20\n",
            status=404,
            instrument_id=instrument.pk,
        )
    assert stranger.get("/farms/barrow/board")["rows"] == []
    channel.refresh_from_db()
    assert not channel.suspect


def test_a_farm_that_is_not_his_reads_as_one_that_is_not_there(stranger: Api, farm: Farm) -> None:
    theirs = stranger.get(f"/farms/{farm.slug}/board", status=404)
    nowhere = stranger.get("/farms/no-such-farm/board", status=404)
    assert theirs == nowhere


@pytest.mark.parametrize("role", list(Role))
def test_roles(role: Role, as_role: Any, block: Block) -> None:
    person: Api = as_role(role)
    base = "/farms/thistlewick"
    assert len(person.get(f"{base}/board")["rows"]) == 12
    granted = set(person.get("/session")["farms"][0]["may"])
    assert granted == {str(a) for a in ALLOWED[role]}

    set_up = 201 if may(role, Action.SET_UP_GROUND) else 403
    person.post(f"{base}/blocks", new_block(), status=set_up)
    states = 200 if may(role, Action.ENTER_ET) else 403
    person.put(f"{base}/stated-et", {"low": 4, "expected": 5, "high": 6}, status=states)
    records = 200 if may(role, Action.RECORD_READINGS) else 403
    channel = block.instruments.get().channels.first()
    person.patch(f"{base}/channels/{channel.pk}", {"suspect": True}, status=records)


def test_refusal_tells_the_role_and_the_way_out(as_role: Any) -> None:
    answer = as_role(Role.VIEWER).post("/farms/thistlewick/blocks", new_block(), status=403)
    assert answer["message"].startswith("As viewer you can't set up blocks")
    assert "manager" in answer["message"]


def test_who_changed_what_is_kept(manager: Api, block: Block) -> None:
    channel = block.instruments.get().channels.first()
    manager.patch(f"/farms/thistlewick/channels/{channel.pk}", {"suspect": True})
    last = channel.history.first()
    assert last.suspect is True
    assert last.history_user.email == "maud@thistlewick.example"


def test_no_two_schemas_share_a_name() -> None:
    """In the API's description the later one would silently stand for both."""

    def below(cls: type) -> list[type]:
        return [c for sub in cls.__subclasses__() for c in (sub, *below(sub))]

    ours = {c for c in below(Schema) + below(Enum) if c.__module__.startswith(("server.", "core."))}
    names = Counter(c.__name__ for c in ours)
    assert [n for n, count in names.items() if count > 1] == []


def test_every_endpoint_declares_its_refusals() -> None:
    schema = api.get_openapi_schema(path_prefix="/api/")
    for path, methods in schema["paths"].items():
        for method, operation in methods.items():
            # A device is known by its token alone: there is no role and no farm to miss.
            by_token = path.startswith(("/api/ingest", "/api/controller"))
            own = {401} if by_token else {401, 403, 404, 422}
            assert own <= {int(s) for s in operation["responses"]}, (path, method)
