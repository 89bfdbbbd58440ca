"""The sums, against known answers and for every size of the catalogue."""

from __future__ import annotations

import math
from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import docket_of, facts_of, resampled
from zinc_margin.commands.as_json import plan_report, reach_report
from zinc_margin.docket.crop import Frame
from zinc_margin.docket.docket import Docket
from zinc_margin.measure.distances import Seen
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import inches
from zinc_margin.measure.resolution import reach
from zinc_margin.measure.sizes import catalogue
from zinc_margin.measure.ways import Way
from zinc_margin.plan.build import plan
from zinc_margin.plan.pixels.choice import default_choice
from zinc_margin.plan.size.distance import needed_ppi, sharp_from
from zinc_margin.plan.size.grade import GRADES, grade_for
from zinc_margin.plan.text.notes import note_text
from zinc_margin.plan.text.reasons import reason_of

PHONE = facts_of(4032, 3024)
CAMERA = facts_of(6000, 4000)


def exact_size(made):
    tag_x, tag_y = Fraction(*made.pixels.tag_x), Fraction(*made.pixels.tag_y)
    return (
        made.pixels.width / tag_x * Fraction("25.4"),
        made.pixels.height / tag_y * Fraction("25.4"),
    )


def test_reach_of_a_phone_picture():
    width, height = reach(4032, 3024, Fraction(300))
    assert (inches(width), inches(height)) == (Fraction("13.44"), Fraction("10.08"))


@pytest.mark.parametrize(
    "place", [(0, 0), (Fraction(1, 2), Fraction(1, 2)), (1, 1), (Fraction(1, 3), Fraction(2, 7))]
)
def test_ten_by_eight_from_a_phone_picture(place):
    docket = docket_of(
        "10x8in",
        pixels={"choice": "keep"},
        crop={"place_x": Fraction(place[0]), "place_y": Fraction(place[1])},
    )
    made = plan(PHONE, docket)
    assert (made.crop.width, made.crop.height) == (3780, 3024)
    assert made.effective_ppi == 378
    assert made.pixels.tag_x == (378, 1)
    assert made.crop.left == math.floor(252 * Fraction(place[0]) + Fraction(1, 2))
    assert made.crop.top == 0


def test_seven_by_five_turns_with_the_photo():
    made = plan(CAMERA, resampled("5x7in", 300))
    assert (made.pixels.width, made.pixels.height) == (2100, 1500)
    assert exact_size(made) == (Fraction("177.8"), Fraction("127"))
    as_given = plan(CAMERA, resampled("5x7in", 300, size={"lie": "as-given"}))
    assert (as_given.pixels.width, as_given.pixels.height) == (1500, 2100)
    across = plan(CAMERA, resampled("5x7in", 300, size={"lie": "across"}))
    assert (across.pixels.width, across.pixels.height) == (1500, 2100)


def test_eleven_by_seventeen_cm_is_exact():
    made = plan(facts_of(4000, 6000), resampled("11x17cm", 300))
    assert (made.pixels.width, made.pixels.height) == (1299, 2008)
    assert exact_size(made) == (110, 170)


@pytest.mark.parametrize("ppi", [180, 240, 300, 360, 720])
@pytest.mark.parametrize(
    "facts", [CAMERA, facts_of(3000, 4500), facts_of(5000, 5000), facts_of(12001, 2399)]
)
def test_every_size_of_the_catalogue(facts, ppi):
    for size in catalogue():
        docket = resampled("10x10cm", ppi, size={"size": size})
        made = plan(facts, docket)
        crop, pixels = made.crop, made.pixels
        assert abs(float(pixels.width / crop.width) / float(pixels.height / crop.height) - 1) < 1e-9
        assert crop.left >= 0 and crop.top >= 0
        assert crop.left + crop.width <= facts.width
        assert crop.top + crop.height <= facts.height
        used = float(crop.width * crop.height) / (facts.width * facts.height)
        assert made.trimmed_share + used == pytest.approx(1, abs=1e-12)
        assert exact_size(made) == (made.size.width_mm, made.size.height_mm)
        cut = made.trimmed_mm
        # what is cut and what is used make up the whole, in print units
        whole_mm = cut.left + cut.right + made.size.width_mm
        assert float(whole_mm) == pytest.approx(
            float(facts.width * pixels.scale * made.size.width_mm / pixels.width), rel=1e-12
        )
        kept = plan(facts, docket_of(size={"size": size}, pixels={"choice": "keep"}))
        assert kept.crop.width.denominator == kept.crop.height.denominator == 1
        assert exact_size(kept) == (kept.size.width_mm, kept.size.height_mm)
        assert kept.pixels.scale == 1


