"""The steps of the working that say what the crop is today: roots, Kc, water use."""

from collections.abc import Sequence
from datetime import timedelta

import numpy as np

from core.advice.explain_climate import Coefficients, climate_step
from core.advice.explain_evaporation import evaporation_steps
from core.advice.soil_evaporation import SoilEvaporation
from core.advice.stated_et import StatedEt
from core.advice.working import COMPUTED, Step, StepKey, Term, Unit
from core.crop.canopy import KC_MIN, cover_factor
from core.crop.catalogue import Crop
from core.crop.salinity import MOST_SALT_LOSS, SaltStress
from core.crop.season import CropDays, CropSeason, Stage
from core.limits.in_force import LimitsInForce

Formula = tuple[str, tuple[Term, ...]]


def _day_source(season: CropSeason, day: int) -> str:
    """Where the day of the crop's calendar comes from."""
    seen = [s for s in season.seen if s.day <= day]
    since = f"since {season.planted_on.isoformat()}"
    if seen:
        return f"day {seen[-1].day} {since} seen in the field as day {seen[-1].book_day:g}"
    if season.degree_days is not None:
        return f"by degree-days {since}"
    if season.crop.perennial and day > 366:
        return f"this year's, bud break first {season.planted_on.isoformat()}"
    return since


def _kc_formula(crop: Crop, days: Term, stage: Stage, climate: Step | None) -> Formula:
    """Kc of the book's calendar."""
    first, second, third, fourth = (float(d) for d in crop.stage_days)
    k = Coefficients.of(crop.kc, crop.sources["kc"], climate)
    k1, k2, k3 = k.symbols
    book_days = crop.sources["stage_days"]
    if stage in (Stage.INITIAL, Stage.DORMANT):
        return k1, k.used(0)
    if stage is Stage.DEVELOPMENT:
        l1 = Term("L1", first, Unit.NUMBER, book_days)
        l2 = Term("L2", second, Unit.NUMBER, book_days)
        return f"{k1} + ({k2} - {k1}) * (day - L1) / L2", (*k.used(0, 1), days, l1, l2)
    if stage is Stage.MID:
        return k2, k.used(1)
    start = Term("L123", first + second + third, Unit.NUMBER, book_days)
    l4 = Term("L4", fourth, Unit.NUMBER, book_days)
    return f"{k2} + ({k3} - {k2}) * (day - L123) / L4", (*k.used(1, 2), days, start, l4)


def _cut_formula(crop: Crop, days_since_cut: int, climate: Step | None) -> Formula:
    """Kc on a day of the cutting cycle."""
    cutting = crop.cutting
    assert cutting is not None  # noqa: S101 -- only asked where a cut counts
    source = crop.sources["cutting"]
    e1, e2, e3, e4 = (float(e) for e in np.cumsum(cutting.days))
    k = Coefficients.of(cutting.kc, source, climate)
    k1, k2, k3 = k.symbols
    u = Term("u", float(days_since_cut), Unit.NUMBER, "days since the last cut")
    if days_since_cut <= e1:
        return k1, k.used(0)
    if days_since_cut <= e2:
        t1, t2 = Term("e1", e1, Unit.NUMBER, source), Term("e2", e2, Unit.NUMBER, source)
        return f"{k1} + ({k2} - {k1}) * (u - e1) / (e2 - e1)", (*k.used(0, 1), u, t1, t2)
    if days_since_cut <= e3:
        return k2, k.used(1)
    t3, t4 = Term("e3", e3, Unit.NUMBER, source), Term("e4", e4, Unit.NUMBER, source)
    formula = f"{k2} + ({k3} - {k2}) * min((u - e3) / (e4 - e3), 1)"
    return formula, (*k.used(1, 2), u, t3, t4)


def _cover_steps(
    season: CropSeason, day: int, book: Formula, kc: float, key: StepKey, symbol: str
) -> list[Step]:
    """Coefficient of the book, scaled by the newest measured ground cover."""
    crop = season.crop
    covers = sorted((c for c in season.covers if c.day <= day), key=lambda c: c.day)
    if not covers or crop.canopy is None:
        return [Step(key, symbol, *book, kc, Unit.NUMBER)]
    newest = covers[-1]
    factor = float(
        cover_factor(newest.cover, newest.height_m, crop.canopy.cover, crop.canopy.height_m)
    )
    book_kc = KC_MIN + (kc - KC_MIN) / factor
    shade = "Allen & Pereira 2009"
    terms = (
        Term("fc", newest.cover, Unit.SHARE, "ground cover measured in the block"),
        Term("h", newest.height_m, Unit.NUMBER, "height in m, measured in the block"),
        Term("fb", crop.canopy.cover, Unit.SHARE, crop.sources["canopy"]),
        Term("hb", crop.canopy.height_m, Unit.NUMBER, crop.sources["canopy"]),
    )
    kd = "min(1, 1.5 * {0}, {0} ** (1 / (1 + {1})))"
    return [
        Step(StepKey.KC_BOOK, "Kbook", *book, book_kc, Unit.NUMBER),
        Step(
            StepKey.COVER_FACTOR,
            "F",
            f"{kd.format('fc', 'h')} / {kd.format('fb', 'hb')}",
            terms,
            factor,
            Unit.NUMBER,
        ),
        Step(
            key,
            symbol,
            "Kmin + F * (Kbook - Kmin)",
            (
                Term("Kmin", KC_MIN, Unit.NUMBER, shade),
                Term("F", factor, Unit.NUMBER, COMPUTED),
                Term("Kbook", book_kc, Unit.NUMBER, COMPUTED),
            ),
            kc,
            Unit.NUMBER,
        ),
    ]


