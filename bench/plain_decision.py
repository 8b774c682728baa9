"""One block's morning in plain Python, figure by figure: what `decide` does for all at once.

From the same definitions, without arrays: limits by day, the sensors' layers on every morning,
the balance weighed with them, and the ensemble ahead. For blocks as `bench_decisions` makes
them: one site read each morning, an annual crop, the crop's p, the blend, sprinklers.
"""

import itertools
from bisect import bisect_right
from dataclasses import dataclass
from datetime import timedelta
from math import erf, exp, hypot, inf, pi, sqrt

from core.advice.decide import SHOWN_DAYS
from core.advice.gather import (
    AHEAD_DAYS,
    FULL_SIGMA_SHARE,
    LIMIT_SIGMA_SHARE,
    MOVING_DAYS,
    MOVING_SHARE,
    UNKNOWN_START,
)
from core.advice.inputs import BlockInputs
from core.crop.season import CropSeason
from core.instrument.kinds import kinds
from core.outlook.forecast import scores
from core.state import filter as f
from core.state.daylight import used_by
from core.state.observe import MIN_SCATTER_MM, SCATTER_SHARE, SURPLUS_SHARE, UNSEEN_SIGMA
from core.state.zones import drain_share

PAST = 180


@dataclass
class Morning:
    """What the plain arithmetic came to."""

    depletion_mm: float
    use_factor: float
    days_left: float
    chance_past: list[float]


@dataclass
class Zone:
    """One day's root zone [mm]."""

    kc: float
    root: float
    taw: float
    raw: float
    below: float
    grown: float
    room: float


def ramp(t: float, start: float, end: float) -> float:
    return min(max((t - start) / max(end - start, 1e-9), 0.0), 1.0)


def phi(z: float) -> float:
    return 0.5 * (1 + erf(min(max(z, -30.0), 30.0) / sqrt(2)))


class Soil:
    """A profile as plain numbers."""

    def __init__(self, block: BlockInputs) -> None:
        p = block.profile
        self.top, self.bottom = p.top_mm.tolist(), p.bottom_mm.tolist()
        self.full, self.wilt = p.theta_full.tolist(), p.theta_wilt.tolist()
        self.sat = p.theta_sat.tolist()
        self.limit = float(p.root_limit_mm)
        self.sigma_full = [h.sigma_full for h in p.limits]
        self.sigma_available = [h.sigma_available for h in p.limits]

    def thick(self, h: int, depth: float) -> float:
        return min(max(depth - self.top[h], 0.0), self.bottom[h] - self.top[h])

    def available_above(self, depth: float) -> float:
        total = 0.0
        for h in range(len(self.top)):
            total += self.thick(h, depth) * (self.full[h] - self.wilt[h])
        return total

    def at(self, depth: float) -> tuple[float, float]:
        h = sum(1 for b in self.bottom if depth >= b)
        h = min(h, len(self.top) - 1)
        return self.wilt[h], self.full[h] - self.wilt[h]


def zones(block: BlockInputs, season: CropSeason, soil: Soil) -> list[Zone]:
    """The root zone of every day, past and ahead."""
    crop, et = season.crop, block.stated_et.expected
    ends = [float(sum(crop.stage_days[: k + 1])) for k in range(4)]
    first = block.now.date() - timedelta(days=PAST)
    out = []
    for n in range(PAST + AHEAD_DAYS + 2):
        t = float((first + timedelta(days=n) - season.planted_on).days)
        k1, k2, k3 = crop.kc
        kc = k1 + (k2 - k1) * ramp(t, ends[0], ends[1]) + (k3 - k2) * ramp(t, ends[2], ends[3])
        grown = ramp(t, ends[0], ends[1])
        root = crop.root_initial_mm + (crop.root_schedule_mm - crop.root_initial_mm) * grown
        root = min(root, soil.limit)
        taw, room = soil.available_above(root), 0.0
        for h in range(len(soil.top)):
            room += soil.thick(h, root) * (soil.sat[h] - soil.full[h])
        p = min(max(crop.p + 0.04 * (5 - kc * et), 0.1), 0.8)
        out.append(Zone(kc, root, taw, p * taw, 0.0, 0.0, room))
    deepest = max(z.taw for z in out)
    before = out[0]
    for z in out:
        z.below = deepest - z.taw
        change = z.taw - before.taw
        part = before.below if change >= 0 else before.taw
        z.grown = min(max(change / max(part, 1e-9), -1.0), 1.0)
        before = z
    return out


