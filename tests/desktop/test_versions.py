"""Versions of a photo, kept beside it, and the batch in the window."""

from __future__ import annotations

import json

import pytest
import tifffile
from PIL import Image
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from tests.desktop.conftest import settled, type_into, until
from tests.desktop.test_window import key
from zinc_margin.desktop.dialogs.batch import BatchDialog
from zinc_margin.desktop.dialogs.presets import PresetDialog
from zinc_margin.desktop.dialogs.send import SendDialog
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.shell.window import Window
from zinc_margin.desktop.widgets.parts import Link, NoteBox
from zinc_margin.docket import store, versions
from zinc_margin.docket.docket import Docket
from zinc_margin.docket.document import to_json
from zinc_margin.docket.version_names import version_names
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest

CTRL = Qt.KeyboardModifier.ControlModifier


def names(window):
    return list(version_names(window.table.current.versions))


def test_versions_are_added_named_kept_and_read_again(opened, jpeg):
    tabs, heading = opened.margin.tabs, opened.margin.heading
    type_into(opened.margin.bodies["size"].print_size, "15x10cm")
    heading.add.click()
    settled(opened)
    assert names(opened) == ["15 × 10 cm", "15 × 10 cm, 2"]
    type_into(opened.margin.bodies["size"].print_size, "1920x1080 px")
    settled(opened)
    # it is named after what it is now
    assert names(opened) == ["15 × 10 cm", "screen 1920 × 1080 px"]
    assert opened.margin.foot.name.text() == "kiln-1920x1080px"
    first, second = opened.table.current.versions
    assert first.size.size.label == "15 × 10 cm" and second.size.way.kind == "screen"
    type_into(tabs.name, "for the hall")
    assert names(opened) == ["15 × 10 cm", "for the hall"]
    settled(opened)
    # and a name that was typed is in the file's name
    assert opened.margin.foot.name.text() == "kiln-for the hall-1920x1080px"
    type_into(tabs.name, "15 × 10 cm")
    assert tabs.name.property("wrong")
    QTest.mouseClick(tabs.switch.button("0"), Qt.MouseButton.LeftButton)
    settled(opened)
    assert names(opened)[opened.table.current.which] == "15 × 10 cm"
    # each has an undo of its own
    QTest.keyClick(opened, Qt.Key.Key_Z, CTRL)
    assert opened.table.current.versions[1].size.way.kind == "screen"
    QTest.keyClick(opened, Qt.Key.Key_S, CTRL)
    settled(opened)
    kept = versions.load(store.beside(jpeg))
    assert [docket.version for docket in kept] == ["", "for the hall"]
    again = Window(Table("cm"))
    again.open_photos([jpeg])
    settled(again)
    assert names(again)[1] == "for the hall" and again.table.current.which == 0
    again.close()


def test_a_version_is_taken_away_but_never_the_last(opened):
    tabs, heading = opened.margin.tabs, opened.margin.heading
    for _ in range(3):
        heading.add.click()
        settled(opened)
    first = names(opened)[0]
    assert names(opened) == [first, *(f"{first}, {n}" for n in (2, 3, 4))]
    opened.table.take_version(1)
    opened.table.remove_version()
    assert len(names(opened)) == 3 and opened.table.current.which == 0
    for _ in range(4):
        opened.table.remove_version()
    assert len(names(opened)) == 1
    settled(opened)
    assert not tabs.remove.isVisible()


def test_versions_that_are_broken_are_said():
    with pytest.raises(BadRequest, match="list of 1 to"):
        versions.from_json('{"zinc_margin_versions": 1, "dockets": []}')
    with pytest.raises(BadRequest, match="reads version 1"):
        versions.from_json('{"zinc_margin_versions": 9, "dockets": []}')
    assert versions.from_json(to_json(Docket())) == (Docket(),)


