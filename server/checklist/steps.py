"""How far a farm is set up."""

from collections.abc import Callable, Mapping
from datetime import timedelta

from django.db.models import Exists, OuterRef

from server.base.schema import Body, Schema
from server.blocks.crop import season_under_way
from server.blocks.models import Block
from server.checklist.models import SetupStep, SkippedStep
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.models import Farm, Membership
from server.farms.rules import Action
from server.instruments.models import Channel, Instrument
from server.readings.models import Reading
from server.soils.models import SoilProfile
from server.water.equipment import block_design
from server.weather.forecasts import forecast_at
from server.weather.models import WeatherDay

# Weather that is older helps no morning.
RECENT_DAYS = 3


class SkipIn(Body):
    skipped: bool


class SetupStepOut(Schema):
    """A step of setting up; ``count`` things have it, of ``of`` where all should."""

    step: SetupStep
    done: bool
    skipped: bool
    count: int
    of: int | None


def _position(farm: Farm) -> tuple[int, int | None]:
    return int(farm.latitude is not None), 1


def _soil(farm: Farm) -> tuple[int, int | None]:
    return SoilProfile.objects.for_farm(farm).count(), None


def _blocks(farm: Farm) -> tuple[int, int | None]:
    return Block.objects.for_farm(farm).count(), None


def _equipment(farm: Farm) -> tuple[int, int | None]:
    """Blocks whose equipment is known by its design, not only by its rate."""
    blocks = list(Block.objects.for_farm(farm))
    return sum(block_design(b) is not None for b in blocks), len(blocks)


def _crop(farm: Farm) -> tuple[int, int | None]:
    today = farm.now().date()
    blocks = list(Block.objects.for_farm(farm).prefetch_related("seasons"))
    return sum(season_under_way(b, today) is not None for b in blocks), len(blocks)


def _weather(farm: Farm) -> tuple[int, int | None]:
    """Where the ET of the days ahead and behind comes from: entered, forecast, recorded."""
    now = farm.now()
    since = now.date() - timedelta(days=RECENT_DAYS)
    recorded = WeatherDay.objects.for_farm(farm).filter(date__gte=since).exists()
    known = (farm.et0_expected is not None, forecast_at(farm, now) is not None, recorded)
    return sum(known), None


def _instruments(farm: Farm) -> tuple[int, int | None]:
    return Instrument.objects.for_farm(farm).count(), None


def _readings(farm: Farm) -> tuple[int, int | None]:
    """Instruments that were ever read."""
    was_read = Exists(Reading.unscoped.filter(channel=OuterRef("pk")))
    read = Channel.objects.for_farm(farm).filter(was_read)
    instruments = Instrument.objects.for_farm(farm).count()
    return read.values("instrument").distinct().count(), instruments


def _people(farm: Farm) -> tuple[int, int | None]:
    return Membership.objects.filter(farm=farm).count() - 1, None


COUNTED: Mapping[SetupStep, Callable[[Farm], tuple[int, int | None]]] = {
    SetupStep.POSITION: _position,
    SetupStep.SOIL: _soil,
    SetupStep.BLOCKS: _blocks,
    SetupStep.EQUIPMENT: _equipment,
    SetupStep.CROP: _crop,
    SetupStep.WEATHER: _weather,
    SetupStep.INSTRUMENTS: _instruments,
    SetupStep.READINGS: _readings,
    SetupStep.PEOPLE: _people,
}


def steps_of(farm: Farm) -> list[SetupStepOut]:
    """Every step; one is done as soon as one thing has it."""
    skipped = set(SkippedStep.objects.for_farm(farm).values_list("step", flat=True))
    out = []
    for step in SetupStep:
        count, of = COUNTED[step](farm)
        out.append(
            SetupStepOut(step=step, done=count > 0, skipped=step in skipped, count=count, of=of)
        )
    return out


@acting(Action.SET_UP_GROUND)
def skip_step(access: Access, step: SetupStep, skipped: bool) -> None:
    """Say that a step is not needed, or that it is after all."""
    rows = SkippedStep.objects.for_farm(access.farm).filter(step=step)
    if skipped == rows.exists():
        return
    if skipped:
        SkippedStep(farm=access.farm, step=step, at=access.now(), by=access.user).save()
    else:
        rows.delete()
    record(access, Done.SETUP_STEP_SKIPPED if skipped else Done.SETUP_STEP_REOPENED, step)
