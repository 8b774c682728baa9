"""Ensembles of many blocks carried through their season, step by step, all blocks at once.

A step is half a day, from six to six; what was read nearest to its end is taken in there. The
same block and day draw the same noise however often they are worked out.

References
----------
.. [1] Evensen, G. (2003), The ensemble Kalman filter: theoretical formulation and practical
   implementation, Ocean Dynam. 53:343-367, doi:10.1007/s10236-003-0036-9.
"""

import numpy as np
from numba import njit, prange

from core.arrays import Floats
from core.estimate.member import (
    CAME,
    EVAPORATED,
    FACTORS,
    FLOWS,
    USE,
    USED,
    half_day,
    natural,
    root_weights,
    stores,
    width,
)
from core.estimate.news import (
    LAST,
    LEAST_WATER_MM,
    MORNING_1,
    MORNING_2,
    MORNING_3,
    PLATEAU_GATE,
    PLATEAU_SD,
    PLATEAUS,
    WANDER,
    is_plateau,
    news,
)
from core.estimate.notes import (
    CORRECTION,
    DEPLETION,
    FLOW,
    FORECAST_SD,
    GREW,
    LEFT,
    MISSING,
    MODEL_SPREAD,
    SURPRISE,
    UNLOGGED,
    note,
    spread,
)
from core.estimate.update import FAR_SIGMAS, expected, take_in

FORCES = 10  # figures of a step's forcing, see `follow`
# What a block remembers: water that came lately [mm], steps since any came, steps passed, the
# depletion at the end of the last step [mm], and steps in which anything was read; since the
# season began, what was given and what left the roots downwards [mm].
LATELY, SINCE, PASSED, DEPLETED, HEARD, GIVEN, LEACHED = range(7)
COUNTERS = 7

# Working assumptions, from the study of Richards columns.
WALK, LEAST_SPREAD = 0.01, 0.2  # shares of the prior spread: per day, and what always remains
USE_RANGE = (np.log(0.7), np.log(1.4))
WET_MM, WET_SD, DRY_SD = 2.0, 0.025, 0.015
SHALLOW_MM = 150.0
FIRST_NEWS_STEP = 6
WETTEST = 0.35  # content above full that no pores exceed [m3/m3]


@njit(cache=True)
def _walk(
    x: Floats,
    layers: int,
    sensors: int,
    prior_sd: Floats,
    walk_sd: Floats,
    memory: Floats,
    noise: Floats,
) -> None:
    """Parameters wander a little every day, and never grow surer than they can be."""
    count = x.shape[1]
    base = 3 * layers + FACTORS
    for v in range(layers, base + 2 * sensors):
        sd = prior_sd[v]
        if sd <= 0:
            continue
        step = WALK * sd
        if base <= v < base + sensors:
            step = max(step, walk_sd[v - base])
            # A sensor that keeps surprising on one side may have drifted.
            if abs(memory[v - base, WANDER]) > 0.6 and walk_sd[v - base] > 0.0015:
                step = np.hypot(step, 0.01)
        # The step's own draws again, dealt to other members: drawing anew takes longer.
        deal, row = 13 + 7 * v, noise[v % noise.shape[0]]
        for m in range(count):
            x[v, m] += step * row[(m + deal) % count]
        mean, now = spread(x[v])
        if now < LEAST_SPREAD * sd:
            grow = LEAST_SPREAD * sd / max(now, 1e-9)
            for m in range(count):
                x[v, m] = mean + grow * (x[v, m] - mean)
    use = 3 * layers + USE
    for m in range(count):
        x[use, m] = min(max(x[use, m], USE_RANGE[0]), USE_RANGE[1])


@njit(cache=True)
def _begin_anew(
    x: Floats, v: int, sensors: int, prior_mean: Floats, prior_sd: Floats, memory: Floats
) -> None:
    """A sensor that was put in anew has its prior back."""
    for m in range(x.shape[1]):
        x[v, m] = prior_mean[v] + prior_sd[v] * np.random.normal()
        w = v + sensors
        x[w, m] = prior_mean[w] + prior_sd[w] * np.random.normal()
    memory[:] = np.nan
    memory[PLATEAUS] = 0
    memory[WANDER] = 0