def layers(soil: Soil, depths: list[float], theta: list[float], root: float) -> tuple[float, ...]:
    """Deficit, surplus and unseen soil of one morning."""
    limit = min(root, soil.limit)
    deficit = surplus = 0.0
    for j, depth in enumerate(depths):
        top = 0.0 if j == 0 else (depths[j - 1] + depth) / 2
        last = j == len(depths) - 1
        bottom = limit if last else min((depth + depths[j + 1]) / 2, limit)
        layer = max(soil.available_above(bottom) - soil.available_above(top), 0.0)
        wilt, available = soil.at(depth)
        share = (theta[j] - wilt) / available
        deficit += layer * (1 - min(max(share, 0.0), 1.0))
        surplus += layer * max(share - 1, 0.0)
    reach = depths[-1] + (depths[-1] - depths[-2]) / 2
    return deficit, surplus, max(limit - reach, 0.0)


def observed(block: BlockInputs, soil: Soil, days: list[Zone]) -> list[tuple[float, ...]]:
    """Each morning's word of the site: depletion, scatter, below, own spread [mm]."""
    site = block.sites[0]
    hours, theta = site.hours.tolist(), site.theta.tolist()
    depths = site.depth_mm.tolist()
    spread = kinds()[site.kind].theta_sigma
    deep = max(z.root for z in days)
    out = []
    for d in range(PAST + 1):
        at = bisect_right(hours, (d - PAST) * 24 + 1e-6) - 1
        root = days[d].root
        deficit, surplus, unseen = layers(soil, depths, theta[at], root)
        below = 0.0
        if root < deep:
            below = max(layers(soil, depths, theta[at], deep)[0] - deficit, 0.0)
        thick = min(root, soil.limit)
        scatter = hypot(
            max(SCATTER_SHARE * spread * thick, MIN_SCATTER_MM), SURPLUS_SHARE * surplus
        )
        own = max(hypot(spread * thick, UNSEEN_SIGMA * unseen), 0.1)
        out.append((deficit - surplus, scatter, below, own))
    return out


def use(d: float, z: Zone, water: float, etc: float) -> tuple[float, float, float]:
    """Depletion after water and use, Ks, ET."""
    d -= water
    d += max(-d - z.room, 0.0)
    ks = min(max((z.taw - d) / max(z.taw - z.raw, 1e-9), 0.0), 1.0)
    et = min(ks * etc, max(z.taw - d, 0.0))
    return d + et, ks, et


def grow(d: float, below: float, grown: float) -> tuple[float, float]:
    moved = grown * below if grown >= 0 else grown * max(d, 0.0)
    return d + moved, below - moved


