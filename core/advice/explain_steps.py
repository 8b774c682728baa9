"""The steps of the working, from root depth to hours: deficit, date and amount."""

import numpy as np

from core.advice.estimate import Estimate
from core.advice.explain_crop import crop_steps
from core.advice.explain_limits import limit_steps
from core.advice.inputs import BlockInputs, StatedEt
from core.advice.working import COMPUTED, DayRow, Step, Term, Unit
from core.irrigation.amount import Amount, Bound
from core.limits.in_force import LimitsInForce
from core.outlook.forward import Forward


def _deficit_steps(now: Estimate, raw: float, taw: float) -> list[Step]:
    """Deficit by site and together, usable water and share used."""
    out: list[Step] = []
    many = len(now.sites) > 1
    for i, x in enumerate(now.sites, start=1):
        symbol = f"D{i}" if many else "D"
        read = Term("Dr", x.read_deficit_mm, Unit.WATER_MM, f"layers of {x.site.label}")
        if x.used_since_mm > 0:
            out.append(
                Step(
                    "deficit_carried",
                    symbol,
                    "max(Dr + U - W, 0)",
                    (
                        read,
                        Term("U", x.used_since_mm, Unit.WATER_MM, "ETc since the reading"),
                        Term("W", x.watered_since_mm, Unit.WATER_MM, "water since the reading"),
                    ),
                    x.deficit_mm,
                    Unit.WATER_MM,
                )
            )
        else:
            out.append(Step("deficit", symbol, "Dr", (read,), x.deficit_mm, Unit.WATER_MM))
    if many:
        terms: list[Term] = []
        for i, (w, x) in enumerate(zip(now.weight, now.sites, strict=True), start=1):
            terms += [
                Term(f"w{i}", w, Unit.SHARE, f"trust in {x.site.label}"),
                Term(f"D{i}", x.deficit_mm, Unit.WATER_MM, COMPUTED),
            ]
        formula = " + ".join(f"w{i} * D{i}" for i in range(1, len(now.sites) + 1))
        out.append(Step("deficit_sites", "D", formula, tuple(terms), now.deficit_mm, Unit.WATER_MM))
    deficit = Term("D", now.deficit_mm, Unit.WATER_MM, COMPUTED)
    out.append(
        Step(
            "usable",
            "left",
            "RAW - D",
            (Term("RAW", raw, Unit.WATER_MM, COMPUTED), deficit),
            raw - now.deficit_mm,
            Unit.WATER_MM,
        )
    )
    out.append(
        Step(
            "used_share",
            "used",
            "D / TAW",
            (deficit, Term("TAW", taw, Unit.WATER_MM, COMPUTED)),
            now.deficit_mm / taw,
            Unit.SHARE,
        )
    )
    return out


def _when_steps(ahead: Forward, days_left: float) -> list[Step]:
    """Days until refill, read off the day table."""
    k = int(days_left)
    usable = ahead.usable_mm[1]
    if days_left <= 0:
        return []
    return [
        Step(
            "days_left",
            "days",
            "k + A / (A - B)",
            (
                Term("k", k, Unit.NUMBER, "last whole day above refill"),
                Term("A", float(usable[k]), Unit.WATER_MM, f"left at day {k}"),
                Term("B", float(usable[k + 1]), Unit.WATER_MM, f"left at day {k + 1}"),
            ),
            days_left,
            Unit.DAYS,
        )
    ]


