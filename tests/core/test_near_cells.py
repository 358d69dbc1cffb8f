"""What lies near places is found by cells of a grid as by measuring every distance."""

import numpy as np
import pytest

from pivrel.core.revision.near_cells import NearCells


@pytest.mark.parametrize("flat", [False, True])
@pytest.mark.parametrize("count", [1, 40, 3000])
def test_no_box_that_is_near_a_place_is_left_out(count, flat):
    random = np.random.default_rng(count)
    places = random.uniform(0, 1000, (count, 3))
    if flat:
        places[:, 2] = 7.0
    low = random.uniform(-200, 1200, (2000, 3))
    high = low + random.exponential(30, (2000, 3)) * (random.random((2000, 1)) < 0.5)
    reach = 3.0
    outside = np.maximum(np.maximum(low[:, None] - places, places - high[:, None]), 0)
    off = np.linalg.norm(outside, axis=2).min(axis=1)
    found = NearCells(places, reach).touch(low, high)
    assert found[off <= reach].all()
    # What is found lies within two cells, or is too large to be looked through: some of it must be left out.
    small = np.prod(np.ceil((high - low) / 5) + 1, axis=1) < 64
    assert not found[small & (off > 4 * max(reach, 5.0))].any()


def test_one_place_has_a_neighbourhood():
    near = NearCells(np.array([[5.0, 5.0, 5.0]]), 1.0)
    boxes = np.array([[5.5, 5, 5], [50.0, 5, 5], [-50.0, 5, 5]])
    assert near.touch(boxes, boxes).tolist() == [True, False, False]
    assert near.touch(boxes - 100, boxes + 100).tolist() == [True, True, True]
