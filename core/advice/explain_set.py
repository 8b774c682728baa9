"""The steps of the working that tell of one irrigation: its start and its amount."""

from core.advice.explain_run import emitter_step
from core.advice.holds import Moved
from core.advice.inputs import BlockInputs
from core.advice.working import COMPUTED, Step, StepKey, Term, Unit
from core.irrigation.amount import Amount, Bound


def start_steps(inputs: BlockInputs, by_days: float, soil_hours: float, moved: Moved) -> list[Step]:
    """The latest start that the soil allows, and where a hold moves it to.

    Parameters
    ----------
    by_days : float
        By which the water must have come [days].
    soil_hours : float
        The latest start before holds are respected [h from now]; ``moved`` is that after.
    """
    soil, out = soil_hours, []
    if inputs.assumed.system.moves and soil > 0:
        cross = Term("cross", 24 * by_days - soil, Unit.HOURS, "time of one turn over the block")
        by = Term("by", by_days, Unit.DAYS, COMPUTED)
        out.append(
            Step(StepKey.LATEST_START, "start", "24 * by - cross", (by, cross), soil, Unit.HOURS)
        )
    hold, start = moved.hold, moved.start_hours
    if hold is None:
        return out
    if moved.goes_before:
        run = Term("run", hold.start_hours - start, Unit.HOURS, "hours of the irrigation")
        begins = Term("hold", hold.start_hours, Unit.HOURS, f"{hold.kind} begins")
        out.append(
            Step(StepKey.START_HELD, "start", "hold - run", (begins, run), start, Unit.HOURS)
        )
    else:
        ends = Term("hold", hold.end_hours, Unit.HOURS, f"{hold.kind} ends")
        out.append(Step(StepKey.START_HELD, "start", "hold", (ends,), start, Unit.HOURS))
    return out


def amount_steps(
    inputs: BlockInputs, deficit: Term, room: Term, amount: Amount, leaching: list[Step]
) -> list[Step]:
    """Net, gross, volume and hours.

    Parameters
    ----------
    deficit, room : Term
        What is missing at the start, ``Ds``, and what of it is left out, ``room`` [mm].
    leaching : list of Step
        What of the amount is to pass the roots; empty where nothing is.
    """
    system = inputs.assumed.system
    rate = system.application_rate_mm_h
    out: list[Step] = []
    eff = Term("eff", system.efficiency, Unit.SHARE, "irrigation system")
    short = "(Ds - room)" if deficit.value >= room.value else "max(Ds - room, 0)"
    out += leaching
    salts = [Term("LRs", leaching[-1].value, Unit.SHARE, COMPUTED)] if leaching else []
    wanted = f"{short} / eff" + (" / (1 - LRs)" if salts else "")
    terms = (deficit, room, eff, *salts)
    if amount.bound is Bound.DEFICIT:
        gross = Step(
            StepKey.GROSS,
            "gross",
            wanted,
            terms,
            amount.gross_mm,
            Unit.WATER_MM,
        )
    else:
        largest = amount.bound is Bound.MAXIMUM_APPLICATION
        limit = (system.largest_mm or 0.0) if largest else system.smallest_mm
        name = "min" if largest else "max"
        gross = Step(
            StepKey.GROSS,
            "gross",
            f"{name}({wanted}, set)",
            (*terms, Term("set", limit, Unit.WATER_MM, str(amount.bound))),
            amount.gross_mm,
            Unit.WATER_MM,
        )
    gross_term = Term("gross", amount.gross_mm, Unit.WATER_MM, COMPUTED)
    area = Term("area", system.area_m2, Unit.AREA_M2, "block")
    out += [
        gross,
        Step(StepKey.NET, "net", "gross * eff", (gross_term, eff), amount.net_mm, Unit.WATER_MM),
        Step(
            StepKey.VOLUME,
            "volume",
            "gross * area",
            (gross_term, area),
            amount.volume_m3,
            Unit.VOLUME_M3,
        ),
    ]
    emitters = emitter_step(inputs)
    if emitters is not None:
        out.append(emitters)
    elif system.flow_m3_h is not None:
        flow = Term("flow", system.flow_m3_h, Unit.FLOW_M3_H, "irrigation system")
        out.append(Step(StepKey.RATE, "rate", "flow / area", (flow, area), rate, Unit.RATE_MM_H))
    worked_out = emitters is not None or system.flow_m3_h is not None
    rate_source = COMPUTED if worked_out else "irrigation system"
    out.append(
        Step(
            StepKey.HOURS,
            "hours",
            "gross / rate",
            (gross_term, Term("rate", rate, Unit.RATE_MM_H, rate_source)),
            amount.hours,
            Unit.HOURS,
        )
    )
    return out
