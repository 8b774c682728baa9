"""What simulated instruments read from a simulated column."""

import numpy as np

from core.arrays import ArrayLike, Floats
from core.instrument.kinds import InstrumentKind, Quantity, kinds
from core.soil.profile import Profile

THETA_BIAS, THETA_NOISE = 0.004, 0.0006  # [m3/m3]
TENSION_NOISE = 0.03  # share of the reading
# Where the scale ends; a tensiometer there is already beyond what may be believed.
GAUGE_END_KPA = {InstrumentKind.TENSIOMETER: 85.0, InstrumentKind.GRANULAR_MATRIX: 239.0}


def simulate_readings(
    kind: InstrumentKind,
    profile: Profile,
    depth_mm: ArrayLike,
    theta: Floats,
    node_mm: Floats,
    rng: np.random.Generator,
) -> Floats:
    """Readings of one instrument over time.

    Parameters
    ----------
    kind : InstrumentKind
    profile : Profile
    depth_mm : array, shape (sensors,) [mm]
    theta : array, shape (times, nodes) [m3/m3]
    node_mm : array, shape (nodes,) [mm]
    rng : numpy Generator

    Returns
    -------
    array, shape (times, sensors) [m3/m3 or kPa]
        Rounded as such instruments print: 0.0001 m3/m3, 1 kPa. A gauge stops at the
        end of its scale.
    """
    depth = np.asarray(depth_mm, float)
    true = np.column_stack([_at_depth(d, theta, node_mm) for d in depth])
    if kinds()[kind].quantity is Quantity.THETA:
        bias = rng.normal(0, THETA_BIAS, depth.size)
        return np.round(true + bias + rng.normal(0, THETA_NOISE, true.shape), 4)
    h = profile.horizon_at(depth)
    curve = profile.curve.of(h)
    tension = curve.tension_at(true / (1 - profile.gravel[h]))
    noisy = tension * np.exp(rng.normal(0, TENSION_NOISE, tension.shape))
    return np.round(np.clip(noisy, 0, GAUGE_END_KPA[kind]), 0)


def _at_depth(depth: float, theta: Floats, node_mm: Floats) -> Floats:
    """Water content at one depth, straight line between the two nodes around it."""
    below = int(np.clip(np.searchsorted(node_mm, depth), 1, node_mm.size - 1))
    share = np.clip((depth - node_mm[below - 1]) / (node_mm[below] - node_mm[below - 1]), 0, 1)
    value: Floats = theta[:, below - 1] * (1 - share) + theta[:, below] * share
    return value
