"""Requests that schemathesis makes of an operation's description, and of what it excludes."""

from collections.abc import Iterator
from typing import Any

import requests
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis.errors import Unsatisfiable
from schemathesis import GenerationMode
from schemathesis.schemas import APIOperation

from tests.fuzz.request import Request
from tests.server.minimal import DESCRIPTION

# The asker's own; and what is answered should be readable here.
_LEFT_OUT = ("content-length", "accept-encoding", "cookie", "authorization")


def every_operation() -> list[APIOperation]:
    found = schemathesis.openapi.from_dict(DESCRIPTION).get_all_operations()
    return [f.ok() for f in found]


def name_of(operation: APIOperation) -> str:
    name: str = operation.definition.raw["operationId"]
    return name


def described(operation: APIOperation, keys: dict[str, list[Any]], count: int) -> Iterator[Request]:
    """So many requests of each sort, or fewer where there is not as much to say.

    Parameters
    ----------
    keys : keys of things that exist; they stand in every other path, so that what is behind them
        is reached
    """
    for mode in (GenerationMode.POSITIVE, GenerationMode.NEGATIVE):
        for number, case in enumerate(_cases(operation, mode, count)):
            path = case.path_parameters
            if path:
                if "slug" in path:
                    path["slug"] = keys["slug"][0]
                for key in path:
                    if key in keys and number % 2:
                        path[key] = keys[key][number % len(keys[key])]
            if (request := _request(case)) is not None:
                yield request


def _cases(operation: APIOperation, mode: GenerationMode, count: int) -> list[schemathesis.Case]:
    cases: list[schemathesis.Case] = []
    try:
        strategy = operation.as_strategy(generation_mode=mode)

        @given(case=strategy)
        @settings(
            max_examples=count,
            deadline=None,
            database=None,
            derandomize=True,
            phases=[Phase.generate],
            suppress_health_check=list(HealthCheck),
        )
        def collect(case: schemathesis.Case) -> None:
            cases.append(case)

        collect()
    except Unsatisfiable:
        # There is nothing that its description excludes.
        pass
    return cases


def _request(case: schemathesis.Case) -> Request | None:
    """What goes over the wire; nothing where it could not."""
    try:
        sent = requests.Request(**case.as_transport_kwargs(base_url="http://testserver")).prepare()
    except (ValueError, requests.RequestException):
        return None
    headers = {k: v for k, v in sent.headers.items() if k.lower() not in _LEFT_OUT}
    kind = headers.pop("Content-Type", "application/json")
    body = sent.body or b""
    body = body.encode() if isinstance(body, str) else body
    path = (sent.url or "").removeprefix("http://testserver")
    of = "described"
    return Request(of, sent.method or "GET", path, body, kind, headers)
