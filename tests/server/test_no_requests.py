"""What is no request: refused as that, and no fault of ours."""

import json
from typing import Any

import pytest

from tests.server.conftest import Api

BASE = "/api/farms/thistlewick"
MANY = "&" * 2_000


@pytest.mark.parametrize(
    "kind", ["multipart/form-data", "multipart/form-data; boundary=" + "x" * 300]
)
def test_a_form_that_is_none(manager: Api, kind: str) -> None:
    answer = manager.client.post(f"{BASE}/map/import", b"a=b", content_type=kind)
    assert answer.status_code == 400
    assert "could not be read" in answer.json()["message"]


def test_more_parameters_than_any_request_has(manager: Api) -> None:
    assert manager.client.get(f"{BASE}/water?days=3{MANY}").status_code == 400


def test_a_request_that_none_can_be_made_of() -> None:
    """With a character set in its heading its parameters are read before there is a request."""
    from server.wsgi import application  # noqa: PLC0415 - as the web server does

    told: list[Any] = []
    environ = {
        "REQUEST_METHOD": "GET",
        "PATH_INFO": f"{BASE}/water",
        "QUERY_STRING": MANY,
        "CONTENT_TYPE": "application/json; charset=utf-7",
        "SERVER_NAME": "localhost",
        "SERVER_PORT": "80",
        "wsgi.url_scheme": "http",
    }
    body = b"".join(application(environ, lambda status, headers: told.append(status)))
    assert told == ["400 Bad Request"]
    assert "could not be read" in json.loads(body)["message"]
