"""The ladder in the real window: its nest, its table, several photos, sizes of one's own."""

from __future__ import annotations

import json
from fractions import Fraction

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QEvent, QPointF, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.desktop.conftest import settled
from tests.desktop.test_window import LEFT, body, drag, heads, key, link, type_into
from zinc_margin.desktop.bench.nest_layout import edges_of
from zinc_margin.desktop.dialogs.apply import ApplyDialog
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.shell.window import Window
from zinc_margin.keeping.own import OwnSizes
from zinc_margin.measure.distances import Seen
from zinc_margin.plan.text.notes import note_text

CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


@pytest.fixture(scope="module")
def estuary(tmp_path_factory):
    """A photo of six megapixels, which is measured once for all."""
    path = tmp_path_factory.mktemp("photos") / "estuary.png"
    Image.fromarray(np.full((2000, 3000, 3), 120, np.uint8)).save(path)
    return path


@pytest.fixture
def wide(window, estuary):
    window.open_photos([estuary])
    settled(window)
    key(window, "2")
    type_into(body(window, "size").print_size, "30x20cm")
    settled(window)
    return window


def point(widget, place: QPointF):
    none = Qt.MouseButton.NoButton
    plain = Qt.KeyboardModifier.NoModifier
    at = widget.mapToGlobal(place)
    event = QMouseEvent(QEvent.Type.MouseMove, place, at, none, none, plain)
    QApplication.sendEvent(widget, event)


def place(window, width_mm, height_mm):
    one = window.table.current
    return window.benches.ladder.nest.rect_of(one, width_mm, height_mm).topRight()


def size_of(window):
    size = window.table.current.plan().size
    return float(size.width_mm), float(size.height_mm)


def test_any_place_of_the_nest_is_a_print(wide):
    nest = wide.benches.ladder.nest
    at = place(wide, 337, 141)
    point(nest, at)
    readout = wide.benches.ladder.readout.text()
    assert readout.startswith("33.") and "ppi" in readout and "trimmed" in readout
    QTest.mouseClick(nest, LEFT, pos=at.toPoint())
    settled(wide)
    assert size_of(wide) == (pytest.approx(337, abs=3), pytest.approx(141, abs=3))
    point(nest, QPointF(3, 3))
    assert "graded as seen from its own diagonal" in wide.benches.ladder.readout.text()


def test_near_the_diagonal_the_photos_shape_is_taken(wide):
    wide.benches.ladder.family.setCurrentIndex(wide.benches.ladder.family.findData("card"))
    wide.benches.ladder.refresh()
    settled(wide)
    QTest.mouseClick(wide.benches.ladder.nest, LEFT, pos=place(wide, 261, 175).toPoint())
    settled(wide)
    width, height = size_of(wide)
    assert width / height == pytest.approx(1.5, abs=1e-9)
    assert wide.table.current.plan().trimmed_share == 0


def test_edges_of_the_chosen_print_are_pulled_one_side_at_a_time(wide):
    nest = wide.benches.ladder.nest
    right = place(wide, 300, 100)
    drag(nest, right, right + QPointF(40, 3))
    width, height = size_of(wide)
    assert width > 305 and height == 200
    top = place(wide, 60, 200)
    drag(nest, top, top + QPointF(2, -30))
    assert size_of(wide)[0] == width and size_of(wide)[1] > 205
    QTest.keyClick(wide, Qt.Key.Key_Z, CTRL)
    QTest.keyClick(wide, Qt.Key.Key_Z, CTRL)
    assert size_of(wide) == (300, 200)


@pytest.mark.parametrize("kind", ["asked", "floor", "eye"])
def test_a_reach_edge_moves_its_figure(wide, kind):
    nest, one = wide.benches.ladder.nest, wide.table.current
    edge = next(edge for edge in edges_of(wide.table, one) if edge.kind == kind)
    before = one.docket.size
    start = place(wide, edge.width_mm, edge.height_mm)
    drag(nest, start, start + QPointF(-24, 16))
    line, plan = one.docket.size, one.plan()
    assert line.size == before.size
    if kind == "eye":
        assert line.distance.far_mm < 360 and plan.far_ppi > 240
    elif kind == "asked":
        assert line.ppi > 300 and plan.target_ppi == line.ppi
    else:
        assert line.floor > 180 and plan.target_ppi == 300
    QTest.keyClick(wide, Qt.Key.Key_Z, CTRL)
    assert one.docket.size == before


