"""Tables of points as programs of many countries write them."""

from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from core.siting.layer import LayerKind
from core.siting.yield_units import YieldUnit
from server.base.errors import RequestError
from server.siting.layer_files.first_look import first_look
from server.siting.layer_files.read_layer import LayerPoints, read_layer
from server.siting.layer_files.reading import LayerReading, LengthUnit, SpeedUnit

POINTS = [(3.06 + k * 1e-5, 56.4 + k * 1e-5, 6.0 + k % 5) for k in range(40)]


def table(heading: str, separator: str = ",", mark: str = ".") -> str:
    rows = [separator.join(f"{v:.6f}".replace(".", mark) for v in row) for row in POINTS]
    return "\n".join([heading, *rows])


def read(tmp_path: Path, text: str, encoding: str = "utf-8") -> tuple[LayerReading, LayerPoints]:
    path = tmp_path / "points.csv"
    path.write_bytes(text.encode(encoding))
    look, reading = first_look(path, "maize 2021.csv", [], None)
    assert look.problem == ""
    return reading, read_layer(path, reading)


@pytest.mark.parametrize(
    ("text", "encoding"),
    [
        (table("Longitude,Latitude,Yield (t/ha)"), "utf-8"),
        (table("Longitude,Latitude,Yield (t/ha)"), "utf-8-sig"),
        (table("Longitude\tLatitude\tYield (t/ha)", "\t"), "utf-16"),
        (table("Länge;Breite;Ertrag (t/ha)", ";", ","), "utf-8"),
        (table("Länge;Breite;Ertrag (t/ha)", ";", ","), "cp1252"),
        ("Field: North\nOperator: none\n\n" + table("Lon,Lat,Yield (t/ha)"), "utf-8"),
        (table("Longitude,Latitude,Yield") + "\nTotal,,400\n", "utf-8"),
    ],
)
def test_a_table_is_read_whatever_its_letters_and_marks(
    tmp_path: Path, text: str, encoding: str
) -> None:
    reading, points = read(tmp_path, text, encoding)
    assert (reading.kind, reading.unit) == (LayerKind.YIELD, YieldUnit.T_HA)
    np.testing.assert_allclose(np.column_stack([points.lon, points.lat, points.value]), POINTS)


def test_units_may_stand_below_the_heading(tmp_path: Path) -> None:
    rows = "\n".join(f"{x:.6f},{y:.6f},{v},5.4,360" for x, y, v in POINTS)
    heading = "Longitude,Latitude,Yield,Speed,Swath width\n(deg),(deg),(dt/ha),(km/h),(in)\n"
    reading, points = read(tmp_path, heading + rows)
    assert reading.unit is YieldUnit.DT_HA
    assert (reading.speed_unit, reading.width_unit) == (SpeedUnit.KM_H, LengthUnit.IN)
    assert points.value[0] == pytest.approx(0.6)
    assert (points.speed_m_s is None, points.width_m is None) == (False, False)
    assert points.without_position == 1


@pytest.mark.parametrize(
    ("heading", "flow", "t_ha"),
    [
        # 2 m/s over 6 m are 12 m2/s: 9 kg/s are 0.75 kg/m2.
        ("Flow (kg/s)", 9.0, 7.5),
        ("Mass flow(lb/s)", 9.0, 7.5 * 0.45359237),
        ("Grain flow t/h", 32.4, 7.5),
        ("flow", 9.0, 7.5),
    ],
)
def test_a_flow_becomes_a_yield(tmp_path: Path, heading: str, flow: float, t_ha: float) -> None:
    rows = "\n".join(f"{x:.6f},{y:.6f},{flow},2.0,6.0" for x, y, _ in POINTS)
    text = f"Longitude,Latitude,{heading},Speed (m/s),Swath width (m)\n{rows}"
    reading, points = read(tmp_path, text)
    assert reading.flow
    assert points.value == pytest.approx(np.full(len(POINTS), t_ha))


def test_codes_for_nothing_measured_are_no_values(tmp_path: Path) -> None:
    text = table("Longitude,Latitude,Yield").replace("7.000000", "-9999")
    _, points = read(tmp_path, text)
    assert np.isnan(points.value).sum() == 8
    assert np.nanmin(points.value) == 6.0


def test_a_survey_beside_elevations_is_a_survey(tmp_path: Path) -> None:
    rows = "\n".join(f"{x:.6f},{y:.6f},12.5,{v}" for x, y, v in POINTS)
    reading, points = read(tmp_path, f"lon,lat,Elevation (m),EC_sh (mS/m)\n{rows}")
    assert reading.kind is LayerKind.CONDUCTIVITY_SHALLOW
    assert points.value[0] == 6.0
    reading, _ = read(tmp_path, table("lon,lat,alt"))
    assert reading.kind is LayerKind.ELEVATION


def test_a_picture_without_a_place_is_an_index(tmp_path: Path) -> None:
    path = tmp_path / "aerial.png"
    Image.fromarray(np.full((8, 8, 3), 120, np.uint8)).save(path)
    look, reading = first_look(path, "aerial.png", [], None)
    assert reading.kind is LayerKind.INDEX
    assert not look.placed
    assert "corners" in look.problem


@pytest.mark.parametrize("data", [b"", b"\x00\x01\xff\xfe" * 50, b"3.06,56.4,6\n3.07,56.4,7\n"])
def test_what_is_no_table_is_refused(tmp_path: Path, data: bytes) -> None:
    path = tmp_path / "points.csv"
    path.write_bytes(data)
    with pytest.raises(RequestError):
        first_look(path, "maize.csv", [], None)
