"""What people type, and what it means or why it is refused."""

from __future__ import annotations

from fractions import Fraction
from fractions import Fraction as F

import pytest

from zinc_margin.measure.distances import Seen, named_distances, parse_distance
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import MM_PER_INCH, parse_length
from zinc_margin.measure.makers import find_maker, makers, usual_maker
from zinc_margin.measure.resolution import parse_ppi
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.ways import Way
from zinc_margin.measure.wish import parse_wish
from zinc_margin.measure.words import parse_bytes

INCH = MM_PER_INCH
SIZES = [
    ("27x18", 270, 180),
    ("27 x 18", 270, 180),
    ("27×18", 270, 180),
    ("27 × 18 in", 27 * INCH, 18 * INCH),
    ("27*18", 270, 180),
    ("27 by 18 cm", 270, 180),
    ("60 x 40", 600, 400),
    ("70 x 46 cm", 700, 460),
    ("70cm x 46cm", 700, 460),
    ("700 × 460 mm", 700, 460),
    ("1 m x 70 cm", 1000, 700),
    ("1,5 x 1 m", 1500, 1000),
    ("18,5 x 12,3", 185, 123),
    ("18.5x12.3cm", 185, 123),
    ("8.5x11in", F("8.5") * INCH, 11 * INCH),
    ("8 1/2 x 11", F("8.5") * INCH, 11 * INCH),
    ("8½ × 11", F("8.5") * INCH, 11 * INCH),
    ("8 1/2 x 11 in", F("8.5") * INCH, 11 * INCH),
    ("3 1/2 x 5 cm", 35, 50),
    ('12" x 9"', 12 * INCH, 9 * INCH),
    ("12″ × 9″", 12 * INCH, 9 * INCH),
    ("12'' x 9''", 12 * INCH, 9 * INCH),
    ("5' x 3'", 60 * INCH, 36 * INCH),
    ("5 ft x 3 ft", 60 * INCH, 36 * INCH),
    ("5 ft 6 in x 40 in", 66 * INCH, 40 * INCH),
    ("12 X 9 IN", 12 * INCH, 9 * INCH),
    ("12 inches x 9 inches", 12 * INCH, 9 * INCH),
    (".5 m x .4 m", 500, 400),
    ("A4", 210, 297),
    ("a3+", 329, 483),
    (" A3 + ", 329, 483),
    ("letter", F("215.9"), F("279.4")),
    ("TABLOID", 279.4, 431.8),
    ("A3 landscape", 420, 297),
    ("a3, lying", 420, 297),
    ("A4 portrait", 210, 297),
    ("30x20 upright", 200, 300),
]
WAYS = [
    ("1 m wide", "width", (1000,)),
    ("40cm wide", "width", (400,)),
    ("width 40", "width", (400,)),
    ("60 cm high", "height", (600,)),
    ("2 ft tall", "height", (24 * INCH,)),
    ("2.2 m", "long-edge", (2200,)),
    ("2.2m", "long-edge", (2200,)),
    ("2,2 m", "long-edge", (2200,)),
    ("5'", "long-edge", (60 * INCH,)),
    ("31½″", "long-edge", (F("31.5") * INCH,)),
    ("long edge 40 cm", "long-edge", (400,)),
    ("40 cm longest side", "long-edge", (400,)),
    ("short edge 8 in", "short-edge", (8 * INCH,)),
    ("within 18x13", "within", (180, 130)),
    ("within 1920x1080 px", "within-px", (1920, 1080)),
    ("1920x1080 px", "screen", (1920, 1080)),
    ("1920 × 1080 pixels", "screen", (1920, 1080)),
    ("screen 1920 × 1080 px", "screen", (1920, 1080)),
    ("50 %", "scale", (F(1, 2),)),
    ("at 50 %", "scale", (F(1, 2),)),
    ("33.3%", "scale", (F("0.333"),)),
    ("12 MP", "megapixels", (12,)),
    ("12mp", "megapixels", (12,)),
    ("2.5 megapixels", "megapixels", (F("2.5"),)),
    ("16:9", "shape", (F(16, 9),)),
    ("5/4", "shape", (F(5, 4),)),
    ("1.618:1", "shape", (F("1.618"),)),
    ("16:9 as large as possible", "shape", (F(16, 9),)),
    ("300 ppi", "reach", (300,)),
    ("300dpi", "reach", (300,)),
    ("118 px/cm", "reach", (118 * INCH / 10,)),
    ("mat 36x27 cm", "mat", (360, 270, 0)),
    ("mat 36x27 cm reveal 6 mm", "mat", (360, 270, 6)),
    ("mat 36x27cm, overlap 3mm", "mat", (360, 270, -3)),
    ("sheet A3 border 20 mm", "sheet", (297, 420, 20)),
    ("A4 with 1 cm border", "sheet", (210, 297, 10)),
    ("a4 with a 1 cm border", "sheet", (210, 297, 10)),
    ("Roll 61 cm", "short-edge", (610,)),
]
REFUSED = [
    "",
    "   ",
    "300",
    "nonsense",
    "12 x",
    "x 9",
    "12 x 9 x 3",
    "12 x nine",
    "-5 x 4",
    "0 x 4",
    "12 x 9 parsecs",
    "1/0 x 4",
    "9e99 m",
    "2 km x 1 km",
    "A99",
    "16:0",
    "1000:1",
    "0 %",
    "0 MP",
    "0 x 0 px",
    "300000 ppi",
    "within",
    "mat 36x27 reveal 20 cm",
    "A4 with 15 cm border",
    "1 kB",
    "1 m wide landscape",
    "٣x٤ cm ½½",
    "12 x 9 cm upright lying",
]


