"""What a valve's flow says of it: burst, blocked, not opened, leaking.

The bounds are common practice, no source: a block whose flow is a quarter off its design has
something wrong with it, and a meter reads to some per cent.
"""

from enum import StrEnum

from core.sentence import Sentence, sentence

# Shares of the expected flow [-].
BURST_FROM = 1.25
BLOCKED_BELOW = 0.75
NO_FLOW_BELOW = 0.1
LEAK_FROM = 0.02
# A meter's own noise near zero [L/s].
METER_NOISE_LS = 0.05
# Until a line has filled, or emptied, its flow tells nothing [s].
SETTLES_S = 120.0


class FlowFault(StrEnum):
    """What is wrong with the water at a valve."""

    BURST = "burst"
    BLOCKED = "blocked"
    NOT_OPENED = "not_opened"
    LEAK = "leak"


WHAT_TO_DO: dict[FlowFault, Sentence] = {
    FlowFault.BURST: sentence(
        "Close the valve. Walk the line from the valve for a broken pipe or an open end before you "
        "open it again."
    ),
    FlowFault.BLOCKED: sentence(
        "Check the filter and the pressure at the valve, then the laterals and emitters."
    ),
    FlowFault.NOT_OPENED: sentence(
        "Check that the pump runs and the hand valve is open, then the valve and its wire."
    ),
    FlowFault.LEAK: sentence(
        "Close the hand valve. Look for dirt in the valve's seat, or a pipe that leaks after it."
    ),
}


def flow_fault(
    is_open: bool, since_s: float, flow_ls: float | None, expected_ls: float | None
) -> FlowFault | None:
    """What a valve's flow says of it; None where nothing is wrong, or nothing can be said yet.

    Parameters
    ----------
    since_s : how long the valve has been open, or closed [s]
    flow_ls : flow that its meter shows; None without one [L/s]
    expected_ls : flow of the block by its design; None where it is not known [L/s]
    """
    if flow_ls is None or since_s < SETTLES_S:
        return None
    if not is_open:
        least = max(METER_NOISE_LS, LEAK_FROM * (expected_ls or 0.0))
        return FlowFault.LEAK if flow_ls > least else None
    if flow_ls <= METER_NOISE_LS:
        return FlowFault.NOT_OPENED
    if expected_ls is None:
        return None
    if flow_ls < NO_FLOW_BELOW * expected_ls:
        return FlowFault.NOT_OPENED
    if flow_ls < BLOCKED_BELOW * expected_ls:
        return FlowFault.BLOCKED
    return FlowFault.BURST if flow_ls > BURST_FROM * expected_ls else None
