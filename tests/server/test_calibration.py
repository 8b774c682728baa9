"""The calibration bench: masses in, a curve in force from a day on, taken back again."""

from datetime import timedelta
from typing import Any

import numpy as np
import pytest

from server.farms.models import Farm, Role
from server.instruments.models import ChannelCalibration, Instrument
from server.readings.models import ReadingBatch
from server.readings.store import ROW, row_of, store_readings
from tests.server.conftest import Api

BASE = "/farms/thistlewick"
SAMPLES = [
    {"raw": raw, "wet_g": 150 + water, "dry_g": 150, "tare_g": 20, "volume_ml": 100}
    for raw, water in ((12_000, 4), (17_500, 12), (22_000, 20), (26_500, 28), (33_500, 40))
]


@pytest.fixture
def probe(manager: Api, farm: Farm) -> Instrument:
    """A probe that writes down counts, with a day of readings."""
    block = Instrument.objects.for_farm(farm).get(label="Probe A1").block_id
    body = {
        "label": "Raw",
        "kind": "capacitance_probe",
        "depths_mm": [200, 400],
        "quantity": "counts",
    }
    made = manager.post(f"{BASE}/blocks/{block}/instruments", body, status=201)
    batch = ReadingBatch(farm=farm, origin=ReadingBatch.Origin.SIMULATED)
    batch.save()
    rows = [
        row_of(c["id"], farm.now() - timedelta(minutes=15 * i), 22_000 + 10 * (i % 7), 6)
        for c in made["channels"]
        for i in range(96)
    ]
    store_readings(batch, np.array(rows, ROW))
    found: Instrument = Instrument.objects.for_farm(farm).get(pk=made["id"])
    return found


def sheet(probe: Instrument, **more: Any) -> dict[str, Any]:
    channels = list(probe.channels.order_by("depth_mm").values_list("pk", flat=True))
    return {"samples": SAMPLES, "channels": channels, "dried_c": 105, **more}


def last_theta(api: Api, probe: Instrument, farm: Farm) -> list[float | None]:
    first, last = (f"{t:%Y-%m-%dT%H:%M}" for t in (farm.now() - timedelta(days=1), farm.now()))
    stretch = f"first={first}&last={last}"
    lines = api.get(f"{BASE}/instruments/{probe.pk}/chart?{stretch}")["lines"]
    return [line["values"][-1] if line["values"] else None for line in lines]


def test_from_masses_to_a_curve_in_force(manager: Api, probe: Instrument, farm: Farm) -> None:
    path = f"{BASE}/instruments/{probe.pk}"
    # Counts without a curve are no water content: unknown, not zero.
    assert last_theta(manager, probe, farm) == [None, None]
    assert manager.get(path)["health"]["needs_calibration"] is True
    told = manager.post(f"{path}/worksheet", sheet(probe))
    assert told["weighed"][2] == pytest.approx(
        {"gravimetric": 20 / 130, "bulk_density": 1.3, "theta": 0.20}
    )
    fits = {f["kind"]: f for f in told["fits"]}
    assert set(fits) == {"linear", "quadratic", "cubic"}
    assert fits["linear"]["grave"] == []
    assert told["best"] in fits
    assert told["coverage"] > 0.6
    made = manager.post(
        f"{path}/curves", sheet(probe, kind="linear", reason="bench, loam of Reach"), status=201
    )
    assert last_theta(manager, probe, farm) == pytest.approx([0.2, 0.2], abs=0.01)
    detail = manager.get(path)
    assert detail["health"]["needs_calibration"] is False
    assert [c["samples"] for c in detail["curves"]] == [5, 5]
    csv = manager.client.get(f"/api{BASE}/curves/{made['curves'][0]}/samples.csv").content
    again = manager.upload(f"{path}/worksheet/file", "sheet.csv", csv)
    assert again["samples"] == SAMPLES
    # A later curve holds from its own instant; undone, the one before holds again.
    later = (farm.now() - timedelta(hours=1)).isoformat()
    shifted = [{**s, "wet_g": s["wet_g"] + 5} for s in SAMPLES]
    new = manager.post(
        f"{path}/curves",
        sheet(probe, samples=shifted, kind="linear", reason="second bench", from_at=later),
        status=201,
    )
    assert last_theta(manager, probe, farm) == pytest.approx([0.25, 0.25], abs=0.01)
    for curve in new["curves"]:
        manager.client.delete(f"/api{BASE}/curves/{curve}")
    assert last_theta(manager, probe, farm) == pytest.approx([0.2, 0.2], abs=0.01)
    assert ChannelCalibration.unscoped.filter(undone_at__isnull=False).count() == 2


