"""A ponded field now: its record, what it loses, its level under every member."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from core.advice.gather import AHEAD_DAYS
from core.advice.inputs import BlockInputs
from core.arrays import Floats
from core.crop.season import STAGE_ORDER, CropSeason, Stage, season_days
from core.estimate.ahead import CASES
from core.outlook.forecast import scores
from core.ponded.field import PondedField
from core.ponded.losses_learned import (
    LOOKED_BACK_DAYS,
    USE_SIGMA,
    LossesLearned,
    ToLearn,
    falls,
    losses_learned,
)
from core.ponded.phases import PhaseDays, phase_days
from core.ponded.record import Record, Water
from core.ponded.tube import CARRIED_DAYS, READING_SIGMA_MM, Tube, newest
from core.ponded.water import Losses, run_water
from core.state.daylight import days_used

# Steps by which water is carried on [h]; and from a reading to now, in so many of them.
STEP_HOURS, CARRIED_STEPS = 6.0, 24
# An irrigation brings what was logged within this share (working assumption, no source).
LOGGED_SIGMA = 0.15


@dataclass(frozen=True)
class PondedState:
    """A field at the moment of its inputs; members are courses of what is not known.

    kc : array, shape (days,), from the first day of ``phases`` on; today is ``today``
    level_mm : array, shape (members,); empty where the level is not known
    heard_hours : float, age of the newest believed reading [h]; NaN without one
    apart_mm : float, between the highest and the lowest tube now [mm]
    use_factor : array, shape (members,)
    """

    inputs: BlockInputs
    field: PondedField
    season: CropSeason
    stage: Stage
    book_day: float
    phases: PhaseDays
    today: int
    kc: Floats
    learned: LossesLearned
    level_mm: Floats
    heard_hours: float
    apart_mm: float
    use_factor: Floats

    @property
    def known(self) -> bool:
        """Whether a tube tells where the water stands."""
        return self.level_mm.size > 0

    @property
    def hour_of_day(self) -> float:
        """Of now, by the farm's clock [h]."""
        return self.inputs.now.hour + self.inputs.now.minute / 60


def et0_by_day(inputs: BlockInputs, first: date, days: int) -> Floats:
    """ET0 of days from one on, as recorded, else as expected; (days,) [mm/day]."""
    out = np.full(days, inputs.assumed.stated_et.expected)
    if inputs.past is not None:
        at = np.arange(inputs.past.et0_mm.size) + (inputs.past.first - first).days
        good = (at >= 0) & (at < days) & ~np.isnan(inputs.past.et0_mm)
        out[at[good]] = inputs.past.et0_mm[good]
    return out


def water_of(inputs: BlockInputs) -> tuple[Water, ...]:
    """What came, and so much of what runs or is planned."""
    came = [
        Water(w.hours if w.begun_hours is None else w.begun_hours, w.hours, w.net_mm, w.is_rain)
        for w in inputs.waterings
    ]
    return (*came, *(Water(p.start_hours, p.end_hours, p.net_mm) for p in inputs.planned))


def used_until(hours: Floats, hour_of_day: float, today: int, use_by_day: Floats) -> Floats:
    """Crop use from the first day on until hours from now [mm].

    Parameters
    ----------
    use_by_day : array, shape (..., days) [mm/day], ``today`` days before today's
    """
    clock = np.clip(days_used(hours, hour_of_day) + today, 0, use_by_day.shape[-1] - 1e-9)
    day = clock.astype(int)
    total = np.concatenate(
        [np.zeros((*use_by_day.shape[:-1], 1)), np.cumsum(use_by_day, axis=-1)], axis=-1
    )
    out: Floats = total[..., day] + (clock - day) * use_by_day[..., day]
    return out


