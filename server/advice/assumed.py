"""What an advice assumed, as it is kept beside it and shown."""

from datetime import date

import numpy as np

from core.advice.assumptions import Assumptions
from core.arrays import Floats
from core.crop.cutting import Harvested
from core.crop.season import Stage
from core.leaf.bands import LeafPhase, Product
from core.leaf.steering import Side, Strategy
from core.limits.by_day import limits_by_day
from core.limits.refill_method import REFILL_METHODS, RefillMethod
from core.state.estimate_from import EstimateFrom
from server.base.schema import Schema

FORECAST_DAYS = 10


class AssumedLayer(Schema):
    """A horizon: depths [mm], limits [m3/m3], gravel by volume [-]."""

    top_mm: float
    bottom_mm: float
    texture: str
    theta_full: float
    theta_wilt: float
    gravel: float


class AssumedCrop(Schema):
    """The crop: Kc and basal Kcb at the start, in the middle, at the end [-], allowable depletion
    p at 5 mm/day [-], tension limit [kPa], root depth [mm]."""

    name: str
    planted_on: date
    kc: list[float]
    kcb: list[float] | None
    surface: str
    p: float
    tension_kpa: float | None
    root_mm: float


class AssumedSystem(Schema):
    """The equipment: rate over the block [mm/h], efficiency [-], bounds of an irrigation [mm]."""

    kind: str
    rate_mm_h: float
    efficiency: float
    smallest_mm: float
    largest_mm: float | None


class AssumedField(Schema):
    """A bunded field: levels above the ground, below zero under it [mm], percolation [mm/day] and
    drainable porosity [-] as measured, null where the tube alone told."""

    bund_mm: float
    started: str
    threshold_mm: float
    refill_to_mm: float
    keep_ponded_until: date | None
    drying_from: date | None
    percolation_mm_day: float | None
    porosity: float | None


class AssumedBand(Schema):
    """Edges of a phase, midday stem water potential [MPa]."""

    phase: LeafPhase
    upper_mpa: float
    lower_mpa: float


class AssumedSteering(Schema):
    """How the block is steered by its leaves; ``use_share`` of ETc, ``zones`` by name [-]."""

    product: Product
    strategy: Strategy
    bands: list[AssumedBand]
    zones: dict[str, float]
    use_share: float | None
    since: date | None
    application_mm: float | None
    side: Side | None


class AssumedStage(Schema):
    """A stage of a plan of less water: a share of ETc, or of the available water [-]."""

    stage: Stage
    use_share: float | None
    allowed: float | None


class AssumedDeficit(Schema):
    """A plan of less water; ``application_mm`` is net."""

    stages: list[AssumedStage]
    since: date | None
    application_mm: float | None


class AssumedCuts(Schema):
    """A calendar of cuts or grazings."""

    harvested: Harvested
    planned: list[date]
    every_days: int | None
    last_on: date | None
    dry_before_days: int
    taken_days: int | None


class Assumed(Schema):
    """`core.advice.assumptions.Assumptions` in figures; null is not known.

    ``refill_method`` sets the refill point by ``value``: p at 5 mm/day or the flat share [-], or
    the tension [kPa]. ``forecast_et0_mm`` and ``forecast_rain_mm`` are the means of the forecast's
    members by day, empty where there was none. ``wind_m_s`` and ``rh_min`` are the climate that Kc
    follows; ``water_table_mm`` is that day's.
    """

    estimate_from: EstimateFrom
    refill_method: RefillMethod | None
    value: float | None
    soil: list[AssumedLayer]
    crop: AssumedCrop | None
    system: AssumedSystem | None
    et0_mm: list[float] | None
    et0_source: str
    et0_surface: str | None
    forecast_et0_mm: list[float] | None
    forecast_rain_mm: list[float] | None
    alfalfa_ratio: float | None
    rain_room_mm: float
    wetted_share: float | None
    intake_mm_h: float | None
    capillary_mm_day: float | None
    water_table_mm: float | None
    wind_m_s: float | None
    rh_min: float | None
    little_and_often: bool | None
    leaching_share: float | None
    dual: bool | None
    ponded: AssumedField | None
    leaf: AssumedSteering | None
    deficit: AssumedDeficit | None
    cutting: AssumedCuts | None


def _layers(assumed: Assumptions) -> list[AssumedLayer]:
    profile = assumed.profile
    return [
        AssumedLayer(
            top_mm=float(profile.top_mm[k]),
            bottom_mm=float(profile.bottom_mm[k]),
            texture=str(limits.texture),
            theta_full=limits.theta_full,
            theta_wilt=limits.theta_wilt,
            gravel=limits.gravel,
        )
        for k, limits in enumerate(profile.limits)
    ]


