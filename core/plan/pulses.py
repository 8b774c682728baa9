"""How long an irrigation takes, with pauses where it is given in pulses."""

from dataclasses import dataclass
from typing import TypeVar

import numpy as np

from core.arrays import Floats

Many = TypeVar("Many", float, Floats)


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
    return 1 if pulses is None else int(_count(net_mm, pulses))


def hours_of(net_mm: Many, net_mm_h: float, pulses: Pulses | None) -> Many:
    """From the first water to the last [h].

    Parameters
    ----------
    net_mm : float or array [mm]
    net_mm_h : float, above zero [mm/h]
        While water runs.
    """
    if pulses is None:
        return net_mm / net_mm_h
    return net_mm / net_mm_h + (_count(net_mm, pulses) - 1.0) * pulses.pause_h


def brought_in(hours: Many, net_mm_h: float, pulses: Pulses | None) -> Many:
    """The most that so many hours bring, pauses among them [mm net]; float or array, as they."""
    if pulses is None:
        return hours * net_mm_h
    on_h = pulses.most_mm / net_mm_h
    whole: Many = np.floor(hours / (on_h + pulses.pause_h) + 1e-9)
    left_h: Many = np.maximum(hours - whole * (on_h + pulses.pause_h), 0.0)
    last: Many = np.minimum(left_h * net_mm_h, pulses.most_mm)
    return whole * pulses.most_mm + last


def _count(net_mm: Many, pulses: Pulses) -> Many:
    count: Many = np.maximum(np.ceil(net_mm / pulses.most_mm - 1e-9), 1.0)
    return count
