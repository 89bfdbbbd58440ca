"""What a field says of itself holds for JSON, the command line and the documents alike."""

from __future__ import annotations

import argparse
import dataclasses
import json
import re
from fractions import Fraction
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

import zinc_margin
from zinc_margin.commands import options as deciding
from zinc_margin.docket import fields as kinds
from zinc_margin.docket.docket import FIELDS, LINES, Docket, check_value
from zinc_margin.docket.document import field_plain, from_json, to_json
from zinc_margin.docket.fields import said, said_of
from zinc_margin.gate.values import exact, plain
from zinc_margin.measure.errors import BadRequest

EVERY = [(line, name) for line, fields in FIELDS.items() for name in fields]
ODD = (
    None,
    True,
    False,
    -1,
    0,
    1,
    2**70,
    -1e300,
    float("nan"),
    float("inf"),
    "",
    " ",
    "1/0",
    "nan",
    "1e999",
    "-0.0000001",
    "\0",
    "x" * 5000,
    [],
    [1, 2],
    {},
    {"a": 1},
    {"kind": "side"},
    {"width_mm": "0", "height_mm": "5"},
    {"width_mm": "1/0"},
    {"path": 1},
)
JSON = st.recursive(
    st.none()
    | st.booleans()
    | st.integers()
    | st.floats()
    | st.text(max_size=20)
    | st.fractions().map(str),
    lambda inner: (
        st.lists(inner, max_size=4)
        | st.dictionaries(
            st.sampled_from(("width_mm", "height_mm", "label", "kind", "values", "left", "x"))
            | st.text(max_size=5),
            inner,
            max_size=4,
        )
    ),
    max_leaves=6,
)


def with_field(line, name, value):
    docket = Docket()
    return dataclasses.replace(
        docket, **{line: dataclasses.replace(getattr(docket, line), **{name: value})}
    )


def parsed(*typed):
    parser = argparse.ArgumentParser()
    deciding.declare(parser)
    return deciding.changes_of(parser.parse_args(typed))


@pytest.mark.parametrize(("line", "name"), EVERY)
def test_the_usual_value_is_one_that_may_be_said(line, name):
    usual = getattr(LINES[line](), name)
    assert check_value(line, name, field_plain(usual)) == usual


@pytest.mark.parametrize(("line", "name"), EVERY)
def test_no_value_breaks_a_field(line, name):
    for odd in ODD:
        try:
            value = check_value(line, name, odd)
        except BadRequest as why:
            assert str(why).startswith(f"{line}.{FIELDS[line][name].key} ")
            assert len(str(why)) < 400
        else:
            docket = with_field(line, name, value)
            assert from_json(to_json(docket)) == docket


@given(st.sampled_from(EVERY), JSON)
def test_what_a_field_takes_comes_back_from_the_file(place, raw):
    line, name = place
    try:
        value = check_value(line, name, raw)
    except BadRequest:
        return
    docket = with_field(line, name, value)
    assert from_json(to_json(docket)) == docket


@pytest.mark.parametrize(("line", "name"), EVERY)
def test_the_sentence_of_a_number_says_its_bounds(line, name):
    kind = FIELDS[line][name].kind
    words = kind.constraint.removeprefix("integer, ").removeprefix("over ").replace(", to ", " to ")
    low, to, high = words.partition(" to ")
    if not to or not low.lstrip("-").replace(".", "").isdigit():
        return
    whole = kind.constraint.startswith("integer")
    step = 1 if whole else Fraction(1, 1000)
    ends = [int(low), int(high)] if whole else [str(Fraction(low)), str(Fraction(high))]
    if kind.constraint.startswith("over"):
        ends = ends[1:]
    for end in ends:
        assert check_value(line, name, end) == Fraction(end)
    for past in (Fraction(low) - step, Fraction(high) + step):
        with pytest.raises(BadRequest):
            check_value(line, name, int(past) if whole else str(past))


def test_null_is_taken_where_it_has_a_meaning_and_nowhere_else():
    for line, name in EVERY:
        if FIELDS[line][name].nothing:
            assert check_value(line, name, None) is None
        else:
            with pytest.raises(BadRequest):
                check_value(line, name, None)


def test_keys_and_flags_name_one_thing():
    for fields in FIELDS.values():
        keys = [one.key for one in fields.values()]
        assert len(set(keys)) == len(keys)
    flags = [one.option.flag for fields in FIELDS.values() for one in fields.values() if one.option]
    flags += [wide.flag for wide in deciding.WIDE]
    assert len(set(flags)) == len(flags)


def test_every_field_can_be_written_or_belongs_to_the_window_alone():
    wide = {field for one in deciding.WIDE for field in one.writes}
    assert wide <= {f"{line}.{name}" for line, name in EVERY}
    alone = {
        f"{line}.{name}"
        for line, name in EVERY
        if FIELDS[line][name].option is None and f"{line}.{name}" not in wide
    }
    # --out says the folder and name; what was measured is evidence; --units is of all that is told
    assert alone == {"photo.measured", "photo.digest", "size.units", "file.folder", "file.name"}