@given(
    st.integers(1, 9000),
    st.integers(1, 9000),
    st.sampled_from(catalogue()),
    st.sampled_from(["trim", "whole"]),
    st.fractions(0, 1, max_denominator=50),
    st.fractions(-180, 180, max_denominator=100),
    st.sampled_from(["auto", "keep", "resample"]),
)
def test_any_photo_any_size(width, height, size, fit, place, turn, choice):
    docket = docket_of(
        size={"size": size, "ppi": Fraction(97)},
        pixels={"choice": choice},
        crop={"fit": fit, "place_x": place, "turn": turn},
    )
    made = plan(facts_of(width, height), docket)
    left, top, inner_w, inner_h = made.picture
    # of a sliver a few pixels wide, turned, no whole pixel is left
    assert made.turned.holds(made.crop) or (
        min(made.crop.width, made.crop.height) <= 1 and turn % 90
    )
    assert left >= 0 and top >= 0
    assert left + inner_w <= made.pixels.width and top + inner_h <= made.pixels.height
    assert exact_size(made) == (made.size.width_mm, made.size.height_mm)
    assert abs(float(inner_w / made.crop.width / (inner_h / made.crop.height)) - 1) < 1e-9
    assert 0 <= made.trimmed_share < 1
    assert made.grade in GRADES
    if fit == "whole" and made.turned.square and choice != "keep":
        # the odd pixel lies right and bottom
        assert made.pixels.width - inner_w - 2 * left in (0, 1)
        assert made.pixels.height - inner_h - 2 * top in (0, 1)


def test_the_whole_picture_with_bands():
    made = plan(CAMERA, resampled("10x8in", 300, crop={"fit": "whole"}))
    assert (made.pixels.width, made.pixels.height) == (3000, 2400)
    assert made.picture == (0, 200, 3000, 2000)
    assert made.bands_mm.top == made.bands_mm.bottom == Fraction("25.4") * 200 / 300
    assert made.trimmed_share == 0
    kept = plan(CAMERA, docket_of("10x8in", crop={"fit": "whole"}, pixels={"choice": "keep"}))
    assert kept.picture == (0, 400, 6000, 4000)
    assert (kept.pixels.width, kept.pixels.height) == (6000, 4800)


def test_defaults_keep_reduce_enlarge():
    assert plan(CAMERA, docket_of("50x33cm")).pixels.choice == "keep"
    reduced = plan(CAMERA, docket_of("15x10cm"))
    assert (reduced.pixels.choice, reduced.pixels.width) == ("reduce", 1772)
    # 169 ppi where 180 are the least: labs query that, unless somebody says from where it is seen
    assert plan(CAMERA, docket_of("90x60cm")).pixels.choice == "enlarge"
    for far, choice in ((400, "enlarge"), (515, "enlarge"), (517, "keep"), (2200, "keep")):
        seen = plan(CAMERA, docket_of("90x60cm", size={"distance": Seen.at(far)}))
        assert seen.pixels.choice == choice
    # a canvas maker asks 150; 180 least would be more than that
    canvas = {"maker": "canvas", "distance": None}
    for width, choice in ((89, "keep"), (101, "keep"), (152, "keep"), (153, "enlarge")):
        made = plan(CAMERA, docket_of(f"{width}x{width * 2 // 3}cm", size=canvas))
        assert made.pixels.choice == choice, width


