"""The steps of the working, from root depth to hours: deficit, date and amount."""

from operator import itemgetter

import numpy as np

from core.advice.decide import Decisions
from core.advice.explain_crop import crop_steps, use_term
from core.advice.explain_leaching import leaching_steps
from core.advice.explain_limits import limit_steps
from core.advice.explain_rise import rise_steps
from core.advice.explain_run import run_steps
from core.advice.explain_set import amount_steps, start_steps
from core.advice.holds import Moved
from core.advice.latest_start import CRITICAL_SHARE, LEAST_LOSS, MOST_LOSS, WORTH_OF_USE
from core.advice.little_and_often import MOST_SHARE, daily_due, daily_hours
from core.advice.working import COMPUTED, Step, StepKey, Term, Unit
from core.arrays import Floats
from core.limits.in_force import LimitsInForce
from core.state.estimate_from import ESTIMATES_FROM, EstimateFrom


def last_heard(d: Decisions) -> int:
    """The day column of a lone block's newest word from its sensors; now where there is none."""
    heard = np.flatnonzero(~np.isnan(d.gathered.observed.depletion_mm[0]))
    return int(heard[-1]) if heard.size else d.gathered.past_days


def _sensor_steps(d: Decisions) -> list[Step]:
    """What the sensors said last: each site's layers, carried to the day, the sites together."""
    seen, at = d.gathered.seen, last_heard(d)
    sites = d.gathered.blocks[0].sites
    rows = np.flatnonzero((seen.block == 0) & ~np.isnan(seen.value_mm[:, at]))
    # Sites without sensors in the soil have no row; the others keep their order.
    labels = [s.label for s in sites if s.depth_mm.size]
    many = rows.size > 1
    out: list[Step] = []
    for i, row in enumerate(rows, start=1):
        symbol = f"S{i}" if many else "S"
        read = Term("Dr", float(seen.read_mm[row, at]), Unit.WATER_MM, f"layers of {labels[row]}")
        used, water = float(seen.carried_mm[row, at]), float(seen.watered_mm[row, at])
        value, over = float(seen.value_mm[row, at]), float(seen.counted_mm[row, at])
        if used == 0 and water == 0 and over == 0:
            out.append(Step(StepKey.DEFICIT, symbol, "Dr", (read,), value, Unit.WATER_MM))
            continue
        terms = (
            read,
            Term("Su", over, Unit.WATER_MM, "above full in layers on top, on its way down"),
            Term("U", used, Unit.WATER_MM, "ETc since the reading"),
            Term("W", water, Unit.WATER_MM, "water since the reading"),
        )
        out.append(
            Step(StepKey.DEFICIT_CARRIED, symbol, "Dr - Su + U - W", terms, value, Unit.WATER_MM)
        )
    if many:
        weight = seen.weight[rows, at] / seen.weight[rows, at].sum()
        mix: list[Term] = []
        for i, (w, row) in enumerate(zip(weight, rows, strict=True), start=1):
            mix += [
                Term(f"w{i}", float(w), Unit.SHARE, f"trust in {labels[row]}"),
                Term(f"S{i}", float(seen.value_mm[row, at]), Unit.WATER_MM, COMPUTED),
            ]
        formula = " + ".join(f"w{i} * S{i}" for i in range(1, rows.size + 1))
        both = float(d.gathered.observed.depletion_mm[0, at])
        out.append(Step(StepKey.DEFICIT_SITES, "S", formula, tuple(mix), both, Unit.WATER_MM))
    return out


def _balance_step(d: Decisions) -> Step:
    """The balance's own word: the state of a day ago carried to now."""
    t = d.track
    was = float(t.depletion_mm[0, -2])
    et, drained, ran, soil = (
        float(x[0, -1]) for x in (t.et_mm, t.drained_mm, t.runoff_mm, t.grew_mm)
    )
    water, value = float(t.water_in_mm[0, -1]), float(t.forecast_mm[0, -1])
    past = "the past day"
    return Step(
        StepKey.BALANCE,
        "B",
        "Dy + ET - I + drained + ran + soil",
        (
            Term("Dy", was, Unit.WATER_MM, "a day ago, from the balance table"),
            Term("ET", et, Unit.WATER_MM, past),
            Term("I", water, Unit.WATER_MM, past),
            Term("drained", drained, Unit.WATER_MM, past),
            Term("ran", ran, Unit.WATER_MM, past),
            Term("soil", soil, Unit.WATER_MM, "deficit of the soil that roots grew into"),
        ),
        value,
        Unit.WATER_MM,
    )


