"""Ensembles run on into the days ahead, each member with a course of the weather of its own."""

from dataclasses import dataclass

import numpy as np
from numba import njit, prange

from core.arrays import Floats
from core.estimate.blocks import Ensembles, Grounds
from core.estimate.ensemble import FORCES
from core.estimate.member import (
    BARE_KC,
    CAME,
    EVAPORATED,
    FACTORS,
    FLOWS,
    LEAST_BARE,
    USED,
    half_day,
    natural,
    root_weights,
    stores,
)

CASES = 50  # members that run on, of all that an ensemble has
# What is told of each day [mm], and what leaves the roots downwards in the course of it [mm].
DEPLETION, TAW, RAW, DRAINED = range(4)
FIGURES = 4


@dataclass(frozen=True)
class DaysAhead:
    """Weather, crop and water of the days from now on, each of 24 h.

    kcb, root_mm, p_factor, given_mm : arrays (blocks, days), over the watered strip
    rise_mm_day, root_bound_mm, table_mm : the same, see `forcing.Below`
    et0_mm : array (courses, days) [mm/day]; rain_mm : array (blocks, courses, days), that enters
    strip, use_sigma : arrays (blocks,)
    """

    kcb: Floats
    root_mm: Floats
    p_factor: Floats
    given_mm: Floats
    et0_mm: Floats
    rain_mm: Floats
    rise_mm_day: Floats
    root_bound_mm: Floats
    table_mm: Floats
    strip: Floats
    use_sigma: Floats


def run_on(ensembles: Ensembles, grounds: Grounds, days: DaysAhead) -> Floats:
    """Depletion, available and allowable water of members, day by day.

    Half of the members run on, each through one course of the weather; the ensembles stay as
    they are.

    Returns
    -------
    array, shape (blocks, FIGURES, CASES, days + 1)
        At the start of each day, and at the end of the last; what drains is of the day, none
        after the last.
    """
    every = ensembles.members.shape[2] // CASES
    members = np.ascontiguousarray(ensembles.members[:, :, ::every])
    blocks, count = days.kcb.shape
    courses = days.et0_mm.shape[0]
    course = np.arange(CASES) * courses // CASES
    out = np.empty((blocks, FIGURES, CASES, count + 1))
    # In one piece, so that the loop is compiled for one kind of array.
    kcb, root, p_factor, given = (
        np.ascontiguousarray(x) for x in (days.kcb, days.root_mm, days.p_factor, days.given_mm)
    )
    below = np.ascontiguousarray(np.stack([days.rise_mm_day, days.root_bound_mm, days.table_mm]))
    _run_on(
        members,
        grounds.layers,
        grounds.edge,
        grounds.scale,
        grounds.hold,
        grounds.wilt,
        below,
        kcb,
        root,
        p_factor,
        given,
        np.ascontiguousarray(days.et0_mm[course].T),
        np.ascontiguousarray(days.rain_mm[:, course].transpose(0, 2, 1)),
        days.strip,
        days.use_sigma,
        ensembles.seeds + ensembles.step,
        out,
    )
    return out


@njit(cache=True, parallel=True)
def _run_on(
    members: Floats,
    layers: np.ndarray,
    edge: Floats,
    scale: Floats,
    hold: Floats,
    wilt: Floats,
    below: Floats,
    kcb: Floats,
    root_mm: Floats,
    p_factor: Floats,
    given_mm: Floats,
    et0_mm: Floats,
    rain_mm: Floats,
    strip: Floats,
    use_sigma: Floats,
    seeds: np.ndarray,
    out: Floats,
) -> None:
    """See `run_on`; et0_mm (days, cases), rain_mm (blocks, days, cases), below (3, blocks, days):
    rise, what roots can't pass, and the water table."""
    count, days = members.shape[2], kcb.shape[1]
    for b in prange(members.shape[0]):
        np.random.seed(seeds[b] % 4294967295)
        n = layers[b]
        x = members[b]
        nat = np.empty((2 * n + FACTORS, count))
        natural(x, n, nat)
        weights, noise = np.zeros((n, count)), np.empty((n + 3, count))
        flows, found, extra = np.empty((FLOWS, count)), np.empty((3, count)), np.zeros(count)
        force = np.empty(FORCES)
        for d in range(days + 1):
            at = min(d, days - 1)
            limit = below[1, b, at]
            if d == 0 or root_mm[b, at] != root_mm[b, at - 1]:
                root_weights(edge[b], n, root_mm[b, at], limit, nat, weights)
            stores(x, nat, n, edge[b], root_mm[b, at], limit, p_factor[b, at], found)
            out[b, DEPLETION, :, d] = found[0]
            out[b, TAW, :, d] = found[1]
            out[b, RAW, :, d] = found[2]
            out[b, DRAINED, :, d] = 0.0
            if d == days:
                break
            for i in range(n + 3):
                for m in range(count):
                    noise[i, m] = np.random.normal()
            force[0] = 1.0
            force[1] = kcb[b, d] / strip[b]
            force[2] = max(LEAST_BARE, BARE_KC - kcb[b, d])
            force[3] = below[0, b, d]
            force[4], force[5], force[6] = root_mm[b, d], limit, p_factor[b, d]
            force[7] = use_sigma[b]
            force[8], force[9] = below[2, b, d], 0.0
            half_day(
                x,
                nat,
                n,
                edge[b],
                scale[b],
                hold[b],
                wilt[b],
                force,
                et0_mm[d],
                rain_mm[b, d],
                given_mm[b, d],
                extra,
                noise,
                weights,
                flows,
            )
            stores(x, nat, n, edge[b], root_mm[b, d], limit, p_factor[b, d], found)
            for m in range(count):
                moved = flows[CAME, m] - flows[USED, m] - flows[EVAPORATED, m]
                out[b, DRAINED, m, d] = found[0, m] - out[b, DEPLETION, m, d] + moved
