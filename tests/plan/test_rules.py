"""Rules that the window and the command line share: each stands once, in the plan."""

from __future__ import annotations

import dataclasses
from fractions import Fraction

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from tests.conftest import docket_of, facts_of, resampled
from zinc_margin.docket.file import GoalProfile
from zinc_margin.docket.finish import FinishLine
from zinc_margin.facts.measurements import Measured
from zinc_margin.measure.sizes import parse_size
from zinc_margin.measure.ways import Way
from zinc_margin.plan.build import plan
from zinc_margin.plan.crop.places import same_part
from zinc_margin.plan.file.colours import goal_colours, is_srgb, profile_name
from zinc_margin.plan.finish.preview import face_on_page, print_on_page, seen_of_print
from zinc_margin.plan.finish.room import scales_on
from zinc_margin.plan.sharpen.strip import MOST_PLACES, apply_column, places_to_test, usual_places
from zinc_margin.plan.size.grade import GRADES, grade_for
from zinc_margin.plan.size.suitability import judge
from zinc_margin.plan.text.phrases import skipped_words

CAMERA = facts_of(6000, 4000, measured=Measured(0.2))


@dataclasses.dataclass(frozen=True)
class Terms:
    too_small: str = "make"
    most_trimmed: Fraction | None = None


# what a sheet does to the picture's size


def page_of(size):
    return plan(CAMERA, docket_of(size)).page


@pytest.mark.parametrize(
    ("picture", "sheet", "asked", "scales"),
    [
        ("30x20cm", "A3", False, False),  # smaller: it keeps its size
        ("20x30cm", "A3", False, False),  # whichever way it lies
        ("60x40cm", "A3", False, True),  # larger one way or both
        ("41x29cm", "A4", False, True),
        ("60x10cm", "A3", False, True),
        ("60x40cm", "A3", True, False),  # a size that is asked for is kept
        (None, "A3", False, True),  # no size is known yet
        (None, "A3", True, False),
    ],
)
def test_whether_a_picture_takes_its_size_from_the_sheet(picture, sheet, asked, scales):
    page = page_of(picture) if picture else None
    assert scales_on(FinishLine(), parse_size(sheet), page, asked) is scales


def test_a_picture_that_takes_its_size_from_sheets_goes_on_doing_so():
    line = FinishLine(sheet=parse_size("A4"), scales=True)
    assert scales_on(line, parse_size("A2"), page_of("10x15cm"), False)


# photos that do not suit


def test_without_terms_every_photo_is_taken():
    made, aside = judge(facts_of(300, 200), docket_of("60x40cm"), None)
    assert aside is None and made.grade == "too few pixels"


def test_more_trimmed_than_is_allowed_sets_a_photo_aside():
    square = docket_of("20x20cm")
    _, aside = judge(CAMERA, square, Terms(most_trimmed=Fraction(1, 3)))
    assert aside is None  # exactly the share that is allowed
    _, aside = judge(CAMERA, square, Terms(most_trimmed=Fraction(33, 100)))
    assert aside.code == "trimmed" and aside.values["share"] == pytest.approx(1 / 3, abs=1e-3)


@pytest.mark.parametrize(
    ("what", "aside_code", "choice"),
    [("skip", "too-small", None), ("make", None, None), ("enlarge", None, "enlarge")],
)
def test_too_few_pixels_are_left_made_or_enlarged_as_the_terms_say(what, aside_code, choice):
    kept = docket_of("60x40cm", pixels={"choice": "keep"}, size={"floor": Fraction(100)})
    made, aside = judge(facts_of(900, 600), kept, Terms(too_small=what))
    assert (aside.code if aside else None) == aside_code
    assert made.pixels.choice == (choice or "keep")


