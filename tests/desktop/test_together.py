"""Several prints on a sheet, in the real window."""

from __future__ import annotations

from fractions import Fraction as F

import pypdfium2
import pytest
from PIL import Image
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from tests.desktop.conftest import settled, type_into, until
from tests.desktop.test_window import link
from zinc_margin.desktop.dialogs import printing as print_dialog
from zinc_margin.desktop.dialogs.printing import PrintDialog
from zinc_margin.desktop.dialogs.together import TogetherDialog
from zinc_margin.handoff import ipp

LEFT = Qt.MouseButton.LeftButton


def opened_dialog(window):
    for index in range(len(window.table.prints)):  # enlarging is not what is looked at
        window.table.activate(index)
        window.table.decide("pixels", method="lanczos")
    QTest.keyClick(window, Qt.Key.Key_6)
    settled(window)
    link(window.margin.bodies["finish"], "several prints on a sheet …").click()
    (dialog,) = window.findChildren(TogetherDialog)
    until(lambda: dialog.page.image is not None)
    return dialog


@pytest.fixture
def dialog(opened):
    return opened_dialog(opened)


@pytest.fixture
def rack(opened, tmp_path, scene):
    other = tmp_path / "reeds.png"
    Image.fromarray(scene(300, 450)).save(other)
    opened.open_photos([other])
    settled(opened)
    return opened_dialog(opened)


def press(dialog, key, shift=False):
    keys = Qt.KeyboardModifier
    QTest.keyClick(dialog.page, key, keys.ShiftModifier if shift else keys.NoModifier)


def test_a_sentence_is_laid_out_and_written(dialog, tmp_path):
    type_into(dialog.asked, "four 9 x 13, two passport on A4")
    assert dialog.sentence.text().startswith("6 prints on 2 sheets of 21 × 29.7 cm; prints cover")
    assert dialog.number.text() == "Sheet 1 of 2"
    type_into(dialog.asked, "four hats")
    assert dialog.asked.property("wrong") and "hats" in dialog.sentence.text()
    type_into(dialog.asked, "four 90 x 130")
    assert (
        "does not fit inside the border of A4" in dialog.sentence.text()
        and not dialog.save.isEnabled()
    )
    type_into(dialog.asked, "four 9 x 13 on a 40 cm roll")
    assert (
        dialog.sheet.text() == "roll of 40 cm" and "on one sheet of 40 ×" in dialog.sentence.text()
    )
    out = tmp_path / "four.pdf"
    dialog.write(out)
    until(lambda: out.exists())
    assert pypdfium2.PdfDocument(out)[0].get_width() == pytest.approx(400 / 25.4 * 72, abs=0.01)


def test_a_print_is_dragged_and_takes_to_the_border(dialog):
    type_into(dialog.asked, "one 9 x 13")
    until(lambda: dialog.page.image is not None)
    (place,) = dialog.page.places[0]
    box = dialog.page.box_of(place)
    start = box.center().toPoint()
    QTest.mousePress(dialog.page, LEFT, pos=start)
    QTest.mouseMove(dialog.page, start + QPoint(40, 60))
    QTest.mouseRelease(dialog.page, LEFT, pos=start + QPoint(40, 60))
    (moved,) = dialog.page.places[0]
    assert moved.left > place.left and moved.top > place.top and moved.size == place.size
    assert "from the left" in dialog.told.text()
    settled(dialog.parent())
    # nearly back: it takes to the border again
    again = dialog.page.box_of(moved).center().toPoint()
    QTest.mousePress(dialog.page, LEFT, pos=again)
    QTest.mouseMove(dialog.page, start + QPoint(1, 1))
    QTest.mouseRelease(dialog.page, LEFT, pos=start + QPoint(1, 1))
    assert dialog.page.places[0] == (place,)


