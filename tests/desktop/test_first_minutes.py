"""The first minutes: what a newcomer sees, presses and types, and how far that leads."""

from __future__ import annotations

import json
import subprocess
import sys
from fractions import Fraction
from threading import Event
from types import SimpleNamespace

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PySide6.QtGui import QAccessible, QDropEvent, QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMenu, QWidget

from tests.desktop.conftest import settled, type_into, until
from zinc_margin.commands import compile_loops
from zinc_margin.demo import folder as demo
from zinc_margin.desktop.dialogs.find import FindDialog
from zinc_margin.desktop.model.session import Remembered
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.shell.guidance import HelpNote
from zinc_margin.desktop.shell.window import Window
from zinc_margin.desktop.widgets import theme
from zinc_margin.keeping.folders import own_folder
from zinc_margin.pixels import loop_cache

LEFT = Qt.MouseButton.LeftButton
CTRL = Qt.KeyboardModifier.ControlModifier


def press(menu, words):
    """Choose from a menu that a word of the window has unfolded."""
    menu.aboutToShow.emit()
    action = next(each for each in menu.actions() if each.text().split("\t")[0] == words)
    action.trigger()


def type_size(window, typed):
    """Press the size in the sentence, type, Return."""
    part = window.margin.destination.extent
    part.choices.aboutToShow.emit()
    field = part.choices.actions()[0].defaultWidget().findChild(QWidget, "")
    field = next(
        each
        for each in part.choices.actions()[0].defaultWidget().children()
        if hasattr(each, "setPlaceholderText")
    )
    type_into(field, typed)


def menu_of(widget, at):
    """Return the words of the menu that stands at a place."""
    widget.customContextMenuRequested.emit(at)
    menu = next(each for each in widget.findChildren(QMenu) if each.isVisible())
    words = {each.text(): each for each in menu.actions() if each.text()}
    menu.close()
    return words


# three jobs, each action a press or something typed


def test_a_small_gloss_print_as_jpeg_takes_three_actions(opened):
    type_size(opened, "13x18 gloss jpeg")  # press the size; type
    settled(opened)
    plan = opened.table.current.plan()
    assert plan.size.label == "13 × 18 cm" or plan.size.label == "18 × 13 cm"
    assert plan.settled.sharpen.paper == "gloss" and plan.file.format == "jpeg"
    QTest.mouseClick(opened.margin.foot.make, LEFT)  # make it
    settled(opened)
    assert opened.making.written.path.suffix == ".jpg"


def test_the_same_by_pressing_alone(opened):
    destination = opened.margin.destination
    press(destination.paper.choices, "gloss")
    press(destination.extent.choices, "18 × 13 cm")
    opened.margin.foot.format.button("jpeg").click()
    plan = opened.table.current.plan()
    assert plan.size.label == "18 × 13 cm"
    assert plan.settled.sharpen.paper == "gloss" and plan.file.format == "jpeg"


def test_a_wall_print_at_the_labs_ppi_takes_two_actions(opened):
    type_size(opened, "70x50")
    settled(opened)
    plan = opened.table.current.plan()
    assert plan.target_ppi == 300 and plan.pixels.width == 8268


def test_a_canvas_with_sides_takes_three_actions(opened):
    type_size(opened, "60x45 canvas")
    settled(opened)
    plan = opened.table.current.plan()
    assert plan.maker.key == "canvas" and plan.settled.sharpen.paper == "canvas"
    assert plan.settled.finish.wrap_mm > 0 and plan.whole.width > plan.pixels.width


def test_a_maker_brings_what_follows(opened):
    destination, one = opened.margin.destination, opened.table.current
    press(destination.paper.choices, "gloss")
    press(destination.maker.choices, "lab, by upload")
    plan = one.plan()
    assert plan.file.format == "jpeg" and plan.file.colour in ("own", "srgb")
    assert plan.settled.sharpen.paper == "gloss"  # which that lab has, too
    press(destination.maker.choices, "canvas maker")
    assert one.plan().settled.sharpen.paper == "canvas"
    press(destination.maker.choices, "screen")
    settled(opened)
    assert not destination.paper.isVisible() and destination.begins.text() == "Shown on a"
    for _ in range(4):
        opened.table.undo()
    assert one.plan().maker.key == "lab"


def test_what_cannot_be_read_is_said_and_changes_nothing(opened):
    before = opened.table.current.docket
    type_size(opened, "18x13 shiny")
    assert "shiny" in opened.message.label.text()
    assert opened.table.current.docket == before


