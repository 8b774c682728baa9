"""Names of what is made of a soil or a crop by what one block has shown of it."""

from collections.abc import Iterable


def name_as_seen(name: str, block: str, taken: Iterable[str], room: int) -> str:
    """A name that none of those taken equals, whatever its capitals; numbered where it must be.

    Parameters
    ----------
    room : int
        Letters it may have before a number.
    """
    used = {one.lower() for one in taken}
    base = f"{name.split(' as seen on ', maxsplit=1)[0]} as seen on {block}"[:room]
    found, number = base, 2
    while found.lower() in used:
        found, number = f"{base} ({number})", number + 1
    return found