@pytest.mark.parametrize(
    ("effective", "target", "floor", "near", "is_said", "done"),
    [
        (600, 300, 180, 291, False, ("keep", 300)),
        (601, 300, 180, 291, False, ("reduce", 300)),
        (601, 150, 180, 291, False, ("reduce", 291)),  # what can be seen from near stays
        (582, 150, 180, 291, False, ("keep", 150)),
        (180, 300, 180, 291, False, ("keep", 300)),
        (179, 300, 180, 291, False, ("enlarge", 300)),
        (179, 300, 180, 175, False, ("enlarge", 300)),  # nobody has said from where
        (179, 300, 180, 175, True, ("keep", 300)),
        (174, 300, 180, 175, True, ("enlarge", 300)),
        (76, 300, 180, 29, True, ("keep", 300)),  # a panorama from 3 m
        (100, 150, 180, 175, False, ("keep", 150)),  # two thirds of what is asked
        (99, 150, 180, 175, False, ("enlarge", 150)),
        (134, 300, 180, 175, False, ("enlarge", 300)),
        (207, 300, 180, 291, False, ("keep", 300)),
    ],
)
def test_what_is_done_where_nobody_says(effective, target, floor, near, is_said, done):
    asked = Fraction(effective), Fraction(target), Fraction(floor), float(near), is_said
    assert default_choice(*asked) == done


def test_the_grade_judges_the_file_that_is_made():
    docket = docket_of("30x20cm", pixels={"choice": "resample"}, size={"ppi": Fraction(300)})
    assert plan(CAMERA, docket).grade == "ample"
    few = replace(
        docket, pixels=replace(docket.pixels, target=Way("long-edge-px", (Fraction(1500),)))
    )
    made = plan(CAMERA, few)
    assert made.pixels.width == 1500 and made.effective_ppi > 500
    assert made.judged_ppi == pytest.approx(127) and made.grade == "from a distance"
    assert reason_of(made).startswith("127 ppi: it looks sharp from 69 cm")


@pytest.mark.parametrize(
    ("effective", "needed", "expected"),
    [
        (300, 150, "ample"),
        (299.9, 150, "good"),
        (267, 291, "good"),  # 13 × 9 cm in the hand: less than the eye can use, and a good print
        (180, 180, "good"),
        (179.9, 150, "from a distance"),
        (179.9, 400, "from a distance"),  # over half of the minimum
        (90, 400, "from a distance"),
        (89.9, 400, "too few pixels"),
        (60, 60, "from a distance"),
        (59.9, 60, "too few pixels"),
    ],
)
def test_grades(effective, needed, expected):
    assert grade_for(effective, 300, 180, needed) == expected


def test_the_eye_at_one_arc_minute():
    assert needed_ppi(25.4) == pytest.approx(3437.7, abs=0.1)
    assert sharp_from(300) == pytest.approx(25.4 * 3437.7 / 300, rel=1e-4)


def test_distance_is_the_diagonal_but_never_under_30_cm():
    assert plan(CAMERA, docket_of("40x30cm")).far_mm == 500
    assert plan(CAMERA, docket_of("9x13cm")).far_mm == 300
    assert plan(CAMERA, docket_of("9x13cm", size={"distance": Seen.at(2200)})).far_mm == 2200


def test_sizes_follow_a_quarter_turn():
    made = plan(CAMERA, resampled("15x10cm", 300, crop={"turn": Fraction(90)}))
    assert made.pixels.height > made.pixels.width
    assert made.pixels.choice == "reduce"
    assert (made.turned.set_width, made.turned.set_height) == (4000, 6000)


def test_a_turn_cannot_keep_pixels_and_says_so():
    made = plan(CAMERA, docket_of("15x10cm", crop={"turn": Fraction(7)}, pixels={"choice": "keep"}))
    assert made.pixels.choice == "turn"
    assert made.pixels.scale == 1
    assert made.pixels.method == "lanczos"
    assert "turn-resamples" in {note.code for note in made.notes}
    quarter = plan(
        CAMERA, docket_of("15x10cm", crop={"turn": Fraction(-90)}, pixels={"choice": "keep"})
    )
    assert quarter.pixels.choice == "keep"


def test_a_frame_of_ones_own():
    frame = Frame(Fraction(100), Fraction(200), Fraction(3000), Fraction(2000))
    made = plan(CAMERA, resampled("30x20cm", 254, crop={"frame": frame}))
    assert made.crop == frame
    assert made.pixels.scale == 1
    assert made.pixels.choice == "keep"
    # upright frames make the size stand upright
    upright = Frame(Fraction(0), Fraction(0), Fraction(1000), Fraction(1500))
    assert plan(CAMERA, docket_of("30x20cm", crop={"frame": upright})).size.height_mm == 300
    outside = Frame(Fraction(4000), Fraction(0), Fraction(3000), Fraction(2000))
    with pytest.raises(BadRequest, match="outside the picture"):
        plan(CAMERA, docket_of("30x20cm", crop={"frame": outside}))