# the foot


def test_name_and_format_are_changed_at_the_foot(opened):
    foot = opened.margin.foot
    foot.format.button("jpeg").click()
    settled(opened)
    assert foot.ending.text() == ".jpg"
    type_into(foot.name, "for-the-hall.tif")
    settled(opened)
    assert opened.table.current.docket.file.name == "for-the-hall"
    QTest.mouseClick(foot.make, LEFT)
    settled(opened)
    assert opened.making.written.path.name == "for-the-hall.jpg"
    carried = foot.said.carried().urls()
    assert [url.fileName() for url in carried] == ["for-the-hall.jpg"]


def test_a_file_that_ends_while_nobody_looks_is_told_by_the_desktop(opened, told_elsewhere):
    opened.isActiveWindow = lambda: False
    QTest.mouseClick(opened.margin.foot.make, LEFT)
    settled(opened)
    assert told_elsewhere[0][0] == "The file is ready"


# help in place


@pytest.mark.parametrize("line", ["photo", "size", "crop", "pixels", "sharpen", "finish", "file"])
def test_a_line_explains_itself_with_its_numbers(opened, line):
    opened.margin.lines[line].head.help.click()
    (note,) = opened.findChildren(HelpNote)
    said = note.said.text()
    assert said.count(". ") >= 1 and said.endswith((".", "!"))
    if line == "photo":
        assert "600 × 400 pixels" in said
    QTest.keyClick(note, Qt.Key.Key_Escape)
    assert not note.isVisible()


def test_f1_explains_the_open_line(opened):
    opened.table.open_line("sharpen")
    QTest.keyClick(opened, Qt.Key.Key_F1)
    assert any(note.isVisible() for note in opened.findChildren(HelpNote))


@pytest.mark.parametrize(
    ("typed", "line", "name"),
    [
        ("border", "finish", "Border"),
        ("sRGB", "file", "Colours"),
        ("dpi", "size", "Target resolution"),
        ("metadata", "file", ""),
        ("unsharp", "sharpen", "Strength"),
        ("noise", "pixels", ""),
        ("overshoot", "sharpen", ""),
    ],
)
def test_a_control_is_found_by_any_of_its_names(opened, typed, line, name):
    QTest.keyClick(opened, Qt.Key.Key_F, CTRL)
    (dialog,) = opened.findChildren(FindDialog)
    dialog.typed.setText(typed)
    shown = [dialog.list.item(at).text() for at in range(dialog.list.count())]
    wanted = next(
        at for at, text in enumerate(shown) if text.lower().startswith(line) and name in text
    )
    dialog.list.setCurrentRow(wanted)
    control = dialog.list.currentItem().data(Qt.ItemDataRole.UserRole)
    QTest.keyClick(dialog.typed, Qt.Key.Key_Return)
    settled(opened)
    assert opened.table.line == line
    focus = opened.focusWidget()
    assert control.widget.isVisible() or opened.message.isVisible()
    if control.widget.isVisible():
        assert focus is control.widget or control.widget.isAncestorOf(focus)


def test_every_control_has_a_tip(opened):
    for body in opened.margin.bodies.values():
        for control in body.findChildren(QWidget):
            if control.focusPolicy() & Qt.FocusPolicy.TabFocus and control.accessibleName():
                tip = control.toolTip() or control.parentWidget().toolTip()
                assert tip, (body.line, control.accessibleName())


# assistive technology


def tree(interface):
    yield interface
    for at in range(interface.childCount()):
        child = interface.child(at)
        if child is not None and child.isValid():
            yield from tree(child)


def test_nothing_in_the_tree_is_without_a_name_or_a_role(opened):
    roles = QAccessible.Role
    known = {
        roles.Button,
        roles.RadioButton,
        roles.CheckBox,
        roles.EditableText,
        roles.ComboBox,
        roles.Slider,
        roles.List,
        roles.Table,
        roles.Tree,
        roles.ListItem,
        roles.Client,
        roles.ButtonMenu,
        roles.Cell,
        roles.Window,
        roles.MenuItem,
        roles.PopupMenu,
        roles.SpinBox,
        roles.Pane,
        roles.TableCell if hasattr(roles, "TableCell") else roles.Cell,
    }
    for line in opened.margin.lines:
        opened.table.open_line(line)
        settled(opened)
        for each in tree(QAccessible.queryAccessibleInterface(opened)):
            state = each.state()
            if state.invisible or not state.focusable or each.role() == roles.ListItem:
                continue
            name = each.text(QAccessible.Text.Name)
            assert name.strip(), (line, each.role(), each.object())
            assert each.role() in known, (line, name, each.role())


