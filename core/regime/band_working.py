"""The arithmetic behind the advice for a store that is kept in a band, as steps to redo."""

import numpy as np

from core.advice.assess import limits_of
from core.advice.decide import Decisions
from core.advice.explain_run import run_steps
from core.advice.explain_set import amount_steps, start_steps
from core.advice.explain_steps import state_steps, when_steps
from core.advice.working import COMPUTED, Step, StepKey, Term, Unit
from core.arrays import Floats
from core.leaf.relation import Relation, Setting
from core.regime.store_band import BandDecision

# Steps of the soil's own rule that the band stands in for.
OWN_RULE = frozenset(
    {
        StepKey.P_CROP,
        StepKey.P_FLAT,
        StepKey.P_TENSION,
        StepKey.THETA_AT_LIMIT,
        StepKey.RAW,
        StepKey.RAW_LEARNED,
        StepKey.USABLE,
    }
)
CURVE = "a + b * {x} + c * {x} * {x} * {x} + e * u + f * r"


def _soil_steps(d: Decisions) -> list[Step]:
    return [s for s in state_steps(d, limits_of(d, 0)) if s.key not in OWN_RULE]


def _set_steps(d: Decisions, made: BandDecision, usable_mm: Floats, due: Term) -> list[Step]:
    """From what is left to the hours of the irrigation."""
    inputs = d.gathered.blocks[0]
    if made.amount is None:
        return []
    out: list[Step] = []
    past = float((made.member_left <= made.chance_days).mean())
    early = f"by then {past:.0%} of the courses are past it"
    terms = [Term("early", made.chance_days, Unit.DAYS, early)]
    if np.isfinite(made.days_left):
        out += when_steps(made.days_left, usable_mm)
        terms.insert(0, Term("days", made.days_left, Unit.DAYS, COMPUTED))
    formula = "min(days, early)" if len(terms) > 1 else "early"
    out.append(Step(StepKey.NEEDED_BY, "by", formula, tuple(terms), made.by_days, Unit.DAYS))
    out += start_steps(inputs, made.by_days, made.soil_hours, made.moved)
    why = "left out: more was applied in a week than used and held in the root zone"
    room = Term("room", made.left_out_mm, Unit.WATER_MM, why)
    out += amount_steps(inputs, due, room, made.amount, [])
    raw = float(d.gathered.zones.raw_mm[0, d.gathered.past_days])
    return out + run_steps(inputs, made.amount, raw)


def _curve(relation: Relation, symbol: str, at: Setting) -> tuple[str, tuple[Term, ...]]:
    """The relation at a share gone, and its terms but that one."""
    source = f"leaf and soil, learned from {relation.rounds} rounds"
    terms = (
        *(
            Term(s, float(v), Unit.NUMBER, source)
            for s, v in zip("abcef", relation.likely, strict=True)
        ),
        Term(
            "u",
            float(np.asarray(at.beyond_mm)),
            Unit.EQUATION_MM_DAY,
            "use of the next days beyond the usual one",
        ),
        Term(
            "r",
            float(np.asarray(at.fresh)),
            Unit.SHARE,
            "water that came and is not used yet, of the available",
        ),
    )
    return f"-({CURVE.format(x=symbol)})", terms


def _lowest_steps(share: Term, taw_mm: float, deficit_mm: float) -> list[Step]:
    """The store's lowest point, from a share of the available water, and what is left above it."""
    lowest = share.value * taw_mm
    total = Term("TAW", taw_mm, Unit.WATER_MM, COMPUTED)
    low = Term("low", lowest, Unit.WATER_MM, COMPUTED)
    gone = Term("D", deficit_mm, Unit.WATER_MM, COMPUTED)
    water, key = Unit.WATER_MM, StepKey.ABOVE_LOWEST
    return [
        Step(StepKey.LOWEST_STORE, "low", "xl * TAW", (share, total), lowest, water),
        Step(key, "left", "low - D", (low, gone), lowest - deficit_mm, water),
    ]


