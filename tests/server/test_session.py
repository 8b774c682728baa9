"""Signing in and out, and what guards the door."""

import json
from typing import Any

import pytest
from django.contrib.auth.hashers import Argon2PasswordHasher
from django.test import Client, override_settings

from server.accounts.api import PASSED_ON
from server.accounts.models import User
from server.config import Config, DemoInTheOpen
from server.settings import CONFIG
from tests.server.conftest import Api

PASSWORD = "correct horse staple"


@pytest.fixture
def user(db: None) -> User:
    return User.objects.create_user("Nell@Example.org", "Nell Ashdown", PASSWORD)


def post(client: Client, path: str, body: object, token: str | None = None) -> tuple[int, dict]:
    headers = {"X-CSRFToken": token} if token else {}
    answer = client.post(
        f"/api{path}", json.dumps(body), content_type="application/json", headers=headers
    )
    return answer.status_code, answer.json()


def test_sign_in_and_out(user: User) -> None:
    client = Client()
    status, body = post(client, "/session", {"email": "nell@example.org ", "password": PASSWORD})
    assert status == 200
    assert body["person"]["name"] == "Nell Ashdown"
    assert body["farms"] == []
    assert client.delete("/api/session").json()["person"] is None
    assert client.get("/api/session").json()["person"] is None


def test_password_is_kept_by_argon2(user: User) -> None:
    assert user.password.startswith("argon2")


def test_wrong_password_says_nothing_of_which_was_wrong(user: User) -> None:
    client = Client()
    known = post(client, "/session", {"email": "nell@example.org", "password": "nope"})
    unknown = post(client, "/session", {"email": "who@example.org", "password": "nope"})
    assert known == unknown
    assert known[0] == 422


def test_cross_site_requests_are_refused(user: User) -> None:
    client = Client(enforce_csrf_checks=True)
    token = client.get("/api/session").json()["csrf_token"]
    body = {"email": "nell@example.org", "password": PASSWORD}
    assert post(client, "/session", body)[0] == 403
    status, session = post(client, "/session", body, token)
    assert status == 200
    change = client.patch("/api/me", '{"units": "us"}', content_type="application/json")
    assert change.status_code == 403
    headers = {"X-CSRFToken": session["csrf_token"]}
    change = client.patch(
        "/api/me", '{"units": "us"}', content_type="application/json", headers=headers
    )
    assert change.json()["person"]["units"] == "us"


def _with_demo(on: bool) -> Config:
    return Config(**{**CONFIG.__dict__, "demo": on})


def test_demo_door_opens_in_demo_mode_on_loopback_only(db: None) -> None:
    client = Client()
    with override_settings(CONFIG=_with_demo(False)):
        assert client.get("/api/session").json()["demo"] is False
        assert post(client, "/session/demo", {"role": "manager"})[0] == 404
    with override_settings(CONFIG=_with_demo(True)):
        far = Client(REMOTE_ADDR="192.0.2.7")
        assert far.get("/api/session").json()["demo"] is False
        assert post(far, "/session/demo", {"role": "manager"})[0] == 404
        assert client.get("/api/session").json()["demo"] is True
        status, body = post(client, "/session/demo", {"role": "scout"})
    assert status == 200
    assert body["farms"][0]["role"] == "scout"
    assert body["farms"][0]["simulated"] is True


def test_demo_people_have_no_password(db: None) -> None:
    for person in User.objects.filter(email__endswith="thistlewick.example"):
        assert not person.has_usable_password()


def test_preferences_are_kept_and_checked(manager: Api) -> None:
    manager.patch("/me", {"units": "us", "theme": "dark"})
    person = manager.get("/session")["person"]
    assert (person["units"], person["theme"]) == ("us", "dark")
    manager.patch("/me", {"units": "cubits"}, status=422)


