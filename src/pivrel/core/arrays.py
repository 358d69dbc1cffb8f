"""Array types by what they hold, so that signatures read like the laying contract."""

from typing import Any, TypeAlias

import numpy as np
import numpy.typing as npt

Floats: TypeAlias = npt.NDArray[np.float64]
Floats32: TypeAlias = npt.NDArray[np.float32]
Ints: TypeAlias = npt.NDArray[np.signedinteger[Any]]
Mask: TypeAlias = npt.NDArray[np.bool_]
