from fractions import Fraction

import pytest

from zinc_margin.measure import words


@pytest.mark.parametrize(
    ("mm", "text"),
    [
        (Fraction("215.9"), "8½"),
        (Fraction("12.7"), "½"),
        (Fraction("304.8"), "12"),
        (Fraction(100), "3.94"),
    ],
)
def test_inches_are_read_in_fractions_where_they_are_exact(mm, text):
    assert words.in_inches(mm) == text


def test_pairs_in_both_units():
    assert words.pair(Fraction(540), Fraction(360), "cm") == "54 × 36 cm"
    assert words.pair(Fraction("685.8"), Fraction("457.2"), "in") == "27 × 18 in"


@pytest.mark.parametrize(
    ("mm", "units", "text"),
    [
        (450, "cm", "45 cm"),
        (2200, "cm", "2.2 m"),
        (97, "cm", "9.7 cm"),
        (457.2, "in", "18 in"),
        (2194.56, "in", "7.2 ft"),
    ],
)
def test_distances(mm, units, text):
    assert words.length(mm, units) == text


@pytest.mark.parametrize(
    ("near", "far", "units", "text"),
    [
        (450, 450, "cm", "45 cm"),
        (500, 1082, "cm", "50–108 cm"),
        (2000, 4000, "cm", "2–4 m"),
        (1000, 1500, "cm", "1–1.5 m"),
        (45, 300, "cm", "45–300 mm"),
        (508, 1092, "in", "20–43 in"),
        (1219.2, 3048, "in", "4–10 ft"),
    ],
)
def test_spans(near, far, units, text):
    assert words.span(near, far, units) == text


@pytest.mark.parametrize(
    ("value", "text"), [(0, "0 %"), (0.0004, "under 0.1 %"), (0.034, "3.4 %"), (0.171, "17 %")]
)
def test_shares(value, text):
    assert words.share(value) == text


@pytest.mark.parametrize(
    ("size", "text"),
    [
        ((6000, 4000), "3:2"),
        ((3000, 4500), "2:3"),
        ((640, 427), "about 3:2"),
        ((1000, 679), "1.47:1"),
        ((5, 9), "1:1.8"),
        ((4000, 1000), "4:1"),
    ],
)
def test_shapes(size, text):
    assert words.shape(*size) == text


@pytest.mark.parametrize(
    ("count", "text"),
    [(12, "12 bytes"), (12_300, "12.3 kB"), (163_200_000, "163 MB"), (1.94e9, "1.9 GB")],
)
def test_bytes(count, text):
    assert words.size_in_bytes(count) == text


def test_small_figures():
    assert words.small(Fraction(25, 2), "cm") == "12.5 mm"
    assert words.small(Fraction(254), "in") == "10 in"
    assert words.ppi(Fraction(100000, 333)) == "300"
    assert words.ppi(54.24) == "54.2"
    assert words.megapixels(6000, 4000) == "24 MP"
    assert words.megapixels(640, 427) == "0.27 MP"
    assert words.megapixels(64, 48) == "under 0.01 MP"
    assert words.seconds(0.3) == "under a second"
    assert words.seconds(150) == "2 min"