@pytest.mark.parametrize("size", [(1024, 700), (1280, 800), (2560, 1440)])
@pytest.mark.parametrize("units", ["cm", "in", "px/cm"])
def test_labels_of_the_nest_never_touch(wide, size, units):
    wide.resize(*size)
    wide.table.use_units(units)
    wide.benches.ladder.family.setCurrentIndex(0)
    wide.benches.ladder.refresh()
    for words in ("30x20cm", "13x18cm", "1 m wide"):
        type_into(body(wide, "size").print_size, words)
        settled(wide)
        wide.grab()
        labels = wide.benches.ladder.nest.labels
        assert len(labels) > 8
        for index, one in enumerate(labels):
            assert not any(one.intersects(other) for other in labels[index + 1 :])


def test_the_table_says_why_and_by_how_much(wide):
    model = wide.benches.ladder.model
    row = next(i for i, rung in enumerate(model.meanings) if rung.size.label == "60 × 40 cm")
    cells = [model.data(model.index(row, column), 0) for column in range(model.columnCount())]
    assert cells == ["60 × 40 cm", "0 %", "127", "2.36 ×", "69 cm", "from a distance"]
    tip = model.data(model.index(row, 0), Qt.ItemDataRole.ToolTipRole)
    assert "looks sharp from 69 cm" in tip and "soft from nearer" in tip
    helps = [
        model.headerData(column, Qt.Orientation.Horizontal, Qt.ItemDataRole.ToolTipRole)
        for column in range(model.columnCount())
    ]
    assert all(helps)


def test_where_it_is_printed_and_from_where_it_is_seen(wide):
    size = body(wide, "size")
    size.maker.setCurrentIndex(size.maker.findData("roll-half"))
    size.maker.activated.emit(size.maker.currentIndex())
    settled(wide)
    plan = wide.table.current.plan()
    assert (plan.target_ppi, plan.floor_ppi) == (150, 150)
    type_into(size.distance, "across a room")
    settled(wide)
    assert wide.table.current.docket.size.distance == Seen(Fraction(2000), Fraction(4000))
    assert (size.distance.text(), size.seen_hint.text()) == ("2–4 m", "across a room")
    type_into(size.distance, "70-110 cm")
    settled(wide)
    assert wide.table.current.docket.size.distance == Seen(Fraction(700), Fraction(1100))
    assert (size.distance.text(), size.seen_hint.text()) == ("70–110 cm", "")
    type_into(size.distance, "")
    settled(wide)
    assert wide.table.current.docket.size.distance is None
    assert size.seen_hint.text() == "by its size"
    type_into(size.ppi, "100 px/cm")
    assert wide.table.current.plan().target_ppi == 254
    assert size.target_hint.text() == "instead of 150 ppi"
    type_into(size.spill, "3")
    assert wide.table.current.docket.size.overspill_mm == 3
    assert any("Borderless" in note_text(note) for note in wide.table.current.plan().notes)
    type_into(size.spill, "no")
    assert wide.table.current.docket.size.overspill_mm is None


def test_typing_which_way_it_lies_and_a_files_size(wide):
    field = body(wide, "size").print_size
    type_into(field, "A4 portrait")
    settled(wide)
    assert size_of(wide) == (210, 297)
    type_into(field, "A4")
    assert size_of(wide) == (297, 210)
    type_into(field, "2 MB")
    settled(wide)
    assert wide.table.current.docket.file.max_bytes == 2_000_000
    assert size_of(wide) == (297, 210)
    assert "At most 2 MB" in heads(wide)["file"].consequence
    key(wide, "7")
    type_into(body(wide, "file").most, "")
    assert wide.table.current.docket.file.max_bytes is None


def test_resolutions_can_be_shown_per_centimetre(wide):
    key(wide, "1")
    key(wide, "U")
    assert wide.table.units == "in"
    key(wide, "U")
    assert wide.table.units == "px/cm"
    assert "Good: 100 px/cm, sharp from" in heads(wide)["size"].consequence
    assert "cm" in heads(wide)["size"].decision
    assert "ppi" not in wide.margin.foot.total.text()


def test_notes_speak_in_the_units_shown(opened):
    key(opened, "1")
    key(opened, "U")
    notes = opened.table.current.plan().notes
    told = [note_text(note, "in") for note in notes if note.code == "tag-is-a-note"]
    shown = [
        label.text() for label in body(opened, "photo").findChildren(type(opened.message.label))
    ]
    assert told[0] in shown and " in wide" in told[0] and "cm" not in told[0]


@pytest.fixture
def three(wide, tmp_path):
    paths = []
    for name, shape in (("tall", (1500, 1000, 3)), ("tiny", (40, 60, 3))):
        paths.append(tmp_path / f"{name}.png")
        Image.fromarray(np.full(shape, 90, np.uint8)).save(paths[-1])
    wide.open_photos(paths)
    settled(wide)
    return wide