def test_a_standing_docket_is_laid_and_kept(opened, tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    key(opened, "7")
    settled(opened)
    form = opened.margin.bodies["file"]
    at = form.preset.findData("By email, 1600 px")
    form.preset.activated.emit(at)
    settled(opened)
    assert opened.table.current.plan().pixels.width == 1600
    QTest.mouseClick(link(form, "presets …"), Qt.MouseButton.LeftButton)
    (dialog,) = opened.findChildren(PresetDialog)
    dialog.new_name.setText("Mine: by mail")
    dialog.new_about.setText("Small ones")
    type_into(dialog.most, "30")
    assert dialog.most.text() == "30 %"
    dialog.small.activated.emit(dialog.small.findData("skip"))
    dialog.keep.click()
    assert dialog.chosen.name == "Mine: by mail" and dialog.remove.isVisible()
    assert "more than 30 % are skipped" in dialog.does.text()
    # another of the name is not written over; handed on, taken away and taken in again it is equal
    dialog.keep.click()
    assert "already" in dialog.sentence.text()
    mine = dialog.chosen
    dialog.export(tmp_path / "mine.json")
    dialog.import_(tmp_path / "mine.json")
    assert "exists and was kept" in dialog.sentence.text()
    dialog.remove.click()
    assert dialog.chosen.name != "Mine: by mail" and not dialog.remove.isVisible()
    dialog.import_(tmp_path / "mine.json")
    assert dialog.chosen == mine
    (tmp_path / "broken.json").write_text("{")
    dialog.import_(tmp_path / "broken.json")
    assert "not readable JSON" in dialog.sentence.text()
    dialog.reject()
    settled(opened)
    assert form.preset.findData("Mine: by mail") > 0


def link(widget, words):
    return next(each for each in widget.findChildren(Link) if each.text() == words)


def test_a_standing_docket_is_laid_on_the_whole_rack_and_undone(opened, tmp_path, scene):
    Image.fromarray(scene(300, 200)).save(tmp_path / "reeds.png")
    opened.open_photos([tmp_path / "reeds.png"])
    settled(opened)
    opened.dialogs.show_presets()
    (dialog,) = opened.findChildren(PresetDialog)
    (at,) = (n for n, each in enumerate(dialog.every) if each.name == "Album print, 15 × 10 cm")
    dialog.list.setCurrentRow(at)
    assert dialog.here.text().startswith("kiln: ")
    dialog.apply_all.click()
    assert dialog.sentence.text().startswith("Applied to 2 photos")
    for one in opened.table.prints:
        assert {one.plan().size.width_mm, one.plan().size.height_mm} == {150, 100}
        assert one.history.steps == 1  # one step of undo
    dialog.reject()
    opened.table.undo()
    assert opened.table.current.docket.size.size is None


def test_files_are_sent_to_a_counter_from_the_window(opened, tmp_path, monkeypatch):
    opened.table.decide("file", format="jpeg", colour="srgb")
    type_into(opened.margin.bodies["size"].print_size, "4x6cm")
    settled(opened)
    assert not opened.margin.foot.send.isVisible()
    opened.make()
    until(opened.margin.foot.send.isVisible)
    QTest.mouseClick(opened.margin.foot.send, Qt.MouseButton.LeftButton)
    (dialog,) = opened.findChildren(SendDialog)
    answer = lambda: dialog.list.item(0, 3).text()  # noqa: E731
    dialog.lab.activated.emit(dialog.lab.findData("lab:book-press"))
    until(lambda: "accepts PDF or TIFF" in answer())
    assert dialog.sentence.text() == "1 of 1 file would be refused."
    dialog.lab.activated.emit(dialog.lab.findData("lab:harbour"))
    until(lambda: answer() == "would be accepted")
    dialog.list.item(0, 2).setText("0")
    assert dialog.list.item(0, 2).text() == "1" and "Type 1 to" in dialog.sentence.text()
    dialog.list.item(0, 2).setText("3")
    box = str(tmp_path / "box")
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *asked: box)
    QTest.mouseClick(dialog.box, Qt.MouseButton.LeftButton)
    assert dialog.box.text() == box
    dialog.send.click()
    until(lambda: answer() == "accepted")
    (folder,) = (tmp_path / "box").iterdir()
    assert folder.name in dialog.sentence.text()
    order = json.loads((folder / "order.json").read_text())
    assert order["files"][0]["copies"] == 3
    assert json.loads((folder / "receipt.json").read_text())["accepted"]


