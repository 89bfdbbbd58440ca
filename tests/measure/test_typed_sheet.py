import pytest

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.sheet_input import parse_sheet, parse_typed_sheet


def told(text, unit="cm"):
    typed = parse_typed_sheet(text, unit)
    rows = [(count, size and size.label) for count, size in typed.prints]
    return rows, typed.sheet and typed.sheet.label, typed.roll


THREE = [(2, "13 × 18 cm"), (4, "9 × 13 cm"), (8, "Passport 35 × 45")]


@pytest.mark.parametrize(
    ("typed", "rows", "sheet", "roll"),
    [
        ("Two 13 × 18, four 9 × 13, eight passport, on A4 sheets", THREE, "A4", False),
        ("2 13x18, 4 9x13 and 8 passports", THREE, None, False),
        ("2 x 13x18; 4 × 9x13; 8 passport on a 61 cm roll", THREE, "roll of 61 cm", True),
        ("13,5 x 18, 9x13", [(1, "13.5 × 18 cm"), (1, "9 × 13 cm")], None, False),
        ("a dozen A6 on Letter paper", [(12, "A6")], "Letter", False),
        ("two prints of 10x15", [(2, "10 × 15 cm")], None, False),
        ("four copies", [(4, None)], None, False),
        ("no 5x5, one 6x6", [(1, "6 × 6 cm")], None, False),
        ("", [], None, False),
        ("on A3+", [], "A3+", False),
    ],
)
def test_a_sentence_means_what_a_person_means(typed, rows, sheet, roll):
    assert told(typed) == (rows, sheet, roll)


def test_inches_are_read_where_they_are_in_use():
    rows, sheet, _ = told("2 8½ x 11, four 4x6, six passport, on a 24 roll", "in")
    assert rows == [(2, "8 1/2 × 11 in"), (4, "4 × 6 in"), (6, "Passport 2 × 2")]
    assert sheet == "roll of 24 in"


@pytest.mark.parametrize(
    ("typed", "said"),
    [("two hats", "“two hats” cannot be read"), ("9x13, on the moon", "moon"), ("9x", "9x")],
)
def test_what_cannot_be_read_is_named(typed, said):
    with pytest.raises(BadRequest, match=said):
        parse_typed_sheet(typed)


def test_a_roll_says_its_width():
    size, roll = parse_sheet("61cm roll")
    assert roll and size.width_mm == 610 and parse_sheet(size.label) == (size, True)
    assert parse_sheet("A4 sheets") == (parse_sheet("A4")[0], False)
