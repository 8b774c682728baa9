"""The farm's channels as an import needs them."""

from core.instrument.kinds import Quantity
from core.instrument.reading_units import ReadingUnit, units_of
from server.farms.models import Farm
from server.imports.guess import Sensor
from server.imports.heading import words
from server.instruments.models import Channel


def sensors_of(farm: Farm) -> list[Sensor]:
    """All channels of a farm, with the words by which a heading may name them."""
    rows = (
        Channel.objects.for_farm(farm)
        .select_related("instrument__block")
        .only(
            "quantity",
            "depth_mm",
            "instrument__label",
            "instrument__serial",
            "instrument__block__name",
        )
    )
    return [
        Sensor(
            channel_id=c.pk,
            instrument_id=c.instrument_id,
            quantity=Quantity(c.quantity),
            depth_mm=c.depth_mm,
            serial=c.instrument.serial.lower(),
            names=words(c.instrument.label),
            place=words(c.instrument.block.name),
        )
        for c in rows
    ]


def units_of_channels(sensors: list[Sensor]) -> dict[int, frozenset[ReadingUnit]]:
    """Units that each channel may be written in."""
    return {s.channel_id: frozenset(units_of(s.quantity)) for s in sensors}
