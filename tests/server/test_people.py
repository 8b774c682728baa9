"""People come to a farm by invitation, have a role, and go; a manager is always left."""

import json
from datetime import timedelta
from typing import Any

import pytest
from django.http import HttpResponse
from django.test import Client
from django.utils import timezone

from server.accounts.demo_people import demo_user
from server.accounts.invitations import VALID_FOR, drop_old_invitations
from server.accounts.models import Invitation, User
from server.farms.models import Farm, Membership, Role
from tests.server.conftest import Api, signed_in

PEOPLE = "/farms/thistlewick/people"
JORY = {"name": "Jory Fenn", "email": "Jory@Fenn.example", "role": "irrigator"}
PASSWORD = "three wet furrows"


def send(client: Client, path: str, body: dict[str, Any]) -> HttpResponse:
    return client.post(f"/api{path}", json.dumps(body), content_type="application/json")


def problem(answer: Any) -> str:
    return str(answer["problems"][0]["message"])


def test_from_the_invitation_to_the_board(manager: Api) -> None:
    added = manager.post(PEOPLE, JORY, status=201)
    assert added["person"]["email"] == "jory@fenn.example"
    assert added["person"]["invited"] is True
    assert added["person"]["signed_in_at"] is None

    jory = Client()
    assert send(jory, "/invitation", {"token": added["token"]}).json() == {
        "name": "Jory Fenn",
        "email": "jory@fenn.example",
        "farms": ["Thistlewick Levels"],
    }
    weak = send(jory, "/invitation/accept", {"token": added["token"], "password": "short"})
    assert weak.status_code == 422
    assert "at least 10 characters" in problem(weak.json())
    session = send(jory, "/invitation/accept", {"token": added["token"], "password": PASSWORD})
    assert session.json()["farms"][0]["role"] == "irrigator"
    assert jory.get("/api/farms/thistlewick/board").status_code == 200
    # The link is used up, and the password is his.
    again = send(Client(), "/invitation/accept", {"token": added["token"], "password": PASSWORD})
    assert again.status_code == 404
    assert "no longer valid" in again.json()["message"]
    body = {"email": JORY["email"], "password": PASSWORD}
    assert send(Client(), "/session", body).status_code == 200
    [row] = [p for p in manager.get(PEOPLE) if p["name"] == "Jory Fenn"]
    assert row["invited"] is False
    assert row["signed_in_at"] is not None


def test_an_invitation_is_kept_as_a_hash_and_grows_old(manager: Api) -> None:
    added = manager.post(PEOPLE, JORY, status=201)
    row = Invitation.objects.get()
    assert added["token"] not in row.token_sha256
    row.made_at = timezone.now() - VALID_FOR
    row.save()
    assert send(Client(), "/invitation", {"token": added["token"]}).status_code == 404
    new = manager.post(f"{PEOPLE}/{added['person']['id']}/invitation", {})["token"]
    assert send(Client(), "/invitation", {"token": added["token"]}).status_code == 404
    assert send(Client(), "/invitation", {"token": new}).status_code == 200
    assert drop_old_invitations() == 0
    Invitation.objects.update(made_at=timezone.now() - VALID_FOR - timedelta(seconds=1))
    assert drop_old_invitations() == 1


def test_whoever_has_an_account_keeps_it(manager: Api, stranger: Api) -> None:
    """The manager of another farm comes in as a viewer, with the name and password he has."""
    hob = {"name": "Somebody", "email": "hob@barrow.example", "role": "viewer"}
    added = manager.post(PEOPLE, hob, status=201)
    assert added["token"] is None
    assert added["person"]["name"] == "Hob Tallis"
    assert [f["role"] for f in stranger.get("/session")["farms"]] == ["manager", "viewer"]
    refused = manager.post(f"{PEOPLE}/{added['person']['id']}/invitation", {}, status=422)
    assert "Nobody else can change the password here" in refused["message"]


def test_who_holds_another_farms_invitation_comes_in_by_his_own(
    manager: Api, stranger: Api
) -> None:
    stranger.post("/farms/barrow/people", JORY, status=201)
    refused = manager.post(PEOPLE, JORY, status=422)
    assert "yet to accept an invitation to another farm" in problem(refused)
    assert Membership.objects.filter(user__email="jory@fenn.example").count() == 1


@pytest.mark.parametrize(
    ("change", "message"),
    [
        ({"name": "  "}, "Enter the person's name."),
        ({"email": "jory at fenn"}, "'jory at fenn' is not an e-mail address"),
        ({"email": "MAUD@thistlewick.example"}, "Maud Pellander belongs to this farm already."),
    ],
)
def test_what_is_refused_and_why(manager: Api, change: dict[str, str], message: str) -> None:
    refused = manager.post(PEOPLE, {**JORY, **change}, status=422)
    assert message in problem(refused)


