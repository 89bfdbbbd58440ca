from fractions import Fraction

import pytest

from tests.conftest import docket_of, facts_of
from zinc_margin.measure.distances import Seen
from zinc_margin.plan.build import plan
from zinc_margin.plan.size.needs import answers


def test_answers_in_both_directions():
    found = answers(
        plan(facts_of(4032, 3024), docket_of("10x8in", size={"distance": Seen.at(1000)}))
    )
    assert found.unenlarged_mm == (
        Fraction("13.44") * Fraction("25.4"),
        Fraction("10.08") * Fraction("25.4"),
    )
    assert found.pixels == (3000, 2400)
    assert found.megapixels == 7.2
    # 3437.7 ppi at an inch: 87.3 ppi at a metre
    assert float(found.unseen_mm[0]) == pytest.approx(4032 / 87.318 * 25.4, rel=1e-4)


def test_at_the_largest_size_nothing_is_enlarged_and_beyond_it_is():
    facts = facts_of(6000, 4000)
    width, height = answers(plan(facts, docket_of("30x20cm"))).unenlarged_mm
    at = plan(facts, docket_of(f"{width}mm x {height}mm"))
    assert at.effective_ppi == 300 and at.grade == "ample"
    over = plan(facts, docket_of(f"{width + 1}mm x {height + Fraction(2, 3)}mm"))
    assert over.effective_ppi < 300


def test_a_quarter_turn_turns_the_answers():
    facts = facts_of(6000, 4000)
    level = answers(plan(facts, docket_of("30x20cm")))
    turned = answers(plan(facts, docket_of("30x20cm", crop={"turn": Fraction(90)})))
    assert turned.unenlarged_mm == level.unenlarged_mm[::-1]
    assert turned.pixels == level.pixels[::-1]
