"""Water in soil columns by Richards' equation: a truth for trials, on laws of its own.

Nothing here is shared with the advice or with the layered column of `core.world.fields`.

References
----------
.. [1] Ross, P. J. (2003), Modeling soil water and solute transport: fast, simplified numerical
   solutions, Agron. J. 95:1352-1361, doi:10.2134/agronj2003.1352: the saturation of each cell
   is moved by fluxes linearised in it, once a step, which keeps the balance by construction.
.. [2] van Genuchten, M. Th. (1980), doi:10.2136/sssaj1980.03615995004400050002x.
.. [3] Vogel, T., van Genuchten, M. Th., Cislerova, M. (2001), Effect of the shape of the soil
   hydraulic functions near saturation on variably-saturated flow predictions, Adv. Water
   Resour. 24:133-144, doi:10.1016/S0309-1708(00)00037-3: an air entry of 2 cm.
.. [4] Feddes, R. A., Kowalik, P. J., Zaradny, H. (1978), Simulation of field water use and
   crop yield, Pudoc, Wageningen: uptake slowed by the pressure head.
.. [5] Jarvis, N. J. (1989), A simple empirical model of root water uptake, J. Hydrol.
   107:57-72, doi:10.1016/0022-1694(89)90050-4: a wet part makes up for a dry one.
"""

from dataclasses import dataclass

import numpy as np
from numba import njit, prange

from core.arrays import Floats

# Cells of 2 cm in the top 20 cm, where it dries and wets fast, and of 5 cm down to 2 m.
CELL_CM = np.concatenate([np.full(10, 2.0), np.full(36, 5.0)])
CELL_BOTTOM_CM = np.cumsum(CELL_CM)
CELL_MIDDLE_CM = CELL_BOTTOM_CM - CELL_CM / 2
SHORTEST_H, LONGEST_H = 1e-5, 1.0
STEP_SATURATION = 0.03  # a cell's saturation moves by about this much in a step, at most
ENTRY_CM = -2.0  # above this head the soil is saturated [3]_
STORAGE = 1e-4  # what a saturated cell takes per cm of head [1/cm]
LEFT_SHARE = 0.3  # of its saturation a cell keeps at least this in a step
DRIEST = 1e-8  # no cell gets drier than this saturation
AIR_DRY_CM = -1e5  # head to which evaporation dries the surface
POND_CM = 1.0  # what stands on the surface before it runs off
SUNRISE_H, DAYLIGHT_H = 6, 14
WET_CM, AIRY_CM = -1.0, -10.0  # no uptake above, full uptake below [4]_
COMPENSATED = 0.8  # uptake meets demand while this share of the roots is unstressed [5]_


@dataclass(frozen=True)
class Columns:
    """Soils by cell; arrays (fields, cells), van Genuchten [2]_ with heads in cm.

    alpha [1/cm], n [-], ksat_cm_h [cm/h], theta_r, theta_s [m3/m3]
    """

    theta_r: Floats
    theta_s: Floats
    alpha: Floats
    n: Floats
    ksat_cm_h: Floats


@njit(cache=True)
def _head(x: float, alpha: float, n: float, sc: float, width: float) -> tuple[float, float]:
    """Head at a saturation and its slope; ``sc`` is van Genuchten's saturation at the entry."""
    if x >= 1.0:
        slope = width / STORAGE
        return ENTRY_CM + (x - 1.0) * slope, slope
    m = 1.0 - 1.0 / n
    y = (x * sc) ** (-1.0 / m)
    h = -((y - 1.0) ** (1.0 / n)) / alpha
    # d|h|/dx = -|h| / (n m) * y / (y - 1) / x
    return h, -h / (n * m) * y / (y - 1.0) / x


@njit(cache=True)
def _conductivity(x: float, n: float, ks: float, sc: float, f1: float) -> tuple[float, float]:
    """Conductivity [cm/h] at a saturation and its slope."""
    if x >= 1.0:
        return ks, 0.0
    m = 1.0 - 1.0 / n
    u = (x * sc) ** (1.0 / m)
    g = (1.0 - u) ** m
    b = (1.0 - g) / f1
    root = np.sqrt(x)
    k = ks * root * b * b
    # dg/dx = -m (1-u)^(m-1) * u / (m x)
    slope_b = g / (1.0 - u) * u / x / f1
    return k, ks * (0.5 / root * b * b + root * 2.0 * b * slope_b)


@njit(cache=True)
def _stress(h: float, h3: float, h4: float) -> float:
    """Share of the wanted uptake at a head [4]_."""
    if h >= WET_CM:
        return 0.0
    if h > AIRY_CM:
        return (WET_CM - h) / (WET_CM - AIRY_CM)
    if h >= h3:
        return 1.0
    if h <= h4:
        return 0.0
    return (h - h4) / (h3 - h4)


