"""All rules over readings of many channels in one pass."""

from dataclasses import dataclass

import numpy as np

from core.arrays import Bools, Floats
from core.quality.breaks import broken_columns, drains_off, theta_breaks
from core.quality.climbs import jumps_at_all_depths, night_climbs, rises_without_water
from core.quality.flags import Flag
from core.quality.series import Series
from core.quality.spikes import steps_off, tension_spikes, theta_spikes
from core.quality.standstill import flat_stretches
from core.quality.water import Water

# Two spreads of a pore space known from texture (0.04) and of a factory calibration (0.03), both
# working assumptions [m3/m3].
OVER_SATURATION_MARGIN = 0.10
# A rule looks this far back and ahead of a reading; a new one may change its neighbours' flags.
LOOK_BACK_HOURS = 54.0
LOOK_AHEAD_HOURS = 49.0
FROZEN_BELOW_C = 0.0
LEAST_THETA = 0.005  # air-dry sand holds more; working assumption [m3/m3]
STILL_KPA = 10.0  # below, nights and days differ by less than a gauge shows; working assumption


@dataclass(frozen=True)
class Sensors:
    """What the rules need to know of each channel; arrays of shape (channels,).

    instrument, block : array of int
    is_theta, is_tensiometer : array of bool; neither is a tension that has no water column,
        or something else that only its range can judge
    is_tension : array of bool
    low, high : array, the instrument's range in the unit of the values
    theta_sat : array [m3/m3], NaN where unknown
    depth_mm : array [mm], NaN where it has none
    """

    instrument: np.ndarray
    block: np.ndarray
    is_theta: Bools
    is_tension: Bools
    is_tensiometer: Bools
    low: Floats
    high: Floats
    theta_sat: Floats
    depth_mm: Floats


@dataclass(frozen=True)
class Surroundings:
    """What happened around the readings.

    water : sets and rain by block; serviced : refills by channel, as water is
    local_hour : array, shape (readings,) [h], the farm's clock
    soil_c : array, shape (readings,) [degrees C], NaN where no thermometer stands beside
    """

    water: Water
    serviced: Water
    local_hour: Floats
    soil_c: Floats


def judge(series: Series, sensors: Sensors, around: Surroundings) -> np.ndarray:
    """Flags of readings.

    Parameters
    ----------
    series : Series
        Values in m3/m3 or kPa, or in the unit of the channel's range.
    sensors : Sensors
    around : Surroundings

    Returns
    -------
    array of int, shape (readings,)
        Sum of `Flag`; 0 where nothing is wrong.

    Notes
    -----
    Readings near the ends of a stretch are judged by what is there; give 54 h before and
    49 h after those whose flags are wanted.
    """
    c, x = series.channel, series.value
    if x.size == 0:
        return np.zeros(0, np.int16)
    theta, tension = sensors.is_theta[c], sensors.is_tension[c]
    since = around.water.hours_since(sensors.block[c], series.hours)
    refilled = around.serviced.hours_since(c, series.hours)
    with np.errstate(invalid="ignore"):
        found = {
            Flag.RANGE: (x < sensors.low[c]) | (x > sensors.high[c]),
            Flag.TOO_DRY: theta & (x < LEAST_THETA) & (x >= sensors.low[c]),
            Flag.OVER_SATURATION: theta & (x > sensors.theta_sat[c] + OVER_SATURATION_MARGIN),
            Flag.FROZEN: (theta | tension) & (around.soil_c < FROZEN_BELOW_C),
        }
    found[Flag.SPIKE] = (theta & theta_spikes(series) & steps_off(series)) | (
        tension & tension_spikes(series)
    )
    # Water may well come between one reading and the next; nothing but a fault takes it away.
    dry = since > np.minimum(series.step, 24.0) + 1
    falls = x < series.shift(x, 1)
    found[Flag.BREAK] = theta & theta_breaks(series) & (falls | (dry & ~drains_off(series)))
    # What lies below what a soil can hold is said to; in wet soil a tension hardly moves.
    moves = (theta & ~found[Flag.TOO_DRY]) | (tension & (x > STILL_KPA))
    found[Flag.FLAT] = moves & flat_stretches(series)
    found[Flag.BROKEN_COLUMN] = sensors.is_tensiometer[c] & broken_columns(
        series, since, refilled, sensors.depth_mm[c]
    )
    found[Flag.RISE_WITHOUT_WATER] = theta & rises_without_water(series, since, sensors.depth_mm[c])
    # What is no reading at all is no rise either.
    found[Flag.RISE_WITHOUT_WATER] &= ~(found[Flag.SPIKE] | found[Flag.BREAK] | found[Flag.RANGE])
    found[Flag.NIGHT_CLIMB] = theta & night_climbs(series, around.local_hour, since)
    found[Flag.JUMP_AT_ALL_DEPTHS] = theta & jumps_at_all_depths(
        series, sensors.instrument[c], since
    )
    flags = np.zeros(x.shape, np.int16)
    for flag, where in found.items():
        flags[where] |= int(flag)
    return flags
