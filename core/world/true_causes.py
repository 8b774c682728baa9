"""What is truly wrong in a simulated block, by its columns and not by what was read of them."""

from collections.abc import Callable, Sequence

import numpy as np

from core.diagnosis.block import RAIN, SeenBlock
from core.diagnosis.cause import Cause
from core.learned.full_point import full_point
from core.learned.root_activity import FEEDS_TO
from core.quality.climbs import DAY_HOURS
from core.world.farm import Farm
from core.world.planted import BlockIrrigator, Fault, Plant
from core.world.setup import BREAKS_AT_KPA, DAYS, DEPTH_MM, SITES, Setup
from core.world.watched import Watched

# What was planted must have come about so many days before the look, and runs of it so often.
RECENT_DAYS, TOLD_AFTER_DAYS, LEAST_RUNS = 20, 3, 3
# So many of the newest days are judged.
JUDGED_DAYS = 12
# Wet is so far from full to saturated, dry so far below refill; in between it is neither.
SUBSOIL_MM = (600.0, 800.0, 1000.0)
LOWER_ROOTS = 0.8
WET, DRY = 0.6, 0.0
NOT_WET = 0.25
ROSE, NOT_ROSE = 0.06, 0.03
ALONE_H = 12.0
MOVES = 0.045  # of the sensors above and below [m3/m3]
LOST = 0.22  # of the water of an average run
PASSED, NOT_PASSED = 0.28, 0.15
STRESSED, NOT_STRESSED = 0.55, 0.8
FULL_OFF, FULL_NEAR, LIMITS_TO_MM = 0.035, 0.02, 600.0
ROOTS_OFF_MM, ROOTS_NEAR_MM = 180.0, 80.0
USE_MORE, USE_LESS, USE_NEAR = 1.35, 0.68, (0.82, 1.2)


class _Truth:
    """The columns of one block's sites."""

    def __init__(self, farm: Farm, season: Watched, first: int, setup: Setup) -> None:
        self.farm, self.season, self.setup = farm, season, setup
        self.fields = range(first, first + SITES)

    def wet_share(self, depth_mm: float) -> float:
        """Least content of the newest days at a depth, from full to saturated [-], of the wetter
        site."""
        rows = -int(JUDGED_DAYS * DAY_HOURS)
        best = -1.0
        for of in self.fields:
            full = float(np.interp(depth_mm, self.season.node_mm, self.season.full[of]))
            profile = self.farm.profiles[of]
            sat = float(profile.theta_sat[profile.horizon_at(np.array([depth_mm]))][0])
            least = float(self.season.content_at(of, depth_mm)[rows:].min())
            best = max(best, (least - full) / max(sat - full, 0.02))
        return best

    def rose(self, depth_mm: float, from_day: int) -> float:
        """How far a depth has got wetter since a day."""
        out = 0.0
        for of in self.fields:
            content = self.season.content_at(of, depth_mm)
            before = float(content[from_day * 24])
            out = max(out, float(content[-24 * 5 :].min()) - before)
        return out

    def passed_share(self, supplies: Sequence[tuple[float, float]]) -> float:
        """What went past the roots since the first of some irrigations, over their water."""
        if not supplies:
            return 0.0
        shares = []
        for of in self.fields:
            start = max(int(supplies[0][0]) + self.season.theta.shape[0] - 1, 0)
            root = float(self.season.root_mm[of, -1])
            passed = self.season.passed_mm(of, root)
            shares.append(float(passed[-1] - passed[start]) / sum(mm for _, mm in supplies))
        return max(shares)

    def lower_roots_dry(self) -> tuple[bool, bool]:
        """Whether the lower roots of a site were drier than refill on all of the newest days, and
        whether they were clearly not."""
        dry = wet = False
        for of in self.fields:
            root = float(self.season.root_mm[of, -1])
            crop = self.farm.seasons[of].crop
            profile = self.farm.profiles[of]
            # Where the roots in use are deeper, it is there that water is thought to come to.
            at = LOWER_ROOTS * max(root, float(self.farm.believed[of].root_mm[-1]))
            h = profile.horizon_at(np.array([at]))
            full = float(np.interp(at, self.season.node_mm, self.season.full[of]))
            held = float((profile.theta_full[h] - profile.theta_wilt[h])[0])
            content = self.season.content_at(of, at)[-int(JUDGED_DAYS * DAY_HOURS) :]
            refill = full - crop.p * held
            dry |= bool(content.max() < refill + DRY)
            wet |= bool(content.max() < refill + 0.25 * crop.p * held)
        return dry, not wet

    def got(self) -> float:
        """What the crop got of what it wanted on the newest three days, of the drier site."""
        out = np.inf
        for of in self.fields:
            used = self.season.used_mm[-72:, of].sum()
            wanted = (self.farm.kcb[of, -3:] * self.farm.weather.et0_mm[-3:]).sum() * self.use(of)
            out = min(out, float(used / wanted))
        return float(out)

    def use(self, of: int) -> float:
        """True use over the stated one [-], as planted."""
        return self.setup.use


