"""Crop seasons of a block: begun, mended, and bent by what was seen in the field."""

from core.crop.growth_stages import growth_stages
from core.crop.season import SAME_BUD_BREAK_DAYS
from core.sentence import sentence
from server.base.errors import NotFound, Problem, RequestError
from server.base.moment import AHEAD, TOO_FAR_AHEAD
from server.blocks.crop import book_key, season_crop
from server.blocks.limit_changes import timeline
from server.blocks.models import Block, CropSeason, EventKind, SeasonEvent
from server.blocks.rooting import require_depth
from server.blocks.schemas import EventIn, SeasonIn
from server.crops.services import season_columns
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.soils.convert import soil_profile


def check_clock(season: CropSeason) -> bool:
    """Whether the season's crop can be timed by the clock chosen."""
    by_warmth = season.clock == CropSeason.Clock.DEGREE_DAYS
    return not by_warmth or season_crop(season).degree_days is not None


def find_season(block: Block, season_id: int) -> CropSeason:
    """A season of a block.

    Raises
    ------
    NotFound
    """
    found = next((s for s in block.seasons.all() if s.pk == season_id), None)
    if found is None:
        raise NotFound(sentence("There is no such crop season in this block."))
    return found


@acting(Action.SET_UP_GROUND)
def save_season(
    access: Access, block: Block, data: SeasonIn, season_id: int | None = None
) -> CropSeason:
    """Begin a season or mend one; what was seen must still lie within it."""
    columns = season_columns(access, data.crop_key)
    season = CropSeason(block=block) if season_id is None else find_season(block, season_id)
    others = [s for s in block.seasons.all() if s.pk != season.pk]
    problems = []
    if any(s.planted_on == data.planted_on for s in others):
        problems.append(
            Problem(
                field="planted_on", message=sentence("The block has a crop from that date already.")
            )
        )
    if data.planted_on > access.now().date() + AHEAD:
        problems.append(Problem(field="planted_on", message=TOO_FAR_AHEAD))
    early = [e for e in season.events.all() if e.on < data.planted_on] if season.pk else []
    if early:
        problems.append(
            Problem(
                field="planted_on",
                message=sentence(
                    "There is an observation on {on}, before that date. Remove it first, or "
                    "choose an earlier date.",
                    on=early[0].on.isoformat(),
                ),
            )
        )
    season.crop_key, season.farm_crop = columns["crop_key"], columns["farm_crop"]
    season.planted_on, season.clock = data.planted_on, data.clock
    if not check_clock(season):
        problems.append(
            Problem(
                field="clock",
                message=sentence(
                    "This crop has no degree-days; count days, or add "
                    "degree-days to a copy of it first."
                ),
            )
        )
    if problems:
        raise RequestError(sentence("The season was not saved."), tuple(problems))
    standing = soil_profile(timeline(block.soils.all())[-1].soil)
    require_depth(standing, season_crop(season), sentence("The season was not saved."), "crop_key")
    season.save()
    done = Done.SEASON_ADDED if season_id is None else Done.SEASON_CHANGED
    record(access, done, block.name, block=block.pk)
    return season


@acting(Action.SET_UP_GROUND)
def delete_season(access: Access, block: Block, season_id: int) -> None:
    """Take a season away with what was seen in it; it stays in the change history."""
    find_season(block, season_id).delete()
    record(access, Done.SEASON_REMOVED, block.name, block=block.pk)


def _event_problem(access: Access, season: CropSeason, data: EventIn) -> Problem | None:
    """Why something can't have been seen, or None."""
    crop = season_crop(season)
    today = access.now().date()
    stages = {s.key: s for s in growth_stages(book_key(season))}
    if data.on > today:
        return Problem(
            field="on", message=sentence("{on} is in the future.", on=data.on.isoformat())
        )
    if data.on < season.planted_on:
        return Problem(
            field="on",
            message=sentence(
                "The crop was planted on {planted_on}; an observation can't be earlier.",
                planted_on=season.planted_on.isoformat(),
            ),
        )
    if data.kind == EventKind.STAGE:
        if data.stage_key not in stages:
            return Problem(field="stage_key", message=sentence("Choose a stage of this crop."))
        return _order_problem(season, data)
    if data.kind == EventKind.CUT and crop.cutting is None:
        return Problem(
            field="kind",
            message=sentence("{crop} has no cutting cycle in its values.", crop=crop.name),
        )
    if data.kind == EventKind.COVER:
        if crop.canopy is None:
            return Problem(
                field="kind",
                message=sentence("The Kc of {crop} does not depend on cover.", crop=crop.name),
            )
        if data.cover is None or not 0 < data.cover <= 1:
            return Problem(
                field="cover", message=sentence("Ground cover must be above 0 and at most 100 %.")
            )
        if data.height_m is None or not 0 < data.height_m <= 40:
            return Problem(
                field="height_m", message=sentence("The height must be between 0 and 40 m.")
            )
    return None


def _order_problem(season: CropSeason, data: EventIn) -> Problem | None:
    """Stages follow each other; one out of turn is a slip of the date or of the stage."""
    places = {s.key: s for s in growth_stages(book_key(season))}
    seen = places[data.stage_key]
    for event in season.events.all():
        other = places.get(event.stage_key)
        if other is None or event.on == data.on:
            continue
        apart = abs((event.on - data.on).days)
        if season_crop(season).perennial and apart > SAME_BUD_BREAK_DAYS:
            continue
        early, late = (other, seen) if event.on < data.on else (seen, other)
        if early.place > late.place:
            return Problem(
                field="stage_key",
                message=sentence(
                    "“{other}” was seen on {other_on}; “{seen}” can't stand on {observed_on}. "
                    "Check the date, or remove the other.",
                    other=other.name,
                    other_on=event.on.isoformat(),
                    seen=seen.name,
                    observed_on=data.on.isoformat(),
                ),
            )
    return None


@acting(Action.RECORD_READINGS)
def see(access: Access, block: Block, season_id: int, data: EventIn) -> SeasonEvent:
    """Record something seen or done; the same kind on the same day is put in its place."""
    season = find_season(block, season_id)
    problem = _event_problem(access, season, data)
    if problem is not None:
        raise RequestError(sentence("It was not recorded."), (problem,))
    event = next(
        (e for e in season.events.all() if e.kind == data.kind and e.on == data.on), None
    ) or SeasonEvent(season=season, kind=str(data.kind), on=data.on)
    event.stage_key = data.stage_key if data.kind == EventKind.STAGE else ""
    by_cover = data.kind == EventKind.COVER
    event.cover = data.cover if by_cover else None
    event.height_m = data.height_m if by_cover else None
    event.save()
    record(access, Done.OBSERVATION_ADDED, block.name, block=block.pk)
    return event


@acting(Action.RECORD_READINGS)
def remove_observation(access: Access, block: Block, season_id: int, event_id: int) -> None:
    """Take an observation back; it stays in the change history."""
    season = find_season(block, season_id)
    found = next((e for e in season.events.all() if e.pk == event_id), None)
    if found is None:
        raise NotFound(sentence("There is no such observation."))
    found.delete()
    record(access, Done.OBSERVATION_REMOVED, block.name, block=block.pk)
