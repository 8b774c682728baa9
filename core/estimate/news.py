"""What readings of a morning say beside their level: water nobody told of, and a level at full."""

import numpy as np
from numba import njit

from core.arrays import Floats

# What each sensor remembers from morning to morning.
LAST, MORNING_1, MORNING_2, MORNING_3, PLATEAUS, WANDER = range(6)
REMEMBERED = 6
# Working assumptions, from the study of Richards columns: [m3/m3], spreads, mm and steps.
PLATEAU_RISE, PLATEAU_SD, PLATEAU_GATE = 0.012, 0.03, 2.0
NEWS_SIGMAS, NEWS_RISE, NEWS_STEP, NEWS_SLOW = 3.0, 0.012, 0.008, 0.012
GONE_SIGMAS = 2.0  # water that was logged is doubted sooner than water is made up
LEAST_WATER_MM = 5.0
LONG_SINCE = 3  # steps without any water after which a slow rise is news too


@njit(cache=True)
def news(
    reading: Floats,
    guess: Floats,
    guess_sd: Floats,
    memory: Floats,
    depth: Floats,
    place: np.ndarray,
    given: float,
    since: float,
) -> tuple[bool, bool, float]:
    """Whether readings ask for water that nobody told of or take some back, and how much [mm].

    ``guess``, ``guess_sd``, arrays (sensors,), are what was expected of each.
    """
    came = gone = False
    wanted = 0.0
    for s in range(reading.size):
        y = reading[s]
        if np.isnan(y) or place[s] > 2 or np.isnan(memory[s, LAST]):
            continue
        off, rose = y - guess[s], y - memory[s, LAST]
        bar = max(NEWS_SIGMAS * guess_sd[s], NEWS_RISE)
        at_once = off > bar and rose > NEWS_STEP
        slowly = (
            place[s] < 2
            and since >= LONG_SINCE
            and off > NEWS_STEP
            and y - memory[s, MORNING_1] > NEWS_SLOW
        )
        came = came or at_once or slowly
        short = off < -max(GONE_SIGMAS * guess_sd[s], NEWS_RISE) and rose < NEWS_STEP
        gone = gone or (short and place[s] < 2 and given > LEAST_WATER_MM)
        if off > 0:
            half = depth[s] if place[s] == 0 else 0.5 * (depth[s] - depth[s - 1])
            wanted += off * 2.0 * half
    return came, gone, wanted


@njit(cache=True)
def is_plateau(reading: Floats, memory: Floats, sensor: int, below: int) -> bool:
    """Whether a level has stood since a rise two mornings ago and the water went on below."""
    one, two, three = (
        memory[sensor, MORNING_1],
        memory[sensor, MORNING_2],
        memory[sensor, MORNING_3],
    )
    y = reading[sensor]
    if not (two - three > PLATEAU_RISE and max(one - two, y - one) <= PLATEAU_RISE):
        return False
    a, b, c = memory[below, MORNING_1], memory[below, MORNING_2], memory[below, MORNING_3]
    return reading[below] - a > PLATEAU_RISE or a - b > PLATEAU_RISE or b - c > PLATEAU_RISE
