"""Measured series out of the test data of the `ismn` package's source archive.

International Soil Moisture Network (Dorigo et al. 2011, 2021), hourly water content at 5 cm with
the network's own quality flags; read from the archive that the tests' install fetched.
"""

import tarfile
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import cache
from pathlib import Path

import numpy as np

ARCHIVE = Path(__file__).resolve().parents[2] / ".furrow" / "data" / "ismn-1.5.4.tar.gz"
FRAYE = "FR-Aqui_FR-Aqui_fraye_sm_0.050000_0.050000_ThetaProbe-ML2X_19500101_20210131.stm"


@dataclass(frozen=True)
class Measured:
    """Hourly water content [m3/m3] and the network's own flags, as text."""

    time: list[datetime]
    theta: np.ndarray
    flag: list[str]

    @property
    def hours(self) -> np.ndarray:
        """Since the first reading."""
        return np.array([(t - self.time[0]).total_seconds() / 3600 for t in self.time])


@cache
def measured(name: str = FRAYE) -> Measured:
    """A series by its file's name, in the archive's long form."""
    with tarfile.open(ARCHIVE) as archive:
        member = next(m for m in archive.getmembers() if m.name.endswith(f"/fraye/{name}"))
        file = archive.extractfile(member)
        assert file is not None
        cells = [line.split() for line in file.read().decode().splitlines()]
    return Measured(
        [datetime.strptime(f"{c[0]} {c[1]}", "%Y/%m/%d %H:%M").replace(tzinfo=UTC) for c in cells],
        np.array([float(c[-3]) for c in cells]),
        [c[-2] for c in cells],
    )
