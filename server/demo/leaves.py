"""The demo's vineyard: steered by its leaves, read on rounds since fruit set; simulated."""

from datetime import date, timedelta
from uuid import UUID

import numpy as np

from core.arrays import Floats
from core.leaf.bands import Product
from core.leaf.round import Sky
from core.leaf.sampling import READ_MIN
from core.leaf.solar_noon import solar_noon
from core.soil.profile import Profile
from core.world.column import STEPS_PER_DAY
from server.accounts.demo_people import PEOPLE
from server.accounts.models import User
from server.blocks.models import Block
from server.demo.farm import FIRST_DAY, SEED, DemoBlock
from server.demo.plan import WEST
from server.farms.models import Role
from server.leaves.models import Steering, StemLeaf, StemRound

VINEYARD = "Wick Terrace"
# Zones of the terrace with their share of it, and how much drier their vines stand [MPa].
ZONES = {"Upper terrace": (0.6, -0.07), "Lower terrace": (0.4, 0.1)}
LEAVES = {"Upper terrace": 8, "Lower terrace": 6}
ROUNDS = (
    date(2026, 6, 2),
    date(2026, 6, 9),
    date(2026, 6, 16),
    date(2026, 6, 24),
    date(2026, 7, 1),
    date(2026, 7, 8),
)
CLOUDY_ON = date(2026, 6, 24)
# In truth: stem potential of vines on a full soil, and how it falls with the water gone [MPa].
STANDS, FALLS, BENDS = -0.5, -0.4, -0.8
VINE_SD, DAY_SD = 0.09, 0.04
ODD_VINE = (date(2026, 7, 8), 3, -0.55)


def _gone(demo: DemoBlock, theta: Floats, node_mm: Floats) -> float:
    """Share of the available water gone between the surface and 130 cm [-]."""
    profile = Profile.from_horizons(demo.horizons)
    h = profile.horizon_at(node_mm)
    full, wilt = profile.theta_full[h], profile.theta_wilt[h]
    inside = node_mm < demo.horizons[-1].bottom_mm
    left = np.clip((theta - wilt) / (full - wilt), 0, 1)[inside]
    return float(1.0 - left.mean())


def give_leaves(block: Block, demo: DemoBlock, theta: Floats, node_mm: Floats) -> None:
    """The steering of the vineyard and its rounds.

    Parameters
    ----------
    theta : array, shape (steps, nodes) [m3/m3]
        Of the block's simulated column, from the farm's first day on.
    """
    Steering(
        block=block,
        product=Product.RED_WINE,
        zones={name: share for name, (share, _) in ZONES.items()},
    ).save()
    scout = User.objects.get(email=PEOPLE[Role.SCOUT][1])
    rng = np.random.default_rng([SEED, 41])
    for number, on in enumerate(ROUNDS):
        step = (on - FIRST_DAY).days * STEPS_PER_DAY + STEPS_PER_DAY // 2
        gone = _gone(demo, theta[step], node_mm)
        mean = STANDS + FALLS * gone + BENDS * gone**3 + rng.normal(0, DAY_SD)
        cloudy = on == CLOUDY_ON
        half = timedelta(minutes=READ_MIN * sum(LEAVES.values()) / 2)
        noon = solar_noon(on, WEST)
        row = StemRound(
            block=block,
            key=UUID(int=number + 1),
            started_at=noon - half,
            ended_at=noon + half,
            sky=Sky.CLOUDY if cloudy else Sky.CLEAR,
            bagged_min=40,
            air_c=round(25 + 4 * rng.random(), 1),
            humidity=round(45 + 15 * rng.random()),
            made_by=scout,
            note="high cloud from one o'clock" if cloudy else "",
        )
        row.save()
        place = 0
        for zone, count in LEAVES.items():
            for _ in range(count):
                place += 1
                mpa = mean + ZONES[zone][1] + rng.normal(0, VINE_SD) + (0.25 if cloudy else 0.0)
                if (on, place) == ODD_VINE[:2]:
                    mpa += ODD_VINE[2]
                plant = f"post {10 + 3 * place}"
                StemLeaf(
                    round=row, place=place, zone=zone, plant=plant, mpa=round(min(mpa, -0.1), 2)
                ).save()
