"""Every operation by every role, by nobody and by another farm's manager.

Made from the API's own description: what an operation asks of a role is heard while a manager
uses it, and held against what happens when the others do. A new operation is covered as it is.
"""

import json
import logging
from collections import Counter
from collections.abc import Iterator
from typing import Any
from urllib.parse import urlencode

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection, transaction
from django.http import HttpResponse
from django.test import Client

from server.accounts.demo_people import demo_user
from server.farms.access import Access
from server.farms.models import Farm, Role
from server.farms.rules import Action, may
from tests.server.conftest import Api
from tests.server.existing import add_one_of_each, keys_of, meant
from tests.server.minimal import body_of, example, operations, query_of

# Known by a token of its own, or for those who are not signed in.
OF_NO_PERSON = {
    *("session", "sign_in", "demo_sign_in", "calendar_feed"),
    *("invitation", "accept_invitation"),
}
OPERATIONS = [
    pytest.param(method, path, op, id=op["operationId"])
    for method, path, op in operations()
    if op["operationId"] not in OF_NO_PERSON and not path.startswith("/api/ingest")
]
ON_A_FARM = [p for p in OPERATIONS if "{slug}" in p.values[1]]
# Rows that anybody may have written: a person's own (the address of his calendar, whether he wants
# mail), and answers that are kept because they were asked for.
_ANYBODYS = (
    "advice_touched",
    "advice_storedanswer",
    "advice_estimatedmorning",
    "events_",
    "django_",
    "procrastinate_",
    "accounts_",
    "today_calendartoken",
    "farms_membership",
    "farms_historicalmembership",
)


@pytest.fixture(autouse=True)
def quiet() -> Iterator[None]:
    """Refusals by the hundred are what is asked for here."""
    logging.disable(logging.ERROR)
    yield
    logging.disable(logging.NOTSET)


@pytest.fixture(autouse=True)
def one_of_each(farm: Farm) -> None:
    add_one_of_each(farm)


def test_there_is_something_of_every_kind_that_a_path_names(farm: Farm) -> None:
    """What is not there can't be seen by a stranger: that would prove nothing."""
    names = {
        p["name"]
        for case in ON_A_FARM
        for p in case.values[2].get("parameters", [])
        if p["in"] == "path" and p["schema"].get("type") == "integer"
    }
    found = {n: any(m.objects.for_farm(farm).exists() for m in meant(n)) for n in names}
    assert [n for n, there in found.items() if not there] == []


def ask(client: Client, method: str, path: str, op: dict[str, Any]) -> HttpResponse:
    """The smallest request of an operation; whatever it changed is put back."""
    kind, content = body_of(op)
    query = query_of(op)
    if query:
        path += "?" + urlencode(query)
    send = getattr(client, method)
    with transaction.atomic():
        if kind == "multipart/form-data":
            form = {k: v for k, v in content.items() if v is not None}
            for name in form:
                if name == "file":
                    form[name] = SimpleUploadedFile("a.csv", b"date,rain\n2026-07-01,3\n")
            answer = send(path, form)
        elif kind:
            answer = send(path, json.dumps(content), content_type="application/json")
        else:
            answer = send(path)
        transaction.set_rollback(True)
    return answer


def filled(path: str, op: dict[str, Any], slug: str, farm: Farm) -> list[str]:
    """The path to a farm's things, through an address."""
    paths = [path.replace("{slug}", slug)]
    for parameter in op.get("parameters", []):
        name = parameter["name"]
        if parameter["in"] != "path" or name == "slug":
            continue
        numbered = parameter["schema"].get("type") == "integer"
        keys = keys_of(farm, name) if numbered else [example(parameter["schema"])]
        paths = [p.replace(f"{{{name}}}", str(key)) for p in paths for key in keys]
    return paths


def names_a_thing(op: dict[str, Any]) -> bool:
    """Whether a number in the path is that of something on a farm."""
    parameters = op.get("parameters", [])
    return any(p["in"] == "path" and p["schema"].get("type") == "integer" for p in parameters)


def changes() -> Counter[str]:
    """Rows of farms written in this transaction so far, by table, also those taken back since."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT relname, n_tup_ins + n_tup_upd + n_tup_del FROM pg_stat_xact_user_tables "
            "WHERE NOT relname ~ %s",
            ["^(" + "|".join(_ANYBODYS) + ")"],
        )
        return Counter(dict(cursor.fetchall()))


@pytest.mark.parametrize(("method", "path", "op"), OPERATIONS)
def test_nobody_is_told_to_sign_in(farm: Farm, method: str, path: str, op: dict[str, Any]) -> None:
    for address in filled(path, op, farm.slug, farm)[:1]:
        assert ask(Client(), method, address, op).status_code == 401


@pytest.mark.parametrize(("method", "path", "op"), ON_A_FARM)
def test_another_farms_manager_finds_nothing(
    farm: Farm, stranger: Api, method: str, path: str, op: dict[str, Any]
) -> None:
    before = changes()
    for address in filled(path, op, farm.slug, farm):
        answer = ask(stranger.client, method, address, op)
        assert answer.status_code == 404, (address, answer.content[:300])
    assert not changes() - before
    # Nor through his own farm's address, whatever is there to be found.
    for address in filled(path, op, "barrow", farm) if names_a_thing(op) else []:
        answer = ask(stranger.client, method, address, op)
        assert answer.status_code in (404, 422), (address, answer.content[:300])


@pytest.fixture
def asked_for(monkeypatch: pytest.MonkeyPatch) -> list[Action]:
    """What was required of a role, in order."""
    heard: list[Action] = []
    real = Access.require

    def listen(self: Access, action: Action) -> None:
        heard.append(action)
        real(self, action)

    monkeypatch.setattr(Access, "require", listen)
    return heard


@pytest.mark.parametrize(("method", "path", "op"), ON_A_FARM)
def test_each_role_may_what_it_may(
    farm: Farm,
    as_role: Any,
    asked_for: list[Action],
    method: str,
    path: str,
    op: dict[str, Any],
) -> None:
    address = filled(path, op, farm.slug, farm)[0]
    before = changes()
    answer = ask(as_role(Role.MANAGER).client, method, address, op)
    assert answer.status_code < 500, answer.content[:300]
    assert answer.status_code not in (401, 403)
    needed = set(asked_for)
    assert needed, "a farm was entered without asking"
    if wrote := changes() - before:
        assert needed - {Action.SEE}, f"anybody may change {list(wrote)}"
    # Where only to see is asked for, which every role may, one of the others speaks for all.
    others = [Role.VIEWER] if needed == {Action.SEE} else set(Role) - {Role.MANAGER}
    for role in others:
        before = changes()
        status = ask(as_role(role).client, method, address, op).status_code
        if all(may(role, action) for action in needed):
            assert status == answer.status_code, role
        else:
            assert (status, changes() - before) == (403, Counter()), role


def test_demo_has_people_of_every_role(farm: Farm) -> None:
    assert all(demo_user(role) for role in Role)
