"""What the field has shown of a block's limits, beside what the book has and what is in force."""

from dataclasses import dataclass
from datetime import date

import numpy as np

from core.advice.decide import Decisions
from core.advice.estimate_inputs import soil_sites
from core.advice.inputs import BlockInputs
from core.advice.state_now import by_crop
from core.estimate.checkpoint import Checkpoint
from core.estimate.ground import ONSET_SD, block_ground
from core.estimate.member import FACTORS
from core.estimate.notes import ARRIVES_MEAN, ARRIVES_SD
from core.instrument.kinds import Quantity, kinds

# A share below this is compared as if it were this much [-].
LEAST_SHARE = 0.01


@dataclass(frozen=True)
class LevelAtFull:
    """What a sensor reads when its layer is full [m3/m3], by the book and as estimated."""

    site: str
    depth_mm: float
    book: float
    estimated: float
    sigma: float


@dataclass(frozen=True)
class Learned:
    """Limits of a block now [mm over the block], by the book and in force.

    on : the morning up to which the sensors' levels are known
    book_taw_mm, book_raw_mm : by soil, crop and rules alone
    taw_mm, raw_mm : in force, as the field has shown them, with their spread
    by_crop : whether what the crop bears is estimated too, or a rule keeps its share
    use, arrives : the crop's use over Kc · ET, and the share of logged water that arrives [-]
    p_share, tension_share : share of the available water at which the crop's own p and its
        tension limit have it short, in the top horizon [-]; None where there is no such limit
    methods_differ : whether the two lie further apart than either is known
    """

    on: date
    book_taw_mm: float
    book_raw_mm: float
    taw_mm: float
    taw_sigma_mm: float
    raw_mm: float
    raw_sigma_mm: float
    by_crop: bool
    use: float
    use_sigma: float
    arrives: float
    arrives_sigma: float
    p_share: float
    tension_share: float | None
    tension_kpa: float | None
    methods_differ: bool
    levels: tuple[LevelAtFull, ...]


def learned(d: Decisions, row: int = 0) -> Learned | None:
    """What a block has shown; None where its sensors are taken at their word."""
    if not d.checkpoints[row]:
        return None
    g, t, now = d.gathered, d.track, d.gathered.past_days
    inputs, crop, at = g.blocks[row], g.seasons[row].crop, d.checkpoints[row][-1]
    book = float(g.limits.taw_mm[row, now]) * inputs.assumed.wetted_share
    share = float(g.limits.p(inputs.assumed.stated_et.expected)[row, now])
    by_tension = _tension_share(inputs, crop.tension_kpa)
    apart = by_tension is not None and (
        abs(np.log(max(by_tension, LEAST_SHARE) / crop.p)) > ONSET_SD
    )
    return Learned(
        on=at.on,
        book_taw_mm=book,
        book_raw_mm=share * book,
        taw_mm=float(t.taw_mm[row, -1]),
        taw_sigma_mm=float(t.taw_sigma_mm[row, -1]),
        raw_mm=float(g.zones.raw_mm[row, now]),
        raw_sigma_mm=float(t.raw_sigma_mm[row, -1]),
        by_crop=bool(by_crop(g)[row, now]),
        use=float(t.use_factor[row, -1]),
        use_sigma=float(t.use_sigma[row, -1]),
        arrives=float(at.notes[-1, ARRIVES_MEAN]),
        arrives_sigma=float(at.notes[-1, ARRIVES_SD]),
        p_share=crop.p,
        tension_share=by_tension,
        tension_kpa=crop.tension_kpa,
        methods_differ=bool(apart),
        levels=_levels(inputs, d, row, at),
    )


def _tension_share(inputs: BlockInputs, tension_kpa: float | None) -> float | None:
    """Share of the top horizon's available water that is gone at a tension, by its curve [-]."""
    if tension_kpa is None:
        return None
    top = inputs.assumed.profile.limits[0]
    left = float(top.curve.theta_at(tension_kpa)) * (1 - top.gravel)
    gone = (top.theta_full - left) / (top.theta_full - top.theta_wilt)
    return float(np.clip(gone, 0.0, 1.0))


def _levels(inputs: BlockInputs, d: Decisions, row: int, at: Checkpoint) -> tuple[LevelAtFull, ...]:
    """The levels of sensors that read water content; of a tension full is known by its curve."""
    sites = soil_sites(inputs)
    ground = block_ground(inputs.assumed.profile, d.gathered.seasons[row].crop, sites)
    first = 3 * ground.layers + FACTORS
    out = []
    for k in range(ground.sensors):
        site = sites[int(ground.site[k])]
        if kinds()[site.kind].quantity is Quantity.TENSION:
            continue
        of_members = at.members[first + k]
        out.append(
            LevelAtFull(
                site=site.label,
                depth_mm=float(ground.depth_mm[k]),
                book=float(ground.prior_mean[first + k]),
                estimated=float(of_members.mean()),
                sigma=float(of_members.std(ddof=1)),
            )
        )
    return tuple(out)
