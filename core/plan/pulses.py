"""How long an irrigation takes, with pauses where it is given in pulses."""

from dataclasses import dataclass
from math import ceil, floor


@dataclass(frozen=True)
class Pulses:
    """Water at a rate that the soil does not take in at one go.

    most_mm : float [mm net], of one pulse
    pause_h : float [h], between two
    """

    most_mm: float
    pause_h: float


def pulses_of(net_mm: float, pulses: Pulses | None) -> int:
    """How many pulses bring a depth; 1 where none are needed."""
    if pulses is None:
        return 1
    return max(ceil(net_mm / pulses.most_mm - 1e-9), 1)


def hours_of(net_mm: float, net_mm_h: float, pulses: Pulses | None) -> float:
    """From the first water to the last [h].

    Parameters
    ----------
    net_mm : float [mm]
    net_mm_h : float, above zero [mm/h]
        While water runs.
    """
    pauses = 0.0 if pulses is None else (pulses_of(net_mm, pulses) - 1) * pulses.pause_h
    return net_mm / net_mm_h + pauses


def brought_in(hours: float, net_mm_h: float, pulses: Pulses | None) -> float:
    """The most that so many hours bring, pauses among them [mm net]."""
    if pulses is None:
        return hours * net_mm_h
    on_h = pulses.most_mm / net_mm_h
    whole = floor(hours / (on_h + pulses.pause_h) + 1e-9)
    left_h = max(hours - whole * (on_h + pulses.pause_h), 0.0)
    return whole * pulses.most_mm + min(left_h * net_mm_h, pulses.most_mm)
