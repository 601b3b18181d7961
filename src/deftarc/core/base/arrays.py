"""The arrays the core computes with."""

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]
Integers = npt.NDArray[np.int64]
