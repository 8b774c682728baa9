"""The state of blocks by their ensembles, day by day, and their members in the days ahead."""

from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from core.advice.estimate_inputs import (
    EstimateInputs,
    WeatherAhead,
    begin_of,
    is_tended,
    same_ensemble,
    soil_sites,
)
from core.advice.estimate_track import track_of_notes
from core.advice.inputs import BlockInputs
from core.arrays import Floats
from core.crop.season import CropSeason
from core.estimate.ahead import run_on
from core.estimate.blocks import Ensembles, Grounds
from core.estimate.checkpoint import Checkpoint, take
from core.estimate.ensemble import GIVEN, HEARD, LEACHED
from core.estimate.forcing import Steps
from core.estimate.ground import BlockGround, block_ground
from core.estimate.notes import NOTES
from core.state.track import Track

# Steps a day, from which the draws of a step are numbered.
STEPS_A_DAY = 2


@dataclass(frozen=True)
class Estimates:
    """Blocks by their ensembles.

    checkpoints : of each block at the mornings asked for and at yesterday's, the oldest first
    ahead : array (blocks, FIGURES, CASES, days + 1), see `core.estimate.ahead`, over the watered
        strip; None where no days ahead were asked for
    """

    track: Track
    checkpoints: tuple[tuple[Checkpoint, ...], ...]
    ahead: Floats | None


@dataclass(frozen=True)
class _Group:
    """Blocks carried on together, from the same morning to now."""

    notes: Floats
    below_mm: Floats
    heard: np.ndarray
    season_mm: Floats
    checkpoints: list[tuple[Checkpoint, ...]]
    ahead: Floats | None


def estimate_blocks(
    blocks: Sequence[BlockInputs],
    seasons: Sequence[CropSeason],
    first: date,
    et0_mm: Floats,
    recorded: np.ndarray,
    hour_of_day: float,
    weather: WeatherAhead | None = None,
    mornings: Sequence[date] = (),
) -> Estimates:
    """Carry the ensembles of blocks from their first day, or from their checkpoints, to now.

    Parameters
    ----------
    blocks, seasons : sequences, (blocks,)
        All at the same instant.
    first : date
        Of the first column of ET0.
    et0_mm : array, shape (blocks, days + 1) [mm/day]
        By calendar day, today last.
    recorded : array of bool, shape (blocks, days + 1)
        Whether it was; else it is what is expected.
    hour_of_day : float [h]
        Of now, by the farm's clock.
    weather : WeatherAhead, optional
        Of the days that the members run on into.
    mornings : sequence of date
        At which checkpoints are wanted, beside yesterday's.
    """
    rows: dict[Hashable, int] = {}
    which = np.array(
        [
            rows.setdefault(same_ensemble(b, s), len(rows))
            for b, s in zip(blocks, seasons, strict=True)
        ]
    )
    chosen = [int(np.argmax(which == k)) for k in range(len(rows))]
    grounds = _grounds([blocks[i] for i in chosen], [seasons[i] for i in chosen])
    days = et0_mm.shape[1] - 1
    today = first + timedelta(days=days)
    groups: dict[tuple[date, bool], list[int]] = {}
    for k, i in enumerate(chosen):
        groups.setdefault(_begins(blocks[i], grounds[k], first, today), []).append(k)
    whole = Steps.before(hour_of_day, days)
    notes = np.full((len(chosen), whole.count, NOTES), np.nan)
    below, heard = np.empty(len(chosen)), np.zeros(len(chosen), bool)
    season = np.empty((len(chosen), 2))
    kept: dict[int, tuple[Checkpoint, ...]] = {}
    ahead = None
    for (begin, goes_on), members in groups.items():
        picked = [chosen[k] for k in members]
        spared = (begin - first).days
        facts = EstimateInputs.of(
            [blocks[i] for i in picked],
            [seasons[i] for i in picked],
            Grounds.of([grounds[k] for k in members]),
            begin,
            et0_mm[picked, spared:],
            recorded[picked, spared:],
        )
        group = _carried(
            facts, goes_on, hour_of_day, weather.of(picked) if weather else None, mornings
        )
        for k, own in zip(members, group.notes, strict=True):
            filled = min(own.shape[0], whole.count)
            notes[k, whole.count - filled :] = own[own.shape[0] - filled :]
        below[members], heard[members] = group.below_mm, group.heard
        season[members] = group.season_mm
        kept.update(zip(members, group.checkpoints, strict=True))
        if group.ahead is not None:
            if ahead is None:
                ahead = np.empty((len(chosen), *group.ahead.shape[1:]))
            ahead[members] = group.ahead
    strip = np.array([b.assumed.wetted_share for b in blocks])
    tended = np.array([is_tended(b) for b in blocks])
    return Estimates(
        track_of_notes(
            notes[which], whole, days, strip, below[which], tended, heard[which], season[which]
        ),
        tuple(kept[int(k)] for k in which),
        None if ahead is None else ahead[which],
    )