def _amount_steps(
    inputs: BlockInputs, start_hours: float, start_deficit: float, days_left: float, amount: Amount
) -> list[Step]:
    """Latest start, net, gross, volume and hours."""
    system = inputs.system
    rate = system.application_rate_mm_h
    out = []
    if system.moves and start_hours > 0:
        out.append(
            Step(
                "latest_start",
                "start",
                "24 * days - cross",
                (
                    Term("days", days_left, Unit.DAYS, COMPUTED),
                    Term(
                        "cross", 24 * days_left - start_hours, Unit.HOURS, "time to cross the block"
                    ),
                ),
                start_hours,
                Unit.HOURS,
            )
        )
    eff = Term("eff", system.efficiency, Unit.SHARE, "irrigation system")
    deficit = Term("Ds", start_deficit, Unit.WATER_MM, "deficit at the start, from the day table")
    room = Term("room", inputs.rain_room_mm, Unit.WATER_MM, "room kept for rain")
    if amount.bound is Bound.DEFICIT:
        gross = Step(
            "gross",
            "gross",
            "(Ds - room) / eff",
            (deficit, room, eff),
            amount.gross_mm,
            Unit.WATER_MM,
        )
    else:
        largest = amount.bound is Bound.LARGEST_SET
        limit = (system.largest_mm or 0.0) if largest else system.smallest_mm
        name = "min" if largest else "max"
        gross = Step(
            "gross",
            "gross",
            f"{name}((Ds - room) / eff, set)",
            (deficit, room, eff, Term("set", limit, Unit.WATER_MM, str(amount.bound))),
            amount.gross_mm,
            Unit.WATER_MM,
        )
    gross_term = Term("gross", amount.gross_mm, Unit.WATER_MM, COMPUTED)
    area = Term("area", system.area_m2, Unit.AREA_M2, "block")
    out += [
        gross,
        Step("net", "net", "gross * eff", (gross_term, eff), amount.net_mm, Unit.WATER_MM),
        Step(
            "volume", "volume", "gross * area", (gross_term, area), amount.volume_m3, Unit.VOLUME_M3
        ),
    ]
    if system.flow_m3_h is not None:
        flow = Term("flow", system.flow_m3_h, Unit.FLOW_M3_H, "irrigation system")
        out.append(Step("rate", "rate", "flow / area", (flow, area), rate, Unit.RATE_MM_H))
    rate_source = COMPUTED if system.flow_m3_h is not None else "irrigation system"
    out.append(
        Step(
            "hours",
            "hours",
            "gross / rate",
            (gross_term, Term("rate", rate, Unit.RATE_MM_H, rate_source)),
            amount.hours,
            Unit.HOURS,
        )
    )
    return out


def steps(
    inputs: BlockInputs,
    limits: LimitsInForce,
    et: StatedEt,
    now: Estimate,
    ahead: Forward,
    days_left: float,
    start: tuple[float, float, Amount] | None,
) -> tuple[Step, ...]:
    """All steps in the order of the work.

    Parameters
    ----------
    days_left : float [days]
        Infinity when the block lasts beyond the outlook; then no date or amount follows.
    start : (hours from now to the latest start, deficit then [mm], amount), optional
    """
    root = float(limits.root_mm_at(np.zeros(1))[0])
    here = limits.at(np.zeros(()))
    etc = float(limits.crop_at(np.zeros(1)).kc[0]) * et.expected
    out = crop_steps(limits, et, root)
    out += limit_steps(limits, etc, root)
    out += _deficit_steps(now, float(here.raw_mm), float(here.taw_mm))
    if start is not None:
        out += _when_steps(ahead, days_left)
        out += _amount_steps(inputs, start[0], start[1], days_left, start[2])
    return tuple(out)


def day_rows(
    limits: LimitsInForce, ahead: Forward, et: StatedEt, days_left: float
) -> tuple[DayRow, ...]:
    """The expected case day by day, to the day after refill or for ten days."""
    last = int(days_left) + 1 if np.isfinite(days_left) else 10
    hours = np.arange(ahead.usable_mm.shape[1]) * 24.0
    kc, p, taw = limits.crop_at(hours).kc, limits.p_at(hours), limits.at(hours).taw_mm
    rows = []
    for d in range(min(max(last, 1), ahead.etc_mm.shape[1] - 1) + 1):
        used = float(ahead.etc_mm[1, d] * ahead.ks[1, d])
        change = float(ahead.deficit_mm[1, d + 1] - ahead.deficit_mm[1, d])
        rows.append(
            DayRow(
                day=d,
                kc=float(kc[d]),
                et0_mm=et.expected,
                ks=float(ahead.ks[1, d]),
                etc_mm=used,
                new_soil_mm=change - used,
                p=float(p[d]),
                taw_mm=float(taw[d]),
                raw_mm=float(ahead.raw_mm[1, d]),
                deficit_mm=float(ahead.deficit_mm[1, d]),
                usable_mm=float(ahead.usable_mm[1, d]),
            )
        )
    return tuple(rows)
