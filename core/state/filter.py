"""The balance and the sensors weighed day by day: a small Kalman filter on depletion.

Three figures are carried for every block with their covariance: the depletion of the root
zone, the offset of the sensors' word from the block as a whole (calibration, retention curve,
one spot for all: it does not average out over readings), and a factor on the crop's water use
(the book's Kc is not this crop's).

References
----------
.. [1] Kalman, R. E. (1960), A new approach to linear filtering and prediction problems,
   J. Basic Eng. 82:35-45, doi:10.1115/1.3662552.
.. [2] Moments of a normal variable cut at zero: Tallis, G. M. (1961), The moment generating
   function of the truncated multi-normal distribution, J. R. Stat. Soc. B 23:223-229.
"""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from scipy.special import ndtr

from core.arrays import Floats
from core.balance.root_zone import drain_into, grow, use_water
from core.state.zones import RootZones

# Working assumptions, no source: how far a day's ET strays when it was recorded and when it was
# not [share], how far the use of this crop on this block lies from the book's, how fast offset
# [mm/day] and factor [1/day] wander, and what the soil that roots grow into may differ from
# what was thought [share].
ET_SIGMA = 0.12
UNRECORDED_ET_SIGMA = 0.3
USE_SIGMA = 0.12
OFFSET_WALK_MM = 0.15
USE_WALK = 0.004
NEW_SOIL_SIGMA = 0.3
USE_RANGE = (0.5, 1.6)
# What the balance does not know at all, such as the limits themselves, as a share of TAW: no
# state is surer; and how many spreads apart two words may lie and still be weighed.
FLOOR_SHARE = 0.03
GATE = 3.5
# An offset beyond so many of its spreads is none: the balance has lost the thread instead.
OFFSET_GATE = 2.0
# A state less sure than this share of TAW is no state: it could be nearly anything.
KNOWN_SHARE = 0.25


class Weighing(StrEnum):
    """Which of the two leads."""

    BLEND = "blend"
    SENSORS = "sensors"
    BALANCE = "balance"


@dataclass(frozen=True)
class Told:
    """What was heard of blocks day by day; arrays (blocks, days) unless said otherwise.

    water_in_mm, water_sigma_mm : rain that entered, net irrigation and capillary rise [mm]
    etc_mm, bare_mm : use without stress, and evaporation that stress does not slow [mm/day]
    et_sigma : how far a day's use may stray, as a share of it [-]
    observed_mm : depletion by the sensors at the start of each day, surplus below zero; NaN
        where they said nothing [mm]
    observed_sigma_mm : its scatter from day to day [mm]
    below_mm : deficit below the roots by the sensors; NaN where they don't reach [mm]
    offset_sigma_mm : array (blocks,), how far the sensors' spot may lie off the block [mm]
    start_mm, start_sigma_mm : array (blocks,), depletion before the first day [mm]
    weighing : array (blocks,) of indices into `WEIGHINGS`
    tended : array (blocks,) of bool, whether anybody tells what the block is given: else a rain
        that filled it once proves nothing of the weeks after
    """

    water_in_mm: Floats
    water_sigma_mm: Floats
    etc_mm: Floats
    bare_mm: Floats
    et_sigma: Floats
    observed_mm: Floats
    observed_sigma_mm: Floats
    below_mm: Floats
    offset_sigma_mm: Floats
    start_mm: Floats
    start_sigma_mm: Floats
    weighing: np.ndarray
    tended: np.ndarray


WEIGHINGS = tuple(Weighing)


