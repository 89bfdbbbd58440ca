"""A photographed wall: from marks to places, against a camera whose every figure is known."""

from __future__ import annotations

import math
from dataclasses import replace
from fractions import Fraction as F

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import docket_of, facts_of
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.room_marks import RoomMarks, parse_apart, parse_spots
from zinc_margin.measure.sizes import parse_size
from zinc_margin.plan.build import plan
from zinc_margin.plan.finish.own_wall import depth_mm, hang_print, in_order, view_of

WIDE, HIGH = 2000, 1400
DOOR = ((300, -600), (1200, -600), (1200, 1400), (300, 1400))


def camera(yaw=0.0, pitch=0.0, focal=1500.0, away=4000.0):
    """Where a place on the wall (mm, from where the camera points) is seen."""
    c, s = math.cos(math.radians(yaw)), math.sin(math.radians(yaw))
    d, p = math.cos(math.radians(pitch)), math.sin(math.radians(pitch))

    def spot(x, y, off=0.0):
        z = away - off
        x, z = c * x + s * z, c * z - s * x
        y, z = d * y - p * z, d * z + p * y
        return (WIDE - 1) / 2 + focal * x / z, (HIGH - 1) / 2 + focal * y / z

    return spot


def marked(spot, **more):
    ends = spot(-800, 0), spot(200, 0)
    return RoomMarks(WIDE, HIGH, ends, F(1000), tuple(spot(*at) for at in DOOR), **more)


def off_by(view, spot, places, off=0.0):
    return max(
        math.dist(view.spot(x - DOOR[0][0], y - DOOR[0][1], off), spot(x, y, off))
        for x, y in places
    )


@given(
    st.floats(5, 30) | st.floats(-30, -5),
    st.floats(5, 15) | st.floats(-15, -5),
    st.floats(1100, 2600),
    st.permutations(range(4)),
)
def test_corners_of_anything_and_one_length_tell_the_whole_wall(yaw, pitch, focal, order):
    spot = camera(yaw, pitch, focal)
    marks = marked(spot)
    marks = replace(marks, corners=tuple(marks.corners[at] for at in order))
    view = view_of(marks)
    # the focal length was never told: both pairs of the door's sides run together
    assert view.focal == pytest.approx(focal, rel=1e-6) or view.focal == 1500
    if view.focal == pytest.approx(focal, rel=1e-6):
        assert off_by(view, spot, [(0, 0), (-900, -500), (500, 300)]) < 0.01
        assert off_by(view, spot, [(0, 0), (-900, -500)], off=40) < 0.01


@given(st.floats(-40, 40), st.floats(-15, 15), st.floats(900, 3000))
def test_a_known_size_needs_no_other_length(yaw, pitch, focal):
    spot = camera(yaw, pitch, focal)
    marks = replace(marked(spot), points=None, apart_mm=None, sides=parse_size("90x200cm"))
    view = view_of(marks)
    assert off_by(view, spot, [(0, 0), (-400, -500), (500, 300)]) < 0.01
    there = view.on_wall(spot(-200, 77))
    assert there == pytest.approx((-200 - DOOR[0][0], 77 - DOOR[0][1]), abs=0.01)


def test_two_places_are_enough_on_a_wall_seen_straight():
    spot = camera()
    view = view_of(RoomMarks(WIDE, HIGH, (spot(-800, 0), spot(200, 0)), F(1000)))
    assert view.spot(0, 0) == pytest.approx(spot(0, 0))
    assert view.spot(500, -300) == pytest.approx(spot(500, -300), abs=1e-6)


def test_a_camera_that_tells_its_focal_length_is_believed():
    spot = camera(yaw=20, focal=2400)
    told, guessed = view_of(marked(spot, focal_px=2400.0)), view_of(marked(spot))
    places = [(0, 0), (-900, -500)]
    assert off_by(told, spot, places) < 0.01 < off_by(guessed, spot, places) < 20


