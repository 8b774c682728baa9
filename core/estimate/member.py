"""The members of a block's ensemble: where their figures stand, and how they pass half a day.

Members stand side by side, a row for each figure: for each layer the water content less that of
its full point, the logarithm of its available water, and the logarithm of the share of it at
which the crop begins to suffer; then the logarithms of nine factors of the whole block; then for
each sensor what it reads at full, and the logarithm of how much it reads for a change of water
content.

References
----------
.. [1] Campbell, G. S. (1974), A simple method for determining unsaturated conductivity from
   moisture retention data, Soil Sci. 117:311-314: drainage falls off exponentially with the
   content in the range that matters here; the loss of 1 mm/day defines full.
.. [2] Jarvis, N. J. (1989), doi:10.1016/0022-1694(89)90050-4: a wet part makes up for a dry.
.. [3] Allen, R. G. et al. (1998), FAO-56, ch. 7: evaporation from the wet bare surface.
"""

import numpy as np
from numba import njit

from core.arrays import Floats
from core.soil.water_table import KPA_PER_MM

# Factors of the whole block, in the order in which a member holds them.
DRAINAGE, USE, ARRIVES, RAIN, ROOTS, EVAPORATION, EXCHANGE, SHAPE, COMPENSATION = range(9)
FACTORS = 9
# What one step moved, in the order of `half_day`'s totals [mm].
USED, EVAPORATED, DRAINED, CAME, LOSS, WANTED = range(6)
FLOWS = 6

# What holds water up in a layer: the most that leaves it in a day [mm], room between full and
# saturation [m3/m3], and for a water table the content at full [m3/m3], Campbell's 1/b and the
# tension at which it has drained [kPa].
MOST_OUT, ROOM, FULL, POWER, DRAINED_AT = range(5)
HOLDS = 5
LEAST_HEIGHT_MM = 1.0

PASSES_ON = 12.0  # content above full, in drainage lengths, that nothing holds back
STRESSED = 0.97  # of the wanted transpiration: below it the crop suffers
MOST_BORNE = 0.95  # share of the available water that no crop bears more of
DRY_ENOUGH = 5.0  # so many drainage lengths below full nothing drains
DRIEST = 1.3  # no layer falls further below full than this share of its available water
BARE_KC = 1.1  # of a wet bare surface, on grass reference [3]
LEAST_BARE = 0.05
EVAPORATION_SLOWS = 0.6  # share of the evaporable water below which evaporation falls [3]
DRY_EXCHANGE = 2.5  # how fast exchange falls off with the available water gone [-]
# Noise of a half day, working assumptions from the study of Richards columns: of content that
# drains [m3/m3 per root day], of inflow as a share, and of water given.
NOISE_CONTENT, NOISE_INFLOW, NOISE_INFLOW_MOST = 0.003, 0.15, 0.1
NOISE_WATER = 0.08


@njit(cache=True)
def width(layers: int, sensors: int) -> int:
    """Figures of a member."""
    return 3 * layers + FACTORS + 2 * sensors


@njit(cache=True)
def natural(x: Floats, layers: int, out: Floats) -> None:
    """What the logarithms of members stand for.

    Parameters
    ----------
    x : array, shape (figures, members)
    out : array, shape (2 * layers + FACTORS, members)
        Available water and the share of it that is borne, by layer [m3/m3, -], then the factors.
    """
    for v in range(2 * layers + FACTORS):
        for m in range(x.shape[1]):
            out[v, m] = np.exp(x[layers + v, m])


@njit(cache=True)
def root_weights(
    edge: Floats, layers: int, root_mm: float, root_limit_mm: float, nat: Floats, out: Floats
) -> None:
    """Share of the uptake from each layer in each member, adding to 1; (layers, members)."""
    factor = 2 * layers
    for m in range(nat.shape[1]):
        root = min(root_mm * nat[factor + ROOTS, m], root_limit_mm)
        shape = nat[factor + SHAPE, m]
        above = 0.0
        for j in range(layers):
            below = 1.0
            if edge[j + 1] < root:
                below = 1.0 - (1.0 - edge[j + 1] / root) ** shape
            out[j, m] = below - above
            above = below


@njit(cache=True)
def above_full(depth_mm: float, table_mm: float, hold: Floats) -> float:
    """Content above full that a water table never lets drain [m3/m3]; 0 where it is far.

    What `core.soil.water_table.held_above_full` gives, by the curve that the members have.
    """
    if table_mm == np.inf:
        return 0.0
    height = max(table_mm - depth_mm, LEAST_HEIGHT_MM)
    wetter = (hold[DRAINED_AT] / (height * KPA_PER_MM)) ** hold[POWER] - 1.0
    return min(max(hold[FULL] * wetter, 0.0), hold[ROOM])