def test_a_line_head_says_whether_it_is_unfolded_and_can_be_pressed(opened):
    opened.table.open_line("size")
    settled(opened)
    for name, line in opened.margin.lines.items():
        told = QAccessible.queryAccessibleInterface(line.head)
        assert told.role() == QAccessible.Role.Button
        assert bool(told.state().expandable) and bool(told.state().expanded) == (name == "size")
    told = QAccessible.queryAccessibleInterface(opened.margin.lines["crop"].head)
    told.actionInterface().doAction("Press")
    settled(opened)
    assert opened.table.line == "crop" and bool(told.state().expanded)


def test_choices_of_one_are_radio_buttons_and_lists_say_label_and_value(opened):
    button = opened.margin.foot.format.button("png")
    told = QAccessible.queryAccessibleInterface(button)
    assert told.role() == QAccessible.Role.RadioButton
    assert told.text(QAccessible.Text.Name) == "Format: PNG"
    told = QAccessible.queryAccessibleInterface(opened.margin.bodies["size"].maker)
    assert told.role() == QAccessible.Role.ComboBox
    assert told.text(QAccessible.Text.Value) == "lab"
    labels = [
        other.text(QAccessible.Text.Name)
        for other, how in told.relations()
        if how & QAccessible.RelationFlag.Label
    ]
    assert labels == ["Printed by"]


# hands


def test_a_size_is_copied_and_pasted_to_another_photo(opened, jpeg, tmp_path):
    other = tmp_path / "other.jpg"
    other.write_bytes(jpeg.read_bytes())
    type_into(opened.margin.bodies["size"].print_size, "15x10cm")
    QTest.keyClick(opened, Qt.Key.Key_C, CTRL)
    opened.open_photos([other])
    settled(opened)
    opened.table.activate(1)
    QTest.keyClick(opened, Qt.Key.Key_V, CTRL)
    assert opened.table.current.plan().size.label == "15 × 10 cm"


def test_a_picture_and_a_file_are_pasted(window, jpeg):
    board = QApplication.clipboard()
    image = QImage(60, 40, QImage.Format.Format_RGB32)
    image.fill(Qt.GlobalColor.gray)
    board.setImage(image)
    QTest.keyClick(window, Qt.Key.Key_V, CTRL)
    until(lambda: window.table.prints)
    assert (window.table.current.facts.width, window.table.current.facts.height) == (60, 40)
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(jpeg))])
    board.setMimeData(data)
    QTest.keyClick(window, Qt.Key.Key_V, CTRL)
    until(lambda: len(window.table.prints) == 2)


def test_a_folder_opens_its_photos(window, tmp_path, jpeg):
    folder = tmp_path / "show"
    folder.mkdir()
    for name in ("b.jpg", "a.jpg", ".hidden.jpg", "notes.txt"):
        (folder / name).write_bytes(jpeg.read_bytes())
    window.open_photos([folder])
    settled(window)
    assert [one.name for one in window.table.prints] == ["a", "b"]
    empty = tmp_path / "empty"
    empty.mkdir()
    window.open_photos([empty])
    settled(window)
    assert "There are no photos in" in window.message.label.text()


def three(window, jpeg):
    for name in ("a", "b", "c"):
        path = jpeg.with_name(f"{name}.jpg")
        path.write_bytes(jpeg.read_bytes())
        window.open_photos([path])
    settled(window)


def test_photos_are_moved_in_the_row_by_keys_by_menu_and_by_a_drag(window, jpeg):
    three(window, jpeg)
    names = lambda: [one.name for one in window.table.prints]  # noqa: E731
    QTest.keyClick(window, Qt.Key.Key_PageDown, CTRL | Qt.KeyboardModifier.ShiftModifier)
    settled(window)
    assert names() == ["b", "a", "c"] and window.table.current.name == "a"
    words = menu_of(window.rack.buttons[2], QPoint(5, 5))
    words["Move left"].trigger()
    settled(window)
    assert names() == ["b", "c", "a"]
    button = window.rack.buttons[0]
    event = QDropEvent(
        QPointF(window.rack.width() - 5, 40),
        Qt.DropAction.MoveAction,
        QMimeData(),
        LEFT,
        Qt.KeyboardModifier.NoModifier,
    )
    event.source = lambda: button
    window.rack.dropEvent(event)
    settled(window)
    assert names() == ["c", "a", "b"]


