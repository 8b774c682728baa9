"""The board as it was last sent, for the many who look at it in the same minute."""

from collections.abc import Callable
from datetime import timedelta

from django.core.cache import caches
from django.db import connection

from core.advice.version import RULES_VERSION
from server.base.json_out import pack
from server.farms.models import Farm

# A board tells the time: one this old is still true, if no line of it was made anew.
KEPT_FOR = timedelta(minutes=1)
# Another database may have been put under this process, with editions of the same numbers.
_EDITION = """
SELECT max(s.edition), count(*),
    (SELECT oid FROM pg_database WHERE datname = current_database())
FROM advice_storedanswer s JOIN blocks_block b ON b.id = s.block_id
WHERE b.farm_id = %s
"""


def kept_board(farm: Farm, make: Callable[[], str]) -> bytes:
    """The farm's board, packed: as this process sent it last, or made now.

    Whatever it shows is noted as touching the answers of the farm, and whoever takes the notes in
    gives the lines another edition; what it says of the farm itself is part of the key. All of
    the farm's people are shown the same.

    Parameters
    ----------
    make : makes the board as JSON, of lines that are true
    """
    with connection.cursor() as cursor:
        cursor.execute(_EDITION, [farm.pk])
        edition = cursor.fetchone()
    shown_of_farm = (farm.name, farm.time_zone, farm.simulated, farm.alfalfa_ratio)
    key, now = (edition, RULES_VERSION, shown_of_farm), farm.now()
    kept = caches["boards"].get(farm.pk)
    if kept is not None and kept[0] == key and abs(now - kept[1]) <= KEPT_FOR:
        return bytes(kept[2])
    packed = pack(make().encode())
    if edition[1]:
        # A farm without blocks has no line that would be made anew with its weather.
        caches["boards"].set(farm.pk, (key, now, packed))
    return packed
