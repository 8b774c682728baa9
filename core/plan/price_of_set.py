"""What one irrigation costs, by the farm's own prices."""

from core.plan.network import Network, same_name


def price_of_set(network: Network, supply: str, block: int, gross_m3: float) -> float | None:
    """Water, power and labour of one irrigation of a block [money]; None where nobody priced any.

    Parameters
    ----------
    supply : where the block's water comes from
    gross_m3 : float [m3]

    Notes
    -----
    Power by the tariff's price outside its bands: when it will run is not known.
    """
    source, connection = network.source_of(supply), network.connection(block)
    parts: list[float] = []
    if source is not None:
        if source.water_price > 0:
            parts.append(gross_m3 * source.water_price)
        wanted = source.tariff
        tariff = next(
            (t for name, t in network.tariffs if wanted is not None and same_name(name, wanted)),
            None,
        )
        if tariff is not None and source.energy_kwh_m3 > 0:
            parts.append(gross_m3 * source.energy_kwh_m3 * tariff.price)
    if network.labour_price is not None and connection.labour_h is not None:
        parts.append(connection.labour_h * network.labour_price)
    return sum(parts) if parts else None
