"""What is kept of an ensemble at the end of each step."""

import numpy as np
from numba import njit

from core.arrays import Floats
from core.estimate.member import ARRIVES, FLOWS, LOSS, USE, WANTED

# What is written down at the end of each step, in this order; depths [mm]. The depletion after
# a step is the one before it, plus what growing roots met, used, evaporated and what left the
# roots downwards, less what came in, plus the correction by the readings.
(
    DEPLETION,
    DEPLETION_SD,
    LOW,
    HIGH,
    CORRECTION,
    FORECAST_SD,
    TAW,
    TAW_SD,
    RAW,
    RAW_SD,
    USABLE_SD,
    STRESS,
    USE_MEAN,
    USE_SD,
    ARRIVES_MEAN,
    ARRIVES_SD,
    GREW,
    LEFT,
    UNLOGGED,
    MISSING,
    SURPRISE,
    FLOW,
) = range(22)
NOTES = FLOW + FLOWS

# What all members have wrong together, as a share of the spread between them: set so that the
# stated range of fields of Richards columns holds what it says.
MODEL_SPREAD = 1.28


@njit(cache=True)
def spread(values: Floats) -> tuple[float, float]:
    """Mean and standard deviation."""
    mean = values.mean()
    return mean, np.sqrt(((values - mean) ** 2).sum() / (values.size - 1))


@njit(cache=True)
def note(x: Floats, layers: int, found: Floats, flows: Floats, out: Floats) -> None:
    """What is kept of an ensemble at the end of a step."""
    factor = 3 * layers
    out[DEPLETION], out[DEPLETION_SD] = spread(found[0])
    ordered = np.sort(found[0])
    count = ordered.size
    mean, tenth = out[DEPLETION], int(0.1 * count)
    out[LOW] = mean + MODEL_SPREAD * (ordered[tenth] - mean)
    out[HIGH] = mean + MODEL_SPREAD * (ordered[count - 1 - tenth] - mean)
    out[DEPLETION_SD] *= MODEL_SPREAD
    out[TAW], out[TAW_SD] = spread(found[1])
    out[RAW], out[RAW_SD] = spread(found[2])
    _, out[USABLE_SD] = spread(found[2] - found[0])
    out[USABLE_SD] *= MODEL_SPREAD
    wanted = flows[WANTED].mean()
    out[STRESS] = flows[LOSS].mean() / wanted if wanted > 0 else 0.0
    mean, sd = spread(x[factor + USE])
    out[USE_MEAN], out[USE_SD] = np.exp(mean), np.exp(mean) * sd
    mean, sd = spread(x[factor + ARRIVES])
    out[ARRIVES_MEAN], out[ARRIVES_SD] = np.exp(mean), np.exp(mean) * sd
