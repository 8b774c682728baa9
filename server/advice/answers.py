"""Answers for a farm's blocks at an instant, with what they were made of."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from django.db import transaction

from core.advice.answer import Assessment
from core.advice.assess import season_or_why
from core.advice.inputs import BlockInputs
from core.advice.replay import replay
from core.advice.vocabulary import Confidence, Reason, State
from core.crop.season import CropSeason
from core.estimate.checkpoint import Checkpoint
from core.ponded.losses_learned import LOOKED_BACK_DAYS
from core.regime.assess import assess, assess_blocks
from core.state.estimate_from import EstimateFrom
from server.advice.assemble import LATELY_DAYS, block_inputs, recent_sets
from server.advice.mornings import (
    checkpoints,
    followed_in_vain,
    keep,
    lock_farm,
    mornings_to_keep,
    note_in_vain,
)
from server.base.incident import record_incident
from server.blocks.crop import season_under_way
from server.blocks.models import Block
from server.blocks.record_days import days_back
from server.deficits.models import less_water_of
from server.farms.models import Farm
from server.leaves.models import steering_of
from server.limits.facts import warmth_since
from server.paddies.models import paddy_of
from server.water.models import Irrigation
from server.weather.recorded import FarmWeather, farm_weather

# A morning goes on from a checkpoint this many days back without being brought up first.
FURTHEST_DAYS = 6
NOT_WORKED_OUT = Assessment(State.NO_RELIABLE_DATA, (Reason.NOT_WORKED_OUT,), Confidence.NONE)
# So many blocks are followed from their first day at once: their readings fill the memory.
TOGETHER = 60


@dataclass(frozen=True)
class Loaded:
    """What is known of blocks at an instant, by block id."""

    farm: Farm
    now: datetime
    blocks: tuple[Block, ...]
    weather: FarmWeather
    inputs: dict[int, BlockInputs]
    sets: dict[int, list[Irrigation]] = field(default_factory=dict)


def load(farm: Farm, blocks: Sequence[Block], now: datetime, as_known_then: bool = False) -> Loaded:
    """Load blocks, with all their parts prefetched, in a fixed number of queries.

    Their ensembles go on from the mornings kept; a block that has none is followed from its
    first day first. ``as_known_then`` leaves out what was planned only later: for an instant
    that is past.
    """
    today = now.astimezone(ZoneInfo(farm.time_zone)).date()
    since = warmth_since(blocks, today)
    kept = bring_up(farm, blocks, now)
    # What a ponded field loses is learned from weeks of its tubes; leaves that were read, and water
    # that is due by a share of the use, are held against the whole season.
    ponded = [b for b in blocks if paddy_of(b)]
    whole = [b for b in blocks if _by_season(b)]
    others = [b for b in blocks if not paddy_of(b) and not _by_season(b)]
    out = _loaded(farm, others, now, LATELY_DAYS, since, as_known_then, kept)
    for some, days in (
        (ponded, LOOKED_BACK_DAYS + 1),
        (whole, max(days_back(whole, today), LATELY_DAYS) if whole else 0.0),
    ):
        if some:
            more = _loaded(farm, some, now, days, since, as_known_then)
            inputs, sets = {**out.inputs, **more.inputs}, {**out.sets, **more.sets}
            out = replace(out, blocks=tuple(blocks), inputs=inputs, sets=sets)
    return out


def _by_season(block: Block) -> bool:
    """Whether a block is watered by what its whole season has shown."""
    return bool(steering_of(block) or less_water_of(block)) and not paddy_of(block)


def load_whole(
    farm: Farm, blocks: Sequence[Block], now: datetime, as_known_then: bool = False
) -> Loaded:
    """Load blocks with all of their record: for a working, which tells of other methods that
    have no mornings kept."""
    today = now.astimezone(ZoneInfo(farm.time_zone)).date()
    days = max(days_back(blocks, today), LATELY_DAYS)
    return _loaded(farm, blocks, now, days, warmth_since(blocks, today), as_known_then)


def _loaded(
    farm: Farm,
    blocks: Sequence[Block],
    now: datetime,
    days: float,
    since: date | None,
    as_known_then: bool = False,
    kept: Mapping[int, Checkpoint] | None = None,
) -> Loaded:
    weather = farm_weather(farm, now, int(days), since)
    sets = recent_sets(farm, blocks, now, days)
    if as_known_then:
        sets = {b: [s for s in rows if s.started_at <= now] for b, rows in sets.items()}
    inputs = block_inputs(farm, blocks, now, weather, sets, days, kept=kept)
    return Loaded(farm, now, tuple(blocks), weather, inputs, sets)


def bring_up(farm: Farm, blocks: Sequence[Block], now: datetime) -> dict[int, Checkpoint]:
    """The newest checkpoint of each block, after blocks left behind were followed up to now."""
    today = now.astimezone(ZoneInfo(farm.time_zone)).date()
    kept = checkpoints(farm, [b.pk for b in blocks], today)
    behind = [b for b in blocks if _is_behind(kept.get(b.pk), b, today)]
    if behind:
        tried = followed_in_vain(farm, [b.pk for b in behind], today)
        behind = [b for b in behind if b.pk not in tried]
    for k in range(0, len(behind), TOGETHER):
        kept.update(_followed(farm, behind[k : k + TOGETHER], now, today))
    return kept


def _is_behind(at: Checkpoint | None, block: Block, today: date) -> bool:
    """Whether a block's ensemble is further back than a morning should have to go."""
    sensors_lead = block.estimate_from == EstimateFrom.SENSORS
    followed = paddy_of(block) or _by_season(block)
    if followed or sensors_lead or season_under_way(block, today) is None:
        return False
    return at is None or (today - at.on).days > FURTHEST_DAYS


