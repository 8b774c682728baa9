"""What headings and readings of a file that nobody described are taken to say."""

from datetime import datetime, timedelta
from pathlib import Path

import numpy as np
import pytest

from core.instrument.kinds import Quantity
from core.instrument.reading_units import ReadingUnit
from server.imports.guess import Sensor, guess
from server.imports.heading import read_heading


@pytest.mark.parametrize(
    ("text", "depth", "layer"),
    [
        ("VWC_5cm", 50.0, None),
        ("VWC5cm", 50.0, None),
        ("sm_0.05m", 50.0, None),
        ("6 in", 152.4, None),
        ("10-20", 150.0, (100.0, 200.0)),
        ("VWC 30–60cm", 450.0, (300.0, 600.0)),
        ("0-6 in", 76.2, (0.0, 152.4)),
        ("Probe A1-2 30 cm", 300.0, None),
        ("2026-07-14", None, None),
        ("20-10", None, None),
    ],
)
def test_a_depth_in_a_heading(
    text: str, depth: float | None, layer: tuple[float, float] | None
) -> None:
    said = read_heading(text)
    assert (said.depth_mm, said.layer_mm) == (depth, layer)


@pytest.mark.parametrize(
    ("text", "level"), [("SWC 3 1", 3), ("SWC_1_3_1", 3), ("SWC_3", None), ("Port 3 1", None)]
)
def test_a_numbered_level(text: str, level: int | None) -> None:
    assert read_heading(text).level == level


@pytest.mark.parametrize("text", ["SM 5 cm", "sm_0.05m", "VWC_5cm", "swc5cm", "Soil moisture"])
def test_what_is_soil_moisture(text: str) -> None:
    assert read_heading(text).quantity is Quantity.THETA


DEPTHS = (50.0, 150.0, 300.0)


def of_file(folder: Path, headings: list[str], rows: np.ndarray) -> list[tuple[float, ReadingUnit]]:
    """Depth and unit that each column of a probe's file is taken for."""
    sensors = [
        Sensor(k, 1, Quantity.THETA, d, "", frozenset(), frozenset()) for k, d in enumerate(DEPTHS)
    ]
    lines = [",".join(["time", *headings])]
    lines += [
        ",".join([f"2026-07-14 {i:02d}:00", *(f"{v:g}" for v in row)]) for i, row in enumerate(rows)
    ]
    path = folder / "logger.csv"
    path.write_text("\n".join(lines) + "\n")
    uses = guess(path, path.name, sensors, 1).columns
    return [(DEPTHS[u.channel_id], u.unit) for u in uses]


DRY_TOP = np.tile([0.8, 22.0, 31.0], (12, 1)) + np.linspace(0, 0.1, 12)[:, None]


@pytest.mark.parametrize(
    "headings",
    [
        ["VWC_5cm", "VWC_15cm", "VWC_30cm"],
        ["SWC 1 1", "SWC 2 1", "SWC 3 1"],
        ["sm_0.05m", "sm_0.15m", "sm_0.30m"],
        ["0-10", "10-20", "20-40"],
    ],
    ids=["by depth", "by level", "in metres", "by layer"],
)
def test_one_probe_writes_one_unit(tmp_path: Path, headings: list[str]) -> None:
    """A top at 0.8 percent is no 0.8 m3/m3 where the rest of the probe reads 22 and 31."""
    found = of_file(tmp_path, headings, DRY_TOP)
    assert found == [(d, ReadingUnit.PERCENT) for d in DEPTHS]


def test_fractions_stay_fractions_and_a_said_unit_holds_for_all(tmp_path: Path) -> None:
    plain = ["VWC_5cm", "VWC_15cm", "VWC_30cm"]
    assert {u for _, u in of_file(tmp_path, plain, DRY_TOP / 100)} == {ReadingUnit.FRACTION}
    one_said = ["VWC_5cm", "VWC_15cm (%)", "VWC_30cm"]
    dry = np.full((12, 3), 0.9)
    assert {u for _, u in of_file(tmp_path, one_said, dry)} == {ReadingUnit.PERCENT}


def test_a_sensor_that_came_later_has_its_unit_from_further_down(tmp_path: Path) -> None:
    """Of 6,000 rows the first 4,000 hold nothing; a heading that tells no unit is in percent."""
    path = tmp_path / "logger.csv"
    start = datetime(2026, 1, 1)
    rows = [
        f"{start + timedelta(hours=k):%Y-%m-%d %H:%M},{'-9999' if k < 4000 else 23.5}"
        for k in range(6000)
    ]
    path.write_text("\n".join(["time,SWC_1_1", *rows]) + "\n")
    sensors = [Sensor(7, 1, Quantity.THETA, 50.0, "", frozenset(), frozenset())]
    (use,) = guess(path, path.name, sensors, 1).columns
    assert (use.channel_id, use.unit) == (7, ReadingUnit.PERCENT)


def test_a_column_of_quality_flags_names_no_sensor(tmp_path: Path) -> None:
    """A network's export: its flags are no keys, and no reading is left out for its flag."""
    path = tmp_path / "station.csv"
    start = datetime(2026, 1, 1)
    flags = ["D05" if k % 7 == 0 else "G" for k in range(300)]
    rows = [
        f"{start + timedelta(hours=k):%Y-%m-%d %H:%M},0.{230 + k % 9},{flag},M"
        for k, flag in enumerate(flags)
    ]
    heading = "date_time,soil_moisture,soil_moisture_flag,soil_moisture_orig_flag"
    path.write_text("\n".join([heading, *rows]) + "\n")
    sensors = [Sensor(7, 1, Quantity.THETA, 50.0, "", frozenset(), frozenset())]
    layout = guess(path, path.name, sensors, 1)
    assert layout.shape == "wide"
    assert [(u.column, u.channel_id) for u in layout.columns] == [(1, 7)]
