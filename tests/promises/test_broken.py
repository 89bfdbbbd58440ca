"""Promises that are broken on purpose are found."""

from __future__ import annotations

import tempfile
from pathlib import Path

import pytest
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st

from tests.promises.cases import photos, small_dockets
from tests.promises.test_promises import batch_of_one, planned
from zinc_margin.handoff import report
from zinc_margin.photo.pixels import read_photo
from zinc_margin.plan.file import name as naming
from zinc_margin.plan.pixels import pixels as pixels_line
from zinc_margin.plan.size import ladder
from zinc_margin.plan.size.grade import GRADES
from zinc_margin.plan.text import lines


def a_figure_in_the_foot(monkeypatch):
    pair = lines.words.pair
    monkeypatch.setattr(lines.words, "pair", lambda wide, high, units: pair(high, wide, units))


def a_unit_in_a_name(monkeypatch):
    short = naming._short_size
    monkeypatch.setattr(naming, "_short_size", lambda plan: short(plan).replace("cm", "in"))


def a_tag(monkeypatch):
    tag_for = pixels_line.tag_for

    def wrong(count, side):
        above, below = tag_for(count, side)
        return above + below, below

    monkeypatch.setattr(pixels_line, "tag_for", wrong)


def a_grade(monkeypatch):
    grade_for = ladder.grade_for
    monkeypatch.setattr(
        ladder, "grade_for", lambda *known: GRADES[GRADES.index(grade_for(*known)) - 1]
    )


def a_row_of_the_report(monkeypatch):
    names = list(report.COLUMNS)
    wide, high = names.index("width_px"), names.index("height_px")
    names[wide], names[high] = names[high], names[wide]
    monkeypatch.setattr(report, "COLUMNS", tuple(names))


@pytest.mark.parametrize(
    ("fault", "says"),
    [
        (a_figure_in_the_foot, "foot: "),
        (a_unit_in_a_name, "name: "),
        (a_tag, "by pixels and tag"),
        (a_grade, "list: "),
        (a_row_of_the_report, "report's row: pixels"),
    ],
    ids=lambda fault: getattr(fault, "__name__", ""),
)
def test_a_promise_that_is_broken_is_found(tmp_path, monkeypatch, fault, says):
    names = ("wide.jpg", "tall.png", "plain.tif")
    for name in names:
        (tmp_path / name).write_bytes(photos()[name])
    fault(monkeypatch)

    @settings(
        max_examples=60,
        phases=(Phase.generate,),
        derandomize=True,
        suppress_health_check=list(HealthCheck),
    )
    @given(st.sampled_from(names), small_dockets())
    def keeps(name, docket):
        photo = read_photo(tmp_path / name, page=docket.photo.page)
        before = planned(photo.facts, docket)
        with tempfile.TemporaryDirectory() as place:
            wrong = batch_of_one(Path(place), photo.facts, docket, before, "cm")
        assert not wrong, "\n".join(wrong)

    with pytest.raises(AssertionError, match=says):
        keeps()
