"""Feel checks: layer by layer, what a hand may find and what it means."""

from django.http import HttpRequest
from ninja import Router

from core.instrument.cautions import cautions
from core.instrument.feel import Drawing, FeelGroup, feel_deficit_mm, feel_groups, feel_layers
from core.instrument.kinds import InstrumentKind, kinds
from core.sentence import sentence
from server.base.error_schema import ERRORS
from server.base.errors import Problem, RequestError
from server.base.language import Translated
from server.base.schema import Schema
from server.base.signed_in import person
from server.blocks.loading import Ground
from server.farms.access import enter
from server.instruments.services import find_instrument

router = Router(tags=["instruments"])


class FeelStepOut(Schema):
    """``available`` is the share of available water, 0-1, that the step stands for."""

    low: float
    high: float
    available: float
    hand: Translated
    drawing: Drawing


class FeelGroupOut(Schema):
    group: FeelGroup
    name: Translated
    steps: list[FeelStepOut]


class FeelLayerOut(Schema):
    """``deficits_mm`` by step, from dry to full, whatever the group: all have the same steps."""

    channel_id: int
    depth_mm: float
    top_mm: float
    bottom_mm: float
    group: FeelGroup
    available_mm: float
    deficits_mm: list[float]


class FeelCheckOut(Schema):
    """``cautions`` where the auger can hurt someone."""

    cautions: list[Translated]
    groups: list[FeelGroupOut]
    layers: list[FeelLayerOut]


@router.get(
    "/farms/{slug}/instruments/{instrument_id}/feel",
    response={200: FeelCheckOut, **ERRORS},
    operation_id="feel_check",
)
def get_feel(request: HttpRequest, slug: str, instrument_id: int) -> FeelCheckOut:
    access = enter(person(request), slug)
    instrument = find_instrument(access, instrument_id)
    if instrument.kind != InstrumentKind.FEEL_CHECK:
        raise RequestError(
            sentence("{instrument} can't be checked by feel.", instrument=instrument.label)
        )
    soils = Ground().under(instrument.block, access.now().date())
    if not soils:
        raise RequestError(
            sentence("The block has no soil yet."),
            (
                Problem(
                    message=sentence(
                        "Describe its soil first: the available water follows from it."
                    )
                ),
            ),
        )
    channels = sorted(instrument.channels.all(), key=lambda c: c.depth_mm or 0.0)
    layers = feel_layers(soils[-1].profile, [c.depth_mm or 0.0 for c in channels])
    shares = [s.available for s in feel_groups()[FeelGroup.MEDIUM].steps]
    facts = kinds()[InstrumentKind.FEEL_CHECK]
    return FeelCheckOut(
        cautions=[cautions()[k].text for k in facts.cautions],
        groups=[
            FeelGroupOut(
                group=g.group,
                name=g.name,
                steps=[
                    FeelStepOut(
                        low=s.low,
                        high=s.high,
                        available=s.available,
                        hand=s.hand,
                        drawing=s.drawing,
                    )
                    for s in g.steps
                ],
            )
            for g in feel_groups().values()
        ],
        layers=[
            FeelLayerOut(
                channel_id=c.pk,
                depth_mm=c.depth_mm or 0.0,
                top_mm=x.top_mm,
                bottom_mm=x.bottom_mm,
                group=x.group,
                available_mm=x.available_mm,
                deficits_mm=feel_deficit_mm(x.available_mm, shares).tolist(),
            )
            for c, x in zip(channels, layers, strict=True)
        ],
    )
