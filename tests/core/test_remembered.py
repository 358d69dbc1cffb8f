"""What a function returned is kept by its arguments, as far as it fits."""

import numpy as np

from pivrel.core.cache import remembered


def test_values_are_made_once_as_long_as_they_fit_with_what_they_were_made_from():
    made = []

    @remembered(1000, lambda value, *of: value.nbytes + sum(map(len, of)))
    def ones(name: str, count: int = 10) -> np.ndarray:
        made.append(name)
        return np.ones(count)

    assert ones("a") is ones("a") and made == ["a"]
    assert len(ones("a", count=20)) == 20 and made == ["a", "a"]
    # A name of 900 signs leaves room for nothing else.
    ones("b" * 900)
    ones("a")
    assert made == ["a", "a", "b" * 900, "a"]


def test_a_value_that_is_nothing_is_kept_too():
    made = []

    @remembered(100, lambda value, *of: 1)
    def nothing(of: int) -> None:
        made.append(of)

    assert nothing(3) is nothing(3) is None
    assert made == [3]
