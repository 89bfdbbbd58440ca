from fractions import Fraction

import pytest

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.makers import makers
from zinc_margin.measure.papers import find_paper, papers
from zinc_margin.measure.sizes import catalogue, parse_ratio, parse_size
from zinc_margin.measure.ways import named_ways


@pytest.mark.parametrize(
    ("typed", "width", "height"),
    [
        ("12x9in", Fraction("304.8"), Fraction("228.6")),
        ("27 × 18 in", Fraction("685.8"), Fraction("457.2")),
        ("70x46cm", 700, 460),
        ("70cm x 46cm", 700, 460),
        ("70 by 46", 700, 460),
        ("8 1/2 x 11 in", Fraction("215.9"), Fraction("279.4")),
        ("8½x11in", Fraction("215.9"), Fraction("279.4")),
        ("1m x 70cm", 1000, 700),
        ("A3+", 329, 483),
        ("a3 +", 329, 483),
        ("A4", 210, 297),
        ("b2", 500, 707),
        ("letter", Fraction("215.9"), Fraction("279.4")),
        ("10 × 15 cm", 100, 150),
    ],
)
def test_sizes_mean_what_a_person_means(typed, width, height):
    size = parse_size(typed)
    assert (size.width_mm, size.height_mm) == (width, height)


@pytest.mark.parametrize(
    "typed", ["0x8in", "12xin", "x", "12", "12x9x3in", "A99", "-1x4cm", "xxcm", ""]
)
def test_what_is_no_size_is_refused_in_one_sentence(typed):
    with pytest.raises(BadRequest) as why:
        parse_size(typed)
    assert "\n" not in str(why.value)


def test_bare_numbers_take_the_unit_in_use():
    assert parse_size("12x9", "in").width_mm == Fraction("304.8")


def test_labels_turn_with_their_size():
    size = parse_size("12x9in")
    assert size.lying(upright=True).label == "9 × 12 in"
    assert size.lying(upright=False) == size
    assert parse_size("A3+").lying(upright=False).width_mm == 483
    assert parse_size("A3+").swapped().label == "A3+"
    assert parse_size("Frame 30 × 40 cm").swapped().label == "Frame 30 × 40 cm"


def test_the_catalogue_holds_what_is_promised():
    sizes = catalogue()
    assert len(sizes) + len(named_ways()) >= 140
    assert {"A3+", "A4", "B2", "Letter", "Tabloid"} <= {size.label for size in sizes}
    assert len({size.family for size in sizes}) >= 8
    assert all(size.width_mm > 0 and size.height_mm > 0 for size in sizes)
    labels = [size.label for size in sizes]
    assert len(set(labels)) == len(labels)


@pytest.mark.parametrize("size", catalogue(), ids=lambda size: size.label)
def test_every_catalogue_name_can_be_typed(size):
    assert parse_size(size.label) == size


@pytest.mark.parametrize(
    ("typed", "ratio"),
    [
        ("16:9", Fraction(16, 9)),
        ("5/4", Fraction(5, 4)),
        ("1.4142", Fraction("1.4142")),
        ("3x2", Fraction(3, 2)),
    ],
)
def test_ratios(typed, ratio):
    assert parse_ratio(typed) == ratio


@pytest.mark.parametrize("typed", ["0:3", "1000:1", "a:b", "1:2:3", ""])
def test_absurd_ratios_are_refused(typed):
    with pytest.raises(BadRequest):
        parse_ratio(typed)


def test_papers_are_found_by_name_and_by_their_beginning():
    assert find_paper("matt").sigma_mm == Fraction("0.045")
    assert find_paper("Cotton").name == "cotton rag"
    assert find_paper("cotton-rag").name == "cotton rag"
    assert len(papers()) == 8
    with pytest.raises(BadRequest, match="gloss, lustre"):
        find_paper("velvet")


def test_every_maker_has_squares_for_square_photos():
    squares = {size.family for size in catalogue() if size.width_mm == size.height_mm}
    squares |= {way.family for way in named_ways() if way.values[0] in way.values[1:2]}
    for maker in makers():
        assert squares & set(maker.families), maker.key
