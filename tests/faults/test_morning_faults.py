"""The morning killed at each of its steps: every block has its advice once, everybody his mail."""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace

import pytest

from tests.faults.conftest import WAITING, Cluster
from tests.faults.forked import Forked
from tests.faults.mail_server import Mailbox, mail_server
from tests.faults.test_ingest_faults import SET_UP
from tests.waiting import wait_until

BLOCKS, PEOPLE = 3, 2
# A farm whose clock stands at six, the morning of which has not come yet.
ASLEEP = (
    SET_UP
    + f"""
from datetime import UTC, datetime
from server.limits.models import BlockSoil
from server.soils.models import Horizon, SoilProfile
farm.fixed_now = datetime(2026, 7, 14, 4, tzinfo=UTC); farm.save()
soil = SoilProfile(farm=farm, name="Loam"); soil.save()
Horizon(profile=soil, top_mm=0, bottom_mm=1200, texture="loam").save()
for k in range({BLOCKS - 1}):
    Block(farm=farm, name=f"B{{k}}", area_m2=10000, system_kind="drip", efficiency=0.9).save()
Block.objects.for_farm(farm).update(rate_mm_h=2)
for block in Block.objects.for_farm(farm):
    BlockSoil(block=block, soil=soil, made_at=farm.now()).save()
for k in range({PEOPLE}):
    one = User.objects.create_user(f"{{name}}{{k}}@example.org", "N")
    Membership(user=one, farm=farm, role=Role.IRRIGATOR, morning_mail=True).save()
print("FARM", farm.pk)
"""
)
MORNING = "from server.today.tasks import morning; morning(0)"
ADVICE = (
    "SELECT count(*) FROM advice_advice a JOIN blocks_block b ON b.id = a.block_id "
    "WHERE b.farm_id = %s"
)
SENT = "SELECT count(*) FROM today_morningsent WHERE farm_id = %s"


@pytest.fixture
def mailbox() -> Iterator[Mailbox]:
    with mail_server() as mailbox:
        yield mailbox


@pytest.fixture
def asleep(cluster: Cluster) -> int:
    told = cluster.shell(ASLEEP)
    return int(next(x for x in told.splitlines() if x.startswith("FARM")).split()[1])


@contextmanager
def morning(cluster: Cluster, mailbox: Mailbox) -> Iterator[Forked]:
    """A worker at its morning."""
    environment = {
        **cluster.environment,
        "FURROW_MAIL_HOST": "127.0.0.1",
        "FURROW_MAIL_PORT": str(mailbox.port),
        "FURROW_MAIL_TLS": "0",
    }
    process = cluster.forker.start(["manage.py", "shell", "-v0", "-c", MORNING], environment)
    try:
        yield process
    finally:
        process.kill()


def well(cluster: Cluster, mailbox: Mailbox) -> None:
    with morning(cluster, mailbox) as process:
        assert process.wait() == 0


def all_there(cluster: Cluster, farm: int, mailbox: Mailbox) -> None:
    assert cluster.ask(ADVICE, farm)[0] == BLOCKS
    assert cluster.ask(SENT, farm)[0] == PEOPLE
    assert len({mail["To"] for mail in mailbox.mails}) == PEOPLE


@pytest.mark.parametrize("victim", ["worker", "database"])
@pytest.mark.parametrize("step", ["advice_advice", "today_morningsent"])
def test_killed_while_advice_is_put_on_record_or_mail_noted(
    cluster: Cluster, asleep: int, mailbox: Mailbox, step: str, victim: str
) -> None:
    with cluster.connect() as in_the_way:
        in_the_way.execute(f"LOCK TABLE {step} IN ACCESS EXCLUSIVE MODE")
        with morning(cluster, mailbox) as process:
            wait_until(lambda: cluster.ask(WAITING)[0] > 0, "the morning to be at that step")
            if victim == "database":
                cluster.stop("immediate")
                cluster.start()
                process.wait()
        in_the_way.close()
    well(cluster, mailbox)
    all_there(cluster, asleep, mailbox)
    assert len(mailbox.mails) == PEOPLE


def test_killed_between_a_mail_and_its_note(
    cluster: Cluster, asleep: int, mailbox: Mailbox
) -> None:
    """Nobody can know whether it went out: it goes again, and is known as the same mail."""
    mailbox.silent.set()
    with morning(cluster, mailbox):
        wait_until(lambda: len(mailbox.mails) > 0, "the first mail")
    mailbox.silent.clear()
    well(cluster, mailbox)
    well(cluster, mailbox)
    all_there(cluster, asleep, mailbox)
    assert len(mailbox.mails) == PEOPLE + 1
    assert len({mail["Message-ID"] for mail in mailbox.mails}) == PEOPLE


@pytest.mark.parametrize("how", ["gone", "hanging"])
def test_a_mail_server_that_does_not_answer_keeps_no_advice_back(
    cluster: Cluster, asleep: int, mailbox: Mailbox, how: str
) -> None:
    mailbox.silent.set()
    well(cluster, replace(mailbox, port=1) if how == "gone" else mailbox)
    mailbox.silent.clear()
    assert cluster.ask(ADVICE, asleep)[0] == BLOCKS
    assert cluster.ask(SENT, asleep)[0] == 0
    well(cluster, mailbox)
    all_there(cluster, asleep, mailbox)