def test_the_table_is_long_enough():
    assert len(SIZES) + len(WAYS) + len(REFUSED) >= 80


@pytest.mark.parametrize(("typed", "width", "height"), SIZES)
def test_sizes(typed, width, height):
    size = parse_wish(typed).size
    assert size is not None
    assert (float(size.width_mm), float(size.height_mm)) == (float(width), float(height))


@pytest.mark.parametrize(("typed", "kind", "values"), WAYS)
def test_ways(typed, kind, values):
    assert parse_wish(typed).way == Way(kind, tuple(F(value) for value in values))


@pytest.mark.parametrize("typed", REFUSED)
def test_what_cannot_be_meant_is_refused_in_a_sentence(typed):
    with pytest.raises(BadRequest) as why:
        parse_wish(typed)
    text = str(why.value)
    assert text.endswith(".") and len(text) < 240 and "Traceback" not in text


def test_bare_numbers_are_in_the_units_shown():
    assert parse_wish("12x9", "in").size.width_mm == 12 * INCH
    assert parse_wish("40", "in", [PrintSize("40", F(1), F(1))]).size.width_mm == 1
    with pytest.raises(BadRequest, match="300 ppi"):
        parse_wish("300", "in")


def test_saying_which_way_it_lies_is_heeded():
    assert parse_wish("A3 landscape").lie == "as-given"
    assert parse_wish("A3").lie == "auto"


def test_own_names_come_first():
    house = PrintSize("House size", F(540), F(360), "mine")
    mat = Way("mat", (F(270), F(360), F(6)), "Show mat")
    assert parse_wish("house  SIZE", own=[house, mat]).size is house
    assert parse_wish("show mat", own=[house, mat]).way is mat
    assert parse_wish("house size landscape", own=[house]).lie == "as-given"


@pytest.mark.parametrize(
    ("typed", "count"),
    [
        ("2 MB", 2_000_000),
        ("2mb", 2_000_000),
        ("1.5 MB", 1_500_000),
        ("500 kB", 500_000),
        ("1,5 MiB", 1_572_864),
        ("800000", 800_000),
        ("at most 2 MB", 2_000_000),
        ("under 3 GB", 3_000_000_000),
    ],
)
def test_sizes_of_files(typed, count):
    if typed[-1] in "bB":
        assert parse_wish(typed).max_bytes == count
    assert parse_bytes(typed.removeprefix("at most ").removeprefix("under ")) == count


@pytest.mark.parametrize("typed", ["", "MB", "2 PB", "9 kB", "-2 MB", "two MB"])
def test_no_sizes_of_files(typed):
    with pytest.raises(BadRequest):
        parse_bytes(typed)


@pytest.mark.parametrize(
    ("typed", "mm"),
    [
        ("2.2 m", (2200, 2200)),
        ("80cm", (800, 800)),
        ("80", (800, 800)),
        ("6 ft", (72 * INCH, 72 * INCH)),
        ("70-110cm", (700, 1100)),
        ("70–110 cm", (700, 1100)),
        ("1.1 m to 70 cm", (700, 1100)),
        ("2-4 ft", (24 * INCH, 48 * INCH)),
        ("70-110", (700, 1100)),
        ("from 70 cm to 1.1 m", (700, 1100)),
        ("in the hand", (250, 400)),
        ("hand", (250, 400)),
        ("On the desk", (400, 700)),
        ("from across the room", (2000, 4000)),
        ("arm’s length", (600, 800)),
    ],
)
def test_distances(typed, mm):
    assert parse_distance(typed) == Seen(*(Fraction(end) for end in mm))


@pytest.mark.parametrize("typed", ["", "automatic"])
def test_a_distance_may_be_left_to_the_size(typed):
    assert parse_distance(typed) is None


def test_words_that_are_no_distance_name_those_that_are():
    with pytest.raises(BadRequest, match="across a room"):
        parse_distance("near enough")
    with pytest.raises(BadRequest):
        parse_distance("0 cm")
    with pytest.raises(BadRequest):
        parse_distance("70-0 cm")
    assert len(named_distances()) >= 5


def test_where_it_is_printed():
    assert usual_maker().asks == 300 and usual_maker().floor == 180
    desk = find_maker("desk printer")
    assert (desk.asks, desk.floor) == (360, 180)
    half = find_maker("roll-half")
    assert (half.asks, half.native, half.floor) == (150, 300, 150)
    assert all(1 <= maker.asks <= 10000 for maker in makers())
    with pytest.raises(BadRequest, match="desk-half"):
        find_maker("moon")


def test_px_per_cm_is_converted_not_renamed():
    assert parse_ppi("100 px/cm") == 254
    assert parse_length("1 in") * 300 / INCH == 300
