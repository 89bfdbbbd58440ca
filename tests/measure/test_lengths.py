from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import inches, parse_length, parse_number


@pytest.mark.parametrize(
    ("typed", "mm"),
    [
        ("80cm", 800),
        ("80 cm", 800),
        ("2.2 m", 2200),
        ("2,2m", 2200),
        ("12in", Fraction("304.8")),
        ('12"', Fraction("304.8")),
        ("8 1/2 in", Fraction("215.9")),
        ("8½ in", Fraction("215.9")),
        ("½ inch", Fraction("12.7")),
        ("5 ft", 1524),
        ("5 ft 6 in", Fraction("1676.4")),
        ("5'6\"", Fraction("1676.4")),
        ("329mm", 329),
        ("45", 450),
        (".5 m", 500),
    ],
)
def test_lengths_mean_what_a_person_means(typed, mm):
    assert parse_length(typed) == mm


def test_a_bare_number_takes_the_unit_in_use():
    assert parse_length("10", "in") == 254
    assert parse_length("10", "mm") == 10


@pytest.mark.parametrize(
    "typed",
    ["", "cm", "0", "0cm", "-3cm", "ten cm", "1e9", "nan", "inf", "1/0 in", "3 4 cm", "9" * 60],
)
def test_what_is_no_length_is_refused_with_its_words(typed):
    with pytest.raises(BadRequest) as why:
        parse_length(typed)
    assert len(str(why.value)) < 160
    assert str(why.value).endswith(".")


def test_a_kilometre_of_print_is_a_slip():
    assert parse_length("1000 m") == 1_000_000
    with pytest.raises(BadRequest, match="kilometre"):
        parse_length("1001 m")


@given(st.integers(1, 9999), st.sampled_from([2, 4, 8, 3]), st.integers(1, 7))
def test_mixed_fractions_are_exact(whole, under, over):
    assert parse_number(f"{whole} {over}/{under}") == whole + Fraction(over, under)


@given(st.decimals(min_value="0.001", max_value=9999, places=3))
def test_decimals_are_exact(value):
    assert parse_length(f"{value} mm") == Fraction(value)
    assert parse_length(f"{value}in") == Fraction(value) * Fraction("25.4")


def test_an_inch_is_25_4_mm_exactly():
    assert inches(Fraction("25.4")) == 1
