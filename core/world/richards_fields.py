"""Fields of Richards columns that are not what their owner takes them for.

Soil, roots, water use, the rain of the field and the water that arrives are drawn away from what
is believed; the readings err as instruments do. Nothing of the advice is used but what the
owner was told: the class of his soil and the book's crop.

References
----------
.. [1] Carsel, R. F., Parrish, R. S. (1988), doi:10.1029/WR024i005p00755: class means, from
   memory.
.. [2] Zhang, Y., Schaap, M. G. (2017), Rosetta 3, doi:10.1016/j.jhydrol.2017.01.004.
.. [3] Wesseling, J. G. (1991), Meerjarige simulatie van grondwateronttrekking, Wageningen: heads
   at which crops slow their uptake, from memory.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from rosetta import rosetta

from core.arrays import Floats
from core.world.layerings import Layering
from core.world.richards import (
    CELL_BOTTOM_CM,
    CELL_CM,
    CELL_MIDDLE_CM,
    Columns,
    Water,
    conductivity_of,
    daylight_shares,
    head_of,
    pass_hours,
    saturation_at,
    theta_of,
)

# Residual, saturated content [m3/m3], alpha [1/cm], n [-], Ks [cm/day] [1]_, and the middle of
# the class in sand and clay [percent].
SOILS = {
    "sand": (0.045, 0.43, 0.145, 2.68, 712.8, 90, 4),
    "sandy loam": (0.065, 0.41, 0.075, 1.89, 106.1, 65, 10),
    "loam": (0.078, 0.43, 0.036, 1.56, 24.96, 40, 19),
    "silt loam": (0.067, 0.45, 0.020, 1.41, 10.8, 20, 15),
    "clay loam": (0.095, 0.41, 0.019, 1.31, 6.24, 32, 34),
    "clay": (0.068, 0.38, 0.008, 1.09, 4.8, 22, 52),
}
# Heads at which uptake begins to slow at a high (5 mm/day) and a low demand (1 mm/day), and at
# which it ends [cm] [3]_.
UPTAKE = {
    "potato": (-320.0, -600.0, -16_000.0),
    "maize-grain": (-325.0, -600.0, -8_000.0),
    "apple-bare": (-500.0, -800.0, -16_000.0),
    "tomato": (-800.0, -1_500.0, -8_000.0),
    "onion": (-500.0, -600.0, -16_000.0),
    "lucerne-hay": (-1_500.0, -2_500.0, -8_000.0),
}
USUAL_UPTAKE = (-500.0, -900.0, -12_000.0)
DRIEST_FULL_CM = -336.0  # 33 kPa
LOSS_AT_FULL_MM = 1.0  # a day, by gravity alone: what full means
SET_HOURS, RAIN_HOURS = range(7, 13), range(14, 18)
STRESSED = 0.97
PAN_SLOWER = 20.0  # how much less a pan lets through; working assumption, no source


@dataclass(frozen=True)
class Draws:
    """How far the truth lies from what is believed; spreads, working assumptions, no source."""

    content: float = 0.025
    log_alpha: float = 0.35
    log_n: float = 0.2
    log_ksat: float = 0.7
    use: float = 0.10
    roots: float = 0.10
    rain: float = 0.15
    arrives: float = 0.07
    event: float = 0.08
    boundary_mm: float = 40.0
    gravel: float = 0.08


class RichardsFields:
    """Fields of one season, moved on a day at a time.

    Arrays by field; depths [mm]. ``kcb`` and ``root_mm``, (fields, days), are the book's. Where
    only a ``strip`` of the ground is watered, all roots stand in it and a column is of the strip;
    water given and what is missing are told over the whole field.
    """

    def __init__(
        self,
        soils: Sequence[Layering],
        crops: Sequence[str],
        kcb: Floats,
        root_mm: Floats,
        seed: int,
        draws: Draws | None = None,
        strip: float = 1.0,
    ) -> None:
        rng = np.random.default_rng(seed)
        spread = draws or Draws()
        count = len(soils)
        self.strip = strip
        cells = np.stack([self._cells(soil, spread, rng) for soil in soils])
        r, s, alpha, n, ks = np.moveaxis(cells, 1, 0)
        self.columns = Columns(r, s, alpha, n, ks / 24)
        heads = np.array([UPTAKE.get(c, USUAL_UPTAKE) for c in crops]).T
        self.h3_high, self.h3_low, self.h4 = heads
        self.use = np.clip(rng.normal(1, spread.use, count), 0.75, 1.25)
        self.root_factor = np.clip(rng.normal(1, spread.roots, count), 0.75, 1.25)
        self.rain_share = np.clip(rng.normal(1, spread.rain, count), 0.6, 1.4)
        self.arrives = np.clip(rng.normal(1, spread.arrives, count), 0.8, 1.2)
        self.density = rng.uniform(1.0, 3.0, count)
        shift = rng.integers(-5, 6, count)
        self._event = spread.event
        self._noise = rng
        days = kcb.shape[1]
        self._at = np.clip(np.arange(days) - shift[:, None], 0, days - 1)
        self.kcb = np.take_along_axis(kcb, self._at, axis=1) * self.use[:, None]
        self.root_mm = np.take_along_axis(root_mm, self._at, axis=1) * self.root_factor[:, None]
        self.full = self._drained()
        # Spring: somewhat dry on top, moist below.
        dry = rng.uniform(0.0, 0.25, count)[:, None] * np.exp(-CELL_MIDDLE_CM / 60)
        start = self.full * (1 - dry)
        width = self.columns.theta_s - self.columns.theta_r
        self.water = Water((start - self.columns.theta_r) / width, np.zeros(count))
        self.light = daylight_shares()

    @classmethod
    def _cells(cls, soil: Layering, spread: Draws, rng: np.random.Generator) -> Floats:
        """Parameters of a field's cells, (5, cells): horizons lie where they do, not where they
        were told to; stones hold nothing."""
        out = np.empty((5, CELL_CM.size))
        top_cm = 0.0
        for k, part in enumerate(soil.parts):
            drawn = cls._soil(str(part.texture), spread, rng)
            if part.gravel > 0:
                fine = 1 - np.clip(part.gravel + rng.normal(0, spread.gravel), 0.05, 0.7)
                drawn = [drawn[0] * fine, drawn[1] * fine, *drawn[2:4], drawn[4] * fine]
            if part.is_pan:
                drawn[4] /= PAN_SLOWER
            out[:, top_cm < CELL_MIDDLE_CM] = np.array(drawn)[:, None]
            if k + 1 < len(soil.parts):
                top_cm = max(part.bottom_mm + rng.normal(0, spread.boundary_mm), 50.0) / 10
        return out

    @classmethod
    def _soil(cls, texture: str, spread: Draws, rng: np.random.Generator) -> list[float]:
        """Parameters of a field's soil; one that is full only past 33 kPa is drawn again: no
        field capacity is that dry."""
        while True:
            drawn = cls._drawn(texture, spread, rng)
            r, s, alpha, n, ks = (np.full((1, 1), v) for v in drawn)
            one = Columns(r, s, alpha, n, ks / 24)
            at_limit = Water(saturation_at(one, DRIEST_FULL_CM), np.zeros(1))
            if float(conductivity_of(one, at_limit)[0, 0]) <= LOSS_AT_FULL_MM:
                return drawn

    @staticmethod
    def _drawn(texture: str, spread: Draws, rng: np.random.Generator) -> list[float]:
        r, s, alpha, n, ks, sand, clay = SOILS[texture]
        if rng.random() < 0.5:
            sand_, clay_ = sand + rng.normal(0, 5), clay + rng.normal(0, 4)
            sand_, clay_ = np.clip(sand_, 2, 95), np.clip(clay_, 2, 65)
            clay_ = min(clay_, 98 - sand_)
            mean, _, _ = rosetta(3, [[sand_, 100 - sand_ - clay_, clay_]], estimate_type="log")
            r, s, log_alpha, log_n, log_ks = mean[0, :5]
            alpha, n, ks = 10**log_alpha, 10**log_n, 10**log_ks
        moved = rng.normal(0, spread.content)
        n = 1 + (n - 1) * np.exp(rng.normal(0, spread.log_n))
        return [
            r,
            float(np.clip(s + moved, r + 0.2, 0.6)),
            alpha * np.exp(rng.normal(0, spread.log_alpha)),
            max(n, 1.12),
            ks * np.exp(rng.normal(0, spread.log_ksat)),
        ]

    def _drained(self) -> Floats:
        """Content at which each cell drains 1 mm/day under gravity alone; (fields, cells)."""
        low = saturation_at(self.columns, -1e5)
        high = np.ones(low.shape)
        for _ in range(60):
            middle = np.sqrt(low * high)
            fast = conductivity_of(self.columns, Water(middle, np.zeros(1))) > LOSS_AT_FULL_MM
            low, high = np.where(fast, low, middle), np.where(fast, middle, high)
        return theta_of(self.columns, Water(low, np.zeros(1)))

    def root_shares(self, day: int) -> Floats:
        """Share of the roots by cell on a day, thinning out downwards; array (fields, cells)."""
        deep = np.maximum(self.root_mm[:, day, None] / 10, 5.0)
        inside = np.clip((deep - (CELL_BOTTOM_CM - CELL_CM)) / CELL_CM, 0, 1)
        weight = inside * CELL_CM * np.exp(-self.density[:, None] * CELL_MIDDLE_CM / deep)
        shares: Floats = weight / weight.sum(axis=1, keepdims=True)
        return shares

    def depletion_mm(self, day: int) -> Floats:
        """Water missing to full in the true root zone; surplus in one part counts for another."""
        deep = self.root_mm[:, day, None] / 10
        inside = np.clip((deep - (CELL_BOTTOM_CM - CELL_CM)) / CELL_CM, 0, 1)
        short = (self.full - theta_of(self.columns, self.water)) * CELL_CM * 10
        total: Floats = (short * inside).sum(axis=1) * self.strip
        return total

    def content_at(self, depth_mm: float) -> Floats:
        """True content at a depth [m3/m3]."""
        return self._between(theta_of(self.columns, self.water), depth_mm)

    def tension_at(self, depth_mm: float) -> Floats:
        """True tension at a depth [kPa]."""
        return self._between(-head_of(self.columns, self.water) / 10.197162, depth_mm)

    @staticmethod
    def _between(values: Floats, depth_mm: float) -> Floats:
        cm = depth_mm / 10
        j = int(np.clip(np.searchsorted(CELL_MIDDLE_CM, cm) - 1, 0, CELL_CM.size - 2))
        share = (cm - CELL_MIDDLE_CM[j]) / (CELL_MIDDLE_CM[j + 1] - CELL_MIDDLE_CM[j])
        mixed: Floats = values[:, j] * (1 - share) + values[:, j + 1] * share
        return mixed

    def pass_part(
        self,
        day: int,
        et0_mm: float,
        rain_mm: Floats,
        set_mm: Floats,
        first: int,
        last: int,
        water: Water | None = None,
    ) -> tuple[Floats, Floats, Floats]:
        """Let hours of a day pass.

        Parameters
        ----------
        rain_mm, set_mm : array, shape (fields,)
            Of the whole day, as they fell on and reached the columns [mm].
        first, last : int
            Hours of the clock.
        water : Water, optional
            Another state than the true one, for who looks ahead.

        Returns
        -------
        tuple of arrays, shape (fields,) [mm]
            Transpired, wanted, drained and run off, of the columns.
        """
        count = rain_mm.size
        supply = np.zeros((count, 24))
        supply[:, list(SET_HOURS)] += (set_mm / len(SET_HOURS))[:, None]
        supply[:, list(RAIN_HOURS)] += (rain_mm / len(RAIN_HOURS))[:, None]
        moved = self.pass_hours(day, et0_mm, supply, first, last, water)
        wanted = self.kcb[:, day] * et0_mm / self.strip
        share = self.light[first:last].sum()
        return moved[:, 0], wanted * share, moved[:, 2] + moved[:, 3]

    def pass_hours(
        self,
        day: int,
        et0_mm: float,
        supply_mm: Floats,
        first: int = 0,
        last: int = 24,
        water: Water | None = None,
    ) -> Floats:
        """Let hours of a day pass, with what reaches the columns in each hour.

        Parameters
        ----------
        supply_mm : array, shape (fields, 24) [mm]
        water : Water, optional
            Another state than the true one, for who looks ahead.

        Returns
        -------
        array, shape (fields, 4) [mm]
            Transpired, evaporated, drained, run off, of the columns.
        """
        wanted = self.kcb[:, day] * et0_mm / self.strip
        # The bare share of the sun's energy; what leaves cover is transpired.
        bare = np.maximum(1.1 - self.kcb[:, day], 0.03) * et0_mm
        rate = np.clip((wanted - 1) / 4, 0, 1)
        h3 = self.h3_low + rate * (self.h3_high - self.h3_low)
        return pass_hours(
            self.columns,
            self.water if water is None else water,
            supply_mm,
            np.outer(bare, self.light),
            np.outer(wanted, self.light),
            self.root_shares(day),
            h3,
            self.h4,
            first,
            last,
        )

    def reach(self, gauge_mm: float, given_mm: Floats) -> tuple[Floats, Floats]:
        """What falls on and reaches each field of the gauge's rain and of water given [mm]."""
        count = self.use.size
        rain = gauge_mm * self.rain_share * np.clip(self._noise.normal(1, 0.1, count), 0.5, 1.5)
        noise = np.clip(self._noise.normal(1, self._event, count), 0.5, 1.5)
        return rain, given_mm * self.arrives * noise / self.strip

    def days_until_short(self, day: int, et0_mm: Floats, rain_mm: Floats, most: int) -> Floats:
        """How many days each field gets all it wants without water, from the morning of a day on.

        Parameters
        ----------
        et0_mm, rain_mm : array, shape (days,)
            Of the season as it comes, rain by the gauge.
        most : int
            So far it is tried [days].

        Returns
        -------
        array, shape (fields,) [days]
            0 where a field is short on the first day, infinity where it is not so far.
        """
        ahead = self.water.copy()
        none = np.zeros(self.use.size)
        out = np.full(self.use.size, np.inf)
        for k, d in enumerate(range(day, min(day + most, et0_mm.size))):
            rain = rain_mm[d] * self.rain_share
            took = wanted = none
            for first, last in ((6, 24), (0, 6)):
                fell = rain if first else none
                got, asked, _ = self.pass_part(d, et0_mm[d], fell, none, first, last, ahead)
                took, wanted = took + got, wanted + asked
            short = took < STRESSED * wanted - 1e-6
            out = np.where(short & np.isinf(out), k, out)
            if np.isfinite(out).all():
                break
        return out
