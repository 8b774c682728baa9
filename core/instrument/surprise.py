"""What the next reading by hand is likely to lie between; beyond it, it is asked again.

Not a rule of trust: a surprising reading that a person confirms comes in like any other.
"""

from core.instrument.kinds import InstrumentKind, Quantity, kinds

# Working assumptions, no source: how far a reading moves between two rounds.
TENSION_FALL, TENSION_RISE, TENSION_SLACK_KPA = 0.25, 2.5, 15.0
THETA_MOVE = 0.10
LEAF_MOVE_MPA = 0.6
SHARE_MOVE = 0.6
WATER_MOVE_MM = 150.0


def usual_next(kind: InstrumentKind, quantity: Quantity, last: float | None) -> tuple[float, float]:
    """Bounds of a reading that surprises nobody, in the core unit of its quantity.

    Parameters
    ----------
    kind : InstrumentKind
    quantity : Quantity
        What is written down.
    last : float or None
        The reading before; None where there is none: then the kind's own range holds.

    Returns
    -------
    low, high : float
    """
    facts = kinds()[kind]
    low, high = (facts.low, facts.high) if quantity is facts.quantity else (-1e12, 1e12)
    if last is None:
        return low, high
    if quantity is Quantity.TENSION:
        near = (
            last * TENSION_FALL - TENSION_SLACK_KPA,
            last * TENSION_RISE + TENSION_SLACK_KPA,
        )
    elif quantity is Quantity.THETA:
        near = (last - THETA_MOVE, last + THETA_MOVE)
    elif quantity is Quantity.LEAF_POTENTIAL:
        near = (last - LEAF_MOVE_MPA, last + LEAF_MOVE_MPA)
    elif quantity is Quantity.AVAILABLE:
        near = (last - SHARE_MOVE, last + SHARE_MOVE)
    elif quantity is Quantity.WATER_DEPTH:
        near = (last - WATER_MOVE_MM, last + WATER_MOVE_MM)
    elif quantity is Quantity.VOLUME:
        # A counter does not run backwards.
        near = (last, high)
    else:
        near = (low, high)
    return max(low, near[0]), min(high, near[1])
