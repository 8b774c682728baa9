"""What went wrong with the water, by mail to those who decide, once."""

from datetime import timedelta

import pytest
from django.core import mail

from server.accounts.demo_people import demo_user
from server.blocks.models import Block
from server.farms.models import Farm, Membership, Role
from server.plan.models import RunSheet
from server.today.alarms_by_mail import send_alarms
from server.valves.models import Valve, ValveAlarm
from server.water.models import Irrigation


@pytest.fixture(autouse=True)
def nothing_wrong_yet(farm: Farm) -> None:
    RunSheet.objects.for_farm(farm).delete()
    Irrigation.objects.for_farm(farm).filter(status__in=["planned", "running"]).delete()


def alarm(farm: Farm, fault: str = "burst", hours_ago: float = 0.1) -> ValveAlarm:
    valve = Valve.objects.for_farm(farm).order_by("pk")[0]
    began = farm.now() - timedelta(hours=hours_ago)
    row = ValveAlarm(valve=valve, fault=fault, flow_ls=30.0, began_at=began)
    row.save()
    return row


def test_a_burst_is_told_to_who_decides_with_what_to_do(farm: Farm) -> None:
    row = alarm(farm)
    assert send_alarms(farm) == 2
    people = {demo_user(Role.MANAGER), demo_user(Role.ADVISER)}
    assert {m.to[0] for m in mail.outbox} == {p.email for p in people if p}
    name, block = row.valve.name, row.valve.block.name
    first, second = mail.outbox[0].body.splitlines()[:2]
    assert first == f"{name} ({block}): flow far above what is expected"
    assert second.startswith("Close the valve. Walk the line")
    assert mail.outbox[0].subject == f"Thistlewick Levels: {first}"
    assert send_alarms(farm) == 0
    # Another is another mail, with nothing of the first.
    row.ended_at = farm.now()
    row.save()
    alarm(farm, "leak")
    assert send_alarms(farm) == 2
    assert "far above" not in mail.outbox[-1].body


@pytest.mark.parametrize("over", ["ended", "confirmed", "old"])
def test_what_is_over_is_no_news(farm: Farm, over: str) -> None:
    row = alarm(farm, hours_ago=25 if over == "old" else 1)
    if over == "ended":
        row.ended_at = farm.now()
    if over == "confirmed":
        row.confirmed_at = farm.now()
    row.save()
    assert send_alarms(farm) == 0


def test_what_did_not_start_or_stop(farm: Farm, block: Block) -> None:
    """Told half an hour after, with whose job it was; a cut is planned again by itself."""
    block.irrigator = demo_user(Role.IRRIGATOR)
    block.save()
    now = farm.now()
    for status, begins, ends in (("planned", 2, -2), ("running", 8, 1)):
        Irrigation(
            block=block,
            status=status,
            started_at=now - timedelta(hours=begins),
            ended_at=now - timedelta(hours=ends),
            gross_mm=10,
        ).save()
    Irrigation(
        block=block,
        status="done",
        started_at=now - timedelta(hours=9),
        ended_at=now - timedelta(hours=8.5),
        gross_mm=2,
        planned_gross_mm=20,
    ).save()
    assert send_alarms(farm) == 2
    lines = [x for x in mail.outbox[0].body.splitlines() if x]
    assert sorted(lines) == [
        "Quern Field: should have started at Tue 14 July 04:10 (Tam Orrowby)",
        "Quern Field: should have stopped at Tue 14 July 05:10 (Tam Orrowby)",
    ]
    assert send_alarms(farm) == 0


def test_a_new_manager_has_what_still_stands(farm: Farm) -> None:
    alarm(farm)
    send_alarms(farm)
    late = demo_user(Role.VIEWER)
    Membership.objects.filter(farm=farm, user=late).update(role=Role.MANAGER)
    assert send_alarms(farm) == 1
    assert late is not None and mail.outbox[-1].to == [late.email]