class Belief:
    """Depletion, offset, factor and their covariance, as in `core.state.filter`."""

    def __init__(self, taw: float, offset: float) -> None:
        mean, spread = UNKNOWN_START
        self.d, self.b, self.k = mean * taw, 0.0, 1.0
        self.dd, self.bb, self.kk = (spread * taw) ** 2, offset**2, f.USE_SIGMA**2
        self.bb_first, self.far = self.bb, 0.0
        self.db = self.dk = self.bk = 0.0

    def weigh(self, seen: float, noise: float, taw: float) -> None:
        var_d, var_b, var_k = self.dd + self.db, self.bb + self.db, self.dk + self.bk
        total = var_d + var_b + noise**2
        surprise = seen - self.d - self.b
        sign = (surprise > 0) - (surprise < 0)
        far = surprise**2 > f.GATE**2 * total
        again = far and self.far == sign
        self.far = sign if far else 0.0
        offset = abs(self.b + (0.0 if far else var_b / total * surprise))
        lost = again or offset > f.OFFSET_GATE * sqrt(self.bb_first)
        first = self.dd > (f.KNOWN_SHARE * taw) ** 2 or lost
        if first:
            self.d, self.b, self.bb = seen, 0.0, self.bb_first
            self.dd = noise**2 + self.bb
            self.db, self.dk, self.bk = -self.bb, 0.0, 0.0
            return
        if far:
            return
        gd, gb, gk = min(max(var_d / total, 0.0), 1.0), var_b / total, var_k / total
        self.d += gd * surprise
        self.b += gb * surprise
        self.k = min(max(self.k + gk * surprise, f.USE_RANGE[0]), f.USE_RANGE[1])
        dd, bb, kk, db, dk, bk = self.dd, self.bb, self.kk, self.db, self.dk, self.bk
        r, keep, left = noise**2, 1 - gd, 1 - gb
        on_d, on_b, on_k = dd + db, bb + db, dk + bk
        spread = on_d + on_b + r
        self.dd = keep**2 * dd - 2 * keep * gd * db + gd**2 * (bb + r)
        self.bb = left**2 * bb - 2 * left * gb * db + gb**2 * (dd + r)
        self.kk = kk - 2 * gk * on_k + gk**2 * spread
        self.db = db - gb * on_d - gd * on_b + gd * gb * spread
        self.dk = dk - gd * on_k - gk * on_d + gd * gk * spread
        self.bk = bk - gb * on_k - gk * on_b + gb * gk * spread

    def day(self, z: Zone, water: float, spread: float, etc: float, drain: float) -> float:
        """Carry over a day; what drained."""
        after, ks, _ = use(self.d, z, water, self.k * etc)
        sigma = sqrt(max(self.dd, 1e-18))
        slowed = phi((self.d - water - z.raw) / sigma)
        slope = min(max(1 - slowed * self.k * etc / max(z.taw - z.raw, 1.0), 0.0), 1.0)
        noise, by_k = hypot(f.ET_SIGMA * ks * etc, spread), ks * etc
        self.d = after
        dd = slope**2 * self.dd + 2 * slope * by_k * self.dk + by_k**2 * self.kk + noise**2
        self.db = slope * self.db + by_k * self.bk
        self.dk = slope * self.dk + by_k * self.kk
        self.dd = dd
        self.bb += f.OFFSET_WALK_MM**2 * (self.bb > 0)
        self.kk += f.USE_WALK**2
        s = max(sqrt(self.dd), 1e-9)
        q = min(max(-self.d / s, -30.0), 30.0)
        low, density = phi(q), exp(-0.5 * q * q) / sqrt(2 * pi)
        mean = self.d * low - s * density
        second = (self.d**2 + s**2) * low - self.d * s * density
        var, cov = max(second - mean**2, 0.0), second - self.d * mean
        kept = 1 - drain * phi(-self.d / sqrt(max(self.dd, 1e-18)))
        drained = -drain * mean
        self.d += drained
        self.dd = max(self.dd - 2 * drain * cov + drain**2 * var, 0.0)
        self.db, self.dk = self.db * kept, self.dk * kept
        self.dd = max(self.dd, (f.FLOOR_SHARE * z.taw) ** 2)
        self.d = min(self.d, z.taw)
        return drained


