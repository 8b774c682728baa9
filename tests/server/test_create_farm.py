"""A farm of one's own begins at the command line."""

import getpass

import pytest
from django.core.management import CommandError, call_command

from server.accounts.models import User
from server.farms.models import Farm, Membership

OPTIONS = {"time_zone": "CET", "manager": "New@Example.org", "manager_name": "Ada Thornby"}


@pytest.fixture
def password(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    typed = ["a rather long one"]
    monkeypatch.setattr(getpass, "getpass", lambda _: typed[0])
    return typed


def test_farm_and_manager(db: None, password: list[str]) -> None:
    call_command("create_farm", "Over Holt", **OPTIONS)
    membership = Membership.objects.get(farm__slug="over-holt")
    assert membership.role == "manager"
    assert membership.user.email == "new@example.org"
    assert membership.user.check_password(password[0])
    with pytest.raises(CommandError, match="already"):
        call_command("create_farm", "Over Holt", **OPTIONS)


@pytest.mark.parametrize(
    "changes, word, says",
    [
        ({"time_zone": "Nowhere/Land"}, "a rather long one", "no time zone"),
        ({}, "short", "too short"),
    ],
)
def test_refusals_leave_nothing_behind(
    db: None, password: list[str], changes: dict, word: str, says: str
) -> None:
    password[0] = word
    with pytest.raises(CommandError, match=says):
        call_command("create_farm", "Over Holt", **{**OPTIONS, **changes})
    assert not Farm.objects.filter(slug="over-holt").exists()
    assert not User.objects.filter(email="new@example.org").exists()
