"""The demo farm's valves: one controller (simulated) for the drip and micro-sprinkler blocks."""

from server.base.tokens import new_token, token_hash
from server.blocks.models import Block
from server.demo.controller import CONTROLLER, VALVES
from server.farms.models import Farm
from server.valves.models import Valve, ValveControl, ValveController


def give_valves(farm: Farm, blocks: dict[str, Block]) -> None:
    """A controller with its valves; nobody knows its token until the demo is started."""
    ValveControl(farm=farm, on=True).save()
    unknown = token_hash(new_token())
    box = ValveController(farm=farm, name=CONTROLLER, simulated=True, token_sha256=unknown)
    box.save()
    for one in VALVES:
        Valve(
            controller=box,
            number=one.number,
            name=one.name,
            block=blocks[one.block],
            expected_ls=one.flow_ls,
        ).save()