def test_several_photos_at_one_size(three):
    buttons, model = three.rack.buttons, three.benches.ladder.model
    QTest.mouseClick(buttons[2], LEFT, CTRL)
    settled(three)
    assert [one.name for one in three.table.chosen] == ["estuary", "tiny"]
    QTest.mouseClick(buttons[2], LEFT, SHIFT)
    settled(three)
    rows = [[model.data(model.index(row, column), 0) for column in (0, 2, 5)] for row in range(3)]
    assert rows == [
        ["estuary", "254", "good"],
        ["tall", "127", "from a distance"],
        ["tiny", "5.1", "too few pixels"],
    ]
    assert three.rack.buttons[1].accessibleName().endswith("chosen")
    kinds = [edge.kind for edge in edges_of(three.table, three.table.current)]
    assert kinds == ["photo"] * 3
    three.grab()
    QTest.mouseClick(three.benches.ladder.size_for_all, LEFT)
    settled(three)
    sizes = [
        (float(p.plan().size.width_mm), float(p.plan().size.height_mm)) for p in three.table.prints
    ]
    assert sizes == [(300, 200), (200, 300), (300, 200)]
    row = model.index(1, 0)
    QTest.mouseClick(
        three.benches.ladder.view.viewport(),
        LEFT,
        pos=three.benches.ladder.view.visualRect(row).center(),
    )
    settled(three)
    assert three.table.current.name == "tall" and len(three.table.chosen) == 3
    QTest.keyClick(three, Qt.Key.Key_Z, CTRL)
    labels = [one.plan().size.label for one in three.table.prints]
    assert "20 × 30 cm" not in labels and labels.count("30 × 20 cm") == 1  # one undo for all
    QTest.keyClick(three, Qt.Key.Key_Y, CTRL)
    labels = [one.plan().size.label for one in three.table.prints]
    assert labels == ["30 × 20 cm", "20 × 30 cm", "30 × 20 cm"]
    QTest.mouseClick(link(three.benches.ladder, "this photo only"), LEFT)
    settled(three)
    assert three.table.chosen == [] and model.headerData(0, Qt.Orientation.Horizontal, 0) == "size"


def test_more_than_the_size_is_applied_as_it_is_ticked(three):
    three.table.decide("size", maker="canvas", ppi=Fraction(200))
    three.table.decide("file", format="png", name="of-its-own")
    three.table.decide("crop", place_x=Fraction(1, 4))
    three.table.choose(three.table.prints)
    settled(three)
    QTest.mouseClick(three.benches.ladder.size_for_all, LEFT)
    assert [one.docket.size.maker for one in three.table.prints] == ["canvas", None, None]
    three.table.undo()
    QTest.mouseClick(three.benches.ladder.more_for_all, LEFT)
    (dialog,) = three.findChildren(ApplyDialog)
    for box in dialog.boxes.values():
        box.setChecked(False)
    assert not dialog.apply.isEnabled()
    for part in ("paper", "file"):
        dialog.boxes[part].setChecked(True)
    before = [one.docket for one in three.table.prints]
    QTest.mouseClick(dialog.apply, LEFT)
    settled(three)
    for one, old in zip(three.table.prints[1:], before[1:], strict=True):
        assert one.docket.size.size == old.size.size and one.docket.crop == old.crop
        assert (one.docket.size.maker, one.docket.size.ppi) == ("canvas", 200)
        assert (one.docket.file.format, one.docket.file.name) == ("png", None)
    three.table.activate(1)
    three.table.undo()
    settled(three)
    assert [one.docket for one in three.table.prints] == before


def test_an_automatic_size_is_compared_as_it_came_to(three):
    three.table.choose(three.table.prints)
    settled(three)
    own = three.table.current.plan().size
    sides = {own.width_mm, own.height_mm}
    carried = three.table.carried()
    assert len(carried) == 3
    assert all({row.plan.size.width_mm, row.plan.size.height_mm} == sides for row in carried)
    three.table.apply_to_chosen()
    for row, one in zip(carried, three.table.prints, strict=True):
        assert one.plan().grade == row.plan.grade
        assert one.plan().trimmed_share == row.plan.trimmed_share


def test_closing_chosen_photos_ends_the_comparison(three):
    three.setFocus()
    QTest.keyClick(three, Qt.Key.Key_A, CTRL)
    assert len(three.table.chosen) == 3
    three.table.close(2)
    three.table.close(1)
    settled(three)
    assert three.table.chosen == [] and three.benches.ladder.view.isVisible()


