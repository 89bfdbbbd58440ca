from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.conftest import docket_of, facts_of
from zinc_margin.measure.sizes import catalogue
from zinc_margin.measure.ways import named_ways
from zinc_margin.plan.build import plan
from zinc_margin.plan.size.ladder import ladder
from zinc_margin.plan.text.lines import entries, summary, total

CAMERA = facts_of(6000, 4000)


@pytest.mark.parametrize("turn", [0, 3, 90])
@pytest.mark.parametrize("fit", ["trim", "whole"])
def test_each_rung_agrees_with_the_whole_plan(turn, fit):
    docket = docket_of("A3", crop={"fit": fit, "turn": Fraction(turn)})
    made = plan(CAMERA, docket)
    rungs = ladder(CAMERA, docket, made)
    assert len(rungs) == len(catalogue()) + len(named_ways())
    for rung in rungs[::7]:
        line = replace(docket.size, size=rung.size, lie="as-given")
        if rung.way is not None:
            line = replace(line, size=None, way=rung.way, lie="auto")
            wide = plan(CAMERA, replace(docket, size=line)).size.width_mm
            assert float(wide) == pytest.approx(float(rung.size.width_mm), rel=1e-3)
        one = plan(
            CAMERA, replace(docket, size=line, pixels=replace(docket.pixels, choice="resample"))
        )
        if turn != 3 or fit == "trim":
            assert rung.effective_ppi == pytest.approx(float(one.effective_ppi), rel=2e-3)
            assert rung.grade == one.grade
        if fit == "trim":
            assert rung.trimmed_share == pytest.approx(one.trimmed_share, abs=2e-3)


def test_rungs_rise_by_area():
    docket = docket_of("A3")
    areas = [
        rung.size.width_mm * rung.size.height_mm
        for rung in ladder(CAMERA, docket, plan(CAMERA, docket))
    ]
    assert areas == sorted(areas)


def test_the_margins_words():
    made = plan(facts_of(6000, 4000, tag_x=Fraction(72)), docket_of("50x40cm"))
    rows = entries(facts_of(6000, 4000, tag_x=Fraction(72)), made)
    assert rows["photo"].decision == "6000 × 4000 px, 24 MP, 3:2"
    assert "changes nothing" in rows["photo"].consequence
    assert rows["size"].decision == "50 × 40 cm"
    assert rows["size"].consequence == "Good: 254 ppi, sharp from 34 cm."
    assert rows["crop"].decision == "Trimmed to 5:4, level"
    assert rows["crop"].consequence == "17 % trimmed: 50 mm left and right."
    assert rows["pixels"].decision == "Keep the pixels"
    assert rows["size"].state == "written" and rows["crop"].state == "worked out"
    assert total(made) == ("50 × 40 cm at 254 ppi", "5000 × 4000 px, TIFF, 8-bit, 60 MB")
    inches = entries(CAMERA, plan(CAMERA, docket_of("12x9in")), "in")
    assert inches["size"].decision.startswith("12 × 9 in")


def test_a_grave_note_marks_its_line():
    small = facts_of(640, 427)
    assert entries(small, plan(small, docket_of("30x20cm")))["size"].state == "look"


def test_words_for_turns_bands_and_uneven_cuts():
    def row(line, **crop):
        return entries(CAMERA, plan(CAMERA, docket_of("50x40cm", crop=crop)))[line]

    assert row("crop", fit="whole").consequence == "Bands: 33.3 mm top and bottom."
    assert row("crop", turn=Fraction(5, 2)).decision.endswith("rotated 2.5°")
    assert (
        row("crop", place_x=Fraction(1, 4)).consequence == "17 % trimmed: 25 mm left, 75 mm right."
    )
    assert row("crop", place_x=Fraction(0)).consequence == "17 % trimmed: 10 cm right."


@pytest.mark.parametrize("width", range(5990, 6011, 2))
def test_no_sentence_ends_where_its_figures_should_stand(width):
    """A tenth of a percent off a small print is no width that anybody could cut."""
    facts = facts_of(width, 4000)
    made = plan(facts, docket_of("9x6cm"))
    said = entries(facts, made)["crop"].consequence
    assert said == "Nothing trimmed." or any(each in said for each in ("left", "top")), said
    assert "shape-residual" not in {note.code for note in made.notes}


def test_the_summary_reads_from_top_to_bottom():
    text = summary(CAMERA, plan(CAMERA, docket_of("A3+")))
    assert text.splitlines()[0].startswith("1 Photo    6000 × 4000 px")
    assert [line[0] for line in text.splitlines() if line[:1].isdigit()][:7] == list("1234567")
