"""Where the demo farm's water comes from: two pumps that can't feed all their blocks at once, a
tank with one filter, the turn of a ditch, a pump that three blocks share, and power that is cheap
at night."""

from datetime import date, datetime
from zoneinfo import ZoneInfo

from core.irrigation.system import SystemKind
from server.accounts.demo_people import PEOPLE
from server.accounts.models import User
from server.blocks.models import Block
from server.demo.farm import ZONE
from server.farms.models import Farm, Role
from server.supply.document import (
    BandPart,
    ConnectionPart,
    CropValuePart,
    GroupPart,
    MachinePart,
    MainPart,
    NetworkDocument,
    SourcePart,
    TariffPart,
    TurnPart,
    WindLimitPart,
    WorkerPart,
    network_of,
)
from server.supply.models import NetworkVersion

SEASON_FROM = date(2026, 4, 1)
# When the description was made.
MADE_AT = datetime(2026, 4, 3, 17, 20, tzinfo=ZoneInfo(ZONE))
FARM_POWER, WEEKDAYS = "Farm power", [0, 1, 2, 3, 4]
TARIFF = TariffPart(
    name=FARM_POWER,
    price=0.21,
    peak_price=7.5,
    bands=[
        BandPart(from_hour=22, to_hour=6, price=0.12),
        BandPart(from_hour=17, to_hour=21, price=0.34, weekdays=WEEKDAYS),
    ],
    holidays=[date(2026, 5, 1), date(2026, 8, 15)],
)
SOURCES = [
    SourcePart(
        id=1,
        name="North bore",
        flow_m3_h=400,
        day_m3=2_600,
        season_m3=260_000,
        season_from=SEASON_FROM,
        head_m=62,
        efficiency=0.64,
        tariff=FARM_POWER,
    ),
    SourcePart(
        id=2,
        name="River pump",
        flow_m3_h=600,
        smallest_m3_h=40,
        day_m3=6_300,
        kwh_m3=0.16,
        water_price=0.012,
        tariff=FARM_POWER,
    ),
    SourcePart(id=3, name="Hill tank", flow_m3_h=200, day_m3=1_100),
    SourcePart(
        id=4,
        name="Head ditch",
        flow_m3_h=430,
        turn=TurnPart(
            first_at=datetime(2026, 7, 17, 6, tzinfo=ZoneInfo(ZONE)), hours=60, every_days=9
        ),
    ),
    SourcePart(id=5, name="Carr sluice", flow_m3_h=280),
]
VALUES = {
    "maize-sweet": 6_000,
    "maize-grain": 1_900,
    "potato": 8_000,
    "lucerne-hay": 1_500,
    "walnut": 8_000,
    "grape-wine": 11_000,
    "onion-dry": 8_500,
    "pasture-grazed": 900,
    "squash-winter": 6_500,
    "carrot": 10_000,
    "rice": 2_400,
}
# People and hours [h] of an irrigation; blocks that are not named begin by themselves.
WORK = {
    "Quern Field": (1, 0.75),
    "Gorse Piece": (1, 0.75),
    "Tarn Breck": (1, 1.0),
    "Low Ings": (1, 1.0),
    "Marl Pit": (1, 1.5),
    "Long Tye": (1, 0.25),
    "Sallow Bank": (1, 3.0),
    "Reed Carr": (1, 0.25),
    "Osier Carr": (1, 0.25),
}
SHARED_PUMP, WEST_MAIN = "Portable pump", "West main"
HILL_FILTER, ON_HILL_FILTER = "Hill filter", ("Upper Hanger", "Wick Terrace")
ON_SHARED_PUMP = ("Marl Pit", "Tarn Breck", "Low Ings")
ON_WEST_MAIN = ("Long Tye", "Marl Pit", "Tarn Breck")


def give_network(farm: Farm, blocks: dict[str, Block]) -> None:
    """Describe the farm's network, as its manager did in spring."""
    document = NetworkDocument(
        currency="€",
        labour_price=18,
        sources=SOURCES,
        mains=[MainPart(name=WEST_MAIN, flow_m3_h=560)],
        groups=[GroupPart(name=HILL_FILTER, most_together=1)],
        machines=[MachinePart(name=SHARED_PUMP, moving_hours=2)],
        workers=[WorkerPart(name=PEOPLE[Role.IRRIGATOR][0], starts=2)],
        tariffs=[TARIFF],
        connections=[_connection(block) for block in blocks.values()],
        crop_values=[CropValuePart(crop_key=k, value_ha=v) for k, v in VALUES.items()],
        wind_limits=[
            WindLimitPart(system=SystemKind.SOLID_SET, most_m_s=4.7),
            WindLimitPart(system=SystemKind.TRAVELLER, most_m_s=6),
        ],
    )
    network_of(document)
    NetworkVersion(
        farm=farm,
        number=1,
        content=document.model_dump(mode="json"),
        made_at=MADE_AT,
        made_by=User.objects.get(email=PEOPLE[Role.MANAGER][1]),
    ).save()


def _connection(block: Block) -> ConnectionPart:
    people, hours = WORK.get(block.name, (0, 0.0))
    return ConnectionPart(
        block_id=block.pk,
        mains=[WEST_MAIN] if block.name in ON_WEST_MAIN else [],
        groups=[HILL_FILTER] if block.name in ON_HILL_FILTER else [],
        machine=SHARED_PUMP if block.name in ON_SHARED_PUMP else None,
        people=people,
        labour_h=hours,
    )
