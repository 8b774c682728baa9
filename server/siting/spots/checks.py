"""Checks by hand beside a probe, with what it said then."""

from datetime import datetime, timedelta

import numpy as np

from core.instrument.site import Site
from core.sentence import sentence
from core.siting.hand_check import checked, theta_by_hand
from core.soil.profile import Profile
from server.base.errors import NotFound, Problem, RequestError
from server.blocks.loading import Ground, blocks_of
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.past_moment import past_moment
from server.farms.rules import Action
from server.instruments.models import Instrument
from server.readings.recent import thinned_readings
from server.readings.sites import channel_ids, instrument_sites
from server.siting.models import SpotCheck, SpotCheckDepth
from server.siting.spots.chosen import find_spot, spot_name
from server.siting.spots.schemas import SpotCheckIn

_PARTS = ("soils__soil__horizons", "instruments__channels", "instruments__events")
# Around a check, of which readings are looked at.
AROUND = timedelta(hours=6)


def _site_at(access: Access, instrument: Instrument, at: datetime) -> tuple[Profile, Site | None]:
    """The soil of an instrument's block, and what it said around an instant."""
    block = blocks_of(access.farm, _PARTS).get(pk=instrument.block_id)
    until = min(at + AROUND, access.now())
    soil = Ground().under(block, at.date()) or Ground().under(block, access.now().date())
    profile = soil[-1].profile
    days = 2 * AROUND / timedelta(days=1)
    readings = thinned_readings(channel_ids([block]), until, days, 1.0)
    sites = instrument_sites(block, profile, readings, until)
    return profile, next((s for i, s in sites if i.pk == instrument.pk), None)


@acting(Action.RECORD_READINGS)
def add_check(access: Access, spot_id: int, data: SpotCheckIn) -> SpotCheck:
    """Hold a probe against what was found by hand; what it said then is kept beside it.

    Raises
    ------
    RequestError
        When nothing was installed, the check is of a time to come, or a depth appears twice.
    """
    row = find_spot(access, spot_id)
    if row.instrument is None:
        raise RequestError(sentence("No instrument stands at this spot. Install one first."))
    refused = sentence("The check was not saved.")
    at = past_moment(access, data.at, "at", refused)
    if len({d.depth_mm for d in data.depths}) < len(data.depths):
        problem = Problem(field="depths", message=sentence("A depth appears twice."))
        raise RequestError(refused, (problem,))
    profile, site = _site_at(access, row.instrument, at)
    depths = sorted(data.depths, key=lambda d: d.depth_mm)
    mm = [d.depth_mm for d in depths]
    by_hand = theta_by_hand(data.way, mm, [d.value for d in depths], profile)
    now = access.now()
    hours = (at - min(at + AROUND, now)).total_seconds() / 3600
    made = SpotCheck(
        spot=row,
        at=at,
        way=str(data.way),
        note=data.note.strip(),
        made_at=now,
        made_by=access.user,
    )
    made.save()
    for depth in checked(site, hours, mm, [float(v) for v in by_hand]):
        SpotCheckDepth(
            spot_check=made,
            depth_mm=depth.depth_mm,
            by_hand=min(max(depth.by_hand, 0.0), 1.0),
            sensor=None if np.isnan(depth.sensor) else depth.sensor,
        ).save()
    record(access, Done.SPOT_CHECKED, spot_name(row), block=row.block_id)
    return made


@acting(Action.SET_UP_GROUND)
def remove_check(access: Access, check_id: int) -> None:
    """Take a check off the record.

    Raises
    ------
    NotFound
    """
    rows = SpotCheck.objects.for_farm(access.farm).select_related("spot__block")
    row = rows.filter(pk=check_id).first()
    if row is None:
        raise NotFound(sentence("There is no such check on this farm."))
    record(access, Done.SPOT_CHECK_REMOVED, spot_name(row.spot), block=row.spot.block_id)
    row.delete()