@njit(cache=True)
def _forget(x: Floats, layers: int, prior_mean: Floats, prior_sd: Floats) -> None:
    """The content of all layers could be anything again."""
    for m in range(x.shape[1]):
        shared = np.random.normal()
        for j in range(layers):
            x[j, m] = prior_mean[j] + prior_sd[j] * (0.95 * shared + 0.3 * np.random.normal())


@njit(cache=True)
def _one_block(
    x: Floats,
    memory: Floats,
    counters: Floats,
    layers: int,
    sensors: int,
    edge: Floats,
    scale: Floats,
    hold: Floats,
    wilt: float,
    prior_mean: Floats,
    prior_sd: Floats,
    walk_sd: Floats,
    depth: Floats,
    place: np.ndarray,
    deeper: np.ndarray,
    lags: np.ndarray,
    renewed: np.ndarray,
    untold: bool,
    force: Floats,
    water: Floats,
    reading: Floats,
    reading_sd: Floats,
    at_least: Floats,
    at_most: Floats,
    mornings: np.ndarray,
    seed: int,
    first_step: int,
    notes: Floats,
) -> None:
    """Carry one block through its steps; see `follow`."""
    count = x.shape[1]
    size = width(layers, sensors)
    base = 3 * layers + FACTORS
    middle = 0.5 * (edge[:layers] + edge[1 : layers + 1])
    before = np.empty_like(x)
    nat = np.empty((2 * layers + FACTORS, count))
    weights, noise = np.zeros((layers, count)), np.empty((layers + 3, count))
    flows, found = np.empty((FLOWS, count)), np.empty((3, count))
    seen, was, extra = np.empty(count), np.empty(count), np.zeros(count)
    fell, ones = np.empty(count), np.ones(count)
    guess, guess_sd = np.empty(max(sensors, 1)), np.empty(max(sensors, 1))
    natural(x, layers, nat)
    for t in range(force.shape[0]):
        np.random.seed((seed + 7919 * (first_step + t)) % 4294967295)
        rain, given = water[t, 0], water[t, 1]
        if force[t, 9] > 0:
            counters[GIVEN] = counters[LEACHED] = 0.0
        root, limit, p_factor = force[t, 4], force[t, 5], force[t, 6]
        for s in range(sensors):
            if renewed[t, s]:
                _begin_anew(x, base + s, sensors, prior_mean, prior_sd, memory[s])
        stores(x, nat, layers, edge, root, limit, p_factor, found)
        start = found[0].mean()
        notes[t, GREW] = start - counters[DEPLETED] if counters[PASSED] > 0 else 0.0
        before[:] = x
        extra[:] = 0.0
        fell[:] = rain
        if force[t, 1] > 0:
            root_weights(edge, layers, root, limit, nat, weights)
        for i in range(layers + 3):
            for m in range(count):
                noise[i, m] = np.random.normal()
        half_day(
            x,
            nat,
            layers,
            edge,
            scale,
            hold,
            wilt,
            force[t],
            ones,
            fell,
            given,
            extra,
            noise,
            weights,
            flows,
        )
        fresh = rain + given
        wet = fresh + counters[LATELY] > WET_MM
        counters[LATELY] = fresh
        counters[SINCE] = 0 if fresh > 0.5 else counters[SINCE] + 1
        known = False
        for s in range(sensors):
            if np.isnan(reading[t, s]):
                continue
            if not known and untold and counters[HEARD] == 0:
                _forget(x, layers, prior_mean, prior_sd)
            known = True
            expected(x, layers, sensors, middle, scale, depth[s], s, seen)
            guess[s] = seen.mean()
            guess_sd[s] = np.sqrt(seen.var() + reading_sd[t, s] ** 2)
        unlogged = missing = 0.0
        if known and counters[PASSED] >= FIRST_NEWS_STEP:
            came, gone, wanted = news(
                reading[t, :sensors],
                guess,
                guess_sd,
                memory,
                depth,
                place,
                given,
                counters[SINCE],
            )
            if came and not gone and fresh < LEAST_WATER_MM:
                short = max(-before[0].mean(), 0.0) * (edge[1] - edge[0])
                unlogged = max(LEAST_WATER_MM, wanted + short)
                for m in range(count):
                    extra[m] = 2.0 * unlogged * np.random.random()
            elif gone and not came:
                missing = given
                for m in range(count):
                    extra[m] = -given * np.random.random()
            if unlogged > 0 or missing > 0:
                x[:] = before
                half_day(
                    x,
                    nat,
                    layers,
                    edge,
                    scale,
                    hold,
                    wilt,
                    force[t],
                    ones,
                    fell,
                    given,
                    extra,
                    noise,
                    weights,
                    flows,
                )
                if unlogged > 0:
                    counters[SINCE] = 0
        stores(x, nat, layers, edge, root, limit, p_factor, found)
        forecast, apart = spread(found[0])
        notes[t, FORECAST_SD] = MODEL_SPREAD * apart
        for i in range(FLOWS):
            notes[t, FLOW + i] = flows[i].mean()
        moved = notes[t, FLOW + CAME] - notes[t, FLOW + USED] - notes[t, FLOW + EVAPORATED]
        notes[t, LEFT] = forecast - start + moved
        largest = 0.0
        for s in range(sensors):
            y = reading[t, s]
            if np.isnan(y):
                continue
            expected(x, layers, sensors, middle, scale, depth[s], s, seen)
            if lags[s]:
                expected(before, layers, sensors, middle, scale, depth[s], s, was)
                for m in range(count):
                    seen[m] = 0.5 * (seen[m] + was[m])
            sd = max(reading_sd[t, s], WET_SD if wet else DRY_SD)
            sd *= max(1.0, (SHALLOW_MM / depth[s]) ** 2)
            z = take_in(x, size, seen, y, sd, FAR_SIGMAS)
            if abs(z) > abs(largest):
                largest = z
            if mornings[t]:
                z = min(max(z, -3.0), 3.0)
                memory[s, WANDER] = 0.85 * memory[s, WANDER] + 0.15 * z
        for s in range(sensors):
            bound = at_least[t, s] if np.isnan(at_most[t, s]) else at_most[t, s]
            if np.isnan(bound):
                continue
            expected(x, layers, sensors, middle, scale, depth[s], s, seen)
            # Wetter, or drier, than it can tell says nothing of how much.
            off = seen.mean() - bound
            if off < 0 if np.isnan(at_most[t, s]) else off > 0:
                take_in(x, size, seen, bound, reading_sd[t, s], FAR_SIGMAS)
        for s in range(sensors):
            y = reading[t, s]
            if np.isnan(y):
                continue
            memory[s, LAST] = y
            if not mornings[t] or deeper[s] < 0:
                continue
            if is_plateau(reading[t], memory, s, deeper[s]):
                seen[:] = x[base + s]
                mean, apart = spread(seen)
                sd = PLATEAU_SD * np.sqrt(1.0 + 0.5 * memory[s, PLATEAUS])
                if abs(y - mean) < PLATEAU_GATE * np.hypot(apart, sd):
                    take_in(x, size, seen, y, sd, FAR_SIGMAS)
                    memory[s, PLATEAUS] += 1
        if mornings[t]:
            for s in range(sensors):
                memory[s, MORNING_3] = memory[s, MORNING_2]
                memory[s, MORNING_2] = memory[s, MORNING_1]
                memory[s, MORNING_1] = reading[t, s]
            _walk(x, layers, sensors, prior_sd, walk_sd, memory, noise)
        counters[PASSED] += 1
        counters[HEARD] += known
        if known or mornings[t]:
            natural(x, layers, nat)
        for j in range(layers):
            for m in range(count):
                # A correction leaves no layer where no soil can be.
                x[j, m] = min(max(x[j, m], -1.5 * nat[j, m] - 0.5 * wilt), WETTEST)
        stores(x, nat, layers, edge, root, limit, p_factor, found)
        note(x, layers, found, flows, notes[t])
        notes[t, CORRECTION] = notes[t, DEPLETION] - forecast
        notes[t, UNLOGGED], notes[t, MISSING] = unlogged, missing
        notes[t, SURPRISE] = largest if known else np.nan
        counters[DEPLETED] = notes[t, DEPLETION]
        counters[GIVEN] += max(given + extra.mean(), 0.0)
        counters[LEACHED] += max(notes[t, LEFT], 0.0)


