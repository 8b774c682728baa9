"""Many blocks' ensembles side by side: made, carried to now, and read."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.estimate.ensemble import COUNTERS, follow
from core.estimate.ground import BlockGround, draw_members
from core.estimate.member import FACTORS, HOLDS
from core.estimate.news import PLATEAUS, REMEMBERED, WANDER
from core.estimate.notes import NOTES

MEMBERS = 100


@dataclass(frozen=True)
class Grounds:
    """Grounds of many blocks, padded to the largest; see `BlockGround` and `follow`."""

    blocks: tuple[BlockGround, ...]
    layers: np.ndarray
    sensors: np.ndarray
    edge: Floats
    scale: Floats
    hold: Floats
    wilt: Floats
    prior_mean: Floats
    prior_sd: Floats
    walk_sd: Floats
    depth: Floats
    place: np.ndarray
    deeper: np.ndarray
    lags: np.ndarray
    root_limit_mm: Floats

    @classmethod
    def of(cls, blocks: Sequence[BlockGround]) -> "Grounds":
        """Grounds in the order of their blocks."""
        layers = np.array([g.layers for g in blocks], np.int64)
        sensors = np.array([g.sensors for g in blocks], np.int64)
        most_layers, most_sensors = int(layers.max()), max(int(sensors.max()), 1)
        figures = int((3 * layers + FACTORS + 2 * sensors).max())

        def padded(rows: Sequence[np.ndarray], size: int, fill: float = 0.0) -> Floats:
            out = np.full((len(rows), size), fill)
            for i, row in enumerate(rows):
                out[i, : row.size] = row
            return out

        return cls(
            blocks=tuple(blocks),
            layers=layers,
            sensors=sensors,
            edge=padded([g.edge_mm for g in blocks], most_layers + 1),
            scale=padded([g.scale for g in blocks], most_layers, 0.1),
            hold=_holds(blocks, most_layers),
            wilt=np.array([g.wilt for g in blocks]),
            prior_mean=padded([g.prior_mean for g in blocks], figures),
            prior_sd=padded([g.prior_sd for g in blocks], figures),
            walk_sd=padded([g.walk_sd for g in blocks], most_sensors),
            depth=padded([g.depth_mm for g in blocks], most_sensors, 1.0),
            place=padded([g.place for g in blocks], most_sensors).astype(np.int64),
            deeper=padded([g.deeper for g in blocks], most_sensors, -1).astype(np.int64),
            lags=padded([g.lags for g in blocks], most_sensors).astype(bool),
            root_limit_mm=np.array([g.root_limit_mm for g in blocks]),
        )


def _holds(blocks: Sequence[BlockGround], most_layers: int) -> Floats:
    """What holds water up in each layer; layers that are not there hold nothing."""
    out = np.full((len(blocks), most_layers, HOLDS), np.inf)
    for i, g in enumerate(blocks):
        out[i, : g.layers] = g.hold
    return out


@dataclass
class Ensembles:
    """State of many blocks at one moment.

    members : array, shape (blocks, figures, members)
    memory : array, shape (blocks, sensors, REMEMBERED)
    counters : array, shape (blocks, COUNTERS)
    step : array of int, shape (blocks,), how many steps each has passed since its first
    seeds : array of int, shape (blocks,)
    """

    members: Floats
    memory: Floats
    counters: Floats
    step: np.ndarray
    seeds: np.ndarray

    @classmethod
    def begin(cls, grounds: Grounds, seeds: Sequence[int], count: int = MEMBERS) -> "Ensembles":
        """As blocks stand before they have shown anything."""
        ensembles = cls.empty(grounds, seeds, count)
        for i, (ground, seed) in enumerate(zip(grounds.blocks, seeds, strict=True)):
            ensembles.members[i, : ground.prior_mean.size] = draw_members(ground, count, seed)
        return ensembles

    @classmethod
    def empty(cls, grounds: Grounds, seeds: Sequence[int], count: int = MEMBERS) -> "Ensembles":
        """Room for blocks whose state is put in from elsewhere."""
        blocks, figures = grounds.prior_mean.shape
        members = np.zeros((blocks, figures, count))
        memory = np.full((blocks, grounds.depth.shape[1], REMEMBERED), np.nan)
        memory[..., [PLATEAUS, WANDER]] = 0.0
        counters = np.zeros((blocks, COUNTERS))
        return cls(members, memory, counters, np.zeros(blocks, np.int64), np.array(seeds, np.int64))

    def carry(
        self,
        grounds: Grounds,
        force: Floats,
        water: Floats,
        reading: Floats,
        reading_sd: Floats,
        at_least: Floats,
        at_most: Floats,
        mornings: np.ndarray,
        renewed: np.ndarray | None = None,
        untold: np.ndarray | None = None,
    ) -> Floats:
        """Carry all blocks on by the same steps; changes the state.

        Returns
        -------
        array, shape (blocks, steps, NOTES)
            What stood at the end of each step, see `ensemble`.
        """
        blocks, steps = force.shape[:2]
        notes = np.empty((blocks, steps, NOTES))
        new = np.zeros(reading.shape, bool) if renewed is None else renewed
        # Compiled once for arrays that lie in one piece, not again for each way they may be cut.
        force, water, reading, reading_sd, at_least, at_most = (
            np.ascontiguousarray(x) for x in (force, water, reading, reading_sd, at_least, at_most)
        )
        follow(
            self.members,
            self.memory,
            self.counters,
            grounds.layers,
            grounds.sensors,
            grounds.edge,
            grounds.scale,
            grounds.hold,
            grounds.wilt,
            grounds.prior_mean,
            grounds.prior_sd,
            grounds.walk_sd,
            grounds.depth,
            grounds.place,
            grounds.deeper,
            grounds.lags,
            new,
            np.zeros(blocks, bool) if untold is None else untold,
            force,
            water,
            reading,
            reading_sd,
            at_least,
            at_most,
            mornings,
            self.seeds,
            self.step,
            notes,
        )
        self.step += steps
        return notes
