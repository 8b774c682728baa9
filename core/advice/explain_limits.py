"""The steps of the working that set the limits: TAW, p by the method in force, RAW."""

from dataclasses import replace

import numpy as np

from core.advice.working import COMPUTED, Step, StepKey, Term, Unit
from core.crop.depletion import P_MAX, P_MIN
from core.limits.in_force import LimitsInForce
from core.limits.refill_method import RefillMethod
from core.soil.retention import RetentionCurve


def curve_formula(curve: RetentionCurve, source: str) -> tuple[str, tuple[Term, ...]]:
    """Content of the fine earth at a tension psi [kPa], as a formula with its terms.

    Parameters
    ----------
    curve : RetentionCurve
        Of a single horizon.
    """
    if bool(curve.is_power):
        return "min((A / psi) ** (1 / B), ts)", (
            Term("A", float(curve.a), Unit.NUMBER, source),
            Term("B", float(curve.b), Unit.NUMBER, source),
            Term("ts", float(curve.theta_sat), Unit.THETA, source),
        )
    return "tr + (ts - tr) * (1 + (alpha * psi) ** n) ** (1 / n - 1)", (
        Term("tr", float(curve.theta_r), Unit.THETA, source),
        Term("ts", float(curve.theta_sat), Unit.THETA, source),
        Term("alpha", float(curve.alpha), Unit.NUMBER, source),
        Term("n", float(curve.n), Unit.NUMBER, source),
    )


STRIP = "share of the ground that is irrigated"


def _over_ground(formula: str, share: float) -> tuple[str, tuple[Term, ...]]:
    """A sum of water in the watered ground as water over all of it."""
    if share == 1:
        return formula, ()
    return f"({formula}) * strip", (Term("strip", share, Unit.SHARE, STRIP),)


def _tension_steps(
    limits: LimitsInForce, thick: np.ndarray, taw: float, p: float, share: float
) -> list[Step]:
    """Water left in each layer at the tension limit, and the share that is gone by then."""
    profile = limits.profile
    tension = limits.tension_now
    psi = Term("psi", tension, Unit.TENSION_KPA, limits.tension_source)
    out, gone, terms = [], [], []
    for i in np.flatnonzero(thick > 0):
        limit, n = profile.limits[i], i + 1
        formula, curve = curve_formula(limit.curve, f"{limit.shape} curve, {limit.texture}")
        gravel = Term("g", limit.gravel, Unit.SHARE, "gravel")
        theta = float(limit.curve.theta_at(tension)) * (1 - limit.gravel)
        out.append(
            Step(
                StepKey.THETA_AT_LIMIT,
                f"r{n}",
                f"({formula}) * (1 - g)",
                (psi, *curve, gravel),
                theta,
                Unit.THETA,
            )
        )
        gone.append(f"t{n} * within(0, f{n} - r{n}, f{n} - w{n})")
        terms += [
            Term(f"t{n}", float(thick[i]), Unit.DEPTH_MM, f"{limit.texture} within the roots"),
            Term(f"f{n}", limit.theta_full, Unit.THETA, f"full: {limit.source}"),
            Term(f"w{n}", limit.theta_wilt, Unit.THETA, f"wilting: {limit.source}"),
            Term(f"r{n}", theta, Unit.THETA, COMPUTED),
        ]
    terms.append(Term("TAW", taw, Unit.WATER_MM, COMPUTED))
    total, strip = _over_ground(" + ".join(gone), share)
    formula = f"within({P_MIN}, ({total}) / TAW, {P_MAX})"
    return [*out, Step(StepKey.P_TENSION, "p", formula, (*terms, *strip), p, Unit.SHARE)]


def limit_steps(limits: LimitsInForce, use: Term, root_mm: float, share: float = 1.0) -> list[Step]:
    """TAW, p and RAW of today, over the whole ground.

    Parameters
    ----------
    use : Term
        What the crop uses in a day, by which p is adjusted.
    root_mm : float [mm]
    share : float [-]
        Of the ground that is watered.
    """
    profile = limits.profile
    here = limits.at(np.zeros(()))
    p = float(limits.p_at(np.zeros(())))
    taw, raw = float(here.taw_mm) * share, float(here.raw_mm) * share
    thick = profile.thick_between(0.0, root_mm)
    terms: list[Term] = []
    formula = []
    for i in np.flatnonzero(thick > 0):
        limit, n = profile.limits[i], i + 1
        formula.append(f"t{n} * (f{n} - w{n})")
        terms += [
            Term(f"t{n}", float(thick[i]), Unit.DEPTH_MM, f"{limit.texture} within the roots"),
            Term(f"f{n}", limit.theta_full, Unit.THETA, f"full: {limit.source}"),
            Term(f"w{n}", limit.theta_wilt, Unit.THETA, f"wilting: {limit.source}"),
        ]
    refill_method = limits.refill_method_now
    if refill_method is RefillMethod.FLAT:
        p_steps = [
            Step(StepKey.P_FLAT, "p", "p", (Term("p", p, Unit.SHARE, "flat share"),), p, Unit.SHARE)
        ]
    elif refill_method is RefillMethod.TENSION:
        p_steps = _tension_steps(limits, thick, taw, p, share)
    else:
        p_steps = [
            Step(
                StepKey.P_CROP,
                "p",
                f"within({P_MIN}, pt + 0.04 * (5 - {use.symbol}), {P_MAX})",
                (
                    Term("pt", limits.p_table_now, Unit.SHARE, limits.p_source),
                    replace(use, unit=Unit.EQUATION_MM_DAY),
                ),
                p,
                Unit.SHARE,
            )
        ]
    total, strip = _over_ground(" + ".join(formula), share)
    return [
        Step(StepKey.TAW, "TAW", total, (*terms, *strip), taw, Unit.WATER_MM),
        *p_steps,
        Step(
            StepKey.RAW,
            "RAW",
            "p * TAW",
            (Term("p", p, Unit.SHARE, COMPUTED), Term("TAW", taw, Unit.WATER_MM, COMPUTED)),
            raw,
            Unit.WATER_MM,
        ),
    ]
