"""The steps of the working, from root depth to hours."""

import numpy as np

from core.advice.estimate import Estimate
from core.advice.inputs import BlockInputs, StatedEt
from core.advice.limits_in_force import LimitsInForce
from core.advice.vocabulary import School
from core.advice.working import DayRow, Step, Term, Unit
from core.crop.depletion import FLAT_P, P_MAX, P_MIN
from core.crop.season import Stage
from core.irrigation.amount import Amount, Bound
from core.outlook.forward import Forward
from core.soil.profile import overlap_mm

COMPUTED = "computed above"


def _crop_steps(limits: LimitsInForce, et: StatedEt, root_mm: float) -> list[Step]:
    """Root depth, Kc and ETc of today."""
    crop, day = limits.season.crop, float(limits.day_now)
    first, second, third, fourth = (float(d) for d in crop.stage_days)
    ini, mid, end = crop.kc
    today = limits.crop_at(np.zeros(1))
    stage = Stage(str(today.stage[0]))
    kc = float(today.kc[0])
    days = Term("day", day, Unit.NUMBER, f"since {limits.season.planted_on.isoformat()}")
    book_days, book_kc, book_root = (crop.sources[k] for k in ("stage_days", "kc", "root_depth"))
    z1 = Term("z1", crop.root_initial_mm, Unit.DEPTH_MM, book_root)
    z2 = Term("z2", crop.root_schedule_mm, Unit.DEPTH_MM, book_root)
    l1 = Term("L1", first, Unit.NUMBER, book_days)
    l2 = Term("L2", second, Unit.NUMBER, book_days)
    bottom = Term("bottom", limits.profile.depth_mm, Unit.DEPTH_MM, "soil profile")
    k1 = Term("Kc1", ini, Unit.NUMBER, book_kc)
    k2 = Term("Kc2", mid, Unit.NUMBER, book_kc)
    if stage is Stage.INITIAL:
        root: tuple[str, tuple[Term, ...]] = ("min(z1, bottom)", (z1, bottom))
        kcs: tuple[str, tuple[Term, ...]] = ("Kc1", (k1,))
    elif stage is Stage.DEVELOPMENT:
        root = ("min(z1 + (z2 - z1) * (day - L1) / L2, bottom)", (z1, z2, days, l1, l2, bottom))
        kcs = ("Kc1 + (Kc2 - Kc1) * (day - L1) / L2", (k1, k2, days, l1, l2))
    elif stage is Stage.MID:
        root = ("min(z2, bottom)", (z2, bottom))
        kcs = ("Kc2", (k2,))
    else:
        root = ("min(z2, bottom)", (z2, bottom))
        start = Term("L123", first + second + third, Unit.NUMBER, book_days)
        l4 = Term("L4", fourth, Unit.NUMBER, book_days)
        k3 = Term("Kc3", end, Unit.NUMBER, book_kc)
        kcs = ("Kc2 + (Kc3 - Kc2) * (day - L123) / L4", (k2, k3, days, start, l4))
    return [
        Step("root_depth", "z", *root, root_mm, Unit.DEPTH_MM),
        Step("kc", "Kc", *kcs, kc, Unit.NUMBER),
        Step(
            "etc",
            "ETc",
            "Kc * ET0",
            (
                Term("Kc", kc, Unit.NUMBER, COMPUTED),
                Term("ET0", et.expected, Unit.WATER_MM_DAY, et.source),
            ),
            kc * et.expected,
            Unit.WATER_MM_DAY,
        ),
    ]


def _limit_steps(limits: LimitsInForce, etc: float, root_mm: float) -> list[Step]:
    """TAW, p and RAW of today."""
    profile, crop = limits.profile, limits.season.crop
    here = limits.at(np.zeros(()))
    p = float(limits.p_at(np.zeros(())))
    taw, raw = float(here.taw_mm), float(here.raw_mm)
    thick = overlap_mm(0.0, root_mm, profile.top_mm, profile.bottom_mm)
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
    if limits.school is School.FLAT:
        p_step = Step(
            "p_flat", "p", "p", (Term("p", FLAT_P, Unit.SHARE, "flat share"),), p, Unit.SHARE
        )
    else:
        p_step = Step(
            "p_crop",
            "p",
            f"within({P_MIN}, pt + 0.04 * (5 - ETc), {P_MAX})",
            (
                Term("pt", crop.p, Unit.SHARE, crop.sources["p"]),
                Term("ETc", etc, Unit.EQUATION_MM_DAY, COMPUTED),
            ),
            p,
            Unit.SHARE,
        )
    return [
        Step("taw", "TAW", " + ".join(formula), tuple(terms), taw, Unit.WATER_MM),
        p_step,
        Step(
            "raw",
            "RAW",
            "p * TAW",
            (Term("p", p, Unit.SHARE, COMPUTED), Term("TAW", taw, Unit.WATER_MM, COMPUTED)),
            raw,
            Unit.WATER_MM,
        ),
    ]


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
    out = _crop_steps(limits, et, root)
    out += _limit_steps(limits, etc, root)
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
