"""Names and folders by rule: whatever the fields hold, files land where they were meant to."""

from __future__ import annotations

import os
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import docket_of, facts_of, photo_of, resampled
from zinc_margin.docket.docket import check_value, fresh
from zinc_margin.docket.file import NAME_FIELDS
from zinc_margin.docket.finish_input import parse_pieces
from zinc_margin.facts.facts import Said
from zinc_margin.handoff import names
from zinc_margin.keeping.partials import partial_beside
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.wish import parse_wish
from zinc_margin.measure.words import shorten
from zinc_margin.plan.build import plan
from zinc_margin.plan.file.name import ruled_name, subfolder

PHOTO = Path("/photos/kiln corner.jpg")
FACTS = photo_of(np.zeros((40, 60, 3), np.uint8)).facts
pieces_of_rules = st.lists(
    st.sampled_from([*(f"{{{name}}}" for name in NAME_FIELDS), "/", "..", " ", "-", "a", "ü"]),
    min_size=1,
    max_size=9,
).map("".join)


def planned(facts=FACTS, size="15x10cm", **file):
    return plan(facts, resampled(size, 50, file=file))


@given(pieces_of_rules, st.text(max_size=60), st.text(max_size=60))
def test_no_folder_leaves_the_one_that_holds_it(rule, title, text):
    try:
        kept = check_value("file", "folder_rule", rule)
    except BadRequest:
        parts = [part.strip() for part in rule.split("/")]
        assert ".." in parts or not any(parts)  # only steps upwards, and no folder at all
        return
    facts = replace(FACTS, said=Said(title, "2026-05-09", text))
    one = planned(facts, folder_rule=kept, project=text or None, folder="/out")
    inside = subfolder(PHOTO, one)
    assert not inside.is_absolute() and ".." not in inside.parts
    goal = names.goal(PHOTO, one)
    assert Path(os.path.normpath(goal)).is_relative_to("/out")
    assert goal.parent == Path("/out") / inside
    assert all(len(os.fsencode(part)) <= 200 for part in inside.parts)


def test_empty_fields_leave_no_empty_folders():
    one = planned(folder_rule="{date}/{paper}/{author}/{size}", folder="/out")
    assert subfolder(PHOTO, one) == Path("lustre/15x10cm")
    assert subfolder(PHOTO, planned(folder="/out")) == Path()
    assert names.goal(PHOTO, planned(folder_rule="{date}")).parent == Path("/photos")


def test_pieces_are_named_by_rule_where_it_says_how_and_numbered_otherwise():
    def piece(**file):
        docket = docket_of("60x40cm", size={"ppi": 50}, finish=parse_pieces("A4"), file=file)
        whole = plan(FACTS, docket)
        third = whole.pieces.each[2]
        return names.piece_goal(PHOTO, replace(whole, cut=third), Path("/out")).name

    usual = piece()
    assert usual.startswith("kiln corner-60x40cm-3-of-") and usual.endswith(".tif")
    ruled = piece(rule="{piece} of {name}", format="png")
    assert ruled.startswith("3-of-") and ruled.endswith(" of kiln corner.png")
    assert piece(rule="{name}").startswith("kiln corner-3-of-")


@pytest.mark.parametrize("rule", ["{name", "name}", "{{name}}", "{lens}", "{}"])
def test_rules_that_cannot_be_meant_are_refused_and_list_the_fields(rule):
    for field in ("rule", "folder_rule"):
        with pytest.raises(BadRequest, match=r"\{name\}, \{title\}"):
            check_value("file", field, rule)


def test_names_that_are_taken_count_up_inside_their_folder_too(tmp_path):
    one = planned(folder=str(tmp_path), folder_rule="{size}", name="kiln")
    first = names.goal(PHOTO, one)
    first.parent.mkdir()
    first.touch()
    second = names.goal(PHOTO, one)
    assert (first.name, second.name) == ("kiln.tif", "kiln-2.tif")
    # what another file of the same run is about to take counts as taken
    assert names.goal(PHOTO, one, {names.alike(second)}).name == "kiln-3.tif"
    # a link that leads nowhere is something, too
    second.symlink_to(tmp_path / "gone")
    assert names.goal(PHOTO, one).name == "kiln-3.tif"


@pytest.mark.parametrize("rule", ["..", ".. ", " ..", "a/ .. /b", "a/..", "{date}/.. "])
def test_a_folder_rule_never_leads_up_wherever_its_blanks_stand(rule):
    with pytest.raises(BadRequest, match=r"file\.folder_rule"):
        check_value("file", "folder_rule", rule)