@dataclass(frozen=True)
class Track:
    """The state at the start of each day; arrays (blocks, days + 1), the last one now [mm].

    forecast_mm, forecast_sigma_mm : by the balance alone since the last weighing
    depletion_mm, sigma_mm : after weighing; below zero is surplus
    gain : share of the sensors' surprise that was believed [-]; 0 where they said nothing
    correction_mm : what the weighing moved
    offset_mm, use_factor, use_sigma : as far as they are known
    below_mm : deficit of the soil below the roots
    et_mm, ks, drained_mm, percolated_mm, runoff_mm : of each day, (blocks, days)
    anchored : array (blocks,) of bool, whether the state stands on a word of the sensors or on a
        wetting that filled the root zone: days that only dry out prove nothing
    set_back : array of bool, where the balance contradicted the sensors beyond reason and was
        begun anew from their word
    """

    forecast_mm: Floats
    forecast_sigma_mm: Floats
    depletion_mm: Floats
    sigma_mm: Floats
    gain: Floats
    correction_mm: Floats
    offset_mm: Floats
    use_factor: Floats
    use_sigma: Floats
    below_mm: Floats
    et_mm: Floats
    ks: Floats
    drained_mm: Floats
    percolated_mm: Floats
    runoff_mm: Floats
    anchored: np.ndarray
    set_back: np.ndarray


def negative_part(mean: Floats, sigma: Floats) -> tuple[Floats, Floats, Floats]:
    """Of a normal X: mean and variance of min(X, 0), and its covariance with X [2]_.

    Parameters
    ----------
    mean, sigma : array
        A sigma of zero is taken as a very small one.
    """
    s = np.maximum(sigma, 1e-9)
    z = np.clip(-mean / s, -30, 30)
    below = ndtr(z)
    density = np.exp(-0.5 * z**2) / np.sqrt(2 * np.pi)
    first = mean * below - s * density
    second = (mean**2 + s**2) * below - mean * s * density
    return first, np.maximum(second - first**2, 0), second - mean * first


