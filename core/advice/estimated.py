"""The state of blocks by their ensembles, day by day, and the limits that the field has shown."""

from collections.abc import Hashable, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

import numpy as np

from core.advice.inputs import BlockInputs
from core.arrays import Floats
from core.crop.depletion import adjusted_p
from core.crop.season import CropSeason, season_days
from core.estimate import ensemble as note
from core.estimate.blocks import Ensembles, Grounds
from core.estimate.checkpoint import Checkpoint, take
from core.estimate.forcing import Daily, Steps
from core.estimate.ground import BlockGround, block_ground
from core.estimate.member import CAME, EVAPORATED, LOSS, USED, WANTED
from core.estimate.readings import readings_of
from core.instrument.kinds import kinds
from core.instrument.site import Site
from core.state.track import Track
from core.state.weighing import Weighing

# Of a Kc without a basal one, what evaporation from the soil has of it; as far as the two of
# table 17 and table 12 of FAO-56 lie apart in mid season (from memory).
EVAPORATED_KC, LEAST_KCB = 0.1, 0.1
# How far a day's use strays from Kc and ET0 where that was recorded and where it was not, as a
# share of it; working assumptions, no source.
USE_SIGMA, UNRECORDED_USE_SIGMA = 0.12, 0.3
# Steps a day, from which the draws of a step are numbered.
STEPS_A_DAY = 2
# A state less sure than this share of what the roots hold is no state: once sensors were heard,
# and by the balance alone. One this sure always is.
HEARD_SHARE, KNOWN_SHARE, KNOWN_MM = 0.5, 0.33, 10.0
# From this hour on a day has passed one step more since its morning [h].
AFTERNOON_H = 18.25
# So far ahead roots are asked for, to know what soil they will still reach [days].
AHEAD = 60


def _soil_sites(block: BlockInputs) -> list[Site]:
    """Sites that tell of the soil, none where the balance leads."""
    if block.weighing is Weighing.BALANCE:
        return []
    return [s for s in block.sites if s.depth_mm.size and kinds()[s.kind].in_soil]


def _key(block: BlockInputs, season: CropSeason) -> Hashable:
    """What an ensemble depends on: another school or plan beside a block needs no other."""
    return (
        id(block.profile),
        id(season),
        id(block.sites),
        block.weighing is Weighing.BALANCE,
        id(block.waterings),
        id(block.past),
        id(block.et),
        block.root_share,
        block.capillary_mm_day,
        block.wetted,
        block.seed,
    )


def _basal_season(season: CropSeason) -> CropSeason:
    """The season with its basal coefficient; the book's Kc less a little where it has none."""
    crop = season.crop
    first, mid, end = (max(k - EVAPORATED_KC, LEAST_KCB) for k in crop.kc)
    kcb = crop.kcb or (first, mid, end)
    return replace(season, crop=replace(crop, kc=kcb))


def _water(block: BlockInputs, steps: Steps) -> Floats:
    """Rain and water given by step, over the watered strip; array (steps, 2) [mm]."""
    out = np.zeros((steps.count, 2))
    for w in block.waterings:
        at = int(np.searchsorted(steps.end, w.hours - 1e-6))
        if steps.start[0] <= w.hours and at < steps.count:
            out[at, 0 if w.is_rain else 1] += w.net_mm / block.root_share
    return out


@dataclass(frozen=True)
class Estimates:
    """Track of blocks, and the checkpoint of each as of yesterday's morning."""

    track: Track
    checkpoints: tuple[Checkpoint, ...]


