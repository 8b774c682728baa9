"""An announcement by mail: each irrigator has what it changed of his own blocks, once."""

from datetime import timedelta
from typing import Any

import pytest
from django.core import mail

from server.accounts.demo_people import demo_user
from server.blocks.models import Block
from server.farms.models import Farm, Membership, Role
from server.plan.models import Announcement, RunSheet
from server.today.told_by_mail import send_announcements


@pytest.fixture
def announced(farm: Farm) -> Announcement:
    """Of one irrigator's block something moved and something went; of another's something is new;
    and of nobody's, too."""
    tam, maud = demo_user(Role.IRRIGATOR), demo_user(Role.MANAGER)
    blocks = list(Block.objects.for_farm(farm).order_by("name")[:3])
    for block, who in zip(blocks, (tam, maud, None), strict=True):
        block.irrigator = who
        block.save()
    at = farm.now()

    def change(kind: str, block: Block, before: int | None, after: int | None) -> dict[str, Any]:
        times = [None if h is None else at + timedelta(hours=h) for h in (before, after)]
        return {
            "change": kind,
            "block_id": block.pk,
            "block": block.name,
            "from_at": times[0] and times[0].isoformat(),
            "from_hours": None if before is None else 4.0,
            "to_at": times[1] and times[1].isoformat(),
            "to_hours": None if after is None else 6.5,
        }

    one, other, nobodys = blocks
    sheet = RunSheet(farm=farm, asked_at=at, status="failed")
    sheet.save()
    row = Announcement(
        farm=farm,
        sheet=sheet,
        number=3,
        sets=[],
        changes=[
            change("moved", one, 1, 25),
            change("removed", one, 48, None),
            change("new", other, None, 12),
            change("resized", other, 30, 30),
            change("new", nobodys, None, 12),
        ],
        made_at=at,
    )
    row.save()
    return row


def test_each_has_his_own_part_once(farm: Farm, announced: Announcement) -> None:
    assert send_announcements(farm) == 2
    tam, maud = demo_user(Role.IRRIGATOR), demo_user(Role.MANAGER)
    assert tam is not None and maud is not None
    of = {m.to[0]: m for m in mail.outbox}
    assert set(of) == {tam.email, maud.email}
    assert of[tam.email].subject == "Thistlewick Levels: run sheet 3 announced"
    lines = of[tam.email].body.splitlines()
    assert lines[2:4] == [
        "Alder Reach: moved from Tue 14 July 07:10 to Wed 15 July 07:10, 6 h 30",
        "Alder Reach: cancelled, was Thu 16 July 06:10",
    ]
    assert of[maud.email].body.splitlines()[2:4] == [
        f"{announced.changes[2]['block']}: new, Tue 14 July 18:10, 6 h 30",
        f"{announced.changes[2]['block']}: Wed 15 July 12:10, now 6 h 30",
    ]
    assert send_announcements(farm) == 0
    assert len(mail.outbox) == 2


def test_who_left_the_farm_hears_nothing(farm: Farm, announced: Announcement) -> None:
    Membership.objects.filter(farm=farm, user=demo_user(Role.IRRIGATOR)).delete()
    assert send_announcements(farm) == 1


def test_only_the_newest_is_news(farm: Farm, announced: Announcement) -> None:
    announced.made_at = farm.now() - timedelta(hours=25)
    announced.save()
    assert send_announcements(farm) == 0


def test_a_mail_server_that_fails_one_keeps_no_other(
    farm: Farm, announced: Announcement, monkeypatch: pytest.MonkeyPatch
) -> None:
    real, failed = mail.EmailMessage.send, []

    def send(self: mail.EmailMessage, fail_silently: bool = False) -> int:
        if not failed:
            failed.append(self.to)
            raise OSError
        return real(self, fail_silently)

    monkeypatch.setattr(mail.EmailMessage, "send", send)
    assert send_announcements(farm) == 1
    # Who did not get it gets it the next time.
    assert send_announcements(farm) == 1
    assert len(mail.outbox) == 2