def _deficit_steps(d: Decisions, raw: float, taw: float) -> list[Step]:
    """Deficit by the sensors, by the balance and together; usable water and share used."""
    g, t = d.gathered, d.track
    depletion = float(t.depletion_mm[0, -1])
    estimate_from = ESTIMATES_FROM[int(g.estimate_from[0])]
    out = _sensor_steps(d) if estimate_from is not EstimateFrom.BALANCE else []
    cap = Term("TAW", taw, Unit.WATER_MM, COMPUTED)
    seen = float(g.observed.depletion_mm[0, -1])
    if estimate_from is EstimateFrom.SENSORS and not np.isnan(seen):
        parts: tuple[Term, ...] = (Term("S", seen, Unit.WATER_MM, COMPUTED), cap)
        formula = "max(min(S, TAW), 0)"
    else:
        out.append(_balance_step(d))
        moved = "by the readings of the past day, as far as they are surer than the balance"
        parts = (
            Term("B", float(t.forecast_mm[0, -1]), Unit.WATER_MM, COMPUTED),
            Term("C", float(t.correction_mm[0, -1]), Unit.WATER_MM, moved),
        )
        formula = "max(B + C, 0)"
    deficit = max(depletion, 0.0)
    out.append(Step(StepKey.DEFICIT_NOW, "D", formula, parts, deficit, Unit.WATER_MM))
    known = Term("D", deficit, Unit.WATER_MM, COMPUTED)
    out.append(
        Step(
            StepKey.USABLE,
            "left",
            "RAW - D",
            (Term("RAW", raw, Unit.WATER_MM, COMPUTED), known),
            raw - deficit,
            Unit.WATER_MM,
        )
    )
    out.append(Step(StepKey.USED_SHARE, "used", "D / TAW", (known, cap), deficit / taw, Unit.SHARE))
    return out


def _learned_steps(d: Decisions, limits: LimitsInForce) -> list[Step]:
    """The limits as the field has shown them, from those that were told."""
    g = d.gathered
    if ESTIMATES_FROM[int(g.estimate_from[0])] is EstimateFrom.SENSORS:
        return []
    here, share = limits.at(np.zeros(())), g.blocks[0].assumed.wetted_share
    out = []
    for key, symbol, of_strip, found in (
        (StepKey.TAW_LEARNED, "TAW", float(here.taw_mm), float(g.zones.taw_mm[0, g.past_days])),
        (StepKey.RAW_LEARNED, "RAW", float(here.raw_mm), float(g.zones.raw_mm[0, g.past_days])),
    ):
        published = of_strip * share
        why = "what the soil, the crop and this field's record say"
        terms = (
            Term(symbol, published, Unit.WATER_MM, COMPUTED),
            Term("f", found / published, Unit.NUMBER, why),
        )
        out.append(Step(key, symbol, f"{symbol} * f", terms, found, Unit.WATER_MM))
    return out


def when_steps(days_left: float, usable_mm: Floats) -> list[Step]:
    """Days until the lowest point, read off usable water at the start of each day, (days + 1,)."""
    k = int(days_left)
    if days_left <= 0:
        return []
    return [
        Step(
            StepKey.DAYS_LEFT,
            "days",
            "k + A / (A - B)",
            (
                Term("k", k, Unit.NUMBER, "last whole day above refill"),
                Term("A", float(usable_mm[k]), Unit.WATER_MM, f"left at day {k}"),
                Term("B", float(usable_mm[k + 1]), Unit.WATER_MM, f"left at day {k + 1}"),
            ),
            days_left,
            Unit.DAYS,
        )
    ]


def _daily_steps(d: Decisions) -> list[Step]:
    """When a day's use is missing, where water comes little and often."""
    used, raw = float(d.expected.et_mm[0, 0, 0]), float(d.expected.raw_mm[0, 0, 0])
    due = float(daily_due(d.expected)[0])
    most = "of the allowable depletion, at most (working assumption)"
    by = float(daily_hours(d.gathered, d.expected)[0]) / 24
    return [
        Step(
            StepKey.DAILY_DUE,
            "Dd",
            "min(ET, most * RAW)",
            (
                Term("ET", used, Unit.WATER_MM, "expected use of the next day"),
                Term("most", MOST_SHARE, Unit.SHARE, most),
                Term("RAW", raw, Unit.WATER_MM, COMPUTED),
            ),
            due,
            Unit.WATER_MM,
        ),
        Step(
            StepKey.NEEDED_BY,
            "by",
            "daily",
            (Term("daily", by, Unit.DAYS, "when so much is missing, from the day table"),),
            by,
            Unit.DAYS,
        ),
    ]


