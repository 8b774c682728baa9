"""What people did stands in the change history; acts happen at one moment, in turn, undoably."""

import ast
import inspect
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path
from typing import Any
from urllib.parse import urlencode

import pytest
from django.db import connection

from server.accounts.demo_people import demo_user
from server.api import api
from server.base.errors import RequestError
from server.blocks.models import Block
from server.farms.access import Access
from server.farms.acting import UNDO, acting
from server.farms.changes import Done, Entry, record, record_each
from server.farms.models import Change, Farm, Role
from server.farms.rules import Action
from server.limits.models import RefillRule
from server.water.models import Hold
from tests.server.conftest import Api

SERVER = Path(__file__).parents[2] / "server"
HERE = "/farms/thistlewick"
# Acts that change nothing which lasts: how a file is read before it is imported; and those whose
# parts are acts themselves.
WITHOUT_ENTRY = {
    "change_layout",
    "guess_for",
    "start_check",
    "prepare_opening",
    "import_laboratory_sheet",
    "_take_each",
    "take_report",
    "keep_field_photo",
}


def acts() -> Iterator[tuple[str, ast.FunctionDef, ast.Module]]:
    for path in sorted(SERVER.rglob("*.py")):
        tree = ast.parse(path.read_text(encoding="utf-8"))
        for node in tree.body:
            if isinstance(node, ast.FunctionDef) and any(
                isinstance(d, ast.Call) and getattr(d.func, "id", "") == "acting"
                for d in node.decorator_list
            ):
                yield node.name, node, tree


def called(node: ast.AST) -> set[str]:
    return {
        n.func.id
        for n in ast.walk(node)
        if isinstance(n, ast.Call) and isinstance(n.func, ast.Name)
    }


def records(node: ast.FunctionDef, tree: ast.Module) -> bool:
    """Whether a function writes an entry, itself or by a function of its module."""
    parts = {n.name: n for n in tree.body if isinstance(n, ast.FunctionDef)}
    todo, seen = [node], set()
    while todo:
        names = called(todo.pop())
        if names & {"record", "record_each"}:
            return True
        new = (names & set(parts)) - seen
        seen |= new
        todo += [parts[n] for n in new]
    return False


def undoes(node: ast.FunctionDef) -> bool:
    return any(
        k.arg == "undoes"
        for d in node.decorator_list
        if isinstance(d, ast.Call)
        for k in d.keywords
    )


def test_every_act_leaves_an_entry_or_marks_the_one_it_undoes() -> None:
    silent = {name for name, node, tree in acts() if not undoes(node) and not records(node, tree)}
    assert silent == WITHOUT_ENTRY


def test_what_undoes_takes_the_number_of_a_row() -> None:
    assert api is not None  # every module with acts is loaded
    assert len(UNDO) >= 10
    for undo in UNDO.values():
        assert len(inspect.signature(undo.act).parameters) == 2


def newest(api: Api, **of: Any) -> dict[str, Any]:
    found: dict[str, Any] = api.get(f"{HERE}/changes?{urlencode(of)}")["changes"][0]
    return found


def undo(api: Api, entry: dict[str, Any], status: int = 200) -> Any:
    return api.post(f"{HERE}/changes/{entry['id']}/undo", {}, status=status)


def test_entries_say_who_did_what_newest_first(manager: Api, as_role: Any, block: Block) -> None:
    irrigator = as_role(Role.IRRIGATOR)
    logged = {
        "block_ids": [block.pk],
        "status": "done",
        "started_at": "2026-07-12T20:00",
        "hours": 2,
    }
    irrigator.post(f"{HERE}/water", logged, status=201)
    manager.put(f"{HERE}/stated-et", {"low": 4, "expected": 5, "high": 6, "alfalfa_ratio": None})
    et, water = manager.get(f"{HERE}/changes")["changes"][:2]
    assert (et["done"], et["about"], et["by"]) == ("et_entered", "", "Maud Pellander")
    assert (water["done"], water["about"]) == ("irrigation_logged", "Quern Field")
    assert (water["by"], water["block_id"]) == ("Tam Orrowby", block.pk)
    assert water["undone_at"] is None
    assert water["can_undo"] is False


def test_entries_are_found_by_person_block_and_name(manager: Api, farm: Farm, block: Block) -> None:
    wren, maud = demo_user(Role.SCOUT), demo_user(Role.MANAGER)
    assert wren is not None
    assert maud is not None
    record(Access(wren, farm, Role.SCOUT), Done.VISIT_RECORDED, "QF-1", block=block.pk)
    record(Access(maud, farm, Role.MANAGER), Done.LOGGER_ADDED, "Pump house")
    assert newest(manager, by=wren.pk)["about"] == "QF-1"
    assert newest(manager, block_id=block.pk)["about"] == "QF-1"
    assert newest(manager, find="pump")["about"] == "Pump house"
    assert manager.get(f"{HERE}/changes?find=pumpkin") == {"changes": [], "older": None}