@transaction.atomic
def _followed(
    farm: Farm, blocks: Sequence[Block], now: datetime, today: date
) -> dict[int, Checkpoint]:
    """Follow blocks through their record, and keep their mornings; the newest of each."""
    lock_farm(farm)
    loaded = load_whole(farm, blocks, now)
    grown = list(_with_season(loaded))
    own: dict[int, tuple[Checkpoint, ...]] = {}
    if grown:
        first = today - timedelta(days=days_back(blocks, today))
        rows, seasons = [loaded.inputs[i] for i, _ in grown], [s for _, s in grown]
        found = replay(rows, seasons, mornings_to_keep(first, today))
        own = {i: c for (i, _), c in zip(grown, found, strict=True) if c}
    keep(own, today, after={})
    # Without weather, an ET or a crop there is nothing to follow, today at least.
    note_in_vain([b.pk for b in blocks if b.pk not in own], today)
    return {i: c[-1] for i, c in own.items()}


def _with_season(loaded: Loaded) -> Iterator[tuple[int, CropSeason]]:
    """Blocks that have a crop and an ET on one surface, with the crop's season."""
    for block in loaded.blocks:
        season = season_or_why(loaded.inputs[block.pk])
        if isinstance(season, CropSeason):
            yield block.pk, season


def keep_checkpoints(loaded: Loaded, found: Mapping[int, Assessment]) -> None:
    """Keep yesterday's morning of blocks for tomorrow to go on from; the farm's lock must be
    held."""
    today = loaded.now.astimezone(ZoneInfo(loaded.farm.time_zone)).date()
    went_on = {b: i.checkpoint.on for b, i in loaded.inputs.items() if i.checkpoint}
    new = {
        b: (a.checkpoint,)
        for b, a in found.items()
        if a.checkpoint is not None and a.checkpoint.on > went_on.get(b, date.min)
    }
    keep(new, today, went_on)


def answers(loaded: Loaded) -> dict[int, Assessment]:
    """The answers of all blocks in one pass, without their working.

    Where one can't be worked out the others still are: it is found by halves, recorded, and says
    so of itself.
    """
    return _assessed(loaded, loaded.blocks)


def _assessed(loaded: Loaded, blocks: Sequence[Block]) -> dict[int, Assessment]:
    try:
        found = assess_blocks([loaded.inputs[b.pk] for b in blocks])
    except Exception:
        if len(blocks) == 1:
            record_incident(f"answer of block {blocks[0].pk}")
            return {blocks[0].pk: NOT_WORKED_OUT}
        half = len(blocks) // 2
        return {**_assessed(loaded, blocks[:half]), **_assessed(loaded, blocks[half:])}
    return {b.pk: a for b, a in zip(blocks, found, strict=True)}


def answer_with_working(loaded: Loaded, block: Block) -> Assessment:
    """One block's answer with every step of its working."""
    return assess(loaded.inputs[block.pk])