def _needed_steps(d: Decisions) -> list[Step]:
    """The day by which the water must come."""
    if d.daily[0]:
        return _daily_steps(d)
    early, days_left = float(d.chance_days[0]), float(d.days_left[0])
    if not np.isfinite(early):
        return []
    loss = float(d.taken_loss[0])
    if np.isnan(loss):
        chance = f"by then {d.taken_chance[0]:.0%} of the forecasts are below refill"
        terms = [Term("early", early, Unit.DAYS, chance)]
        # Refill may lie beyond the outlook: then there is no such day.
        if np.isfinite(days_left):
            terms.insert(0, Term("days", days_left, Unit.DAYS, COMPUTED))
        formula = "min(days, early)" if len(terms) > 1 else "early"
        by = min(days_left, early)
        return [Step(StepKey.NEEDED_BY, "by", formula, tuple(terms), by, Unit.DAYS)]
    share = CRITICAL_SHARE if d.critical[0] else 1.0
    bounds = f"{LEAST_LOSS}, cost / worth, {MOST_LOSS}"
    worth = "of a mm of transpiration in mm of water (working assumption)"
    cost = "of a usual irrigation: what drains and evaporates of it over what the roots keep"
    critical = "half in the critical stage" if d.critical[0] else "not in the critical stage"
    return [
        Step(
            StepKey.TAKEN_LOSS,
            "loss",
            f"within({bounds}) * c",
            (
                Term("cost", float(d.set_cost[0]), Unit.NUMBER, cost),
                Term("worth", WORTH_OF_USE, Unit.NUMBER, worth),
                Term("c", share, Unit.NUMBER, critical),
            ),
            loss,
            Unit.SHARE,
        ),
        _by_step(d, early, days_left),
    ]


def _by_step(d: Decisions, early: float, days_left: float) -> Step:
    """The day by which the water must come by what its lack would cost."""
    lasts = float(d.end.may_wait_days[0])
    if lasts > 0 and early == min(lasts, days_left):
        terms = [Term("lasts", lasts, Unit.DAYS, "the roots hold enough, nine times in ten")]
        # Refill may lie beyond the outlook: then there is no such day.
        if np.isfinite(days_left):
            why = "refill is expected: past its sensitive stages the crop may wait until then"
            terms.insert(0, Term("days", days_left, Unit.DAYS, why))
        formula = "min(days, lasts)" if len(terms) > 1 else "lasts"
        return Step(StepKey.NEEDED_BY, "by", formula, tuple(terms), early, Unit.DAYS)
    why = "before so much of the transpiration is lost"
    return Step(
        StepKey.NEEDED_BY,
        "by",
        "early",
        (Term("early", early, Unit.DAYS, why),),
        early,
        Unit.DAYS,
    )


def state_steps(d: Decisions, limits: LimitsInForce) -> list[Step]:
    """The steps of a lone block from the crop to what is left of its water."""
    g = d.gathered
    inputs, now = g.blocks[0], g.past_days
    et = inputs.assumed.stated_et
    root = float(g.limits.root_mm[0, now])
    out = crop_steps(limits, et, root, g.surface)
    used = use_term(out)
    out += rise_steps(inputs, root, used, float(g.rise_mm[0, now]))
    out += limit_steps(limits, used, root, inputs.assumed.wetted_share)
    out += _learned_steps(d, limits)
    out += _deficit_steps(d, float(g.zones.raw_mm[0, now]), float(g.zones.taw_mm[0, now]))
    return out


def steps(d: Decisions, limits: LimitsInForce) -> tuple[Step, ...]:
    """All steps of a lone block in the order of the work."""
    g = d.gathered
    inputs, now = g.blocks[0], g.past_days
    out = state_steps(d, limits)
    start = float(d.start_hours[0])
    if np.isfinite(start):
        if np.isfinite(d.days_left[0]):
            out += when_steps(float(d.days_left[0]), d.usable_mm[0])
        needed = _needed_steps(d)
        out += needed
        by = needed[-1].value if needed else float(d.days_left[0])
        moved = Moved(start, d.hold[0], bool(d.before_hold[0]))
        out += start_steps(inputs, by, float(d.soil_hours[0]), moved)
        deficit, rain = float(d.start_deficit_mm[0]), float(d.likely_rain_mm[0])
        unsure, beyond = float(d.unsure_mm[0]), float(d.beyond_mm[0])
        unused = float(d.unused_mm[0])
        kept = max(inputs.assumed.rain_room_mm, rain, unsure, unused, beyond)
        leaching = leaching_steps(d, max(deficit - kept, 0.0))
        amount = d.amounts.of(0)
        due = Term("Ds", deficit, Unit.WATER_MM, "deficit at the start, from the day table")
        left_out, why = max(
            (inputs.assumed.rain_room_mm, "room left for rain"),
            (rain, "rain that most of the forecast brings"),
            (unsure, "left out, since the deficit may be less than estimated"),
            (unused, "left out, since the crop is over before it would use it"),
            (beyond, "left out: more was applied in a week than used and held in the root zone"),
            key=itemgetter(0),
        )
        room = Term("room", left_out, Unit.WATER_MM, why)
        out += amount_steps(inputs, due, room, amount, leaching)
        out += run_steps(inputs, amount, float(g.zones.raw_mm[0, now]))
    return tuple(out)
