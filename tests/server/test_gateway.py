"""The simulated gateway at the application's real door, well and with each of its faults."""

import json
import urllib.error
from datetime import UTC, datetime, timedelta
from email.message import Message
from pathlib import Path
from typing import Any

import pytest
from django.core.management import call_command
from django.test import Client
from django.utils import timezone

from core.quality.flags import Flag
from server.demo.farm import NOW
from server.devices.models import Device
from server.farms.models import Farm
from server.readings.models import Reading, ReadingBatch
from standins import gateway as standin
from standins.faults import (
    Fault,
    FaultKind,
    Twister,
    WrongFault,
    check_fault,
    read_faults,
    write_faults,
)
from standins.gateway import Door, Gateway, depths_cm, pause_after


class TestDoor(Door):
    """The door without a network."""

    __test__ = False

    def __init__(self, token: str) -> None:
        super().__init__("", token)
        self.client = Client(headers={"Authorization": f"Bearer {token}"})

    def _ask(self, path: str, body: Any = None) -> Any:
        if body is None:
            answer = self.client.get(path)
        else:
            answer = self.client.post(path, json.dumps(body), content_type="application/json")
        assert answer.status_code == 200, answer.content[:500]
        return json.loads(answer.content)


@pytest.fixture(autouse=True)
def still_clock(monkeypatch: pytest.MonkeyPatch) -> datetime:
    """The machine's clock stands: how long a test takes must not show on the farm's."""
    now = datetime(2026, 9, 1, 12, tzinfo=UTC)
    monkeypatch.setattr(timezone, "now", lambda: now)
    return now


@pytest.fixture
def door(farm: Farm, tmp_path: Path) -> TestDoor:
    call_command("demo_clock", rate=1.0, token_file=tmp_path / "token")
    return TestDoor((tmp_path / "token").read_text())


@pytest.fixture(scope="module")
def simulated() -> dict[str, Any]:
    return standin.simulate_on(4)