class _Belief:
    """Depletion d, offset b, use factor k of all blocks and their covariance."""

    d: Floats
    b: Floats
    k: Floats

    def __init__(self, told: Told) -> None:
        self.d, self.b = told.start_mm.astype(float), np.zeros(told.start_mm.shape)
        self.k = np.ones(told.start_mm.shape)
        self.dd = told.start_sigma_mm**2
        self.bb = self.bb_first = told.offset_sigma_mm**2
        self.far = np.zeros(told.start_mm.shape)
        self.kk = np.full(told.start_mm.shape, USE_SIGMA**2)
        self.db, self.dk, self.bk = (np.zeros(told.start_mm.shape) for _ in range(3))

    def weigh(
        self,
        seen: Floats,
        noise: Floats,
        weighing: np.ndarray,
        taw_mm: Floats,
        unfounded: np.ndarray,
    ) -> tuple[Floats, Floats, np.ndarray]:
        """Take an observation in; returns the gain on d, what d moved, and whether the balance
        was given up for it."""
        heard = ~np.isnan(seen)
        var_d, var_b, var_k = self.dd + self.db, self.bb + self.db, self.dk + self.bk
        total = var_d + var_b + noise**2
        surprise = np.where(heard, seen - self.d - self.b, 0.0)
        far = heard & (surprise**2 > GATE**2 * total)
        # A first word is taken as it is: there is nothing to weigh it against, for a balance that
        # only ever dried out while nobody told of sets is unfounded. So is one that contradicts
        # the balance beyond reason for the second time running: one of the two has lost the
        # thread, and the soil was there. The first time it is only noted.
        again = far & (self.far == np.sign(surprise))
        self.far = np.where(heard, np.where(far, np.sign(surprise), 0.0), self.far)
        offset = np.abs(self.b + np.where(far, 0.0, var_b / total * surprise))
        lost = heard & (again | (offset > OFFSET_GATE * np.sqrt(self.bb_first)))
        unknown = unfounded | (self.dd > (KNOWN_SHARE * taw_mm) ** 2)
        first = unknown | lost
        blends = weighing == WEIGHINGS.index(Weighing.BLEND)
        blend = heard & blends & ~first & ~far
        leads = heard & ((weighing == WEIGHINGS.index(Weighing.SENSORS)) | (blends & first))
        gd, gb, gk = (np.where(blend, v / total, 0.0) for v in (var_d, var_b, var_k))
        # A surprise may speak wholly for the offset, but never moves the block the other way.
        gd = np.clip(gd, 0.0, 1.0)
        before = self.d
        self.d = self.d + gd * surprise
        self.b = self.b + gb * surprise
        self.k = np.clip(self.k + gk * surprise, *USE_RANGE)
        self._joseph(gd, gb, gk, np.where(heard, noise, 0.0) ** 2)
        # Where the sensors lead, their word is the state, with all that is unsure about it.
        self.d = np.where(leads, seen, self.d)
        self.b = np.where(leads, 0.0, self.b)
        self.bb = np.where(leads, self.bb_first, self.bb)
        self.dd = np.where(leads, noise**2 + self.bb, self.dd)
        self.db = np.where(leads & blends, -self.bb, np.where(leads, 0.0, self.db))
        self.dk = np.where(leads, 0.0, self.dk)
        self.bk = np.where(leads, 0.0, self.bk)
        gain = np.where(leads, 1.0, gd)
        return gain, self.d - before, lost & blends & ~unknown

    def _joseph(self, gd: Floats, gb: Floats, gk: Floats, noise: Floats) -> None:
        """Covariance after weighing, in the form that holds for any gain."""
        dd, bb, kk, db, dk, bk = self.dd, self.bb, self.kk, self.db, self.dk, self.bk
        on_d, on_b, on_k = dd + db, bb + db, dk + bk
        keep, left = 1 - gd, 1 - gb
        total = on_d + on_b + noise
        self.dd = keep**2 * dd - 2 * keep * gd * db + gd**2 * (bb + noise)
        self.bb = left**2 * bb - 2 * left * gb * db + gb**2 * (dd + noise)
        self.kk = kk - 2 * gk * on_k + gk**2 * total
        self.db = db - gb * on_d - gd * on_b + gd * gb * total
        self.dk = dk - gd * on_k - gk * on_d + gd * gk * total
        self.bk = bk - gb * on_k - gk * on_b + gb * gk * total

    def carry(self, slope: Floats, use: Floats, noise: Floats) -> None:
        """Covariance over a day; ``slope`` of the new depletion on the old, ``use`` on k."""
        dd = slope**2 * self.dd + 2 * slope * use * self.dk + use**2 * self.kk + noise**2
        self.db = slope * self.db + use * self.bk
        self.dk = slope * self.dk + use * self.kk
        self.dd = dd
        self.bb = self.bb + OFFSET_WALK_MM**2 * (self.bb > 0)
        self.kk = self.kk + USE_WALK**2

    def drain(self, share: Floats, by_sensors: np.ndarray) -> Floats:
        """Let a share of what may stand above full drain; returns what drained [mm].

        Where the sensors lead, what they did not see above full is not there.
        """
        mean, var, cov = negative_part(self.d, np.sqrt(self.dd))
        drained = -share * np.where(by_sensors, np.minimum(self.d, 0), mean)
        kept = 1 - share * ndtr(np.clip(-self.d / np.sqrt(np.maximum(self.dd, 1e-18)), -30, 30))
        self.d = self.d + drained
        self.dd = np.maximum(self.dd - 2 * share * cov + share**2 * var, 0.0)
        self.db, self.dk = self.db * kept, self.dk * kept
        return drained


