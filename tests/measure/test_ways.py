from __future__ import annotations

from fractions import Fraction

import pytest

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.ways import Way, mat_of, parse_way, screen, within

MM = Fraction


@pytest.mark.parametrize(
    ("typed", "kind", "values"),
    [
        ("1 m wide", "width", (1000,)),
        ("width 40cm", "width", (400,)),
        ("40 across", "width", (400,)),
        ("60 cm high", "height", (600,)),
        ("height 2 ft", "height", (MM("609.6"),)),
        ("long edge 40 cm", "long-edge", (400,)),
        ("16 in long side", "long-edge", (MM("406.4"),)),
        ("shortest edge 20", "short-edge", (200,)),
        ("within 18x13 cm", "within", (180, 130)),
        ("within A4", "within", (210, 297)),
        ("within 1920x1080 px", "within-px", (1920, 1080)),
        ("1920 × 1080 px", "screen", (1920, 1080)),
        ("50 %", "scale", (MM(1, 2),)),
        ("12 MP", "megapixels", (12,)),
        ("2,5 megapixels", "megapixels", (MM(5, 2),)),
        ("mat 36x27 cm", "mat", (360, 270, 0)),
        ("mat 36x27 cm reveal 6 mm", "mat", (360, 270, 6)),
        ("mat 36 x 27 cm, overlap 3mm", "mat", (360, 270, -3)),
    ],
)
def test_wishes_in_words(typed, kind, values):
    assert parse_way(typed) == Way(kind, tuple(Fraction(value) for value in values))


@pytest.mark.parametrize("typed", ["30x20cm", "A3+", "letter", "8 1/2 x 11 in", "nonsense", ""])
def test_what_is_a_plain_size_is_left_to_sizes(typed):
    assert parse_way(typed) is None


@pytest.mark.parametrize(
    "typed",
    [
        "0 cm wide",
        "within",
        "within x",
        "0 %",
        "99999999 %",
        "0 MP",
        "mat 2x2 cm reveal 1 cm",
        "mat 2x2 cm overlap 1 m",
        "0x5 px",
        "9999999x5 px",
    ],
)
def test_wishes_that_cannot_be(typed):
    if typed == "within":
        assert parse_way(typed) is None
        return
    with pytest.raises(BadRequest):
        parse_way(typed)


def test_pixels_of_a_screen():
    assert screen("1920x1080") == screen("1920 × 1080 px")
    with pytest.raises(BadRequest, match="not a screen"):
        screen("full hd")
    assert within("800x600px").kind == "within-px"
    with pytest.raises(BadRequest, match="not both"):
        mat_of("36x27cm", "1cm", "1cm")
    assert mat_of("36x27cm", "0", None).values[2] == 0
