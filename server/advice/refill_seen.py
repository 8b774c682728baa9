"""The refill point and the use that a block's crop has shown this season."""

from dataclasses import dataclass
from datetime import timedelta

import numpy as np

from core.advice.assess import season_or_why
from core.advice.inputs import BlockInputs
from core.advice.learned import Learned
from core.crop.season import STAGE_ORDER, CropSeason, Stage, season_days
from core.events.event import wetting_events
from core.instrument.kinds import reads_content
from core.learned.refill_point import RefillPoint, SiteRefill, refill_point, site_refill
from core.learned.uptake import UptakeDays, uptake_days
from core.learned.use_factor import UseFactor, use_factor
from core.limits.refill_method import VALUE_RANGE, RefillMethod
from core.quality.climbs import DAY_HOURS
from core.regime.assess import block_learned
from server.advice.answers import load
from server.blocks.models import Block
from server.blocks.record_days import first_day
from server.events.bring_up import site_records
from server.events.reading import InstrumentRecord, midnight
from server.farms.models import Farm


@dataclass(frozen=True)
class BlockRefill:
    """What a block shows.

    sites : by the instruments that read content, each with its record
    wetted_share : share of the ground that sites stand in [-]; their depths are of that ground
    raw_mm, taw_mm : in force, of the whole ground [mm]
    told : of the whole ground [mm]; None where no site shows a break
    use : of mid season; None where too few days tell it
    """

    sites: tuple[tuple[InstrumentRecord, SiteRefill], ...]
    wetted_share: float
    raw_mm: float
    taw_mm: float
    told: RefillPoint | None
    use: UseFactor | None

    @property
    def share(self) -> float | None:
        """The refill point that was seen as a share of the available water [-]; None where it
        can't be one."""
        if self.told is None:
            return None
        low, high = VALUE_RANGE[RefillMethod.FLAT]
        share = round(self.told.depletion_mm / self.taw_mm, 2)
        return share if low <= share <= high else None


def block_refill(farm: Farm, block: Block, inputs: BlockInputs | None = None) -> BlockRefill | None:
    """What a block shows, of its inputs where they are loaded already; None where nothing is
    estimated of it."""
    inputs = inputs or load(farm, [block], farm.now()).inputs[block.pk]
    found = block_learned(inputs)
    if found is None:
        return None
    sites = _sites(farm, block, inputs, found)
    ground = inputs.assumed.wetted_share
    # A share that a person has set is none that the field has shown.
    estimated = found.raw_mm / ground if found.by_crop else float("nan")
    told = refill_point([s for _, s in sites], estimated, found.raw_sigma_mm / ground)
    if told is not None:
        told = RefillPoint(
            told.depletion_mm * ground, told.low_mm * ground, told.high_mm * ground, told.sites
        )
    use = use_factor(
        [_of_mid_season(inputs, site.days) for _, site in sites], found.raw_mm / found.taw_mm
    )
    return BlockRefill(sites, ground, found.raw_mm, found.taw_mm, told, use)


def _of_mid_season(inputs: BlockInputs, days: UptakeDays) -> UptakeDays:
    """The days on which the crop stood in mid season: Kc is flat then, and roots are full-grown."""
    season = season_or_why(inputs)
    if not isinstance(season, CropSeason) or not days.ends_hours.size:
        return days
    noons = [inputs.now + timedelta(hours=h - DAY_HOURS / 2) for h in days.ends_hours.tolist()]
    first = noons[0].date()
    grown = season_days([season], first, (noons[-1].date() - first).days + 1)
    at = [(noon.date() - first).days for noon in noons]
    mid = grown.stage_index[0, at] == STAGE_ORDER.index(Stage.MID)
    return UptakeDays(**{name: values[mid] for name, values in vars(days).items()})


def _sites(
    farm: Farm, block: Block, inputs: BlockInputs, found: Learned
) -> tuple[tuple[InstrumentRecord, SiteRefill], ...]:
    now = farm.now()
    begin = midnight(first_day(block, now.date()), now)
    records = [
        r for r in site_records(farm, block, begin, now, {}) if reads_content(r.record.site.kind)
    ]
    levels = {(level.site, level.depth_mm): level.estimated for level in found.levels}
    out = []
    for of, events in zip(records, wetting_events([r.record for r in records]), strict=True):
        full = [levels.get((of.instrument.label, d)) for d in of.record.site.depth_mm.tolist()]
        at_full = np.array([np.nan if x is None else x for x in full])
        days = uptake_days(of.record, events, inputs.assumed.profile, at_full)
        out.append((of, site_refill(days)))
    return tuple(out)
