"""Zones of a block: cells that are alike in all layers, together in space.

References
----------
.. [1] Lloyd, S. P. (1982), Least squares quantization in PCM, IEEE Trans. Inf. Theory 28:129-137,
   doi:10.1109/TIT.1982.1056489 (k-means, by scikit-learn).
.. [2] Rousseeuw, P. J. (1987), Silhouettes, J. Comput. Appl. Math. 20:53-65,
   doi:10.1016/0377-0427(87)90125-7.
.. [3] Kaufman, L., Rousseeuw, P. J. (1990), Finding Groups in Data, Wiley,
   doi:10.1002/9780470316801 (table 4: below 0.25 there is no structure).
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy import ndimage

from core.arrays import Bools, Floats, Ints
from core.siting.layer import OF_SOIL, Layer, LayerKind, in_spreads
from core.siting.raster import Raster
from core.siting.smoothing import smoothed, without_slivers
from core.siting.stability import YearsSeen

MOST_ZONES = 6
# Silhouette below which a block is one zone [3]_.
LEAST_INDEX = 0.25
# Of numbers whose index is nearly the best one, the largest is suggested: zones that were split are
# merged at a glance, and those that were not can't be seen. Chosen on simulated blocks.
NEARLY = 0.9
# Cells that centres are found by, and that the index is taken of, drawn at random.
FIT_CELLS, INDEX_CELLS = 5000, 2500
# Of the layers, before zones are made: narrower things are not treated apart [m].
SMOOTH_M = 15.0
# The smallest patch that stays a zone's [m2]; common practice, no source.
SLIVER_M2 = 1000.0
# A layer that tells nothing still counts this much [-].
LEAST_TRUST = 0.05
# What a neighbour of another zone costs, in half squared spreads of what cells differ by.
NEIGHBOUR = 0.6


@dataclass(frozen=True)
class Feature:
    """One thing that cells are compared by, in spreads over the block.

    Parameters
    ----------
    value : array, shape (cells,) [-]
        NaN where unknown.
    error : float [-]
        Standard error of it, in the same spreads.
    of_soil : bool
        Whether it tells of the soil itself and not of what grew on it.
    """

    name: str
    value: Floats
    error: float
    of_soil: bool = False

    def trust(self, among: Bools | None = None) -> float:
        """Share of the variance among some cells that is not error [-]; among all by default."""
        variance = float(np.nanvar(self.value if among is None else self.value[among]))
        return max(variance / (variance + self.error**2), LEAST_TRUST) if variance > 0 else 0.0


@dataclass(frozen=True)
class Zones:
    """A block in zones.

    Parameters
    ----------
    label : array of int, shape (cells,)
        From 0; -1 where no layer knows.
    index : dict of int to float [-]
        By the number of zones, from 2: the mean over the zones of each one's mean silhouette [2]_,
        so that a small zone counts as much as a large one.
    suggested : int
        The largest number whose index is at least `NEARLY` of the highest; 1 where the highest is
        below `LEAST_INDEX`.
    """

    label: Ints
    index: dict[int, float]
    suggested: int

    @property
    def count(self) -> int:
        return int(self.label.max()) + 1


def features_of(layers: Sequence[Layer], years: YearsSeen | None, raster: Raster) -> list[Feature]:
    """What cells are compared by: the years put together, and each layer that stays.

    Dry and wet years count apart where both are known, for a block may be good in one and poor in
    the other. What is narrower than `SMOOTH_M` is taken out.
    """
    found: list[Feature] = []
    if years is not None:
        seen = [("all years", years.mean)]
        if years.dry is not None and years.wet is not None:
            kinds = [
                ("dry years", years.dry),
                ("usual years", years.usual),
                ("wet years", years.wet),
            ]
            seen = [(n, v) for n, v in kinds if v is not None]
        error = years.difference / max(years.years / len(seen), 1) ** 0.5
        for name, value in seen:
            spread = float(np.nanstd(value))
            if spread > 0:
                scaled = (value - np.nanmean(value)) / spread
                found.append(Feature(name, scaled, error / spread))
    for layer in layers:
        if layer.kind is LayerKind.YIELD:
            continue
        value, error_of = in_spreads(layer)
        if np.nanstd(value) > 0:
            error = float(np.nanmean(error_of**2)) ** 0.5
            found.append(Feature(layer.name, value, error, OF_SOIL[layer.kind]))
    return [replace(f, value=smooth(f.value, raster)) for f in found]


def zones_of(features: Sequence[Feature], raster: Raster, count: int | None = None) -> Zones:
    """The block in so many zones, or in as many as the index suggests.

    Parameters
    ----------
    features : sequence of Feature
        One at least.
    count : int, optional
        Zones that a person wants, 1 to `MOST_ZONES`.

    Raises
    ------
    ValueError
        When another number is wanted.
    """
    # Costs every process that imports it a second, and few look for zones.
    from sklearn.cluster import KMeans  # noqa: PLC0415

    if count is not None and not 1 <= count <= MOST_ZONES:
        raise ValueError(f"a block has 1 to {MOST_ZONES} zones, not {count}")
    table = np.stack([f.value * f.trust() ** 0.5 for f in features], axis=1)
    known = np.isfinite(table).all(axis=1)
    label = np.full(len(table), -1)
    if known.sum() < MOST_ZONES * 2:
        return Zones(np.where(known, 0, -1), {}, 1)
    used = table[known]
    drawn = _drawn(used, FIT_CELLS)
    most = min(MOST_ZONES, len(np.unique(drawn, axis=0)))
    made = {k: KMeans(k, n_init=3, random_state=0).fit(drawn) for k in range(2, most + 1)}
    index = _indices(drawn, {k: m.labels_ for k, m in made.items()})
    best = max(index.values(), default=0.0)
    suggested = 1
    if best >= LEAST_INDEX:
        suggested = max(k for k, value in index.items() if value >= NEARLY * best)
    wanted = min(count or suggested, most)
    if wanted == 1:
        label[known] = 0
        return Zones(label, index, suggested)
    label[known] = _in_space(used, made[wanted].cluster_centers_, _known_of(raster, known), raster)
    return Zones(label, index, suggested)


def smooth(value: Floats, raster: Raster) -> Floats:
    """Values with what is narrower than `SMOOTH_M` taken out, unknown ones left unknown."""
    picture = raster.spread_out(value)
    there = np.isfinite(picture)
    sigma = SMOOTH_M / 2 / raster.cell_m
    total = ndimage.gaussian_filter(np.where(there, picture, 0.0), sigma, mode="constant")
    weight = ndimage.gaussian_filter(there.astype(float), sigma, mode="constant")
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.where(there, total / weight, np.nan)[raster.inside]


def _known_of(raster: Raster, known: Bools) -> Bools:
    inside = raster.inside.copy()
    inside[raster.inside] = known
    return inside


def _drawn(table: Floats, most: int) -> Floats:
    if len(table) <= most:
        return table
    return table[np.random.default_rng(0).choice(len(table), most, replace=False)]


def _indices(table: Floats, labels: dict[int, Ints]) -> dict[int, float]:
    """The index by number of zones, of cells drawn once for all."""
    from sklearn.metrics import silhouette_samples  # noqa: PLC0415
    from sklearn.metrics.pairwise import euclidean_distances  # noqa: PLC0415

    numbered = _drawn(np.column_stack([table, *labels.values()]), INDEX_CELLS)
    apart = euclidean_distances(numbered[:, : table.shape[1]])
    found: dict[int, float] = {}
    for k, label in zip(labels, numbered[:, table.shape[1] :].T, strict=True):
        if len(np.unique(label)) == k:
            fits = silhouette_samples(apart, label, metric="precomputed")
            found[k] = float(np.mean([fits[label == zone].mean() for zone in range(k)]))
    return found


def _in_space(table: Floats, centres: Floats, inside: Bools, raster: Raster) -> Ints:
    square = ((table[None] - centres[:, None]) ** 2).sum(axis=2)
    within = float(square.min(axis=0).mean()) or 1.0
    label = smoothed(square / (2 * within), inside, NEIGHBOUR)
    fewest = max(1, round(SLIVER_M2 / raster.cell_m2))
    return _numbered(without_slivers(label, inside, fewest))


def _numbered(label: Ints) -> Ints:
    """Zones numbered from the largest."""
    numbers, count = np.unique(label, return_counts=True)
    place = {int(n): i for i, n in enumerate(numbers[np.argsort(-count, kind="stable")])}
    return np.array([place[int(n)] for n in label])