def test_keys_choose_move_turn_and_take_along(dialog):
    type_into(dialog.asked, "three 13 x 18")
    assert len(dialog.page.places) == 2
    press(dialog, Qt.Key.Key_Space)
    first = dialog.page.place
    press(dialog, Qt.Key.Key_Down)
    assert dialog.page.place.top == first.top + 5
    press(dialog, Qt.Key.Key_Down, shift=True)
    assert dialog.page.place.top == first.top + 6
    assert "overlap on sheet 1" in dialog.sentence.text() and not dialog.save.isEnabled()
    press(dialog, Qt.Key.Key_PageDown, shift=True)
    assert dialog.number.text() == "Sheet 2 of 2" and len(dialog.page.places[1]) == 2
    press(dialog, Qt.Key.Key_R)
    assert dialog.page.place.turned != first.turned
    QTest.mouseClick(dialog.anew, LEFT)
    assert [len(sheet) for sheet in dialog.page.places] == [2, 1] and dialog.save.isEnabled()
    press(dialog, Qt.Key.Key_PageUp)
    assert dialog.number.text() == "Sheet 1 of 2" and dialog.on.isEnabled()


def test_each_photo_has_prints_of_its_own(rack):
    assert rack.ways.value == "grid" and "2 prints on one sheet" in rack.sentence.text()
    QTest.mouseClick(rack.ways.button("sizes"), LEFT)
    type_into(rack.asked, "two 9 x 13")
    assert "4 prints" in rack.sentence.text()
    at = rack.of.findData("1")
    rack.of.setCurrentIndex(at)
    rack.of.activated.emit(at)
    type_into(rack.asked, "five passport")
    assert "7 prints" in rack.sentence.text()
    rack.of.setCurrentIndex(0)
    rack.of.activated.emit(0)
    assert rack.asked.text() == "two 9 x 13"
    QTest.mouseClick(rack.turns.button("no"), LEFT)
    assert not any(place.turned for sheet in rack.page.places for place in sheet)


def test_the_rack_goes_in_a_grid(rack, tmp_path):
    type_into(rack.sheet, "10 x 10 mm")
    assert "leaves no space" in rack.sentence.text()
    type_into(rack.sheet, "A4")
    type_into(rack.grid, "1x1")
    assert "2 sheets" in rack.sentence.text()
    (tmp_path / "both-1.png").write_bytes(b"kept")
    rack.write(tmp_path / "both.png")
    until(lambda: "already exists and was kept" in rack.sentence.text())
    assert (tmp_path / "both-1.png").read_bytes() == b"kept"
    out = tmp_path / "both.pdf"
    rack.write(out)
    until(lambda: out.exists())
    assert out.read_bytes().startswith(b"%PDF")


def test_sheets_go_to_a_simulated_printer(opened, tmp_path, monkeypatch):
    monkeypatch.setattr(ipp, "absent", lambda: None)
    monkeypatch.setattr(print_dialog, "queues", lambda: ())
    dialog = opened_dialog(opened)
    type_into(dialog.asked, "two 9 x 13 on A4")
    QTest.mouseClick(dialog.print, LEFT)
    (paper,) = dialog.findChildren(PrintDialog)
    until(lambda: paper.queue is not None)
    assert paper.head.text() == "2 prints on a sheet, on a page of 21 × 29.7 cm"
    assert paper.queue.simulated and "PNG" in paper.sentence.text()
    assert paper.paper.currentText().startswith("A4") and not paper.copies.isEnabled()
    out = tmp_path / "proof.png"
    medium = next(each for each in paper.queue.media if each.name == "A4")
    paper.simulate(paper.queue, medium, "matt", out)
    until(lambda: not paper.under_way)
    assert paper.sentence.text() == f"Printed as proof.png, in {tmp_path.name}."
    with Image.open(out) as sheet:
        wide, high = sheet.size
        per = sheet.info["dpi"][0] / 25.4
        assert wide / per == pytest.approx(210, abs=0.1) and high / per == pytest.approx(
            297, abs=0.1
        )
        # paper shows beside the prints, prints where they lie
        assert sheet.convert("L").getpixel((int(4 * per), int(4 * per))) == 255
        place = dialog.page.places[0][0]
        middle = place.left + place.width / 2, place.top + place.height / 2
        assert sheet.convert("L").getpixel(tuple(int(F(side) * F(per)) for side in middle)) < 250
