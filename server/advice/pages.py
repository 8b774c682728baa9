"""A block's pages kept as they were answered: a hundred people who look at one make it once.

A page stands for as long as the block's line of the board does: whatever makes that anew gives it a
new edition, and with it the pages. Where a logger's readings alone were the reason, a page stays
for a minute: making it takes ten times as long as a line, and many may look while many send.
"""

from collections.abc import Callable
from datetime import timedelta
from typing import Literal

from django.db import connection
from django.utils.translation import get_language

from core.advice.version import RULES_VERSION
from server.advice.stored import NOT_LEFT, OLDEST, WORKER_TAKES_S
from server.farms.models import Farm

Kind = Literal["block", "series"]
# A page tells of hours: it stands for less long than a line.
PAGE_OLDEST = timedelta(minutes=10)
# How long a page may lack what a logger sent.
BEHIND_LOGGERS = timedelta(minutes=1)

_FIND = f"""
SELECT s.edition, p.body
FROM advice_storedanswer s
JOIN blocks_block b ON b.id = s.block_id
LEFT JOIN advice_storedpage p ON p.block_id = s.block_id AND p.kind = %(kind)s
    AND p.language = %(language)s
    AND p.made_at BETWEEN %(now)s - %(page)s::interval AND %(now)s + %(page)s::interval
    AND (
        p.edition = s.edition
        OR p.edition >= s.deeds AND p.made_at > %(now)s - %(behind)s::interval
    )
WHERE s.block_id = %(block)s AND b.farm_id = %(farm)s AND s.version = %(version)s
    AND s.made_at BETWEEN %(now)s - %(line)s::interval AND %(now)s + %(line)s::interval
    AND NOT EXISTS (
        SELECT FROM advice_touched t
        WHERE t.farm_id = %(farm)s AND (t.block_id IS NULL OR t.block_id = s.block_id)
            AND {NOT_LEFT}
    )
"""  # noqa: S608 - a constant
# Whoever comes second with the same edition made the same page.
_KEEP = """
INSERT INTO advice_storedpage (block_id, kind, language, edition, made_at, body)
VALUES (%(block)s, %(kind)s, %(language)s, %(edition)s, %(now)s, %(body)s)
ON CONFLICT (block_id, kind, language) DO UPDATE
    SET edition = EXCLUDED.edition, made_at = EXCLUDED.made_at, body = EXCLUDED.body
"""


def kept_page(farm: Farm, block_id: int, kind: Kind, make: Callable[[], str]) -> str:
    """A page of a block as JSON in the reader's language: as it was made before, or made now.

    Parameters
    ----------
    make : makes the page, and refuses a block that is not the farm's
    """
    asked = {
        "farm": farm.pk,
        "block": block_id,
        "kind": kind,
        "language": get_language() or "",
        "now": farm.now(),
        "version": RULES_VERSION,
        "line": str(OLDEST),
        "page": str(PAGE_OLDEST),
        "behind": str(BEHIND_LOGGERS),
        "takes": WORKER_TAKES_S,
    }
    with connection.cursor() as cursor:
        cursor.execute(_FIND, asked)
        edition, body = cursor.fetchone() or (None, None)
        if body is not None:
            return str(body)
        body = make()
        # Without a line that holds there is no telling when the page would not.
        if edition is not None:
            cursor.execute(_KEEP, {**asked, "edition": edition, "body": body})
    return body
