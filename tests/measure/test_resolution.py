from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.resolution import parse_ppi, round_half_up, tag_for


@pytest.mark.parametrize(
    ("typed", "ppi"),
    [
        ("300", 300),
        ("300 ppi", 300),
        ("300dpi", 300),
        ("240.5", Fraction("240.5")),
        ("118 px/cm", Fraction("299.72")),
        ("1", 1),
        ("10000", 10000),
    ],
)
def test_resolutions(typed, ppi):
    assert parse_ppi(typed) == ppi


@pytest.mark.parametrize(
    "typed", ["-3", "1e9", "0", "0.5", "10001", "", "ppi", "many", "5000 px/cm"]
)
def test_absurd_resolutions_are_refused(typed):
    with pytest.raises(BadRequest, match="1 to 10000"):
        parse_ppi(typed)


@given(st.integers(1, 60000), st.fractions(min_value=1, max_value=5000, max_denominator=100))
def test_pixels_divided_by_the_tag_are_the_size_exactly(pixels, mm):
    n, d = tag_for(pixels, mm)
    assert max(n, d) < 2**32
    assert pixels / Fraction(n, d) * Fraction("25.4") == mm


def test_a_tag_beyond_32_bits_is_the_best_that_fits():
    mm = Fraction(10**12 + 39, 10**10)
    n, d = tag_for(12345, mm)
    assert max(n, d) < 2**32
    assert abs(12345 / Fraction(n, d) * Fraction("25.4") / mm - 1) < 1e-12


def test_halves_go_up():
    assert [round_half_up(Fraction(n, 2)) for n in (1, 2, 3, 5)] == [1, 1, 2, 3]