def true_causes(
    setup: Setup,
    plant: Plant,
    farm: Farm,
    season: Watched,
    seen: SeenBlock,
    first: int,
    irrigator: BlockIrrigator,
) -> tuple[frozenset[Cause], frozenset[Cause]]:
    """What is so, and what is neither so nor clearly not so.

    Parameters
    ----------
    first : int
        Field of the block's first site.
    irrigator : BlockIrrigator
        Who knows on which days its fault came about.
    """
    truth = _Truth(farm, season, first, setup)
    true: set[Cause] = set()
    unclear: set[Cause] = set()

    def judge(cause: Cause, is_so: bool, is_not: bool) -> None:
        if is_so:
            true.add(cause)
        elif not is_not:
            unclear.add(cause)

    _judge_planted(setup, seen, irrigator, first, true, unclear)
    sets = _newest_sets(seen)
    share = truth.passed_share(sets) if len(sets) >= LEAST_RUNS else 0.0
    # Of a table's water, or where half of the sets is not what was logged, it is not known.
    known = np.isinf(setup.table_mm) and setup.fault in (Fault.NONE, Fault.VARYING_RUNS)
    planted = setup.cause
    passes = planted is Cause.PASSES_ROOTS and share >= PASSED
    judge(Cause.PASSES_ROOTS, passes, known and share <= NOT_PASSED)
    dry, not_dry = truth.lower_roots_dry()
    short = planted is Cause.RUN_TOO_SHORT and dry and len(sets) >= LEAST_RUNS
    judge(Cause.RUN_TOO_SHORT, short, not_dry)
    wet = max(truth.wet_share(d) for d in SUBSOIL_MM)
    rose = truth.rose(800.0, plant.from_day) if np.isfinite(setup.table_mm) else 0.0
    judge(Cause.TABLE_RISES, rose >= ROSE, rose <= NOT_ROSE)
    slow = np.isfinite(setup.slow_below_mm)
    judge(Cause.POOR_DRAINAGE, slow and wet >= WET, not slow and wet < NOT_WET)
    got = truth.got()
    short = planted is Cause.SHORT_OF_WATER and got <= STRESSED
    judge(Cause.SHORT_OF_WATER, short, got >= NOT_STRESSED)
    near = USE_NEAR[0] <= setup.use <= USE_NEAR[1]
    judge(Cause.USE_OFF, setup.use >= USE_MORE or setup.use <= USE_LESS, near)
    _judge_limits(truth, seen, judge)
    return frozenset(true), frozenset(unclear)


def _judge_limits(
    truth: _Truth, seen: SeenBlock, judge: Callable[[Cause, bool, bool], None]
) -> None:
    """Full points as the sensors read them, and roots, beside those in use."""
    off, roots = [], []
    for of, site in zip(truth.fields, seen.sites, strict=True):
        season = truth.season
        told = []
        for j, depth in enumerate(DEPTH_MM):
            value = site.record.site.value[:, j]
            if site.record.is_tension or np.isnan(value).any() or depth > LIMITS_TO_MM:
                continue
            if full_point([float(e.drained_theta[j]) for e in site.events]) is None:
                continue
            slope, bias = np.polyfit(season.content_at(of, depth), value, 1)
            full = float(np.interp(depth, season.node_mm, season.full[of]))
            told.append(float(slope * full + bias) - float(site.full_theta[j]))
        off.append(abs(float(np.mean(told))) if told else np.nan)
        believed = float(site.record.root_mm[-1])
        roots.append(abs(float(season.feeds_mm[of, -1]) - FEEDS_TO * believed))
    known = [x for x in off if not np.isnan(x)]
    judge(
        Cause.FULL_POINT_OFF, max(known, default=0) >= FULL_OFF, max(known, default=0) <= FULL_NEAR
    )
    planted = truth.setup.cause is Cause.ROOTS_OFF
    judge(Cause.ROOTS_OFF, planted and max(roots) >= ROOTS_OFF_MM, max(roots) <= ROOTS_NEAR_MM)