def test_menus_stand_where_one_looks_for_them(opened):
    opened.table.open_line("crop")
    settled(opened)
    middle = QPoint(opened.benches.crop.width() // 2, opened.benches.crop.height() // 2)
    menu_of(opened.benches.crop, middle)["Put the subject point here"].trigger()
    x, y = opened.table.current.facts.subject
    assert 0.3 < x < 0.7 and 0.3 < y < 0.7
    menu_of(opened.benches.crop, middle)["Remove the subject point"].trigger()
    assert opened.table.current.facts.subject is None
    opened.table.open_line("sharpen")
    settled(opened)
    assert "Show the profile of this edge" in menu_of(opened.benches.loupe.panes, QPoint(40, 40))


def test_the_subject_point_is_set_by_keys_alone(opened):
    opened.table.open_line("crop")
    settled(opened)
    opened.begin_crop("mark")
    for _ in range(10):
        QTest.keyClick(opened.benches.crop, Qt.Key.Key_Left)
    QTest.keyClick(opened.benches.crop, Qt.Key.Key_Return)
    x, y = opened.table.current.facts.subject
    assert (x, y) == (Fraction(2, 5), Fraction(1, 2)) and not opened.benches.crop.mode


def test_a_line_divides_one_picture(opened):
    opened.table.open_line("sharpen")
    settled(opened)
    opened.benches.loupe.panes_switch.button("divided").click()
    settled(opened)
    panes = opened.benches.loupe.panes
    assert panes.boxes()[0] == panes.boxes()[1] and panes.boxes()[0].width() == panes.width()
    middle = QPoint(panes.width() // 2, 60)
    QTest.mousePress(panes, LEFT, pos=middle)
    QTest.mouseMove(panes, middle - QPoint(panes.width() // 4, 0))
    QTest.mouseRelease(panes, LEFT, pos=middle - QPoint(panes.width() // 4, 0))
    assert panes.divide == pytest.approx(0.25, abs=0.02)
    panes.setFocus()
    QTest.keyClick(panes, Qt.Key.Key_Right, Qt.KeyboardModifier.AltModifier)
    assert panes.divide == pytest.approx(0.30, abs=0.02)
    QTest.mousePress(opened.benches.loupe.compare, LEFT)
    assert panes.swapped
    QTest.mouseRelease(opened.benches.loupe.compare, LEFT)
    assert not panes.swapped


def test_a_press_on_a_repair_opens_it(opened):
    opened.table.open_line("pixels")
    settled(opened)
    body = opened.margin.bodies["pixels"]
    assert not body.repairs["clean"].isVisible()
    body.names["clean"].click()
    type_into(body.repairs["clean"].figure, "40")
    settled(opened)
    assert body.names["clean"].text() == "JPEG artefacts 40 %"
    type_into(body.repairs["clean"].figure, "0")
    settled(opened)
    assert body.repairs["clean"].isVisible() and body.names["clean"].text() == "JPEG artefacts"


# what is remembered


def test_place_units_tone_and_photos_are_remembered(window, jpeg):
    window.open_photos([jpeg])
    settled(window)
    window.words.units.button("in").click()
    window.words.tone.button("dim").click()
    window.resize(960, 650)
    window.close()
    theme.apply(QApplication.instance(), False)
    later = Window()
    assert later.table.units == "in"
    assert (later.width(), later.height()) == (960, 650)
    assert later.remembered.dim is True and later.remembered.recent == [str(jpeg)]
    later.show()
    later.draw_all()
    assert later.benches.invitation.isVisible() and not later.margin.isVisible()
    texts = [
        each.text()
        for each in later.benches.invitation.findChildren(QWidget)
        if hasattr(each, "text")
    ]
    assert jpeg.name in texts
    later.close()


@pytest.mark.parametrize("held", ["", "[]", '{"place": "x", "units": 3, "recent": [4]}', "\x00"])
def test_what_is_damaged_is_as_at_the_first_start(held):
    path = own_folder("state") / "window.json"
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_text(held)
    assert Remembered.load() == Remembered()


def test_a_place_off_the_screen_is_not_taken():
    Remembered(place=[90000, 90000, 1000, 700]).save()
    window = Window(Table("cm"))
    assert window.x() < 5000
    window.close()
    assert json.loads((own_folder("state") / "window.json").read_text())["place"][0] < 5000


def test_what_is_awaited_is_said(window, jpeg):
    gate = Event()
    assert not window.words.working.isVisible()
    window.reading.run(lambda job: gate.wait(60), lambda _: None)
    until(window.words.working.isVisible)
    gate.set()
    until(lambda: not window.words.working.isVisible())


# the demo


def small(tone):
    def draw(step, part):
        for share in (0.5, 1.0):
            step(share)
        return np.full((40 // part, 60 // part, 3), tone, np.uint8)

    return draw


@pytest.fixture
def tiny_demo(monkeypatch, tmp_path):
    """A demo of two photos that are drawn at once, the second behind a gate."""
    gate = Event()

    def slow(step, part):
        step(0.1)
        if part == 1:
            gate.wait(60)
        step(0.2)
        return np.full((400 // part, 600 // part, 3), 90, np.uint8)

    stored = lambda picture: demo._jpeg(picture, 90, 72, "x")  # noqa: E731
    pictures = {"glazed-wall.jpg": (2, slow, stored), "reeds.jpg": (1, small(120), stored)}
    monkeypatch.setattr(demo, "_PICTURES", pictures)
    monkeypatch.setattr(demo, "NAMES", (*pictures, demo.WEB_COPY))
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    return SimpleNamespace(gate=gate)


def test_the_demo_comes_photo_by_photo_while_one_works(window, tiny_demo, jpeg):
    window.look_at_demo()
    assert window.rack.coming == ("reeds.jpg", "glazed-wall.jpg", demo.WEB_COPY)
    until(lambda: len(window.table.prints) == 3)  # small first, while the wall is still drawn
    wall = next(one for one in window.table.prints if one.name == "glazed-wall")
    assert window.demo.under_way and (wall.facts.width, wall.facts.height) == (150, 100)
    window.open_photos([jpeg])  # one's own can be opened meanwhile
    until(lambda: len(window.table.prints) == 4)
    window.table.activate(window.table.prints.index(wall))
    window.table.take_typed("15x10cm")
    tiny_demo.gate.set()
    until(lambda: not window.demo.under_way)
    until(lambda: wall.facts.width == 600 and wall.photo is not None)
    settled(window)
    assert wall.photo.codes.shape[:2] == (400, 600) and not window.rack._coming.isVisible()
    assert wall.plan().size.label == "15 × 10 cm"  # what was decided meanwhile stays


def test_a_photo_that_could_not_be_read_while_its_file_changed_is_opened_once_more(window, jpeg):
    whole = jpeg.read_bytes()
    jpeg.write_bytes(whole[:300])
    window.open_photos([jpeg])
    settled(window)
    assert not window.table.prints
    jpeg.write_bytes(whole)
    window.opening.read_anew(jpeg)
    until(lambda: window.table.prints)
    settled(window)
    window.table.close(0)
    window.opening.read_anew(jpeg)  # what a person has closed stays closed
    settled(window)
    assert not window.table.prints


def test_drawing_the_demo_is_stopped(window, tiny_demo):
    window.look_at_demo()
    until(lambda: len(window.table.prints) == 3)
    window.rack._coming.stop.click()
    tiny_demo.gate.set()
    until(lambda: not window.demo.under_way)
    settled(window)
    wall = next(one for one in window.table.prints if one.name == "glazed-wall")
    assert Image.open(wall.facts.path).size == (150, 100)  # it stays as it was


# the first start on a machine


def test_getting_ready_is_said_until_it_is_done(opened, monkeypatch):
    code = "import sys; sys.stdin.read()"
    with subprocess.Popen([sys.executable, "-c", code], stdin=subprocess.PIPE) as work:
        monkeypatch.setattr(compile_loops, "start", lambda: work)
        opened.get_ready()
        assert (
            "Preparing this machine" in opened.message.label.text() and opened.message.isVisible()
        )
        work.stdin.close()
        until(lambda: not opened.message.isVisible())
    opened.message.say("The kiln is warm.")
    monkeypatch.setattr(compile_loops, "start", lambda: None)
    monkeypatch.setattr(loop_cache, "is_awaited", lambda: False)
    opened.get_ready()  # all was compiled before: nothing is said
    assert opened.message.label.text() == "The kiln is warm."
