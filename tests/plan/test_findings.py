"""Tell-tales in words, and what they change."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.conftest import docket_of, facts_of, resampled
from zinc_margin.docket.document import from_json, to_json
from zinc_margin.docket.photo import PhotoLine
from zinc_margin.docket.store import with_measured
from zinc_margin.facts.measurements import Measured
from zinc_margin.plan.build import plan
from zinc_margin.plan.crop.places import on_print
from zinc_margin.plan.photo.findings import findings
from zinc_margin.plan.sharpen.restraint import coring
from zinc_margin.plan.text.notes import note_text, remedy_text

CLEAN = Measured(0.2)


def on_photo(plan, u, v):
    """Where a place of the print's picture (0–1 each way) is in the upright photo."""
    x0, xx, xy, y0, yx, yy = plan.turned.source_map(plan.crop)
    s, t = u * float(plan.crop.width), v * float(plan.crop.height)
    return x0 + xx * s + xy * t, y0 + yx * s + yy * t


def planned(measured: Measured | None, docket=None):
    return plan(facts_of(6000, 4000, measured=measured), docket or resampled("60x40cm", 300))


def notes(made):
    return {note.code: note for note in made.notes}


def test_a_clean_photo_is_left_in_peace():
    made = planned(CLEAN)
    assert not any(code.startswith("found-") for code in notes(made))
    assert not any(finding.present for finding in findings(made))
    assert not made.provisional and made.true_ppi == float(made.effective_ppi)
    assert (made.sharpen.halo, made.sharpen.breadth) == (9.0, 0.2)


def test_an_unmeasured_photo_is_provisional():
    made = planned(None)
    assert made.provisional
    assert findings(made) == ()
    assert made.sharpen == planned(Measured(0.0)).sharpen


def test_blocks_and_noise_raise_the_floor_of_sharpening():
    left = {"clean": Fraction(0), "denoise": Fraction(0)}
    plain = resampled("60x40cm", 300, pixels=left)
    blocks = planned(replace(CLEAN, blocks=0.6), plain)
    assert "0.60 L*" in note_text(notes(blocks)["found-blocks"])
    assert blocks.sharpen.noise == pytest.approx(1.5)
    # what is cleaned away first needs less of it
    assert planned(replace(CLEAN, blocks=0.6)).sharpen.noise < 0.7
    noisy = planned(replace(CLEAN, noise=1.2), plain)
    assert noisy.sharpen.noise == 2.0 and "found-noise" in notes(noisy)
    assert planned(CLEAN).sharpen.noise < 0.6


def test_old_halos_lower_the_limit_of_new_ones():
    limits = [planned(replace(CLEAN, halo=halo)).sharpen.halo for halo in (0, 0.2, 0.4, 3)]
    assert limits == sorted(limits, reverse=True) and limits[0] == 9 and limits[-1] == 3
    assert "found-halo" in notes(planned(replace(CLEAN, halo=0.2)))


def test_a_soft_photo_leans_to_broad_edges_unless_the_person_said():
    soft = replace(CLEAN, edge_px=2.2)
    assert planned(soft).sharpen.breadth == pytest.approx(0.4)
    own = resampled("60x40cm", 300, sharpen={"breadth": 0})
    assert planned(soft, own).sharpen.breadth == 0


def test_an_enlarged_photo_is_reckoned_by_its_real_pixels():
    made = planned(replace(CLEAN, true_share=0.5))
    note = notes(made)["found-origin"]
    assert "3000 × 2000" in note_text(note) and "25.4 × 16.93 cm" in note_text(note)
    assert made.true_ppi == pytest.approx(float(made.effective_ppi) / 2)
    assert made.sharpen.acutance_before < planned(CLEAN).sharpen.acutance_before
    words, docket = remedy_text(note.remedies[0]), note.remedies[0].docket
    smaller = planned(replace(CLEAN, true_share=0.5), docket)
    assert smaller.pixels.width == pytest.approx(3000, abs=2) and "127 ppi" in words
    assert smaller.size == made.size


def test_a_docket_keeps_what_was_measured_of_its_photo():
    facts = replace(facts_of(6000, 4000, measured=replace(CLEAN, noise=1.0)), digest="d1")
    docket = with_measured(docket_of("30x20cm"), facts)
    assert from_json(to_json(docket)) == docket
    later = replace(facts, measured=CLEAN)  # a later program would measure otherwise
    assert plan(later, docket).sharpen == plan(facts, docket).sharpen
    another = replace(facts, digest="d2", measured=CLEAN)
    assert plan(another, docket).sharpen.noise < plan(facts, docket).sharpen.noise
    assert with_measured(docket, facts) is docket
    assert docket.photo != PhotoLine()


@pytest.mark.parametrize("turn", [0, 90, 180, -90, 7])
def test_places_go_from_photo_to_print_and_back(turn):
    made = plan(facts_of(6000, 4000), docket_of("30x20cm", crop={"turn": turn, "fit": "trim"}))
    for u, v in ((0.5, 0.5), (0.1, 0.8), (0.95, 0.05)):
        x, y = on_photo(made, u, v)
        assert 0 <= x <= 6000 and 0 <= y <= 4000
        assert on_print(made, x, y) == pytest.approx((u, v), abs=1e-6)
    narrow = plan(facts_of(6000, 4000), docket_of("10x20cm", size={"lie": "as-given"}))
    assert on_print(narrow, 5, 5) is None


def test_reducing_averages_noise_away_and_coring_knows():
    noisy = replace(CLEAN, noise=0.6)
    assert coring(noisy, 1.0) == pytest.approx(1.5)
    assert coring(noisy, 0.5) == pytest.approx(0.75)
    assert coring(noisy, 3.0) == coring(noisy, 1.0)
    # a print that is reduced asks the sharpening to leave less alone
    plain = resampled("60x40cm", 300, pixels={"denoise": Fraction(0)})
    small = resampled("6x4cm", 300, pixels={"denoise": Fraction(0)})
    reduced = planned(noisy, small)
    assert reduced.pixels.scale < 1
    assert reduced.sharpen.noise == pytest.approx(1.5 * float(reduced.pixels.scale))
    assert planned(noisy, plain).sharpen.noise == pytest.approx(1.5)
