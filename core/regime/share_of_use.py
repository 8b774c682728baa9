"""The band of a store that is given a share of what the crop could use."""

from dataclasses import dataclass, replace

import numpy as np

from core.advice.decide import LEAST_DUE_MM, Decisions
from core.advice.gather import AHEAD_DAYS
from core.advice.needs_ahead import NeedsAhead
from core.advice.working import Step
from core.arrays import Floats
from core.deficit.owed import owed_mm
from core.regime.band_working import share_steps
from core.regime.store_band import CRITICAL, BandDecision, StoreBand
from core.state.daylight import used_by

LEAST_KS = 0.2  # use without stress is told from what was used no further than this [-]
USUAL_SHARE = 0.5  # of the allowable depletion, given at a time where nobody said how much


@dataclass(frozen=True)
class Owed:
    """Water that is due by a share of the use; depths [mm].

    past_mm : array, shape (past days + 1,), the last one now
    expected_mm : array, shape (AHEAD_DAYS + 1,); members_mm : array, shape (CASES, ...)
    application_mm : that is given at a time
    share : array, shape (past days + AHEAD_DAYS + 1,), of the use [-]
    """

    past_mm: Floats
    expected_mm: Floats
    members_mm: Floats
    application_mm: float
    share: Floats


def _by_24_h(calendar: Floats, done: float) -> Floats:
    """Days from now to now out of what is to come of calendar days, today's rest first."""
    out: Floats = calendar[:, :-1] * (1.0 - done) + calendar[:, 1:] * done
    out[:, 0] = calendar[:, 0] + calendar[:, 1] * done
    return out


def owed(d: Decisions, row: int, share: Floats, application_mm: float | None) -> Owed:
    """What a block is due by a share of its use on each day.

    Parameters
    ----------
    share : array, shape (past days + AHEAD_DAYS + 1,) [-]
        From the first past day on; 0 where no share rules.
    """
    g, t, days = d.gathered, d.track, d.gathered.past_days
    depletion = np.maximum(np.nan_to_num(t.depletion_mm[row]), 0.0)
    use = np.nan_to_num(t.et_mm[row] / np.clip(t.ks[row], LEAST_KS, 1.0))
    water = np.nan_to_num(t.water_in_mm[row])
    past = owed_mm(0.0, use, share[:days], water, depletion[1:])
    now, ahead = float(past[-1]), share[days : days + AHEAD_DAYS]
    expected = d.expected
    coming = expected.et_mm[row, 0] / np.clip(expected.ks[row, 0], LEAST_KS, 1.0)
    most = np.maximum(expected.depletion_mm[row, 0, 1:], 0.0)
    need, rain = d.members_need
    done = float(used_by(g.hour_of_day))
    # What is planned comes to all alike; the members' own water is their rain.
    planned = expected.water_mm[row, 0] - np.median(rain[row], axis=0)[:AHEAD_DAYS]
    members = owed_mm(
        np.full(need.shape[1], now),
        _by_24_h(need[row], done),
        ahead,
        rain[row, :, :AHEAD_DAYS] + np.maximum(planned, 0.0),
        np.maximum(d.expected.raw_mm[row, 0, 1:] - d.member_usable_mm[row, :, 1:], 0.0),
    )
    usual = max(USUAL_SHARE * float(expected.raw_mm[row, 0, 0]), LEAST_DUE_MM)
    return Owed(
        past_mm=past,
        expected_mm=owed_mm(now, coming, ahead, expected.water_mm[row, 0], most),
        members_mm=members,
        application_mm=application_mm or usual,
        share=share,
    )


def share_band(d: Decisions, row: int, due: Owed) -> StoreBand:
    """The band of a store that is watered when a usual application is due."""
    depletion = np.maximum(np.nan_to_num(d.track.depletion_mm[row]), 0.0)
    lowest = depletion + due.application_mm - due.past_mm
    today = d.gathered.past_days

    def needs(found: NeedsAhead) -> NeedsAhead:
        days = found.raw_mm.size
        ahead = due.share[today : today + days]
        share = np.append(ahead, np.repeat(ahead[-1:], days - ahead.size))
        raw = np.full(days, due.application_mm)
        return replace(
            found,
            depletion_mm=np.full(found.depletion_mm.size, due.past_mm[-1]),
            use_mm=found.use_mm * share,
            raw_mm=raw,
            taw_mm=raw + np.maximum(found.taw_mm - found.raw_mm, 1.0),
            leaching_share=0.0,
        )

    def explained(made: BandDecision) -> tuple[Step, ...]:
        return share_steps(d, due.application_mm, due.expected_mm, float(due.share[today]), made)

    return StoreBand(
        usable_mm=due.application_mm - due.members_mm,
        expected_mm=due.application_mm - due.expected_mm,
        room_mm=np.full(due.expected_mm.size, due.application_mm),
        missing_mm=due.expected_mm,
        lowest_past_mm=lowest,
        highest_past_mm=depletion - due.past_mm,
        explained=explained,
        needs=needs,
        dropped=CRITICAL,
    )