def test_a_role_is_in_force_at_once(manager: Api, as_role: Any) -> None:
    tam = demo_user(Role.IRRIGATOR)
    assert tam is not None
    his = as_role(Role.IRRIGATOR)
    assert "log_water" in his.get("/session")["farms"][0]["may"]
    manager.patch(f"{PEOPLE}/{tam.pk}", {"role": "viewer"})
    assert his.get("/session")["farms"][0]["may"] == ["see", "stop_valves"]
    assert manager.client.delete(f"/api{PEOPLE}/{tam.pk}").status_code == 200
    his.get("/farms/thistlewick/board", status=404)
    assert User.objects.filter(pk=tam.pk).exists()


def test_whoever_was_removed_before_he_came_may_be_added_anew(manager: Api) -> None:
    first = manager.post(PEOPLE, JORY, status=201)
    path = f"{PEOPLE}/{first['person']['id']}"
    assert manager.client.delete(f"/api{path}").status_code == 200
    assert send(Client(), "/invitation", {"token": first["token"]}).status_code == 404
    second = manager.post(PEOPLE, {**JORY, "role": "scout"}, status=201)
    assert second["person"]["id"] == first["person"]["id"]
    assert send(Client(), "/invitation", {"token": second["token"]}).status_code == 200


def test_a_manager_is_always_left(manager: Api, farm: Farm) -> None:
    maud = demo_user(Role.MANAGER)
    assert maud is not None
    path = f"{PEOPLE}/{maud.pk}"
    refused = manager.patch(path, {"role": "adviser"}, status=422)
    assert "no manager left" in refused["message"]
    assert manager.client.delete(f"/api{path}").status_code == 422
    other = User.objects.create_user("nell@example.org", "Nell", PASSWORD)
    Membership(farm=farm, user=other, role=Role.MANAGER).save()
    assert manager.patch(path, {"role": "adviser"})["role"] == "adviser"
    manager.post(PEOPLE, JORY, status=403)


@pytest.mark.parametrize("role", [r for r in Role if r != Role.MANAGER])
def test_only_a_manager_sees_addresses_and_adds_people(as_role: Any, role: Role) -> None:
    api = as_role(role)
    rows = api.get(PEOPLE)
    assert {(p["email"], p["signed_in_at"], p["invited"]) for p in rows} == {(None, None, None)}
    refused = api.post(PEOPLE, JORY, status=403)
    assert "can't add people or change their roles" in refused["message"]


def test_nobody_reaches_into_another_farm(stranger: Api) -> None:
    maud = demo_user(Role.MANAGER)
    assert maud is not None
    for path in (f"{PEOPLE}/{maud.pk}", f"/farms/barrow/people/{maud.pk}"):
        stranger.patch(path, {"role": "viewer"}, status=404)
        stranger.post(f"{path}/invitation", {}, status=404)
        assert stranger.client.delete(f"/api{path}").status_code == 404


def test_a_new_password_signs_every_other_device_out(db: None) -> None:
    nell = User.objects.create_user("nell@example.org", "Nell", PASSWORD)
    here, there = signed_in(nell), signed_in(nell)
    wrong = here.put("/me/password", {"current": "nope", "password": "x" * 12}, status=422)
    assert problem(wrong) == "This is not your current password."
    weak = here.put("/me/password", {"current": PASSWORD, "password": "password"}, status=422)
    assert weak["problems"][0]["field"] == "password"
    here.put("/me/password", {"current": PASSWORD, "password": "a field of dry clay"})
    assert here.get("/session")["person"]["name"] == "Nell"
    assert there.get("/session")["person"] is None
    body = {"email": nell.email, "password": "a field of dry clay"}
    assert send(Client(), "/session", body).status_code == 200


def test_guessing_the_current_password_has_to_wait(
    db: None, monkeypatch: pytest.MonkeyPatch
) -> None:
    now = timezone.now()
    monkeypatch.setattr(timezone, "now", lambda: now)
    api = signed_in(User.objects.create_user("nell@example.org", "Nell", PASSWORD))
    for _ in range(5):
        api.put("/me/password", {"current": "nope", "password": "x" * 12}, status=422)
    late = api.put("/me/password", {"current": PASSWORD, "password": "x" * 12}, status=429)
    assert "Too many wrong passwords" in late["message"]


def test_another_site_accepts_no_invitation(manager: Api) -> None:
    added = manager.post(PEOPLE, JORY, status=201)
    strict = Client(enforce_csrf_checks=True)
    look = {"token": added["token"]}
    for path, body in (("", look), ("/accept", {**look, "password": PASSWORD})):
        assert send(strict, f"/invitation{path}", body).status_code == 403
    assert Invitation.objects.count() == 1
