"""The demo farm's plan: invented ground in open sea, so that it is nobody's land."""

from math import cos, pi, radians, sin
from typing import Any

# Corner of the plan [degrees]; no land lies here.
WEST, SOUTH = 3.0500, 56.4000
M_PER_DEGREE = 111_320.0


def lonlat(x_m: float, y_m: float) -> list[float]:
    """A point of the plan, metres east and north of its corner, in degrees."""
    return [
        round(WEST + x_m / (M_PER_DEGREE * cos(radians(SOUTH))), 7),
        round(SOUTH + y_m / M_PER_DEGREE, 7),
    ]


def polygon(*corners: tuple[float, float]) -> dict[str, Any]:
    """A ring of corners in metres, closed."""
    ring = [lonlat(x, y) for x, y in corners]
    return {"type": "Polygon", "coordinates": [[*ring, ring[0]]]}


def circle(x_m: float, y_m: float, radius_m: float) -> dict[str, Any]:
    """A pivot's circle as a ring of 72 corners."""
    turn = [2 * pi * i / 72 for i in range(72)]
    return polygon(*((x_m + radius_m * cos(a), y_m + radius_m * sin(a)) for a in turn))


def line(*points: tuple[float, float]) -> dict[str, Any]:
    """A line through points in metres."""
    return {"type": "LineString", "coordinates": [lonlat(x, y) for x, y in points]}


def point(x_m: float, y_m: float) -> dict[str, Any]:
    """A point in metres."""
    return {"type": "Point", "coordinates": lonlat(x_m, y_m)}


OUTLINES: dict[str, dict[str, Any]] = {
    "Long Tye": circle(400, 420, 348),
    "Low Ings": polygon((60, 840), (480, 800), (500, 1080), (80, 1120)),
    "Sallow Bank": polygon((540, 805), (965, 795), (990, 1125), (560, 1145)),
    "Alder Reach": polygon((810, 520), (1060, 500), (1070, 745), (815, 760)),
    "Quern Field": polygon((800, 180), (1100, 150), (1120, 460), (810, 475)),
    "Tarn Breck": polygon((1160, 140), (1450, 170), (1440, 470), (1150, 455)),
    "Marl Pit": polygon((1120, 520), (1340, 515), (1345, 755), (1125, 760)),
    "Upper Hanger": polygon((1040, 800), (1300, 795), (1310, 1080), (1050, 1095)),
    "Wick Terrace": polygon((1350, 800), (1530, 790), (1540, 1015), (1360, 1025)),
    "Gorse Piece": polygon((1400, 520), (1570, 510), (1575, 700), (1405, 715)),
    "Reed Carr": polygon((1615, 515), (1850, 505), (1858, 745), (1622, 755)),
    "Osier Carr": polygon((1500, 175), (1690, 165), (1700, 395), (1508, 405)),
}
FEATURES: tuple[tuple[str, str, dict[str, Any]], ...] = (
    ("pump", "River pump", point(30, 790)),
    ("pump", "North bore", point(1110, 775)),
    ("pipe", "Main", line((30, 790), (520, 770), (780, 775), (1110, 775), (1560, 765))),
    ("pipe", "Pivot supply", line((300, 775), (395, 430))),
    ("pump", "Carr sluice", point(1730, 470)),
    ("tree line", "Alder belt", line((20, 1150), (560, 1160), (1010, 1125))),
    ("tree line", "West belt", line((30, 180), (48, 430), (40, 640))),
    ("pivot", "Long Tye pivot", point(400, 420)),
    ("track", "Pivot track", line((400, 60), (402, 420))),
    ("gate", "South gate", point(400, 68)),
    ("base station", "Mast at the pump", point(36, 784)),
    ("tree line", "North hedge", line((1040, 1120), (1560, 1060))),
    ("instrument", "Probe L1", point(560, 300)),
    ("instrument", "Probe A1", point(1020, 570)),
    ("instrument", "Probe Q1", point(1040, 230)),
    ("instrument", "Tensiometers T1", point(1220, 390)),
    ("soil zone", "Upper terrace", polygon((1354, 890), (1534, 880), (1540, 1015), (1360, 1025))),
    ("soil zone", "Lower terrace", polygon((1350, 800), (1530, 790), (1534, 880), (1354, 890))),
    ("soil zone", "Gravel tongue", polygon((640, 300), (720, 360), (690, 520), (600, 440))),
)
