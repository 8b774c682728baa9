"""Answers for a farm's blocks at an instant, with what they were made of."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime

from core.advice.answer import Assessment
from core.advice.assess import assess, assess_blocks
from core.advice.inputs import BlockInputs
from server.advice.assemble import PAST_DAYS, block_inputs, recent_sets
from server.blocks.models import Block
from server.farms.models import Farm
from server.ground.facts import warmth_since
from server.water.models import Irrigation
from server.weather.recorded import FarmWeather, farm_weather


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

    ``as_known_then`` leaves out what was planned only later: for an instant that is past.
    """
    weather = farm_weather(farm, now, int(PAST_DAYS), warmth_since(blocks, now.date()))
    sets = recent_sets(farm, blocks, now)
    if as_known_then:
        sets = {b: [s for s in rows if s.started_at <= now] for b, rows in sets.items()}
    inputs = block_inputs(farm, blocks, now, weather, sets)
    return Loaded(farm, now, tuple(blocks), weather, inputs, sets)


def answers(loaded: Loaded) -> dict[int, Assessment]:
    """The answers of all blocks in one pass, without their working."""
    found = assess_blocks([loaded.inputs[b.pk] for b in loaded.blocks])
    return {b.pk: a for b, a in zip(loaded.blocks, found, strict=True)}


def answer_with_working(loaded: Loaded, block: Block) -> Assessment:
    """One block's answer with every step of its working."""
    return assess(loaded.inputs[block.pk])
