"""Notes of ensembles, half a day each, as the state of blocks day by day."""

import numpy as np

from core.arrays import Floats
from core.estimate import notes as note
from core.estimate.forcing import Steps
from core.estimate.member import CAME, EVAPORATED, LOSS, USED, WANTED
from core.state.track import Track

# A state less sure than this share of what the roots hold is no state; one this sure always is.
# Where sets are logged the record anchors it, however wide its range: an answer that says how
# unsure it is helps more than none.
KNOWN_SHARE, KNOWN_MM = 0.6, 10.0


def track_of_notes(
    notes: Floats,
    steps: Steps,
    days: int,
    strip: Floats,
    below_mm: Floats,
    tended: np.ndarray,
    heard: np.ndarray,
    season_mm: Floats,
) -> Track:
    """Days of about 24 h that end at the step nearest to now's hour.

    Parameters
    ----------
    notes : array, shape (blocks, steps, NOTES), NaN before a block's first step
    steps : Steps, (steps,)
    days : int
    strip : array, shape (blocks,), share of the ground that is irrigated [-]
    below_mm : array, shape (blocks,), deficit below the roots, over the watered strip [mm]
    tended : array of bool, shape (blocks,), whether anybody tells what the block is given
    heard : array of bool, shape (blocks,), whether a sensor spoke before the first step
    season_mm : array, shape (blocks, 2), water given since the season began and what of all water
        left the roots downwards, over the watered strip [mm]
    """
    at = steps.nearest(days)
    share = strip[:, None]

    def state(name: int) -> Floats:
        out: Floats = notes[:, at, name]
        return out

    def day(name: int) -> Floats:
        total = np.cumsum(np.nan_to_num(notes[..., name]), axis=1)[:, at]
        out: Floats = np.diff(total, axis=1)
        return out

    flow = note.FLOW
    used, evaporated = day(flow + USED), day(flow + EVAPORATED)
    wanted, lost = day(flow + WANTED), day(flow + LOSS)
    depletion = state(note.DEPLETION)
    correction = np.concatenate([np.zeros((notes.shape[0], 1)), day(note.CORRECTION)], axis=1)
    with np.errstate(invalid="ignore", divide="ignore"):
        ks = np.where(wanted > 0, 1 - lost / wanted, 1.0)
    taw, sigma = state(note.TAW), state(note.DEPLETION_SD)
    spoke = np.logical_or.accumulate(~np.isnan(notes[..., note.SURPRISE]), axis=1)[:, at]
    spoke |= heard[:, None]
    known = (spoke | tended[:, None]) & (sigma < np.maximum(KNOWN_SHARE * taw, KNOWN_MM))
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
        raw_mm=state(note.RAW) * share,
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
        below_mm=below_mm * strip,
        season_given_mm=season_mm[:, 0] * strip,
        season_leached_mm=season_mm[:, 1] * strip,
        surprise=notes[:, -1, note.SURPRISE],
        known=known,
    )
