"""Limits of many blocks on many days, in one pass over padded arrays."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import Any

import numpy as np

from core.arrays import ArrayLike, Floats
from core.crop.catalogue import Crop
from core.crop.depletion import P_MAX, P_MIN, adjusted_p
from core.crop.season import STAGE_ORDER, CropDays, CropSeason, season_days
from core.limits.refill_method import FLAT_P, REFILL_METHODS, LimitRule, RefillMethod
from core.soil.profile import Profile
from core.soil.profiles import Profiles
from core.soil.water_table import WaterTable, root_bound_mm

EASING_STEPS = 10.0


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
    water_table : no root grows into it
    """

    soils: tuple[DatedSoil, ...]
    season: CropSeason
    rules: tuple[LimitRule, ...] = ()
    water_table: WaterTable | None = None


@dataclass(frozen=True)
class LimitsByDay:
    """Arrays of shape (blocks, days); depths of water [mm].

    first : date of the first column
    refill_method_index : array of int, into `REFILL_METHODS`, the one in force
    p_table, p_flat, p_tension : what each method starts from [-]; NaN where it has nothing
    tension_kpa : the tension limit [kPa]
    full_mm, wilt_mm, taw_mm : of the root zone; root_mm no deeper than roots can go
    """

    first: date
    crop: CropDays
    root_mm: Floats
    full_mm: Floats
    wilt_mm: Floats
    taw_mm: Floats
    refill_method_index: np.ndarray
    p_table: Floats
    p_flat: Floats
    p_tension: Floats
    tension_kpa: Floats

    def over_ground(self, share: ArrayLike) -> "LimitsByDay":
        """The same where only a share of each block's ground is watered, (blocks,) [-]: water of
        its roots as a depth over all of the ground."""
        part = np.asarray(share, float)[:, None]
        return replace(
            self,
            full_mm=self.full_mm * part,
            wilt_mm=self.wilt_mm * part,
            taw_mm=self.taw_mm * part,
        )

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
            refill_method_index=self.refill_method_index[own],
            p_table=self.p_table[own],
            p_flat=self.p_flat[own],
            p_tension=self.p_tension[own],
            tension_kpa=self.tension_kpa[own],
        )

    def p(
        self,
        et0_mm_day: ArrayLike,
        refill_method: RefillMethod | None = None,
        at: Any = np.s_[:, :],
    ) -> Floats:
        """Share that may be used [-].

        Parameters
        ----------
        et0_mm_day : array, broadcastable with (blocks, days) [mm/day]
            On the crop's own reference surface.
        method : Method, optional
            None is the one in force.
        at : index into (blocks, days), optional

        Returns
        -------
        array, broadcast shape
        """
        etc = self.crop.kc[at] * np.asarray(et0_mm_day, float)
        by_crop = adjusted_p(self.p_table[at], etc)
        says = {
            RefillMethod.CROP_P: by_crop,
            RefillMethod.FLAT: self.p_flat[at],
            RefillMethod.TENSION: self.p_tension[at],
        }
        if refill_method is not None:
            return np.broadcast_to(says[refill_method], by_crop.shape)
        index = self.refill_method_index[at]
        return np.select(
            [index == i for i in range(len(REFILL_METHODS))], [says[s] for s in REFILL_METHODS]
        )

    def refill_mm(self, et0_mm_day: ArrayLike, refill_method: RefillMethod | None = None) -> Floats:
        """Water in the root zone at which to irrigate [mm]: full - p x TAW."""
        return self.full_mm - self.p(et0_mm_day, refill_method) * self.taw_mm


def _dry_share(soils: Profiles, tension_kpa: Floats) -> Floats:
    """Share of the available water gone at a tension of each block; (blocks, horizons)."""
    left = soils.curve.theta_at(tension_kpa[:, None]) * (1 - soils.gravel)
    return np.clip((soils.theta_full - left) / soils.available, 0, 1)


def _since(from_on: date | None, first: date) -> float:
    return -np.inf if from_on is None else float((from_on - first).days)


def own_tension_kpa(crops: Sequence[Crop], book_day: Floats) -> Floats:
    """Tension limit of the crops' own by day [kPa]; NaN where they have none.

    Grain bears more and more as it ripens: over the late stage the limit eases, by the logarithm,
    to the one of ripening.
    """
    own = np.array([[c.tension_kpa or np.nan] for c in crops])
    ripe = np.array([[c.ripening_kpa or c.tension_kpa or np.nan] for c in crops])
    ends = np.cumsum([c.stage_days for c in crops], axis=1)[:, 2:, None]
    gone = np.clip((book_day - ends[:, 0]) / (ends[:, 1] - ends[:, 0]), 0.0, 1.0)
    # By whole tenths: the soil's curve is asked for each limit that a block has had.
    gone = np.floor(gone * EASING_STEPS) / EASING_STEPS
    out: Floats = own * (ripe / own) ** gone
    return out