LONG = st.text(st.sampled_from("aü窯😀-. \u202e"), min_size=60, max_size=300)
RULES = (
    "{name}-{counter}",
    "{counter}-{name}",
    "{text}{counter}{name}",
    "{name}-{counter}-{text}",
    "{counter}",
    "{name}_{counter}_{counter}",
)


@given(st.sampled_from(RULES), LONG, LONG)
def test_the_counter_is_never_what_is_cut_off(rule, stem, text):
    photo = Path(f"/photos/{stem}.jpg")
    one = planned(rule=rule, note=text.replace("\0", "") or None)
    first, tenth = (ruled_name(photo, one, count) for count in (1, 10))
    assert "001" in first and "010" in tenth and first != tenth
    for name in (first, tenth):
        assert len(name.encode()) <= 200 and "/" not in name and "\u202e" not in name


@pytest.mark.parametrize("stem", ["-" * 250, ". " * 120, "_" * 199, "-" * 90 + "ü" * 90])
@pytest.mark.parametrize("rule", RULES)
def test_a_name_of_separators_alone_is_cut_too(rule, stem):
    photo = Path(f"/photos/x{stem}.jpg")
    for note in (stem, "kiln"):
        name = ruled_name(photo, planned(rule=rule, note=note), 7)
        assert "007" in name and len(name.encode()) <= 200


@pytest.mark.parametrize("rule", [None, *RULES])
def test_a_long_name_that_is_taken_is_counted_up(tmp_path, rule):
    photo = tmp_path / f"{'窯' * 80}.jpg"
    one = planned(rule=rule, folder=str(tmp_path))
    rows = []
    for _ in range(3):
        goal = names.goal(photo, one)
        goal.write_bytes(b"")  # a folder takes it
        with partial_beside(goal).open("wb") as part:
            part.write(b"")
        rows.append(goal)
    assert len(set(rows)) == 3


def test_a_name_of_ones_own_is_cut_by_bytes(tmp_path):
    one = planned(name="😀" * 200, folder=str(tmp_path))
    goal = names.goal(PHOTO, one)
    goal.write_bytes(b"")
    assert names.goal(PHOTO, one).stem == f"{goal.stem}-2"


@given(st.text(max_size=80) | st.binary(max_size=80).map(os.fsdecode), st.integers(4, 60))
def test_names_are_cut_between_letters(name, most):
    name = "".join(
        letter
        for letter in name
        if not "\ud800" <= letter <= "\udc7f" and not "\udd00" <= letter <= "\udfff"
    )
    short = shorten(name, most)
    assert len(os.fsencode(short)) <= most and name.startswith(short)
    assert short == name or len(os.fsencode(short)) > most - 4


@pytest.mark.parametrize(
    ("typed", "units", "name"),
    [
        ("within 7x5in", "cm", "kiln corner-7x4.67in"),
        ("11in wide", "cm", "kiln corner-11x7.33in"),
        ("2 1/2 x 3 1/2 in", "cm", "kiln corner-3.5x2.5in"),
        ("8 1/2 x 11", "in", "kiln corner-11x8.5in"),
        ("within 18x13cm", "in", "kiln corner-18x12cm"),
        ("A3+", "in", "kiln corner-A3+"),
        ("within 1920x1200 px", "cm", "kiln corner-1800x1200px"),
        ("3:2", "in", "kiln corner-0.12x0.08in"),
    ],
)
def test_a_name_has_the_sides_that_the_print_came_to_in_its_own_units(typed, units, name):
    wish = parse_wish(typed, units)
    docket = fresh(units)
    line = replace(docket.size, size=wish.size, way=wish.way, ppi=Fraction(500))
    facts = facts_of(60, 40)
    assert ruled_name(PHOTO, plan(facts, replace(docket, size=line))) == name


def test_an_automatic_size_is_round_in_the_units_in_use():
    facts = facts_of(3600, 2400)
    assert ruled_name(PHOTO, plan(facts, fresh("in"))) == "kiln corner-12x8in"
    assert ruled_name(PHOTO, plan(facts, fresh("cm"))) == "kiln corner-30x20cm"


def test_a_name_that_a_version_was_given_is_in_the_name():
    docket = replace(docket_of("15x10cm"), version="for the hall")
    assert ruled_name(PHOTO, plan(FACTS, docket)) == "kiln corner-for the hall-15x10cm"
