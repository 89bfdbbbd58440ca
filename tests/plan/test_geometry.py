from __future__ import annotations

import math
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from tests.conftest import docket_of, facts_of
from zinc_margin.docket.crop import Frame
from zinc_margin.plan.build import plan
from zinc_margin.plan.crop import framing, turns
from zinc_margin.plan.crop.rotation import Turned
from zinc_margin.plan.pixels.boxes import whole_pixels

angles = st.fractions(-180, 180, max_denominator=100)
sides = st.integers(20, 5000)
ratios = st.fractions(Fraction(1, 5), 5, max_denominator=60)
places = st.fractions(0, 1, max_denominator=40)


def inner_half(frame):
    """A frame of half the size about the same centre."""
    return Frame(
        frame.left + frame.width / 4,
        frame.top + frame.height / 4,
        frame.width / 2,
        frame.height / 2,
    )


def corners_inside(turned, frame, slack=1e-3):
    """Map the four corners into the upright picture by the renderer's own map."""
    x0, xx, xy, y0, yx, yy = turned.source_map(frame)
    w, h = float(frame.width), float(frame.height)
    return all(
        -slack <= x0 + xx * s + xy * t <= turned.width + slack
        and -slack <= y0 + yx * s + yy * t <= turned.height + slack
        for s in (0, w)
        for t in (0, h)
    )


@given(sides, sides, angles, ratios, places, places)
def test_the_largest_frame_lies_inside_at_every_place(width, height, angle, ratio, x, y):
    turned = Turned(width, height, angle)
    frame = turned.placed(*turned.largest(ratio), x, y)
    assert turned.holds(frame)
    assert corners_inside(turned, frame)
    assert frame.width / frame.height == ratio


@given(sides, sides, angles, ratios)
def test_no_larger_frame_fits(width, height, angle, ratio):
    turned = Turned(width, height, angle)
    w, h = turned.largest(ratio)
    larger = turned.placed(
        w * Fraction(101, 100), h * Fraction(101, 100), Fraction(1, 2), Fraction(1, 2)
    )
    assert not turned.holds(larger)


@given(
    sides,
    sides,
    angles,
    ratios,
    places,
    places,
    st.fractions(Fraction(1, 10), Fraction(9, 10), max_denominator=30),
)
def test_places_come_back(width, height, angle, ratio, x, y, part):
    turned = Turned(width, height, angle)
    w, h = turned.largest(ratio)
    frame = turned.placed(w * part, h * part, x, y)
    back = turned.place_of(frame)
    assert float(back[0]) == pytest.approx(float(x), abs=1e-3)
    assert float(back[1]) == pytest.approx(float(y), abs=1e-3)


def test_quarter_turns_keep_whole_pixels():
    for quarters, expected in ((1, (400, 600)), (2, (600, 400)), (3, (400, 600))):
        turned = Turned(600, 400, Fraction(90 * quarters))
        assert turned.square
        assert turned.box == expected


def test_the_map_of_a_quarter_turn():
    # clockwise: the left column of the picture becomes its top row
    turned = Turned(600, 400, Fraction(90))
    x0, xx, xy, y0, yx, yy = turned.source_map(
        Frame(Fraction(0), Fraction(0), Fraction(1), Fraction(1))
    )
    assert (x0, y0) == (0, 400)
    assert (round(xx), round(xy), round(yx), round(yy)) == (0, 1, -1, 0)


def test_clockwise_is_positive():
    turned = Turned(1000, 1000, Fraction(10))
    _x0, xx, _xy, _y0, yx, _yy = turned.source_map(
        Frame(Fraction(0), Fraction(0), Fraction(1), Fraction(1))
    )
    # going right in the turned picture goes up in the upright one
    assert xx == pytest.approx(math.cos(math.radians(10))) and yx < 0


@given(sides, sides, ratios, places, places)
def test_whole_pixels_stay_inside_and_near_the_shape(width, height, ratio, x, y):
    turned = Turned(width, height)
    w, h = turned.largest(ratio)
    assume(w >= 4 and h >= 4)
    frame = whole_pixels(turned, turned.placed(w, h, x, y), ratio)
    assert turned.holds(frame)
    assert (
        min(
            abs(frame.width - frame.height * ratio) / max(1, ratio),
            abs(frame.height - frame.width / ratio),
        )
        <= 1
    )
    assert {frame.left.denominator, frame.width.denominator, frame.height.denominator} == {1}


@given(
    angles,
    st.floats(-3000, 6000),
    st.floats(-3000, 6000),
    st.sampled_from(["top-left", "top-right", "bottom-left", "bottom-right"]),
)
def test_pulling_a_corner_keeps_shape_and_opposite_corner(angle, x, y, corner):
    made = plan(facts_of(3000, 2000), docket_of("30x20cm", crop={"turn": angle}))
    before = framing.current_frame(made)
    small = inner_half(before)
    after = framing.stretch(made, small, corner, x, y)
    assert made.turned.holds(after)
    assert abs(after.width / after.height / (small.width / small.height) - 1) < Fraction(1, 10**9)
    if "left" in corner:
        assert after.left + after.width == small.left + small.width
    else:
        assert after.left == small.left


@given(angles, st.integers(-5000, 5000), st.integers(-5000, 5000))
def test_moving_never_leaves_the_picture(angle, across, down):
    made = plan(facts_of(3000, 2000), docket_of("20x20cm", crop={"turn": angle}))
    frame = framing.current_frame(made)
    moved = framing.move(made, frame, Fraction(across), Fraction(down))
    assert made.turned.holds(moved)
    again = plan(facts_of(3000, 2000), framing.with_frame(made, moved))
    assert again.turned.holds(again.crop)


def test_the_largest_frame_is_kept_as_a_place():
    made = plan(facts_of(3000, 2000), docket_of("20x20cm"))
    frame = framing.current_frame(made)
    docket = framing.with_frame(made, framing.move(made, frame, Fraction(-500), Fraction(0)))
    assert docket.crop.frame is None
    assert docket.crop.place_x == 0
    smaller = framing.stretch(made, frame, "bottom-right", float(frame.left) + 900, 900)
    assert framing.with_frame(made, smaller).crop.frame is not None


@given(angles, angles)
def test_turning_keeps_an_own_frame_inside(first, second):
    facts = facts_of(3000, 2000)
    made = plan(facts, docket_of("20x20cm", crop={"turn": first}))
    frame = framing.current_frame(made)
    inner = inner_half(frame)
    made = plan(facts, framing.with_frame(made, inner))
    turned = plan(facts, turns.rotate_to(made, second))
    assert turned.turned.holds(turned.crop)
    assert -180 < turned.docket.crop.turn <= 180


@pytest.mark.parametrize("mirror", [False, True])
@pytest.mark.parametrize("angle", [0, 90, 180, 270])
def test_the_map_to_the_photo_finds_the_very_pixel(angle, mirror):
    width, height = 7, 5
    codes = np.arange(width * height).reshape(height, width)
    turned = Turned(width, height, Fraction(angle), mirror)
    seen = np.rot90(codes[:, ::-1] if mirror else codes, -angle // 90)
    whole = Frame(Fraction(0), Fraction(0), Fraction(seen.shape[1]), Fraction(seen.shape[0]))
    x0, xx, xy, y0, yx, yy = turned.source_map(whole)
    for row in range(seen.shape[0]):
        for column in range(seen.shape[1]):
            s, t = column + 0.5, row + 0.5
            x, y = x0 + xx * s + xy * t, y0 + yx * s + yy * t
            assert codes[math.floor(y), math.floor(x)] == seen[row, column]
            assert (x % 1, y % 1) == (0.5, 0.5)
