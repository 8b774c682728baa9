"""Wrong passwords make the next try wait, and nobody is shut out by what others do."""

import json
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from ipaddress import ip_network
from typing import Any

import pytest
from django.core import signing
from django.http import HttpResponse
from django.test import Client, RequestFactory
from django.utils import timezone

from server.accounts import tries
from server.accounts.address import client_address
from server.accounts.known_device import COOKIE, KEPT
from server.accounts.models import SignInTries, User
from server.accounts.tries import ADDRESS, DEVICE, PERSON, drop_forgotten_tries

PASSWORD = "correct horse staple"
NELL = "nell@example.org"


class Clock:
    def __init__(self) -> None:
        self.now = datetime(2026, 7, 1, tzinfo=UTC)

    def forward(self, seconds: float) -> None:
        self.now += timedelta(seconds=seconds)


@pytest.fixture(autouse=True)
def clock(monkeypatch: pytest.MonkeyPatch) -> Clock:
    made = Clock()
    monkeypatch.setattr(timezone, "now", lambda: made.now)
    return made


@pytest.fixture(autouse=True)
def nell(db: None) -> User:
    return User.objects.create_user(NELL, "Nell Ashdown", PASSWORD)


def sign_in(client: Client, password: str, email: str = NELL, **meta: str) -> HttpResponse:
    body = json.dumps({"email": email, "password": password})
    return client.post("/api/session", body, content_type="application/json", **meta)


def wait_of(answer: HttpResponse) -> int:
    """How long one must wait; 0 when the try was looked at."""
    return int(answer["Retry-After"]) if answer.status_code == 429 else 0


def test_waits_by_hand() -> None:
    """Five pass freely; then 1, 2, 4 ... s, a quarter of an hour at the most."""
    assert [PERSON.wait_s(n) for n in (0, 4, 5, 6, 7, 14, 15, 500)] == [
        0,
        0,
        1,
        2,
        4,
        512,
        900,
        900,
    ]
    assert [ADDRESS.wait_s(n) for n in (19, 20, 25, 26)] == [0, 1, 32, 60]
    assert [DEVICE.wait_s(n) for n in (9, 10, 18, 19)] == [0, 1, 256, 300]


def test_each_wrong_password_waits_longer_and_the_right_one_is_let_in(clock: Clock) -> None:
    client = Client()
    for _ in range(PERSON.free):
        assert sign_in(client, "nope").status_code == 422
    early = sign_in(client, PASSWORD)
    assert (early.status_code, wait_of(early)) == (429, 1)
    assert early.json()["message"] == "Too many wrong passwords. Try again in 1 s."
    clock.forward(1)
    assert sign_in(client, "nope").status_code == 422
    # A try that came too early was not counted: it is two seconds, not four.
    assert wait_of(sign_in(client, "nope")) == 2
    clock.forward(2)
    assert sign_in(client, PASSWORD).status_code == 200
    # From here on it is a known device, and counts from nothing.
    assert sign_in(client, "nope").status_code == 422


def test_a_long_wait_is_told_in_minutes(clock: Clock) -> None:
    for _ in range(PERSON.free):
        sign_in(Client(), "nope")
    SignInTries.objects.filter(key__startswith="person").update(failures=13)
    assert "Try again in 5 minutes" in sign_in(Client(), "nope").json()["message"]


def test_a_stranger_does_not_keep_a_known_device_out(clock: Clock) -> None:
    mine, stranger = Client(), Client(REMOTE_ADDR="192.0.2.7")
    assert sign_in(mine, PASSWORD).status_code == 200
    for _ in range(40):
        sign_in(stranger, "nope")
    assert wait_of(sign_in(stranger, PASSWORD)) > 0
    assert sign_in(mine, PASSWORD).status_code == 200
    # Nor does he at the same address: a farm's office is one to the world.
    for _ in range(40):
        sign_in(Client(), "nope", "someone@example.org")
        clock.forward(1)
    assert sign_in(mine, PASSWORD).status_code == 200


def test_many_names_from_one_address_wait_as_well(clock: Clock) -> None:
    sprayer = Client(REMOTE_ADDR="192.0.2.7")
    for k in range(ADDRESS.free):
        assert sign_in(sprayer, "nope", f"person{k}@example.org").status_code == 422
    assert wait_of(sign_in(sprayer, "nope", "another@example.org")) == 1
    assert sign_in(Client(REMOTE_ADDR="192.0.2.8"), PASSWORD).status_code == 200