def test_page_has_a_strict_policy_with_a_fresh_nonce(db: None) -> None:
    client = Client()
    pages = [client.get("/thistlewick/blocks/1") for _ in range(2)]
    policies = [p["Content-Security-Policy"] for p in pages]
    assert policies[0] != policies[1]
    assert "default-src 'none'" in policies[0]
    assert "script-src 'self'" in policies[0]
    assert "unsafe-inline" not in policies[0].replace("style-src-attr 'unsafe-inline'", "")
    nonce = policies[0].split("'nonce-")[1].split("'")[0]
    assert nonce in pages[0].content.decode()
    assert pages[0]["X-Frame-Options"] == "DENY"
    assert pages[0]["Cache-Control"].startswith("max-age=0, no-cache")


def test_nobody_gets_in_without_signing_in(db: None) -> None:
    answer = Client().get("/api/farms/thistlewick/board")
    assert answer.status_code == 401
    assert answer.json() == {"message": "You are not signed in.", "problems": []}


@pytest.mark.parametrize("header", PASSED_ON)
def test_the_demo_door_stays_shut_behind_a_proxy(db: None, header: str) -> None:
    """Its address is loopback's, whoever stands before it."""
    client = Client(**{header: "203.0.113.7"})
    with override_settings(CONFIG=_with_demo(True)):
        assert client.get("/api/session").json()["demo"] is False
        assert post(client, "/session/demo", {"role": "manager"})[0] == 404


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"secure": True}, "FURROW_SECURE is 1"),
        ({"allowed_hosts": ("localhost", "farm.example")}, "names farm.example"),
        ({"allowed_hosts": ("*",)}, r"names \*"),
    ],
)
def test_the_demo_does_not_start_in_the_open(changes: dict[str, Any], says: str) -> None:
    quiet = {"secure": False, "allowed_hosts": ("127.0.0.1", "localhost")}
    assert Config(**{**CONFIG.__dict__, **quiet, "demo": True}).demo
    with pytest.raises(DemoInTheOpen, match=says):
        Config(**{**CONFIG.__dict__, **quiet, "demo": True, **changes})
    assert not Config(**{**CONFIG.__dict__, **quiet, **changes, "demo": False}).demo


def test_who_is_not_signed_in_is_told_so_whatever_he_asks(db: None) -> None:
    client = Client(enforce_csrf_checks=True)
    for method in ("get", "post", "put", "patch", "delete"):
        answer = getattr(client, method)("/api/farms/thistlewick/blocks/1/setup")
        assert answer.status_code in (401, 405), (method, answer.content)
    assert client.post("/api/farms/thistlewick/blocks", "{}", "application/json").status_code == 401


def test_a_write_without_its_token_is_refused(user: User) -> None:
    client = Client(enforce_csrf_checks=True)
    client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
    answer = client.patch("/api/me", '{"units": "us"}', content_type="application/json")
    assert answer.status_code == 403


@pytest.mark.parametrize("path", ["/api", "/api/", "/api/nothing", "/api/farms/x/y/z"])
def test_nothing_of_the_api_answers_with_the_interface(db: None, path: str) -> None:
    answer = Client().get(path)
    assert answer.status_code == 404
    assert answer["Content-Type"].startswith("application/json")
    assert "There is nothing at" in answer.json()["message"]


def test_what_every_answer_says_of_itself(db: None) -> None:
    client = Client()
    told = client.get("/api/session")
    assert told["Cache-Control"] == "no-store"
    assert "camera=()" in told["Permissions-Policy"]
    assert "camera=()" in client.get("/thistlewick")["Permissions-Policy"]


def test_a_sign_in_takes_no_more_memory_than_can_be_spared(user: User) -> None:
    """Four at once in a web process: with Django's own figures they took 400 MB."""
    assert "$m=19456,t=2,p=1$" in user.password


def test_a_password_hashed_with_other_figures_is_hashed_anew(user: User) -> None:
    user.password = Argon2PasswordHasher().encode(PASSWORD, "some salt that is long")
    user.save()
    assert "m=102400" in user.password
    assert user.check_password(PASSWORD)
    user.refresh_from_db()
    assert "m=19456" in user.password
    assert user.check_password(PASSWORD)
