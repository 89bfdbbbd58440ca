"""Recomposing by hand: every gesture of the crop, on the real window."""

from __future__ import annotations

import math
from fractions import Fraction

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.desktop.conftest import settled
from tests.desktop.test_window import LEFT, body, drag, heads, key, link, type_into
from zinc_margin.photo.header import read_header
from zinc_margin.photo.subject import with_mark
from zinc_margin.plan.crop import framing

ALT, SHIFT = Qt.KeyboardModifier.AltModifier, Qt.KeyboardModifier.ShiftModifier
CTRL, NONE = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.NoModifier


@pytest.fixture
def crop(window, tmp_path):
    """The crop of a 900 × 600 picture with a leaning horizon, for a print of 4:3."""
    y, x = np.mgrid[0:600, 0:900]
    sky = np.where(y > 300 + (x - 450) * math.tan(math.radians(2)), 60, 190)
    path = tmp_path / "estuary.png"
    Image.fromarray(np.repeat(sky[..., None], 3, 2).astype(np.uint8)).save(path)
    window.open_photos([path])
    settled(window)
    key(window, "2")
    type_into(body(window, "size").print_size, "12x9cm")
    key(window, "3")
    settled(window)
    window.benches.crop.setFocus()
    return window


def line(window):
    return window.table.current.docket.crop


def frame(window):
    return framing.current_frame(window.table.current.plan())


def held(window, start, end, keys):
    """Drag with a key held."""
    bench = window.benches.crop
    QTest.mousePress(bench, LEFT, keys, start.toPoint())
    for part in (0.5, 1):
        at = (start + (end - start) * part).toPoint()
        QTest.mouseMove(bench, at)
        move(bench, QPointF(at), keys)
        QApplication.processEvents()
    QTest.mouseRelease(bench, LEFT, keys, end.toPoint())
    settled(window)


def move(widget, at, keys):
    from PySide6.QtCore import QEvent
    from PySide6.QtGui import QMouseEvent

    event = QMouseEvent(
        QEvent.Type.MouseMove, at, widget.mapToGlobal(at), Qt.MouseButton.NoButton, LEFT, keys
    )
    QApplication.sendEvent(widget, event)


