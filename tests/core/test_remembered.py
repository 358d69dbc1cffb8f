"""What a function returned is kept by its arguments, as far as it fits."""

import numpy as np

from pivrel.core.cache import BoundedCache, remembered


def test_values_are_made_once_as_long_as_they_fit_with_what_they_were_made_from():
    made = []

    @remembered(BoundedCache(1000), lambda value, *of: value.nbytes + sum(map(len, of)))
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

    @remembered(BoundedCache(100), lambda value, *of: 1)
    def nothing(of: int) -> None:
        made.append(of)

    assert nothing(3) is nothing(3) is None
    assert made == [3]


def test_several_share_a_cache_and_large_arguments_are_not_kept_with_it():
    cache, made = BoundedCache(250), []

    def ones(name: bytes, count: int) -> np.ndarray:
        made.append(name[:1])
        return np.ones(count, np.uint8)

    def twos(name: bytes, count: int) -> np.ndarray:
        return 2 * ones(name, count)

    kept = [remembered(cache, lambda value, *of: value.nbytes, lambda name, count: (hash(name), count))(f) for f in (ones, twos)]  # fmt: skip
    assert kept[0](b"a" * 1000, 100)[0] == 1 and kept[1](b"a" * 1000, 100)[0] == 2, "one is not the other"
    assert kept[0](b"a" * 1000, 100) is kept[0](b"a" * 1000, 100) and made == [b"a", b"a"]
    assert cache.used == 200
    kept[0](b"b", 100)
    assert cache.used == 200, "the other's went"