def test_sizes_of_ones_own(wide, tmp_path):
    wide.table._own = OwnSizes(tmp_path / "mine" / "sizes.json")
    ladder = wide.benches.ladder
    ladder.family.setCurrentIndex(ladder.family.findData("mine"))
    ladder.refresh()
    settled(wide)
    assert "None yet" in ladder.mine.said.text()
    type_into(body(wide, "size").print_size, "54x36cm")
    settled(wide)
    type_into(ladder.mine.name, "House size")
    settled(wide)
    assert (
        json.loads((tmp_path / "mine" / "sizes.json").read_text())["sizes"][0]["label"]
        == "House size"
    )
    assert [rung.size.label for rung in ladder.model.meanings] == ["House size"]
    type_into(body(wide, "size").print_size, "30x20cm")
    type_into(body(wide, "size").print_size, "house size")
    settled(wide)
    assert wide.table.current.plan().size.width_mm == Fraction(540)
    QTest.keyClicks(ladder.mine.name, "Hall size")
    QTest.mouseClick(ladder.mine.rename, LEFT)
    settled(wide)
    assert [rung.size.label for rung in ladder.model.meanings] == ["Hall size"]
    QTest.keyClicks(ladder.mine.name, "A4")
    QTest.mouseClick(ladder.mine.keep, LEFT)
    assert "already exists. Choose another name" in ladder.mine.said.text()
    (tmp_path / "odd.json").write_text("{")
    ladder.mine.import_file(tmp_path / "odd.json")
    assert "left unchanged" in ladder.mine.said.text()
    type_into(body(wide, "size").print_size, "hall size")
    settled(wide)
    QTest.mouseClick(ladder.mine.remove, LEFT)
    settled(wide)
    assert wide.table.own.all == ()


def test_blocks_are_shown_where_they_are(window, tmp_path, scene):
    path = tmp_path / "copy.jpg"
    Image.fromarray(scene(640, 420)).resize((1280, 840)).save(path, quality=12)
    window.open_photos([path])
    settled(window)
    key(window, "1")
    window.grab()
    told = body(window, "photo")
    assert "Looking" not in told._clean.text()
    QTest.mouseClick(link(told, "show the artefacts"), LEFT)
    settled(window)
    assert window.table.line == "pixels"
    x, y = next(
        (x, y) for name, x, y in window.table.current.facts.measured.places if name == "blocks"
    )
    assert window.benches.loupe.centre == (
        pytest.approx(x / 1280, abs=0.02),
        pytest.approx(y / 840, abs=0.02),
    )
    key(window, "1")
    window.grab()
    spot, _ = window.benches.photo.marks[0]
    window.benches.loupe.look_at(0, 0)
    QTest.mouseClick(window.benches.photo, LEFT, pos=spot.center().toPoint())
    settled(window)
    assert window.table.line == "pixels" and window.benches.loupe.centre != (0, 0)


def test_mats_and_overspill_are_drawn(wide):
    key(wide, "6")
    plain = wide.benches.sheet.grab().toImage()
    wide.table.decide("size", overspill_mm=Fraction(8))
    settled(wide)
    spilled = wide.benches.sheet.grab().toImage()
    assert spilled != plain
    wide.table.decide("size", overspill_mm=None)
    key(wide, "2")
    type_into(body(wide, "size").print_size, "Mat 27 × 36 cm")
    key(wide, "6")
    assert "frame 50 × 40 cm" in body(wide, "finish")._sentence.text()
    framed = wide.benches.sheet.grab().toImage()
    assert framed != plain


def test_without_a_photo_sizes_say_what_they_ask_for(qtbot):
    window = Window(Table("cm"))
    qtbot.addWidget(window)
    window.show()
    settled(window)
    model = window.benches.ladder.model
    window.benches.ladder.search.setText("50 x 70")
    settled(window)
    cells = [model.data(model.index(0, column), 0) for column in range(6)]
    assert cells == ["50 × 70 cm", "49", "300", "", "86 cm", "5906 × 8268"]
    place = window.benches.ladder.view.visualRect(model.index(0, 0)).center()
    QTest.mouseClick(window.benches.ladder.view.viewport(), LEFT, pos=place)
    assert "target of a lab" in window.benches.ladder.readout.text()


def test_the_units_typed_first_are_the_units_shown(window, estuary):
    window.open_photos([estuary])
    settled(window)
    key(window, "2")
    size = body(window, "size")
    assert window.benches.ladder.family.currentData() == "photo" and window.table.units == "cm"
    type_into(size.print_size, "12x8 in")
    settled(window)
    assert window.table.units == "in" and window.benches.ladder.family.currentData() == "photo inch"
    assert "in" in size.spill_hint.text() and "1/2 in" in size.print_size.toolTip()
    type_into(size.print_size, "30x20 cm")  # the first counts, then the switch
    settled(window)
    assert window.table.units == "in"
