"""A farm's network over the slots of a plan, by hand: hours, turns, licences, people, clocks."""

from dataclasses import replace
from datetime import datetime, timedelta
from itertools import pairwise
from math import inf
from zoneinfo import ZoneInfo

import numpy as np
import pytest

from core.plan.network import (
    Connection,
    Group,
    Machine,
    Main,
    Network,
    NetworkProblem,
    Source,
    Turn,
    Worker,
    network_faults,
)
from core.plan.network_remarks import Draw, Remark, network_remarks
from core.plan.over_slots import Drawn, runs, shared_over, slot_starts
from core.plan.shared import Shared
from core.plan.slots import SLOTS
from core.plan.tariff import Tariff, TariffBand

ZONE = ZoneInfo("CET")
MIDNIGHT = datetime(2026, 7, 14, tzinfo=ZONE)
STARTS = slot_starts(MIDNIGHT)
BORE = Source("Bore", flow_m3_h=36.0)


def open_hours(source: Source, day: int = 0) -> list[int]:
    """Hours of a day from which a source runs for two."""
    open_slots = runs(source, STARTS)[12 * day : 12 * day + 12]
    return [2 * k for k in np.flatnonzero(open_slots).tolist()]


def test_slots_are_two_hours_when_clocks_change() -> None:
    """On 29 March 2026 clocks go from 2:00 to 3:00: the slot that begins at midnight ends at 3:00,
    and from then on slots begin at odd hours."""
    starts = slot_starts(datetime(2026, 3, 29, tzinfo=ZONE))
    assert [s.hour for s in starts[:4]] == [0, 3, 5, 7]
    passed = [b.timestamp() - a.timestamp() for a, b in pairwise(starts)]
    assert set(passed) == {7200.0}


@pytest.mark.parametrize(
    ("hours", "expected"),
    [
        ((0, 24), list(range(0, 24, 2))),
        ((6, 12), [6, 8, 10]),
        # A slot that begins at 6 and would end at 8 is over at 7 already.
        ((5, 7), []),
        ((22, 6), [0, 2, 4, 22]),
        ((21, 3), [0, 22]),
    ],
)
def test_hours(hours: tuple[float, float], expected: list[int]) -> None:
    assert open_hours(replace(BORE, from_hour=hours[0], to_hour=hours[1])) == expected


def test_a_turn_comes_again() -> None:
    """12 h every 3 days, first on the 10th at 18:00: on the 13th from 18:00 to 6:00 of the 14th,
    then on the 16th at 18:00. Before the first there is none."""
    turn = Turn(datetime(2026, 7, 10, 18, tzinfo=ZONE), 12.0, 3.0)
    ditch = replace(BORE, turn=turn)
    assert open_hours(ditch) == [0, 2, 4]
    assert open_hours(ditch, 1) == []
    assert open_hours(ditch, 2) == [18, 20, 22]
    later = replace(BORE, turn=replace(turn, first_at=MIDNIGHT + timedelta(days=5)))
    assert not runs(later, STARTS)[:60].any()
    assert runs(later, STARTS)[60:66].all()


def shared(network: Network, drawn: Drawn | None = None) -> Shared:
    return shared_over(
        network,
        ["Bore", "Spring"],
        STARTS,
        {"Bore": drawn or Drawn()},
        {"Bore": 9.0, "Spring": 7.5},
        4,
    )


def test_what_is_not_described_is_not_limited() -> None:
    """36 m3/h are 10 L/s; a spring of which nothing is said brings what its blocks draw, for
    nothing; as many irrigations as there are blocks can be begun at once."""
    found = shared(Network(sources=(BORE,)))
    bore, spring = found.sources
    assert (bore.flow_l_s == 10.0).all()
    assert (spring.flow_l_s == 7.5).all()
    assert np.isinf(bore.day_m3).all()
    assert (spring.total_m3, spring.kwh_m3, spring.peak_price) == (inf, 0.0, 0.0)
    assert (found.people == 4.0).all()
    without_flow = shared(Network(sources=(replace(BORE, flow_m3_h=None),)))
    assert (without_flow.sources[0].flow_l_s == 9.0).all()


def test_licences_less_what_was_drawn() -> None:
    bore = replace(BORE, day_m3=500.0, season_m3=9000.0, season_from=MIDNIGHT.date())
    found = shared(Network(sources=(bore,)), Drawn(120.0, 8800.0, 33.0))
    (source, _) = found.sources
    assert source.day_m3.tolist() == [380.0] + [500.0] * 9
    assert (source.total_m3, source.peak_so_far_kw) == (200.0, 33.0)
    over = shared(Network(sources=(bore,)), Drawn(600.0, 9900.0))
    assert over.sources[0].day_m3[0] == 0.0
    assert over.sources[0].total_m3 == 0.0


