"""Irrigations that were logged and never came."""

import numpy as np

from core.arrays import Bools
from core.diagnosis.block import SeenBlock
from core.diagnosis.cause import Cause
from core.diagnosis.finding import Cost, Evidence, EvidenceFigure, Finding, likelihood
from core.diagnosis.not_logged import WRONG_HOUR_H, is_unexplained
from core.diagnosis.responses import Responses

# A site that answered other water so near in time would have answered this [h].
WORKS_WITHIN_H = 30 * 24.0
# Silence of one site misleads so often: water may pass an instrument by [-]; tried on both
# simulated truths.
ONE_SILENCE_WRONG = 0.15
# Irrigations are in a row when the next begins so soon after one [h].
IN_A_ROW_H = 72.0


def not_run(block: SeenBlock, responses: Responses, since_hours: float) -> list[Finding]:
    """Irrigations that no site answered though all that could tell answered other water.

    Parameters
    ----------
    since_hours : float [h from now]
        Older ones are left out.
    """
    r = responses
    works = np.array(
        [
            [_answers_near(block, s, float(r.start[n])) for n in range(r.number.size)]
            for s in range(len(block.sites))
        ],
        bool,
    ).reshape(r.could_tell.shape)
    tells = _told(r) & works
    silent = tells.any(axis=0) & ~(r.answered.any(axis=0)) & (r.start >= since_hours)
    silent &= ~np.array([_seen_at_another_hour(block, float(t)) for t in r.start], bool)
    rows = np.flatnonzero(silent)
    if not rows.size:
        return []
    evidence = tuple(
        Evidence(
            float(r.start[n]),
            float(r.end[n]),
            EvidenceFigure.WATER,
            0.0,
            float(np.nanmean(r.given_mm[tells[:, n], n])),
            irrigation=int(r.number[n]),
        )
        for n in rows
    )
    heard = int(tells[:, rows].sum())
    missing = sum(e.expected for e in evidence)
    weeks = max(-since_hours / (7 * 24.0), 1.0)
    return [
        Finding(
            Cause.NOT_RUN, likelihood(heard, ONE_SILENCE_WRONG), evidence, Cost(missing / weeks)
        )
    ]


def _seen_at_another_hour(block: SeenBlock, start: float) -> bool:
    """Whether water came near in time that nothing on record explains."""
    return any(
        abs(e.wetting.after_hours - start) <= WRONG_HOUR_H and is_unexplained(site, e)
        for site in block.sites
        for e in site.events
    )


def _told(r: Responses) -> Bools:
    """Whether an answer had to be seen: of one irrigation, or of some in a row that were all
    silent, which had to come down together."""
    out = r.could_tell.copy()
    for s in range(out.shape[0]):
        row: list[int] = []
        for n in range(out.shape[1]):
            near = not row or r.start[n] - r.end[row[-1]] <= IN_A_ROW_H
            silent = r.heard[s, n] and not r.answered[s, n]
            row = [*row, n] if silent and near else [n] if silent else []
            if len(row) > 1 and r.given_mm[s, row].sum() >= r.needed_mm[s, row[0]]:
                out[s, row] = True
    return out


def _answers_near(block: SeenBlock, site: int, start: float) -> bool:
    return any(
        abs(e.wetting.after_hours - start) <= WORKS_WITHIN_H and e.supplies
        for e in block.sites[site].events
    )
