"""Irrigations that were logged and never came."""

import numpy as np

from core.diagnosis.block import SeenBlock
from core.diagnosis.cause import Cause
from core.diagnosis.finding import Cost, Evidence, EvidenceFigure, Finding, likelihood
from core.diagnosis.not_logged import WRONG_HOUR_H
from core.diagnosis.responses import Responses

# A site that answered other water so near in time would have answered this [h].
WORKS_WITHIN_H = 30 * 24.0
# Silence of one site misleads so often: water may pass an instrument by [-]; tried on both
# simulated truths.
ONE_SILENCE_WRONG = 0.15


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
    tells = r.could_tell & works
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
        not e.supplies and abs(e.wetting.after_hours - start) <= WRONG_HOUR_H
        for site in block.sites
        for e in site.events
    )


def _answers_near(block: SeenBlock, site: int, start: float) -> bool:
    return any(
        abs(e.wetting.after_hours - start) <= WORKS_WITHIN_H and e.supplies
        for e in block.sites[site].events
    )
