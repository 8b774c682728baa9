"""The water supply: described, refused with the field, renamed, imported, undone."""

import json
from pathlib import Path
from typing import Any

import pytest

from server.blocks.models import Block
from server.farms.models import Change, Farm, Role
from server.supply.document import NetworkDocument
from tests.server.conftest import Api

SUPPLY = "/farms/thistlewick/supply"
SAMPLES = Path(__file__).parent / "samples"


def sent(manager: Api, **changes: Any) -> dict[str, Any]:
    """The farm's description with changes, as a page sends it."""
    found = manager.get(SUPPLY)
    return {"version": found["version"], "network": {**found["network"], **changes}}


def test_the_demo_is_described(manager: Api) -> None:
    """9.81 * 62 / (3600 * 0.64) kWh/m3; sources in their order; a block's flow by its rate."""
    found = manager.get(SUPPLY)
    assert found["energy_kwh_m3"][0] == pytest.approx(9.81 * 62 / (3600 * 0.64))
    assert found["remarks"] == []
    quern = next(b for b in found["blocks"] if b["name"] == "Quern Field")
    assert quern["flow_m3_h"] == pytest.approx(4.2 * 9.0 * 10)
    assert quern["crop_key"] == "potato"


@pytest.mark.parametrize(
    ("part", "value", "field", "message"),
    [
        ("flow_m3_h", -5, "sources.0.flow_m3_h", "Enter a number above 0."),
        ("smallest_m3_h", 401, "sources.0.smallest_m3_h", "The minimum flow can't be above"),
        ("from_hour", 25, "sources.0.from_hour", "Enter two different hours from 0 to 24."),
        ("efficiency", 64, "sources.0.efficiency", "above 0 and at most 100 %"),
        ("efficiency", None, "sources.0.head_m", "Enter both the head and the efficiency."),
        ("kwh_m3", 0.3, "sources.0.kwh_m3", "not both"),
        ("season_from", None, "sources.0.season_from", "from which day"),
        ("tariff", "Moon power", "sources.0.tariff", "Nothing here is named Moon power."),
        ("name", "  ", "sources.0.name", "Enter a name."),
        ("name", "river PUMP", "sources.1.name", "There are two named River pump."),
        (
            "turn",
            {"first_at": "2026-07-17T06:00", "hours": 60, "every_days": 2},
            "sources.0.turn_hours",
            "ends before the next begins",
        ),
    ],
)
def test_what_cant_be_is_refused_with_its_field(
    manager: Api, part: str, value: Any, field: str, message: str
) -> None:
    sources = manager.get(SUPPLY)["network"]["sources"]
    sources[0][part] = value
    refused = manager.put(SUPPLY, sent(manager, sources=sources), 422)
    assert [p["field"] for p in refused["problems"]] == [field]
    assert message in refused["problems"][0]["message"]


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"workers": [{"name": "T", "from_hour": 20, "to_hour": 6}]}, "workers.0.from_hour"),
        ({"workers": [{"name": "T", "weekdays": [7]}]}, "workers.0.weekdays"),
        ({"workers": [{"name": "T", "starts": 0}]}, "workers.0.starts"),
        ({"machines": [{"name": "Reel", "moving_hours": 99}]}, "machines.0.moving_hours"),
        ({"tariffs": [{"name": "P", "price": -1}]}, "tariffs.0.price"),
        (
            {
                "tariffs": [
                    {"name": "P", "price": 1, "bands": [{"from_hour": 6, "to_hour": 6, "price": 1}]}
                ]
            },
            "tariffs.0.bands.0.from_hour",
        ),
        ({"connections": [{"block_id": 10**9}]}, "connections.0.block_id"),
    ],
)
def test_other_parts_are_refused_with_their_field(
    manager: Api, changes: dict[str, Any], field: str
) -> None:
    network = {**manager.get(SUPPLY)["network"], "sources": [], "connections": [], **changes}
    refused = manager.put(SUPPLY, {"version": 1, "network": network}, 422)
    assert [p["field"] for p in refused["problems"]] == [field]


def test_a_block_may_be_told_once_and_only_of_what_there_is(manager: Api, farm: Farm) -> None:
    block = Block.objects.for_farm(farm).first().pk
    rows = [{"block_id": block, "machine": "Crane"}, {"block_id": block, "mains": ["East"]}]
    refused = manager.put(SUPPLY, sent(manager, connections=rows), 422)
    assert {p["field"] for p in refused["problems"]} == {
        "connections.0.machine",
        "connections.1.block_id",
        "connections.1.mains",
    }


