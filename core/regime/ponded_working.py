"""The arithmetic behind the advice for a ponded field, as steps that a person can redo."""

import numpy as np

from core.advice.working import COMPUTED, Step, StepKey, Term, Unit
from core.ponded.water import DEEP_MM, PAN_MM, store_mm
from core.regime.ponded_ahead import Filling, PondedAhead

DEEP = Term(
    "deep", DEEP_MM, Unit.WATER_MM, "depth at which no more would drain (working assumption)"
)


def _held(level: str) -> str:
    """Water above the surface, or missing below it, by its level."""
    return f"max({level}, 0) + phi * min({level}, 0) * (1 + min({level}, 0) / (2 * deep))"


def ponded_steps(ahead: PondedAhead) -> tuple[Step, ...]:
    """From the tubes to the hours of the inlet.

    Notes
    -----
    The steps take the losses at the level now and the ET that is expected; the dates come of the
    courses, which change both from step to step and have rain in them.
    """
    s = ahead.state
    likely = s.learned.likely
    level = float(ahead.expected[0])
    percolation = float(likely.percolation_mm_day[0])
    seepage = float(likely.seepage_per_day[0])
    phi = float(likely.porosity[0])
    et = s.inputs.assumed.stated_et.expected
    kc = float(s.kc[s.today])
    learned = f"learned from {len(s.learned.falls)} falls of the tubes"
    source = learned if s.learned.falls else "usual, until the tube has shown it"
    loss = kc * et + percolation * max(1 + level / PAN_MM, 0.0) + seepage * max(level, 0.0)
    out = [
        Step(
            StepKey.PONDED_LOSS,
            "loss",
            "Kc * ET0 + P * max(1 + h / pan, 0) + s * max(h, 0)",
            (
                Term("Kc", kc, Unit.NUMBER, s.season.crop.sources["kc"]),
                Term("ET0", et, Unit.WATER_MM_DAY, s.inputs.assumed.stated_et.source),
                Term("P", percolation, Unit.WATER_MM_DAY, f"percolation, {source}"),
                Term("h", level, Unit.WATER_MM, "level now, brought forward from the tubes"),
                Term("pan", PAN_MM, Unit.WATER_MM, "depth of the pan (working assumption)"),
                Term("s", seepage, Unit.NUMBER, f"share that seeps out in a day, {source}"),
            ),
            loss,
            Unit.WATER_MM_DAY,
        )
    ]
    lower = float(ahead.lower_mm[0])
    if np.isfinite(lower):
        out += _limit_steps(level, lower, phi, source, loss)
    if ahead.flooding is not None:
        out += _filling_steps(ahead, ahead.flooding, phi)
    return tuple(out)


def _limit_steps(level: float, lower: float, phi: float, source: str, loss: float) -> list[Step]:
    """How much water is above the lowest level, and how long it lasts."""
    above = float(store_mm(level, phi) - store_mm(lower, phi))
    h = Term("h", level, Unit.WATER_MM, "level now, brought forward from the tubes")
    low = Term("low", lower, Unit.WATER_MM, "lowest level of the phase")
    porosity = Term("phi", phi, Unit.SHARE, f"drainable porosity at the surface, {source}")
    formula = f"{_held('h')} - ({_held('low')})"
    water = Step(
        StepKey.WATER_TO_LIMIT, "W", formula, (h, low, porosity, DEEP), above, Unit.WATER_MM
    )
    if above <= 0:
        return [water]
    days = Step(
        StepKey.DAYS_TO_LIMIT,
        "days",
        "W / loss",
        (
            Term("W", above, Unit.WATER_MM, COMPUTED),
            Term("loss", loss, Unit.WATER_MM_DAY, COMPUTED),
        ),
        above / loss,
        Unit.DAYS,
    )
    return [water, days]


def _filling_steps(ahead: PondedAhead, f: Filling, phi: float) -> list[Step]:
    """What brings the field to its upper level, and how long the inlet runs."""
    system = ahead.state.inputs.assumed.system
    rise = Step(
        StepKey.RISE_DEPTH,
        "missing",
        f"{_held('up')} - ({_held('h')})",
        (
            Term("up", f.to_mm, Unit.WATER_MM, "level to which it is flooded"),
            Term("h", f.from_mm, Unit.WATER_MM, "level at the start"),
            Term("phi", phi, Unit.SHARE, "drainable porosity at the surface, as above"),
            DEEP,
        ),
        f.missing_mm,
        Unit.WATER_MM,
    )
    missing = Term("missing", f.missing_mm, Unit.WATER_MM, COMPUTED)
    rate = Term("rate", system.application_rate_mm_h, Unit.RATE_MM_H, "irrigation system")
    eff = Term("eff", system.efficiency, Unit.SHARE, "irrigation system")
    lost = Term("lost", f.lost_mm_h, Unit.RATE_MM_H, "is lost while it fills, at the mean level")
    net = "(rate * eff - lost)" if f.catches_up else "(rate * eff)"
    terms = (missing, rate, eff, lost) if f.catches_up else (missing, rate, eff)
    wanted = f"max(missing, 0) / {net}"
    if system.largest_mm is not None:
        most = Term("most", system.largest_mm, Unit.WATER_MM, "maximum application")
        wanted, terms = f"min({wanted}, most / rate)", (*terms, most)
    hours = Step(StepKey.FILL_HOURS, "hours", wanted, terms, f.amount.hours, Unit.HOURS)
    span = Term("hours", f.amount.hours, Unit.HOURS, COMPUTED)
    gross = Step(
        StepKey.GROSS, "gross", "rate * hours", (rate, span), f.amount.gross_mm, Unit.WATER_MM
    )
    area = Term("area", system.area_m2, Unit.AREA_M2, "block")
    depth = Term("gross", f.amount.gross_mm, Unit.WATER_MM, COMPUTED)
    volume = Step(
        StepKey.VOLUME, "volume", "gross * area", (depth, area), f.amount.volume_m3, Unit.VOLUME_M3
    )
    return [rise, hours, gross, volume]
