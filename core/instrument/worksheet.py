"""The calibration bench: from masses to water content, and the curves through the samples.

References
----------
.. [1] Topp, G. C., Ferre, P. A. (2002), in Methods of Soil Analysis, Part 4, ch. 3.1
   (gravimetric and volumetric water content by oven drying; definitions).
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.arrays import ArrayLike, Floats
from core.instrument.calibration import TOPP, Calibration, CurveKind
from core.sentence import Sentence, sentence

WATER_G_PER_ML = 1.0
MIN_SAMPLES = 4  # below it a curve is refused unless a person insists
GOOD_SAMPLES = 5
DENSITY_OFF = 0.10  # share by which the packed density may miss the field's
MIN_COVERAGE = 0.6  # share of the soil's wet range that the samples span
ORGANIC_PERCENT, ORGANIC_DRY_C = 10.0, 75.0
_DEGREE = {CurveKind.OFFSET: 0, CurveKind.LINEAR: 1, CurveKind.QUADRATIC: 2, CurveKind.CUBIC: 3}


@dataclass(frozen=True)
class Sample:
    """One container: raw reading of the sensor, masses [g] and volume [mL] of the soil in it."""

    raw: float
    wet_g: float
    dry_g: float
    tare_g: float
    volume_ml: float


@dataclass(frozen=True)
class SampleProblem(Exception):
    """A sample whose masses can't be; ``row`` counts from 0."""

    row: int
    field: str
    message: Sentence


@dataclass(frozen=True)
class Weighed:
    """What the masses say; arrays of shape (samples,).

    gravimetric [g/g], bulk_density [g/cm3], theta [m3/m3]
    """

    gravimetric: Floats
    bulk_density: Floats
    theta: Floats


def weigh(samples: Sequence[Sample]) -> Weighed:
    """Water contents and bulk densities of samples [1]_.

    w = (wet - dry) / (dry - tare); density = (dry - tare) / volume;
    theta = w x density / density of water.

    Raises
    ------
    SampleProblem
        Names the row and the field to mend.
    """
    for i, s in enumerate(samples):
        if s.volume_ml <= 0:
            raise SampleProblem(i, "volume_ml", sentence("The volume must be above zero."))
        if s.tare_g < 0:
            raise SampleProblem(
                i, "tare_g", sentence("The empty container can't weigh less than nothing.")
            )
        if s.dry_g <= s.tare_g:
            raise SampleProblem(
                i,
                "dry_g",
                sentence("The dry soil with its container must weigh more than the container."),
            )
        if s.wet_g < s.dry_g:
            raise SampleProblem(i, "wet_g", sentence("Wet soil can't weigh less than dry."))
        if (s.wet_g - s.dry_g) / s.volume_ml > 1:
            raise SampleProblem(
                i,
                "wet_g",
                sentence("There is more water than the volume holds. Check masses and volume."),
            )
    wet, dry, tare, volume = (
        np.array([getattr(s, name) for s in samples], float)
        for name in ("wet_g", "dry_g", "tare_g", "volume_ml")
    )
    solids = dry - tare
    w = (wet - dry) / solids
    density = solids / volume
    return Weighed(w, density, w * density / WATER_G_PER_ML)


@dataclass(frozen=True)
class Fit:
    """A curve through samples and how well it does.

    residual : array, shape (samples,), theta measured less theta of the curve [m3/m3]
    rmse : root mean square of the residuals [m3/m3]
    left_out : the same with each sample left out of its own curve; NaN where it can't be had
    """

    kind: CurveKind
    calibration: Calibration
    residual: Floats
    rmse: float
    left_out: float


def _columns(kind: CurveKind, raw: Floats) -> Floats:
    """What the coefficients multiply; shape (samples, parameters)."""
    if kind is CurveKind.TOPP_FORM:
        return np.column_stack([np.ones_like(raw), np.polynomial.polynomial.polyval(raw, TOPP)])
    if kind is CurveKind.OFFSET:
        return np.ones((raw.size, 1))
    columns: Floats = np.vander(raw, _DEGREE[kind] + 1, increasing=True)
    return columns


def _coefficients(kind: CurveKind, found: Floats) -> tuple[float, ...]:
    if kind is CurveKind.TOPP_FORM:
        scaled = found[1] * np.array(TOPP)
        scaled[0] += found[0]
        return tuple(float(c) for c in scaled)
    if kind is CurveKind.OFFSET:
        return (float(found[0]), 1.0)
    return tuple(float(c) for c in found)


def parameters(kind: CurveKind) -> int:
    """How many figures of a curve the samples must fix."""
    return {CurveKind.MAKER: 0, CurveKind.TOPP_FORM: 2}.get(kind, _DEGREE.get(kind, 0) + 1)


