"""Limits of many blocks on many days, in one pass over padded arrays."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np

from core.arrays import ArrayLike, Floats
from core.crop.depletion import P_MAX, P_MIN, adjusted_p
from core.crop.season import STAGE_ORDER, CropDays, CropSeason, season_days
from core.limits.school import FLAT_P, SCHOOLS, LimitRule, School
from core.soil.profile import Profile
from core.soil.retention import RetentionCurve


@dataclass(frozen=True)
class DatedSoil:
    """A soil description that holds from a date; None from the beginning."""

    from_on: date | None
    profile: Profile


@dataclass(frozen=True)
class BlockGround:
    """What the limits of a block are made of.

    soils : from the first on, dates rising
    rules : in the order they were made; a later one that applies goes before an earlier one
    """

    soils: tuple[DatedSoil, ...]
    season: CropSeason
    rules: tuple[LimitRule, ...] = ()


@dataclass(frozen=True)
class LimitsByDay:
    """Arrays of shape (blocks, days); depths of water [mm].

    first : date of the first column
    school_index : array of int, into `SCHOOLS`, the one in force
    p_table, p_flat, p_tension : what each school starts from [-]; NaN where it has nothing
    tension_kpa : the tension limit [kPa]
    full_mm, wilt_mm, taw_mm : of the root zone; root_mm no deeper than roots can go
    """

    first: date
    crop: CropDays
    root_mm: Floats
    full_mm: Floats
    wilt_mm: Floats
    taw_mm: Floats
    school_index: np.ndarray
    p_table: Floats
    p_flat: Floats
    p_tension: Floats
    tension_kpa: Floats

    def of_block(self, row: int) -> "LimitsByDay":
        """One block's row; arrays (1, days)."""
        own = slice(row, row + 1)
        return LimitsByDay(
            first=self.first,
            crop=self.crop.take((own, slice(None))),
            root_mm=self.root_mm[own],
            full_mm=self.full_mm[own],
            wilt_mm=self.wilt_mm[own],
            taw_mm=self.taw_mm[own],
            school_index=self.school_index[own],
            p_table=self.p_table[own],
            p_flat=self.p_flat[own],
            p_tension=self.p_tension[own],
            tension_kpa=self.tension_kpa[own],
        )

    def p(
        self, et0_mm_day: ArrayLike, school: School | None = None, at: Any = np.s_[:, :]
    ) -> Floats:
        """Share that may be used [-].

        Parameters
        ----------
        et0_mm_day : array, broadcastable with (blocks, days) [mm/day]
            On the crop's own reference surface.
        school : School, optional
            None is the one in force.
        at : index into (blocks, days), optional

        Returns
        -------
        array, broadcast shape
        """
        etc = self.crop.kc[at] * np.asarray(et0_mm_day, float)
        by_crop = adjusted_p(self.p_table[at], etc)
        says = {
            School.CROP_P: by_crop,
            School.FLAT: self.p_flat[at],
            School.TENSION: self.p_tension[at],
        }
        if school is not None:
            return np.broadcast_to(says[school], by_crop.shape)
        index = self.school_index[at]
        return np.select([index == i for i in range(len(SCHOOLS))], [says[s] for s in SCHOOLS])

    def refill_mm(self, et0_mm_day: ArrayLike, school: School | None = None) -> Floats:
        """Water in the root zone at which to irrigate [mm]: full - p x TAW."""
        return self.full_mm - self.p(et0_mm_day, school) * self.taw_mm


@dataclass(frozen=True)
class _Soils:
    """One soil version of every block, padded; arrays (blocks, horizons)."""

    top_mm: Floats
    thick_mm: Floats
    full: Floats
    wilt: Floats
    root_limit_mm: Floats
    filled: np.ndarray
    curve: RetentionCurve

    @classmethod
    def of(cls, profiles: Sequence[Profile]) -> "_Soils":
        count = np.array([p.top_mm.size for p in profiles])
        filled = np.arange(count.max()) < count[:, None]

        def padded(name: str) -> Floats:
            out = np.zeros(filled.shape)
            out[filled] = np.concatenate([getattr(p, name) for p in profiles])
            return out

        curves = [p.curve for p in profiles]
        fields = RetentionCurve.__dataclass_fields__
        top = padded("top_mm")
        return cls(
            top_mm=top,
            thick_mm=padded("bottom_mm") - top,
            full=padded("theta_full"),
            wilt=padded("theta_wilt"),
            root_limit_mm=np.array([p.root_limit_mm for p in profiles]),
            filled=filled,
            curve=RetentionCurve(
                *(np.concatenate([getattr(c, f) for c in curves]) for f in fields)
            ),
        )

    def dry_share(self, tension_kpa: Floats, gravel: Floats) -> Floats:
        """Share of the available water gone at a tension of each block; (blocks, horizons)."""
        each = np.broadcast_to(tension_kpa[:, None], self.filled.shape)[self.filled]
        out = np.zeros(self.filled.shape)
        out[self.filled] = self.curve.theta_at(each) * (1 - gravel)
        span = np.where(self.filled, self.full - self.wilt, 1.0)
        return np.clip((self.full - out) / span, 0, 1)


