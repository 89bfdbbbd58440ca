"""What hands ask of the frame: it keeps its shape, and never leaves the picture."""

from __future__ import annotations

import math
from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import docket_of, facts_of, resampled
from zinc_margin.docket.crop import CropLine, Frame
from zinc_margin.docket.docket import Docket
from zinc_margin.docket.size import SizeLine
from zinc_margin.facts.measurements import Measured
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.ways import Way
from zinc_margin.plan.build import plan
from zinc_margin.plan.crop import framing, turns
from zinc_margin.plan.crop.rotation import Turned
from zinc_margin.plan.text.notes import note_text

FACTS = facts_of(3000, 2000)
ANGLES = st.fractions(-45, 45, max_denominator=100)
PLACES = st.tuples(st.floats(-500, 3500), st.floats(-500, 2500))
GRIPS = st.sampled_from([*framing.CORNERS, *framing.SIDES])


def planned(size="30x20cm", facts=FACTS, /, **crop):
    return plan(facts, docket_of(size, crop=crop))


def free(**crop):
    """A plan of a frame whose shape is free."""
    frame = crop.pop("frame", Frame(*(Fraction(n) for n in (600, 400, 900, 700))))
    return plan(FACTS, Docket(size=SizeLine(), crop=CropLine(frame=frame, **crop)))


def after(made, frame):
    return plan(FACTS, framing.with_frame(made, frame))


def inside(made):
    """Every corner of what is printed lies on the picture: no background can show."""
    turned, crop = made.turned, made.crop
    for x in (crop.left, crop.left + crop.width):
        for y in (crop.top, crop.top + crop.height):
            u, v = turned.share_of(float(x), float(y))
            assert -1e-6 <= u <= 1 + 1e-6 and -1e-6 <= v <= 1 + 1e-6


@settings(max_examples=100)
@given(
    ANGLES,
    GRIPS,
    PLACES,
    st.booleans(),
    st.sampled_from(["30x20cm", "20x30cm", "9x24cm", "25x25cm"]),
)
def test_a_pulled_frame_keeps_its_shape_and_stays_inside(turn, grip, place, centre, size):
    made = planned(size, turn=turn)
    start = framing.scale_frame(made, framing.current_frame(made), Fraction(3, 5))
    frame = framing.stretch(made, start, grip, *place, centre)
    ratio = made.size.width_mm / made.size.height_mm
    assert abs(frame.width / frame.height / ratio - 1) < Fraction(1, 10**6)
    assert made.turned.holds(frame)
    again = after(made, frame)
    inside(again)
    assert again.size == made.size


@pytest.mark.parametrize("grip", framing.CORNERS)
def test_the_opposite_corner_stays(grip):
    made = planned()
    start = Frame(Fraction(900), Fraction(600), Fraction(900), Fraction(600))
    frame = framing.stretch(made, start, grip, 700 if "left" in grip else 2100, 1300)
    across = (lambda f: f.left + f.width) if "left" in grip else (lambda f: f.left)
    down = (lambda f: f.top + f.height) if "top" in grip else (lambda f: f.top)
    assert across(frame) == across(start) and down(frame) == down(start)
    assert frame.width != start.width


@pytest.mark.parametrize("grip", [*framing.CORNERS, *framing.SIDES])
def test_with_a_held_key_the_centre_stays(grip):
    made = planned()
    start = Frame(Fraction(900), Fraction(600), Fraction(900), Fraction(600))
    frame = framing.stretch(made, start, grip, 1500, 850, centre=True)
    assert frame.left + frame.width / 2 == 1350 and frame.top + frame.height / 2 == 900


@given(PLACES, PLACES, ANGLES)
def test_a_new_frame_is_drawn_in_the_prints_shape(start, end, turn):
    made = planned("24x30cm", turn=turn)
    frame = framing.frame_between(made, start, end)
    assert made.turned.holds(frame)
    ratio = made.size.width_mm / made.size.height_mm
    assert abs(frame.width / frame.height / ratio - 1) < Fraction(1, 10**6)


