"""One site that gets less than the others of the same irrigations."""

import numpy as np

from core.arrays import Floats
from core.diagnosis.block import SeenBlock
from core.diagnosis.cause import Cause
from core.diagnosis.finding import Cost, Evidence, EvidenceFigure, Finding, likelihood
from core.diagnosis.responses import Responses

# Of what others found: a site that finds less than this is dry, or gets unevenly little [-]; tried
# on both simulated truths.
DRY_SHARE, UNEVEN_SHARE = 0.45, 0.71
FEWEST, FEWEST_UNEVEN = 2, 4
# Of the irrigations of an uneven site so many must have brought it less [-].
MOSTLY = 0.8
ONE_WRONG = 0.2


def between_sites(block: SeenBlock, responses: Responses, since_hours: float) -> list[Finding]:
    """Sites that are dry since some irrigation, and sites that always get less."""
    out = []
    for s in range(len(block.sites)):
        share = _beside_others(responses, responses.recovery, s)
        rows = np.flatnonzero(~np.isnan(share) & (responses.start >= since_hours))
        dry = _last_run(share[rows] < DRY_SHARE)
        if dry >= FEWEST and _had_to_show(responses, s, rows[-dry:]):
            out.append(_finding(Cause.SITE_DRY, responses, s, share, rows[-dry:]))
            continue
        if block.sites[s].record.is_tension:
            continue
        # How much less can be told only where no water went past the deepest sensors.
        fair = _beside_others(responses, responses.fair, s)
        told = rows[~np.isnan(fair[rows])]
        if told.size >= FEWEST_UNEVEN and _gets_less(fair[told]):
            out.append(_finding(Cause.UNEVEN, responses, s, fair, told))
    return out


def _had_to_show(r: Responses, site: int, rows: np.ndarray) -> bool:
    """Whether all that water together would have come down to the first sensor."""
    silent = rows[~r.answered[site, rows]]
    if not silent.size:
        return True
    return float(r.given_mm[site, silent].sum()) >= float(r.needed_mm[site, silent[0]])


def _gets_less(share: Floats) -> bool:
    """Whether a site gets less of most irrigations, and much less of the middle one."""
    mostly = float((share < (1 + UNEVEN_SHARE) / 2).mean()) >= MOSTLY
    return mostly and float(np.median(share)) < UNEVEN_SHARE


def _beside_others(r: Responses, recovery: Floats, site: int) -> Floats:
    """What a site found of each irrigation, over what the others found; NaN where not known."""
    others = np.arange(r.could_tell.shape[0]) != site
    out = np.full(r.number.shape, np.nan)
    for n in range(out.size):
        known = others & ~np.isnan(recovery[:, n])
        if not known.any():
            continue
        beside = float(np.median(recovery[known, n]))
        if beside <= 0:
            continue
        if not np.isnan(recovery[site, n]):
            out[n] = max(recovery[site, n], 0.0) / beside
        elif (
            r.heard[site, n]
            and not r.answered[site, n]
            and r.reached_mm[others, n].max() >= r.first_mm[site, n]
        ):
            out[n] = 0.0
    return out


def _last_run(where: np.ndarray) -> int:
    """How many of the newest are so, one after the other."""
    no = np.flatnonzero(~where)
    return int(where.size - (no[-1] + 1 if no.size else 0))


def _finding(cause: Cause, r: Responses, site: int, share: Floats, rows: np.ndarray) -> Finding:
    evidence = tuple(
        Evidence(
            float(r.start[n]),
            float(r.end[n]),
            EvidenceFigure.SHARE,
            float(share[n]),
            1.0,
            site=site,
            irrigation=int(r.number[n]),
        )
        for n in rows
    )
    missing = float(np.nansum((1 - share[rows]) * r.given_mm[site, rows]))
    weeks = max((float(r.end[rows[-1]]) - float(r.start[rows[0]])) / (7 * 24.0), 1.0)
    return Finding(cause, likelihood(rows.size, ONE_WRONG), evidence, Cost(missing / weeks), site)
