"""Soil water by feel and appearance: what a hand finds, by groups of texture.

References
----------
.. [1] USDA-NRCS (1998), Estimating Soil Moisture by Feel and Appearance, Program Aid 1619:
   four groups of texture, steps of a quarter of the available water (from memory; the
   descriptions are our own).
"""

import json
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from pathlib import Path

import numpy as np

from core.arrays import ArrayLike, Floats
from core.instrument.sensor_layers import sensor_layers
from core.soil.profile import Profile
from core.soil.texture import TextureClass


class FeelGroup(StrEnum):
    COARSE = "coarse"
    MODERATELY_COARSE = "moderately_coarse"
    MEDIUM = "medium"
    FINE = "fine"


class Drawing(StrEnum):
    """What lies in the hand."""

    LOOSE = "loose"
    CRUMBLING = "crumbling"
    WEAK_BALL = "weak_ball"
    BALL_STAIN = "ball_stain"
    RIBBON_SHORT = "ribbon_short"
    RIBBON = "ribbon"
    BALL_WET = "ball_wet"


@dataclass(frozen=True)
class FeelStep:
    """What a hand finds between two shares of the available water, 0-1."""

    low: float
    high: float
    hand: str
    drawing: Drawing

    @property
    def available(self) -> float:
        """The share it stands for: the middle."""
        return (self.low + self.high) / 2


@dataclass(frozen=True)
class GroupFacts:
    """A group's steps, from dry to full."""

    group: FeelGroup
    name: str
    textures: tuple[TextureClass, ...]
    steps: tuple[FeelStep, ...]


@dataclass(frozen=True)
class FeelLayer:
    """A layer as it is checked: its depth, group, what it holds when full [mm]."""

    top_mm: float
    bottom_mm: float
    group: FeelGroup
    available_mm: float


@cache
def feel_groups() -> dict[FeelGroup, GroupFacts]:
    """The four groups."""
    data = json.loads((Path(__file__).parent / "feel.json").read_text())
    return {
        FeelGroup(key): GroupFacts(
            FeelGroup(key),
            row["name"],
            tuple(TextureClass(t) for t in row["textures"]),
            tuple(
                FeelStep(s["low"] / 100, s["high"] / 100, s["hand"], Drawing(s["drawing"]))
                for s in row["steps"]
            ),
        )
        for key, row in data["groups"].items()
    }


def feel_group(texture: TextureClass) -> FeelGroup:
    """The group a texture is felt in."""
    return next(g for g, facts in feel_groups().items() if texture in facts.textures)


def feel_layers(profile: Profile, depth_mm: ArrayLike) -> list[FeelLayer]:
    """Layers that checks at given depths stand for.

    Parameters
    ----------
    depth_mm : array, shape (checks,), rising [mm]
    """
    depth = np.asarray(depth_mm, float)
    top, bottom = sensor_layers(depth)
    available = profile.available_between(top, bottom).sum(axis=-1)
    return [
        FeelLayer(
            float(top[k]),
            float(bottom[k]),
            feel_group(profile.limits[h].texture),
            float(available[k]),
        )
        for k, h in enumerate(profile.horizon_at(depth))
    ]


def feel_deficit_mm(available_mm: ArrayLike, share: ArrayLike) -> Floats:
    """What a layer lacks to be full at a share of its available water [mm]; broadcasts."""
    kept = np.clip(np.asarray(share, float), 0.0, 1.0)
    deficit: Floats = np.asarray(available_mm, float) * (1 - kept)
    return deficit