@njit(cache=True)
def _hour(
    x: Floats,
    pond: float,
    soil: tuple[Floats, ...],
    rain: float,
    bare: float,
    demand: float,
    roots: Floats,
    h3: float,
    h4: float,
    totals: Floats,
) -> float:
    """One hour of one column; rates in cm/h; returns what stands on it [cm].

    Adds to ``totals``: transpired, evaporated, drained, run off [cm].
    """
    width, alpha, n, ks, sc, f1, dz = soil
    cells = x.size
    h, dh, k, dk = np.empty(cells), np.empty(cells), np.empty(cells), np.empty(cells)
    sink, was = np.empty(cells), np.empty(cells)
    q, q_up, q_low = np.empty(cells + 1), np.empty(cells + 1), np.empty(cells + 1)
    a, b, c, d = np.empty(cells), np.empty(cells), np.empty(cells), np.empty(cells)
    dry_x = (1.0 + (-alpha[0] * AIR_DRY_CM) ** n[0]) ** (1.0 / n[0] - 1.0) / sc[0]
    dry_k = _conductivity(dry_x, n[0], ks[0], sc[0], f1[0])[0]
    # While water falls, what evaporates is taken from it first.
    from_rain = min(rain, bare)
    rain, bare = rain - from_rain, bare - from_rain
    totals[1] += from_rain
    left = 1.0
    while left > 1e-12:
        total = 0.0
        for i in range(cells):
            h[i], dh[i] = _head(x[i], alpha[i], n[i], sc[i], width[i])
            k[i], dk[i] = _conductivity(x[i], n[i], ks[i], sc[i], f1[i])
            sink[i] = roots[i] * _stress(h[i], h3, h4)
            total += sink[i]
        taken = 0.0
        scale = demand / max(total, COMPENSATED)
        for i in range(cells):
            sink[i] = min(sink[i] * scale, 0.2 * x[i] * width[i] * dz[i])
            taken += sink[i]
        for i in range(cells - 1):
            length = 0.5 * (dz[i] + dz[i + 1])
            slope = (h[i] - h[i + 1]) / length + 1.0
            mean = 0.5 * (k[i] + k[i + 1])
            q[i + 1] = mean * slope
            q_up[i + 1] = 0.5 * dk[i] * slope + mean * dh[i] / length
            q_low[i + 1] = 0.5 * dk[i + 1] * slope - mean * dh[i + 1] / length
        q[cells], q_up[cells], q_low[cells] = k[cells - 1], dk[cells - 1], 0.0
        half = 0.5 * dz[0]
        let_in = 0.5 * (k[0] + ks[0]) * (1.0 - h[0] / half)
        up = 0.5 * (k[0] + dry_k) * ((h[0] - AIR_DRY_CM) / half - 1.0)
        ponded = pond > 1e-9 or rain > let_in
        q_up[0] = 0.0
        if ponded:
            q[0] = let_in
            q_low[0] = 0.5 * dk[0] * (1.0 - h[0] / half) - 0.5 * (k[0] + ks[0]) * dh[0] / half
        elif rain > 0:
            q[0], q_low[0] = rain, 0.0
        elif up < bare:
            q[0] = -max(up, 0.0)
            q_low[0] = -0.5 * dk[0] * ((h[0] - AIR_DRY_CM) / half - 1.0)
            q_low[0] -= 0.5 * (k[0] + dry_k) * dh[0] / half
        else:
            q[0], q_low[0] = -bare, 0.0
        fastest = 1e-9
        for i in range(cells):
            fastest = max(fastest, abs(q[i] - q[i + 1] - sink[i]) / (width[i] * dz[i]))
        dt = min(STEP_SATURATION / fastest, LONGEST_H, left)
        if ponded and rain < let_in:
            dt = min(dt, max(pond / (let_in - rain), 1e-4))
        was[:] = x
        for _ in range(40):
            for i in range(cells):
                a[i] = q_up[i]
                b[i] = q_low[i] - q_up[i + 1] - width[i] * dz[i] / dt
                c[i] = -q_low[i + 1]
                d[i] = -(q[i] - q[i + 1] - sink[i])
            for i in range(1, cells):
                w = a[i] / b[i - 1]
                b[i] -= w * c[i - 1]
                d[i] -= w * d[i - 1]
            d[cells - 1] /= b[cells - 1]
            for i in range(cells - 2, -1, -1):
                d[i] = (d[i] - c[i] * d[i + 1]) / b[i]
            worst = 0.0
            for i in range(cells):
                worst = max(worst, abs(d[i]))
                if was[i] + d[i] < LEFT_SHARE * was[i]:
                    worst = max(worst, 1.0)
            if worst <= 3 * STEP_SATURATION or dt <= SHORTEST_H:
                break
            dt *= 0.4
        top = q[0] + q_low[0] * d[0]
        bottom = q[cells] + q_up[cells] * d[cells - 1]
        for i in range(cells):
            x[i] = max(was[i] + d[i], DRIEST)
        if ponded:
            pond += (rain - top) * dt
        elif rain <= 0:
            totals[1] -= top * dt
        if pond > POND_CM:
            totals[3] += pond - POND_CM
            pond = POND_CM
        totals[0] += taken * dt
        totals[2] += bottom * dt
        left -= dt
    return pond