@njit(cache=True)
def back_up(
    x: Floats, layers: int, edge: Floats, hold: Floats, held: np.ndarray, totals: Floats
) -> None:
    """What the pores of a layer don't hold, of water that was ``held`` up in it, stands in the one
    above; what is left at the surface runs off."""
    for j in range(layers - 1, -1, -1):
        dz = edge[j + 1] - edge[j]
        for m in range(x.shape[1]):
            excess = x[j, m] - hold[j, ROOM]
            if excess <= 0 or not held[j, m]:
                continue
            x[j, m] -= excess
            if j > 0:
                x[j - 1, m] += excess * dz / (edge[j] - edge[j - 1])
                held[j - 1, m] = True
            else:
                totals[CAME, m] -= excess * dz


@njit(cache=True)
def half_day(
    x: Floats,
    nat: Floats,
    layers: int,
    edge: Floats,
    scale: Floats,
    hold: Floats,
    wilt: float,
    force: Floats,
    demand: Floats,
    rain_mm: Floats,
    set_mm: float,
    extra_mm: Floats,
    noise: Floats,
    weights: Floats,
    totals: Floats,
) -> None:
    """Pass a step in all members; the content of their layers changes.

    Parameters
    ----------
    x : array, shape (figures, members); nat : as `natural` gives it
    edge : array, shape (layers + 1,) [mm]
    scale : array, shape (layers,), the book's available water [m3/m3]
        Layers of different soils are in balance at the same share of it, not the same content.
    hold : array, shape (layers, HOLDS)
    wilt : float, wilting point of the top layer [m3/m3]
    force : array, as `ensemble.follow` has it for one step
    demand : array, shape (members,), what each multiplies the use and evaporation asked for by
    rain_mm : array, shape (members,), as it was measured [mm]; set_mm : float, as logged [mm]
    extra_mm : array, shape (members,), what is added to the water given in each [mm]
    noise : array, shape (layers + 3, members), standard normal
    weights : array, shape (layers, members), as `root_weights` gives it
    totals : array, shape (FLOWS, members)
        Used, evaporated, drained below the lowest layer, came in; the use that stress cost, and
        the use wanted [mm].
    """
    count = x.shape[1]
    days, use_mm, bare_mm, rise_mm, p_factor = force[0], force[1], force[2], force[3], force[6]
    factor = 2 * layers
    spread = NOISE_CONTENT * np.sqrt(days)
    inflow = np.empty(count)
    for m in range(count):
        fell = rain_mm[m] * nat[factor + RAIN, m] * max(1.0 + NOISE_WATER * noise[layers, m], 0.0)
        given = max(set_mm + extra_mm[m], 0.0) * nat[factor + ARRIVES, m]
        given *= max(1.0 + NOISE_WATER * noise[layers + 1, m], 0.0)
        inflow[m] = fell + given
        totals[CAME, m] = fell + given + rise_mm
    table = force[8]
    held = np.zeros((layers, count), np.bool_)
    backs = False
    for j in range(layers):
        dz = edge[j + 1] - edge[j]
        most = hold[j, MOST_OUT] * days / dz
        over = above_full(0.5 * (edge[j] + edge[j + 1]), table, hold[j])
        for m in range(count):
            length = nat[factor + DRAINAGE, m]
            entered = inflow[m] / dz
            content = x[j, m] + entered
            passed = 0.0
            if content > PASSES_ON * length:
                passed = content - PASSES_ON * length
                content = PASSES_ON * length
            if content > -DRY_ENOUGH * length:
                rate = days / (length * dz)
                after = content - length * np.log1p(rate * np.exp(content / length))
            else:
                after = content
            # Nothing drains below what a table holds, or faster than the layer below takes it.
            if over > 0.0 and after < over:
                after = min(content, over)
                held[j, m] = backs = True
            left = content - after + passed
            if left > most:
                after += left - most
                left = most
                held[j, m] = backs = True
            inflow[m] = left * dz
            stir = spread + NOISE_INFLOW * min(entered, NOISE_INFLOW_MOST)
            x[j, m] = after + stir * noise[j, m]
    if backs:
        back_up(x, layers, edge, hold, held, totals)
    for m in range(count):
        totals[DRAINED, m] = inflow[m]
        totals[USED, m] = totals[EVAPORATED, m] = totals[LOSS, m] = totals[WANTED, m] = 0.0
    if use_mm > 0:
        wet = np.empty(layers)
        for m in range(count):
            a = 0.0
            for j in range(layers):
                if weights[j, m] <= 0:
                    wet[j] = 0.0
                    continue
                available = nat[j, m]
                borne = min(nat[layers + j, m] * p_factor, MOST_BORNE)
                wet[j] = min(max((x[j, m] / available + 1.0) / (1.0 - borne), 0.0), 1.0)
                a += weights[j, m] * wet[j]
            wanted = use_mm * demand[m] * nat[factor + USE, m]
            compensation = nat[factor + COMPENSATION, m]
            totals[WANTED, m] = wanted
            totals[LOSS, m] = (1.0 - min(1.0, compensation * a)) * wanted
            if a <= 0:
                continue
            taken = wanted * min(compensation, 1.0 / a)
            taken *= max(1.0 + force[7] * noise[layers + 2, m], 0.0)
            for j in range(layers):
                dz = edge[j + 1] - edge[j]
                lost = min(
                    taken * weights[j, m] * wet[j] / dz, max(x[j, m] + DRIEST * nat[j, m], 0.0)
                )
                x[j, m] -= lost
                totals[USED, m] += lost * dz
    if bare_mm > 0:
        dz = edge[1] - edge[0]
        for m in range(count):
            store = nat[0, m] + 0.5 * wilt
            left = max(x[0, m] + store, 0.0)
            risen = bare_mm * demand[m] * nat[factor + EVAPORATION, m]
            risen *= min(left / (EVAPORATION_SLOWS * store), 1.0)
            risen = min(risen, left * dz)
            x[0, m] -= risen / dz
            totals[EVAPORATED, m] = risen
    for j in range(layers - 1):
        upper, lower = edge[j + 1] - edge[j], edge[j + 2] - edge[j + 1]
        thin = min(upper, lower)
        less = min(scale[j], scale[j + 1]) * thin
        per_day = days / (0.5 * (upper + lower) * thin)
        for m in range(count):
            up, down = x[j, m] / scale[j], x[j + 1, m] / scale[j + 1]
            share = min(nat[factor + EXCHANGE, m] * per_day, 0.4)
            # Water moves between layers the more slowly the drier they are.
            dry = 0.5 * (up + down)
            if dry < 0:
                share *= np.exp(DRY_EXCHANGE * dry)
            moved = share * less * (down - up)
            x[j, m] += moved / upper
            x[j + 1, m] -= moved / lower
    # What rises from below reaches the lower end of the roots.
    foot = 0
    while foot < layers - 1 and edge[foot + 1] < min(force[4], force[5]):
        foot += 1
    risen_content = rise_mm / (edge[foot + 1] - edge[foot])
    if table < np.inf:
        # Below the roots the soil stands in balance with the table.
        for j in range(foot + 1, layers):
            over = above_full(0.5 * (edge[j] + edge[j + 1]), table, hold[j])
            if over > 0.0:
                for m in range(count):
                    x[j, m] = max(x[j, m], over)
    for m in range(count):
        x[foot, m] += risen_content
        # Evaporation dries the top beyond what roots can.
        x[0, m] = max(x[0, m], -DRIEST * nat[0, m] - 0.5 * wilt)
        for j in range(1, layers):
            x[j, m] = max(x[j, m], -DRIEST * nat[j, m])


@njit(cache=True)
def stores(
    x: Floats,
    nat: Floats,
    layers: int,
    edge: Floats,
    root_mm: float,
    root_limit_mm: float,
    p_factor: float,
    out: Floats,
) -> None:
    """Depletion, available and allowable water of members' root zones [mm]; out (3, members).

    What is allowable reaches to where transpiration falls below 97 percent, were all layers
    alike: the roots' own making up for dry parts is counted.
    """
    factor = 2 * layers
    for m in range(x.shape[1]):
        root = min(root_mm * nat[factor + ROOTS, m], root_limit_mm)
        compensation = nat[factor + COMPENSATION, m]
        depletion = taw = raw = 0.0
        for j in range(layers):
            thick = min(edge[j + 1], root) - edge[j]
            if thick <= 0:
                break
            available = nat[j, m] * thick
            borne = min(nat[layers + j, m] * p_factor, MOST_BORNE)
            depletion -= x[j, m] * thick
            taw += available
            raw += available * (1.0 - (1.0 - borne) * STRESSED / compensation)
        out[0, m], out[1, m], out[2, m] = depletion, taw, raw