def estimate_blocks(
    blocks: Sequence[BlockInputs],
    seasons: Sequence[CropSeason],
    first: date,
    et0_mm: Floats,
    recorded: np.ndarray,
    hour_of_day: float,
) -> Estimates:
    """Carry the ensembles of blocks from the first day, or from their checkpoints, to now.

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

    Returns
    -------
    Estimates
    """
    rows: dict[Hashable, int] = {}
    which = np.array(
        [rows.setdefault(_key(b, s), len(rows)) for b, s in zip(blocks, seasons, strict=True)]
    )
    chosen = [int(np.argmax(which == k)) for k in range(len(rows))]
    grounds = [
        block_ground(blocks[i].profile, seasons[i].crop, _soil_sites(blocks[i])) for i in chosen
    ]
    days = et0_mm.shape[1] - 1
    # Blocks that go on from the same morning go on together.
    groups: dict[int, list[int]] = {}
    for k, i in enumerate(chosen):
        groups.setdefault(_days_known(blocks[i].checkpoint, grounds[k], first, days), []).append(k)
    parts: list[Track] = []
    order: list[int] = []
    found: dict[int, Checkpoint] = {}
    for known, members in groups.items():
        picked = [chosen[k] for k in members]
        track, checkpoints = _alone(
            [blocks[i] for i in picked],
            [seasons[i] for i in picked],
            Grounds.of([grounds[k] for k in members]),
            first,
            known,
            et0_mm[picked],
            recorded[picked],
            hour_of_day,
        )
        parts.append(track)
        order += members
        found.update(zip(members, checkpoints, strict=True))
    place = np.empty(len(order), int)
    place[order] = np.arange(len(order))
    at = place[which]
    merged = {n: np.concatenate([getattr(t, n) for t in parts])[at] for n in vars(parts[0])}
    return Estimates(Track(**merged), tuple(found[int(k)] for k in which))


def _days_known(checkpoint: Checkpoint | None, ground: BlockGround, first: date, days: int) -> int:
    """Days from the first that a checkpoint spares; none where it does not fit."""
    if checkpoint is None or not checkpoint.fits(ground, first):
        return 0
    known = (checkpoint.on - first).days
    return known if 0 < known <= days else 0