def test_a_right_password_takes_its_own_count_back(clock: Clock) -> None:
    for _ in range(30):
        assert sign_in(Client(), PASSWORD).status_code == 200
    assert not SignInTries.objects.filter(failures__gt=0).exists()


def test_a_fault_of_ours_is_no_wrong_password(monkeypatch: pytest.MonkeyPatch) -> None:
    def broken(*_: Any, **__: Any) -> None:
        raise ZeroDivisionError

    monkeypatch.setattr("server.accounts.api.authenticate", broken)
    assert sign_in(Client(), PASSWORD).status_code == 500
    assert not SignInTries.objects.filter(failures__gt=0).exists()


def test_a_devices_cookie_is_no_key(clock: Clock) -> None:
    """It opens nothing, counts its own wrong passwords, and is of one person."""
    mine = Client()
    answer = sign_in(mine, PASSWORD)
    cookie = answer.cookies[COOKIE]
    assert (cookie["httponly"], cookie["samesite"]) == (True, "Strict")
    assert (cookie["path"], cookie["max-age"]) == ("/api/session", KEPT.total_seconds())
    thief = Client()
    thief.cookies[COOKIE] = cookie.value
    for _ in range(DEVICE.free):
        assert sign_in(thief, "nope").status_code == 422
    assert wait_of(sign_in(thief, "nope")) == 1
    # For another name, or forged, it is nothing.
    for value in (cookie.value, cookie.value + "x", signing.dumps([NELL, "d"], salt="other"), ""):
        other = Client(REMOTE_ADDR="192.0.2.9")
        other.cookies[COOKIE] = value
        email = "someone@example.org" if value == cookie.value else NELL
        SignInTries.objects.all().delete()
        for _ in range(PERSON.free):
            sign_in(other, "nope", email)
        assert wait_of(sign_in(other, "nope", email)) == 1


def test_counts_are_forgotten(clock: Clock) -> None:
    for _ in range(PERSON.free):
        sign_in(Client(), "nope")
    clock.forward(PERSON.forgotten.total_seconds() + 1)
    assert sign_in(Client(), "nope").status_code == 422
    assert SignInTries.objects.get(key__startswith="person").failures == 1
    assert drop_forgotten_tries() == 0
    clock.forward(PERSON.forgotten.total_seconds() + 1)
    assert drop_forgotten_tries() == 2


def test_a_name_of_any_length_and_kind(clock: Clock) -> None:
    for email in ("x" * 5000, "\ud800", ""):
        assert sign_in(Client(), "nope", email).status_code == 422


@pytest.mark.parametrize(
    ("peer", "said", "address"),
    [
        ("192.0.2.7", "", "192.0.2.7"),
        # Whoever comes by himself may say what he likes.
        ("192.0.2.7", "198.51.100.1", "192.0.2.7"),
        ("10.0.0.1", "198.51.100.1", "198.51.100.1"),
        # What stands before the proxy's own word is an invention.
        ("10.0.0.1", "203.0.113.9, 198.51.100.1", "198.51.100.1"),
        ("10.0.0.1", "198.51.100.1, 10.0.0.2", "198.51.100.1"),
        ("10.0.0.1", "", "10.0.0.1"),
        ("10.0.0.1", "10.0.0.2", "10.0.0.2"),
        ("10.0.0.1", "nonsense", "unknown"),
        ("", "", "unknown"),
        ("2001:db8:1:2:3:4:5:6", "", "2001:db8:1:2::/64"),
        ("::ffff:192.0.2.7", "", "192.0.2.7"),
    ],
)
def test_whose_address_counts(settings: Any, peer: str, said: str, address: str) -> None:
    settings.CONFIG = replace(settings.CONFIG, proxies=(ip_network("10.0.0.0/8"),))
    headers = {"HTTP_X_FORWARDED_FOR": said} if said else {}
    assert client_address(RequestFactory().get("/", REMOTE_ADDR=peer, **headers)) == address


def test_two_at_once_are_two(clock: Clock) -> None:
    """Counted before the password is looked at."""
    keys = {tries._key("person", NELL): PERSON}
    for _ in range(PERSON.free):
        with tries.counted(NELL, "192.0.2.7", None):
            pass
    rows = SignInTries.objects.filter(key__in=keys)
    assert not rows.exists()
    with tries.counted(NELL, "192.0.2.7", None):
        assert rows.get().failures == 1
