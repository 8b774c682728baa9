"""Seasons of simulated vineyards, watered by the leaf's band as the advice says."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np

from core.advice.answer import Assessment
from core.advice.assumptions import Assumptions
from core.advice.inputs import BlockInputs, PastWeather, Watering
from core.advice.stated_et import StatedEt
from core.arrays import Floats
from core.crop.catalogue import crop
from core.crop.season import CropSeason, season_days
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.irrigation.system import IrrigationSystem, SystemKind
from core.leaf.bands import Product, band_index
from core.leaf.round import Leaf, LeafRound
from core.leaf.steering import LeafSteering
from core.outlook.forecast import Forecast
from core.regime.assess import assess_blocks
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from core.world.climates import FORECAST_DAYS, Climate, simulate_season
from core.world.vine import LAYERS, Vine, drawn_vineyard

BUD_BREAK = date(2027, 4, 1)
# Rounds begin when the canopy stands, of so many leaves that differ so much [MPa].
FIRST_ROUND_DAY, LEAVES, LEAF_SD_MPA = 45, 16, 0.12
WEEK = 7
DAYS = 180
SOIL = Profile.from_horizons([Horizon(0, 1500, texture=TextureClass.LOAM)])
RATE_MM_H, AREA_M2, EFFICIENCY = 1.0, 30_000.0, 0.95
# A probe in the soil, read each morning; what it is off for good and at each reading [m3/m3].
PROBE_MM, PROBE_OFF, PROBE_NOISE = (200.0, 400.0, 600.0, 900.0, 1200.0), 0.015, 0.002


@dataclass(frozen=True)
class VineSeason:
    """A season by week of the rounds; potentials of the vineyard's own mean at noon [MPa].

    noon_mpa, upper_mpa, lower_mpa : arrays, shape (days,), from bud break on
    given_mm : array, shape (days,), net of each day
    calendar_mm : what a calendar would have given: each week what the book's crop uses in mean
        weather, rain or not [mm net]
    told_low, told_high : arrays, shape (days,), the middle eight tenths of what was told of
        today's leaf, NaN where nothing was
    """

    noon_mpa: Floats
    upper_mpa: Floats
    lower_mpa: Floats
    given_mm: Floats
    calendar_mm: float
    told_low: Floats
    told_high: Floats

    def weeks(self) -> Floats:
        """Whether each week from the third round on was spent inside the band; (weeks,) of bool.

        A week counts as inside where its mean is above the lower edge, and below the upper one or
        without water: nobody can dry a vineyard but by waiting.
        """
        first = FIRST_ROUND_DAY + 2 * WEEK
        out = []
        for at in range(first, DAYS - WEEK, WEEK):
            days = slice(at, at + WEEK)
            mean = float(self.noon_mpa[days].mean())
            low, high = float(self.lower_mpa[days].mean()), float(self.upper_mpa[days].mean())
            dry = float(self.given_mm[days].sum()) == 0
            out.append(low <= mean and (mean <= high or dry))
        return np.array(out)


class _Grower:
    """One vineyard with its weather, and a person who waters it as the advice says."""

    def __init__(self, seed: int, climate: Climate, product: Product) -> None:
        self._rng = np.random.default_rng([seed, 29])
        self.vine = Vine(drawn_vineyard(self._rng))
        self.season = CropSeason(crop("grape-wine"), BUD_BREAK)
        self.leaf = LeafSteering(product)
        self._weather = simulate_season(climate, DAYS, self._rng)
        made = season_days([self.season], BUD_BREAK, DAYS)
        self.kc, book = made.kc[0], made.book_day[0]
        bands = self.leaf.bands
        at = band_index(bands, self.season.crop, book)
        self.lower = np.array([b.lower_mpa for b in bands])[at]
        self.upper = np.array([b.upper_mpa for b in bands])[at]
        self.noon, self.given = np.zeros(DAYS), np.zeros(DAYS)
        self.told = np.full((2, DAYS), np.nan)
        # What the probe is off at each depth, for good.
        self._off = self._rng.normal(0, PROBE_OFF, len(PROBE_MM))
        self._read = np.empty((DAYS + 1, len(PROBE_MM)))
        self._reads(0)
        self._round_today = False
        self.rounds: list[tuple[int, tuple[Leaf, ...]]] = []
        self.system = IrrigationSystem(SystemKind.DRIP, AREA_M2, EFFICIENCY, rate_mm_h=RATE_MM_H)

    def inputs(self, day: int) -> BlockInputs:
        """All that is known at six in the morning of a day."""
        et0 = self._weather.forecast_et0_mm[day]
        mean = float(et0.mean())
        sets = [
            Watering(24.0 * (k - day) + 2.0, mm, begun_hours=24.0 * (k - day))
            for k, mm in enumerate(self.given[:day].tolist())
            if mm > 0
        ]
        rain = [
            Watering(24.0 * (k - day) + 8.0, mm, is_rain=True)
            for k, mm in enumerate(self._weather.rain_mm[:day].tolist())
            if mm > 0
        ]
        return BlockInputs(
            now=datetime.combine(BUD_BREAK, time(6), ZoneInfo("UTC")) + timedelta(days=day),
            assumed=Assumptions(
                profile=SOIL,
                season=self.season,
                et=StatedEt(0.85 * mean, mean, 1.15 * mean, "simulated"),
                system=self.system,
                forecast=Forecast.of(et0, self._weather.forecast_rain_mm[day], FORECAST_DAYS),
                leaf=self.leaf,
            ),
            sites=(self._probe(day),),
            waterings=(*sets, *rain),
            past=PastWeather(BUD_BREAK, self._weather.et0_mm[:day]),
            since=BUD_BREAK,
            tended=True,
            leaf_rounds=tuple(
                LeafRound(24.0 * (k - day) + 7.0, leaves, after_noon_h=0.0)
                for k, leaves in self.rounds
            ),
        )

    def _reads(self, day: int) -> None:
        """The probe at six in the morning of a day."""
        middle = (np.arange(LAYERS) + 0.5) * self.vine.thick_mm
        true = np.interp(PROBE_MM, middle, self.vine.theta)
        self._read[day] = true + self._off + self._rng.normal(0, PROBE_NOISE, len(PROBE_MM))

    def _probe(self, day: int) -> Site:
        hours = 24.0 * (np.arange(day + 1) - day)
        return Site.from_readings(
            "Probe",
            InstrumentKind.CAPACITANCE_PROBE,
            np.array(PROBE_MM),
            hours - 0.1,
            self._read[: day + 1],
            SOIL,
        )

    def hears(self, day: int, answer: Assessment) -> None:
        """What the advice says: leaves are read on the day it names, and water that is due before
        the next morning is given on a day without a round."""
        self._round_today = False
        now = datetime.combine(BUD_BREAK, time(6), ZoneInfo("UTC")) + timedelta(days=day)
        if answer.leaf is not None:
            self.told[:, day] = answer.leaf.now.low, answer.leaf.now.high
            self._round_today = answer.leaf.round_on == now.date()
        if self._round_today or answer.start_at is None or answer.amount is None:
            return
        if answer.start_at < now + timedelta(days=1):
            self.given[day] = answer.amount.net_mm

    def day(self, day: int) -> None:
        """A day goes by, and a round where one is due."""
        g = self.vine.ground
        demand = float(self.kc[day] * self._weather.et0_mm[day] * g.use_factor)
        rain = float(self._weather.rain_mm[day])
        self.vine.day(demand, rain if rain > 2 else 0.0, self.given[day] * g.gives_factor)
        self.noon[day] = self.vine.noon_mpa
        self._reads(day + 1)
        if self._round_today:
            read = self.noon[day] + self._rng.normal(0, LEAF_SD_MPA, LEAVES)
            self.rounds.append((day, tuple(Leaf("", float(min(x, -0.1))) for x in read)))

    def ended(self) -> VineSeason:
        """The season as it was."""
        weekly = self.kc[FIRST_ROUND_DAY:] * self._weather.et0_mm.mean()
        return VineSeason(
            noon_mpa=self.noon,
            upper_mpa=self.upper,
            lower_mpa=self.lower,
            given_mm=self.given,
            calendar_mm=float(weekly.sum()),
            told_low=self.told[0],
            told_high=self.told[1],
        )


def run_vine_seasons(
    seeds: Sequence[int], products: Sequence[Product] = (Product.RED_WINE, Product.WHITE_WINE)
) -> tuple[VineSeason, ...]:
    """A season of each vineyard, watered as the advice says; climates and products go round."""
    climates = (Climate.ARID, Climate.MIXED)
    growers = [_Grower(k, climates[k % 2], products[k // 2 % len(products)]) for k in seeds]
    for day in range(DAYS):
        if day >= FIRST_ROUND_DAY:
            answers = assess_blocks([g.inputs(day) for g in growers], past=False)
            for g, answer in zip(growers, answers, strict=True):
                g.hears(day, answer)
        for g in growers:
            g.day(day)
    return tuple(g.ended() for g in growers)
