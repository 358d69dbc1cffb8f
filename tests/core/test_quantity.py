"""Numbers as people type them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from pivrel.core.quantity import QuantityError, parse_angle, parse_length, parse_share


@pytest.mark.parametrize(
    "text, mm",
    [
        ("450", 450), ("2.4m", 2400), ("2,4m", 2400), ("8'", 2438.4), ("450/2", 225), ("5'6\"", 1676.4),
        ("1m + 25", 1025), ("3*(75+10)", 255), ("-2cm", -20), ("1/2in", 12.7),
        (" 12.5 ", 12.5), ("1e3", 1000), ("2 × 215 + 10", 440), ("1 FT", 304.8),
        ("(1m-200)/4", 200), (".5m", 500), ("1m/250mm", 4),
    ],
)  # fmt: skip
def test_lengths(text, mm):
    assert parse_length(text) == pytest.approx(mm)


def test_angles_and_shares():
    assert parse_angle("90") == parse_angle("90°") == parse_angle("45deg*2") == parse_angle("1/4turn") == 90
    assert parse_angle("1rad") == pytest.approx(57.29577951)
    assert parse_share("150%") == parse_share("1.5x") == parse_share("3/2") == 1.5


@pytest.mark.parametrize(
    "text",
    ["", "  ", "abc", "2.4q", "1+", "(2", "2)", "1/0", "2m*3m", "--", "1 2", "1e999", "é", "1;2", "90deg"],
)
def test_what_is_no_length_is_told_in_a_sentence(text):
    with pytest.raises(QuantityError) as error:
        parse_length(text)
    assert str(error.value)


@given(st.text(max_size=20))
def test_any_text_is_a_number_or_a_sentence(text):
    try:
        assert parse_length(text) == parse_length(text)
    except QuantityError as error:
        assert "\n" not in repr(str(error))
