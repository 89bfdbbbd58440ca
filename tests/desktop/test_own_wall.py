"""On your own wall, in the real window."""

from __future__ import annotations

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from tests.desktop.conftest import settled, type_into, until
from zinc_margin.desktop.dialogs.wall import WallDialog
from zinc_margin.keeping.own_walls import OwnWalls

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def dialog(opened, tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    type_into(opened.margin.bodies["size"].print_size, "60x40cm")
    QTest.keyClick(opened, Qt.Key.Key_6)
    settled(opened)
    QTest.mouseClick(opened.benches.sheet.views.button("wall"), LEFT)
    QTest.mouseClick(opened.benches.sheet.own_wall, LEFT)
    (dialog,) = opened.findChildren(WallDialog)
    assert "Choose a photograph" in dialog.told.text() and not dialog.save.isEnabled()
    room = tmp_path / "hall.png"
    Image.fromarray(np.full((800, 1200, 3), 205, np.uint8)).save(room)
    dialog.open_room(room)
    until(lambda: dialog.room is not None)
    return dialog


def drag(view, name, right, down):
    start = view.seen(view.spot_of(name)).toPoint()
    QTest.mousePress(view, LEFT, pos=start)
    QTest.mouseMove(view, start + QPoint(right, down))
    QTest.mouseRelease(view, LEFT, pos=start + QPoint(right, down))


def wide(dialog):
    xs = [x for x, _ in dialog.page.outline]
    return max(xs) - min(xs)


def test_crosses_and_a_length_make_it_hang_at_its_size(dialog, tmp_path):
    assert dialog.sentence.text() == "60 × 40 cm at true size."
    # two metres lie between places 480 px apart
    assert wide(dialog) == pytest.approx(600 * 480 / 2000, rel=0.01)
    type_into(dialog.apart, "4 m")
    assert wide(dialog) == pytest.approx(72, rel=0.01)
    type_into(dialog.apart, "two hats")
    assert dialog.apart.property("wrong")
    drag(dialog.page, "the second cross", 60, 0)
    assert wide(dialog) > 78
    before = dialog.page.middle
    drag(dialog.page, "the print", -40, 25)
    assert dialog.page.middle[0] < before[0] and dialog.page.middle[1] > before[1]
    out = tmp_path / "hung.png"
    dialog.write(out)
    until(lambda: out.exists() and "Written" in dialog.sentence.text())
    with Image.open(out) as image:
        assert image.size == (1200, 800)
        x, y = (round(side) for side in dialog.page.middle)
        assert image.getpixel((x, y)) != (205, 205, 205)
        assert image.getpixel((20, 20)) == (205, 205, 205)
    dialog.accept()
    (kept,) = OwnWalls().all
    assert kept.name == "hall" and kept.marks.apart_mm == 4000


def test_four_corners_give_it_perspective(dialog):
    level = dialog.page.outline
    assert level[0][1] == pytest.approx(level[1][1])
    QTest.mouseClick(dialog.corners, LEFT)
    assert dialog.corners.text() == "without corners" and dialog.sides.isEnabled()
    drag(dialog.page, "corner 2", 0, -40)
    drag(dialog.page, "corner 3", 0, 40)
    tilted = dialog.page.outline
    assert tilted[1][1] - tilted[2][1] < tilted[0][1] - tilted[3][1]  # taller at the right
    type_into(dialog.sides, "90 x 200 cm")
    assert not dialog.apart.isEnabled() and dialog.page.names()[0] == "corner 1"
    drag(dialog.page, "corner 1", 400, 300)
    assert "not corners of a rectangle" in dialog.sentence.text() and not dialog.save.isEnabled()
    QTest.mouseClick(dialog.corners, LEFT)
    assert dialog.save.isEnabled() and dialog.page.outline[0][1] == dialog.page.outline[1][1]


def test_keys_move_what_is_chosen(dialog):
    view = dialog.page
    QTest.keyClick(view, Qt.Key.Key_Space)
    assert "the first cross" in dialog.told.text()
    x, y = view.spot_of("the first cross")
    QTest.keyClick(view, Qt.Key.Key_Left)
    QTest.keyClick(view, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    assert view.spot_of("the first cross")[0] < x and view.spot_of("the first cross")[1] > y
    for _ in range(2):
        QTest.keyClick(view, Qt.Key.Key_Space)
    assert "the print" in dialog.told.text()
    before = view.middle
    QTest.keyClick(view, Qt.Key.Key_Up)
    assert view.middle[1] < before[1]


def test_a_wall_is_found_again_and_forgotten(opened, dialog, tmp_path):
    drag(dialog.page, "the print", 30, 0)
    middle = dialog.page.middle
    dialog.accept()
    opened.benches.sheet.hang()
    again = opened.findChildren(WallDialog)[-1]
    until(lambda: again.room is not None)
    assert again.which.currentText() == "hall" and again.page.middle == pytest.approx(
        middle, abs=0.1
    )
    QTest.mouseClick(again.forget, LEFT)
    assert not OwnWalls().all
    again.open_room(tmp_path / "gone.jpg")
    until(lambda: "gone.jpg" in again.told.text() and "Reading" not in again.told.text())