def wheel(widget, notches, keys=NONE):
    at = QPointF(widget.rect().center())
    event = QWheelEvent(
        at,
        widget.mapToGlobal(at),
        QPoint(),
        QPoint(0, 120 * notches),
        Qt.MouseButton.NoButton,
        keys,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    QApplication.sendEvent(widget, event)
    QApplication.processEvents()


def shrink(window, notches=8):
    for _ in range(notches):
        wheel(window.benches.crop, 1)
    settled(window)


def test_scrolling_sizes_the_frame_and_a_double_press_takes_the_largest(crop):
    start = frame(crop)
    shrink(crop)
    small = frame(crop)
    assert small.width < start.width * Fraction(4, 5)
    assert small.width / small.height == Fraction(4, 3)
    assert small.left + small.width / 2 == pytest.approx(450, abs=0.01)
    QTest.mouseDClick(
        crop.benches.crop, LEFT, pos=crop.benches.crop.frame_rect().center().toPoint()
    )
    settled(crop)
    assert line(crop).frame is None


def test_sides_and_corners_keep_the_shape(crop):
    shrink(crop)
    before = frame(crop)
    rect = crop.benches.crop.frame_rect()
    edge = QPointF(rect.right(), rect.top() + rect.height() * 0.3)
    drag(crop.benches.crop, edge, edge + QPointF(30, 0))
    after = frame(crop)
    assert after.width > before.width and after.left == pytest.approx(float(before.left), abs=1)
    assert after.width / after.height == Fraction(4, 3)
    assert after.top < before.top < before.top + before.height < after.top + after.height


def test_alt_sizes_from_the_centre(crop):
    shrink(crop)
    before, corner = frame(crop), crop.benches.crop.frame_rect().topLeft()
    held(crop, corner, corner - QPointF(25, 20), ALT)
    after = frame(crop)
    assert after.width > before.width
    assert after.left + after.width / 2 == pytest.approx(
        float(before.left + before.width / 2), abs=0.01
    )


def test_moving_snaps_and_shift_frees(crop):
    shrink(crop)
    start = crop.benches.crop.frame_rect().center()
    _, scale = crop.benches.crop.room(crop.table.current)
    left = float(frame(crop).left)
    off = QPointF(-(left * scale) + 4, 0)
    drag(crop.benches.crop, start, start + off)
    assert frame(crop).left == 0
    QTest.keyClick(crop, Qt.Key.Key_Z, CTRL)
    held(crop, start, start + off, SHIFT)
    assert 0 < frame(crop).left < 8


def test_a_new_frame_is_drawn_outside_the_old_one(crop):
    shrink(crop, 14)
    box, _ = crop.benches.crop.room(crop.table.current)
    start = box.topLeft() + QPointF(12, 12)
    drag(crop.benches.crop, start, start + QPointF(150, 60))
    drawn = frame(crop)
    assert drawn.left < 20 and drawn.top < 20 and drawn.width < 300
    assert drawn.width / drawn.height == Fraction(4, 3)
    # a mere press outside draws nothing
    QTest.mouseClick(crop.benches.crop, LEFT, pos=(box.bottomRight() - QPointF(10, 10)).toPoint())
    assert frame(crop) == drawn


def test_a_drag_is_one_step_of_undo(crop):
    shrink(crop)
    before = line(crop)
    start = crop.benches.crop.frame_rect().center()
    drag(crop.benches.crop, start, start + QPointF(40, 11))
    assert line(crop) != before
    QTest.keyClick(crop, Qt.Key.Key_Z, CTRL)
    assert line(crop) == before


def test_levelling_along_a_line(crop):
    QTest.mouseClick(link(body(crop, "crop"), "along a line"), LEFT)
    assert crop.benches.crop.mode == "level"
    box, scale = crop.benches.crop.room(crop.table.current)

    def at(x):
        y = 300 + (x - 450) * math.tan(math.radians(2))
        return QPointF(box.left() + x * scale, box.top() + y * scale)

    drag(crop.benches.crop, at(60), at(840))
    settled(crop)
    assert line(crop).turn == pytest.approx(-2, abs=0.12)
    assert crop.benches.crop.mode == "" and crop.benches.crop.turning.isActive() is not None
    crop.grab()
    # Esc leaves it without a turn
    key(crop, "L")
    QTest.keyClick(crop, Qt.Key.Key_Escape)
    assert crop.benches.crop.mode == ""


def test_the_lean_that_was_found_is_offered(crop):
    told = link(body(crop, "crop"), "Rotate it back by")
    assert line(crop).turn == 0
    QTest.mouseClick(told, LEFT)
    settled(crop)
    assert line(crop).turn == pytest.approx(-2, abs=0.1)


def test_the_angle_steps_by_hundredths_and_the_wheel_by_tenths(crop):
    field = body(crop, "crop").angle
    field.setFocus()
    QTest.keyClick(field, Qt.Key.Key_Up)
    assert line(crop).turn == Fraction(1, 100)
    QTest.keyClick(field, Qt.Key.Key_Down, SHIFT)
    assert line(crop).turn == Fraction(-9, 100)
    wheel(field, 1)
    assert line(crop).turn == Fraction(1, 100)
    crop.benches.crop.setFocus()
    wheel(crop.benches.crop, -1, CTRL)
    assert line(crop).turn == Fraction(-9, 100)
    settled(crop)
    crop.grab()
    assert crop.benches.crop.turning.isActive()


def test_quarters_and_mirror_by_key(crop):
    shrink(crop)
    key(crop, "]")
    assert line(crop).turn == 90
    plan = crop.table.current.plan()
    assert plan.size.height_mm > plan.size.width_mm
    key(crop, "[")
    key(crop, "M")
    assert line(crop).mirror and line(crop).turn == 0
    assert "mirrored" in heads(crop)["crop"].decision
    key(crop, "M")
    assert not line(crop).mirror


def test_trim_whole_and_border_side_by_side(crop):
    fit = body(crop, "crop").fit
    names = {name: fit.button(name).accessibleName() for name in ("trim", "whole", "border")}
    assert "11 % lost" in names["trim"] and "4.9 mm white" in names["whole"]
    assert "mm border" in names["border"]
    QTest.mouseClick(fit.button("border"), LEFT)
    settled(crop)
    assert line(crop).fit == "border"
    type_into(body(crop, "crop").border, "12")
    settled(crop)
    bands = crop.table.current.plan().bands_mm
    assert min(bands.left, bands.top) == pytest.approx(12, abs=0.2)
    type_into(body(crop, "crop").border, "5 cm")
    assert "leaves no space" in body(crop, "crop").border.toolTip()
    crop.grab()
    key(crop, "W")
    key(crop, "W")
    assert line(crop).fit == "whole"


def test_numbers_and_shapes_are_typed(crop):
    fields = body(crop, "crop")
    type_into(fields.sides["width"], "400")
    assert (frame(crop).width, frame(crop).height) == (400, 300)
    type_into(fields.sides["left"], "3 cm")
    # 400 px make 12 cm
    assert frame(crop).left == 100
    type_into(fields.shape, "2.39:1")
    settled(crop)
    plan = crop.table.current.plan()
    assert crop.table.current.docket.size.size is None
    assert float(plan.size.width_mm / plan.size.height_mm) == pytest.approx(2.39, rel=0.01)
    assert "free shape" in fields._frame.text()
    # the print keeps its longer side, and the shorter one is offered
    assert float(plan.size.width_mm) == pytest.approx(120, abs=0.01)
    offered = crop.message.offered
    assert offered.isVisible() and offered.text().startswith("Keep the shorter side: 21")
    QTest.mouseClick(offered, LEFT)
    settled(crop)
    assert float(crop.table.current.plan().size.height_mm) == pytest.approx(90, abs=0.01)
    type_into(fields.sides["height"], "350")
    assert frame(crop).height == 350
    QTest.mouseClick(fields.as_photo, LEFT)
    settled(crop)
    assert crop.table.current.plan().trimmed_share == 0
    type_into(fields.shape, "wide")
    assert "wide" in fields.shape.toolTip()


def test_guides_surround_and_what_is_cut_off(crop):
    seen = {}

    def look():
        settled(crop)
        return crop.benches.crop.grab().toImage()

    plain = look()
    key(crop, "G")
    assert crop.table.view.guide == "thirds"
    seen["thirds"] = look()
    for guide in ("diagonals", "golden", "centre", "safe"):
        crop.table.look(guide=guide)
        seen[guide] = look()
    crop.table.look(guide="grid")
    settled(crop)
    type_into(body(crop, "crop").grid, "5 x 2")
    assert crop.table.view.grid == (5, 2)
    seen["grid"] = look()
    pictures = [plain, *seen.values()]
    assert all(one != other for i, one in enumerate(pictures) for other in pictures[i + 1 :])
    type_into(body(crop, "crop").grid, "0 x 2")
    assert crop.table.view.grid == (5, 2)
    crop.table.look(guide="none")
    crop.benches.crop.setFocus()
    before = look()
    QTest.keyPress(crop.benches.crop, Qt.Key.Key_Space)
    assert look() != before
    QTest.keyRelease(crop.benches.crop, Qt.Key.Key_Space)
    assert look() == before
    key(crop, "C")
    assert crop.table.view.off == "grey" and look() != before
    key(crop, "C")
    hidden = look()
    key(crop, "S")
    assert crop.table.view.surround == "light" and look() != hidden
    # nothing of this is a decision
    assert not hasattr(line(crop), "guide") and crop.table.current.history.steps <= 2


def test_the_subject_is_marked_once_for_every_size(crop, tmp_path):
    box, _ = crop.benches.crop.room(crop.table.current)
    key(crop, "I")
    at = box.topLeft() + QPointF(box.width() * 0.2, box.height() * 0.6)
    QTest.mouseClick(crop.benches.crop, LEFT, pos=at.toPoint())
    settled(crop)
    x, y = crop.table.current.facts.subject
    assert (float(x), float(y)) == (pytest.approx(0.2, abs=0.01), pytest.approx(0.6, abs=0.01))
    crop.grab()
    key(crop, "2")
    type_into(body(crop, "size").print_size, "10x10cm")
    settled(crop)
    key(crop, "3")
    assert with_mark(read_header(tmp_path / "estuary.png").facts).subject == (x, y)
    QTest.mouseClick(link(body(crop, "crop"), "remove it"), LEFT)
    assert crop.table.current.facts.subject is None
    assert with_mark(read_header(tmp_path / "estuary.png").facts).subject is None


def test_consequences_are_told_while_dragging(crop):
    from zinc_margin.plan.text.lines import live

    told = live(crop.table.current.plan())
    assert "12 × 9 cm" in told and "ppi before enlarging" in told and "11 % trimmed" in told
    shrink(crop)
    assert live(crop.table.current.plan()) != told
    assert "shape 4:3" in live(crop.table.current.plan())


def test_what_a_mat_or_borderless_hides_is_drawn(crop):
    plain = crop.benches.crop.grab().toImage()
    crop.table.decide("size", overspill_mm=Fraction(4))
    settled(crop)
    assert crop.benches.crop.grab().toImage() != plain