def leaf_steps(
    d: Decisions,
    relation: Relation,
    at: Setting,
    shares: tuple[float, float],
    usable_mm: Floats,
    made: BandDecision,
) -> tuple[Step, ...]:
    """From the soil's deficit by the leaf's band to the hours.

    Parameters
    ----------
    at : Setting
        Of the days to come.
    shares : two of float [-]
        Of the available water gone, at which the lower and the upper edge of the band are reached.
    usable_mm : array, shape (days + 1,)
        Above the lower edge at the start of each day [mm].
    """
    g = d.gathered
    taw = float(g.zones.taw_mm[0, g.past_days])
    deficit = float(d.expected.depletion_mm[0, 0, 0])
    gone = Term("x", max(deficit, 0.0) / taw, Unit.SHARE, "share of the available water gone")
    formula, terms = _curve(relation, "x", at)
    out = _soil_steps(d)
    out.append(
        Step(
            StepKey.LEAF_NOW,
            "leaf",
            formula,
            (*terms, gone),
            float(relation.mpa_at(gone.value, at)),
            Unit.MPA,
        )
    )
    formula, terms = _curve(relation, "xl", at)
    low, high = shares
    edge = Term("xl", low, Unit.SHARE, "share gone at which the lower edge is reached")
    value = float(relation.mpa_at(low, at))
    out.append(Step(StepKey.LEAF_AT_EDGE, "edge", formula, (*terms, edge), value, Unit.MPA))
    out += _lowest_steps(Term("xl", low, Unit.SHARE, COMPUTED), taw, deficit)
    due = Term("Ds", made.missing_mm, Unit.WATER_MM, "to the upper edge of the band, at the start")
    if made.amount is not None:
        day = float(np.clip(made.moved.start_hours / 24, 0, d.expected.depletion_mm.shape[2] - 1))
        days = np.arange(d.expected.depletion_mm.shape[2])
        then = float(np.interp(day, days, d.expected.depletion_mm[0, 0]))
        out.append(
            Step(
                StepKey.TO_UPPER_EDGE,
                "Ds",
                "max(Dt - up, 0)",
                (
                    Term("Dt", then, Unit.WATER_MM, "deficit at the start, from the day table"),
                    Term(
                        "up",
                        then - made.missing_mm if made.missing_mm > 0 else high * taw,
                        Unit.WATER_MM,
                        "deficit at which the upper edge is reached then",
                    ),
                ),
                made.missing_mm,
                Unit.WATER_MM,
            )
        )
        due = Term("Ds", made.missing_mm, Unit.WATER_MM, COMPUTED)
    return (*out, *_set_steps(d, made, usable_mm, due))


def share_steps(
    d: Decisions, application_mm: float, due_mm: Floats, share: float, made: BandDecision
) -> tuple[Step, ...]:
    """From a share of the use that is due to the hours.

    Parameters
    ----------
    due_mm : array, shape (days + 1,)
        What is due at the start of each day [mm].
    """
    out = _soil_steps(d)
    now, coming = float(due_mm[0]), float(due_mm[1])
    et = d.expected.et_mm[0, 0, 0] / max(float(d.expected.ks[0, 0, 0]), 0.2)
    water = float(d.expected.water_mm[0, 0, 0])
    out.append(
        Step(
            StepKey.SHARE_DUE,
            "due",
            "max(W + s * ETc - I, 0)",
            (
                Term("W", now, Unit.WATER_MM, "due now: the share of the use less what came"),
                Term("s", share, Unit.SHARE, "share of ETc"),
                Term("ETc", float(et), Unit.WATER_MM, "the next day"),
                Term("I", water, Unit.WATER_MM, "rain and irrigation of the next day"),
            ),
            coming,
            Unit.WATER_MM,
        )
    )
    out.append(
        Step(
            StepKey.ABOVE_LOWEST,
            "left",
            "set - W",
            (
                Term("set", application_mm, Unit.WATER_MM, "given at a time"),
                Term("W", now, Unit.WATER_MM, "due now"),
            ),
            application_mm - now,
            Unit.WATER_MM,
        )
    )
    due = Term("Ds", made.missing_mm, Unit.WATER_MM, "due at the start")
    return (*out, *_set_steps(d, made, application_mm - due_mm, due))


def lower_refill_steps(
    d: Decisions, allowed: float, usable_mm: Floats, made: BandDecision
) -> tuple[Step, ...]:
    """From a refill point of the plan to the hours.

    Parameters
    ----------
    allowed : float [-]
        Share of the available water that may be used today; NaN where today's is the crop's own.
    usable_mm : array, shape (days + 1,)
        Above the refill point at the start of each day [mm].
    """
    g = d.gathered
    if np.isnan(allowed):
        out = state_steps(d, limits_of(d, 0))
    else:
        out = _soil_steps(d)
        taw = float(g.zones.taw_mm[0, g.past_days])
        deficit = float(d.expected.depletion_mm[0, 0, 0])
        why = "share that may be used in this stage, by plan"
        out += _lowest_steps(Term("xl", allowed, Unit.SHARE, why), taw, deficit)
    due = Term("Ds", made.missing_mm, Unit.WATER_MM, "deficit at the start, from the day table")
    return (*out, *_set_steps(d, made, usable_mm, due))
