"""Runs of sorted values, by their weight."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.kernels import kernel


def heaviest_run(values: Floats, tops: Floats, weights: Floats) -> tuple[slice, float]:
    """The run of values (N,), ascending, that weighs most, and its weight.

    A run begins at a value and takes all that follow up to the top (N,) of that value.
    """
    first, end = heaviest(values, tops, weights)
    return slice(first, end), float(weights[first:end].sum())


@kernel
def heaviest(values: Floats, tops: Floats, weights: Floats) -> tuple[int, int]:
    """Where that run begins, and where the next value stands."""
    count = len(values)
    total = np.zeros(count + 1)
    for k in range(count):
        total[k + 1] = total[k] + weights[k]
    most, first, after = -1.0, 0, 0
    for k in range(count):
        begin, end = 0, count
        while begin < end:
            middle = (begin + end) // 2
            if values[middle] <= tops[k]:
                begin = middle + 1
            else:
                end = middle
        if total[end] - total[k] > most:
            most, first, after = total[end] - total[k], k, end
    return first, after
