"""Print …, with a printing system that only answers as one does."""

from __future__ import annotations

from fractions import Fraction as F

import pikepdf
import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QMenu

from tests.desktop.conftest import settled, type_into, until
from zinc_margin.desktop.dialogs import printing as print_dialog
from zinc_margin.desktop.dialogs.batch import BatchDialog
from zinc_margin.desktop.dialogs.printing import PrintDialog
from zinc_margin.handoff import ipp, queues
from zinc_margin.handoff.queues import Medium, Queue
from zinc_margin.measure.errors import Cancelled, CannotDo

LEFT = Qt.MouseButton.LeftButton
A4 = Medium(F(210), F(297), (F("6.35"), F("3.4"), F("6.35"), F("3.4")))
BARE = Medium(F(210), F(297), (F(0),) * 4)
SMALL = Medium(F(100), F(150), (F(3),) * 4)
DESK = Queue(
    "desk",
    "Desk by the window",
    "ready",
    (),
    True,
    (A4, BARE, SMALL),
    ("photographic-glossy",),
    ("main",),
    (3, 4, 5),
    (600,),
    True,
)


@pytest.fixture
def dialog(opened, monkeypatch):
    monkeypatch.setattr(print_dialog, "queues", lambda: (DESK,))
    monkeypatch.setattr(print_dialog, "ask", lambda name: DESK)
    type_into(opened.margin.bodies["size"].print_size, "15x10cm")
    opened.table.decide("pixels", method="lanczos")
    settled(opened)
    QTest.keyClick(opened, Qt.Key.Key_P, Qt.KeyboardModifier.ControlModifier)
    (dialog,) = opened.findChildren(PrintDialog)
    until(lambda: dialog.queue is not None)
    return dialog


def choose(choice, part):
    at = next(at for at in range(choice.count()) if part in choice.itemText(at))
    choice.setCurrentIndex(at)
    choice.activated.emit(at)


def test_the_printer_tells_and_what_is_lost_is_said(dialog):
    assert "15 × 10 cm" in dialog.head.text()
    assert dialog.printer.currentText() == "Desk by the window"
    # as large as the page, but with blank edges
    assert "edges of up to 3 mm" in dialog.paper.currentText()
    assert "3 mm of the picture would fall" in dialog.sentence.text()
    assert dialog.send.text() == "Print anyway"
    choose(dialog.paper, "borderless")
    assert "true size" in dialog.sentence.text() and "would fall" not in dialog.sentence.text()
    assert dialog.send.text() == "Print" and dialog.send.isEnabled()
    assert "photo glossy" in [dialog.kind.itemText(at) for at in range(dialog.kind.count())]


def test_it_is_printed_as_chosen_and_followed(dialog, monkeypatch):
    sent = []

    def printed(queue, pdf, title, medium, choice, tell, cancel, colours_done):
        tell("Desk stopped: it is out of paper: add some.")
        sent.append((pdf.read_bytes()[:5], title, medium, choice.copies, choice.quality))
        return 7

    monkeypatch.setattr(print_dialog, "print_pdf", printed)
    choose(dialog.paper, "borderless")
    choose(dialog.quality, "best")
    type_into(dialog.copies, "3")
    type_into(dialog.copies, "none")
    assert dialog.copies.property("wrong")
    QTest.mouseClick(dialog.send, LEFT)
    assert not dialog.send.isEnabled() and dialog.progress.isVisible()
    until(lambda: not dialog.under_way)
    assert sent == [(b"%PDF-", "kiln, 15 × 10 cm", BARE, 3, 5)]
    assert dialog.sentence.text() == "Printed on Desk by the window."


def test_a_print_is_cancelled_or_fails_in_a_sentence(dialog, monkeypatch):
    def waits(queue, pdf, title, medium, choice, tell, cancel, colours_done):
        cancel.wait(60)
        raise Cancelled

    monkeypatch.setattr(print_dialog, "print_pdf", waits)
    QTest.mouseClick(dialog.send, LEFT)
    until(lambda: dialog.progress.value() >= 990)
    QTest.mouseClick(dialog.stop, LEFT)
    until(lambda: not dialog.under_way)
    assert "Cancelled" in dialog.sentence.text() and dialog.send.isEnabled()

    def fails(*_):
        raise CannotDo("The print was given up: no ink.")

    monkeypatch.setattr(print_dialog, "print_pdf", fails)
    QTest.mouseClick(dialog.send, LEFT)
    until(lambda: not dialog.under_way)
    assert dialog.sentence.text() == "The print was given up: no ink."


