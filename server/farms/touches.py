"""Which answers a change of a row makes wrong: declared beside each model, noted by the database.

Triggers are made from the declarations whenever the database is migrated, see
`server.advice.touching`. They are the database's own, so that no writer can forget them.
"""

from dataclasses import dataclass

# The first morning whose estimate a change makes wrong: SQL of a date.
EVERY_MORNING = "NULL::date"
NO_MORNING = "'infinity'::date"  # the answers of now alone


@dataclass(frozen=True)
class Touches:
    """What of the answers a changed row makes wrong.

    Parameters
    ----------
    answers : SQL for rows of ``farm_id, block_id, first_on`` that are added to `Touched`, where
        ``{row}`` is the row as it was or as it is now
    columns : of which an update counts, and nothing else does; empty: every change counts
    per_statement : whether ``{row}`` is a table of all rows that a statement changed: for tables
        whose rows come by the thousand
    """

    answers: str
    columns: tuple[str, ...] = ()
    per_statement: bool = False


def of_block(block: str = "{row}.block_id", first: str = EVERY_MORNING) -> Touches:
    """The answers of one block and of those that borrow from it. ``block`` is SQL of its number;
    in ``first`` each of them is called ``b``."""
    return Touches(
        f"SELECT b.farm_id, b.id, {first} FROM blocks_block b "
        f"WHERE {block} IN (b.id, b.borrows_from_id)"
    )


def of_farm(farm: str = "{row}.farm_id", first: str = EVERY_MORNING) -> Touches:
    """The answers of all of a farm's blocks."""
    return Touches(f"SELECT f.id, NULL::bigint, {first} FROM farms_farm f WHERE f.id = {farm}")


def of_soil(soil: str) -> Touches:
    """The answers of every block that ever stood on a soil."""
    return Touches(
        "SELECT DISTINCT b.farm_id, b.id, NULL::date FROM limits_blocksoil s "
        f"JOIN blocks_block b ON b.id = s.block_id WHERE s.soil_id = {soil}"
    )


def of_instrument(instrument: str = "{row}.instrument_id") -> Touches:
    """The answers of the block that an instrument stands in."""
    return of_block(f"(SELECT block_id FROM instruments_instrument WHERE id = {instrument})")