def track(zones: RootZones, told: Told) -> Track:
    """Follow root zones through the days [1]_.

    Parameters
    ----------
    zones : RootZones, (blocks, days + 1)
        The last day is today.
    told : Told
        Observations (blocks, days + 1), the last one now; everything else (blocks, days).

    Returns
    -------
    Track

    Notes
    -----
    Roots move, then the sensors are heard, then the day passes. The depletion's slope over a
    day is below one while stress slows the use, and while a surplus drains: both make what was
    unknown before known after, down to a floor. How much of a normal spread lies above full is
    taken by its moments [2]_, so that a good wetting ends the doubt about the days before it.
    """
    blocks, days = told.water_in_mm.shape
    state = _Belief(told)
    by_sensors = told.weighing == WEIGHINGS.index(Weighing.SENSORS)
    below: Floats = np.zeros(blocks)
    at_start = {
        name: np.zeros((blocks, days + 1))
        for name in (
            "forecast_mm",
            "forecast_sigma_mm",
            "depletion_mm",
            "sigma_mm",
            "gain",
            "correction_mm",
            "offset_mm",
            "use_factor",
            "use_sigma",
            "below_mm",
        )
    }
    set_back = np.zeros((blocks, days + 1), bool)
    anchored = told.start_sigma_mm < KNOWN_SHARE * zones.taw_mm[:, 0]
    by_day = {
        name: np.zeros((blocks, days))
        for name in ("et_mm", "ks", "drained_mm", "percolated_mm", "runoff_mm")
    }
    for d in range(days + 1):
        zone = zones.day(d)
        was = state.d
        state.d, below = grow(state.d, below, zone.grown_share)
        state.dd = state.dd + (NEW_SOIL_SIGMA * (state.d - was)) ** 2
        below = np.where(np.isnan(told.below_mm[:, d]), below, told.below_mm[:, d])
        at_start["forecast_mm"][:, d] = state.d
        at_start["forecast_sigma_mm"][:, d] = np.sqrt(state.dd)
        gain, moved, given_up = state.weigh(
            told.observed_mm[:, d],
            told.observed_sigma_mm[:, d],
            told.weighing,
            zone.taw_mm,
            ~anchored & ~told.tended,
        )
        state.d = np.minimum(state.d, zone.taw_mm)
        at_start["gain"][:, d], at_start["correction_mm"][:, d] = gain, moved
        set_back[:, d] = given_up
        anchored = anchored | (gain > 0)
        at_start["depletion_mm"][:, d] = state.d
        at_start["sigma_mm"][:, d] = np.sqrt(state.dd)
        at_start["offset_mm"][:, d] = state.b
        at_start["use_factor"][:, d] = state.k
        at_start["use_sigma"][:, d] = np.sqrt(np.maximum(state.kk, 0))
        at_start["below_mm"][:, d] = below
        if d == days:
            break
        etc = told.etc_mm[:, d]
        after, et, ks, runoff = use_water(
            state.d, zone, told.water_in_mm[:, d], state.k * etc, told.bare_mm[:, d]
        )
        # How likely the crop is slowed today: its use then answers to the depletion.
        filled = state.d + np.sqrt(state.dd) < told.water_in_mm[:, d]
        anchored = anchored | (filled & told.tended)
        sigma = np.sqrt(np.maximum(state.dd, 1e-18))
        wetter = state.d - told.water_in_mm[:, d]
        slowed = ndtr(np.clip((wetter - zone.raw_mm) / sigma, -30, 30))
        span = np.maximum(zone.taw_mm - zone.raw_mm, 1.0)
        slope = np.clip(1 - slowed * state.k * etc / span, 0.0, 1.0)
        noise = np.hypot(told.et_sigma[:, d] * ks * etc, told.water_sigma_mm[:, d])
        floor = (FLOOR_SHARE * zone.taw_mm) ** 2
        state.d = after
        state.carry(slope, ks * etc, noise)
        drained = state.drain(zone.drain_share, by_sensors)
        state.dd = np.maximum(state.dd, floor)
        state.d = np.minimum(state.d, zone.taw_mm)
        below, percolated = drain_into(drained, below)
        for name, value in zip(by_day, (et, ks, drained, percolated, runoff), strict=True):
            by_day[name][:, d] = value
    return Track(**at_start, **by_day, anchored=anchored, set_back=set_back)
