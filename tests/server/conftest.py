"""A database with the demo farm in it, a second farm beside it, and people signed in."""

import json
import os
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import pytest
from django.core.cache import caches
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.http import HttpResponse
from django.test import Client
from django.utils import translation
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob

from server.accounts.demo_people import demo_user
from server.accounts.models import User
from server.blocks.models import Block
from server.farms.models import Farm, Membership, Role
from tests.template import copied


@pytest.fixture(scope="session")
def django_db_setup(django_db_blocker: Any) -> Iterator[None]:
    """A copy of the seeded demo for this worker; each test works in a transaction of its own."""
    # A browser test that ran in this worker before has left its event loop behind.
    os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "1"
    with copied("server") as name, django_db_blocker.unblock():
        connection.close()
        connection.close_pool()
        connection.settings_dict["NAME"] = name
        yield
        connection.close()
        connection.close_pool()


@pytest.fixture(autouse=True)
def no_kept_boards() -> None:
    """A board outlives the transaction that a test takes back."""
    caches["boards"].clear()


@dataclass
class Api:
    """A signed-in person speaking JSON."""

    client: Client

    def get(self, path: str, status: int = 200) -> Any:
        return self._read(self.client.get(f"/api{path}"), status)

    def post(self, path: str, body: Any, status: int = 200) -> Any:
        return self._send("post", path, body, status)

    def put(self, path: str, body: Any, status: int = 200) -> Any:
        return self._send("put", path, body, status)

    def patch(self, path: str, body: Any, status: int = 200) -> Any:
        return self._send("patch", path, body, status)

    def delete(self, path: str, status: int = 200) -> Any:
        return self._read(self.client.delete(f"/api{path}"), status)

    def upload(self, path: str, name: str, data: bytes, status: int = 200, **form: Any) -> Any:
        file = SimpleUploadedFile(name, data, "text/csv")
        return self._read(self.client.post(f"/api{path}", {**form, "file": file}), status)

    def _send(self, method: str, path: str, body: Any, status: int) -> Any:
        send = getattr(self.client, method)
        answer = send(f"/api{path}", json.dumps(body), content_type="application/json")
        return self._read(answer, status)

    @staticmethod
    def _read(answer: HttpResponse, status: int) -> Any:
        assert answer.status_code == status, answer.content[:2000]
        return json.loads(answer.content)


def signed_in(user: User) -> Api:
    client = Client()
    client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
    return Api(client)


@pytest.fixture(autouse=True)
def in_english() -> Iterator[None]:
    """A request leaves its language behind in the thread; what is mailed has none of its own."""
    with translation.override("en"):
        yield


@pytest.fixture(autouse=True)
def plans_in_a_moment(monkeypatch: pytest.MonkeyPatch) -> None:
    """What becomes of a plan is tried here, not how good it is: that is tests/core."""
    monkeypatch.setattr("core.plan.make_plan.LOOKS", 2_000_000)
    monkeypatch.setattr("core.plan.make_plan.LOOKS_BLOCK", 0)
    monkeypatch.setattr("core.plan.make_plan.MOST_PATTERNS", 0)


@pytest.fixture
def farm(db: None) -> Farm:
    return Farm.objects.get(slug="thistlewick")


@pytest.fixture
def manager(farm: Farm) -> Api:
    user = demo_user(Role.MANAGER)
    assert user is not None
    return signed_in(user)


@pytest.fixture
def as_role(farm: Farm) -> Any:
    def make(role: Role) -> Api:
        user = demo_user(role)
        assert user is not None
        return signed_in(user)

    return make


@pytest.fixture
def stranger(db: None) -> Iterator[Api]:
    """The manager of another farm."""
    other = Farm(name="Barrow Edge", slug="barrow", time_zone="CET")
    other.save()
    user = User.objects.create_user("hob@barrow.example", "Hob Tallis")
    Membership(user=user, farm=other, role=Role.MANAGER).save()
    yield signed_in(user)


@pytest.fixture
def run_jobs(db: None) -> Callable[[], list[str]]:
    """Does what a worker would do with the jobs queued so far; their names."""

    def run() -> list[str]:
        done = []
        for job in ProcrastinateJob.objects.filter(status="todo").order_by("id"):
            app.tasks[job.task_name](**job.args)
            done.append(job.task_name)
            with connection.cursor() as cursor:
                cursor.execute("DELETE FROM procrastinate_jobs WHERE id = %s", [job.id])
        return done

    return run


@pytest.fixture
def block(farm: Farm) -> Block:
    return Block.objects.for_farm(farm).get(name="Quern Field")


def new_block(**changes: Any) -> dict[str, Any]:
    """A block as the form sends it."""
    return {
        "name": "Teasel Corner",
        "area_m2": 25_000,
        "soil_name": "",
        "horizons": [
            {"top_mm": 0, "bottom_mm": 300, "sand": 40, "silt": 40, "clay": 20},
            {"top_mm": 300, "bottom_mm": 900, "texture": "clay loam", "organic_matter": 0.8},
        ],
        "crop_key": "potato",
        "planted_on": "2026-05-01",
        "system": {"kind": "solid set sprinkler", "rate_mm_h": 4.0, "efficiency": 0.75},
        **changes,
    }
