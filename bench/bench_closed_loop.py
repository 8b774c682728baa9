"""Whole seasons watered by the advice and by simpler rules, on two truths; see docs/closed-loop.md.

Six textures x three crops x two climates x two seeds, 112 days, a field season each. The truths
are layered columns and Richards columns, which share no code with the advice or each other;
Richards columns stand on soils of several horizons, too.

`python -m bench closed_loop` measures; `bench_closed_loop.py --write FILE` writes the tables too.
"""

import sys
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from bench.figures import Figure, run
from core.state.estimate_from import EstimateFrom
from core.world.climates import Climate
from core.world.equipment import DRIP, SPRINKLERS, Equipment
from core.world.farm import Farm, make_farm
from core.world.field_readings import Instruments
from core.world.layerings import TEXTURES, UNEVEN, Layering, uniform
from core.world.trial import Rule, Trial, run_trial
from core.world.truths import TruthKind

CROPS = ("potato", "maize-grain", "apple")
CLIMATES = (Climate.ARID, Climate.MIXED)
DAYS, SEEDS = 112, (1, 2)
UNLOGGED = 0.2
EARLY_DAYS = 30


@dataclass(frozen=True)
class Arm:
    """Who waters, by what, and how far that may lie from perfect knowledge.

    more_stress : percentage points of stress days; more_water : times its water
    """

    name: str
    rule: Rule
    instruments: Instruments = Instruments.PROBE
    unlogged: float = 0.0
    more_stress: float | None = None
    more_water: float | None = None
    estimate_from: EstimateFrom = EstimateFrom.COMBINED


def by_advice(
    of: Instruments, stress: float, water: float, unlogged: float = 0.0, note: str = ""
) -> Arm:
    return Arm(f"advice, {of}{note}", Rule.APP, of, unlogged, stress, water)


SIMPLE = (
    Arm("perfect knowledge", Rule.PERFECT),
    Arm("fixed calendar", Rule.CALENDAR),
    Arm("threshold of one sensor", Rule.THRESHOLD),
)
PROBES = (
    by_advice(Instruments.PROBE, 1.0, 1.05),
    by_advice(Instruments.DEEPER_PROBE, 1.0, 1.05),
    by_advice(Instruments.PROBE, 1.0, 1.05, UNLOGGED, ", one set in five not logged"),
)
BLIND = by_advice(Instruments.NONE, 6.0, 1.10)
OTHERS = (
    Arm("advice, probe, sensors lead", Rule.APP, estimate_from=EstimateFrom.SENSORS),
    Arm("advice, balance leads", Rule.APP, estimate_from=EstimateFrom.BALANCE),
)
TENSION = (
    by_advice(Instruments.TENSIOMETERS, 3.0, 1.08),
    by_advice(Instruments.MATRIX, 3.0, 1.08),
    by_advice(Instruments.WEEKLY, 3.0, 1.08),
)
FAILING = by_advice(Instruments.FAILING_PROBE, 1.0, 1.05)


@dataclass(frozen=True)
class Fields:
    """Fields of a kind, and who waters them."""

    name: str
    kind: TruthKind
    soils: tuple[Layering, ...]
    arms: tuple[Arm, ...]
    equipment: Equipment = SPRINKLERS


ALL = (
    Fields(
        "Layered columns",
        TruthKind.LAYERED,
        uniform(TEXTURES),
        (*SIMPLE, *PROBES, FAILING, *TENSION, BLIND, *OTHERS),
    ),
    Fields(
        "Richards columns",
        TruthKind.RICHARDS,
        uniform(TEXTURES),
        (*SIMPLE, *PROBES, FAILING, *TENSION, BLIND, *OTHERS),
    ),
    Fields(
        "Richards columns of several horizons",
        TruthKind.RICHARDS,
        UNEVEN,
        (*SIMPLE, *PROBES, *TENSION[:1], BLIND),
    ),
    Fields(
        "Richards columns under drip, little and often",
        TruthKind.RICHARDS,
        uniform(TEXTURES),
        (*SIMPLE, *PROBES[:2], *TENSION[:1], BLIND),
        DRIP,
    ),
)


