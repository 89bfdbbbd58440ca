"""Whatever a docket says: one clear refusal, or a plan whose sums hold and whose words read."""

from __future__ import annotations

import json
import re
from fractions import Fraction

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.conftest import facts_of
from tests.dockets import dockets
from zinc_margin.commands.as_json import plan_report
from zinc_margin.docket.docket import Docket
from zinc_margin.docket.document import from_json, to_json
from zinc_margin.facts.facts import Facts
from zinc_margin.facts.measurements import Measured
from zinc_margin.measure.errors import BadRequest
from zinc_margin.plan.build import plan
from zinc_margin.plan.model import Plan
from zinc_margin.plan.text.lines import summary
from zinc_margin.plan.text.notes import note_text, remedy_text
from zinc_margin.plan.text.printing_notes import slip_text

PHOTOS = st.builds(
    facts_of,
    st.integers(1, 9000),
    st.integers(1, 9000),
    bits=st.sampled_from((8, 16)),
    kind=st.sampled_from(("RGB", "grey")),
    measured=st.none()
    | st.builds(
        Measured,
        st.floats(0, 3),
        blocks=st.floats(0, 2),
        halo=st.floats(0, 1),
        edge_px=st.none() | st.floats(0.3, 4),
        true_share=st.floats(0.1, 1),
        kind=st.sampled_from(("photo", "lettering", "drawing")),
        lean=st.none() | st.tuples(st.floats(-10, 10), st.floats(0, 1)),
    ),
)
many = settings(max_examples=80, suppress_health_check=[HealthCheck.too_slow])


def planned(facts: Facts, docket: Docket) -> Plan | None:
    """The plan, or None where the docket is refused in one sentence."""
    try:
        return plan(facts, docket)
    except BadRequest as why:
        assert str(why).endswith(".") and "\n" not in str(why) and "Fraction" not in str(why)
        return None


@many
@given(PHOTOS, dockets())
def test_the_sums_hold(facts, docket):
    made = planned(facts, docket)
    if made is None:
        return
    pixels, crop = made.pixels, made.crop
    assert pixels.width >= 1 and pixels.height >= 1
    assert crop.width > 0 and crop.height > 0
    # pixels and tag give the print's size
    tag = Fraction(*pixels.tag_x), Fraction(*pixels.tag_y)
    off = (
        pixels.width / tag[0] * Fraction("25.4") - made.size.width_mm,
        pixels.height / tag[1] * Fraction("25.4") - made.size.height_mm,
    )
    assert max(map(abs, off)) < Fraction(1, 10**6)
    assert 0 <= made.trimmed_share < 1
    if pixels.choice == "keep":
        assert pixels.scale == 1
    if made.sharpen is not None:
        assert made.sharpen.acutance_after >= made.sharpen.acutance_before - 1e-6
    assert made.file.bytes_estimate > 0
    if made.sheet is not None:
        page = made.sheet.page
        for pixels, tag, mm in (
            (page.width, page.tag_x, page.width_mm),
            (page.height, page.tag_y, page.height_mm),
        ):
            # a tag is two whole numbers of 32 bits, which sides such as 12711850/5299 mm outrun
            assert abs(pixels / Fraction(*tag) * Fraction("25.4") - mm) < Fraction(1, 10**6)
        assert min(made.sheet.lost_mm) >= 0


@many
@given(PHOTOS, dockets())
def test_it_can_be_said_in_every_unit_and_written_as_json(facts, docket):
    made = planned(facts, docket)
    if made is None:
        return
    for units in ("cm", "in", "px/cm"):
        said = [summary(facts, made, units), slip_text(made, "kiln.tif", units)]
        said += [note_text(note, units) for note in made.notes]
        said += [remedy_text(one, units) for note in made.notes for one in note.remedies]
        for text in said:
            assert text.strip() and not re.search(r"Fraction\(|\bNone\b|\bnan\b|\binf\b", text)
    json.dumps(plan_report(facts, made), allow_nan=False)


@many
@given(PHOTOS, dockets())
def test_a_docket_that_was_kept_plans_the_same(facts, docket):
    kept = from_json(to_json(docket))
    first, again = planned(facts, docket), planned(facts, kept)
    assert (first is None) == (again is None)
    if first is not None and again is not None:
        assert again.pixels == first.pixels and again.crop == first.crop
        assert again.sharpen == first.sharpen and again.file == first.file
        assert again.sheet == first.sheet and again.size.label == first.size.label
        assert plan_report(facts, again) == plan_report(facts, first)


@many
@given(PHOTOS, dockets())
def test_planning_twice_is_the_same_and_changes_nothing(facts, docket):
    before = to_json(docket)
    assert planned(facts, docket) == planned(facts, docket)
    assert to_json(docket) == before
