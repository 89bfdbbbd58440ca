from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from tests.conftest import docket_of, facts_of
from zinc_margin.docket.crop import Frame
from zinc_margin.docket.docket import fresh
from zinc_margin.docket.document import from_json, to_json
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.way_labels import label_of
from zinc_margin.measure.ways import WAYS, parse_way
from zinc_margin.measure.wish import parse_wish
from zinc_margin.plan.build import plan
from zinc_margin.plan.text.lines import entries, pixels_reason

CAMERA, UPRIGHT = facts_of(6000, 4000), facts_of(3000, 4500)


def asked(facts, words, **lines):
    lines["size"] = {"size": None, "way": parse_way(words)} | lines.get("size", {})
    return plan(facts, docket_of(**lines))


@pytest.mark.parametrize(
    ("facts", "words", "width", "height"),
    [
        (CAMERA, "1 m wide", 1000, Fraction(2000, 3)),
        (UPRIGHT, "1 m wide", 1000, 1500),
        (CAMERA, "60 cm high", 900, 600),
        (CAMERA, "long edge 60 cm", 600, 400),
        (UPRIGHT, "long edge 60 cm", 400, 600),
        (UPRIGHT, "short edge 20 cm", 200, 300),
        (CAMERA, "within 18x13 cm", 180, 120),
        (UPRIGHT, "within 18x13 cm", 120, 180),
        (facts_of(4000, 3500), "within 18x13 cm", Fraction(1040, 7), 130),
        (CAMERA, "mat 36x27 cm", 360, 270),
        (CAMERA, "mat 27x36 cm reveal 6 mm", 348, 258),
        (UPRIGHT, "mat 36x27 cm overlap 3 mm", 276, 366),
    ],
)
def test_ways_in_print_units(facts, words, width, height):
    made = asked(facts, words)
    half_px = Fraction(254, 20) / Fraction(*made.pixels.tag_x)
    assert abs(made.size.width_mm - width) <= half_px
    assert abs(made.size.height_mm - height) <= half_px
    assert made.size.width_mm == width or made.size.height_mm == height
    if not words.startswith("mat"):
        assert made.trimmed_share < 1e-3


@pytest.mark.parametrize(
    ("facts", "words", "pixels"),
    [
        (CAMERA, "50 %", (3000, 2000)),
        (CAMERA, "200 %", (12000, 8000)),
        (CAMERA, "within 1920x1080 px", (1620, 1080)),
        (UPRIGHT, "within 1920x1080 px", (1080, 1620)),
        (CAMERA, "1920x1080 px", (1920, 1080)),
        (CAMERA, "100 %", (6000, 4000)),
    ],
)
def test_ways_in_pixels_are_exact(facts, words, pixels):
    made = asked(facts, words)
    assert (made.pixels.width, made.pixels.height) == pixels
    ppi = asked(facts, words, size={"ppi": Fraction(96)})
    assert (ppi.pixels.width, ppi.pixels.height) == pixels


def test_a_screen_with_bands():
    made = asked(CAMERA, "1920x1080 px", crop={"fit": "whole"})
    assert (made.pixels.width, made.pixels.height) == (1920, 1080)
    assert made.picture == (150, 0, 1620, 1080)


@given(
    st.integers(1, 9000),
    st.integers(1, 9000),
    st.fractions(Fraction(1, 10), 200, max_denominator=20),
)
def test_megapixels_are_never_passed(width, height, megapixels):
    made = asked(facts_of(width, height), f"{float(megapixels):.4f} MP")
    exact = Fraction(f"{float(megapixels):.4f}") * 1_000_000
    assert made.pixels.width * made.pixels.height <= exact
    if min(made.pixels.width, made.pixels.height) > 50:
        assert made.pixels.width * made.pixels.height > 0.95 * exact


@given(
    st.integers(10, 9000),
    st.integers(10, 9000),
    st.sampled_from(
        ["1 m wide", "30 cm high", "long edge 40 cm", "short edge 7 in", "within 18x13 cm", "33 %"]
    ),
)
def test_turning_the_photo_turns_the_print(width, height, words):
    assume(max(width, height) < 50 * min(width, height))  # no file holds the rest
    made = asked(facts_of(width, height), words)
    if words in ("1 m wide", "30 cm high") or width == height:
        return
    turned = asked(facts_of(height, width), words)
    assert (turned.size.width_mm, turned.size.height_mm) == (
        made.size.height_mm,
        made.size.width_mm,
    )


def test_a_frame_of_ones_own_gives_the_shape():
    frame = Frame(Fraction(0), Fraction(0), Fraction(2000), Fraction(2000))
    made = asked(CAMERA, "long edge 40 cm", crop={"frame": frame})
    assert made.size.width_mm == made.size.height_mm == 400
    assert made.crop == frame


