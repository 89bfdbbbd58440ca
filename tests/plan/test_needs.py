"""What a size asks for without a photo, and sizes judged by a file that is enlarged first."""

from __future__ import annotations

from fractions import Fraction

import pytest

from tests.conftest import docket_of, facts_of
from zinc_margin.docket.size import SizeLine
from zinc_margin.measure.distances import Seen
from zinc_margin.measure.sizes import parse_size
from zinc_margin.measure.wish import parse_target
from zinc_margin.plan.build import plan
from zinc_margin.plan.size.ladder import ladder
from zinc_margin.plan.size.needs import needs
from zinc_margin.plan.text.phrases import need_words
from zinc_margin.plan.text.reasons import judged_from, reason_for


def test_a_size_says_how_many_pixels_it_asks_for():
    asked, least, near = needs(parse_size("70x50cm"), SizeLine(distance=Seen.at(800)))
    assert (asked.code, asked.ppi, asked.pixels) == ("asked", 300, (8268, 5906))
    assert (least.code, least.ppi, least.pixels) == ("least", 180, (4961, 3543))
    assert near.code == "near" and near.mm == 800 and near.pixels[0] == pytest.approx(3008, abs=3)
    assert need_words(asked, "lab") == ("300 ppi, target of a lab", "8268 × 5906 px, 49 MP")
    assert need_words(near, "lab", "in")[0].endswith("enough from 31 in")


def test_a_range_of_distances_has_two_answers_and_makers_ask_what_they_ask():
    rows = needs(parse_size("70x50cm"), SizeLine(maker="canvas"))
    assert [row.code for row in rows] == ["asked", "least", "near", "far"]
    assert (rows[0].ppi, rows[1].ppi) == (150, 100)
    assert rows[2].mm < rows[3].mm and rows[2].ppi > rows[3].ppi


def test_an_enlargement_that_is_decided_first_judges_all_sizes():
    facts = facts_of(1200, 800)
    size = {"size": parse_size("30x20cm")}
    own = docket_of(size=size)
    first = docket_of(size=size, pixels={"choice": "resample", "target": parse_target("7x")})
    before = {r.size.label: r for r in ladder(facts, own, plan(facts, own))}
    made = plan(facts, first)
    after = {r.size.label: r for r in ladder(facts, first, made)}
    one, other = before["60 × 40 cm"], after["60 × 40 cm"]
    assert other.judged_ppi == pytest.approx(7 * one.judged_ppi)
    assert other.effective_ppi == one.effective_ppi and one.judged_ppi == one.effective_ppi
    assert (one.grade, other.grade) == ("too few pixels", "ample")
    assert "enlarging 7 ×" in judged_from(made) and "no real detail" in judged_from(made)
    assert f"{other.judged_ppi:.0f} ppi" in reason_for(other, made)
    # a file of so many megapixels is no enlargement whatever the size
    target = docket_of(size=size, pixels={"choice": "resample", "target": parse_target("12 MP")})
    same = {r.size.label: r for r in ladder(facts, target, plan(facts, target))}
    assert same["60 × 40 cm"].grade == one.grade


@pytest.mark.parametrize("ppi", [Fraction(150), Fraction(600)])
def test_the_minimum_is_two_thirds_at_most(ppi):
    _, least, *_ = needs(parse_size("30x20cm"), SizeLine(ppi=ppi))
    assert least.ppi == min(180, ppi * 2 / 3)


@pytest.mark.parametrize("choice", ["auto", "keep", "resample"])
@pytest.mark.parametrize("maker", ["lab", "lab-enlarges", "desk"])
@pytest.mark.parametrize("distance", [None, Seen.at(Fraction(1500))])
def test_the_list_of_sizes_enlarges_what_the_plan_enlarges(choice, maker, distance):
    facts = facts_of(3000, 2000)
    size = {"size": None, "maker": maker, "distance": distance}
    docket = docket_of(size=size, pixels={"choice": choice})
    rungs = ladder(facts, docket, plan(facts, docket))
    for rung in rungs[:: max(1, len(rungs) // 12)]:
        if rung.way is None:
            asked = docket_of(size=size | {"size": rung.size}, pixels={"choice": choice})
            made = plan(facts, asked)
            # the list is for the exact shape, a file for whole pixels
            assert max(1, rung.enlargement) == pytest.approx(made.enlargement, rel=5e-3)
