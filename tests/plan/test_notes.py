"""Every note can come about, has words in every unit, and its way out leads out."""

from __future__ import annotations

import dataclasses
import re
from fractions import Fraction

import pytest

from tests.conftest import docket_of, facts_of, resampled
from zinc_margin.docket.document import from_json, to_json
from zinc_margin.docket.finish import Margins
from zinc_margin.facts.facts import Said
from zinc_margin.facts.measurements import Measured
from zinc_margin.measure.distances import Seen
from zinc_margin.measure.sizes import parse_size
from zinc_margin.measure.ways import mat_of, parse_way
from zinc_margin.plan.build import plan
from zinc_margin.plan.text.notes import NOTE_CODES, note_text, remedy_text, sides_words

CLEAN = Measured(0.2)
PLACES = (("smooth", 10, 10), ("contrast", 700, 300), ("origin", 5, 5))
SHEET = {"sheet": parse_size("A4")}


def mat(reveal=None, overlap=None):
    return docket_of("30x20cm", size={"size": None, "way": mat_of("30x20cm", reveal, overlap)})


def with_measured(**figures):
    return facts_of(6000, 4000, measured=dataclasses.replace(CLEAN, **figures))


PLAIN = facts_of(6000, 4000, measured=CLEAN)
CASES = {
    "renderer-changed": (PLAIN, dataclasses.replace(docket_of(), renderer=1)),
    "pages": (facts_of(600, 400, pages=3, page=2), docket_of()),
    "tag-is-a-note": (facts_of(6000, 4000, tag_x=Fraction(72), tag_y=Fraction(72)), docket_of()),
    "no-profile": (PLAIN, docket_of()),
    "damaged-profile": (facts_of(6000, 4000, profile_use="damaged"), docket_of()),
    "converted": (facts_of(6000, 4000, profile_use="converted", kind="CMYK"), docket_of()),
    "found-blocks": (with_measured(blocks=0.7), docket_of()),
    "found-halo": (with_measured(halo=0.3), docket_of()),
    "found-edge": (with_measured(edge_px=2.4), docket_of()),
    "found-origin": (with_measured(true_share=0.5), docket_of()),
    "found-noise": (with_measured(noise=1.4), docket_of()),
    "good-jpeg": (facts_of(900, 600, measured=CLEAN, jpeg_quality=88), resampled("60x40cm", 150)),
    "too-few-pixels": (facts_of(900, 600), docket_of("60x40cm")),
    "too-few-for-screen": (
        facts_of(300, 200),
        docket_of(size={"size": None, "way": parse_way("1920x1080 px")}),
    ),
    "more-than-seen": (
        facts_of(4000, 3000),
        resampled("300x225cm", 300, size={"distance": Seen.at(3000)}),
    ),
    "overspill": (PLAIN, docket_of("30x20cm", size={"overspill_mm": Fraction(3)})),
    "mat-hides": (PLAIN, mat(overlap="4mm")),
    "mat-reveals": (PLAIN, mat(reveal="4mm")),
    "level": (with_measured(lean=(1.5, 0.8)), docket_of()),
    "much-trimmed": (facts_of(6000, 2000), docket_of("A4")),
    "not-by-ai": (with_measured(edge_px=3.0, true_share=0.4), resampled("60x40cm", 450)),
    "rotation-trims": (PLAIN, docket_of("30x20cm", crop={"turn": Fraction(12)})),
    "shape-residual": (facts_of(103, 71), docket_of("30x20cm", pixels={"choice": "keep"})),
    "kind": (with_measured(kind="lettering"), resampled("60x40cm", 600)),
    "turn-resamples": (
        PLAIN,
        docket_of("30x20cm", crop={"turn": Fraction(3, 2)}, pixels={"choice": "keep"}),
    ),
    "much-enlarged": (facts_of(900, 600), resampled("60x40cm", 300)),
    "method-removed": (
        PLAIN,
        docket_of(pixels={"method": "ai", "extra": {"removed_method": "AI, natural surfaces"}}),
    ),
    "grain-monochrome": (facts_of(6000, 4000, kind="grey", measured=CLEAN), docket_of()),
    "grain-smoothed": (
        with_measured(edge_px=1.2),
        resampled("210x140cm", 300, pixels={"clean": Fraction(80)}),
    ),
    "grain-steps": (with_measured(places=PLACES), resampled("90x60cm", 360)),
    "sharpening-bound": (
        facts_of(
            900,
            600,
            measured=dataclasses.replace(CLEAN, bands=(1.3, 1.5, 1.7, 2.0, 2.4, 2.9, 3.3)),
        ),
        resampled("60x40cm", 300),
    ),
    "unprintable-edge": (
        PLAIN,
        docket_of("A4", size={"maker": "desk"}, finish=SHEET | {"scales": False}),
    ),
    "own-edge": (PLAIN, docket_of("30x20cm", finish={"wrap_mm": Fraction(32), "wrap_own": True})),
    "off-canvas": (
        PLAIN,
        docket_of("30x20cm", finish={"wrap_mm": Fraction(32)}, sharpen={"paper": "lustre"}),
    ),
    "no-room-for-marks": (
        PLAIN,
        docket_of(
            "410x277mm",
            finish={
                "pieces": parse_size("210x277mm"),
                "edge_mm": Fraction(0),
                "join_mm": Fraction(10),
            },
        ),
    ),
    "byte-limit": (PLAIN, docket_of("30x20cm", file={"max_bytes": 500_000})),
    "jpeg-too-wide": (facts_of(70000, 50), docket_of("700x0.5cm", file={"format": "jpeg"})),
    "layers": (facts_of(6000, 4000, layered=True), docket_of()),
    "metadata-damaged": (facts_of(6000, 4000, said=Said(readable=False)), docket_of()),
    "cuts-depth": (facts_of(6000, 4000, bits=16), docket_of("30x20cm", file={"format": "jpeg"})),
    "rounded-tag": (
        facts_of(1003, 701),
        docket_of("30x20cm", pixels={"choice": "keep"}, file={"format": "png"}),
    ),
}


