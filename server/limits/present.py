"""A block's limits on a day and through its season, from the core to the wire."""

from datetime import date, timedelta

import numpy as np

from core.advice.stated_et import StatedEt
from core.arrays import Floats
from core.crop.reference import SurfacesDiffer
from core.crop.season import CropSeason, Stage, season_starts
from core.limits.by_day import LimitsByDay, limits_by_day
from core.limits.refill_method import FLAT_P, REFILL_METHODS, RefillMethod
from core.limits.root_zone import LayerLimits, layer_limits
from core.sentence import sentence
from core.soil.profile import Profile
from server.base.json_out import known
from server.blocks.limit_changes import timeline
from server.blocks.models import Block
from server.limits.facts import BlockFacts
from server.limits.models import BlockSoil, DatedChange, RefillRule
from server.limits.schemas import (
    BlockLimitsOut,
    ChangeOut,
    LayerOut,
    LeachingOut,
    RefillMethodLimits,
    SeasonCurve,
    WindowDates,
)
from server.soils.preview import yield_left
from server.water.equipment import wetted_share
from server.water.salt import block_leaching

MARGIN_DAYS = 7


def _name(change: DatedChange, field: str) -> str:
    user = getattr(change, field)
    return user.name if user else ""


def changes_out(block: Block) -> list[ChangeOut]:
    """Every change of the block's limits, the newest first; undone ones stay on record."""
    out = [
        ChangeOut(
            id=row.pk,
            kind="soil" if isinstance(row, BlockSoil) else "refill",
            from_on=row.from_on,
            soil=row.soil.name if isinstance(row, BlockSoil) else "",
            refill_method=RefillMethod(row.refill_method) if isinstance(row, RefillRule) else None,
            value=row.value if isinstance(row, RefillRule) else None,
            stage=Stage(row.stage) if isinstance(row, RefillRule) and row.stage else None,
            reason=row.reason,
            made_by=_name(row, "made_by"),
            made_at=row.made_at,
            undone_by=_name(row, "undone_by"),
            undone_at=row.undone_at,
        )
        for row in [*block.soils.all(), *block.refill_rules.all()]
    ]
    return sorted(out, key=lambda c: (c.made_at, c.id), reverse=True)


def _stretch(season: CropSeason, on: date) -> tuple[date, int]:
    """First day and length of the season that holds a date, with a margin either side."""
    starts = season_starts(season, on)
    begun = [s for s in starts if season.planted_on + timedelta(days=s) <= on] or [starts[0]]
    first = season.planted_on + timedelta(days=max(begun) - MARGIN_DAYS)
    days = sum(season.crop.stage_days) + 2 * MARGIN_DAYS
    # A crop that runs late still shows today.
    return first, max(days, (on - first).days + MARGIN_DAYS)


def _list(values: Floats) -> list[float | None]:
    return [None if np.isnan(x) else round(float(x), 2) for x in values]


def _curve(table: LimitsByDay, et0: float) -> SeasonCurve:
    refill = {s: _list(table.refill_mm(et0, s)[0]) for s in REFILL_METHODS}
    return SeasonCurve(
        first=table.first,
        full_mm=[round(float(x), 2) for x in table.full_mm[0]],
        wilt_mm=[round(float(x), 2) for x in table.wilt_mm[0]],
        root_mm=[round(float(x), 1) for x in table.root_mm[0]],
        kc=[round(float(x), 3) for x in table.crop.kc[0]],
        stage=[Stage(str(s)) for s in table.crop.stage[0]],
        in_force=[REFILL_METHODS[int(i)] for i in table.refill_method_index[0]],
        refill_mm=_list(table.refill_mm(et0)[0]),
        crop_p_mm=refill[RefillMethod.CROP_P],
        flat_mm=refill[RefillMethod.FLAT],
        tension_mm=refill[RefillMethod.TENSION],
    )


def _windows(table: LimitsByDay, season: CropSeason) -> list[WindowDates]:
    """Days on which the crop's own calendar stands in each window."""
    ends = np.concatenate([[0], np.cumsum(season.crop.stage_days)])
    book = table.crop.book_day[0]
    growing = np.isin(table.crop.stage_index[0], range(1, 5))
    out = []
    for w in season.crop.windows:
        start, end = np.interp([w.start, w.end], np.arange(5), ends)
        inside = np.flatnonzero((book >= start) & (book < end) & growing)
        if inside.size:
            out.append(
                WindowDates(
                    name=w.name,
                    ky=w.ky,
                    first=table.first + timedelta(days=int(inside[0])),
                    last=table.first + timedelta(days=int(inside[-1])),
                )
            )
    return out


def _source(refill_method: RefillMethod, value: float | None, book: str) -> str:
    """Where a method's starting value comes from."""
    if book:
        return book
    if refill_method is RefillMethod.FLAT and value == FLAT_P:
        return "common practice, no source"
    return "set for the block"


