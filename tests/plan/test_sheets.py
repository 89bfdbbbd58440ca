"""The sheet: where the print lies, against sums by hand."""

from __future__ import annotations

from fractions import Fraction as F

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import docket_of, facts_of, resampled
from zinc_margin.docket.docket import RENDERER
from zinc_margin.docket.document import from_json, to_json
from zinc_margin.docket.finish import FinishLine, Margins
from zinc_margin.facts.facts import Said
from zinc_margin.measure.distances import Seen
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.sizes import PrintSize, parse_size
from zinc_margin.plan.build import plan
from zinc_margin.plan.finish.captions import fill_caption
from zinc_margin.plan.finish.moving import place_picture
from zinc_margin.plan.finish.wall import scene
from zinc_margin.plan.text.notes import note_text
from zinc_margin.plan.text.printing_notes import slip, slip_text

PHOTO = facts_of(6000, 4000)
A3 = parse_size("A3")


def even(mm: int) -> Margins:
    return Margins(F(mm), F(mm), F(mm), F(mm))


def made(size="30x20cm", ppi=300, sizes=None, photo=PHOTO, **finish):
    return plan(photo, resampled(size, ppi, finish=finish, size=sizes or {}))


def test_without_a_finish_the_file_is_the_print():
    one = made()
    assert one.sheet is None and one.pieces is None
    assert (one.page.width, one.page.height) == (one.pixels.width, one.pixels.height)
    assert (one.page.width_mm, one.page.height_mm) == (300, 200)


def test_the_picture_keeps_its_size_in_the_middle_of_a_sheet():
    one = made(sheet=A3)
    sheet = one.sheet
    # by hand: (420 − 300) / 2 and (297 − 200) / 2; 420 mm at 300 ppi are 4960.6 px
    assert sheet.margins_mm == (F("48.5"), 60, F("48.5"), 60)
    assert (sheet.page.width, sheet.page.height) == (4961, 3508)
    assert (sheet.left, sheet.top) == (709, 573)
    assert F(sheet.page.width) / F(*sheet.page.tag_x) * F("25.4") == 420


def test_the_picture_takes_what_the_border_leaves():
    one = made(sheet=A3, scales=True, margins=Margins(F(20), F(20), F(30), F(20)))
    assert (one.size.width_mm, one.size.height_mm) == (380, 247)
    assert one.sheet.margins_mm == (20, 20, 30, 20)
    assert one.pixels.width == 4488  # 380 mm at 300 ppi are 4488.2


def test_a_border_without_a_sheet_makes_the_paper_larger():
    one = made(margins=Margins(F(10), F(20), F(30), F(40)))
    assert (one.page.width_mm, one.page.height_mm) == (360, 240)
    assert one.sheet.margins_mm == (10, 20, 30, 40)


def test_the_sheet_lies_as_the_photo_lies_or_is_turned():
    upright = facts_of(4000, 6000)
    assert made("20x30cm", photo=upright, sheet=A3).page.width_mm == 297
    assert made(size="20x13cm", sheet=A3, turned=True).page.width_mm == 297


def test_what_does_not_fit_is_refused_in_one_sentence():
    with pytest.raises(BadRequest, match="does not fit on A4"):
        made(sheet=parse_size("A4"), margins=even(20))
    with pytest.raises(BadRequest, match="leave no space for the picture on A4"):
        made(sheet=parse_size("A4"), scales=True, margins=even(150))
    with pytest.raises(BadRequest, match="wider than the picture"):
        made(wrap_mm=F(100), wrap_own=True)


def test_a_heavier_foot_and_a_hand_that_moves_the_picture():
    one = made(sheet=A3, place_y=F(4, 9))
    top, _, bottom, _ = one.sheet.margins_mm
    assert bottom / top == F(5, 4)
    moved = place_picture(one, 0.5, 0.5, 30.0, 0.0)
    assert moved.finish.place_x == F(3, 4) and moved.finish.place_y == F(1, 2)
    far = place_picture(one, 0.5, 0.5, -1000.0, 1000.0).finish
    assert (far.place_x, far.place_y) == (0, 1)
    assert plan(PHOTO, place_picture(one, 0.5, 0.5, -1000.0, 1000.0)).sheet.left == 0