def test_a_free_frame_takes_any_shape_and_gives_the_print_its_size():
    made = free()
    assert framing.is_free(made.docket)
    assert made.size.width_mm == Fraction(900) / 300 * Fraction(254, 10)
    wider = after(made, framing.stretch(made, made.docket.crop.frame, "right", 2000.4, 0))
    assert (wider.crop.left, wider.crop.width, wider.crop.height) == (600, 1400, 700)
    assert wider.size.width_mm / wider.size.height_mm == 2
    cut = framing.stretch(made, made.docket.crop.frame, "bottom-right", 9000, 9000)
    assert (cut.left + cut.width, cut.top + cut.height) == (3000, 2000)
    drawn = framing.frame_between(made, (100, 100), (500, 900))
    assert (drawn.width, drawn.height) == (400, 800)


@given(ANGLES, GRIPS, PLACES)
def test_a_free_frame_of_a_turned_picture_stays_inside(turn, grip, place):
    made = free(turn=turn, frame=Frame(*(Fraction(n) for n in (1400, 1300, 500, 400))))
    frame = framing.stretch(made, made.docket.crop.frame, grip, *place)
    assert made.turned.holds(frame)
    inside(after(made, frame))


@pytest.mark.parametrize(
    "ratio", [Fraction(16, 9), Fraction("1.618"), Fraction(4, 5), Fraction("2.3547")]
)
def test_any_ratio_can_be_typed(ratio):
    before = planned()
    made = plan(FACTS, framing.reshape(before, ratio))
    assert made.docket.size.size is None
    sides = before.size.width_mm, before.size.height_mm
    assert max(made.size.width_mm, made.size.height_mm) == max(sides)
    other = plan(FACTS, framing.reshape(before, ratio, "short-edge"))
    assert min(other.size.width_mm, other.size.height_mm) == min(sides)
    shape = Fraction(made.pixels.width, made.pixels.height)
    assert made.size.width_mm / made.size.height_mm == shape
    assert float(shape) == pytest.approx(float(ratio), rel=1 / min(shape.as_integer_ratio()))
    assert framing.free_shape(made).crop.frame == framing.current_frame(made)
    whole = plan(FACTS, framing.as_photo(made))
    assert whole.trimmed_share == 0 and whole.size.width_mm / whole.size.height_mm == Fraction(3, 2)


def test_ways_that_follow_the_frame_are_free():
    assert framing.is_free(Docket(size=SizeLine(way=Way("long-edge", (Fraction(400),)))))
    assert not framing.is_free(
        Docket(size=SizeLine(way=Way("screen", (Fraction(16), Fraction(9)))))
    )
    assert not framing.is_free(docket_of("A4"))


@pytest.mark.parametrize(
    ("side", "value", "sides"),
    [
        ("width", 1200, (1200, 800)),
        ("height", 500, (750, 500)),
        ("left", 100, (1500, 1000)),
        ("top", 30, (1500, 1000)),
    ],
)
def test_numbers_can_be_typed(side, value, sides):
    made = planned(frame=Frame(*(Fraction(n) for n in (900, 600, 1500, 1000))))
    frame = framing.type_side(made, side, Fraction(value))
    assert getattr(frame, side) == value
    assert (frame.width, frame.height) == sides


def test_moving_snaps_to_edges_centre_thirds_and_the_subject():
    made = planned()
    near = Fraction(20)

    def at(left, top, mark=None):
        frame = Frame(Fraction(left), Fraction(top), Fraction(900), Fraction(600))
        found = framing.snap(made, frame, near, mark)
        return found.left, found.top

    assert at(12, 1391) == (0, 1400)
    assert at(1061, 695) == (1050, 700)
    assert at(545, 200) == (550, 200)  # its centre on the picture's third
    assert at(700, 300) == (700, 300)
    assert at(700, 300, (1312, 0)) == (712, 300)  # the subject on the frame's third


def test_scrolling_sizes_about_the_centre():
    made = planned()
    small = framing.scale_frame(made, framing.current_frame(made), Fraction(1, 2))
    assert (small.left, small.top, small.width) == (750, 500, 1500)
    assert framing.scale_frame(made, small, Fraction(100)).width == 3000
    assert framing.scale_frame(made, small, Fraction(1, 10**6)).width >= framing.SMALLEST


