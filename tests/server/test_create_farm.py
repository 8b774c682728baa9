"""A farm of one's own begins at the command line."""

import getpass
from dataclasses import replace
from typing import Any

import pytest
from django.core.management import CommandError, call_command
from django.db.migrations.recorder import MigrationRecorder

from server.accounts.models import User
from server.farms.models import Change, Farm, Membership

OPTIONS = {"time_zone": "CET", "manager": "New@Example.org", "manager_name": "Ada Thornby"}


@pytest.fixture
def password(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    typed = ["a rather long one"]
    monkeypatch.setattr(getpass, "getpass", lambda _: typed[0])
    return typed


@pytest.fixture
def own_database(db: None, settings: Any) -> None:
    """As it is before the first farm."""
    settings.CONFIG = replace(settings.CONFIG, demo=False)
    Farm.objects.update(simulated=False)


def test_farm_and_manager(own_database: None, password: list[str]) -> None:
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
    own_database: None, password: list[str], changes: dict, word: str, says: str
) -> None:
    password[0] = word
    with pytest.raises(CommandError, match=says):
        call_command("create_farm", "Over Holt", **{**OPTIONS, **changes})
    assert not Farm.objects.filter(slug="over-holt").exists()
    assert not User.objects.filter(email="new@example.org").exists()


def test_no_farm_of_ones_own_beside_the_demo(db: None, password: list[str]) -> None:
    with pytest.raises(CommandError, match="the demo's database"):
        call_command("create_farm", "Over Holt", **OPTIONS)
    assert not Farm.objects.filter(slug="over-holt").exists()


def test_in_demo_mode_not_even_in_an_empty_database(
    own_database: None, password: list[str], settings: Any
) -> None:
    settings.CONFIG = replace(settings.CONFIG, demo=True)
    with pytest.raises(CommandError, match="the demo's database"):
        call_command("create_farm", "Over Holt", **OPTIONS)


def test_no_demo_beside_a_farm_of_ones_own(farm: Farm) -> None:
    call_command("seed_demo")  # it is there
    Farm(name="Over Holt", slug="over-holt", time_zone="CET").save()
    with pytest.raises(CommandError, match="Over Holt"):
        call_command("seed_demo")


def test_a_database_that_is_not_set_up_is_told_how(own_database: None, password: list[str]) -> None:
    MigrationRecorder.Migration.objects.filter(app="imports", name__startswith="0002").delete()
    with pytest.raises(CommandError, match="manage migrate"):
        call_command("create_farm", "Over Holt", **OPTIONS)


def test_nobody_is_there_to_type_a_password(
    own_database: None, monkeypatch: pytest.MonkeyPatch
) -> None:
    def nobody(_: str) -> str:
        raise EOFError

    monkeypatch.setattr(getpass, "getpass", nobody)
    with pytest.raises(CommandError, match="at a terminal"):
        call_command("create_farm", "Over Holt", **OPTIONS)


def test_a_person_is_added_and_given_another_role(
    own_database: None, password: list[str], farm: Farm
) -> None:
    said = {"name": "Ned Tolworth", "role": "scout"}
    call_command("add_person", farm.slug, "Ned@Example.org", **said)
    member = Membership.objects.get(farm=farm, user__email="ned@example.org")
    assert (member.role, member.user.name) == ("scout", "Ned Tolworth")
    assert member.user.check_password(password[0])
    password[0] = "not asked again"
    call_command("add_person", farm.slug, "ned@example.org", **{**said, "role": "irrigator"})
    member.refresh_from_db()
    assert member.role == "irrigator"
    assert member.user.check_password("a rather long one")
    entries = Change.objects.for_farm(farm).filter(by=None, about__startswith="Ned")
    assert list(entries.order_by("pk").values_list("done", "about", "by")) == [
        ("person_added", "Ned Tolworth", None),
        ("role_changed", "Ned Tolworth: scout → irrigator", None),
    ]


def test_a_person_is_added_to_a_farm_there_is(
    own_database: None, password: list[str], farm: Farm
) -> None:
    with pytest.raises(CommandError, match=r"There are: .*thistlewick"):
        call_command("add_person", "nowhere", "n@example.org", name="N", role="scout")
    with pytest.raises(CommandError, match="invalid choice: 'king'"):
        call_command("add_person", farm.slug, "n@example.org", "--name=N", "--role=king")
    assert not User.objects.filter(email="n@example.org").exists()