def water_by_day(block: BlockInputs) -> tuple[list[float], list[float], list[float]]:
    """Water, its spread, and what still moves each morning."""
    water, variance, moving = [0.0] * PAST, [0.0] * PAST, [0.0] * (PAST + 1)
    for w in block.waterings:
        column = int(-(-w.hours // 24)) - 1 + PAST
        if 0 <= column < PAST:
            water[column] += w.net_mm
            variance[column] += (w.sigma_share * w.net_mm) ** 2
        for d in range(PAST + 1):
            since = 24.0 * (d - PAST) - w.hours
            if 0 <= since < 24 * MOVING_DAYS:
                moving[d] += w.net_mm * 0.5 ** (since / 24)
    return water, [sqrt(v) for v in variance], moving


def ahead(
    z: list[Zone], d: float, below: float, use_of_day: list[float], water: list[float], drain: float
) -> list[float]:
    """Depletion at the start of each day ahead."""
    out = [d]
    for k in range(AHEAD_DAYS):
        day = z[PAST + k]
        d, below = grow(d, below, day.grown)
        d = use(d, day, water[k], use_of_day[k])[0]
        drained = max(-d, 0.0) * drain
        below -= min(drained, max(below, 0.0))
        d += drained
        out.append(d)
    return out


def until(usable: list[float]) -> float:
    for k, left in enumerate(usable):
        if left <= 0:
            if k == 0:
                return 0.0
            return k - 1 + usable[k - 1] / (usable[k - 1] - left)
    return inf


def joined(by_date: list[float], done: float) -> list[float]:
    return [(1 - done) * a + done * b for a, b in itertools.pairwise(by_date)]


def plain_morning(block: BlockInputs, season: CropSeason) -> Morning:
    """The whole morning of one block."""
    soil = Soil(block)
    days = zones(block, season, soil)
    drain = float(drain_share([block.profile])[0])
    hour = block.now.hour + block.now.minute / 60
    done = float(used_by(hour))
    assert block.past is not None and block.forecast is not None
    past = joined([*block.past.et0_mm.tolist(), block.stated_et.expected], done)
    seen = observed(block, soil, days)
    water, spread, moving = water_by_day(block)
    now = days[PAST]
    unsure = sum(soil.thick(h, now.root) * soil.sigma_full[h] for h in range(len(soil.top)))
    available = sum(soil.thick(h, now.root) * soil.sigma_available[h] for h in range(len(soil.top)))
    state = Belief(days[0].taw, hypot(seen[PAST][3], FULL_SIGMA_SHARE * unsure))
    below = 0.0
    for d in range(PAST + 1):
        z = days[d]
        was = state.d
        state.d, below = grow(state.d, below, z.grown)
        state.dd += (f.NEW_SOIL_SIGMA * (state.d - was)) ** 2
        said, scatter, under, _ = seen[d]
        below = under
        state.weigh(said, hypot(scatter, MOVING_SHARE * moving[d]), z.taw)
        state.d = min(state.d, z.taw)
        if d < PAST:
            drained = state.day(z, water[d], spread[d], z.kc * past[d], drain)
            below -= min(drained, max(below, 0.0))
    return _outlook(block, days, state, below, drain, done, available / now.taw)


def _outlook(
    block: BlockInputs,
    days: list[Zone],
    state: Belief,
    below: float,
    drain: float,
    done: float,
    unsure: float,
) -> Morning:
    """The expected case and every member."""
    forecast = block.forecast
    assert forecast is not None
    et0 = [joined(row, done) for row in forecast.et0_mm.tolist()]
    rain = [row[: len(et0[0])] for row in forecast.rain_mm.tolist()]
    members = len(et0)
    mean = [sum(row[k] for row in et0) / members for k in range(AHEAD_DAYS)]
    middle = []
    for k in range(AHEAD_DAYS):
        ordered = sorted(row[k] for row in rain)
        middle.append((ordered[members // 2 - 1] + ordered[members // 2]) / 2)
    kc = [days[PAST + k].kc for k in range(AHEAD_DAYS)]

    def course(d: float, factor: float, weather: list[float], wet: list[float]) -> list[float]:
        uses = [factor * kc[k] * weather[k] for k in range(AHEAD_DAYS)]
        comes = [0.0 if wet[k] < 0.2 * weather[k] else wet[k] for k in range(AHEAD_DAYS)]
        return ahead(days, d, below, uses, comes, drain)

    expected = course(state.d, state.k, mean, middle)
    raw = [days[PAST + k].raw for k in range(AHEAD_DAYS + 1)]
    sigma, kappa = sqrt(state.dd), sqrt(max(state.kk, 0.0))
    by_state, by_use, by_limit = (scores(members, k).tolist() for k in (1, 2, 3))
    gone = [0] * (SHOWN_DAYS + 1)
    for m in range(members):
        start = min(state.d + sigma * by_state[m], days[PAST].taw)
        path = course(start, max(state.k + kappa * by_use[m], 0.3), et0[m], rain[m])
        stretch = min(max(1 + LIMIT_SIGMA_SHARE * unsure * by_limit[m], 0.3), 2.0)
        least = inf
        for k in range(SHOWN_DAYS + 1):
            least = min(least, raw[k] * stretch - path[k])
            gone[k] += least < 0
    return Morning(
        depletion_mm=state.d,
        use_factor=state.k,
        days_left=until([r - e for r, e in zip(raw, expected, strict=True)]),
        chance_past=[g / members for g in gone],
    )