def _rules_in_force(
    grounds: Sequence[BlockGround], crop: CropDays, first: date
) -> tuple[np.ndarray, Floats, Floats, Floats]:
    """Method in force and each method's own value by day; the last rule that applies rules."""
    shape = crop.kc.shape
    day = np.arange(shape[1])
    refill_method = np.zeros(shape, int)
    value = {
        RefillMethod.CROP_P: np.repeat([[g.season.crop.p] for g in grounds], shape[1], axis=1),
        RefillMethod.FLAT: np.full(shape, FLAT_P),
        RefillMethod.TENSION: own_tension_kpa([g.season.crop for g in grounds], crop.book_day),
    }
    for k in range(max((len(g.rules) for g in grounds), default=0)):
        having = [i for i, g in enumerate(grounds) if len(g.rules) > k]
        rules = [grounds[i].rules[k] for i in having]
        since = np.array([_since(r.from_on, first) for r in rules])[:, None]
        stage = np.array([-1 if r.stage is None else STAGE_ORDER.index(r.stage) for r in rules])
        applies = (day >= since) & (
            (stage[:, None] == -1) | (crop.stage_index[having] == stage[:, None])
        )
        index = np.array([REFILL_METHODS.index(r.refill_method) for r in rules])[:, None]
        refill_method[having] = np.where(applies, index, refill_method[having])
        given = np.array([np.nan if r.value is None else r.value for r in rules])[:, None]
        for i, s in enumerate(REFILL_METHODS):
            new = applies & (index == i) & ~np.isnan(given)
            value[s][having] = np.where(new, given, value[s][having])
    return (
        refill_method,
        value[RefillMethod.CROP_P],
        value[RefillMethod.FLAT],
        value[RefillMethod.TENSION],
    )


def limits_by_day(grounds: Sequence[BlockGround], first: date, days: int) -> LimitsByDay:
    """Full, wilting and the methods' starting points of every block on every day.

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
    The tension method waters when every layer stands at the limit: p is then the share of the
    root zone's available water gone at that tension, kept within 0.1-0.8.
    """
    crop = season_days([g.season for g in grounds], first, days)
    refill_method, p_table, p_flat, tension = _rules_in_force(grounds, crop, first)
    shape = crop.kc.shape
    day = np.arange(days)
    root = full = wilt = gone = np.zeros(shape)
    rooted = np.minimum(crop.root_mm, root_bound_mm([g.water_table for g in grounds], first, days))
    for version in range(max(len(g.soils) for g in grounds)):
        chosen = [g.soils[min(version, len(g.soils) - 1)] for g in grounds]
        soils = Profiles.of([c.profile for c in chosen])
        roots = np.minimum(rooted, soils.root_limit_mm[:, None])
        thick = soils.thick_between(0.0, roots)
        fulls = np.einsum("bdh,bh->bd", thick, soils.theta_full)
        wilts = np.einsum("bdh,bh->bd", thick, soils.theta_wilt)
        lost = _dry_shares(soils, tension)
        gones = np.einsum("bdh,bh,bdh->bd", thick, soils.available, lost)
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
        refill_method_index=refill_method,
        p_table=p_table,
        p_flat=p_flat,
        p_tension=np.clip(gone / taw, P_MIN, P_MAX),
        tension_kpa=tension,
    )


def _dry_shares(soils: Profiles, tension: Floats) -> Floats:
    """Share gone at the tension limit of each day; broadcastable to (blocks, days, horizons).

    A limit changes seldom: the curve is asked once for each value a block has had.
    """
    first = tension[:, :1]
    if np.all((tension == first) | (np.isnan(tension) & np.isnan(first))):
        return np.broadcast_to(
            _dry_share(soils, first[:, 0])[:, None, :], (*tension.shape, soils.top_mm.shape[1])
        )
    values = [np.unique(row) for row in tension]
    most = max(v.size for v in values)
    table = np.array([np.pad(v, (0, most - v.size), mode="edge") for v in values])
    shares = np.stack([_dry_share(soils, table[:, k]) for k in range(most)], axis=1)
    which = np.argmax(tension[..., None] == table[:, None, :], axis=-1)
    picked = shares[np.arange(tension.shape[0])[:, None], which]
    # Before a crop without a limit of its own was given one there is none.
    return np.where(np.isnan(tension)[..., None], np.nan, picked)