def ponded_states(
    blocks: Sequence[BlockInputs], seasons: Sequence[CropSeason]
) -> tuple[PondedState, ...]:
    """Fields now, from their tubes and what was logged since they were read.

    Parameters
    ----------
    blocks : sequence of BlockInputs
        All with the same ``now``, a ponded field and a stated ET.
    seasons : sequence of CropSeason
        Of each, on the surface of its ET.

    Notes
    -----
    Every tube is carried from its newest reading to now, and the mean of them taken; one that was
    not read for ten days is left out.
    """
    now, back = blocks[0].now, int(LOOKED_BACK_DAYS)
    first = now.date() - timedelta(days=back)
    days = back + AHEAD_DAYS + 2
    crop = season_days(seasons, first, days)
    hour = now.hour + now.minute / 60
    grid = np.arange(-24.0 * back, 0.5)
    tubes = [tuple(t for t in b.tubes if t.good[0].size) for b in blocks]
    records = [
        Record.of(grid, used_until(grid, hour, back, kc * et0_by_day(b, first, days)), water_of(b))
        for b, kc in zip(blocks, crop.kc, strict=True)
    ]
    fields = [field_of(b) for b in blocks]
    learned = losses_learned(
        [
            ToLearn(falls(t, record), record, field)
            for t, record, field in zip(tubes, records, fields, strict=True)
        ]
    )
    factor = np.maximum(1.0 + USE_SIGMA * scores(CASES, 14), 0.0)
    levels = _levels_now(tubes, records, learned, factor, fields)
    return tuple(
        PondedState(
            inputs=blocks[k],
            field=fields[k],
            season=seasons[k],
            stage=Stage(STAGE_ORDER[int(crop.stage_index[k, back])]),
            book_day=float(crop.book_day[k, back]),
            phases=phase_days(fields[k], seasons[k], first, crop.book_day[k]),
            today=back,
            kc=crop.kc[k],
            learned=learned[k],
            level_mm=levels[k][0],
            heard_hours=-max((float(t.good[0][-1]) for t in tubes[k]), default=np.nan),
            apart_mm=levels[k][1],
            use_factor=factor,
        )
        for k in range(len(blocks))
    )


def field_of(inputs: BlockInputs) -> PondedField:
    """The field within its bunds.

    Raises
    ------
    ValueError
        Where the block has none.
    """
    field = inputs.assumed.ponded
    if field is None:
        raise ValueError("the block has no ponded field")
    return field


def _levels_now(
    tubes: Sequence[tuple[Tube, ...]],
    records: Sequence[Record],
    learned: Sequence[LossesLearned],
    factor: Floats,
    fields: Sequence[PondedField],
) -> list[tuple[Floats, float]]:
    """Levels of the members of each field now, and how far its tubes lie apart [mm]."""
    begins, at, use, water, row = [], [], [], [], []
    for k, (own, record) in enumerate(zip(tubes, records, strict=True)):
        hours, level = newest(own)
        recent = hours >= -24.0 * CARRIED_DAYS
        edges = hours[recent, None] * np.linspace(1, 0, CARRIED_STEPS + 1)
        used, came = record.between(edges)
        begins.append(hours[recent])
        at.append(level[recent])
        use.append(used)
        water.append(came)
        row.append(np.full(used.shape[0], k))
    of = np.concatenate(row)
    found = _carried(
        np.concatenate(begins),
        np.concatenate(at),
        np.concatenate(use),
        np.concatenate(water),
        [learned[k].courses for k in of],
        factor,
        np.array([fields[k].bund_mm for k in of]),
    )
    return [_together(found[of == k], learned[k].courses.porosity) for k in range(len(tubes))]


def _carried(
    begins: Floats,
    level: Floats,
    use: Floats,
    water: Floats,
    losses: Sequence[Losses],
    factor: Floats,
    bund_mm: Floats,
) -> Floats:
    """Levels of tubes now, (tubes, members), from when they were read on; use and water (tubes,
    steps)."""
    members, count = factor.size, begins.size
    if not count:
        return np.empty((0, members))
    logged = 1.0 + LOGGED_SIGMA * scores(members, 15)
    ran = run_water(
        np.repeat(level, members),
        Losses(
            *(
                np.concatenate([getattr(x, name) for x in losses])
                for name in ("percolation_mm_day", "seepage_per_day", "porosity")
            )
        ),
        np.repeat(-begins / CARRIED_STEPS / 24, members)[:, None],
        (use[:, None] * factor[:, None]).reshape(count * members, -1),
        (water[:, None] * logged[:, None]).reshape(count * members, -1),
        np.repeat(bund_mm, members),
    )
    return ran.level_mm[:, -1].reshape(count, members)


def _together(of_tubes: Floats, porosity: Floats) -> tuple[Floats, float]:
    """The tubes of one field, (tubes, members), as one level of each member."""
    if not of_tubes.size:
        return np.empty(0), 0.0
    middle = of_tubes.mean(axis=1)
    # What one tube reads and what the field has differ as its tubes do.
    sigma = np.hypot(READING_SIGMA_MM, middle.std()) / np.sqrt(middle.size)
    moved = of_tubes.mean(axis=0) + sigma * scores(of_tubes.shape[1], 16)
    return moved, float(middle.max() - middle.min())
