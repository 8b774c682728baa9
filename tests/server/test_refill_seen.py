"""The refill point that a crop has shown, adopted as a rule and taken back."""

from datetime import UTC, timedelta
from typing import Any

import numpy as np
import pytest

from core.learned.refill_point import NoBreak
from server.blocks.models import Block
from server.farms.models import Farm, Role
from server.readings.models import Reading
from tests.server.conftest import Api

BASE = "/farms/thistlewick"
DAYS, USE_MM, FREE_MM, ROOT_MM = 120, 4.5, 50.0, 500.0


@pytest.fixture
def pasture(farm: Farm) -> Block:
    """Low Ings, whose probe sees roots of half a metre."""
    return Block.objects.for_farm(farm).get(name="Low Ings")


def seen(api: Api, block: Block) -> dict[str, Any]:
    found: dict[str, Any] = api.get(f"{BASE}/blocks/{block.pk}/refill-point")
    return found


def dried_down(block: Block, farm: Farm, use_mm: float = USE_MM, every: int = 30) -> None:
    """Water comes every so many days; the crop takes so much a day until 50 mm are gone, then ever
    less; what was read is replaced."""
    until = farm.now().astimezone(UTC).replace(minute=0, second=0, microsecond=0)
    midnight = (until - timedelta(days=DAYS)).replace(hour=0)
    gone, hours = 0.0, []
    for day in range(DAYS):
        gone = 0.0 if day % every == 0 else gone
        takes = use_mm if gone < FREE_MM else use_mm * max(1 - (gone - FREE_MM) / 30, 0.0)
        light = np.clip((np.arange(24) - 6) / 14, 0, 1)
        hours += (gone + takes * light).tolist()
        gone += takes
    instrument = block.instruments.get(label="Probe I1")
    for channel in instrument.channels.filter(quantity="theta"):
        own = Reading.unscoped.filter(channel=channel, time__gte=midnight).order_by("time")
        first = own.first()
        assert first is not None
        wettest = max(own.values_list("value", flat=True))
        rows = [
            Reading(
                channel=channel,
                time=midnight + timedelta(hours=k),
                value=wettest - mm / ROOT_MM * (100 if wettest > 1 else 1),
                unit=first.unit,
                rules=first.rules,
                batch=first.batch,
            )
            for k, mm in enumerate(hours)
            if midnight + timedelta(hours=k) <= until
        ]
        own.delete()
        Reading.unscoped.bulk_create(rows)


def test_a_block_kept_moist_says_why_it_shows_none(manager: Api, pasture: Block) -> None:
    found = seen(manager, pasture)
    (site,) = found["sites"]
    assert site["why_not"] in list(NoBreak)
    assert len(site["days"]) > 20
    assert site["days"][0]["on"] < site["days"][-1]["on"]
    assert (site["break_gone"], found["depletion_mm"], found["share"]) == (None, None, None)
    assert 0 < found["raw_mm"] < found["taw_mm"]


def test_no_instrument_that_reads_content(manager: Api, farm: Farm) -> None:
    block = Block.objects.for_farm(farm).get(name="Marl Pit")
    assert seen(manager, block)["sites"] == []


def test_nothing_is_estimated_without_a_crop(manager: Api, farm: Farm) -> None:
    block = Block.objects.for_farm(farm).get(name="Gorse Piece")
    assert seen(manager, block) is None


def test_seen_adopted_and_undone(manager: Api, pasture: Block, farm: Farm) -> None:
    dried_down(pasture, farm)
    found = seen(manager, pasture)
    (site,) = found["sites"]
    assert site["why_not"] is None
    assert site["slope"] < 0
    assert found["low_mm"] < found["depletion_mm"] < found["high_mm"]
    assert found["share"] == pytest.approx(found["depletion_mm"] / found["taw_mm"], abs=0.005)
    path = f"{BASE}/blocks/{pasture.pk}"
    said = {"refill_method": "flat", "p": found["share"]}
    then = manager.post(f"{path}/what-if", said)
    today = str(farm.now().date())
    rule = {"refill_method": "flat", "value": found["share"], "from_on": today, "reason": "Seen"}
    manager.post(f"{path}/limits/refill", rule, 201)
    after = seen(manager, pasture)
    # What would be is what then is.
    assert after["raw_mm"] == pytest.approx(then["raw_mm"])
    assert after["raw_mm"] == pytest.approx(found["share"] * found["taw_mm"], rel=0.01)
    # A share that a person has set is no evidence of the field: only the site speaks now.
    assert after["depletion_mm"] != pytest.approx(found["depletion_mm"], rel=0.05)
    (change,) = [c for c in manager.get(f"{path}/limits")["changes"] if c["kind"] == "refill"]
    assert manager.client.delete(f"/api{path}/limits/refill/{change['id']}").status_code == 200
    assert seen(manager, pasture)["raw_mm"] == pytest.approx(found["raw_mm"])