@njit(cache=True, parallel=True)
def follow(
    members: Floats,
    memory: Floats,
    counters: Floats,
    layers: np.ndarray,
    sensors: np.ndarray,
    edge: Floats,
    scale: Floats,
    hold: Floats,
    wilt: Floats,
    prior_mean: Floats,
    prior_sd: Floats,
    walk_sd: Floats,
    depth: Floats,
    place: np.ndarray,
    deeper: np.ndarray,
    lags: np.ndarray,
    renewed: np.ndarray,
    untold: np.ndarray,
    force: Floats,
    water: Floats,
    reading: Floats,
    reading_sd: Floats,
    at_least: Floats,
    at_most: Floats,
    mornings: np.ndarray,
    seeds: np.ndarray,
    first_step: np.ndarray,
    notes: Floats,
) -> None:
    """Carry ensembles of blocks through steps [1]_; state and notes change in place.

    Parameters
    ----------
    members : array, shape (blocks, figures, members)
    memory : array, shape (blocks, sensors, REMEMBERED); counters : (blocks, COUNTERS)
    layers, sensors : array of int, shape (blocks,), how many each block has
    edge : array, shape (blocks, layers + 1) [mm]; scale : (blocks, layers) [m3/m3]
    hold : array, shape (blocks, layers, HOLDS), see `member`
    wilt : array, shape (blocks,) [m3/m3]
    prior_mean, prior_sd : array, shape (blocks, figures)
    walk_sd : array, shape (blocks, sensors), the least that a level wanders in a day [m3/m3]
    depth : array, shape (blocks, sensors) [mm]
    place : array of int, (blocks, sensors), a sensor's place from the top of its site, from 0
    deeper : array of int, (blocks, sensors), the next deeper one of its site, -1 for none
    lags : array of bool, (blocks, sensors), whether it follows the soil half a day behind
    renewed : array of bool, (blocks, steps, sensors), put in anew before the step
    untold : array of bool, shape (blocks,), whether nobody logs what the block is given: weeks of
        drying before the first reading then prove nothing
    force : array, shape (blocks, steps, FORCES)
        Length [days], use without stress and evaporation asked for [mm], capillary rise [mm],
        roots and what they can't pass [mm], factor on the share that the crop bears [-], how far
        the use of a day may stray [share of it], the depth of the water table [mm], and whether
        a season of the crop begins with the step.
    water : array, shape (blocks, steps, 2), rain that entered and water given [mm net]
    reading, reading_sd : array, shape (blocks, steps, sensors) [m3/m3], NaN where none
    at_least, at_most : array, shape (blocks, steps, sensors) [m3/m3]
        What the soil holds at least where a sensor reads no wetter, and at most where it reads no
        drier, with the error of reading_sd; NaN where it tells more or nothing.
    mornings : array of bool, shape (steps,), whether a step ends at six in the morning
    seeds, first_step : array of int, shape (blocks,)
    notes : array, shape (blocks, steps, NOTES)
    """
    for b in prange(members.shape[0]):
        _one_block(
            members[b],
            memory[b],
            counters[b],
            layers[b],
            sensors[b],
            edge[b],
            scale[b],
            hold[b],
            wilt[b],
            prior_mean[b],
            prior_sd[b],
            walk_sd[b],
            depth[b],
            place[b],
            deeper[b],
            lags[b],
            renewed[b],
            untold[b],
            force[b],
            water[b],
            reading[b],
            reading_sd[b],
            at_least[b],
            at_most[b],
            mornings,
            seeds[b],
            first_step[b],
            notes[b],
        )