def test_without_a_printing_service_there_are_simulated_printers_and_a_pdf(
    opened, monkeypatch, tmp_path
):
    monkeypatch.delenv("CUPS_SERVER", raising=False)
    monkeypatch.setattr(ipp, "SOCKETS", ())
    type_into(opened.margin.bodies["size"].print_size, "15x10cm")
    opened.table.decide("pixels", method="lanczos")
    settled(opened)
    opened.margin.foot.print.click()
    (dialog,) = opened.findChildren(PrintDialog)
    until(lambda: dialog.queue is not None)
    named = [dialog.printer.itemText(at) for at in range(dialog.printer.count())]
    assert len(named) > 1 and named[-1] == "a PDF, to print anywhere"
    assert "CUPS" in dialog.sentence.text() and "simulated" in dialog.sentence.text()
    choose(dialog.printer, "a PDF")
    assert dialog.send.text() == "Save the PDF …" and not dialog.copies.isEnabled()
    out = tmp_path / "page.pdf"
    dialog.save_pdf(out)
    until(lambda: not dialog.under_way)
    assert out.name in dialog.sentence.text()
    with pikepdf.open(out) as pdf:
        wide, high = (float(side) / 72 * 25.4 for side in pdf.pages[0].mediabox[2:])
    assert (wide, high) == pytest.approx((150, 100), abs=0.05)
    assert not dialog.copies.isEnabled() and dialog.send.isEnabled()
    dialog.done(0)


def test_what_was_made_is_told_in_the_photo_line_and_forgotten(opened, tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    body = opened.margin.bodies["photo"]
    type_into(opened.margin.bodies["size"].print_size, "12x8cm")
    opened.table.decide("pixels", method="lanczos")
    QTest.keyClick(opened, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    settled(opened)
    QTest.keyClick(opened, Qt.Key.Key_1)
    settled(opened)
    assert body._made.isVisible() and "12 × 8 cm" in body._made.text()
    assert opened.making.written.path.name in body._made.text()
    QTest.mouseClick(body.forget, LEFT)
    settled(opened)
    assert not body._made.isVisible() and "log is cleared (1 print)" in opened.message.label.text()
    assert opened.making.written.path.exists()


@pytest.fixture
def cups(monkeypatch, tmp_path):
    """A printing service that is there before the window is."""
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    monkeypatch.setattr(ipp, "absent", lambda: None)


def test_blank_edges_are_taken_from_a_printer_that_told_them(cups, opened, monkeypatch):
    monkeypatch.setattr(queues, "queues", lambda: (DESK,))
    monkeypatch.setattr(queues, "find_queue", lambda name: DESK)
    type_into(opened.margin.bodies["size"].print_size, "29.7x21cm")
    opened.table.decide("size", maker="desk")
    QTest.keyClick(opened, Qt.Key.Key_6)
    settled(opened)
    body = opened.margin.bodies["finish"]
    assert body.edges_of.isVisible() and body.edges_of.currentText().startswith(
        "the device's usual"
    )
    choose(body.edges_of, "ask this system's")
    until(lambda: body.edges_of.findText("reported by Desk by the window") >= 0)
    assert "1 printer reported its papers" in opened.message.label.text()
    choose(body.edges_of, "reported by Desk")
    settled(opened)
    assert opened.table.current.docket.finish.printer == "desk"
    assert opened.table.current.plan().maker.edges == (F("3.4"), F("6.35"), F("3.4"), F("6.35"))
    choose(body.edges_of, "the device's usual")
    assert opened.table.current.docket.finish.printer is None


# the batch in the window


def batch_of(opened, out):
    QTest.keyClick(opened, Qt.Key.Key_R, Qt.KeyboardModifier.ControlModifier)
    (dialog,) = opened.findChildren(BatchDialog)
    dialog.where.folder = out
    return dialog


def test_several_presets_are_ticked_for_one_batch(opened, tmp_path):
    dialog = batch_of(opened, tmp_path / "prints")
    assert not dialog.more.isEnabled()
    choose(dialog.preset, "Album print")
    assert len(dialog.items) == 1 and dialog.more.isEnabled()
    QTest.mouseClick(dialog.more, LEFT)
    menu = next(each for each in dialog.findChildren(QMenu) if each.isVisible())
    names = [action.text() for action in menu.actions()]
    assert "Album print, 15 × 10 cm" not in names
    next(one for one in menu.actions() if one.text().startswith("Lab order")).trigger()
    menu.close()
    assert [item.preset.name for item in dialog.items] == [
        "Album print, 15 × 10 cm",
        "Lab order, 30 × 20 cm",
    ]
    assert dialog.more.text() == "and 1 more …"


def test_a_folder_is_watched_from_the_window(opened, jpeg, tmp_path, monkeypatch):
    folder, out = tmp_path / "in", tmp_path / "prints"
    folder.mkdir()
    dialog = batch_of(opened, out)
    choose(dialog.preset, "Album print")
    dialog.begin_watch(folder)
    dialog._watching.setInterval(50)
    (folder / "late.jpg").write_bytes(jpeg.read_bytes())
    until(lambda: "1 made" in dialog.sentence.text())
    assert [path.name for path in out.glob("late*")]
    QTest.mouseClick(dialog.watch, LEFT)
    assert "no longer watched" in dialog.sentence.text() and dialog.preset.isEnabled()
    (folder / "later.jpg").write_bytes(jpeg.read_bytes())
    settled(opened)
    assert len(dialog.items) == 1
    dialog.begin_watch(out)
    assert "made again" in dialog.sentence.text()
