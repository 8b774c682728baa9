"""The board, a block's answer with its working, and its past."""

from datetime import date

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router

from core.crop.growth_stages import growth_stages
from core.irrigation.system import SystemKind
from server.advice.answers import answer_with_working, load_whole
from server.advice.assemble import current_holds
from server.advice.board_schemas import BoardOut, RainAhead, RainDay
from server.advice.kept_board import kept_board
from server.advice.pages import kept_page
from server.advice.present import (
    ahead_points,
    answer_out,
    crop_name,
    decision_out,
    estimates_out,
    given_sets,
    horizons_out,
    leaf_points,
    level_points,
    limits_out,
    past_points,
    refill_methods_out,
    stated_et,
)
from server.advice.schemas import BlockOut
from server.advice.series import block_series
from server.advice.series_schemas import USUAL_DAYS, SeriesOut, Stretch
from server.advice.stored import lines, needs_refresh, refresh, todays_decisions
from server.base.error_schema import ERRORS
from server.base.json_out import packed_json, ready_json
from server.base.signed_in import person
from server.blocks.crop import book_key, season_under_way
from server.blocks.limit_changes import timeline
from server.blocks.models import Block
from server.blocks.schemas import StageChoice
from server.blocks.services import find_block
from server.farms.access import Access, enter
from server.farms.models import Farm
from server.instruments.api import instrument_out
from server.water.holds import hold_out
from server.weather.forecasts import days_ahead
from server.weather.recorded import FarmWeather, farm_weather

router = Router(tags=["advice"])
RAIN_SHOWN_DAYS = 14
RAIN_WORTH_SAYING = 0.1


def _rain(weather: FarmWeather) -> list[RainDay]:
    return [RainDay(date=d.date, rain_mm=d.rain_mm) for d in weather.days if d.rain_mm]


def _rain_ahead(weather: FarmWeather, today: date) -> list[RainAhead]:
    """Days of the forecast on which rain is not out of the question."""
    return [
        RainAhead(date=d.on, chance=d.rain_chance, likely_mm=d.rain_likely_mm)
        for d in days_ahead(weather.forecast, today)
        if d.rain_chance >= RAIN_WORTH_SAYING
    ]


def _stages(block: Block, today: date) -> list[StageChoice]:
    """What can be seen of the block's crop."""
    season = season_under_way(block, today)
    if season is None:
        return []
    return [StageChoice(key=s.key, name=s.name) for s in growth_stages(book_key(season))]


@router.get("/farms/{slug}/board", response={200: BoardOut, **ERRORS}, operation_id="board")
def board(request: HttpRequest, slug: str) -> HttpResponse:
    """Every block of the farm, most urgent first."""
    farm = enter(person(request), slug).farm
    if needs_refresh(farm, also_loggers=False):
        refresh(farm)
    return packed_json(request, kept_board(farm, lambda: _board(farm)))


def _board(farm: Farm) -> str:
    """The board as JSON. Its lines are kept so and sent as they are: checking 300 of them against
    the schema again would take longer than finding them."""
    now = farm.now()
    weather = farm_weather(farm, now, RAIN_SHOWN_DAYS)
    head = BoardOut(
        farm=farm.name,
        time_zone=farm.time_zone,
        now=now,
        simulated=farm.simulated,
        et=stated_et(weather),
        alfalfa_ratio=farm.alfalfa_ratio,
        rain=_rain(weather),
        rain_ahead=_rain_ahead(weather, now.date()),
        rows=[],
    ).model_dump_json(exclude={"rows"})
    return f'{head[:-1]},"rows":[{",".join(lines(farm))}]}}'


@router.get(
    "/farms/{slug}/blocks/{block_id}", response={200: BlockOut, **ERRORS}, operation_id="block"
)
def block_answer(request: HttpRequest, slug: str, block_id: int) -> HttpResponse:
    """One block with every step of its working."""
    access = enter(person(request), slug)

    def make() -> str:
        return _block_out(access, block_id).model_dump_json()

    return ready_json(request, kept_page(access.farm, block_id, "block", make))


def _block_out(access: Access, block_id: int) -> BlockOut:
    farm, now = access.farm, access.now()
    block = find_block(access, block_id)
    loaded = load_whole(farm, [block], now)
    inputs, sets = loaded.inputs[block.pk], loaded.sets.get(block.pk, [])
    answer = answer_with_working(loaded, block)
    return BlockOut(
        id=block.pk,
        name=block.name,
        area_m2=block.area_m2,
        crop=crop_name(inputs),
        planted_on=inputs.assumed.season.planted_on if inputs.assumed.season else None,
        system=SystemKind(block.system_kind),
        soil=timeline(block.soils.all())[-1].soil.name,
        is_cut=inputs.assumed.season is not None and inputs.assumed.season.crop.cutting is not None,
        time_zone=farm.time_zone,
        now=now,
        et=stated_et(loaded.weather),
        answer=answer_out(block, inputs, answer, sets),
        decision=decision_out(todays_decisions(farm, now, [block.pk]).get(block.pk)),
        holds=[hold_out(h) for h in current_holds(farm, [block], now).get(block.pk, [])],
        stages=_stages(block, now.date()),
        root_mm=answer.root_mm,
        etc_mm_day=answer.etc_mm_day,
        limits=limits_out(answer),
        horizons=horizons_out(inputs),
        layers=list(answer.layers),
        steps=list(answer.steps),
        days=list(answer.days),
        refill_methods=refill_methods_out(inputs, answer),
        weighed=answer.weighed,
        estimates=estimates_out(answer),
        balance=list(answer.balance),
        past=past_points(answer.past),
        ahead=ahead_points(answer),
        levels=level_points(answer),
        leaves=leaf_points(answer.leaf),
        sets=given_sets(sets, now),
        instruments=[
            instrument_out(i) for i in sorted(block.instruments.all(), key=lambda i: i.label)
        ],
    )


@router.get(
    "/farms/{slug}/blocks/{block_id}/series",
    response={200: SeriesOut, **ERRORS},
    operation_id="series",
)
def series(
    request: HttpRequest,
    slug: str,
    block_id: int,
    stretch: Query[Stretch],
) -> HttpResponse:
    """The past of a block, thinned to what a screen can show."""
    access = enter(person(request), slug)

    def make() -> str:
        block = find_block(access, block_id)
        return block_series(access.farm, block, stretch.days).model_dump_json()

    if stretch.days != USUAL_DAYS:
        return ready_json(request, make())
    return ready_json(request, kept_page(access.farm, block_id, "series", make))