def test_a_poor_worksheet_needs_insisting(manager: Api, probe: Instrument) -> None:
    path = f"{BASE}/instruments/{probe.pk}/curves"
    poor = sheet(probe, samples=SAMPLES[1:4], kind="linear", reason="no time")
    answer = manager.post(path, poor, status=422)
    assert {p["field"] for p in answer["problems"]} == {"insist"}
    assert "needs 4" in answer["problems"][0]["message"]
    manager.post(path, {**poor, "insist": True}, status=201)


@pytest.mark.parametrize(
    "change, field",
    [
        ({"channels": []}, "channels"),
        ({"channels": [10**9]}, "channels"),
        ({"samples": [{**SAMPLES[0], "dry_g": 10}]}, "samples.0.dry_g"),
        ({"samples": [{**SAMPLES[0], "raw": 1e300}]}, "samples"),
    ],
)
def test_what_is_no_worksheet(manager: Api, probe: Instrument, change: dict, field: str) -> None:
    path = f"{BASE}/instruments/{probe.pk}/worksheet"
    answer = manager.post(path, sheet(probe, **change), status=422)
    assert answer["problems"][0]["field"] == field


@pytest.mark.parametrize(
    "text, word",
    [
        (b"raw,wet_g\n1,2\n", "heading needs"),
        (b"raw,wet_g,dry_g,tare_g,volume_ml\n1,2,x,4,5\n", "not a number"),
        (b"raw,wet_g,dry_g,tare_g,volume_ml\n", "no samples"),
        (b"", "empty"),
    ],
)
def test_what_is_no_worksheets_file(
    manager: Api, probe: Instrument, text: bytes, word: str
) -> None:
    path = f"{BASE}/instruments/{probe.pk}/worksheet/file"
    answer = manager.upload(path, "s.csv", text, status=422)
    assert word in answer["message"] + "".join(p["message"] for p in answer["problems"])


def test_cores_shift_a_probe_that_reads_content(manager: Api, farm: Farm) -> None:
    """A field check: the offset between cores and the factory's curve, from its day on."""
    row = Instrument.objects.for_farm(farm).get(label="Probe A1")
    channel = row.channels.earliest("depth_mm").pk
    cores = [
        {"raw": r, "wet_g": 150 + w, "dry_g": 150, "tare_g": 20, "volume_ml": 100}
        for r, w in ((0.10, 13), (0.18, 21), (0.25, 28), (0.31, 34))
    ]
    body = {"samples": cores, "channels": [channel]}
    told = manager.post(f"{BASE}/instruments/{row.pk}/worksheet", body)
    offset = next(f for f in told["fits"] if f["kind"] == "offset")
    assert offset["coefficients"] == pytest.approx([0.03, 1.0])
    assert told["best"] == "offset"


def test_tensions_take_no_curve_and_scouts_make_none(
    manager: Api, as_role: Any, farm: Farm, probe: Instrument
) -> None:
    gauge = Instrument.objects.for_farm(farm).get(label="Tensiometers T1")
    body = {"samples": SAMPLES, "channels": [gauge.channels.earliest("depth_mm").pk]}
    answer = manager.post(f"{BASE}/instruments/{gauge.pk}/worksheet", body, status=422)
    assert "Tension" in answer["problems"][0]["message"]
    scout = as_role(Role.SCOUT)
    apply = sheet(probe, kind="linear", reason="x")
    scout.post(f"{BASE}/instruments/{probe.pk}/curves", apply, status=403)