@njit(cache=True, parallel=True)
def _day(
    x: Floats,
    pond: Floats,
    width: Floats,
    alpha: Floats,
    n: Floats,
    ks: Floats,
    sc: Floats,
    f1: Floats,
    dz: Floats,
    rain: Floats,
    bare: Floats,
    demand: Floats,
    roots: Floats,
    h3: Floats,
    h4: Floats,
    totals: Floats,
    first: int,
    last: int,
) -> None:
    for f in prange(x.shape[0]):
        soil = (width[f], alpha[f], n[f], ks[f], sc[f], f1[f], dz)
        for hour in range(first, last):
            pond[f] = _hour(
                x[f],
                pond[f],
                soil,
                rain[f, hour],
                bare[f, hour],
                demand[f, hour],
                roots[f],
                h3[f],
                h4[f],
                totals[f],
            )


@dataclass
class Water:
    """The state of columns: saturation (fields, cells) [-] and water standing on them [cm]."""

    saturation: Floats
    pond_cm: Floats

    def copy(self) -> "Water":
        """The same state, to be carried on apart."""
        return Water(self.saturation.copy(), self.pond_cm.copy())


def _entry(columns: Columns) -> tuple[Floats, Floats]:
    """Van Genuchten's saturation at the air entry, and the bracket of K there [3]_."""
    m = 1 - 1 / columns.n
    sc = (1 + (-columns.alpha * ENTRY_CM) ** columns.n) ** -m
    return sc, 1 - (1 - sc ** (1 / m)) ** m


def saturation_at(columns: Columns, head_cm: float | Floats) -> Floats:
    """Saturation at heads below zero; array (fields, cells) [-]."""
    sc, _ = _entry(columns)
    suction = np.maximum(-np.asarray(head_cm, float), 0)
    se = (1 + (columns.alpha * suction) ** columns.n) ** (1 / columns.n - 1)
    return np.minimum(se / sc, 1.0)


def theta_of(columns: Columns, water: Water) -> Floats:
    """Water content; array (fields, cells) [m3/m3]."""
    return columns.theta_r + (columns.theta_s - columns.theta_r) * water.saturation


def head_of(columns: Columns, water: Water) -> Floats:
    """Pressure heads, at most at the air entry; array (fields, cells) [cm]."""
    sc, _ = _entry(columns)
    m = 1 - 1 / columns.n
    y = (np.minimum(water.saturation, 1.0) * sc) ** (-1 / m)
    return -((y - 1) ** (1 / columns.n)) / columns.alpha


def conductivity_of(columns: Columns, water: Water) -> Floats:
    """Hydraulic conductivity; array (fields, cells) [mm/day]."""
    sc, f1 = _entry(columns)
    m = 1 - 1 / columns.n
    x = np.minimum(water.saturation, 1.0)
    b = (1 - (1 - (x * sc) ** (1 / m)) ** m) / f1
    return columns.ksat_cm_h * np.sqrt(x) * b**2 * 240


def daylight_shares() -> Floats:
    """Share of a day's use in each hour of the clock; array (24,), a sine by day."""
    edge = np.clip((np.arange(25) - SUNRISE_H) / DAYLIGHT_H, 0, 1)
    return np.diff((1 - np.cos(np.pi * edge)) / 2)


def pass_hours(
    columns: Columns,
    water: Water,
    rain_mm_h: Floats,
    bare_mm_h: Floats,
    demand_mm_h: Floats,
    roots: Floats,
    h3_cm: Floats,
    h4_cm: Floats,
    first: int = 0,
    last: int = 24,
) -> Floats:
    """Let hours of a day pass in every column [1]_.

    Parameters
    ----------
    columns : Columns
    water : Water
        Changed in place.
    rain_mm_h, bare_mm_h, demand_mm_h : array, shape (fields, 24) [mm/h]
        Rain and irrigation; evaporation that the sun asks of the soil; transpiration wanted.
    roots : array, shape (fields, cells) [-]
        Share of the roots in each cell, adding to 1.
    h3_cm, h4_cm : array, shape (fields,) [cm, below zero]
        Heads at which uptake begins to slow and ends [4]_.
    first, last : int
        Hours of the clock.

    Returns
    -------
    array, shape (fields, 4) [mm]
        Transpired, evaporated, drained, run off.
    """
    totals = np.zeros((roots.shape[0], 4))
    sc, f1 = _entry(columns)
    # In one piece, so that the loop is compiled for one kind of array.
    rain, bare, demand = (np.ascontiguousarray(x / 10) for x in (rain_mm_h, bare_mm_h, demand_mm_h))
    share, h3, h4 = (np.ascontiguousarray(x) for x in (roots, h3_cm, h4_cm))
    alpha, n, ks = (np.ascontiguousarray(x) for x in (columns.alpha, columns.n, columns.ksat_cm_h))
    _day(
        water.saturation,
        water.pond_cm,
        columns.theta_s - columns.theta_r,
        alpha,
        n,
        ks,
        sc,
        f1,
        CELL_CM,
        rain,
        bare,
        demand,
        share,
        h3,
        h4,
        totals,
        first,
        last,
    )
    return totals * 10