class Outcome:
    """What an arm did over all fields."""

    def __init__(self, farms: list[Farm], trials: list[Trial]) -> None:
        self.stressed = np.concatenate([t.stressed for t in trials])
        self.given = np.concatenate([t.given_mm.sum(axis=1) for t in trials])
        self.drained = np.concatenate([t.drained_mm for t in trials])
        self.error = np.concatenate([t.error_mm for t in trials])
        held = np.concatenate([t.held for t in trials]).astype(float)
        self.held = np.where(np.isnan(self.error), np.nan, held)
        self.days_held = np.concatenate([t.days_held for t in trials])
        self.soil = np.array([s.name for f in farms for s in f.soils])

    def stress(self, soil: str | None = None) -> float:
        """Stress days [percent], of one soil or of all."""
        rows = slice(None) if soil is None else self.soil == soil
        return 100 * float(self.stressed[rows].mean())

    def coverage(self, soil: str | None = None) -> float:
        """Mornings on which the stated 80 percent range held the truth [percent]."""
        rows = slice(None) if soil is None else self.soil == soil
        return 100 * float(np.nanmean(self.held[rows]))

    def days_coverage(self) -> float:
        """Mornings tried on which the stated range of days left held the truth [percent]."""
        return 100 * float(np.nanmean(self.days_held))


def heading(of: Fields) -> list[str]:
    by = " | ".join(s.name for s in of.soils)
    return [
        "",
        f"### {of.name}",
        "",
        f"| Who waters | Stress days | first 30 d / later | Water | of perfect | Below roots "
        f"| Range holds | that of days left | Error of depletion | {by} |",
        "|---|--:|--:|--:|--:|--:|--:|--:|--:|" + "--:|" * len(of.soils),
    ]


def line(of: Fields, arm: Arm, o: Outcome, perfect: Outcome) -> str:
    early, later = (100 * float(x.mean()) for x in np.split(o.stressed, [EARLY_DAYS], axis=1))
    told = arm.rule is Rule.APP
    rmse = f"{np.sqrt(np.nanmean(o.error**2)):.0f} mm" if told else "–"
    by = " | ".join(
        f"{o.stress(s.name):.0f} / {o.coverage(s.name):.0f}" if told else f"{o.stress(s.name):.0f}"
        for s in of.soils
    )
    return (
        f"| {arm.name} | {o.stress():.1f} % | {early:.1f} / {later:.1f} | {o.given.mean():.0f} mm "
        f"| {o.given.sum() / perfect.given.sum():.2f} | {o.drained.mean():.0f} mm "
        f"| {f'{o.coverage():.0f} %' if told else '–'} "
        f"| {f'{o.days_coverage():.0f} %' if told else '–'} | {rmse} | {by} |"
    )


def figures(fields: Fields, arm: Arm, o: Outcome, perfect: Outcome) -> list[Figure]:
    if arm.more_stress is None or arm.more_water is None:
        return []
    of = f"{fields.name}, {arm.name}: "
    more = o.stress() - perfect.stress()
    worst = max(o.stress(s.name) - perfect.stress(s.name) for s in fields.soils)
    water = float(o.given.sum() / perfect.given.sum())
    narrowest = min(o.coverage(s.name) for s in fields.soils)
    return [
        Figure(of + "stress days beyond perfect", more, "points", arm.more_stress),
        Figure(of + "the same on the worst soil", worst, "points", 5.0),
        Figure(of + "water of perfect", water, "", arm.more_water),
        Figure(of + "range holds", o.coverage(), "%", 75.0, "at least"),
        Figure(of + "range of days left holds", o.days_coverage(), "%", 75.0, "at least"),
        Figure(of + "range holds on the worst soil", narrowest, "%", 65.0, "at least"),
    ]


def watered(which: int, arm: Arm) -> Outcome:
    """A kind of fields, by its place in `ALL`, watered by an arm."""
    fields = ALL[which]
    pairs = [(c, s + 50 * k) for k, c in enumerate(CLIMATES) for s in SEEDS]
    farms = [make_farm(c, fields.soils, CROPS, DAYS, s, fields.equipment) for c, s in pairs]
    trials = [
        run_trial(
            f, fields.kind, arm.rule, s + 100, arm.instruments, arm.unlogged, arm.estimate_from
        )
        for f, (_, s) in zip(farms, pairs, strict=True)
    ]
    return Outcome(farms, trials)


def measure() -> list[Figure]:
    found: list[Figure] = []
    lines: list[str] = []
    with ProcessPoolExecutor() as pool:
        asked = [[pool.submit(watered, k, arm) for arm in f.arms] for k, f in enumerate(ALL)]
        for fields, outcomes in zip(ALL, asked, strict=True):
            lines += heading(fields)
            perfect = outcomes[0].result()
            for arm, one in zip(fields.arms, outcomes, strict=True):
                lines.append(line(fields, arm, one.result(), perfect))
                print(lines[-1], flush=True)
                found += figures(fields, arm, one.result(), perfect)
    if len(sys.argv) > 2 and sys.argv[1] == "--write":
        path = Path(sys.argv[2])
        text = path.read_text().split("<!-- table -->")[0]
        path.write_text(text + "<!-- table -->\n" + "\n".join(lines) + "\n")
    return found


if __name__ == "__main__":
    run(measure)