@pytest.mark.parametrize(("wide", "aside_code"), [(1800, None), (1100, None), (900, "too-small")])
def test_for_a_screen_its_own_pixels_count_and_no_ppi(wide, aside_code):
    mail = docket_of(size={"size": None, "way": Way("long-edge-px", (Fraction(1600),))})
    _, aside = judge(facts_of(wide, wide * 2 // 3), mail, Terms(too_small="skip"))
    assert (aside.code if aside else None) == aside_code
    if aside:
        assert skipped_words(aside) == "too small: it has 56 % of the pixels along each side"


# a byte limit


@given(st.floats(0.02, 1.5))
def test_fewer_pixels_leave_the_print_as_large(times):
    made = plan(CAMERA, docket_of("30x20cm", pixels={"choice": "keep"}))
    fewer = made.fewer_pixels(times)
    assert fewer is not None
    assert (fewer.size.width_mm, fewer.size.height_mm) == (300, 200)
    assert fewer.pixels.width == pytest.approx(made.pixels.width * times, abs=1)
    assert fewer.crop == made.crop or fewer.pixels.choice != "keep"
    assert Fraction(*fewer.pixels.tag_x) == fewer.pixels.width / (Fraction(300) / Fraction("25.4"))


def test_a_picture_of_no_pixels_is_none():
    made = plan(facts_of(600, 400), docket_of("30x20cm"))
    assert made.fewer_pixels(0.001) is None
    assert made.fewer_pixels(15 / made.pixels.height) is None
    assert made.fewer_pixels(17 / made.pixels.height).pixels.height == 17


# test strips

PLACES = (("contrast", 1000, 1000), ("texture", 5000, 3000), ("shadow", 3000, 500))


def sharpened(**measured):
    facts = facts_of(6000, 4000, measured=dataclasses.replace(Measured(0.2), **measured))
    return plan(facts, resampled("60x40cm", 300))


def test_a_strip_tests_what_was_marked_and_fills_up_with_the_usual_places():
    one = sharpened(places=PLACES)
    usual = usual_places(one)
    assert len(usual) == 3 and usual[0] == pytest.approx((1 / 6, 1 / 4), abs=0.01)
    assert places_to_test(one, ()) == usual
    assert places_to_test(one, [(0.2, 0.3)]) == ((0.2, 0.3),)
    assert places_to_test(one, [(0.2, 0.3)], MOST_PLACES) == ((0.2, 0.3), *usual[:2])
    assert places_to_test(one, [usual[0]], 2) == usual[:2]  # none twice
    assert places_to_test(sharpened(), ()) == ((0.5, 0.5),)


def test_the_column_that_looked_right_becomes_a_paper_of_ones_own():
    one = sharpened()
    docket = apply_column(one, Fraction(140))
    assert docket.sharpen.strength == 140
    assert docket.sharpen.paper == f"{one.sharpen.paper}, my strength"
    # the same blur, so that the strength means what it did on the strip
    again = plan(CAMERA, docket)
    assert again.sharpen.sigma_mm == pytest.approx(one.sharpen.sigma_mm)
    # a paper of one's own keeps its name
    own = apply_column(again, Fraction(120))
    assert own.sharpen.paper == docket.sharpen.paper and own.sharpen.strength == 120


# colours


@pytest.mark.parametrize(
    ("known", "file", "goal", "name"),
    [
        ({"profile": "Adobe-like", "profile_use": "own"}, {}, ("own", 3), "Adobe-like"),
        ({}, {}, ("own", 3), "sRGB"),
        ({"kind": "grey"}, {}, ("own", 1), "sRGB"),
        ({"profile": "Wide"}, {"format": "jxl"}, ("srgb", 3), "sRGB"),
        ({"profile": "sRGB IEC"}, {"format": "jxl"}, ("own", 3), "sRGB IEC"),
        ({"kind": "grey", "profile": "Dot 20"}, {"format": "jxl"}, ("grey", 1), "Grey"),
        ({}, {"colour": "wide"}, ("wide", 3), "Wide RGB"),
        ({}, {"colour": "grey"}, ("grey", 1), "Grey"),
        (
            {},
            {"colour": "icc", "profile": GoalProfile("/p.icc", "Press", "CMYK")},
            ("icc", 4),
            "Press",
        ),
    ],
)
def test_into_which_colours_a_file_goes(known, file, goal, name):
    made = plan(facts_of(600, 400, **known), docket_of("6x4cm", file=file))
    assert goal_colours(made.facts, made.docket.file) == goal
    assert (made.file.colour, made.file.channels) == goal
    assert profile_name(made) == name


def test_pixels_that_were_converted_are_not_srgb_whatever_the_profile_is_called():
    assert not is_srgb(facts_of(6, 4, profile="sRGB", profile_use="converted"))
    assert is_srgb(facts_of(6, 4))


# grades

PPI = st.floats(1, 2000)


@given(PPI, PPI, PPI, PPI, st.floats(1, 4))
def test_more_pixels_never_lower_a_grade(effective, target, floor, needed, more):
    worse = grade_for(effective, target, floor, needed)
    better = grade_for(effective * more, target, floor, needed)
    assume(target >= needed)
    assert GRADES.index(better) <= GRADES.index(worse)


@given(PPI, PPI, PPI)
def test_a_closer_look_never_raises_a_grade(effective, needed, closer):
    far, near = sorted((needed, closer))
    assert GRADES.index(grade_for(effective, 300, 150, near)) >= GRADES.index(
        grade_for(effective, 300, 150, far)
    )


# which part of a page is the print, and which of the print is seen


def scaled(share, wide, high):
    return (share[0] * wide, share[1] * high, share[2] * wide, share[3] * high)


def test_a_print_without_a_sheet_is_its_page():
    made = plan(CAMERA, docket_of("30x20cm"))
    assert print_on_page(made) == face_on_page(made) == seen_of_print(made) == (0, 0, 1, 1)


def test_where_a_print_lies_on_its_sheet_is_where_its_pixels_lie():
    made = plan(CAMERA, docket_of("20x10cm", finish={"sheet": parse_size("A4")}))
    page = made.whole
    at = scaled(print_on_page(made), page.width, page.height)
    pixels = (made.sheet.left, made.sheet.top, made.pixels.width, made.pixels.height)
    assert at == pytest.approx(pixels, abs=1)


@pytest.mark.parametrize("own", [False, True])
def test_the_face_of_a_canvas_is_what_the_bars_leave(own):
    finish = {"wrap_mm": Fraction(32), "tuck_mm": Fraction(14), "wrap_own": own}
    made = plan(CAMERA, docket_of("60x40cm", finish=finish))
    page = made.whole
    left, top, wide, high = scaled(face_on_page(made), float(page.width_mm), float(page.height_mm))
    side = 46.0
    assert (left, top) == pytest.approx((side, side))
    assert (wide, high) == pytest.approx((508, 308) if own else (600, 400))
    assert (wide, high) == pytest.approx([float(mm) for mm in made.sheet.face_mm])


def test_what_a_borderless_driver_leaves_is_seen():
    made = plan(CAMERA, docket_of("30x20cm", size={"overspill_mm": Fraction(5)}))
    left, top, wide, high = scaled(seen_of_print(made), 300, 200)
    # the driver enlarges both ways alike, by what the shorter side asks
    assert top == pytest.approx(200 * (1 - 200 / 210) / 2)
    assert (2 * left + wide, 2 * top + high) == pytest.approx((300, 200))
    assert wide / 300 == pytest.approx(high / 200)


@given(st.integers(0, 500), st.integers(0, 300), st.integers(1, 99), st.integers(1, 99))
def test_the_same_part_of_another_file_of_the_print(left, top, wide, high):
    one = plan(CAMERA, resampled("30x20cm", 100))
    half = plan(CAMERA, resampled("30x20cm", 50))
    assert same_part(one, one, (left, top, wide, high)) == (left, top, wide, high)
    x, y, w, h = same_part(half, one, (left, top, wide, high))
    assert (x, y) == pytest.approx((left / 2, top / 2), abs=1.5)
    assert (w, h) == pytest.approx((wide / 2, high / 2), abs=1.5) and min(w, h) >= 1
    assert x + w <= half.pixels.width and y + h <= half.pixels.height
