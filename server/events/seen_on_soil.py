"""The full points that sensors have shown on every block of a soil."""

from collections import defaultdict
from dataclasses import dataclass

from core.instrument.kinds import InstrumentKind, reads_content
from core.learned.horizon_full import HorizonFull, horizon_full
from server.blocks.loading import blocks_of
from server.blocks.models import Block
from server.events.full_points import told_by_season
from server.events.models import Wetting
from server.farms.access import Access
from server.soils.convert import soil_profile
from server.soils.models import SoilProfile
from server.soils.services import soils_today


@dataclass(frozen=True)
class SeenOnBlock:
    """A block of the soil and a horizon of which its sensors have told."""

    block: Block
    horizon: HorizonFull


def seen_on_soil(access: Access, soil: SoilProfile) -> list[SeenOnBlock]:
    """By block and horizon, from the events that have been read so far; blocks of which none
    tells anything are left out."""
    ids = [block for block, (_, on) in soils_today(access).items() if on == soil.pk]
    blocks = {b.pk: b for b in blocks_of(access.farm, ("seasons",)).filter(pk__in=ids)}
    profile = soil_profile(soil)
    content = [str(kind) for kind in InstrumentKind if reads_content(kind)]
    rows = Wetting.objects.for_farm(access.farm).filter(
        block__in=blocks, instrument__kind__in=content
    )
    by_block: dict[int, list[Wetting]] = defaultdict(list)
    for row in rows.select_related("instrument"):
        by_block[row.block_id].append(row)
    out = []
    for pk, block in blocks.items():
        now, _ = told_by_season(block, by_block[pk], access.now())
        points = sorted(((depth, p) for (_, depth), p in now.items()), key=lambda x: x[0])
        out += [SeenOnBlock(block, h) for h in horizon_full(profile, points)]
    return out