def test_canvas_sides_are_bar_depth_and_tuck():
    one = made(wrap_mm=F(32), tuck_mm=F(14), wrap_strip_mm=F(23), wrap_soften_mm=F(10))
    # the folds absorb a fraction of a pixel, so that both tags are what was asked for
    assert one.page.tag_x == one.page.tag_y == (300, 1)
    sides = float(one.page.width_mm), float(one.page.height_mm)
    assert sides == pytest.approx((392, 292), abs=0.1)
    around = one.sheet.around
    assert around.across == 543 and around.strip == F(1, 2)
    assert one.page.width == one.pixels.width + 2 * 543
    assert one.sheet.face_mm == (300, 200)


def test_the_pictures_own_edge_makes_the_face_smaller():
    one = made(wrap_mm=F(32), tuck_mm=F(14), wrap_own=True)
    assert one.page.tag_x == one.page.tag_y == (300, 1)
    sides = float(one.page.width_mm), float(one.page.height_mm)
    assert sides == pytest.approx((300, 200), abs=0.1)
    assert one.sheet.face_mm == (208, 108) and one.sheet.around is None
    (note,) = [note for note in one.notes if note.code == "own-edge"]
    assert "20.8 × 10.8 cm" in note_text(note)
    assert plan(PHOTO, note.remedies[0].docket).sheet.face_mm == (300, 200)


def test_an_overspill_is_made_up_for_by_as_much_picture():
    lost = made(sizes={"overspill_mm": F(3)})
    assert lost.unseen_mm.any
    kept = made(sizes={"overspill_mm": F(3)}, make_up=True)
    assert not kept.unseen_mm.any
    assert (kept.page.width_mm, kept.page.height_mm) == (306, 206)
    share = made(sizes={"overspill_share": F(1, 100)}, make_up=True)
    assert share.page.width_mm == 306  # a hundredth of the longer side, 3 mm, past each edge


def test_the_printers_edge_is_said_with_the_largest_picture_that_survives():
    one = made("A4", sizes={"maker": "desk"}, sheet=parse_size("A4"))
    assert one.sheet.lost_mm == (3, 3, 5, 3)
    (note,) = [note for note in one.notes if note.code == "unprintable-edge"]
    assert note.grave and "3 mm top" in note_text(note) and "5 mm bottom" in note_text(note)
    whole = plan(PHOTO, note.remedies[0].docket)
    assert (whole.size.width_mm, whole.size.height_mm) == (291, 202)
    assert not any(whole.sheet.lost_mm)
    # a print as large as a paper is taken for that paper
    plain = made("A4", sizes={"maker": "desk"})
    assert [note.code for note in plain.notes if note.line == "finish"] == ["unprintable-edge"]


def test_captions_are_filled_and_need_room():
    photo = facts_of(6000, 4000, said=Said("Bowls at dusk", "2026-05-01", ""))
    line = FinishLine(edition="3/25")
    assert fill_caption("{title}, {date} · {edition}", photo, line, "") == (
        "Bowls at dusk, 2026-05-01 · 3/25"
    )
    # a separator goes with what is not known
    assert fill_caption("{author} – {title}", photo, line, "") == "Bowls at dusk"
    with pytest.raises(BadRequest, match=r"Unknown caption field .place."):
        fill_caption("{place}", photo, line, "")
    one = made(photo=photo, caption="{title}", footer="{name}")
    assert [words.text for words in one.sheet.words] == ["Bowls at dusk", "made-up"]
    _, top, _, high = one.sheet.words[0].box
    assert one.sheet.top + one.pixels.height <= top and top + high <= one.page.height
    with pytest.raises(BadRequest, match="no space for “Bowls at dusk”"):
        made(photo=photo, sheet=A3, scales=True, margins=even(1), caption="{title}")


def test_marks_lie_outside_the_cut_and_its_bleed():
    one = made(marks=True, bleed_mm=F(3))
    sheet = one.sheet
    left, top = sheet.left - sheet.around.across, sheet.top - sheet.around.down
    right = sheet.left + one.pixels.width + sheet.around.across
    bottom = sheet.top + one.pixels.height + sheet.around.down
    assert len(sheet.marks) == 8
    for rule in sheet.marks:
        x, y, wide, high = rule.box
        assert x + wide <= left or x >= right or y + high <= top or y >= bottom
        assert x >= 0 and y >= 0 and x + wide <= one.page.width and y + high <= one.page.height


