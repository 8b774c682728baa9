"""How a block's equipment gives the amount that is due: turns, sets, pulses."""

from math import inf

from core.advice.assumptions import Assumptions
from core.advice.inputs import BlockInputs
from core.irrigation.run import Run, run_of

# Of what the crop may use, the most that one pulse brings where water comes little and often: the
# soil keeps room for the pulse, and nothing runs through narrow strips (working assumption, no
# source).
PULSE_SHARE = 0.5


def most_pulse_mm(assumed: Assumptions, raw_mm: float) -> float:
    """The most of one pulse [mm gross]; infinity where water is not given little and often.

    ``raw_mm`` is what the crop may use, over the whole block.
    """
    if not assumed.little_and_often or raw_mm <= 0:
        return inf
    return PULSE_SHARE * raw_mm / assumed.system.efficiency


def run_of_set(inputs: BlockInputs, gross_mm: float, raw_mm: float) -> Run | None:
    """How the equipment gives a depth; None for nothing.

    Parameters
    ----------
    inputs : BlockInputs
    gross_mm : float [mm]
    raw_mm : float
        What the crop may use, over the whole block [mm].
    """
    if gross_mm <= 0:
        return None
    assumed = inputs.assumed
    return run_of(
        assumed.system,
        assumed.design,
        gross_mm,
        assumed.intake_mm_h,
        assumed.slope_percent,
        most_pulse_mm(assumed, raw_mm),
    )
