"""The steps of the working that tell how the equipment gives the amount: its rate, its pulses."""

from math import isclose, isfinite

from core.advice.inputs import BlockInputs
from core.advice.run_of_set import PULSE_SHARE, most_pulse_mm, run_of_set
from core.advice.working import COMPUTED, Step, StepKey, Term, Unit
from core.irrigation.amount import Amount
from core.irrigation.fixed import Drip
from core.irrigation.intake import IntakeCheck, check_intake
from core.irrigation.run import CARRIED, SURFACE


def emitter_step(inputs: BlockInputs) -> Step | None:
    """The rate of drip from its emitters; None where it does not come of them."""
    design, rate = inputs.assumed.design, inputs.assumed.system.application_rate_mm_h
    if not isinstance(design, Drip):
        return None
    found = design.operation(inputs.assumed.system.area_m2).rate_mm_h
    if not isclose(found, rate, rel_tol=0.005):
        return None
    of = "design of the system"
    terms = (
        Term("q", design.emitter_l_h, Unit.NUMBER, f"flow of an emitter, l/h, {of}"),
        Term("n", float(design.lines_per_row), Unit.NUMBER, f"lines to a row, {of}"),
        Term("s", design.emitter_spacing_m, Unit.NUMBER, f"emitter spacing, m, {of}"),
        Term("r", design.line_spacing_m, Unit.NUMBER, f"row spacing, m, {of}"),
    )
    return Step(StepKey.RATE_EMITTERS, "rate", "q * n / (s * r)", terms, found, Unit.RATE_MM_H)


def run_steps(inputs: BlockInputs, amount: Amount, raw_mm: float) -> list[Step]:
    """Pulses of what stands still: why, how many, how long; none where one run will do.

    Parameters
    ----------
    inputs : BlockInputs
    amount : Amount
    raw_mm : float
        What the crop may use, over the whole block [mm].
    """
    assumed = inputs.assumed
    run = run_of_set(inputs, amount.gross_mm, raw_mm)
    if run is None or run.pulses == 1 or assumed.system.kind in CARRIED | SURFACE:
        return []
    made = assumed.design.operation(assumed.system.area_m2) if assumed.design else None
    rate = assumed.system.application_rate_mm_h
    peak = made.peak_rate_mm_h if made else rate
    found = check_intake(peak, amount.gross_mm, assumed.intake_mm_h, assumed.slope_percent)
    gross = Term("gross", amount.gross_mm, Unit.WATER_MM, COMPUTED)
    out: list[Step] = []
    least: list[Term] = []
    if found.pulses > 1 and isfinite(found.safe_mm):
        out.append(_safe_step(peak, found))
        least.append(Term("safe", found.safe_mm, Unit.WATER_MM, COMPUTED))
    most = most_pulse_mm(inputs.assumed, raw_mm)
    if isfinite(most):
        out.append(_most_step(inputs, raw_mm, most))
        least.append(Term("most", most, Unit.WATER_MM, COMPUTED))
    smallest = ", ".join(t.symbol for t in least)
    per_pulse = f"min({smallest})" if len(least) > 1 else smallest
    out.append(
        Step(
            StepKey.PULSES,
            "pulses",
            f"ceil(gross / {per_pulse})",
            (gross, *least),
            float(run.pulses),
            Unit.NUMBER,
        )
    )
    hours = Term("hours", amount.hours, Unit.HOURS, COMPUTED)
    pulses = Term("pulses", float(run.pulses), Unit.NUMBER, COMPUTED)
    on = amount.hours / run.pulses
    out.append(Step(StepKey.PULSE_HOURS, "on", "hours / pulses", (hours, pulses), on, Unit.HOURS))
    return out


def _safe_step(peak_mm_h: float, found: IntakeCheck) -> Step:
    """The largest depth at one go that does not run off."""
    return Step(
        StepKey.SAFE_DEPTH,
        "safe",
        "store / (1 - intake / peak)",
        (
            Term("store", found.storage_mm, Unit.WATER_MM, "is held on the surface of this slope"),
            Term("intake", found.intake_mm_h, Unit.RATE_MM_H, "of the top soil"),
            Term("peak", peak_mm_h, Unit.RATE_MM_H, "rate where the water falls"),
        ),
        found.safe_mm,
        Unit.WATER_MM,
    )


def _most_step(inputs: BlockInputs, raw_mm: float, most_mm: float) -> Step:
    """The most that one pulse brings where water comes little and often."""
    efficiency = inputs.assumed.system.efficiency
    return Step(
        StepKey.PULSE_DEPTH,
        "most",
        "share * RAW / eff",
        (
            Term("share", PULSE_SHARE, Unit.SHARE, "of RAW in one pulse (working assumption)"),
            Term("RAW", raw_mm, Unit.WATER_MM, COMPUTED),
            Term("eff", efficiency, Unit.SHARE, "irrigation system"),
        ),
        most_mm,
        Unit.WATER_MM,
    )
