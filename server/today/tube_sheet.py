"""The sheet for the water tubes of a rice field: how to make, place and read them.

Sizes are common practice, no source.
"""

import json

from django.template.loader import render_to_string
from django.utils.translation import get_language

from core.instrument.kinds import InstrumentKind
from core.ponded.phases import FLOWERING_MM
from server.accounts.models import User
from server.base.figures import Figures
from server.blocks.models import Block
from server.blocks.services import find_block
from server.farms.access import Access
from server.files.confined import read_confined
from server.paddies.settings import find_paddy
from server.today.sheets import printed_pages
from server.today.written import foot_of_page

# Of the tube [mm]: its length, width, the part below the ground, holes, how far apart, and how far
# it stands from the bund.
LENGTH_MM, WIDTH_MM, UNDER_MM, HOLE_MM, APART_MM, AWAY_MM = 400, 100, 200, 5, 20, 1000
LINES = 14
# The drawing: the ground's line, and how long a millimetre is.
GROUND_Y, SCALE = 140.0, 95 / UNDER_MM


def tube_sheet(access: Access, block: Block, reader: User) -> str:
    """The sheet as HTML.

    Raises
    ------
    NotFound
        Where the block is not described as a rice field.
    """
    paddy, shown = find_paddy(block), Figures(reader.units)
    count = UNDER_MM // APART_MM
    tubes = [i.label for i in block.instruments.all() if i.kind == InstrumentKind.RICE_TUBE]
    return render_to_string(
        "today/tube_sheet.html",
        {
            "farm": access.farm,
            "block": block.name,
            "tubes": ", ".join(sorted(tubes)),
            "code": get_language() or "en",
            "foot": foot_of_page(),
            "length": shown.with_unit(LENGTH_MM, "depth"),
            "width": shown.with_unit(WIDTH_MM, "depth"),
            "under": shown.with_unit(UNDER_MM, "depth"),
            "above": shown.with_unit(LENGTH_MM - UNDER_MM, "depth"),
            "hole": shown.with_unit(HOLE_MM, "depthFine"),
            "apart": shown.with_unit(APART_MM, "depth"),
            "away": shown.with_unit(AWAY_MM / 1000, "length", 0),
            "threshold": "−" + shown.with_unit(-paddy.threshold_mm, "depth"),
            "kept": shown.with_unit(FLOWERING_MM, "depth"),
            "threshold_y": GROUND_Y - paddy.threshold_mm * SCALE,
            "holes": [GROUND_Y + SCALE * APART_MM * (k + 0.5) for k in range(count)],
            "columns": [107, 119, 131],
            "lines": range(LINES),
        },
    )


def tube_sheet_pdf(access: Access, block_id: int) -> bytes:
    """The sheet to print, laid out in a process of its own."""
    page = tube_sheet(access, find_block(access, block_id), access.user)
    return read_confined(printed_pages, json.dumps([page]).encode())
