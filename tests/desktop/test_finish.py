"""The Finish line in the real window: typed, dragged, looked at, made."""

from __future__ import annotations

from fractions import Fraction as F

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLabel

from tests.desktop.conftest import settled, type_into, until
from tests.desktop.test_window import drag, link
from zinc_margin.plan.text.notes import remedy_text


@pytest.fixture
def finish(opened):
    type_into(opened.margin.bodies["size"].print_size, "15x10cm")
    opened.table.decide("pixels", method="lanczos")
    QTest.keyClick(opened, Qt.Key.Key_6)
    settled(opened)
    return opened


def body(window):
    return window.margin.bodies["finish"]


def head(window):
    return window.margin.lines["finish"].head.entry


def shade(window, x, y):
    return window.benches.sheet.grab().toImage().pixelColor(int(x), int(y))


def test_a_sheet_a_border_and_a_caption_are_typed(finish):
    form = body(finish)
    type_into(form.sheet, "A4")
    settled(finish)
    assert head(finish).decision == "On A4" and "15 × 10 cm" in head(finish).consequence
    plan = finish.table.current.plan()
    assert plan.sheet.margins_mm == (55, F("73.5"), 55, F("73.5"))
    type_into(form.border, "20, 20, 30, 20 mm")
    QTest.mouseClick(form.scales.button("yes"), Qt.MouseButton.LeftButton)
    settled(finish)
    plan = finish.table.current.plan()
    assert (plan.size.width_mm, plan.size.height_mm) == (257, 160)
    assert head(finish).decision == "On A4, with a border"
    type_into(form.caption, "{name}")
    settled(finish)
    assert [words.text for words in finish.table.current.plan().sheet.words] == ["kiln"]
    QTest.keyClick(finish, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert finish.table.current.docket.finish.caption is None


def test_a_sheet_that_is_too_small_takes_the_picture_down_with_it(finish):
    type_into(body(finish).sheet, "13x9cm")
    assert finish.table.current.docket.finish.scales
    type_into(body(finish).sheet, "nonsense")
    assert body(finish).sheet.property("wrong")
    assert finish.table.current.docket.finish.sheet.label.startswith("13")


def test_a_choice_that_cannot_be_is_said_and_taken_back(finish):
    form = body(finish)
    type_into(form.sheet, "13x9cm")
    QTest.mouseClick(form.scales.button("no"), Qt.MouseButton.LeftButton)
    settled(finish)
    assert finish.table.current.docket.finish.scales
    assert form.scales.button("yes").isChecked()
    said = [label.text() for label in form.findChildren(QLabel) if label.isVisible()]
    assert any("does not fit on" in text for text in said)


def test_the_picture_is_dragged_on_its_sheet(finish):
    type_into(body(finish).sheet, "A4")
    settled(finish)
    bench = finish.benches.sheet
    start = bench.print_rect(finish.table.current.plan()).center()
    drag(bench, start, start + QPointF(0, -400))
    line = finish.table.current.docket.finish
    assert (line.place_x, line.place_y) == (F(1, 2), 0)
    assert bench.print_rect(finish.table.current.plan()).center().y() < start.y() - 20
    QTest.keyClick(finish, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert finish.table.current.docket.finish.place_y == F(1, 2)


def test_a_canvas_is_typed_and_seen_folded(finish):
    form = body(finish)
    link(form, "canvas …").click()
    type_into(form.bars, "32 mm")
    type_into(form.tuck, "14")
    settled(finish)
    assert head(finish).decision == "Canvas, bars 32 mm + 14 mm fold"
    assert finish.table.current.plan().page.width_mm == 242
    made = finish.table.current.plan()
    assert (made.maker.key, made.sharpen.paper) == ("canvas", "canvas")
    finish.table.decide("sharpen", paper="lustre")
    settled(finish)
    (note,) = (n for n in finish.table.current.plan().notes if n.code == "off-canvas")
    link(form, remedy_text(note.remedies[0])).click()
    assert finish.table.current.plan().sharpen.paper == "canvas"
    type_into(form.tuck, "")
    assert finish.table.current.docket.finish.tuck_mm is None
    type_into(form.tuck, "14")
    settled(finish)
    until(lambda: finish.benches.sheet.image is not None)
    flat = shade(finish, finish.benches.sheet.width() / 2, finish.benches.sheet.height() / 2)
    bench = finish.benches.sheet
    QTest.mouseClick(bench.views.button("folded"), Qt.MouseButton.LeftButton)
    assert bench.view == "folded"
    corner = shade(finish, bench.width() / 2, bench.height() / 2)
    zinc = shade(finish, 30, bench.height() / 2)
    assert corner != zinc and flat != zinc
    QTest.mouseClick(bench.views.button("wall"), Qt.MouseButton.LeftButton)
    preset = bench.grab().toImage()
    QTest.mouseClick(bench.figures.button("door"), Qt.MouseButton.LeftButton)
    assert bench.grab().toImage() != preset
    type_into(form.bars, "0")
    type_into(form.tuck, "0")
    settled(finish)
    assert not bench.views.button("folded").isVisible()


def test_a_tone_for_the_sides_is_picked_from_the_picture(finish):
    form = body(finish)
    link(form, "canvas …").click()
    type_into(form.bars, "20 mm")
    settled(finish)
    until(lambda: finish.benches.sheet.image is not None)
    place = finish.benches.sheet.print_rect(finish.table.current.plan()).center()
    seen = shade(finish, place.x(), place.y())
    form.sides.button("plain").click()
    settled(finish)
    form.pick.click()
    settled(finish)
    QTest.mouseClick(finish.benches.sheet, Qt.MouseButton.LeftButton, pos=place.toPoint())
    settled(finish)
    tone = finish.table.current.docket.finish.wrap_tone
    assert (
        max(
            abs(int(tone[n : n + 2], 16) - part)
            for n, part in ((1, seen.red()), (3, seen.green()), (5, seen.blue()))
        )
        < 40
    )
    assert not finish.table.view.picking


def test_what_is_shown_is_what_is_made(finish):
    form = body(finish)
    type_into(form.sheet, "A4")
    link(form, "marks …").click()
    type_into(form.tone, "#204060")
    settled(finish)
    page = finish.benches.sheet
    left = page.print_rect(finish.table.current.plan())
    tone = shade(finish, left.left() - 12, left.center().y())
    assert (tone.red(), tone.green(), tone.blue()) == (0x20, 0x40, 0x60)


def test_pieces_are_made_into_a_folder_with_their_map(finish, jpeg):
    form = body(finish)
    link(form, "in pieces …").click()
    type_into(form.over, "8x6cm")
    settled(finish)
    assert "pieces" in head(finish).decision
    assert finish.benches.sheet.views.button("pieces").isVisible()
    QTest.mouseClick(finish.benches.sheet.views.button("pieces"), Qt.MouseButton.LeftButton)
    finish.margin.foot.make.click()
    until(lambda: finish.making.written is not None)
    settled(finish)
    (folder,) = jpeg.parent.glob("*-pieces")
    count = len(finish.table.current.plan().pieces.each)
    assert len(list(folder.iterdir())) == count + 1
    assert f"{count} pieces and their map" in finish.margin.foot.said.text()


def test_the_slip_is_shown_for_the_chosen_device(finish):
    QTest.mouseClick(finish.benches.sheet.views.button("slip"), Qt.MouseButton.LeftButton)
    lab = finish.benches.sheet.grab().toImage()
    finish.table.decide("size", maker="desk")
    settled(finish)
    assert finish.benches.sheet.grab().toImage() != lab