def _grounds(blocks: Sequence[BlockInputs], seasons: Sequence[CropSeason]) -> list[BlockGround]:
    """The ground of each block; those with the same soil, crop and sensors have one in common."""
    made: dict[Hashable, BlockGround] = {}
    out = []
    for block, season in zip(blocks, seasons, strict=True):
        sites = soil_sites(block)
        sensors = tuple((s.kind, s.depth_mm.tobytes()) for s in sites)
        key = (id(block.assumed.profile), season.crop.p, season.crop.tension_kpa, sensors)
        if key not in made:
            made[key] = block_ground(block.assumed.profile, season.crop, sites)
        out.append(made[key])
    return out


def _begins(block: BlockInputs, ground: BlockGround, first: date, today: date) -> tuple[date, bool]:
    """The morning from which a block is carried on, and whether its checkpoint stands there."""
    at = block.checkpoint
    if at is not None and at.fits(ground) and first < at.on < today:
        return at.on, True
    return begin_of(block, first, today), False


def _carried(
    facts: EstimateInputs,
    goes_on: bool,
    hour_of_day: float,
    weather: WeatherAhead | None,
    mornings: Sequence[date],
) -> _Group:
    """Blocks that all begin at the same morning, as drawn or as their checkpoints have them."""
    steps = Steps.before(hour_of_day, facts.days)
    grounds = facts.grounds
    ensembles = (Ensembles.empty if goes_on else Ensembles.begin)(
        grounds, [b.seed for b in facts.blocks]
    )
    ensembles.step[:] = facts.begin.toordinal() * STEPS_A_DAY
    notes: list[Floats] = [np.empty((0, NOTES))] * len(facts.blocks)
    for row, block in enumerate(facts.blocks):
        if goes_on and block.checkpoint is not None:
            block.checkpoint.restore(ensembles, row)
            notes[row] = block.checkpoint.notes
    heard = ensembles.counters[:, HEARD] > 0
    force, water = facts.force(steps), facts.water(steps)
    reading, sd, at_least, at_most = facts.readings(steps)
    tended = np.array([is_tended(b) for b in facts.blocks])
    checkpoints: list[list[Checkpoint]] = [[] for _ in facts.blocks]
    start = 0
    for end in (*_stops(facts.days, facts.begin, mornings), steps.count):
        span = slice(start, end)
        new = ensembles.carry(
            grounds,
            force[:, span],
            water[:, span],
            reading[:, span],
            sd[:, span],
            at_least[:, span],
            at_most[:, span],
            steps.morning[span],
            untold=~tended,
        )
        notes = [np.concatenate([a, b]) for a, b in zip(notes, new, strict=True)]
        if end < steps.count:
            on = facts.begin + timedelta(days=end // STEPS_A_DAY)
            for row, own in enumerate(notes):
                checkpoints[row].append(take(ensembles, grounds, row, on, own))
        start = end
    today, roots = facts.days, facts.root_mm
    below = [
        _below(ground, ensembles.members[i], roots[i, today], float(facts.crop.root_mm[i].max()))
        for i, ground in enumerate(grounds.blocks)
    ]
    # Blocks of one group may have kept notes of different lengths.
    longest = max(own.shape[0] for own in notes)
    together = np.full((len(notes), longest, NOTES), np.nan)
    for row, own in enumerate(notes):
        together[row, longest - own.shape[0] :] = own
    return _Group(
        together,
        np.array(below),
        heard,
        ensembles.counters[:, [GIVEN, LEACHED]],
        [tuple(c) for c in checkpoints],
        run_on(ensembles, grounds, facts.ahead(weather)) if weather else None,
    )


def _stops(days: int, begin: date, mornings: Sequence[date]) -> list[int]:
    """Steps after which checkpoints are taken.

    Yesterday's morning has heard all that is read nearest to it; today's may not have yet.
    """
    last = (days - 1) * STEPS_A_DAY
    wanted = {(m - begin).days * STEPS_A_DAY for m in mornings}
    return sorted({w for w in wanted if 0 < w < last} | {last})


def _below(ground: BlockGround, members: Floats, root_mm: float, deep_mm: float) -> float:
    """Deficit of the soil that roots will still reach [mm]."""
    edge = ground.edge_mm
    thick = np.clip(np.minimum(edge[1:], deep_mm) - np.maximum(edge[:-1], root_mm), 0, None)
    short = -members[: edge.size - 1].mean(axis=1)
    return float(np.maximum((short * thick).sum(), 0.0))