def note_of(code):
    facts, docket = CASES[code]
    return next((note for note in plan(facts, docket).notes if note.code == code), None)


def test_every_note_there_is_has_a_case():
    assert set(CASES) == set(NOTE_CODES)


@pytest.mark.parametrize("code", NOTE_CODES)
def test_a_note_comes_about_and_reads_well_in_every_unit(code):
    note = note_of(code)
    assert note is not None
    texts = {units: note_text(note, units) for units in ("cm", "in", "px/cm")}
    for text in texts.values():
        assert not text[0].islower() and text.endswith((".", ":")) and "  " not in text
        assert not re.search(r"Fraction|None|nan|\{|\}|\d\.\d{4}", text), text
    # what is said in inches says no centimetre
    assert not re.search(r"\d (cm|mm|m)\b|px/cm", texts["in"]), texts["in"]
    assert not re.search(r"\d ?in\b|ppi", texts["px/cm"]), texts["px/cm"]
    for remedy in note.remedies:
        for units in texts:
            words = remedy_text(remedy, units)
            assert words and words[0].isupper() and not words.endswith(".")


@pytest.mark.parametrize("code", NOTE_CODES)
def test_a_way_out_is_a_docket_that_can_be_planned_and_kept(code):
    facts, _ = CASES[code]
    for remedy in note_of(code).remedies:
        changed = plan(facts, remedy.docket)
        assert to_json(from_json(to_json(remedy.docket))) == to_json(remedy.docket)
        # what the file limit and the photo's tag say goes on being so
        if code not in ("byte-limit", "found-origin"):
            assert code not in [note.code for note in changed.notes]


@pytest.mark.parametrize("code", NOTE_CODES)
def test_a_clean_print_has_no_such_note(code):
    facts = facts_of(
        6000,
        4000,
        measured=CLEAN,
        profile="sRGB",
        profile_use="own",
        tag_x=Fraction(300),
        tag_y=Fraction(300),
    )
    made = plan(facts, resampled("30x20cm", 300))
    assert code not in [note.code for note in made.notes]


def test_notes_stand_in_the_margins_order():
    facts, docket = CASES["renderer-changed"]
    docket = dataclasses.replace(
        docket, finish=dataclasses.replace(docket.finish, wrap_mm=Fraction(32), wrap_own=True)
    )
    lines = [note.line for note in plan(facts, docket).notes]
    order = ("photo", "size", "crop", "pixels", "sharpen", "finish", "file")
    assert lines == sorted(lines, key=order.index) and len(set(lines)) > 1


def test_only_the_sides_that_are_there_are_said():
    assert sides_words((Fraction(3), Fraction(0), Fraction(0), Fraction(5)), "cm") == (
        "3 mm top, 5 mm left"
    )
    assert "cm" not in sides_words((Fraction(3),) * 4, "in")
    assert sides_words((0, 0, 0, 0), "cm") == ""


def test_margins_that_are_wide_enough_lose_nothing():
    edge = Margins(*(Fraction(n) for n in (3, 3, 5, 3)))
    docket = docket_of(
        "20x10cm", size={"maker": "desk"}, finish=SHEET | {"scales": False, "margins": edge}
    )
    assert "unprintable-edge" not in [note.code for note in plan(PLAIN, docket).notes]