# turning


@settings(max_examples=80)
@given(ANGLES, ANGLES, st.floats(0.1, 0.9), st.floats(0.1, 0.9), st.booleans())
def test_turning_keeps_the_frames_place_on_the_picture(first, second, x, y, mirror):
    facts = facts_of(3000, 2000)
    turned = Turned(3000, 2000, first, mirror)
    cx, cy = turned.turned_place(
        (Fraction(x).limit_denominator(1000), Fraction(y).limit_denominator(1000))
    )
    frame = turned.brought_inside(
        Frame(Fraction(round(cx)) - 150, Fraction(round(cy)) - 100, Fraction(300), Fraction(200))
    )
    made = plan(facts, docket_of("30x20cm", crop={"turn": first, "frame": frame, "mirror": mirror}))
    before = turned.share_of(
        float(frame.left + frame.width / 2), float(frame.top + frame.height / 2)
    )
    docket = turns.rotate_to(made, second)
    again = plan(facts, docket)
    inside(again)
    now = docket.crop.frame
    assert now.width / now.height == Fraction(3, 2)
    if now.width >= 200 and now.width < 300:
        share = again.turned.share_of(
            float(now.left + now.width / 2), float(now.top + now.height / 2)
        )
        assert share == (pytest.approx(before[0], abs=1e-4), pytest.approx(before[1], abs=1e-4))


def test_four_quarters_make_a_whole_and_two_mirrors_nothing():
    frame = Frame(*(Fraction(n) for n in (300, 200, 900, 600)))
    made = planned(frame=frame)
    docket = made.docket
    for _ in range(4):
        docket = turns.quarter(plan(FACTS, docket), right=True)
        inside(plan(FACTS, docket))
    assert docket.crop.frame == frame and docket.crop.turn == 0
    once = turns.mirror(plan(FACTS, turns.rotate_to(made, Fraction(3))))
    assert once.crop.mirror and once.crop.turn == -3
    twice = turns.mirror(plan(FACTS, once))
    assert not twice.crop.mirror and twice.crop.turn == 3
    placed = plan(FACTS, docket_of("20x20cm", crop={"place_x": Fraction(1, 5)}))
    right = turns.quarter(placed, right=True)
    assert right.crop.place_y == Fraction(1, 5) and right.crop.place_x is None
    assert turns.quarter(plan(FACTS, right), right=False).crop == placed.docket.crop


@given(st.floats(-44, 44), st.sampled_from([0, 90, 180, 270]), ANGLES)
def test_a_line_along_an_edge_levels_it(lean, axis, turn):
    made = planned(turn=turn)
    angle = math.radians(lean + axis)
    end = (1000 + 700 * math.cos(angle), 800 + 700 * math.sin(angle))
    found = turns.level(made, (1000, 800), end).crop.turn
    assert math.isclose((float(found) - (float(turn) - lean) + 180) % 360 - 180, 0, abs_tol=0.0051)


def test_a_lean_is_offered_with_its_confidence_and_never_applied():
    def told(lean, **crop):
        facts = facts_of(3000, 2000, measured=Measured(0.1, lean=lean))
        made = plan(facts, docket_of("30x20cm", crop=crop))
        return made, [note for note in made.notes if note.code == "level"]

    made, notes = told((1.3, 0.62))
    assert made.docket.crop.turn == 0 and "probably lean 1.3° clockwise" in note_text(notes[0])
    docket = notes[0].remedies[0].docket
    assert docket.crop.turn == Fraction("-1.3")
    assert told((1.3, 0.62), turn=Fraction("-1.3"))[1] == []
    assert told((1.3, 0.62), turn=Fraction("88.7"))[1] == []
    assert told((1.3, 0.62), mirror=True)[1][0].remedies[0].docket.crop.turn == Fraction("1.3")
    assert told((1.3, 0.1))[1] == [] and told((0.04, 0.9))[1] == [] and told(None)[1] == []


# the subject