@pytest.fixture
def gateway(
    door: TestDoor, simulated: dict[str, Any], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> Gateway:
    monkeypatch.setattr(standin, "DAYS_AHEAD", 4)
    monkeypatch.setattr(standin, "simulate_on", lambda days: simulated)
    return Gateway(door, tmp_path / "faults.json")


def pass_time(hours: float) -> None:
    """Farm time goes by: the clock was started that much earlier."""
    farm = Farm.objects.get(slug="thistlewick")
    farm.clock_started_at -= timedelta(hours=hours) / farm.clock_rate
    farm.save()


def ask(gateway: Gateway, *faults: Fault) -> None:
    write_faults(gateway._faults, list(faults))


def sent(label: str, depth_cm: float) -> list[Reading]:
    rows = Reading.unscoped.filter(
        channel__instrument__label=label, channel__depth_mm=depth_cm * 10, time__gt=NOW
    )
    return list(rows.order_by("time"))


def test_the_farms_clock_runs_and_stands_again(farm: Farm) -> None:
    assert farm.now() == NOW
    call_command("demo_clock", rate=3600.0)
    farm.refresh_from_db()
    farm.clock_started_at = timezone.now() - timedelta(seconds=2)
    farm.save()
    assert farm.now() == NOW + timedelta(hours=2)
    call_command("demo_clock")
    farm.refresh_from_db()
    assert farm.clock_started_at is None
    assert farm.now() == NOW + timedelta(hours=2)


def test_it_sends_every_quarter_of_an_hour_of_farm_time(gateway: Gateway) -> None:
    assert gateway.step() is None
    pass_time(1)
    said = gateway.step()
    assert said is not None
    assert "0 refused" in said
    rows = sent("Probe A1", 10)
    assert [r.time - NOW for r in rows] == [timedelta(minutes=m) for m in (5, 20, 35, 50)]
    # It goes on where the simulated season was: no jump, no doubt.
    before = Reading.unscoped.filter(channel=rows[0].channel, time__lte=NOW).order_by("-time")[0]
    assert abs(rows[0].value - before.value) < 0.5
    assert {r.flags for r in rows} == {0}
    device = Device.unscoped.get(name="Demo gateway")
    assert device.simulated
    assert abs(device.skew_seconds or 0) < 5
    assert (device.battery_v, device.signal_dbm) == (3.62, -81.0)
    # The probe whose logger died stays silent.
    assert gateway.step() is None


def test_packets_are_lost_on_their_way(gateway: Gateway) -> None:
    ask(gateway, Fault(FaultKind.DROPPED_PACKETS))
    said = []
    for _ in range(20):
        pass_time(0.25)
        said.append(gateway.step() or "")
    lost = sum("lost on its way" in s for s in said)
    assert 3 <= lost <= 14
    assert ReadingBatch.unscoped.filter(device__name="Demo gateway").count() == 20 - lost


def test_three_days_are_flushed_at_once(gateway: Gateway) -> None:
    ask(gateway, Fault(FaultKind.LATE_FLUSH))
    for _ in range(3):
        pass_time(24)
        assert "held back" in (gateway.step() or "")
    assert sent("Probe A1", 10) == []
    pass_time(2)
    gateway.step()
    assert len(sent("Probe A1", 10)) == 74 * 4


def test_a_wrong_clock_is_seen(gateway: Gateway) -> None:
    ask(gateway, Fault(FaultKind.WRONG_CLOCK))
    pass_time(1)
    gateway.step()
    device = Device.unscoped.get(name="Demo gateway")
    assert device.skew_seconds == pytest.approx(-47 * 60, abs=5)


@pytest.mark.parametrize(
    "fault, flag",
    [
        (Fault(FaultKind.DEAD_DEPTH, "Probe A1", 30), Flag.FLAT),
        (Fault(FaultKind.BROKEN_COLUMN, "Tensiometers T1", 30), Flag.BROKEN_COLUMN),
        (Fault(FaultKind.SPIKE, "Probe A1", 30), Flag.SPIKE),
    ],
)
def test_what_goes_wrong_is_flagged(gateway: Gateway, fault: Fault, flag: Flag) -> None:
    pass_time(24)
    gateway.step()
    ask(gateway, fault)
    for _ in range(3):
        pass_time(24)
        gateway.step()
    rows = sent(fault.instrument, fault.depth_cm or 0)
    assert any(r.flags & flag for r in rows)
    # Its neighbour is well.
    other = next(d for d in depths_cm()[fault.instrument] if d != fault.depth_cm)
    assert not any(r.flags & flag for r in sent(fault.instrument, other))


def test_an_air_gap_reads_low_and_restless() -> None:
    twister = Twister(1)
    gap = [Fault(FaultKind.AIR_GAP, "P")]
    values = [twister.twist(gap, "P", 10.0, 30.0, k) for k in range(200)]
    assert 16 < sum(values) / 200 < 20
    assert max(values) - min(values) > 4
    assert twister.twist(gap, "Q", 10.0, 30.0, 1) == 30.0


def test_faults_that_can_not_be_are_refused(tmp_path: Path) -> None:
    with pytest.raises(WrongFault, match="no instrument 'Probe X'"):
        check_fault(Fault(FaultKind.SPIKE, "Probe X"), depths_cm())
    with pytest.raises(WrongFault, match="has no 31 cm"):
        check_fault(Fault(FaultKind.SPIKE, "Probe A1", 31), depths_cm())
    path = tmp_path / "faults.json"
    assert read_faults(path) == []
    path.write_text("{")
    with pytest.raises(WrongFault, match="Delete it"):
        read_faults(path)


def http_error(code: int, retry_after: str = "") -> urllib.error.HTTPError:
    headers = Message()
    if retry_after:
        headers["Retry-After"] = retry_after
    return urllib.error.HTTPError("", code, "", headers, None)


def test_pauses_grow_to_a_minute_and_are_never_shorter_than_asked() -> None:
    """Hand-worked: 2, 4, 8 ... s, at most 60; half of it at the least by chance."""
    gone = urllib.error.URLError("refused")
    assert [pause_after(n, gone, 1.0) for n in (1, 2, 3, 6, 50)] == [2, 4, 8, 60, 60]
    assert pause_after(3, gone, 0.5) == 4
    assert pause_after(1, http_error(503, "5"), 1.0) == 7
    assert pause_after(1, http_error(503, "soon"), 1.0) == 2
    assert 1 <= pause_after(1, gone) <= 2


def test_what_failed_is_sent_again_and_what_is_not_taken_makes_way(
    gateway: Gateway, door: TestDoor, monkeypatch: pytest.MonkeyPatch
) -> None:
    real, answers = door.send, [http_error(503), http_error(422)]

    def fails(body: dict[str, Any]) -> dict[str, Any]:
        if answers:
            raise answers.pop(0)
        return real(body)

    monkeypatch.setattr(door, "send", fails)
    pass_time(1)
    with pytest.raises(urllib.error.HTTPError):
        gateway.step()
    pass_time(0.25)
    # The first packet is not taken as it is; the one after it is.
    said = gateway.step() or ""
    assert "not taken (422)" in said
    assert "new" in said
    assert ReadingBatch.unscoped.filter(device__name="Demo gateway").count() == 1
