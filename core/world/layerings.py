"""Soils of simulated fields, horizon by horizon, as their owner is told of them."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from core.soil.horizon import Horizon, LimitMethod
from core.soil.profile import Profile
from core.soil.retention import WILTING_TENSION_KPA
from core.soil.texture import TextureClass

DEEP_MM = 1600.0


@dataclass(frozen=True)
class Part:
    """A horizon down to ``bottom_mm``; gravel [-]; a pan lets water through twenty times more
    slowly, and nobody knows of it."""

    bottom_mm: float
    texture: TextureClass
    gravel: float = 0.0
    is_pan: bool = False


@dataclass(frozen=True)
class Layering:
    """A soil from the top down; ``measured`` where its limits are told as a laboratory found
    them, and not by texture alone."""

    name: str
    parts: tuple[Part, ...]
    measured: bool = False

    @classmethod
    def uniform(cls, texture: TextureClass) -> "Layering":
        """The same all the way down."""
        return cls(str(texture), (Part(DEEP_MM, texture),))

    @property
    def told(self) -> Profile:
        """As its owner knows it."""
        tops = [0.0, *(p.bottom_mm for p in self.parts[:-1])]
        told = [
            Horizon(top, p.bottom_mm, texture=p.texture, gravel=p.gravel)
            for top, p in zip(tops, self.parts, strict=True)
        ]
        profile = Profile.from_horizons(told)
        if not self.measured:
            return profile
        return Profile.from_horizons(
            [
                replace(
                    horizon,
                    method=LimitMethod.MEASURED,
                    points=(
                        (found.full_tension_kpa, found.theta_full / (1 - found.gravel)),
                        (WILTING_TENSION_KPA, found.theta_wilt / (1 - found.gravel)),
                    ),
                )
                for horizon, found in zip(told, profile.limits, strict=True)
            ]
        )


# From the coarsest to the finest, a field of each in most trials.
TEXTURES = (
    TextureClass.SAND,
    TextureClass.SANDY_LOAM,
    TextureClass.LOAM,
    TextureClass.SILT_LOAM,
    TextureClass.CLAY_LOAM,
    TextureClass.CLAY,
)


def uniform(textures: Sequence[TextureClass]) -> tuple[Layering, ...]:
    """One soil of each texture."""
    return tuple(Layering.uniform(t) for t in textures)


def measured(soils: Sequence[Layering]) -> tuple[Layering, ...]:
    """The same soils, with their limits measured."""
    return tuple(replace(s, measured=True) for s in soils)


# Soils of several horizons as they are met: sand or gravel below, clay below, stones, a pan.
UNEVEN = (
    Layering(
        "sandy loam over clay",
        (Part(350, TextureClass.SANDY_LOAM), Part(DEEP_MM, TextureClass.CLAY)),
    ),
    Layering("loam over sand", (Part(450, TextureClass.LOAM), Part(DEEP_MM, TextureClass.SAND))),
    Layering(
        "silt loam over gravelly loam",
        (Part(300, TextureClass.SILT_LOAM), Part(DEEP_MM, TextureClass.LOAM, gravel=0.4)),
    ),
    Layering("gravelly sandy loam", (Part(DEEP_MM, TextureClass.SANDY_LOAM, gravel=0.35),)),
    Layering(
        "clay loam with a pan",
        (
            Part(350, TextureClass.CLAY_LOAM),
            Part(450, TextureClass.CLAY_LOAM, is_pan=True),
            Part(DEEP_MM, TextureClass.LOAM),
        ),
    ),
)
