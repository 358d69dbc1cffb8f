"""JSON from elsewhere is read within bounds, by one reader."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from pivrel.bounded_json import DEEPEST, JsonError, read_json

VALUES = st.recursive(
    st.none() | st.booleans() | st.integers(-(2**63), 2**63) | st.floats(allow_nan=False, allow_infinity=False) | st.text(),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=5), inner, max_size=4),
    max_leaves=20,
)  # fmt: skip


@given(VALUES)
def test_what_python_writes_is_read_as_it_was(value):
    assert read_json(json.dumps(value)) == value
    assert read_json(json.dumps(value).encode()) == value


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("", "broken at line 1, column 1"),
        ('{"a":\n 1,}', "broken at line 2"),
        ("[" * 100_000, "nested too deep"),
        ("[" * (DEEPEST + 1) + "]" * (DEEPEST + 1), "nested too deep"),
        ("1" + "0" * 400, "a number of 401 digits"),
        ("1e400", "more than any number"),
        ("[NaN]", "holds NaN"),
        ("-Infinity", "holds -Infinity"),
        (b"\xff\xfe\x00\xd8\x00\xd8", "no text"),
    ],
)
def test_what_is_no_json_of_ours_is_told_in_a_sentence(text, told):
    with pytest.raises(JsonError, match=told) as refused:
        read_json(text)
    assert "\n" not in str(refused.value)


def test_bytes_and_values_have_bounds():
    with pytest.raises(JsonError, match="more than 0 MB are not read"):
        read_json("[1, 2, 3]", most_bytes=5)
    with pytest.raises(JsonError, match="more than 3 values"):
        read_json("[[], [], [], []]", most_values=3)
    assert read_json("[1, 2, 3]", most_values=3) == [1, 2, 3]


def test_our_own_texts_may_hold_what_python_writes():
    assert read_json("[Infinity]", own=True) == [float("inf")]