def test_older_entries_follow_page_by_page(manager: Api, farm: Farm) -> None:
    Change.objects.for_farm(farm).delete()
    user = demo_user(Role.MANAGER)
    assert user is not None
    record_each(
        Access(user, farm, Role.MANAGER), Done.SOIL_ADDED, (Entry(f"S{k}") for k in range(5))
    )
    seen, before = [], {}
    while before is not None:
        page = manager.get(f"{HERE}/changes?{urlencode({'limit': 2, **before})}")
        seen += [c["about"] for c in page["changes"]]
        before = {"before": page["older"]} if page["older"] else None
    assert seen == ["S4", "S3", "S2", "S1", "S0"]


def test_a_refill_rule_and_a_hold_are_undone_from_the_history(
    manager: Api, farm: Farm, block: Block
) -> None:
    rule = {"refill_method": "flat", "value": 0.4, "from_on": "2026-07-01", "reason": "trial"}
    manager.post(f"{HERE}/blocks/{block.pk}/limits/refill", rule, status=201)
    hold = {
        "block_ids": [block.pk],
        "kind": "spray",
        "starts_at": "2026-07-15T06:00",
        "ends_at": "2026-07-17T06:00",
    }
    manager.post(f"{HERE}/holds", hold, status=201)
    for done, gone in (
        ("hold_added", lambda: not Hold.objects.for_farm(farm).filter(block=block).exists()),
        ("refill_rule_set", lambda: RefillRule.objects.for_farm(farm).latest("pk").undone_at),
    ):
        entry = next(c for c in manager.get(f"{HERE}/changes")["changes"] if c["done"] == done)
        assert entry["can_undo"] is True
        assert not gone()
        undo(manager, entry)
        assert gone()
        after = next(c for c in manager.get(f"{HERE}/changes")["changes"] if c["done"] == done)
        assert after["undone_by"] == "Maud Pellander"
        assert after["can_undo"] is False
        assert "undone before" in undo(manager, entry, status=422)["message"]


def test_what_is_undone_where_it_was_made_reads_so_in_the_history(
    manager: Api, block: Block
) -> None:
    made = manager.post(
        f"{HERE}/blocks/{block.pk}/decisions", {"kind": "declined", "why": "rain"}, status=201
    )
    assert newest(manager)["done"] == "advice_skipped"
    manager.client.delete(f"/api{HERE}/decisions/{made['id']}")
    assert newest(manager)["undone_by"] == "Maud Pellander"


def test_what_has_no_way_back_is_not_undone(manager: Api, as_role: Any, farm: Farm) -> None:
    user = demo_user(Role.MANAGER)
    assert user is not None
    record(Access(user, farm, Role.MANAGER), Done.SOIL_REMOVED, "Loam", thing=1)
    assert "can't be undone here" in undo(manager, newest(manager), status=422)["message"]
    manager.post(f"{HERE}/changes/0/undo", {}, status=404)
    record(Access(user, farm, Role.MANAGER), Done.HOLD_ADDED, "Quern Field", thing=1)
    viewer = as_role(Role.VIEWER)
    assert newest(viewer)["can_undo"] is False
    undo(viewer, newest(viewer), status=403)


def test_an_act_that_is_refused_leaves_no_entry(manager: Api, farm: Farm, block: Block) -> None:
    before = Change.objects.for_farm(farm).count()
    rule = {"refill_method": "flat", "value": 40, "from_on": None, "reason": ""}
    manager.post(f"{HERE}/blocks/{block.pk}/limits/refill", rule, status=422)
    assert Change.objects.for_farm(farm).count() == before


@pytest.fixture
def access(farm: Farm) -> Access:
    user = demo_user(Role.MANAGER)
    assert user is not None
    farm.fixed_now = None  # its clock goes on
    return Access(user, farm, Role.MANAGER)


def test_all_of_an_act_happens_at_one_moment(access: Access) -> None:
    @acting(Action.DECIDE)
    def part(access: Access) -> datetime:
        return access.now()

    @acting(Action.DECIDE)
    def act(access: Access) -> list[datetime]:
        return [access.now(), part(access), access.now()]

    first, *others = act(access)
    assert others == [first, first]
    assert act(access)[0] > first
    assert access.moment is None


@pytest.mark.parametrize(
    ("action", "waits"), [(a, a is not Action.RECORD_READINGS) for a in Action]
)
def test_acts_on_a_farm_wait_for_one_another_but_readings_do_not(
    access: Access, action: Action, waits: bool
) -> None:
    @acting(action)
    def act(access: Access) -> int:
        with connection.cursor() as cursor:
            cursor.execute(
                "SELECT count(*) FROM pg_locks WHERE locktype = 'advisory' AND granted"
                " AND pid = pg_backend_pid() AND objid = %s",
                [access.farm.pk],
            )
            return int(cursor.fetchone()[0])

    assert act(access) == waits


def test_what_an_act_did_is_lost_with_its_entry(access: Access, farm: Farm) -> None:
    @acting(Action.DECIDE)
    def act(access: Access) -> None:
        record(access, Done.SOIL_ADDED, "half")
        raise RequestError("no")

    with pytest.raises(RequestError):
        act(access)
    assert not Change.objects.for_farm(farm).filter(about="half").exists()
