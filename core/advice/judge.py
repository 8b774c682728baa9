"""Judgements on an estimate: state, reasons, confidence, how long past refill."""

import numpy as np

from core.advice.estimate import Estimate
from core.advice.history import History
from core.advice.inputs import BlockInputs
from core.advice.vocabulary import Confidence, Reason, State
from core.crop.season import CropSeason
from core.irrigation.amount import Amount, Bound

SOON_HOURS = 72.0
NOW_HOURS = 24.0
MIN_SURPLUS_MM = 2.0
# Spread over RAW below which an answer is good or fair; working assumptions, no source.
GOOD_SPREAD, FAIR_SPREAD = 0.3, 0.6


def state_of(now: Estimate, usable_mm: float, start_hours: float) -> State:
    """The block's state; ``start_hours`` is the latest start from now, infinity when far off."""
    if usable_mm < 0:
        return State.PAST_REFILL
    if now.surplus_mm >= MIN_SURPLUS_MM and now.surplus_mm > now.deficit_mm:
        return State.BRIMMING
    if start_hours <= NOW_HOURS:
        return State.WATER_NOW
    return State.WATER_SOON if start_hours <= SOON_HOURS else State.HOLDING


def reasons(
    inputs: BlockInputs,
    season: CropSeason,
    now: Estimate,
    root_mm: float,
    amount: Amount | None,
    state: State,
) -> tuple[Reason, ...]:
    """What a person should know about the answer, in a fixed vocabulary."""
    found = []
    if any(not s.believed.all() for s in inputs.sites):
        found.append(Reason.SENSOR_NOT_TRUSTED)
    if any(x.used_since_mm > 0 for x in now.sites):
        found.append(Reason.CARRIED_FROM_READING)
    if any(x.unseen_mm > 0 for x in now.sites):
        found.append(Reason.UNSEEN_BELOW_SENSORS)
    if len(now.sites) > 1:
        deficits = [x.deficit_mm for x in now.sites]
        if max(deficits) - min(deficits) > 2 * max(x.sigma_mm for x in now.sites):
            found.append(Reason.SITES_DISAGREE)
    if (
        season.crop.root_schedule_mm > inputs.profile.root_limit_mm
        and root_mm >= inputs.profile.root_limit_mm
    ):
        found.append(Reason.PROFILE_STOPS_ROOTS)
    if amount is not None and amount.bound is Bound.LARGEST_SET:
        found.append(Reason.LARGEST_SET)
    if amount is not None and amount.bound is Bound.SMALLEST_SET:
        found.append(Reason.SMALLEST_SET)
    if state is State.BRIMMING:
        found.append(Reason.SURPLUS_DRAINING)
    return tuple(found)


def confidence(now: Estimate, raw_mm: float, root_mm: float) -> Confidence:
    """How sure the answer is, from the spread over RAW and the soil no sensor sees."""
    spread = now.sigma_mm / raw_mm
    unseen = max(x.unseen_mm for x in now.sites) / root_mm
    if spread <= GOOD_SPREAD and unseen <= 0.1:
        return Confidence.GOOD
    return Confidence.FAIR if spread <= FAIR_SPREAD and unseen <= 1 / 3 else Confidence.LOW


def past_refill_hours(past: History, usable_now: float) -> float | None:
    """For how long the block has been past refill; None when it is not."""
    if usable_now >= 0:
        return None
    known = ~np.isnan(past.usable_mm)
    held = np.flatnonzero(known & (past.usable_mm >= 0))
    since = past.hours[held[-1]] if held.size else past.hours[0]
    return float(-since)