def _crop(assumed: Assumptions) -> AssumedCrop | None:
    if assumed.season is None:
        return None
    crop = assumed.season.crop
    return AssumedCrop(
        name=crop.name,
        planted_on=assumed.season.planted_on,
        kc=list(crop.kc),
        kcb=list(crop.kcb) if crop.kcb else None,
        surface=str(crop.surface),
        p=crop.p,
        tension_kpa=crop.tension_kpa,
        root_mm=crop.root_schedule_mm,
    )


def _by_day(members: Floats) -> list[float]:
    return [round(float(x), 2) for x in members[:, :FORECAST_DAYS].mean(axis=0)]


def _refill(assumed: Assumptions, on: date) -> tuple[RefillMethod | None, float | None]:
    """What sets the refill point on a day, and by which figure."""
    if assumed.season is None:
        return None, None
    limits = limits_by_day([assumed.ground(assumed.season)], on, 1)
    refill_method = REFILL_METHODS[int(limits.refill_method_index[0, 0])]
    by: dict[RefillMethod, Floats] = {
        RefillMethod.CROP_P: limits.p_table,
        RefillMethod.FLAT: limits.p_flat,
        RefillMethod.TENSION: limits.tension_kpa,
    }
    return refill_method, round(float(by[refill_method][0, 0]), 4)


def _table(assumed: Assumptions, on: date) -> float | None:
    """Depth of the water table on a day [mm]; None where it is not known."""
    if assumed.water_table is None:
        return None
    depth = float(assumed.water_table.on(on, 1)[0])
    return depth if np.isfinite(depth) else None


def _climate(assumed: Assumptions, on: date) -> tuple[float | None, float | None]:
    """Wind [m/s] and lowest humidity [percent] that Kc follows; None where they are not known."""
    climate = assumed.season.climate if assumed.season else None
    if climate is None or not climate.known_on(on):
        return None, None
    wind, humidity = climate.on(on, 1)
    return round(float(wind[0]), 2), round(float(humidity[0]), 1)


def _steering(assumed: Assumptions, on: date) -> AssumedSteering | None:
    leaf = assumed.leaf
    if leaf is None:
        return None
    return AssumedSteering(
        product=leaf.product,
        strategy=leaf.strategy,
        bands=[AssumedBand.model_validate(b) for b in leaf.bands],
        zones=dict(leaf.zones),
        use_share=leaf.use_share,
        since=leaf.since,
        application_mm=leaf.application_mm,
        side=leaf.sides.on(on)[0] if leaf.sides else None,
    )


def _deficit(assumed: Assumptions) -> AssumedDeficit | None:
    plan = assumed.deficit
    if plan is None:
        return None
    return AssumedDeficit(
        stages=[
            AssumedStage(stage=s, use_share=w.use_share, allowed=w.allowed)
            for s, w in plan.stages.items()
        ],
        since=plan.since,
        application_mm=plan.application_mm,
    )


def assumed_out(assumed: Assumptions, on: date) -> Assumed:
    """What is assumed of a block on a day, in figures."""
    system, et, forecast = assumed.system, assumed.et, assumed.forecast
    refill_method, value = _refill(assumed, on)
    wind, humidity = _climate(assumed, on)
    return Assumed(
        estimate_from=assumed.estimate_from,
        refill_method=refill_method,
        value=value,
        soil=_layers(assumed),
        crop=_crop(assumed),
        system=AssumedSystem(
            kind=str(system.kind),
            rate_mm_h=system.application_rate_mm_h,
            efficiency=system.efficiency,
            smallest_mm=system.smallest_mm,
            largest_mm=system.largest_mm,
        ),
        et0_mm=[et.low, et.expected, et.high] if et else None,
        et0_source=et.source if et else "",
        et0_surface=str(et.surface) if et else None,
        forecast_et0_mm=_by_day(forecast.et0_mm) if forecast else [],
        forecast_rain_mm=_by_day(forecast.rain_mm) if forecast else [],
        alfalfa_ratio=assumed.alfalfa_ratio,
        rain_room_mm=assumed.rain_room_mm,
        wetted_share=assumed.wetted_share,
        intake_mm_h=assumed.intake_mm_h if np.isfinite(assumed.intake_mm_h) else None,
        capillary_mm_day=assumed.capillary_mm_day,
        water_table_mm=_table(assumed, on),
        wind_m_s=wind,
        rh_min=humidity,
        little_and_often=assumed.little_and_often,
        leaching_share=assumed.leaching_share,
        dual=assumed.dual,
        ponded=AssumedField.model_validate(assumed.ponded) if assumed.ponded else None,
        leaf=_steering(assumed, on),
        deficit=_deficit(assumed),
        cutting=AssumedCuts.model_validate(assumed.cutting) if assumed.cutting else None,
    )