def fit(
    kind: CurveKind, raw: ArrayLike, theta: ArrayLike, maker: Sequence[float] = ()
) -> Fit | None:
    """Least-squares curve of a family; None where the samples can't fix it.

    Parameters
    ----------
    kind : CurveKind
        ``TOPP_FORM`` scales and shifts the published curve and wants permittivity;
        ``OFFSET`` shifts readings that are water contents already; ``MAKER`` takes the given
        coefficients as they are.
    raw : array, shape (samples,)
    theta : array, shape (samples,) [m3/m3]
    maker : coefficients of the maker's curve, constant first

    Notes
    -----
    The left-out error is exact for curves linear in their coefficients: each residual over
    one less its leverage.
    """
    x, y = np.asarray(raw, float), np.asarray(theta, float)
    if x.size == 0:
        return None
    low, high = float(x.min()), float(x.max())
    if kind is CurveKind.MAKER:
        if not maker:
            return None
        curve = Calibration(tuple(maker), low, high)
        residual = y - curve.theta(x)
        rmse = float(np.sqrt(np.mean(residual**2)))
        return Fit(kind, curve, residual, rmse, rmse)
    # Raw counts run to tens of thousands: scaled, their cubes stay within precision.
    scale = 1.0 if kind in (CurveKind.TOPP_FORM, CurveKind.OFFSET) else max(np.abs(x).max(), 1e-9)
    design = _columns(kind, x / scale)
    target = y - x if kind is CurveKind.OFFSET else y
    if np.unique(x).size < design.shape[1] or np.linalg.matrix_rank(design) < design.shape[1]:
        return None
    found, *_ = np.linalg.lstsq(design, target, rcond=None)
    residual = target - design @ found
    leverage = np.einsum("ij,ji->i", design, np.linalg.pinv(design))
    free = 1 - leverage
    left_out = float("nan")
    if x.size > design.shape[1] and np.all(free > 1e-9):
        left_out = float(np.sqrt(np.mean((residual / free) ** 2)))
    if kind not in (CurveKind.TOPP_FORM, CurveKind.OFFSET):
        found = found / scale ** np.arange(found.size)
    curve = Calibration(_coefficients(kind, found), low, high)
    return Fit(kind, curve, residual, float(np.sqrt(np.mean(residual**2))), left_out)


@dataclass(frozen=True)
class Warnings:
    """What a person should know before a curve is put in force; ``grave`` ones refuse it."""

    grave: tuple[Sentence, ...]
    others: tuple[Sentence, ...]


def coverage(theta: Floats, theta_dry: float, theta_sat: float) -> float:
    """Share of the soil's wet range, from air-dry to saturated, that samples span."""
    if theta.size == 0:
        return 0.0
    span = min(float(theta.max()), theta_sat) - max(float(theta.min()), theta_dry)
    return float(np.clip(span / (theta_sat - theta_dry), 0.0, 1.0))


def worksheet_warnings(
    weighed: Weighed,
    best: Fit | None,
    field_density: float | None,
    theta_sat: float | None,
    organic_percent: float | None,
    dried_c: float | None,
) -> Warnings:
    """What speaks against a worksheet (limits are working assumptions, common practice)."""
    n = weighed.theta.size
    grave: list[Sentence] = []
    others: list[Sentence] = []
    if n < MIN_SAMPLES:
        grave.append(
            sentence(
                "{n} samples: a curve needs {min_samples} at least.", n=n, min_samples=MIN_SAMPLES
            )
        )
    elif n < GOOD_SAMPLES:
        others.append(
            sentence("{n} samples; five or six at different wetness make a better curve.", n=n)
        )
    if theta_sat is not None and n:
        share = coverage(weighed.theta, 0.03, theta_sat)
        if share < MIN_COVERAGE:
            grave.append(
                sentence(
                    "The samples span {share:.0%} of the range from dry to saturated; "
                    "{min_coverage:.0%} at least.",
                    share=share,
                    min_coverage=MIN_COVERAGE,
                )
            )
    if field_density is not None and n:
        mean = float(weighed.bulk_density.mean())
        if abs(mean / field_density - 1) > DENSITY_OFF:
            others.append(
                sentence(
                    "Packed at {mean:.2f} g/cm³, the field is at {field_density:.2f}: the curve "
                    "belongs to a density.",
                    mean=mean,
                    field_density=field_density,
                )
            )
    if n and weighed.bulk_density.std() > DENSITY_OFF * weighed.bulk_density.mean():
        others.append(sentence("The samples were packed to different densities."))
    if (
        organic_percent is not None
        and dried_c is not None
        and organic_percent >= ORGANIC_PERCENT
        and dried_c > ORGANIC_DRY_C
    ):
        others.append(
            sentence(
                "Organic soil dried at {dried_c:g} degrees C loses more than water: 60 to 70, 48 "
                "h.",
                dried_c=dried_c,
            )
        )
    if best is not None:
        if best.calibration.turns_within():
            grave.append(sentence("The curve rises and falls within the samples."))
        if np.isfinite(best.left_out) and best.left_out > 2 * max(best.rmse, 0.005):
            others.append(
                sentence(
                    "Each sample left out in turn, the error doubles: the curve bends to single "
                    "points."
                )
            )
    return Warnings(tuple(grave), tuple(others))