def _since(from_on: date | None, first: date) -> float:
    return -np.inf if from_on is None else float((from_on - first).days)


def _rules_in_force(
    grounds: Sequence[BlockGround], crop: CropDays, first: date
) -> tuple[np.ndarray, Floats, Floats, Floats]:
    """School in force and each school's own value by day; the last rule that applies rules."""
    shape = crop.kc.shape
    day = np.arange(shape[1])
    school = np.zeros(shape, int)
    value = {
        School.CROP_P: np.repeat([[g.season.crop.p] for g in grounds], shape[1], axis=1),
        School.FLAT: np.full(shape, FLAT_P),
        School.TENSION: np.repeat(
            [[g.season.crop.tension_kpa or np.nan] for g in grounds], shape[1], axis=1
        ),
    }
    for k in range(max((len(g.rules) for g in grounds), default=0)):
        having = [i for i, g in enumerate(grounds) if len(g.rules) > k]
        rules = [grounds[i].rules[k] for i in having]
        since = np.array([_since(r.from_on, first) for r in rules])[:, None]
        stage = np.array([-1 if r.stage is None else STAGE_ORDER.index(r.stage) for r in rules])
        applies = (day >= since) & (
            (stage[:, None] == -1) | (crop.stage_index[having] == stage[:, None])
        )
        index = np.array([SCHOOLS.index(r.school) for r in rules])[:, None]
        school[having] = np.where(applies, index, school[having])
        given = np.array([np.nan if r.value is None else r.value for r in rules])[:, None]
        for i, s in enumerate(SCHOOLS):
            new = applies & (index == i) & ~np.isnan(given)
            value[s][having] = np.where(new, given, value[s][having])
    return school, value[School.CROP_P], value[School.FLAT], value[School.TENSION]


def limits_by_day(grounds: Sequence[BlockGround], first: date, days: int) -> LimitsByDay:
    """Full, wilting and the schools' starting points of every block on every day.

    Parameters
    ----------
    grounds : sequence of BlockGround, (blocks,)
    first : date
    days : int

    Returns
    -------
    LimitsByDay, arrays of shape (blocks, days)

    Notes
    -----
    The tension school waters when every layer stands at the limit: p is then the share of the
    root zone's available water gone at that tension, kept within 0.1-0.8.
    """
    crop = season_days([g.season for g in grounds], first, days)
    school, p_table, p_flat, tension = _rules_in_force(grounds, crop, first)
    shape = crop.kc.shape
    day = np.arange(days)
    root = full = wilt = gone = np.zeros(shape)
    for version in range(max(len(g.soils) for g in grounds)):
        chosen = [g.soils[min(version, len(g.soils) - 1)] for g in grounds]
        soils = _Soils.of([c.profile for c in chosen])
        gravel = np.concatenate([c.profile.gravel for c in chosen])
        roots = np.minimum(crop.root_mm, soils.root_limit_mm[:, None])
        fulls, wilts, gones = (np.zeros(shape) for _ in range(3))
        shares = _dry_shares(soils, tension, gravel)
        for h in range(soils.top_mm.shape[1]):
            thick = np.clip(roots - soils.top_mm[:, h, None], 0, soils.thick_mm[:, h, None])
            fulls += thick * soils.full[:, h, None]
            wilts += thick * soils.wilt[:, h, None]
            available = (soils.full - soils.wilt)[:, h, None]
            gones += thick * available * shares(h)
        if version == 0:
            root, full, wilt, gone = roots, fulls, wilts, gones
            continue
        since = np.array([_since(c.from_on, first) for c in chosen])
        holds = day >= since[:, None]
        root = np.where(holds, roots, root)
        full = np.where(holds, fulls, full)
        wilt = np.where(holds, wilts, wilt)
        gone = np.where(holds, gones, gone)
    taw = full - wilt
    return LimitsByDay(
        first=first,
        crop=crop,
        root_mm=root,
        full_mm=full,
        wilt_mm=wilt,
        taw_mm=taw,
        school_index=school,
        p_table=p_table,
        p_flat=p_flat,
        p_tension=np.clip(gone / taw, P_MIN, P_MAX),
        tension_kpa=tension,
    )


def _dry_shares(soils: _Soils, tension: Floats, gravel: Floats) -> Callable[[int], Floats]:
    """By horizon, the share gone at the tension limit of each day; (blocks, days).

    A limit changes seldom: the curve is asked once for each value a block has had.
    """
    first = tension[:, :1]
    if np.all((tension == first) | (np.isnan(tension) & np.isnan(first))):
        share = soils.dry_share(first[:, 0], gravel)
        return lambda h: share[:, h, None]
    values = [np.unique(row) for row in tension]
    most = max(v.size for v in values)
    table = np.array([np.pad(v, (0, most - v.size), mode="edge") for v in values])
    shares = [soils.dry_share(table[:, k], gravel) for k in range(most)]
    which = np.argmax(tension[..., None] == table[:, None, :], axis=-1)
    stacked = np.array(shares)

    def of(h: int) -> Floats:
        picked: Floats = np.take_along_axis(stacked[:, :, h].T, which, axis=1)
        # Before a crop without a limit of its own was given one there is none.
        return np.where(np.isnan(tension), np.nan, picked)

    return of
