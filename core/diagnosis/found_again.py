"""How much of what is logged is found again: rates that are off, losses, fading answers."""

import numpy as np

from core.diagnosis.block import SeenBlock
from core.diagnosis.cause import Cause
from core.diagnosis.finding import Cost, Evidence, EvidenceFigure, Finding, likelihood
from core.diagnosis.responses import Responses
from core.diagnosis.water_found import WaterFound, water_found

# Fewer irrigations are chance.
FEWEST, FEWEST_OF_TREND = 4, 6
# Water found again beyond these bounds is another rate than the stated one [-]. Tried on both
# simulated truths.
LOW, HIGH = 0.7, 1.22
SURE = 1.28
# An answer that has come down to so much of what it was [-], by a rank correlation with time
# beyond this [-].
FADED, FADES = 0.72, -0.6
# Runs must differ by so much for what is lost to be told by their depth [-].
DIFFERENT_RUNS = 1.5
LOST_OF_LONGER = 0.78
ONE_WRONG = 0.35


def found_again(
    block: SeenBlock, responses: Responses, since_hours: float, odd: set[int]
) -> list[Finding]:
    """At most one cause for all of a block.

    Parameters
    ----------
    odd : set of int
        Sites that get another share than the rest; they are left out.
    """
    found = water_found(block, responses, since_hours, odd)
    if found.rows.size < FEWEST or (cause := _losing(block, found)) is None:
        return []
    evidence = tuple(
        Evidence(
            float(responses.start[n]),
            float(responses.end[n]),
            EvidenceFigure.SHARE,
            float(share),
            1.0,
            irrigation=int(responses.number[n]),
        )
        for n, share in zip(found.rows, found.share, strict=True)
    )
    missing = float((np.abs(1 - found.share) * found.given_mm).sum())
    weeks = max((evidence[-1].to_hours - evidence[0].from_hours) / (7 * 24.0), 1.0)
    sure = likelihood(found.rows.size, ONE_WRONG)
    return [Finding(cause, sure, evidence, Cost(missing / weeks))]


def _losing(block: SeenBlock, found: WaterFound) -> Cause | None:
    typical, sigma = found.typical, found.spread
    if (cause := lost_in_parts(found)) is not None:
        return cause
    if typical + SURE * sigma < 1 and typical < LOW:
        fast = block.rate_mm_h > block.intake_mm_h
        return Cause.INTAKE_EXCEEDED if fast else Cause.RATE_OFF
    if typical - SURE * sigma > 1 and typical > HIGH:
        return Cause.RATE_OFF
    return None


def lost_in_parts(found: WaterFound) -> Cause | None:
    """What makes some irrigations be found less than others; None where they are found alike."""
    if _fades(found):
        return Cause.RESPONSE_WEAKER
    if _lost_of_longer(found):
        return Cause.INTAKE_EXCEEDED
    return None


def _fades(found: WaterFound) -> bool:
    """Whether the newest irrigations were answered by much less than the first ones."""
    n = found.share.size
    if n < FEWEST_OF_TREND:
        return False
    rank = np.argsort(np.argsort(found.share)).astype(float)
    trend = float(np.corrcoef(np.arange(n), rank)[0, 1])
    early, late = np.median(found.share[: n // 2]), np.median(found.share[-3:])
    return bool(trend <= FADES and late < FADED * early)


def _lost_of_longer(found: WaterFound) -> bool:
    """Whether short runs are found again and long ones are not."""
    third = max(found.given_mm.size // 3, 2)
    order = np.argsort(found.given_mm, kind="stable")
    few, much = order[:third], order[-third:]
    if found.given_mm[much].mean() < DIFFERENT_RUNS * found.given_mm[few].mean():
        return False
    rank = np.argsort(np.argsort(found.share)).astype(float)
    by_depth = np.argsort(np.argsort(found.given_mm)).astype(float)
    falls = float(np.corrcoef(by_depth, rank)[0, 1]) <= FADES
    short, long = float(np.median(found.share[few])), float(np.median(found.share[much]))
    return bool(falls and long < LOW and long < LOST_OF_LONGER * short)
