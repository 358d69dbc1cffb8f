"""Runs of sorted values, by their weight."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats


def heaviest_run(values: Floats, tops: Floats, weights: Floats) -> tuple[slice, float]:
    """The run of values (N,), ascending, that weighs most, and its weight.

    A run begins at a value and takes all that follow up to the top (N,) of that value.
    """
    total = np.concatenate([[0.0], np.cumsum(weights)])
    ends = np.searchsorted(values, tops, side="right")
    held = total[ends] - total[:-1]
    first = int(np.argmax(held))
    return slice(first, int(ends[first])), float(held[first])