def test_full_points_tried_before_they_are_adopted(manager: Api, block: Block, farm: Farm) -> None:
    """What today's advice would be, nothing stored; adopted from today, it is that."""
    path = f"{BASE}/blocks/{block.pk}"
    # What the demo's manager has adopted is taken back first.
    adopted_once = manager.get(f"{path}/limits")["changes"][0]
    manager.client.delete(f"/api{path}/limits/soil/{adopted_once['id']}")
    (horizon,) = manager.get(f"{path}/full-points")
    before = manager.get(path)["answer"]
    then = manager.post(f"{path}/what-if", {"full_horizons": [horizon["index"]]})
    assert then["answer"] != manager.post(f"{path}/what-if", {})["answer"]
    assert manager.get(path)["answer"] == before
    adopted = {"horizons": [horizon["index"]], "from_on": str(farm.now().date())}
    manager.post(f"{path}/full-points", adopted, 201)
    now = manager.post(f"{path}/what-if", {})
    assert now["taw_mm"] == pytest.approx(then["taw_mm"], rel=0.01)
    manager.post(f"{path}/what-if", {"full_horizons": [17]}, 422)


def test_who_may_look(as_role: Any, pasture: Block) -> None:
    """Everyone of the farm; a scout can't adopt."""
    scout = as_role(Role.SCOUT)
    assert seen(scout, pasture)["sites"]
    rule = {"refill_method": "flat", "value": 0.5}
    scout.post(f"{BASE}/blocks/{pasture.pk}/limits/refill", rule, 403)


def test_the_use_that_was_seen_adopted_as_kc(manager: Api, pasture: Block, farm: Farm) -> None:
    """5 mm a day where less is stated: the Kc of mid season goes up by as much, and then fits."""
    dried_down(pasture, farm, 5.0, 8)
    use = seen(manager, pasture)["use"]
    assert use["fit"] == "differs", use
    assert 1.1 < use["low"] < use["share"] < use["high"]
    path = f"{BASE}/blocks/{pasture.pk}"
    before = manager.get(f"{path}/limits")
    manager.post(f"{path}/use", {"reason": "Seen in July"}, 201)
    after = manager.get(f"{path}/limits")
    assert after["crop"] == f"{before['crop']} as seen on Low Ings"
    assert after["kc"] == pytest.approx(before["kc"] * use["share"], rel=0.01)
    again = seen(manager, pasture)["use"]
    assert again["fit"] == "fits"
    # More days than before have a stated use of 3 mm, and so are counted.
    assert again["share"] == pytest.approx(1.0, abs=0.1)
    refused = manager.post(f"{path}/use", {"reason": ""}, 422)
    assert refused["problems"][0]["field"] == "use"
    assert [c["about"] for c in manager.get(f"{BASE}/changes")["changes"][:2]] == [
        "Low Ings",
        after["crop"],
    ]


def test_a_use_that_fits_or_was_not_seen_is_not_adopted(
    manager: Api, as_role: Any, pasture: Block, farm: Farm
) -> None:
    assert seen(manager, pasture)["use"]["fit"] == "fits"
    manager.post(f"{BASE}/blocks/{pasture.pk}/use", {"reason": ""}, 422)
    none = Block.objects.for_farm(farm).get(name="Gorse Piece")
    manager.post(f"{BASE}/blocks/{none.pk}/use", {"reason": ""}, 422)
    as_role(Role.SCOUT).post(f"{BASE}/blocks/{pasture.pk}/use", {"reason": ""}, 403)
