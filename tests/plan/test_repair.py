"""What is learned and what is mended: chosen by what was measured, unless the docket says."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import docket_of, facts_of, resampled
from zinc_margin.docket.document import from_json, to_json
from zinc_margin.facts.measurements import Measured
from zinc_margin.measure.errors import BadRequest
from zinc_margin.photo import colour as colours
from zinc_margin.photo.pixels import Photo, set_upright
from zinc_margin.pixels.source import Stored
from zinc_margin.plan.build import plan
from zinc_margin.plan.crop.rotation import Turned
from zinc_margin.plan.model import Machine
from zinc_margin.plan.photo.findings import findings
from zinc_margin.plan.text.finding_words import words_of
from zinc_margin.plan.text.lines import entries
from zinc_margin.plan.text.notes import note_text
from zinc_margin.plan.text.reasons import repair_reason

SHARP = Measured(0.2, edge_px=0.6)
BAD = replace(SHARP, blocks=0.6, noise=1.6, halo=0.25)


def planned(measured, docket=None):
    facts = facts_of(3000, 2000, measured=measured)
    return plan(facts, docket or resampled("60x40cm", 300))


def test_ai_is_taken_unless_a_kernel_is_as_good():
    assert planned(SHARP).pixels.method == "ai"
    textured = Measured(0.2, places=(("texture", 10, 10),))
    assert planned(textured).pixels.method == "ai"
    enlarged_before = replace(SHARP, true_share=0.6)
    fairly_soft = replace(SHARP, edge_px=1.9)
    assert planned(None).pixels.method == "lanczos"
    for measured in (fairly_soft, enlarged_before, Measured(0.2)):
        assert planned(measured).pixels.method == "ai"
    very_soft = planned(replace(SHARP, edge_px=2.1))
    assert very_soft.pixels.method == "lanczos"
    (why,) = (note for note in very_soft.notes if note.code == "not-by-ai")
    assert "2.1 px wide" in note_text(why, "cm")
    # little enlarging, reducing, keeping, and other kinds of picture do without
    assert planned(SHARP, resampled("30x20cm", 320)).pixels.method == "lanczos"
    assert planned(SHARP, resampled("6x4in", 300)).pixels.method == "lanczos"
    assert planned(SHARP, docket_of("60x40cm", pixels={"choice": "keep"})).pixels.method is None
    letters = resampled("60x40cm", 300, pixels={"kind": "lettering"})
    assert planned(None, letters).pixels.network == "lettering"
    blocks = resampled("60x40cm", 300, pixels={"kind": "drawing"})
    assert planned(SHARP, blocks).pixels.method == "blocks"


def test_written_methods_are_kept_unless_they_cannot_be():
    fine = {"method": "ai-fine"}
    made = planned(None, resampled("60x40cm", 300, pixels=fine)).pixels
    assert (made.method, made.network) == ("ai-fine", "photo")
    assert planned(None, resampled("6x4in", 300, pixels=fine)).pixels.method == "lanczos"
    letters = resampled("60x40cm", 300, pixels=fine | {"kind": "lettering"})
    assert planned(None, letters).pixels.network == "lettering"


def test_without_it_everything_else_works():
    def without(**pixels: object):
        facts = facts_of(3000, 2000, measured=SHARP)
        docket = resampled("60x40cm", 300, pixels=pixels)
        return plan(facts, docket, Machine("it is not there")).pixels

    assert without().method == "lanczos"
    written = without(method="ai")
    assert written.method == "lanczos" and written.doublings == 0
    assert without(kind="lettering").method == "edges"


@pytest.mark.parametrize(
    ("factor", "doublings"), [("1.31", 1), ("2", 1), ("2.3", 1), ("3.3", 2), ("4.6", 2), ("20", 3)]
)
def test_it_doubles_as_often_as_is_needed(factor, doublings):
    ppi = Fraction(factor) * 3000 / 60 * Fraction("2.54")
    made = planned(SHARP, resampled("60x40cm", ppi))
    assert made.pixels.doublings == doublings and made.pixels.method == "ai"


def test_what_is_found_is_mended_when_it_would_be_magnified():
    repair = planned(BAD).pixels.repair
    assert repair.clean == pytest.approx(98, abs=1) and repair.denoise == 20
    assert repair.dehalo == 100 and repair.halo_share == pytest.approx(0.375)
    assert not planned(SHARP).pixels.repair.any
    assert not planned(None).pixels.repair.any
    # kept or reduced pixels stay as they are, until someone asks
    assert not planned(BAD, resampled("6x4in", 300)).pixels.repair.any
    keep = docket_of("60x40cm", pixels={"choice": "keep"})
    assert not planned(BAD, keep).pixels.repair.any
    asked = docket_of("60x40cm", pixels={"choice": "keep", "clean": Fraction(40)})
    made = planned(BAD, asked)
    assert made.pixels.repair.clean == 40
    told = entries(facts_of(3000, 2000, measured=BAD), made)["pixels"]
    assert "Repaired: JPEG artefacts 40 %" in told.consequence and "Nothing" not in told.consequence
    none = resampled("60x40cm", 300, pixels={"clean": Fraction(0)})
    assert planned(BAD, none).pixels.repair.clean == 0


def test_more_blocks_ask_for_more_cleaning():
    found = [planned(replace(SHARP, blocks=b)).pixels.repair.clean for b in (0, 0.2, 0.5, 1, 9)]
    assert found == sorted(found) and found[0] == 0 and found[-1] == 100


def test_a_file_tells_how_coarsely_it_was_coded():
    def clean(quality, blocks=0.0):
        facts = facts_of(3000, 2000, jpeg_quality=quality, measured=replace(SHARP, blocks=blocks))
        return plan(facts, resampled("60x40cm", 300)).pixels.repair.clean

    asked = [clean(quality) for quality in (98, 91, 90, 60, 40, 20)]
    assert asked == [0, 0, 0, 57, 86, 100]
    # coded again, it still shows what it was before; a good JPEG is left alone all the same
    assert clean(80, blocks=0.6) == clean(None, blocks=0.6) > 90
    assert clean(85, blocks=0.6) == 0
    # calm tones show more of one coding than others do
    assert clean(40, blocks=0.6) == 86
    # where texture hides the steps, the file knows better
    assert clean(40, blocks=0.1) == 86 and clean(None, blocks=0.1) < 15
    kept = docket_of("60x40cm", pixels={"choice": "keep"})
    assert not plan(facts_of(3000, 2000, jpeg_quality=40), kept).pixels.repair.any


def test_mending_is_kept_in_the_docket():
    docket = resampled("60x40cm", 300, pixels={"clean": Fraction(30), "method": "ai"})
    assert from_json(to_json(docket)) == docket
    with pytest.raises(BadRequest, match="clean"):
        from_json(to_json(docket).replace('"clean": 30', '"clean": 130'))


def test_grain_is_offered_where_it_helps():
    def codes(**known):
        facts = facts_of(3000, 2000, **known)
        return {n.code: n for n in plan(facts, resampled("60x40cm", 300)).notes}

    smooth = replace(SHARP, places=(("smooth", 9, 9),))
    grey = codes(measured=SHARP, kind="grey")["grain-monochrome"]
    assert grey.remedies[0].docket.pixels.grain == 15
    assert "grain-steps" in codes(measured=smooth)
    assert "grain-steps" not in codes(measured=smooth, bits=16)
    assert "grain-steps" not in codes(measured=SHARP)
    assert not any("grain" in code for code in codes(measured=replace(smooth, noise=1.0)))
    taken = plan(facts_of(3000, 2000, measured=smooth, kind="grey"), grey.remedies[0].docket)
    assert taken.grain.deviation > 0 and not any("grain" in note.code for note in taken.notes)


def test_smeared_photos_take_more_of_what_was_learned():
    shares = [
        planned(replace(SHARP, fineness=fineness)).pixels.share
        for fineness in (None, 0.4, 0.24, 0.2, 0.1)
    ]
    assert shares[:3] == [1, 1, 1] and shares == sorted(shares)
    assert shares[-1] == pytest.approx(1.6)
    smooth = resampled("60x40cm", 300, pixels={"hardness": Fraction(-100)})
    assert planned(SHARP, smooth).pixels.share == pytest.approx(0.2)


def begins(marked: np.ndarray) -> tuple[int, int]:
    """The first column and row of the squares that a picture of (row & 8, column & 8) shows."""
    across, down = marked[0, :, 1], marked[:, 0, 0]
    found = [int(np.flatnonzero(np.diff(line.astype(int)))[0] + 1) % 8 for line in (across, down)]
    return found[0], found[1]


@given(
    st.integers(17, 60),
    st.integers(17, 60),
    st.integers(1, 8),
    st.integers(0, 3),
    st.booleans(),
    st.one_of(st.none(), st.tuples(st.integers(0, 7), st.integers(0, 7))),
)
def test_the_grid_is_known_however_the_picture_lies(wide, high, flag, quarters, mirror, seen):
    rows, columns = np.mgrid[:high, :wide]
    marked = np.stack([rows & 8, columns & 8], 2).astype(np.uint8)
    upright = set_upright(marked, flag)
    measured = Measured(0.0)
    if seen is not None:  # what was measured wins: the photo was cut off the grid
        x, y = seen
        rows, columns = np.mgrid[: upright.shape[0], : upright.shape[1]]
        upright = np.stack([(rows - y) & 8, (columns - x) & 8], 2).astype(np.uint8)
        measured = Measured(0.0, blocks=1.0, grid=seen)
    elif flag >= 5:
        upright = upright[..., ::-1]
    facts = facts_of(*upright.shape[1::-1], orientation=flag, measured=measured)
    turned = Turned(facts.width, facts.height, Fraction(90 * quarters), mirror)
    lies = Stored(Photo(facts, upright, colours.plain_grey()), turned)
    whole = lies.block(0, 0, lies.height, lies.width)
    whole = whole[..., ::-1] if quarters % 2 else whole
    docket = docket_of(crop={"turn": turned.angle, "mirror": mirror})
    assert plan(facts, docket).pixels.repair.grid == begins(whole)


def test_a_good_jpeg_is_left_alone_however_much_it_is_enlarged():
    def clean(quality, times):
        facts = facts_of(3000, 2000, jpeg_quality=quality, measured=SHARP)
        ppi = Fraction(times) * 3000 / 60 * Fraction("2.54")
        return plan(facts, resampled("60x40cm", ppi)).pixels.repair.clean

    assert [clean(85, times) for times in ("1.17", "1.9", "2.1", "7")] == [0, 0, 0, 0]
    # below it, repair sets in gradually, and first where it shows
    assert [clean(82, times) for times in ("1.17", "2.1")] == [0, 15]
    assert clean(80, "1.17") == 29
    facts = facts_of(3000, 2000, jpeg_quality=88, measured=SHARP)
    offered = plan(facts, resampled("60x40cm", 360))
    (note,) = (note for note in offered.notes if note.code == "good-jpeg")
    assert plan(facts, note.remedies[0].docket).pixels.repair.clean == 17


def test_what_is_repaired_says_what_was_seen_and_what_it_costs():
    facts = facts_of(3000, 2000, jpeg_quality=75, measured=replace(BAD, blocks=0.1))
    made = plan(facts, resampled("60x40cm", 300))
    told = repair_reason(made, 42.0)
    assert "JPEG of quality 75" in told and "noise of 1.6 L*" in told and "about 42 s" in told
    assert "quality 75" in words_of(findings(made)[0]).text and findings(made)[0].present
    kept = plan(facts, resampled("60x40cm", 300, pixels={"clean": Fraction(40)}))
    assert "quality" not in repair_reason(kept, 0.1)
    assert repair_reason(planned(SHARP), 9.0) == ""
