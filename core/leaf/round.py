"""A round of leaf readings: what it says of the block, and what speaks against it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import sqrt

import numpy as np

from core.arrays import Floats

# Leaves tell how the plant stands about solar noon: so far from it at most [h] (handbook of the
# trade; common practice, no source).
NOON_WINDOW_H = 1.5
# A leaf in its bag has come to the potential of the stem after so long [minutes] (common practice,
# no source).
BAGGED_MIN = 15.0
# A leaf loses water once it is cut: who needs longer than this for each leaf, walk and all, reads
# late ones [minutes] (working assumption, no source).
SLOW_MIN = 8.0
FEWEST = 6
# A plant this many robust spreads from the others does not stand for the block [-], where it is
# at least so far off [MPa] (working assumptions, no source).
OUTLIER_SPREADS, OUTLIER_MPA = 3.5, 0.15
MAD_TO_SD = 1.4826
# What chambers read; outside it a figure is a slip [MPa].
DRIEST_MPA, WETTEST_MPA = -6.0, -0.05
# Plants of a block differ at least so much, and a chamber reads no better [MPa] (working
# assumption).
LEAST_SD_MPA = 0.05


class Sky(StrEnum):
    CLEAR = "clear"
    HAZY = "hazy"
    CLOUDY = "cloudy"


class RoundDoubt(StrEnum):
    """What speaks against a round."""

    TOO_EARLY = "too_early"
    TOO_LATE = "too_late"
    CLOUDY = "cloudy"
    BAGGED_TOO_SHORT = "bagged_too_short"
    SLOW = "slow"
    TOO_FEW = "too_few"


# A round with one of these tells of the hour, the cloud or the bag rather than of the water.
SPOILS = frozenset(
    {RoundDoubt.TOO_EARLY, RoundDoubt.TOO_LATE, RoundDoubt.CLOUDY, RoundDoubt.BAGGED_TOO_SHORT}
)


@dataclass(frozen=True)
class Leaf:
    """One bagged leaf: the zone that its plant stands in, empty without zones, and its potential
    [MPa, below zero]."""

    zone: str
    mpa: float


@dataclass(frozen=True)
class LeafRound:
    """A round as it was made.

    hours : its middle, from now, at most 0
    after_noon_h : from solar noon to its middle, before it below zero [h]; None where the hour or
        the place is not known
    lasted_min, bagged_min : None where nobody noted it [minutes]
    vpd_kpa : of the air, where temperature and humidity were read [kPa]
    kept : whether a person takes it for good whatever speaks against it
    """

    hours: float
    leaves: tuple[Leaf, ...]
    after_noon_h: float | None = None
    sky: Sky = Sky.CLEAR
    lasted_min: float | None = None
    bagged_min: float | None = None
    vpd_kpa: float | None = None
    kept: bool = False


@dataclass(frozen=True)
class ZoneMean:
    """Mean of a zone [MPa] and how many leaves it comes of."""

    zone: str
    mpa: float
    leaves: int


@dataclass(frozen=True)
class RoundSays:
    """What a round says of its block.

    mpa, sd_mpa, se_mpa : mean by the zones' shares, spread between plants, and how far the mean
        may be off [MPa]
    outliers : places of leaves that do not stand for their zone
    believed : whether it counts
    """

    mpa: float
    sd_mpa: float
    se_mpa: float
    zones: tuple[ZoneMean, ...]
    outliers: tuple[int, ...]
    doubts: tuple[RoundDoubt, ...]
    believed: bool


def doubts_of(round_: LeafRound, leaves: int) -> tuple[RoundDoubt, ...]:
    """What speaks against a round of so many leaves that count."""
    noon, lasted, bagged = round_.after_noon_h, round_.lasted_min, round_.bagged_min
    found = {
        RoundDoubt.TOO_EARLY: noon is not None and noon < -NOON_WINDOW_H,
        RoundDoubt.TOO_LATE: noon is not None and noon > NOON_WINDOW_H,
        RoundDoubt.CLOUDY: round_.sky is Sky.CLOUDY,
        RoundDoubt.BAGGED_TOO_SHORT: bagged is not None and bagged < BAGGED_MIN,
        RoundDoubt.SLOW: lasted is not None and lasted > SLOW_MIN * max(len(round_.leaves), 1),
        RoundDoubt.TOO_FEW: leaves < FEWEST,
    }
    return tuple(d for d, on in found.items() if on)


def _outliers(values: Floats) -> np.ndarray:
    """Which of one zone's readings lie far off the others; array of bool."""
    if values.size < 4:
        return np.zeros(values.size, bool)
    middle = np.median(values)
    spread = MAD_TO_SD * float(np.median(np.abs(values - middle)))
    far: np.ndarray = np.abs(values - middle) > max(OUTLIER_SPREADS * spread, OUTLIER_MPA)
    return far


def round_says(round_: LeafRound, shares: Mapping[str, float]) -> RoundSays | None:
    """Mean, spread and doubts of a round; None without a leaf that counts.

    Parameters
    ----------
    shares : mapping of zone to its share of the block's ground [-]
        Of a block without zones it is empty; leaves of a zone that is not in it count as those of
        a zone as large as the others.

    Notes
    -----
    The mean is that of the zones by their ground; its error that of a stratified sample. An
    outlier is left out of the mean of its zone and stays shown.
    """
    mpa = np.array([leaf.mpa for leaf in round_.leaves])
    zone = np.array([leaf.zone for leaf in round_.leaves])
    out = np.zeros(mpa.size, bool)
    names = sorted(set(zone.tolist()))
    for name in names:
        here = zone == name
        out[here] = _outliers(mpa[here])
    kept = [(n, mpa[(zone == n) & ~out]) for n in names]
    kept = [(n, values) for n, values in kept if values.size]
    if not kept:
        return None
    usual = 1.0 / max(len(shares), 1)
    share = np.array([shares.get(n, usual) for n, _ in kept])
    share = share / share.sum()
    means = np.array([values.mean() for _, values in kept])
    within = [values - values.mean() for _, values in kept]
    free = sum(v.size - 1 for v in within)
    pooled = sqrt(float(sum((v**2).sum() for v in within)) / free) if free else 0.0
    pooled = max(pooled, LEAST_SD_MPA)
    counts = np.array([values.size for _, values in kept])
    mean = float(share @ means)
    every = np.concatenate([values for _, values in kept])
    sd = float(every.std(ddof=1)) if every.size > 1 else pooled
    found = doubts_of(round_, every.size)
    return RoundSays(
        mpa=mean,
        sd_mpa=max(sd, LEAST_SD_MPA),
        se_mpa=float(np.sqrt(((share * pooled) ** 2 / counts).sum())),
        zones=tuple(
            ZoneMean(n, float(m), int(c)) for (n, _), m, c in zip(kept, means, counts, strict=True)
        ),
        outliers=tuple(np.flatnonzero(out).tolist()),
        doubts=found,
        believed=round_.kept or not SPOILS & set(found),
    )


def vapour_pressure_deficit_kpa(air_c: float, humidity_percent: float) -> float:
    """Vapour pressure deficit of the air [kPa], by FAO-56 eq. 11."""
    saturated = 0.6108 * np.exp(17.27 * air_c / (air_c + 237.3))
    return float(saturated * (1.0 - humidity_percent / 100.0))


def impossible(values: Sequence[float]) -> list[int]:
    """Places of readings that no chamber gives."""
    return [k for k, v in enumerate(values) if not DRIEST_MPA <= v <= WETTEST_MPA]
