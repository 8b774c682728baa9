"""What the salt of a block's water asks for."""

from core.crop.salinity import Leaching, leaching
from core.crop.season import CropSeason
from server.blocks.models import Block


def block_leaching(block: Block, season: CropSeason | None) -> Leaching | None:
    """Leaching of a block; None where its crop's tolerance or its water's salt is not known."""
    salt = season.crop.salt if season else None
    if salt is None or block.water_ecw is None:
        return None
    return leaching(salt.threshold_ds_m, salt.slope_percent, block.water_ecw)
