"""The arithmetic behind an advice, as steps that a person can redo by hand."""

from dataclasses import dataclass
from enum import StrEnum

COMPUTED = "computed above"


class Unit(StrEnum):
    """What a figure is, so that the interface can show it in the user's units."""

    NUMBER = "number"
    SHARE = "share"
    THETA = "theta"
    TENSION_KPA = "tension_kpa"
    WATER_MM = "water_mm"
    DEPTH_MM = "depth_mm"
    WATER_MM_DAY = "water_mm_day"
    EQUATION_MM_DAY = "equation_mm_day"  # stays in mm/day: the equation's constants need it
    RATE_MM_H = "rate_mm_h"
    FLOW_M3_H = "flow_m3_h"
    VOLUME_M3 = "volume_m3"
    AREA_M2 = "area_m2"
    HOURS = "hours"
    DAYS = "days"
    MPA = "mpa"


class StepKey(StrEnum):
    """What a step works out."""

    ROOT_DEPTH = "root_depth"
    KC = "kc"
    KC_CLIMATE = "kc_climate"
    KC_FRESH = "kc_fresh"
    KS_SALT = "ks_salt"
    KCB = "kcb"
    TRANSPIRATION = "transpiration"
    KC_MAX = "kc_max"
    COVER = "cover"
    EXPOSED = "exposed"
    TEW = "tew"
    KR = "kr"
    KE = "ke"
    ETC = "etc"
    CAPILLARY_RISE = "capillary_rise"
    TAW = "taw"
    P_CROP = "p_crop"
    P_FLAT = "p_flat"
    P_TENSION = "p_tension"
    THETA_AT_LIMIT = "theta_at_limit"
    KC_BOOK = "kc_book"
    COVER_FACTOR = "cover_factor"
    RAW = "raw"
    TAW_LEARNED = "taw_learned"
    RAW_LEARNED = "raw_learned"
    START_HELD = "start_held"
    DEFICIT = "deficit"
    DEFICIT_CARRIED = "deficit_carried"
    DEFICIT_SITES = "deficit_sites"
    BALANCE = "balance"
    DEFICIT_NOW = "deficit_now"
    TAKEN_LOSS = "taken_loss"
    NEEDED_BY = "needed_by"
    USABLE = "usable"
    USED_SHARE = "used_share"
    DAYS_LEFT = "days_left"
    LATEST_START = "latest_start"
    GROSS = "gross"
    NET = "net"
    VOLUME = "volume"
    LEACHING_OWED = "leaching_owed"
    LEACHING_DUE = "leaching_due"
    LEACHING_SHARE = "leaching_share"
    RATE = "rate"
    RATE_EMITTERS = "rate_emitters"
    SAFE_DEPTH = "safe_depth"
    PULSE_DEPTH = "pulse_depth"
    PULSES = "pulses"
    PULSE_HOURS = "pulse_hours"
    DAILY_DUE = "daily_due"
    HOURS = "hours"
    PONDED_LOSS = "ponded_loss"
    WATER_TO_LIMIT = "water_to_limit"
    DAYS_TO_LIMIT = "days_to_limit"
    RISE_DEPTH = "rise_depth"
    FILL_HOURS = "fill_hours"
    LEAF_NOW = "leaf_now"
    LEAF_AT_EDGE = "leaf_at_edge"
    LOWEST_STORE = "lowest_store"
    ABOVE_LOWEST = "above_lowest"
    TO_UPPER_EDGE = "to_upper_edge"
    SHARE_DUE = "share_due"


@dataclass(frozen=True)
class Term:
    """One input of a step: symbol as in the formula, value, unit and where it comes from."""

    symbol: str
    value: float
    unit: Unit
    source: str


@dataclass(frozen=True)
class Step:
    """``result`` = ``formula`` of the ``terms``."""

    key: StepKey
    result: str
    formula: str
    terms: tuple[Term, ...]
    value: float
    unit: Unit


@dataclass(frozen=True)
class LayerRow:
    """One part of the root zone as one sensor sees it.

    value : the reading in core units; a tension becomes theta by ``curve_formula`` of the
        ``curve`` terms with psi the reading, times (1 - gravel)
    ``doubt`` is empty where the reading was used; then the figures below it are given. Where the
        layer reaches into another horizon than the sensor's, ``theta`` is that horizon's at psi =
        ``equal_formula`` of the ``equal`` terms, see `core.store.by_tension`; it is None where the
        share left is taken as it is where the sensor is, at full and above and at wilting
    watered : share of the ground that is watered; available, deficit and surplus are over all of
        it: available = thickness x (full - wilting) x watered
    """

    site: str
    depth_mm: float
    hours: float | None
    value: float | None
    is_tension: bool
    doubt: str
    curve_formula: str
    curve: tuple[Term, ...]
    gravel: float
    equal_formula: str
    equal: tuple[Term, ...]
    equal_kpa: float | None
    theta: float | None
    horizon: str
    top_mm: float | None
    bottom_mm: float | None
    theta_full: float
    theta_wilt: float
    available_mm: float | None
    fraction: float | None
    deficit_mm: float | None
    surplus_mm: float | None
    watered: float


@dataclass(frozen=True)
class BalanceRow:
    """One past day of the balance, all water depths [mm]; ``day`` counts back from now, below 0.

    ``depletion_mm`` at its start, ``hours`` from now, after the sensors were heard and moved it by
    ``corrected_mm``; the next row's forecast = depletion + ET + drained + ran off + new soil -
    water in. ``observed_mm`` is the deficit of the readings nearest to the start, as read; where
    the sensors lead it is their deficit at the start. ``new_soil_mm`` is None where it was not
    kept.
    """

    day: int
    hours: float
    forecast_mm: float
    observed_mm: float | None
    gain: float
    corrected_mm: float
    depletion_mm: float
    sigma_mm: float
    water_in_mm: float
    et0_mm: float
    recorded: bool
    kc: float
    use_factor: float
    ks: float
    et_mm: float
    drained_mm: float
    runoff_mm: float
    new_soil_mm: float | None


@dataclass(frozen=True)
class DayRow:
    """One day of the outlook; deficits at its start, all water depths [mm].

    ``bare_mm`` is what the wet soil gives off within ``etc_mm`` where that is apart from Kc, None
    where it was not kept.
    """

    day: int
    kc: float
    et0_mm: float
    ks: float
    etc_mm: float
    bare_mm: float | None
    water_in_mm: float
    drained_mm: float
    new_soil_mm: float
    p: float
    taw_mm: float
    raw_mm: float
    deficit_mm: float
    usable_mm: float
    chance_past: float | None
