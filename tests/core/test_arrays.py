"""Distinct values, against the library's own."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from pivrel.core.arrays import distinct


@pytest.mark.parametrize("kind", [np.int32, np.int64, np.float64, bool])
@given(st.data())
def test_distinct_values_are_each_once_and_ascending(kind, data):
    values = data.draw(
        arrays(
            kind,
            st.tuples(st.integers(0, 9), st.integers(1, 3)),
            elements={"allow_nan": False} if kind == np.float64 else None,
        )
    )
    found = distinct(values)
    assert found.dtype == kind
    assert found.tolist() == np.unique(values, sorted=True).tolist()