def test_a_picture_is_laid_on_the_page_as_a_mark(opened, tmp_path):
    stamp = tmp_path / "stamp.png"
    Image.new("RGBA", (40, 20), (255, 255, 255, 255)).save(stamp)
    key(opened, "7")
    settled(opened)
    form = opened.margin.bodies["file"]
    QTest.mouseClick(link(form, "more …"), Qt.MouseButton.LeftButton)
    assert not form.more.watermark_size.isEnabled()
    form.more.take_picture(stamp)
    settled(opened)
    assert form.more.picture.text() == "stamp.png" and form.more.watermark_size.isEnabled()
    type_into(form.more.watermark_size, "10 %")
    type_into(form.more.watermark_strength, "100")
    type_into(form.more.folders, "{date}/{size}")
    settled(opened)
    line = opened.table.current.docket.file
    assert (line.watermark_size, line.watermark_strength, line.folder_rule) == (
        10,
        100,
        "{date}/{size}",
    )
    opened.make()
    until(opened.margin.foot.send.isVisible)
    path = opened.making.written.path
    assert path.parent.name == opened.table.current.plan().size.label.replace(
        " × ", "x"
    ).lower() or (path.parent != opened.table.current.facts.path.parent)
    marked = tifffile.imread(path)
    corner = marked[-marked.shape[0] // 6 :, -marked.shape[1] // 6 :]
    assert (corner.min(2) > 250).sum() > 100
    QTest.mouseClick(form.more.picture, Qt.MouseButton.LeftButton)
    assert opened.table.current.docket.file.watermark_picture is None


def test_the_check_says_what_a_counter_would_refuse(opened):
    key(opened, "7")
    settled(opened)
    form = opened.margin.bodies["file"]
    opened.table.decide("file", format="png", bits=16)
    form.check.activated.emit(form.check.findData("lab:harbour"))
    settled(opened)
    said = " ".join(box.label.text() for box in form.findChildren(NoteBox) if box.isVisible())
    assert "It is a PNG" in said and "16 bits per sample" in said
    # each way out is one press
    QTest.mouseClick(link(form, "Write a JPEG"), Qt.MouseButton.LeftButton)
    settled(opened)
    assert opened.table.current.plan().file.format == "jpeg"
    said = [box.label.text() for box in form.findChildren(NoteBox) if box.isVisible()]
    assert not any("counter takes" in text for text in said)


def test_the_run_makes_everything_in_the_rack(opened, jpeg, tmp_path, scene):
    other = tmp_path / "reeds.png"
    Image.fromarray(scene(300, 200)).save(other)
    opened.open_photos([other])
    settled(opened)
    opened.margin.heading.add.click()
    type_into(opened.margin.bodies["size"].print_size, "9x6cm")
    settled(opened)
    QTest.keyClick(opened, Qt.Key.Key_R, CTRL)
    (dialog,) = opened.findChildren(BatchDialog)
    assert dialog.list.rowCount() == 3
    # before it is made, every file's figures are listed
    until(lambda: dialog.sentence.text().startswith("3 files, about "))
    ahead = [[dialog.list.item(at, column).text() for column in range(9)] for at in range(3)]
    plans = [one.plan_of(docket) for one in dialog.prints for docket in one.versions]
    assert [row[4] for row in ahead] == [f"{p.page.width} × {p.page.height}" for p in plans]
    assert [row[6] for row in ahead] == [plan.grade for plan in plans]
    assert [row[1] for row in ahead] == [*version_names(dialog.prints[0].versions), ""]
    dialog.start.click()
    until(lambda: dialog.open_report.isVisible())
    assert not dialog.where.isEnabled()  # the report is where the batch began
    assert dialog.sentence.text() == "3 made"
    made = sorted(path.name for path in (jpeg.parent / "prints").glob("*.tif"))
    sizes = {path.name: words.size_in_bytes(path.stat().st_size) for path in dialog_files(jpeg)}
    shown = {dialog.list.item(at, 9).text(): dialog.list.item(at, 7).text() for at in range(3)}
    assert shown == sizes
    assert len(made) == 3 and (jpeg.parent / "prints" / "report.html").exists()


def dialog_files(photo):
    return list((photo.parent / "prints").glob("*.tif"))


def drag(cell, across, down):
    start = cell.rect().center() - QPoint(0, 30)
    QTest.mousePress(cell, Qt.MouseButton.LeftButton, pos=start)
    for share in (0.5, 1.0):
        QTest.mouseMove(cell, start + QPoint(round(across * share), round(down * share)))
    QTest.mouseRelease(cell, Qt.MouseButton.LeftButton, pos=start + QPoint(across, down))


def test_every_crop_of_a_run_is_looked_through_and_corrected_where_it_lies(opened, jpeg):
    type_into(opened.margin.bodies["size"].print_size, "4x6cm upright")
    settled(opened)
    QTest.keyClick(opened, Qt.Key.Key_R, CTRL)
    (dialog,) = opened.findChildren(BatchDialog)
    (cell,) = dialog.crops.cells
    before = opened.table.current.plan().crop
    settled(opened)
    drag(cell, -400, 0)
    after = opened.table.current.plan().crop
    assert after.left == 0 < before.left and after.width == before.width
    QTest.keyClick(cell, Qt.Key.Key_Right)
    # a hundredth of the picture; places are kept to a few digits
    assert float(opened.table.current.plan().crop.left) == pytest.approx(6, abs=0.1)
    QTest.mouseDClick(cell, Qt.MouseButton.LeftButton, pos=cell.rect().center())
    assert opened.table.current.plan().crop == before
    dialog.reject()


def test_what_a_preset_would_skip_can_be_made_anyway(window, tmp_path, scene):
    path = tmp_path / "square.png"
    Image.fromarray(scene(400, 400)).save(path)
    window.open_photos([path])
    settled(window)
    before = window.table.current.docket
    QTest.keyClick(window, Qt.Key.Key_R, CTRL)
    (dialog,) = window.findChildren(BatchDialog)
    # it is applied for the batch alone, and what would lose more than a quarter is skipped
    dialog.preset.setCurrentIndex(dialog.preset.findData("Album print, 15 × 10 cm"))
    dialog.preset.activated.emit(dialog.preset.currentIndex())
    (cell,) = dialog.crops.cells
    until(lambda: cell.anyway is not None and cell.anyway.isVisible())
    assert "more than the limit of 25 %" in cell.skipped
    QTest.mouseClick(cell.anyway, Qt.MouseButton.LeftButton)
    cell.repaint()
    assert not cell.skipped and not cell.anyway.isVisible()
    drag(cell, 0, -300)
    dialog.start.click()
    until(lambda: dialog.open_report.isVisible())
    assert not dialog.where.isEnabled()  # the report is where the batch began
    assert cell.item.state == "made" and cell.item.plan.crop.top == 0
    assert window.table.current.docket == before


def test_a_rack_is_kept_in_one_file_and_opened_with_every_version(opened, tmp_path, scene):
    Image.fromarray(scene(300, 200)).save(tmp_path / "reeds.png")
    opened.open_photos([tmp_path / "reeds.png"])
    settled(opened)
    type_into(opened.margin.bodies["size"].print_size, "6x4cm")
    opened.margin.heading.add.click()
    settled(opened)
    opened.keep_rack(tmp_path / "kiln.json")
    settled(opened)
    assert "kiln.rack.json" in opened.message.label.text()
    kept = [one.versions for one in opened.table.prints]
    opened.close_photo()
    opened.close_photo()
    opened.open_photos([tmp_path / "kiln.rack.json"])
    settled(opened)
    again = [one.versions for one in opened.table.prints]
    assert [[docket.size for docket in one] for one in again] == [
        [docket.size for docket in one] for one in kept
    ]
    assert len(again[0]) == 2
    (tmp_path / "bad.rack.json").write_text("{")
    opened.open_photos([tmp_path / "bad.rack.json"])
    settled(opened)
    assert "not readable JSON" in opened.message.label.text()