def test_a_source_renamed_takes_its_blocks_along(manager: Api, farm: Farm) -> None:
    sources = manager.get(SUPPLY)["network"]["sources"]
    sources[0]["name"] = "Old bore"
    changed = manager.put(SUPPLY, sent(manager, sources=sources))
    assert changed["version"] == 2
    supplies = dict(Block.objects.for_farm(farm).values_list("name", "supply"))
    assert supplies["Quern Field"] == supplies["Alder Reach"] == "Old bore"
    assert supplies["Long Tye"] == "River pump"
    # The change history takes it back, names of blocks and all.
    entry = Change.objects.for_farm(farm).filter(done="network_changed").latest("pk")
    manager.post(f"/farms/thistlewick/changes/{entry.pk}/undo", {})
    assert manager.get(SUPPLY)["network"]["sources"][0]["name"] == "North bore"
    assert Block.objects.for_farm(farm).get(name="Quern Field").supply == "North bore"


def test_two_who_change_it_at_once(manager: Api, as_role: Any) -> None:
    """The second is told, and nothing of the first one's change is lost."""
    one = sent(manager, currency="£")
    two = sent(as_role(Role.ADVISER), labour_price=99)
    manager.put(SUPPLY, one)
    refused = as_role(Role.ADVISER).put(SUPPLY, two, 422)
    assert "Someone else changed the water supply" in refused["message"]
    assert manager.get(SUPPLY)["network"]["currency"] == "£"
    as_role(Role.SCOUT).put(SUPPLY, sent(manager), 403)


def test_a_turn_without_offset_is_by_the_farms_clock(manager: Api) -> None:
    sources = manager.get(SUPPLY)["network"]["sources"]
    sources[3]["turn"]["first_at"] = "2026-01-17T06:00"
    changed = manager.put(SUPPLY, sent(manager, sources=sources))
    assert changed["network"]["sources"][3]["turn"]["first_at"] == "2026-01-17T06:00:00+01:00"
    sources[3]["turn"]["first_at"] = "2026-03-29T02:30"
    refused = manager.put(SUPPLY, sent(manager, sources=sources), 422)
    assert refused["problems"][0]["field"] == "sources.3.turn.first_at"


def test_what_stands_in_the_way_is_remarked(manager: Api) -> None:
    sources = manager.get(SUPPLY)["network"]["sources"]
    sources[0]["flow_m3_h"] = 300
    sources[1] |= {"flow_m3_h": None, "smallest_m3_h": None}
    changed = manager.put(
        SUPPLY,
        sent(manager, sources=sources[:3], mains=[{"name": "West main", "flow_m3_h": 400}]),
    )
    said = {(r["remark"], r["name"], tuple(r["blocks"])) for r in changed["remarks"]}
    assert ("above source", "North bore", ("Quern Field",)) in said
    assert ("above main", "West main", ("Tarn Breck",)) in said
    assert ("not described", "Head ditch", ("Sallow Bank",)) in said
    assert any(r[0] == "no flow" and r[1] == "River pump" for r in said)


TABLE = """kind;name;flow l/s;min flow;head;efficiency %;day m3;mains;people;season from;\
season m3;groups;together
source;North bore;100;;;;;;;;;;
source;South bore;50,5;10;40;70;900;;;2026-03-01;50000;;
main;East main;30;;;;;;;;;;
group;East filter;;;;;;;;;;;2
block;Quern Field;;;;;;West main + East main;2;;;Hill filter+East filter;
"""


def test_a_table_changes_what_it_names_and_adds_the_rest(manager: Api, block: Block) -> None:
    """100 L/s are 360 m3/h; cells that are empty leave what was there; nothing is saved yet."""
    read = manager.upload(f"{SUPPLY}/import", "supply.csv", TABLE.encode())
    assert manager.get(SUPPLY)["version"] == read["version"] == 1
    network = read["network"]
    north, south = network["sources"][0], network["sources"][-1]
    assert (north["flow_m3_h"], north["head_m"], north["tariff"]) == (360, 62, "Farm power")
    assert south == {
        **south,
        "name": "South bore",
        "flow_m3_h": pytest.approx(181.8),
        "smallest_m3_h": 10,
        "head_m": 40,
        "efficiency": 0.7,
        "day_m3": 900,
        "season_m3": 50000,
        "season_from": "2026-03-01",
    }
    quern = next(c for c in network["connections"] if c["block_id"] == block.pk)
    assert (quern["mains"], quern["people"], quern["labour_h"]) == (
        ["West main", "East main"],
        2,
        0.75,
    )
    assert quern["groups"] == ["Hill filter", "East filter"]
    assert network["groups"][-1] == {"name": "East filter", "most_together": 2}
    saved = manager.put(SUPPLY, {"version": 1, "network": network})
    assert saved["network"]["sources"][-1]["id"] == 6