def _judge_planted(
    setup: Setup,
    seen: SeenBlock,
    irrigator: BlockIrrigator,
    first: int,
    true: set[Cause],
    unclear: set[Cause],
) -> None:
    """Causes that are so because they were planted, if they came about in time."""
    planted_days = irrigator.planted(first // SITES)
    told = [d for d in planted_days if DAYS - RECENT_DAYS <= d < DAYS - TOLD_AFTER_DAYS]
    alone = [d for d in told if _alone(seen, d)]
    planted = {
        Fault.NOT_LOGGED: (Cause.NOT_LOGGED, bool(told)),
        Fault.NOT_RUN: (Cause.NOT_RUN, bool(alone)),
        Fault.SITE_DRY: (Cause.SITE_DRY, len(planted_days) >= LEAST_RUNS),
    }
    if setup.fault in planted:
        cause, came = planted[setup.fault]
        (true if came else unclear).add(cause)
        return
    if setup.cause is Cause.COLUMN_BROKEN:
        value = seen.sites[0].record.site.value[:, 0]
        broke = bool((value >= BREAKS_AT_KPA).any() and value[-1] < 5)
        (true if broke else unclear).add(setup.cause)
        return
    if setup.fault is Fault.INTAKE:
        lost = 1 - float(np.mean(irrigator.came(first // SITES)))
        (true if lost >= LOST else unclear).add(Cause.INTAKE_EXCEEDED)
        return
    if setup.cause is Cause.POOR_CONTACT and not _moves_around(seen):
        unclear.add(setup.cause)
        return
    if setup.cause in _BY_PLANT:
        true.add(setup.cause)


_BY_PLANT = frozenset(
    {
        Cause.SENSOR_SILENT,
        Cause.SENSOR_FLAT,
        Cause.JUMPS_TOGETHER,
        Cause.WATER_DOWN_TUBE,
        Cause.POOR_CONTACT,
        Cause.SENSOR_DRIFTS,
        Cause.CLOCK_OFF,
        Cause.UNEVEN,
        Cause.RESPONSE_WEAKER,
        Cause.INTAKE_EXCEEDED,
        Cause.RATE_OFF,
    }
)


def _alone(seen: SeenBlock, day: int) -> bool:
    """Whether no other water came shortly before or after an irrigation on a day: none can tell
    which of two was missing."""
    begin = (day - DAYS) * DAY_HOURS
    supplies = seen.sites[0].record.supplies
    own = [s for s in supplies if begin <= s.start_hours < begin + DAY_HOURS and not s.is_rain]
    return len(own) == 1 and not any(
        s is not own[0]
        and s.start_hours < own[0].end_hours + ALONE_H
        and s.end_hours > own[0].start_hours - ALONE_H
        for s in supplies
    )


def _moves_around(seen: SeenBlock) -> bool:
    """Whether a sensor in contact would move by far between the sound ones at its site."""
    value = seen.sites[0].record.site.value[-60 * 24 :]
    moves = np.diff(np.nanpercentile(value, (5, 95), axis=0), axis=0)[0]
    poor = int(np.argmin(moves[1:3])) + 1
    return bool(min(moves[poor - 1], moves[poor + 1]) >= MOVES)


def _newest_sets(seen: SeenBlock) -> list[tuple[float, float]]:
    """When the newest five irrigations began and what they brought."""
    site = seen.sites[0]
    pairs = zip(site.irrigation.tolist(), site.record.supplies, strict=True)
    sets = [(s.start_hours, s.mm) for k, s in pairs if k != RAIN]
    return sorted(sets)[-5:]