def _refill_methods(
    table: LimitsByDay, column: int, et0: float, profile: Profile, season: CropSeason
) -> list[RefillMethodLimits]:
    """Each method's refill point on one day."""
    out = []
    sources = season.crop.sources
    starts = {
        RefillMethod.CROP_P: (table.p_table, "p"),
        RefillMethod.FLAT: (table.p_flat, ""),
        RefillMethod.TENSION: (table.tension_kpa, "tension_kpa"),
    }
    own = {RefillMethod.CROP_P: season.crop.p, RefillMethod.TENSION: season.crop.tension_kpa}
    for i, refill_method in enumerate(REFILL_METHODS):
        values, source = starts[refill_method]
        value = known(values[0, column])
        p = known(table.p(et0, refill_method)[0, column])
        tension = value if refill_method is RefillMethod.TENSION else None
        layers = layer_limits(profile, float(table.root_mm[0, column]), p or 0.5, tension)
        taw = float(table.taw_mm[0, column])
        book = own.get(refill_method) == value and source in sources
        out.append(
            RefillMethodLimits(
                refill_method=refill_method,
                in_force=int(table.refill_method_index[0, column]) == i,
                value=value,
                p=p,
                raw_mm=p * taw if p is not None else None,
                refill_mm=known(table.refill_mm(et0, refill_method)[0, column]),
                kpa=layers[0].refill_kpa if p is not None and layers else None,
                source=_source(refill_method, value, sources[source] if book else ""),
            )
        )
    return out


def limits_out(block: Block, facts: BlockFacts, on: date, today: date) -> BlockLimitsOut:
    """Limits of a block on a date, by the soil and rules in force then."""
    soil, wetted = timeline(block.soils.all())[-1].soil, wetted_share(block)
    out = BlockLimitsOut(
        block_id=block.pk,
        name=block.name,
        on=on,
        today=today,
        crop=facts.season.crop.name if facts.season else None,
        crop_key=facts.season.crop.key if facts.season else None,
        crop_tension_kpa=facts.season.crop.tension_kpa if facts.season else None,
        stage=None,
        root_mm=None,
        kc=None,
        et0_mm_day=facts.et.expected if facts.et else None,
        et_source=facts.et.source if facts.et else "",
        etc_mm_day=None,
        full_mm=None,
        wilt_mm=None,
        taw_mm=None,
        taw_sigma_mm=None,
        refill_mm=None,
        raw_mm=None,
        wetted_share=wetted.share,
        wetted_source=wetted.source,
        soil=soil.name,
        soil_id=soil.pk,
        ece=None,
        relative_yield=None,
        water_ecw=block.water_ecw,
        leaching=None,
        layers=[],
        refill_methods=[],
        windows=[],
        curve=None,
        changes=changes_out(block),
        why_not="",
    )
    if facts.season is None:
        out.why_not = "No crop: limits need a root depth. Start a crop season below."
    elif facts.et is None:
        out.why_not = "No reference ET: enter it on the board."
    else:
        _fill(out, block, facts, facts.season, facts.et, on)
    return out


# Of a layer, what is water over the whole ground.
_WATER = ("full_mm", "refill_mm", "wilt_mm", "available_mm", "available_sigma_mm")


def _layer(layer: LayerLimits, profile: Profile, share: float) -> LayerOut:
    limits = profile.limits[layer.horizon]
    names = set(LayerOut.model_fields) - {"texture", "source"}
    own = {n: getattr(layer, n) * (share if n in _WATER else 1) for n in names}
    return LayerOut(**own, texture=limits.texture, source=limits.source)


def _fill(
    out: BlockLimitsOut,
    block: Block,
    facts: BlockFacts,
    planted: CropSeason,
    et: StatedEt,
    on: date,
) -> None:
    """The figures, where a crop and an ET are there to make them."""
    try:
        season = facts.on_et_surface(planted, et)
    except SurfacesDiffer as problem:
        out.why_not = sentence("{problem} (on the board, beside the ET).", problem=problem.message)
        return
    first, days = _stretch(season, on)
    share = out.wetted_share
    table = limits_by_day([facts.ground(season)], first, days)
    table = table.over_ground([share])
    column = (on - first).days
    if not 0 <= column < days:
        out.why_not = sentence("{on} is outside the crop's season.", on=on.isoformat())
        return
    et0 = et.expected
    began = [s for s in facts.soils if s.from_on is None or s.from_on <= on]
    profile = began[-1].profile
    refill_method = REFILL_METHODS[int(table.refill_method_index[0, column])]
    p = float(table.p(et0)[0, column])
    tension = float(table.tension_kpa[0, column]) if refill_method is RefillMethod.TENSION else None
    root = float(table.root_mm[0, column])
    layers = layer_limits(profile, root, p, tension)
    taw = float(table.taw_mm[0, column])
    out.stage = Stage(str(table.crop.stage[0, column]))
    out.root_mm = root
    out.kc = float(table.crop.kc[0, column])
    out.etc_mm_day = out.kc * et0
    out.full_mm = float(table.full_mm[0, column])
    out.wilt_mm = float(table.wilt_mm[0, column])
    out.taw_mm = taw
    out.taw_sigma_mm = share * float(np.sqrt(sum(x.available_sigma_mm**2 for x in layers)))
    out.raw_mm = p * taw
    out.refill_mm = out.full_mm - out.raw_mm
    out.ece = profile.mean_ece(root)
    out.relative_yield = yield_left(season.crop, out.ece)
    out.leaching = LeachingOut.of(block_leaching(block, season))
    out.layers = [_layer(x, profile, share) for x in layers]
    out.refill_methods = _refill_methods(table, column, et0, profile, season)
    out.windows = _windows(table, season)
    out.curve = _curve(table, et0)
