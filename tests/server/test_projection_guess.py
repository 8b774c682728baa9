"""Files that name no projection, or a wrong one: told by where the blocks lie."""

import numpy as np
import pytest
from pyproj import Transformer
from shapely.geometry import box

from server.siting.layer_files.places import Place
from server.siting.layer_files.projection_guess import fitting_projection
from tests.server.siting_bench import (
    Bench,
    net,
    siting_bench,  # noqa: F401
    table,
)

HEADINGS = "X,Y,Yield (t/ha)"


def written_in(epsg: int) -> bytes:
    lon, lat, value = net()
    x, y = Transformer.from_crs(4326, epsg, always_xy=True).transform(lon, lat)
    return table(HEADINGS, x, y, value)


@pytest.mark.parametrize(
    ("lon", "lat", "epsg"),
    [
        (3.06, 56.4, 32631),
        (10.5, 51.2, 31467),  # Gauss-Krueger zone 3, whose eastings begin with the zone's number
        (2.5, 47.0, 2154),  # Lambert-93
        (-120.0, 46.2, 2927),  # a state plane in feet
        (149.2, -33.5, 7855),  # MGA 2020 zone 55
        (-1.3, 52.3, 3857),  # web maps
    ],
)
def test_positions_lie_on_the_block_in_their_projection(lon: float, lat: float, epsg: int) -> None:
    place = Place("Block", box(lon - 0.003, lat - 0.003, lon + 0.003, lat + 0.003))
    x, y = Transformer.from_crs(4326, epsg, always_xy=True).transform(
        np.array([lon, lon + 0.001, np.nan]), np.array([lat, lat + 0.001, lat])
    )
    code = fitting_projection(x, y, [place])
    back = Transformer.from_crs(int(code), 4326, always_xy=True).transform(x[0], y[0])
    # Another datum of the same grid may be named; it lies metres off.
    assert back == pytest.approx((lon, lat), abs=5e-5)


def test_nothing_fits_elsewhere() -> None:
    place = Place("Block", box(3.06, 56.4, 3.07, 56.41))
    assert fitting_projection(np.array([12.0]), np.array([9.0]), [place]) == ""
    assert fitting_projection(np.array([np.nan]), np.array([9.0]), [place]) == ""
    assert fitting_projection(np.array([503_900.0]), np.array([6_250_900.0]), []) == ""


def test_metres_without_a_projection_are_read_by_the_one_that_fits(bench: Bench) -> None:
    up = bench.upload(written_in(32631))
    assert (up["look"]["near"], up["look"]["away_km"]) == ("Quern Field", 0)
    assert up["look"]["fitting"] == up["reading"]["projection"] == "32631"
    assert up["look"]["projection"] == "WGS 84 / UTM zone 31N"
    assert up["look"]["problem"] == ""


def test_a_wrong_zone_is_told_the_right_one(bench: Bench) -> None:
    up = bench.upload(written_in(32631))
    wrong = bench.read(up, projection="32632")
    assert wrong["look"]["away_km"] > 300
    assert wrong["look"]["fitting"] == "32631"
    # What a person takes out stays out.
    none = bench.read(up, projection="")
    assert none["reading"]["projection"] == ""
    assert "metres" in none["look"]["problem"]
    assert none["look"]["fitting"] == "32631"


def test_degrees_need_none(bench: Bench) -> None:
    lon, lat, value = net()
    up = bench.upload(table("Longitude,Latitude,Yield (t/ha)", lon, lat, value))
    assert up["look"]["fitting"] == up["reading"]["projection"] == ""