def test_power_water_mains_and_machines() -> None:
    """9.81 * 100 / (3600 * 0.6) kWh/m3; 0.10 from 22 to 6, else 0.20; a move of 2.5 h takes
    two slots."""
    tariff = Tariff(0.2, (TariffBand(22.0, 6.0, 0.1),), peak_price=9.0)
    bore = replace(
        BORE,
        smallest_m3_h=18.0,
        head_m=100.0,
        efficiency=0.6,
        water_price=0.03,
        tariff="night power",
    )
    network = Network(
        sources=(bore,),
        mains=(Main("North", 72.0),),
        machines=(Machine("Reel", 2.5),),
        groups=(Group("Filter", 3),),
        tariffs=(("Night Power", tariff),),
    )
    found = shared(network)
    source = found.sources[0]
    assert (source.smallest_l_s, found.sources[1].smallest_l_s) == (5.0, 0.0)
    assert source.kwh_m3 == pytest.approx(0.454, abs=5e-4)
    assert source.price_kwh[:12].tolist() == [0.1] * 3 + [0.2] * 8 + [0.1]
    assert (source.water_price, source.peak_price) == (0.03, 9.0)
    assert found.mains[0].capacity_l_s == 20.0
    assert found.machines[0].moving_slots == 2
    assert (found.groups[0].name, found.groups[0].most) == ("Filter", 3)
    measured = replace(BORE, kwh_m3=0.3)
    assert shared(Network(sources=(measured,))).sources[0].kwh_m3 == 0.3


def test_people_by_their_hours_and_weekdays() -> None:
    """The 14th is a Tuesday. One begins two irrigations in two hours from 6 to 12, another three
    from 10 to 20, at weekends only: from Saturday the 18th."""
    workers = (
        Worker("Tam", 6.0, 12.0, starts=2),
        Worker("Wren", 10.0, 20.0, frozenset({5, 6}), 3),
    )
    people = shared(Network(workers=workers)).people
    assert people[:12].tolist() == [0, 0, 0, 2, 2, 2, 0, 0, 0, 0, 0, 0]
    assert people[48:60].tolist() == [0, 0, 0, 2, 2, 5, 3, 3, 3, 3, 0, 0]
    assert people.size == SLOTS


@pytest.mark.parametrize(
    ("make", "field"),
    [
        (lambda: Source(""), "name"),
        (lambda: Source("A", flow_m3_h=0.0), "flow_m3_h"),
        (lambda: Source("A", flow_m3_h=float("inf")), "flow_m3_h"),
        (lambda: Source("A", 10.0, 11.0), "smallest_m3_h"),
        (lambda: Source("A", day_m3=-1.0), "day_m3"),
        (lambda: Source("A", season_m3=1.0), "season_from"),
        (lambda: Source("A", from_hour=4.0, to_hour=4.0), "from_hour"),
        (lambda: Source("A", head_m=10.0), "head_m"),
        (lambda: Source("A", head_m=10.0, efficiency=1.2), "efficiency"),
        (lambda: Source("A", head_m=10.0, efficiency=0.5, kwh_m3=1.0), "kwh_m3"),
        (lambda: Source("A", water_price=-0.1), "water_price"),
        (lambda: Turn(MIDNIGHT, 25.0, 1.0), "turn_hours"),
        (lambda: Group(" "), "name"),
        (lambda: Group("Filter", 0), "most_together"),
        (lambda: Group("Filter", 101), "most_together"),
        (lambda: Turn(MIDNIGHT, 5.0, 0.0), "turn_every_days"),
        (lambda: Main("", 1.0), "name"),
        (lambda: Main("A", 0.0), "flow_m3_h"),
        (lambda: Machine("A", 49.0), "moving_hours"),
        (lambda: Worker("A", 8.0, 8.0), "from_hour"),
        (lambda: Worker("A", weekdays=frozenset()), "weekdays"),
        (lambda: Worker("A", starts=0), "starts"),
        (lambda: Connection(1, people=21), "people"),
        (lambda: Connection(1, labour_h=-1.0), "labour_h"),
    ],
)
def test_what_cant_be_names_its_field(make: object, field: str) -> None:
    with pytest.raises(NetworkProblem) as wrong:
        make()  # type: ignore[operator]
    assert wrong.value.field == field


def test_names_of_nothing_and_twice() -> None:
    network = Network(
        sources=(BORE, replace(BORE, name=" bore "), replace(BORE, name="B", tariff="Moon")),
        groups=(Group("Filter"), Group("filter ")),
        connections=(
            Connection(1, frozenset({"East"}), "Crane", groups=frozenset({"Filter", "Sieve"})),
            Connection(1),
        ),
    )
    assert [f.field for f in network_faults(network)] == [
        "sources.1.name",
        "groups.1.name",
        "sources.2.tariff",
        "connections.0.mains",
        "connections.0.groups",
        "connections.0.machine",
        "connections.1.block_id",
    ]


def test_remarks() -> None:
    network = Network(
        sources=(
            replace(BORE, smallest_m3_h=20.0),
            Source("Lake"),
        ),
        mains=(Main("North", 30.0),),
        connections=(Connection(2, frozenset({"North"})),),
    )
    draws = [
        Draw(1, "bore", 10.0),
        Draw(2, "Bore", 40.0),
        Draw(3, "", 5.0),
        Draw(4, "Well", 5.0),
        Draw(5, "Lake", 5.0),
    ]
    assert {(r.remark, r.name, r.blocks) for r in network_remarks(network, draws)} == {
        (Remark.NO_SUPPLY, "", (3,)),
        (Remark.BELOW_SMALLEST, "Bore", (1,)),
        (Remark.ABOVE_SOURCE, "Bore", (2,)),
        (Remark.NOT_DESCRIBED, "Well", (4,)),
        (Remark.NO_FLOW, "Lake", (5,)),
        (Remark.ABOVE_MAIN, "North", (2,)),
    }
