"""A print in a few words: size, maker, paper and format, in any order behind the size."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import pytest

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.print_input import TypedPrint, parse_print


@pytest.mark.parametrize(
    ("typed", "size", "rest"),
    [
        ("18x13 gloss jpeg", "18 × 13 cm", TypedPrint(paper="gloss", format="jpeg")),
        ("18x13 on gloss, as a jpg", "18 × 13 cm", TypedPrint(paper="gloss", format="jpeg")),
        ("60x45 cm canvas", "60 × 45 cm", TypedPrint(maker="canvas")),
        ("A3 desk printer matt tiff", "A3", TypedPrint(None, "desk", "matt", "tiff")),
        ("30x20 lab, by upload", "30 × 20 cm", TypedPrint(maker="lab-online")),
        ("24x16 in cotton rag", "24 × 16 in", TypedPrint(paper="cotton rag")),
        ("22x22cm 330 ppi", "22 × 22 cm", TypedPrint(ppi=Fraction(330))),
        ("28x21in at 220 ppi", "28 × 21 in", TypedPrint(ppi=Fraction(220))),
        ("A3 matt 16-bit tiff", "A3", TypedPrint(paper="matt", bits=16, format="tiff")),
        ("12x9 sRGB jpeg", "12 × 9 cm", TypedPrint(colour="srgb", format="jpeg")),
        ("40x30 my own rag", "40 × 30 cm", TypedPrint(paper="My own rag")),
    ],
)
def test_what_is_typed_behind_a_size(typed, size, rest):
    result = parse_print(typed, "cm", (), ("My own rag",))
    assert result.wish.size.label == size
    assert replace(result, wish=None) == rest


def test_words_alone_change_nothing_else():
    assert parse_print("gloss jpeg") == TypedPrint(paper="gloss", format="jpeg")
    assert parse_print("30x20").wish.size.label == "30 × 20 cm"


@pytest.mark.parametrize(
    "typed", ["18x13 glossy thing", "gloss and more", "canvas canvas canvas", ""]
)
def test_what_cannot_be_meant_is_said_of_the_whole(typed):
    with pytest.raises(BadRequest):
        parse_print(typed)


def test_a_refusal_names_the_words_that_are_not_understood():
    with pytest.raises(BadRequest, match=r"^“glossy thing” is not understood"):
        parse_print("18x13 glossy thing")
    with pytest.raises(BadRequest, match=r"^“thing” is not understood"):
        parse_print("18x13 thing gloss jpeg")