def test_without_a_size_a_sensible_one_is_found():
    made = plan(CAMERA, Docket())
    assert made.grade == "ample"
    assert made.trimmed_share < 0.02
    assert made.size.width_mm >= 400
    tiny = plan(facts_of(40, 30), Docket())
    assert tiny.size.width_mm >= 1 and tiny.pixels.width >= 1


def test_absurd_wishes_are_refused():
    with pytest.raises(BadRequest, match="No file can hold"):
        plan(CAMERA, resampled("900x900m", 10000))


def test_the_tag_is_only_a_note():
    tagged = plan(facts_of(6000, 4000, tag_x=Fraction(72), tag_y=Fraction(72)), docket_of())
    plain = plan(CAMERA, docket_of())
    assert tagged.pixels == plain.pixels
    note = next(note for note in tagged.notes if note.code == "tag-is-a-note")
    assert (
        "72 ppi" in note_text(note)
        and "2.12 m" in note_text(note)
        and "50.8 × 33.87 cm" in note_text(note)
    )


def test_notes_and_their_ways_out():
    thin = plan(facts_of(640, 427), docket_of("30x20cm"))
    codes = {note.code: note for note in thin.notes}
    assert codes["too-few-pixels"].grave
    further = plan(facts_of(640, 427), codes["too-few-pixels"].remedies[0].docket)
    assert further.grade != "too few pixels"
    assert "much-enlarged" in codes and "sharpening-bound" in codes
    square = plan(CAMERA, docket_of("30x30cm"))
    way = next(note for note in square.notes if note.code == "much-trimmed").remedies[0].docket
    assert plan(CAMERA, way).trimmed_share == 0
    deep = plan(facts_of(6000, 4000, bits=16), docket_of(file={"format": "jpeg"}))
    assert "cuts-depth" in {note.code for note in deep.notes}


def test_bytes_of_a_tiff_are_told():
    made = plan(CAMERA, resampled("54x36cm", 508, file={"bits": 16}))
    assert (made.pixels.width, made.pixels.height) == (10800, 7200)
    assert made.file.bytes_estimate == pytest.approx(10800 * 7200 * 6, rel=1e-4)


def test_the_report_has_every_field_of_the_contract():
    report = plan_report(CAMERA, plan(CAMERA, resampled("11x17cm", 300)))
    assert set(report["photo"]) == {
        "path",
        "width_px",
        "height_px",
        "tag_ppi",
        "bits",
        "profile",
        "orientation",
        "jpeg_quality",
        "page",
        "pages",
    }
    assert set(report["crop"]) == {
        "left_px",
        "top_px",
        "width_px",
        "height_px",
        "angle_deg",
        "trimmed_share",
        "trimmed_mm",
        "bands_mm",
        "unseen_mm",
    }
    assert report["pixels"]["tag_x"] == [
        Fraction(2008 * 254, 1700).numerator,
        Fraction(2008 * 254, 1700).denominator,
    ]
    assert report["pixels"]["ppi_x"] == pytest.approx(300.0188, abs=1e-3)
    assert set(report["sharpen"]) == {
        "paper",
        "process",
        "paper_sigma_mm",
        "sigma_mm",
        "sigma_px",
        "amount",
        "acutance_before",
        "acutance_after",
        "edges",
        "crispness",
        "bound",
        "lean",
        "halo_limit",
        "noise_floor",
    }
    assert report["photo"]["profile"] is None
    rows = reach_report(PHONE, [Fraction(300)])["reach"]
    assert rows == [
        {"ppi": 300, "width_mm": pytest.approx(341.376), "height_mm": pytest.approx(256.032)}
    ]


@pytest.mark.parametrize("mirror", [False, True])
def test_a_rotation_that_trims_is_named_and_no_bands_are_offered(mirror):
    docket = docket_of("36x24cm", crop={"turn": Fraction(12), "mirror": mirror})
    rotated = plan(CAMERA, docket)
    notes = {note.code: note for note in rotated.notes}
    assert "much-trimmed" not in notes and not notes["rotation-trims"].remedies
    text = note_text(notes["rotation-trims"])
    assert "The rotation by 12°" in text and "0 % without it" in text
    square = plan(CAMERA, docket_of("30x30cm", crop={"turn": Fraction(1)}))
    assert "much-trimmed" in {note.code for note in square.notes}
