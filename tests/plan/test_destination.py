"""What follows from who prints it: paper, sides, file, limits; and what a screen asks for."""

from __future__ import annotations

from fractions import Fraction

import pytest

from tests.conftest import docket_of, facts_of
from zinc_margin.measure.makers import find_maker, makers
from zinc_margin.measure.papers import SCREEN, papers
from zinc_margin.measure.sizes import catalogue
from zinc_margin.measure.ways import named_ways, parse_way
from zinc_margin.plan.build import plan
from zinc_margin.plan.text.lines import entries, total

CAMERA = facts_of(6000, 4000, profile="Adobe-like")
PLAIN = facts_of(6000, 4000)
WRAP = {"wrap_mm": Fraction(38), "tuck_mm": Fraction(14)}


def by(maker, typed="30x20cm", /, facts=PLAIN, **lines):
    lines["size"] = {"maker": maker} | lines.get("size", {})
    return plan(facts, docket_of(typed, **lines))


def on_screen(typed, facts=CAMERA, **size):
    return plan(facts, docket_of(size={"size": None, "way": parse_way(typed)} | size))


def codes(made):
    return {note.code for note in made.notes}


def test_nobody_says_who_prints_it():
    made = plan(CAMERA, docket_of())
    assert (made.maker.key, made.sharpen.paper) == ("lab", "lustre")
    assert (made.file.format, made.file.colour, made.file.max_bytes) == ("tiff", "own", None)


@pytest.mark.parametrize("typed", ["1920x1080 px", "within 1920x1080 px", "600 px"])
def test_a_size_in_pixels_is_for_a_screen(typed):
    made = on_screen(typed)
    assert (made.maker.key, made.sharpen.paper) == ("screen", SCREEN)
    assert (made.file.format, made.file.colour) == ("jpeg", "srgb")
    told = [text for entry in entries(CAMERA, made).values() for text in vars(entry).values()]
    assert not any("ppi" in text for text in (*told, *total(made)))
    assert "tag-is-a-note" not in codes(made)


@pytest.mark.parametrize("typed", ["50 %", "12 MP"])
def test_pixels_that_no_screen_counts_stay_a_print(typed):
    made = on_screen(typed)
    assert (made.maker.key, made.sharpen.paper, made.file.format) == ("lab", "lustre", "tiff")


def test_what_was_chosen_for_a_screen_stays():
    made = plan(
        CAMERA,
        docket_of(
            size={"size": None, "way": parse_way("600 px")},
            sharpen={"paper": "matt"},
            file={"colour": "own", "format": "png"},
        ),
    )
    assert (made.sharpen.paper, made.file.colour, made.file.format) == ("matt", "own", "png")
    assert on_screen("600 px", maker="desk").sharpen.paper == "lustre"


@pytest.mark.parametrize(
    ("width", "grade"), [(1920, "ample"), (1280, "good"), (1279, "too few pixels")]
)
def test_a_screen_is_judged_by_its_pixels(width, grade):
    made = on_screen("1920x1080 px", facts_of(width, width * 9 // 16))
    assert made.grade == grade
    assert ("too-few-for-screen" in codes(made)) == (grade == "too few pixels")


def test_srgb_and_grey_photos_are_not_converted_needlessly():
    assert on_screen("600 px", PLAIN).file.colour == "own"
    grey = facts_of(6000, 4000, kind="grey", profile="Dot gain")
    made = on_screen("600 px", grey)
    assert (made.file.colour, made.file.channels) == ("grey", 1)


def test_canvas_sides_ask_for_a_canvas_and_who_makes_it():
    made = plan(PLAIN, docket_of("60x40cm", finish=WRAP))
    assert (made.maker.key, made.sharpen.paper, made.target_ppi) == ("canvas", "canvas", 150)
    assert "off-canvas" not in codes(made)


@pytest.mark.parametrize(
    ("size", "sharpen", "fixed"),
    [
        ({"maker": "lab"}, {}, ("canvas", "canvas")),
        ({}, {"paper": "lustre"}, ("canvas", "canvas")),
        ({"maker": "roll"}, {"paper": "matt"}, ("roll", "canvas")),
    ],
)
def test_what_does_not_go_with_canvas_sides_is_said(size, sharpen, fixed):
    made = plan(PLAIN, docket_of("60x40cm", size=size, sharpen=sharpen, finish=WRAP))
    (note,) = (note for note in made.notes if note.code == "off-canvas")
    mended = plan(PLAIN, note.remedies[0].docket)
    assert (mended.maker.key, mended.sharpen.paper) == fixed
    assert "off-canvas" not in codes(mended)


def test_a_roll_printer_and_an_own_canvas_go_with_sides():
    made = by("roll", finish=WRAP)
    assert made.sharpen.paper == "canvas" and "off-canvas" not in codes(made)
    own = {"paper": "linen", "sigma_mm": Fraction(7, 100)}
    assert "off-canvas" not in codes(by("roll", sharpen=own, finish=WRAP))


def test_a_stretched_canvas_has_its_makers_sides():
    made = by("canvas", "60x40cm")
    assert (made.sheet.side_mm, made.page.width_mm) == (52, 704)
    assert by("canvas", "60x40cm", finish={"wrap_mm": Fraction(0)}).sheet is None
    assert by("canvas-rolled", "60x40cm").sheet is None
    assert by("canvas", "60x40cm", finish={"wrap_mm": Fraction(20)}).sheet.side_mm == 20


def test_an_entry_has_a_size_and_a_limit_by_itself():
    made = by("entry", facts=CAMERA, size={"size": None})
    assert (made.pixels.width, made.pixels.height) == (2000, 1333)
    assert (made.file.max_bytes, made.file.format, made.file.colour) == (2_000_000, "jpeg", "srgb")
    smaller = by(
        "entry",
        facts=CAMERA,
        size={"size": None, "way": parse_way("1500 px")},
        file={"max_bytes": 500_000},
    )
    assert (smaller.pixels.width, smaller.file.max_bytes) == (1500, 500_000)


def test_an_upload_is_an_srgb_jpeg():
    made = by("lab-online", facts=CAMERA)
    assert (made.file.format, made.file.colour, made.file.bits) == ("jpeg", "srgb", 8)


def test_the_table_of_makers_holds_together():
    known = {size.family for size in catalogue()} | {way.family for way in named_ways()}
    names = {paper.name for paper in papers()} | {SCREEN}
    for maker in makers():
        assert set(maker.families) <= known and set(maker.papers) <= names
        inches = {f"{family} inch" for family in maker.families} & known
        assert inches <= set(maker.families)
    assert find_maker("canvas").bars_mm == 38