def test_a_docket_keeps_the_whole_line():
    line = {
        "sheet": PrintSize("A3", F(297), F(420)),
        "scales": True,
        "margins": Margins(F(1), F(2), F(3), F("4.5")),
        "tone": "#f6f1e4",
        "caption": "{title}",
        "wrap_tone": "edge",
        "roll_mm": F(610),
        "wrap_strip_mm": F("0.5"),
        "edge_mm": F(5),
        "marks": True,
    }
    docket = docket_of(finish=line)
    assert from_json(to_json(docket)) == docket
    broken = to_json(docket).replace('"edge"', '"egde"')
    with pytest.raises(BadRequest, match=r"finish\.wrap_tone"):
        from_json(broken)


def test_the_slip_says_what_keeps_the_size_true():
    one = made("A4", sizes={"maker": "desk", "overspill_mm": F(2)})
    told = dict(slip(one, "kiln.tif"))
    assert told["Scale"].startswith("100 %")
    assert told["Borderless"] == "on, past each edge by 2 mm"
    assert told["Paper size"] == "29.7 × 21 cm" and told["Orientation"] == "across"
    text = slip_text(one, "kiln.tif")
    assert text.startswith("Printing notes\n") and "kiln.tif" in text


@given(
    st.integers(100, 900),
    st.integers(100, 900),
    st.integers(0, 40),
    st.integers(72, 400),
    st.booleans(),
)
def test_the_print_lies_inside_its_sheet_whatever_is_asked(wide, high, border, ppi, scales):
    paper = parse_size(f"{wide + 100} x {high + 100} mm")
    one = made(f"{wide}x{high}mm", ppi, sheet=paper, scales=scales, margins=even(border))
    sheet, page = one.sheet, one.page
    assert sheet.left >= 0 and sheet.left + one.pixels.width <= page.width
    assert sheet.top >= 0 and sheet.top + one.pixels.height <= page.height
    assert F(page.width) / F(*page.tag_x) * F("25.4") == page.width_mm
    top, right, bottom, left = sheet.margins_mm
    assert left + one.size.width_mm + right == page.width_mm
    assert top + one.size.height_mm + bottom == page.height_mm


def test_the_small_plan_is_the_same_sheet():
    one = made(sheet=A3, scales=True, margins=even(15), caption="{name}", marks=False)
    small = one.small(800)
    assert abs(max(small.page.width, small.page.height) - 800) <= 2
    assert small.sheet.margins_mm == one.sheet.margins_mm and small.size == one.size
    assert small.sharpen is None


def test_the_wall_is_in_true_proportion():
    one = made("60x40cm", 100, wrap_mm=F(40), wrap_own=True, sizes={"distance": Seen.at(1000)})
    found = scene(one, "standing")
    assert found.picture[2:] == (520, 320)
    assert found.figure[2] == 1720
    assert found.angle == pytest.approx(29.15, abs=0.01)  # 2·atan(0.26)


def test_a_docket_of_another_renderer_says_so_until_it_is_taken_as_it_is():
    text = to_json(docket_of("30x20cm"))
    now = f'"renderer": {RENDERER}'
    assert now in text
    old = from_json(text.replace(now, '"renderer": 1'))
    (note,) = [note for note in plan(PHOTO, old).notes if note.code == "renderer-changed"]
    assert not [
        n for n in plan(PHOTO, note.remedies[0].docket).notes if n.code == "renderer-changed"
    ]
    with pytest.raises(BadRequest, match="renderer must be"):
        from_json(text.replace(now, '"renderer": "x"'))


def test_a_caption_of_several_rows_is_set_as_rows():
    one = made(caption="Stacked bowls\n\nKiln 4\r\n{name}", footer="Second\nkiln")
    texts = [words.text for words in one.sheet.words]
    assert texts == ["Stacked bowls", "Kiln 4", PHOTO.path.stem, "Second kiln"]
    tops = [words.box[1] for words in one.sheet.words]
    high = one.sheet.words[0].box[3]
    assert [tops[1] - tops[0], tops[2] - tops[1]] == pytest.approx([1.25 * high] * 2, abs=1)
    # no row touches the next, and the sheet has grown for them
    assert tops[3] > tops[2] + high
    assert one.page.height > made(caption="Stacked bowls", footer="Second").page.height