@pytest.mark.parametrize(("line", "name"), EVERY)
def test_an_option_writes_its_own_field_and_no_other(line, name):
    one = FIELDS[line][name]
    option, kind = one.option, one.kind
    if option is None:
        return
    usual = getattr(LINES[line](), name)
    if option.sets is not None:
        wanted, typed = option.sets, ()
        assert wanted != usual
    elif kind.words:
        words = option.words or kind.words
        wanted = next(word for word in words if word != usual)
        typed = (wanted,)
    else:
        wanted, typed = None, (example(one),)
    changes = parsed(f"--{option.flag}", *typed)
    assert {key: tuple(held) for key, held in changes.items() if held} == {line: (name,)}
    if wanted is not None:
        assert changes[line][name] == wanted
    # what was typed is what a docket's file may hold
    docket = with_field(line, name, changes[line][name])
    assert from_json(to_json(docket)) == docket


def example(one):
    """Something to type for a field, of what its help says."""
    by_metavar = {
        "LENGTH": "4mm",
        "N": "3",
        "PPI": "240",
        "TONE": "mid-grey",
        "SIZE": "2MB",
        "DEG": "1.5",
        "RULE": "{name}",
        "DIR": "prints",
        "{8,16}": "16",
        "HOW": "inkjet",
        "WHO": "desk",
    }
    metavar = one.option.metavar or one.kind.metavar
    for typed in (by_metavar.get(metavar), "1", "4mm", "A4", "30x20cm", "white", "matt"):
        try:
            read = one.option.typed or one.kind.typed
            if typed is not None:
                one.read(field_plain(read(typed) if read else typed))
                return typed
        except (BadRequest, kinds.Wrong):
            continue
    raise AssertionError(f"nothing to type for {one.key}")


def test_a_field_that_says_nothing_of_itself_stops_the_start():
    @dataclasses.dataclass(frozen=True)
    class Mute:
        width: int = 3

    with pytest.raises(TypeError, match="Mute"):
        said_of(Mute)

    @dataclasses.dataclass(frozen=True)
    class Half:
        width: int | None = said(kinds.whole(1, 3), "how wide")

    with pytest.raises(TypeError, match="Half"):
        said_of(Half)


@given(st.fractions(min_value=0, max_value=1000), st.fractions(min_value=0, max_value=1000))
def test_numbers_are_exact_and_bounded(value, high):
    kind = kinds.number(0, high)
    if value <= high:
        assert kind.read(str(value)) == value
    else:
        with pytest.raises(kinds.Wrong):
            kind.read(str(value))


@pytest.mark.parametrize(
    ("typed", "value"),
    [("12", 12), (" 12 % ", 12), ("-3.5", Fraction(-7, 2)), ("−3", -3), ("+2", 2), ("0.1", "1/10")],
)
def test_what_a_person_types_for_a_number(typed, value):
    assert kinds.signed_number(typed) == Fraction(value)


def test_unknown_fields_are_kept_where_they_stood():
    raw = json.loads(to_json(Docket()))
    raw["sharpen"]["from_later"] = {"deep": [1, None, "½"]}
    raw["later"] = [1]
    again = json.loads(to_json(from_json(json.dumps(raw))))
    assert again["sharpen"]["from_later"] == {"deep": [1, None, "½"]}
    assert again["later"] == [1]


@pytest.mark.parametrize(
    "odd",
    [
        "1e999999999",
        "-1e999999999",
        "1e-999999999",
        "9" * 401,
        10**401,
        "1_000",
        "１２",
        "0x10",
        "1/0",
        "1 /2",
        "inf",
        "1e5/3",
        "",
        "-",
        ".",
        "e5",
    ],
)
def test_a_number_is_bounded_before_it_is_read(odd):
    with pytest.raises(ValueError, match=r"not a number|by zero"):
        exact(odd)
    for line, name in EVERY:
        with pytest.raises(BadRequest):
            if check_value(line, name, odd) is not None:  # texts may be anything
                raise BadRequest("")


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("1/3", Fraction(1, 3)),
        (" 2.50 ", Fraction(5, 2)),
        ("-7", -7),
        (".5", Fraction(1, 2)),
        ("5.", 5),
        ("1e3", 1000),
        ("2.5E-2", Fraction(1, 40)),
        (3, 3),
        (0.1, Fraction(1, 10)),
    ],
)
def test_numbers_are_read_exactly(text, value):
    assert exact(text) == value


@given(st.fractions(-(10**9), 10**9))
def test_every_exact_number_that_is_written_is_read(value):
    assert exact(plain(value)) == value


def test_whatever_checks_a_field_names_one_that_there_is():
    """A field's name stands as a text wherever a typed value is checked for it."""
    named = re.compile(r'check_value\(\s*"(\w+)",\s*"(\w+)"')
    found = [
        (path.name, *match.groups())
        for path in Path(zinc_margin.__file__).parent.rglob("*.py")
        for match in named.finditer(path.read_text("utf-8"))
    ]
    assert len(found) > 10
    assert not [each for each in found if each[2] not in FIELDS[each[1]]]