@given(
    st.fractions(0, 1, max_denominator=100),
    st.fractions(0, 1, max_denominator=100),
    st.sampled_from(["20x20cm", "10x30cm", "30x10cm"]),
)
def test_the_subject_keeps_its_relative_place(x, y, size):
    facts = facts_of(3000, 2000, subject=(x, y))
    made = plan(facts, resampled(size, 100))
    share_x = (x * 3000 - made.crop.left) / made.crop.width
    share_y = (y * 2000 - made.crop.top) / made.crop.height
    assert float(share_x) == pytest.approx(float(x), abs=1e-9)
    assert float(share_y) == pytest.approx(float(y), abs=1e-9)


@pytest.mark.parametrize("turn", [0, 90, 180, -90])
@pytest.mark.parametrize("mirror", [False, True])
def test_the_subject_turns_with_the_picture(turn, mirror):
    facts = facts_of(3000, 2000, subject=(Fraction(1, 4), Fraction(1, 10)))
    made = plan(facts, docket_of("20x20cm", crop={"turn": Fraction(turn), "mirror": mirror}))
    x, y = made.turned.turned_place(facts.subject)
    assert made.crop.left <= x <= made.crop.left + made.crop.width
    shares = made.turned.set_share(facts.subject)
    assert float((Fraction(x) - made.crop.left) / made.crop.width) == pytest.approx(
        float(shares[0]), abs=1e-3
    )
    back = made.turned.share_of(x, y)
    assert back == (pytest.approx(0.25), pytest.approx(0.1))


def test_a_placed_frame_is_not_moved_by_the_subject():
    facts = facts_of(3000, 2000, subject=(Fraction(0), Fraction(0)))
    made = plan(facts, docket_of("20x20cm", crop={"place_x": Fraction(1)}))
    assert made.crop.left == 1000


# borders and exactness


@pytest.mark.parametrize("choice", ["keep", "resample"])
def test_a_border_of_ones_own(choice):
    docket = docket_of(
        "30x30cm",
        size={"ppi": Fraction(254)},
        pixels={"choice": choice},
        crop={"fit": "border", "border_mm": Fraction(20)},
    )
    made = plan(FACTS, docket)
    bands = made.bands_mm
    assert min(bands.left, bands.top) == pytest.approx(20, abs=0.06)
    assert bands.top == pytest.approx((300 - 260 / 1.5) / 2, abs=0.12)
    assert made.trimmed_share < 1e-3
    _, _, width, height = made.picture
    assert width / height == pytest.approx(1.5, abs=2e-3)
    assert float(made.effective_ppi) == pytest.approx(3000 / (260 / 25.4))
    usual = plan(FACTS, replace(docket, crop=replace(docket.crop, border_mm=None)))
    assert usual.bands_mm.left == pytest.approx(15, abs=0.1)


def test_a_border_that_leaves_nothing_is_refused():
    with pytest.raises(BadRequest, match="leaves no space"):
        planned("10x10cm", fit="border", border_mm=Fraction(50))


@settings(max_examples=80)
@given(
    ANGLES,
    st.fractions(0, 1, max_denominator=20),
    st.fractions(0, 1, max_denominator=20),
    st.sampled_from(["30x20cm", "11x17cm", "9x24cm", "25x25cm"]),
    st.sampled_from([120, 300, 347]),
)
def test_resampled_boxes_are_exact_and_never_show_the_background(turn, x, y, size, ppi):
    made = plan(FACTS, resampled(size, ppi, crop={"turn": turn, "place_x": x, "place_y": y}))
    inside(made)
    wide = made.crop.width * made.pixels.scale
    high = made.crop.height * made.pixels.scale
    assert abs(wide - made.pixels.width) < Fraction(1, 10**6) * made.pixels.width
    assert abs(wide / high / Fraction(made.pixels.width, made.pixels.height) - 1) < Fraction(
        1, 10**9
    )


def test_what_falls_off_is_told_in_shares_of_each_side():
    part = planned("20x20cm", place_x=Fraction(1, 4)).trimmed_part
    assert (part.left, part.right) == (Fraction(1, 12), Fraction(1, 4))
    assert part.top == part.bottom == 0
