"""What of a wetting went past the roots."""

from dataclasses import dataclass
from math import hypot, isnan

from core.events.reach import Reach

# Of what the crop is thought to use, and of what nights tell of draining [-]; working assumptions.
USE_SIGMA, NIGHT_SIGMA = 0.15, 0.3
# Where the front went past the lowest sensor, what is seen below the
# roots is only part of what went there [-]; working assumption.
UNSEEN_SIGMA = 1.0
LEAST_SIGMA_MM = 0.5  # of anything told of water in a field; working assumption


@dataclass(frozen=True)
class Amount:
    """A depth of water and its spread [mm]; both NaN where it is not known."""

    mm: float
    sigma_mm: float


UNKNOWN = Amount(float("nan"), float("nan"))


def passed_by_sensors(below: Amount, drained_mm: float, reach: Reach, root_mm: float) -> Amount:
    """By the instruments alone: what came below the roots, and what drained at night after it.

    Parameters
    ----------
    below : Amount
        Added below the roots by when the water had spread out; 0 mm where no sensor stands there.
    drained_mm : float
        Lost by the root zone at night rates from then on.
    reach : Reach
    root_mm : float

    Notes
    -----
    Water that ended above the bottom of the roots has only spread within them, whatever single
    sensors lose at night. Where it may have ended on either side, half of it is counted.
    """
    share = 0.0 if reach.high_mm <= root_mm else 1.0 if reach.low_mm >= root_mm else 0.5
    came, drained = share * max(below.mm, 0.0), share * max(drained_mm, 0.0)
    unseen = UNSEEN_SIGMA * came if reach.beyond_sensors else 0.0
    either = (1 - share) * drained_mm if share else 0.0
    own = below.sigma_mm if share else LEAST_SIGMA_MM
    return Amount(came + drained, hypot(own, NIGHT_SIGMA * drained, unseen, either))


def passed_by_balance(given: Amount, kept: Amount, used_mm: float) -> Amount:
    """By what was given, less what stayed in the roots and what the crop used meanwhile."""
    sigma = hypot(given.sigma_mm, kept.sigma_mm, USE_SIGMA * used_mm)
    return Amount(given.mm - kept.mm - used_mm, sigma)


def both(one: Amount, other: Amount) -> Amount:
    """Two accounts of the same water, each with the weight of its certainty; never below zero."""
    known = [a for a in (one, other) if a.sigma_mm > 0 and not isnan(a.mm)]
    if not known:
        return UNKNOWN
    weight = [a.sigma_mm**-2 for a in known]
    mm = sum(w * a.mm for w, a in zip(weight, known, strict=True)) / sum(weight)
    return Amount(max(mm, 0.0), sum(weight) ** -0.5)
