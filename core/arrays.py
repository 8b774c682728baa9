"""Array types shared by the vectorised functions."""

from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

Floats = NDArray[np.floating[Any]]
Bools = NDArray[np.bool_]
Ints = NDArray[np.integer[Any]]

__all__ = ["ArrayLike", "Bools", "Floats", "Ints"]
