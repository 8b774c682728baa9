"""How much of what is logged is found again: rates that are off, losses, fading answers."""

from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.diagnosis.block import SeenBlock
from core.diagnosis.cause import Cause
from core.diagnosis.finding import Cost, Evidence, EvidenceFigure, Finding, likelihood
from core.diagnosis.responses import Responses

# Fewer irrigations are chance.
FEWEST, FEWEST_OF_TREND = 4, 6
# Water found again beyond these bounds is another rate than the stated one [-]; what sensors tell
# of it may be off as a whole by so much [-]. Tried on both simulated truths.
LOW, HIGH, OWN_SIGMA = 0.7, 1.22, 0.08
SURE = 1.28
# What each is off by, since water may end anywhere between two sensors, is much the same each time:
# of it so much stays in their middle [-].
OF_EACH = 0.7
# An answer that has come down to so much of what it was [-], by a rank correlation with time
# beyond this [-].
FADED, FADES = 0.72, -0.6
# Runs must differ by so much for what is lost to be told by their depth [-].
DIFFERENT_RUNS = 1.5
LOST_OF_LONGER = 0.78
ONE_WRONG = 0.35


@dataclass(frozen=True)
class _Found:
    """Irrigations of which it is known how much was found again, oldest first."""

    rows: np.ndarray
    share: Floats
    sigma: Floats
    given_mm: Floats
    sites: int


def found_again(
    block: SeenBlock, responses: Responses, since_hours: float, odd: set[int]
) -> list[Finding]:
    """At most one cause for all of a block.

    Parameters
    ----------
    odd : set of int
        Sites that get another share than the rest; they are left out.
    """
    found = _pooled(block, responses, since_hours, odd)
    if found.rows.size < FEWEST:
        return []
    typical = float(np.median(found.share))
    if (cause := _losing(block, found, typical)) is None:
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


def _pooled(block: SeenBlock, r: Responses, since_hours: float, odd: set[int]) -> _Found:
    # A tension's change of water hangs on the curve, which may be off by as much.
    sites = [s for s, x in enumerate(block.sites) if s not in odd and not x.record.is_tension]
    if not sites:
        return _Found(np.empty(0, int), np.empty(0), np.empty(0), np.empty(0), 0)
    fair = r.fair[sites]
    rows = np.flatnonzero((~np.isnan(fair)).any(axis=0) & (r.start >= since_hours))
    share = np.array([float(np.nanmedian(fair[:, n])) for n in rows])
    sigma = np.array([float(np.nanmean(r.sigma[sites, n])) for n in rows])
    given = np.array([float(np.nanmean(r.given_mm[sites, n])) for n in rows])
    told = int((~np.isnan(fair[:, rows])).any(axis=1).sum()) if rows.size else 0
    return _Found(rows, share, sigma, given, told)


def _losing(block: SeenBlock, found: _Found, typical: float) -> Cause | None:
    if _fades(found):
        return Cause.RESPONSE_WEAKER
    if _lost_of_longer(found):
        return Cause.INTAKE_EXCEEDED
    off = np.abs(found.share - typical)
    spread = 1.4826 * float(np.median(off)) * 1.2533 / np.sqrt(found.share.size)
    own = max(OWN_SIGMA, OF_EACH * float(np.median(found.sigma)))
    sigma = float(np.hypot(spread, own / np.sqrt(found.sites)))
    if typical + SURE * sigma < 1 and typical < LOW:
        fast = block.rate_mm_h > block.intake_mm_h
        return Cause.INTAKE_EXCEEDED if fast else Cause.RATE_OFF
    if typical - SURE * sigma > 1 and typical > HIGH:
        return Cause.RATE_OFF
    return None


def _fades(found: _Found) -> bool:
    """Whether the newest irrigations were answered by much less than the first ones."""
    n = found.share.size
    if n < FEWEST_OF_TREND:
        return False
    rank = np.argsort(np.argsort(found.share)).astype(float)
    trend = float(np.corrcoef(np.arange(n), rank)[0, 1])
    early, late = np.median(found.share[: n // 2]), np.median(found.share[-3:])
    return bool(trend <= FADES and late < FADED * early)


def _lost_of_longer(found: _Found) -> bool:
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