def _alone(
    blocks: Sequence[BlockInputs],
    seasons: Sequence[CropSeason],
    grounds: Grounds,
    first: date,
    known: int,
    et0_mm: Floats,
    recorded: np.ndarray,
    hour_of_day: float,
) -> tuple[Track, list[Checkpoint]]:
    """Blocks that all begin at the same morning, ``known`` days after the first."""
    days = et0_mm.shape[1] - 1
    steps = Steps.before(hour_of_day, days - known)
    begin = first + timedelta(days=known)
    et0, was = et0_mm[:, known:], recorded[:, known:]
    left = days - known + 1
    crop = season_days([_basal_season(s) for s in seasons], begin, left + AHEAD)
    p = np.array([s.crop.p for s in seasons])[:, None]
    share = np.array([b.root_share for b in blocks])[:, None]
    limit = grounds.root_limit_mm
    kcb = crop.kc[:, :left]
    daily = Daily(
        kcb=kcb,
        et0_mm=et0,
        root_mm=np.minimum(crop.root_mm[:, :left], limit[:, None]),
        p_factor=adjusted_p(p, kcb * et0) / p,
        wetted=np.ones(et0.shape),
        strip=share[:, 0],
        use_sigma=np.where(was, USE_SIGMA, UNRECORDED_USE_SIGMA),
    )
    rise = np.array([b.capillary_mm_day for b in blocks]) / share[:, 0]
    force = daily.force(steps, rise, limit)
    reading, sd = _readings(blocks, grounds, steps)
    water = np.array([_water(b, steps) for b in blocks])
    told = np.array([any(not w.is_rain for w in b.waterings) for b in blocks])
    start = Ensembles.empty if known else Ensembles.begin
    ensembles = start(grounds, [b.seed for b in blocks])
    ensembles.step[:] = begin.toordinal() * STEPS_A_DAY
    earlier = []
    for row, b in enumerate(blocks):
        if known and b.checkpoint is not None:
            b.checkpoint.restore(ensembles, row)
            earlier.append(b.checkpoint.notes_since(first, STEPS_A_DAY))
    # Yesterday's morning has heard all that is read nearest to it; today's may not have yet.
    kept = max(steps.count - STEPS_A_DAY - (hour_of_day >= AFTERNOON_H), 0)
    parts = []
    checkpoints: list[Checkpoint] = []
    for span in (slice(0, kept), slice(kept, steps.count)):
        parts.append(
            ensembles.carry(
                grounds,
                force[:, span],
                water[:, span],
                reading[:, span],
                sd[:, span],
                steps.morning[span],
                untold=~told,
            )
        )
        if not checkpoints:
            on = begin + timedelta(days=kept // STEPS_A_DAY)
            for row in range(len(blocks)):
                notes = parts[0][row]
                if earlier:
                    notes = np.concatenate([earlier[row], notes])
                checkpoints.append(take(ensembles, grounds, row, first, on, notes))
    notes = np.concatenate([*([np.array(earlier)] if earlier else []), *parts], axis=1)
    below = [
        _below(ground, ensembles.members[i], daily.root_mm[i, -1], float(crop.root_mm[i].max()))
        for i, ground in enumerate(grounds.blocks)
    ]
    whole = Steps.before(hour_of_day, days)
    return _by_day(notes, whole, days, share, np.array(below), told), checkpoints


def _readings(
    blocks: Sequence[BlockInputs], grounds: Grounds, steps: Steps
) -> tuple[Floats, Floats]:
    """Readings of all blocks and their errors at the steps, (blocks, steps, sensors)."""
    reading = np.full((len(blocks), steps.count, grounds.depth.shape[1]), np.nan)
    sd = np.full(reading.shape, np.nan)
    for i, (block, ground) in enumerate(zip(blocks, grounds.blocks, strict=True)):
        own = readings_of(ground, _soil_sites(block), block.profile, steps)
        reading[i, :, : ground.sensors], sd[i, :, : ground.sensors] = own
    return reading, sd


def _below(ground: BlockGround, members: Floats, root_mm: float, deep_mm: float) -> float:
    """Deficit of the soil that roots will still reach [mm]."""
    edge = ground.edge_mm
    thick = np.clip(np.minimum(edge[1:], deep_mm) - np.maximum(edge[:-1], root_mm), 0, None)
    short = -members[: edge.size - 1].mean(axis=1)
    return float(np.maximum((short * thick).sum(), 0.0))


def _by_day(
    notes: Floats, steps: Steps, days: int, share: Floats, below: Floats, told: np.ndarray
) -> Track:
    """Notes at the steps as days of about 24 h that end at the step nearest to now's hour."""
    target = (np.arange(days + 1) - days) * 24.0
    at = np.abs(steps.end[None, :] - target[:, None]).argmin(axis=1)

    def state(name: int) -> Floats:
        out: Floats = notes[:, at, name]
        return out

    def day(name: int) -> Floats:
        total = np.cumsum(notes[..., name], axis=1)[:, at]
        out: Floats = np.diff(total, axis=1)
        return out

    flow = note.FLOW
    used, evaporated = day(flow + USED), day(flow + EVAPORATED)
    wanted, lost = day(flow + WANTED), day(flow + LOSS)
    depletion = state(note.DEPLETION)
    correction = np.concatenate([np.zeros((notes.shape[0], 1)), day(note.CORRECTION)], axis=1)
    with np.errstate(invalid="ignore", divide="ignore"):
        ks = np.where(wanted > 0, 1 - lost / wanted, 1.0)
    raw, taw, sigma = state(note.RAW), state(note.TAW), state(note.DEPLETION_SD)
    heard = np.logical_or.accumulate(~np.isnan(notes[..., note.SURPRISE]), axis=1)[:, at]
    known = heard & (sigma < np.maximum(HEARD_SHARE * taw, KNOWN_MM))
    known |= told[:, None] & (sigma < np.maximum(KNOWN_SHARE * taw, KNOWN_MM))
    came = day(flow + CAME)
    return Track(
        forecast_mm=(depletion - correction) * share,
        forecast_sigma_mm=np.maximum(state(note.FORECAST_SD), sigma) * share,
        depletion_mm=depletion * share,
        sigma_mm=sigma * share,
        low_mm=state(note.LOW) * share,
        high_mm=state(note.HIGH) * share,
        correction_mm=correction * share,
        taw_mm=taw * share,
        raw_mm=raw * share,
        taw_sigma_mm=state(note.TAW_SD) * share,
        raw_sigma_mm=state(note.RAW_SD) * share,
        usable_sigma_mm=state(note.USABLE_SD) * share,
        use_factor=state(note.USE_MEAN),
        use_sigma=state(note.USE_SD),
        water_in_mm=came * share,
        et_mm=(used + evaporated) * share,
        ks=ks,
        drained_mm=day(note.LEFT) * share,
        runoff_mm=np.zeros(came.shape),
        grew_mm=day(note.GREW) * share,
        unlogged_mm=day(note.UNLOGGED) * share,
        missing_mm=day(note.MISSING) * share,
        below_mm=below * share[:, 0],
        surprise=notes[:, -1, note.SURPRISE],
        known=known,
    )
