"""Which kinds of block a farm has, the sites that stand for each, and where one more tells most."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum


class SlopeClass(StrEnum):
    """Classes of FAO (2006), Guidelines for soil description, 4th ed., table 7; joined as blocks
    are irrigated."""

    LEVEL = "level"
    GENTLE = "gentle"
    SLOPING = "sloping"
    STEEP = "steep"


# Slope at which each class but the first begins [%].
_BEGINS = ((SlopeClass.STEEP, 15.0), (SlopeClass.SLOPING, 5.0), (SlopeClass.GENTLE, 2.0))


def slope_class(slope_percent: float) -> SlopeClass:
    """The class of a slope [%]."""
    return next((c for c, begins in _BEGINS if slope_percent >= begins), SlopeClass.LEVEL)


@dataclass(frozen=True)
class CoverBlock:
    """A block as far as it matters for the farm's sites.

    Parameters
    ----------
    crop : str
        Empty without one.
    sites : tuple of str
        Names of the instruments in its soil, each spot once.
    value : float, optional [money]
        Of all its yield; None where nobody priced it.
    """

    name: str
    crop: str
    soil: str
    slope: SlopeClass
    system: str
    area_m2: float
    sites: tuple[str, ...]
    value: float | None


@dataclass(frozen=True)
class CoverGroup:
    """Blocks of one crop, soil, slope and irrigation system.

    Parameters
    ----------
    value : float, optional [money]
        Of their yield; None where that of one is not known.
    tells : float
        What one more site would tell, in the unit of the ranking: see `farm_cover`.
    """

    crop: str
    soil: str
    slope: SlopeClass
    system: str
    blocks: tuple[CoverBlock, ...]
    value: float | None
    tells: float

    @property
    def area_m2(self) -> float:
        return sum(b.area_m2 for b in self.blocks)

    @property
    def sites(self) -> tuple[str, ...]:
        return tuple(s for b in self.blocks for s in b.sites)


def farm_cover(blocks: Sequence[CoverBlock]) -> list[CoverGroup]:
    """Groups of similar blocks, those first where one more site tells most.

    The stake is the value of the yield where that of all blocks is known, else the area. What is
    not known of a group falls as 1 / n with its sites: a first one tells the whole stake, one more
    beside n the stake / (n (n + 1)). Common practice, no source.
    """
    by_kind: dict[tuple[str, str, SlopeClass, str], list[CoverBlock]] = {}
    for block in blocks:
        kind = (block.crop, block.soil, block.slope, block.system)
        by_kind.setdefault(kind, []).append(block)
    priced = all(b.value is not None for b in blocks)
    groups = [_group(kind, of_kind, priced) for kind, of_kind in by_kind.items()]
    return sorted(groups, key=lambda g: (-g.tells, g.blocks[0].name))


def _group(
    kind: tuple[str, str, SlopeClass, str], blocks: list[CoverBlock], priced: bool
) -> CoverGroup:
    values = [b.value for b in blocks]
    known = [v for v in values if v is not None]
    value = sum(known) if len(known) == len(values) else None
    stake = value if priced and value is not None else sum(b.area_m2 for b in blocks)
    sites = sum(len(b.sites) for b in blocks)
    tells = stake if sites == 0 else stake / (sites * (sites + 1))
    return CoverGroup(*kind, tuple(blocks), value, tells)