def _salt_steps(
    salt: SaltStress, crop: Crop, fresh: Step, kc: float, key: StepKey, symbol: str
) -> list[Step]:
    """What salt of the soil leaves of the coefficient."""
    source = crop.sources["salt"]
    least = f"FAO-56 eq. 90; at most {MOST_SALT_LOSS:.0%} of the yield"
    response = crop.sources["ky"] if crop.ky_season else "not known: 1, FAO-56 ch. 8"
    terms = (
        Term("b", salt.slope_percent, Unit.NUMBER, source),
        Term("ECe", salt.ece_ds_m, Unit.NUMBER, "measured in the soil of the root zone, dS/m"),
        Term("ECt", salt.threshold_ds_m, Unit.NUMBER, source),
        Term("most", MOST_SALT_LOSS, Unit.SHARE, least),
        Term("Ky", salt.ky, Unit.NUMBER, response),
    )
    formula = "max(1 - min(b / 100 * max(ECe - ECt, 0), most) / Ky, 0)"
    left = Term("Ksalt", salt.share, Unit.NUMBER, COMPUTED)
    full = Term(fresh.result, fresh.value, Unit.NUMBER, COMPUTED)
    return [
        Step(StepKey.KS_SALT, "Ksalt", formula, terms, salt.share, Unit.NUMBER),
        Step(key, symbol, f"Ksalt * {fresh.result}", (left, full), kc, Unit.NUMBER),
    ]


def _root_formula(limits: LimitsInForce, days: Term, stage: Stage) -> Formula:
    crop = limits.season.crop
    source = crop.sources["root_depth"]
    hard, table = limits.profile.root_limit_mm, limits.table_mm
    why = "roots end in this soil" if hard <= table else "roots end above the water table"
    bottom = Term("bottom", min(hard, table), Unit.DEPTH_MM, why)
    z1 = Term("z1", crop.root_initial_mm, Unit.DEPTH_MM, source)
    z2 = Term("z2", crop.root_schedule_mm, Unit.DEPTH_MM, source)
    if crop.perennial or days.value >= sum(crop.stage_days[:2]):
        return "min(z2, bottom)", (z2, bottom)
    if stage is Stage.INITIAL:
        return "min(z1, bottom)", (z1, bottom)
    first, second = (
        Term(f"L{i}", float(crop.stage_days[i - 1]), Unit.NUMBER, crop.sources["stage_days"])
        for i in (1, 2)
    )
    return "min(z1 + (z2 - z1) * (day - L1) / L2, bottom)", (z1, z2, days, first, second, bottom)


def _use(key: StepKey, symbol: str, coefficient: Step, et: StatedEt) -> Step:
    """What a day uses by a coefficient."""
    by = Term(coefficient.result, coefficient.value, Unit.NUMBER, COMPUTED)
    et0 = Term("ET0", et.expected, Unit.WATER_MM_DAY, et.source)
    value = coefficient.value * et.expected
    return Step(key, symbol, f"{by.symbol} * ET0", (by, et0), value, Unit.WATER_MM_DAY)


def use_term(steps: Sequence[Step]) -> Term:
    """What the crop itself uses in a day, by which p is adjusted, from `crop_steps`."""
    used = next(s for s in steps if s.key in (StepKey.TRANSPIRATION, StepKey.ETC))
    return Term(used.result, used.value, used.unit, COMPUTED)


def crop_steps(
    limits: LimitsInForce, et: StatedEt, root_mm: float, evaporation: SoilEvaporation
) -> list[Step]:
    """Root depth, Kc and ETc of today; Kc of a dual coefficient from its parts.

    Parameters
    ----------
    limits : LimitsInForce
        With the basal crop where the coefficient is dual.
    root_mm : float [mm]
    evaporation : SoilEvaporation
        Of the block alone.
    """
    season = limits.season
    crop = season.crop
    today: CropDays = limits.crop_at(np.zeros(1))
    stage = Stage(str(today.stage[0]))
    coefficient = float(today.kc[0])
    dual = evaporation.layer is not None and bool(evaporation.dual[0])
    key, symbol = (StepKey.KCB, "Kcb") if dual else (StepKey.KC, "Kc")
    day = limits.day_now
    days = Term("day", float(today.book_day[0]), Unit.NUMBER, _day_source(season, day))
    cut = limits.days_since_cut
    on = season.planted_on + timedelta(days=day)
    climate = climate_step(season, on)
    if cut is None:
        book = _kc_formula(crop, days, stage, climate)
    else:
        book = _cut_formula(crop, cut, climate)
    roots = Step(
        StepKey.ROOT_DEPTH, "z", *_root_formula(limits, days, stage), root_mm, Unit.DEPTH_MM
    )
    asked = climate is not None and any(t.symbol == climate.result for t in book[1])
    head = [roots, climate] if climate is not None and asked else [roots]
    salt = season.salt if stage is not Stage.DORMANT else None
    if salt is None:
        out = [*head, *_cover_steps(season, day, book, coefficient, key, symbol)]
    else:
        fresh = coefficient / salt.share
        out = [*head, *_cover_steps(season, day, book, fresh, StepKey.KC_FRESH, "Kfresh")]
        out += _salt_steps(salt, crop, out[-1], coefficient, key, symbol)
    if dual and evaporation.layer is not None:
        out.append(_use(StepKey.TRANSPIRATION, "Tc", out[-1], et))
        top = limits.profile.limits[0]
        known = season.climate is not None and season.climate.known_on(on)
        out += evaporation_steps(evaporation.today, evaporation.layer, top, coefficient, known)
    return [*out, _use(StepKey.ETC, "ETc", out[-1], et)]