@pytest.mark.parametrize(
    ("marks", "said"),
    [
        (RoomMarks(WIDE, HIGH), "Mark two places and their distance"),
        (RoomMarks(WIDE, HIGH, ((5, 5), (5, 6)), F(100)), "well apart"),
        (
            RoomMarks(WIDE, HIGH, ((5, 5), (500, 6)), F(100), ((0, 0), (9, 9), (18, 18), (4, 4))),
            "not corners of a rectangle",
        ),
        (
            RoomMarks(
                WIDE, HIGH, ((5, 5), (500, 6)), F(100), ((0, 0), (900, 0), (300, 200), (0, 900))
            ),
            "not corners of a rectangle",
        ),
    ],
)
def test_marks_that_tell_nothing_are_refused(marks, said):
    with pytest.raises(BadRequest, match=said):
        view_of(marks)


def test_corners_come_in_any_order():
    corners = ((100, 90), (900, 110), (880, 700), (120, 650))
    assert in_order(corners[::-1]) == corners
    assert in_order((corners[2], corners[0], corners[3], corners[1])) == corners


def test_it_hangs_at_its_true_size():
    spot = camera(yaw=18, pitch=6, focal=1700)
    view = view_of(marked(spot))
    made = plan(facts_of(6000, 4000), docket_of("60x40cm"))
    face = hang_print(made, view, view.on_wall(spot(-500, -100))).face
    expected = [spot(x, y, 1) for x, y in ((-800, -300), (-200, -300), (-200, 100), (-800, 100))]
    assert max(math.dist(a, b) for a, b in zip(face, expected, strict=True)) < 0.05


def test_sides_are_seen_from_where_the_camera_stands():
    canvas = plan(facts_of(6000, 4000), docket_of("60x40cm", finish={"wrap_mm": F(40)}))
    assert depth_mm(canvas) == 40
    view = view_of(RoomMarks(WIDE, HIGH, ((500, 700), (1500, 700)), F(3000)))

    def sides(x, y):
        return {side.name for side in hang_print(canvas, view, (x, y)).sides}

    assert sides(0, 0) == set()
    assert sides(1500, 0) == {"left"} and sides(-1500, 0) == {"right"}
    assert sides(0, 900) == {"top"} and sides(-1500, -900) == {"right", "bottom"}


def test_what_would_reach_past_the_camera_is_refused():
    spot = camera(yaw=40)
    view = view_of(marked(spot))
    mural = plan(facts_of(6000, 4000), docket_of("2000x100cm"))
    with pytest.raises(BadRequest, match="behind the camera"):
        hang_print(mural, view, view.on_wall(spot(800, 0)))
    with pytest.raises(BadRequest, match="not on the marked wall"):
        view_of(marked(camera(yaw=60))).on_wall((-60_000.0, 0.0))
        view_of(marked(camera(yaw=60))).on_wall((60_000.0, 0.0))


def test_places_and_lengths_are_read():
    assert parse_spots("412,880 1630.5,884", 2) == ((412, 880), (1630.5, 884))
    for wrong in ("412", "a,b 1,2", "1,2", "1,2,3 4,5", "inf,1 2,3"):
        with pytest.raises(BadRequest):
            parse_spots(wrong, 2)
    assert parse_apart("2.4 m", "cm") == 2400
    with pytest.raises(BadRequest, match="1 cm to 100 m"):
        parse_apart("2 mm", "cm")


def test_marks_keep_their_places_on_a_smaller_picture():
    marks = marked(camera(yaw=20, pitch=8))
    half = marks.scaled(0.5)
    one, other = view_of(marks), view_of(half)
    there, here = one.spot(-300, 200), other.spot(-300, 200)
    assert here == pytest.approx(((there[0] + 0.5) / 2 - 0.5, (there[1] + 0.5) / 2 - 0.5), abs=0.01)
