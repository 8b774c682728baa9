"""Which kind of instrument suits a block: what speaks for each, and what against.

Limits are common practice, no source, where none is named.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from core.instrument.kinds import InstrumentKind
from core.sentence import Sentence, sentence

# A tensiometer's column breaks at about 80 kPa; it is of use a little below [kPa].
COLUMN_BREAKS_KPA = 75.0
# Below this a granular-matrix sensor tells nothing [kPa]; Shock et al. (1998), as in its kind.
MATRIX_BLIND_KPA = 10.0
MATRIX_MOST_KPA = 200.0
# Salt of the saturated paste above which raw readings of capacitance and resistance drift [dS/m].
SALTY_DS_M = 3.0
# Clay that swells and opens gaps [%], stones that a tight hole can't be made in [% by volume].
SWELLING_CLAY, STONY = 45.0, 25.0
# Share of the available water that may be used below which a crop is sensitive, as in FAO-56,
# table 22.
SENSITIVE_P = 0.35
# A tensiometer must be looked at so often [visits a week].
TENSIOMETER_VISITS = 1.0
# Tubes longer than this are hard to fill and to pull [mm].
LONGEST_TENSIOMETER_MM = 1200.0


@dataclass(frozen=True)
class BlockToMeasure:
    """What is known of a block that an instrument is chosen for.

    Parameters
    ----------
    clay, gravel : float, optional [%]
        The most of them in the roots.
    ece_ds_m : float, optional [dS/m]
    refill_kpa : tuple of float [kPa]
        Tension at the refill point in each horizon of the roots.
    p : float, optional [-]
        Share of the available water that may be used.
    root_mm : float [mm]
        At its deepest.
    tilled : bool
        Whether machines work the soil over the instrument each year.
    visits_a_week : float
        That a person can make.
    logged : bool
        Whether readings must come by themselves.
    """

    clay: float | None
    gravel: float | None
    ece_ds_m: float | None
    refill_kpa: tuple[float, ...]
    p: float | None
    root_mm: float
    tilled: bool
    visits_a_week: float
    logged: bool


@dataclass(frozen=True)
class KindChoice:
    """A kind beside the block: what speaks for it, against it, and what rules it out.

    Parameters
    ----------
    depths_mm : tuple of float [mm]
        Proposed.
    cost : float, optional [money]
        By the person's own price of one with its depths.
    """

    kind: InstrumentKind
    speaks_for: tuple[Sentence, ...]
    against: tuple[Sentence, ...]
    ruled_out: tuple[Sentence, ...]
    depths_mm: tuple[float, ...]
    cost: float | None


KINDS = (
    InstrumentKind.CAPACITANCE_PROBE,
    InstrumentKind.GRANULAR_MATRIX,
    InstrumentKind.TENSIOMETER,
    InstrumentKind.HEAT_PULSE,
    InstrumentKind.FEEL_CHECK,
)
# Shares of the root depth at which a few sensors stand: where most is drawn, and below it.
FEW_DEPTHS = (0.25, 0.5, 0.85)
# Distance of a probe's depths, and where its last one lies [mm].
PROBE_STEP_MM, PROBE_MOST_MM = 100.0, 1200.0


def instrument_choice(
    block: BlockToMeasure, prices: dict[InstrumentKind, float] | None = None
) -> list[KindChoice]:
    """All kinds that tell of the root zone, those that suit best first.

    A kind that is ruled out comes last; else more that speaks for it, less that speaks against it
    comes first, and of equals the cheaper one.

    Parameters
    ----------
    prices : dict of InstrumentKind to float [money], optional
        Of one instrument with its depths, as the person knows them.
    """
    found = [_choice(kind, block, (prices or {}).get(kind)) for kind in KINDS]
    return sorted(
        found,
        key=lambda c: (
            len(c.ruled_out) > 0,
            len(c.against) - len(c.speaks_for),
            c.cost if c.cost is not None else float("inf"),
            KINDS.index(c.kind),
        ),
    )


def proposed_depths(kind: InstrumentKind, root_mm: float) -> tuple[float, ...]:
    """Depths for a kind by the root depth [mm], to the nearest 50."""
    if kind is InstrumentKind.CAPACITANCE_PROBE:
        last = min(max(root_mm, 3 * PROBE_STEP_MM), PROBE_MOST_MM)
        return tuple(PROBE_STEP_MM * k for k in range(1, int(last // PROBE_STEP_MM) + 1))
    depths = {max(100.0, 50.0 * round(root_mm * share / 50)) for share in FEW_DEPTHS}
    return tuple(sorted(depths))


def _choice(kind: InstrumentKind, block: BlockToMeasure, price: float | None) -> KindChoice:
    good: list[Sentence] = []
    bad: list[Sentence] = []
    never: list[Sentence] = []
    _by_tension(kind, block.refill_kpa, good, bad, never)
    _by_soil(kind, block, bad)
    _by_work(kind, block, good, bad, never)
    if kind is InstrumentKind.TENSIOMETER and block.p is not None and block.p <= SENSITIVE_P:
        good.append(
            sentence("The crop is sensitive (p {p:.2f}): tension is read directly.", p=block.p)
        )
    depths = proposed_depths(kind, block.root_mm)
    return KindChoice(kind, tuple(good), tuple(bad), tuple(never), depths, price)


def _by_tension(
    kind: InstrumentKind,
    refill_kpa: Sequence[float],
    good: list[Sentence],
    bad: list[Sentence],
    never: list[Sentence],
) -> None:
    if not refill_kpa:
        return
    low, high = min(refill_kpa), max(refill_kpa)
    if kind is InstrumentKind.TENSIOMETER:
        if low > COLUMN_BREAKS_KPA:
            never.append(
                sentence("Refill lies at {low:.0f} kPa; its column breaks at about 80.", low=low)
            )
        elif high > COLUMN_BREAKS_KPA:
            bad.append(
                sentence(
                    "Refill lies at {high:.0f} kPa in one horizon; its column breaks at about 80.",
                    high=high,
                )
            )
        else:
            good.append(sentence("It sees the refill point, {high:.0f} kPa.", high=high))
    if kind is InstrumentKind.GRANULAR_MATRIX:
        if high < MATRIX_BLIND_KPA:
            never.append(
                sentence("Refill lies at {high:.0f} kPa; it tells nothing below 10.", high=high)
            )
        elif high > MATRIX_MOST_KPA:
            bad.append(
                sentence("Refill lies at {high:.0f} kPa, near the end of its range.", high=high)
            )
        else:
            good.append(sentence("It sees the refill point, {high:.0f} kPa.", high=high))
    if kind is InstrumentKind.HEAT_PULSE:
        good.append(sentence("It sees the refill point, {high:.0f} kPa.", high=high))


def _by_soil(kind: InstrumentKind, block: BlockToMeasure, bad: list[Sentence]) -> None:
    by_current = (InstrumentKind.CAPACITANCE_PROBE, InstrumentKind.GRANULAR_MATRIX)
    if kind in by_current and block.ece_ds_m is not None and block.ece_ds_m >= SALTY_DS_M:
        bad.append(sentence("Salt (ECe {ece:.1f} dS/m) shifts its readings.", ece=block.ece_ds_m))
    in_a_tube = (InstrumentKind.CAPACITANCE_PROBE, InstrumentKind.TENSIOMETER)
    if kind in in_a_tube and block.clay is not None and block.clay >= SWELLING_CLAY:
        bad.append(
            sentence("Clay of {clay:.0f} % may swell and open gaps at its tube.", clay=block.clay)
        )
    if kind in in_a_tube and block.gravel is not None and block.gravel >= STONY:
        bad.append(
            sentence(
                "Stones ({gravel:.0f} %) make a tight hole hard to drill.", gravel=block.gravel
            )
        )


def _by_work(
    kind: InstrumentKind,
    block: BlockToMeasure,
    good: list[Sentence],
    bad: list[Sentence],
    never: list[Sentence],
) -> None:
    by_hand = (InstrumentKind.TENSIOMETER, InstrumentKind.FEEL_CHECK)
    if kind in by_hand and block.logged:
        never.append(sentence("A person reads it, and readings are to come by themselves."))
    if kind not in by_hand and block.logged:
        good.append(sentence("A logger reads it."))
    if kind is InstrumentKind.TENSIOMETER:
        if block.visits_a_week < TENSIOMETER_VISITS:
            never.append(sentence("It must be filled and looked at each week."))
        if block.root_mm > LONGEST_TENSIOMETER_MM:
            bad.append(sentence("Roots go deeper than its tubes are long."))
    if kind is InstrumentKind.FEEL_CHECK:
        good.append(sentence("It costs an auger and a walk."))
        bad.append(sentence("It is right to 5 to 10 % of the available water, by the hand."))
    if block.tilled and kind is InstrumentKind.TENSIOMETER:
        bad.append(sentence("It stands above ground: out before machines come, and in again."))
    if block.tilled and kind in (InstrumentKind.CAPACITANCE_PROBE, InstrumentKind.GRANULAR_MATRIX):
        bad.append(
            sentence(
                "Machines work over it: buried below their depth it leaves a gap above, else it "
                "is put in anew each season."
            )
        )