@pytest.mark.parametrize(
    ("line", "row", "column", "message"),
    [
        ("pump,A,10,,,,,,,,", 2, "kind", "'pump' is not a kind of row; write source, main"),
        ("source,,10,,,,,,,,", 2, "name", "This cell can't be empty."),
        ("source,A,lots,,,,,,,,", 2, "flow", "'lots' is not a number."),
        ("source,A,-4,,,,,,,,", 2, "flow", "Enter a number above 0."),
        ("main,A,10,,,,,,4,,", 2, "people", "A main has none; leave the cell empty."),
        ("block,Nowhere,,,,,,,1,,", 2, "name", "No block is named Nowhere."),
        ("block,Quern Field,,,,,,,1.5,,", 2, "people", "'1.5' is not a whole number."),
        ("group,,,,,,,,,,", 2, "name", "This cell can't be empty."),
        ("source,A,10,,,,,,,1 May,", 2, "season from", "write it as 2026-04-01"),
    ],
)
def test_a_table_that_is_wrong_says_where(
    manager: Api, line: str, row: int, column: str, message: str
) -> None:
    text = f"kind,name,flow,min,head,efficiency,day,mains,people,season from,season m3\n{line}\n"
    refused = manager.upload(f"{SUPPLY}/import", "supply.csv", text.encode(), 422)
    (problem,) = refused["problems"]
    assert (problem["row"], problem["column"]) == (row, column)
    assert message in problem["message"]


def test_a_table_without_its_columns(manager: Api) -> None:
    refused = manager.upload(f"{SUPPLY}/import", "a.csv", b"what,flow\nx,1\n", 422)
    assert [p["column"] for p in refused["problems"]] == ["kind", "name"]


def test_the_sample_that_ships_can_be_read(manager: Api) -> None:
    sample = Path(__file__).parents[2] / "web" / "public" / "samples" / "water-supply.csv"
    read = manager.upload(f"{SUPPLY}/import", sample.name, sample.read_bytes())
    named = [s["name"] for s in read["network"]["sources"]]
    assert named[-2:] == ["Sample bore", "Sample ditch"]


def test_a_description_of_before_can_still_be_read() -> None:
    """Formats 1 to 3 as they were first stored; the schema of 3 has not changed since."""
    first = json.loads((SAMPLES / "network-1.json").read_text())
    document = NetworkDocument.read(first["content"])
    assert document.sources[0].head_m == 62
    assert document.tariffs[0].bands[0].price == 0.12
    assert document.wind_limits == []
    second = json.loads((SAMPLES / "network-2.json").read_text())
    document = NetworkDocument.read(second["content"])
    assert document.wind_limits[0].most_m_s == 4.7
    assert (document.groups, document.connections[0].groups) == ([], [])
    third = json.loads((SAMPLES / "network-3.json").read_text())
    document = NetworkDocument.read(third["content"])
    assert [(g.name, g.most_together) for g in document.groups] == [("Hill filter", 1)]
    assert NetworkDocument.model_json_schema() == third["schema"]


def test_what_a_source_brings_beside_the_peak(manager: Api) -> None:
    """By hand from the page's own figures: Upper Hanger (micro, 85 %) and Wick Terrace (drip, 92 %)
    on 1,100 m3 a day; the bore's licence is less than its flow in a day."""
    found = manager.get(SUPPLY)
    et0 = found["peak_et0_mm_day"]
    assert 4 < et0 < 9
    tank = found["capacity"][2]
    assert tank["m3_day"] == 1100
    # Highest Kc by FAO-56, table 12: walnut 1.1, wine grape 0.7.
    need = (74_000 * 1.1 / 0.85 + 41_000 * 0.7 / 0.92) * et0 / 1000
    assert tank["needed_m3_day"] == pytest.approx(need)
    assert tank["keeps_up"] == (need < 1100)
    assert found["capacity"][0]["m3_day"] == 2600
    # The ditch comes for 60 h in 9 days.
    assert found["capacity"][3]["m3_day"] == pytest.approx(430 * 60 / 9)
