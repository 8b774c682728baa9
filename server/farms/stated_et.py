"""The reference ET that is expected, as a person enters it for the days ahead."""

from core.crop.reference import RATIO_RANGE
from core.sentence import sentence
from server.base.errors import Problem, RequestError
from server.base.schema import Body
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action


class ExpectedEtIn(Body):
    """Reference ET on grass [mm/day]; all null returns to the recorded weather.

    ``alfalfa_ratio`` is alfalfa-reference ET over grass-reference ET; null: not stated.
    """

    low: float | None
    expected: float | None
    high: float | None
    alfalfa_ratio: float | None = None


@acting(Action.ENTER_ET)
def enter_et(access: Access, data: ExpectedEtIn) -> ExpectedEtIn:
    """Keep what ET is expected; what was kept is told again.

    Raises
    ------
    RequestError
    """
    low, mid, high = data.low, data.expected, data.high
    given = [x for x in (low, mid, high) if x is not None]
    if given and len(given) < 3:
        raise RequestError(
            sentence("The ET was not saved."),
            (
                Problem(
                    field="expected",
                    message=sentence("Enter low, expected and high, or none of them."),
                ),
            ),
        )
    if (
        low is not None
        and mid is not None
        and high is not None
        and not 0 <= low <= mid <= high <= 20
    ):
        raise RequestError(
            sentence("The ET was not saved."),
            (
                Problem(
                    field="expected",
                    message=sentence(
                        "The three must rise from low to high, between 0 and 20 mm/day."
                    ),
                ),
            ),
        )
    ratio = data.alfalfa_ratio
    if ratio is not None and not RATIO_RANGE[0] <= ratio <= RATIO_RANGE[1]:
        raise RequestError(
            sentence("The ET was not saved."),
            (
                Problem(
                    field="alfalfa_ratio",
                    message=sentence("The ratio must be between 1.0 and 1.5; it is about 1.2."),
                ),
            ),
        )
    farm = access.farm
    farm.et0_low, farm.et0_expected, farm.et0_high = low, mid, high
    farm.alfalfa_ratio = ratio
    farm.save(update_fields=["et0_low", "et0_expected", "et0_high", "alfalfa_ratio"])
    record(access, Done.ET_ENTERED)
    return data