def test_ways_go_round_as_json():
    for kind, names in WAYS.items():
        words = {
            "mat": "mat 36x27cm reveal 6mm",
            "within": "within 18x13cm",
            "within-px": "within 80x60 px",
            "screen": "80x60 px",
            "scale": "33.3 %",
            "megapixels": "2.5 MP",
            "width": "1/3 m wide",
            "height": "1 ft high",
            "sheet": "A3 border 2 cm",
            "shape": "1.618:1",
            "reach": "240 ppi",
            "long-edge-px": "1600 px",
            "long-edge": "long edge 1 m",
            "short-edge": "short edge 1 in",
        }[kind]
        docket = docket_of(size={"size": None, "way": parse_wish(words).way})
        text = to_json(docket)
        assert all(f'"{name}"' in text for name in names)
        assert from_json(text) == docket
    with pytest.raises(BadRequest, match=r"size\.way"):
        from_json('{"zinc_margin_docket": 1, "size": {"way": {"kind": "width", "mm": 0}}}')
    with pytest.raises(BadRequest, match=r"size\.way"):
        from_json('{"zinc_margin_docket": 1, "size": {"way": {"kind": "by-eye"}}}')


def test_keeping_pixels_still_keeps_them():
    made = asked(CAMERA, "50 %", pixels={"choice": "keep"})
    assert made.pixels.scale == 1
    assert made.size.width_mm == 3000 * Fraction("25.4") / 300


@pytest.mark.parametrize(
    ("typed", "label"),
    [
        ("38in wide", "width 38 in"),
        ("11 in high", "height 11 in"),
        ("within 7x5 in", "within 7 × 5 in"),
        ("long edge 40 cm", "long edge 40 cm"),
        ("short edge 17.5 cm", "short edge 17.5 cm"),
        ("mat 14x11 in reveal 6 mm", "mat 14 × 11 in, reveal 6 mm"),
        ("1 m wide", "width 100 cm"),
    ],
)
def test_a_wish_keeps_the_unit_in_which_it_is_round(typed, label):
    assert label_of(parse_way(typed)) == label


@pytest.mark.parametrize("choice", ["keep", "resample"])
@pytest.mark.parametrize(
    "words", ["12 in wide", "1 m wide", "30 cm high", "long edge 40 cm", "within 18x13 cm", "16:9"]
)
def test_a_side_that_follows_makes_both_tags_equal(words, choice):
    for facts in (CAMERA, UPRIGHT, facts_of(4001, 2999)):
        size = {"size": None, "way": parse_wish(words).way, "ppi": Fraction(300)}
        made = plan(facts, docket_of(size=size, pixels={"choice": choice}))
        tag = Fraction(*made.pixels.tag_x)
        assert tag == Fraction(*made.pixels.tag_y)
        assert tag == made.pixels.width / made.size.width_mm * Fraction("25.4")
        if choice == "resample" and words in ("12 in wide", "16:9"):
            assert tag == 300


def test_all_pixels_at_a_resolution_have_exactly_its_tag():
    made = plan(
        facts_of(4001, 2999), docket_of(size={"size": None, "way": parse_wish("240 ppi").way})
    )
    assert made.pixels.tag_x == made.pixels.tag_y == (240, 1)
    framed = plan(
        CAMERA,
        docket_of(size={"size": None}, crop={"frame": Frame(*map(Fraction, (10, 20, 1001, 703)))}),
    )
    assert framed.pixels.tag_x == framed.pixels.tag_y


@given(st.integers(60, 9000), st.integers(60, 9000), st.sampled_from(["cm", "in"]))
def test_an_automatic_size_is_round_and_trims_nothing(width, height, units):
    made = plan(facts_of(width, height), fresh(units))
    longest = max(made.size.width_mm, made.size.height_mm)
    step = Fraction("6.35") if units == "in" else Fraction(1)
    assert longest % step == 0
    if longest >= 10 * (Fraction("25.4") if units == "in" else 10) and not made.size.family:
        assert longest % (4 * step if units == "in" else 10) == 0
    lost = (width - made.crop.width) + (height - made.crop.height)
    assert lost <= 1


def test_a_photo_slightly_below_its_minimum_has_one_grade_everywhere():
    made = plan(facts_of(3000, 2000), docket_of("45x30cm"))
    assert made.pixels.choice == "enlarge" and made.grade == "from a distance"
    assert "less than 180 ppi" in pixels_reason(made) and "too few" not in pixels_reason(made)
    said = entries(made.facts, made)
    assert said["size"].consequence.startswith("From a distance")
