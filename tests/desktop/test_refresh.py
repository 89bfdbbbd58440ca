"""What a change draws anew: what depends on it, without a look at the disk."""

from __future__ import annotations

import builtins
import io
import os
import threading
from dataclasses import replace
from fractions import Fraction

import pytest
from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from tests.desktop.conftest import settled, type_into, until
from zinc_margin.desktop.model.events import DocketChanged
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.shell.application import start
from zinc_margin.desktop.shell.window import Window
from zinc_margin.docket.docket import LINES
from zinc_margin.handoff import names
from zinc_margin.keeping.folders import own_folder
from zinc_margin.measure.sizes import parse_size


@pytest.fixture
def disk(monkeypatch):
    """Every look at the disk that the window's own thread takes."""
    looks = []

    def watched(call, name):
        def look(*args, **options):
            if threading.current_thread() is threading.main_thread():
                looks.append((name, args[:1]))
            return call(*args, **options)

        return look

    for name in ("stat", "lstat", "listdir", "scandir", "access", "open"):
        monkeypatch.setattr(os, name, watched(getattr(os, name), name))
    for module in (builtins, io):
        monkeypatch.setattr(module, "open", watched(module.open, "open"))
    return looks


@pytest.mark.parametrize("line", LINES)
def test_a_refresh_touches_no_disk(opened, disk, line):
    opened.table.decide("pixels", method="mitchell")  # rendering is not what is looked at
    opened.table.decide("size", size=parse_size("18x12cm"))
    opened.table.open_line(line)
    settled(opened)
    disk.clear()
    for changes in (
        ("size", {"size": parse_size("15x10cm")}),
        ("crop", {"turn": Fraction(1)}),
        ("sharpen", {"paper": "matt"}),
        ("finish", {"bleed_mm": Fraction(3)}),
        ("file", {"format": "png"}),
        ("file", {"rule": "{name}-{paper}"}),
    ):
        opened.table.decide(changes[0], **changes[1])
        settled(opened)
    assert disk == []


def test_a_name_that_is_taken_is_counted_up_as_soon_as_it_is_known(opened):
    table = opened.table
    table.open_line("file")
    table.decide("size", size=parse_size("15x10cm"))
    settled(opened)
    one = table.current
    first = opened.goals.path(one, one.plan())
    assert first == names.first_goal(one.facts.path, one.plan())
    first.write_bytes(b"there")
    opened.goals.forget()
    table.decide("size", size=parse_size("15x10cm"), ppi=Fraction(200))
    until(lambda: opened.goals.path(one, one.plan()) != first)
    assert opened.goals.path(one, one.plan()) == names.goal(one.facts.path, one.plan())
    assert opened.goals.path(one, one.plan()).stem == f"{first.stem}-2"
    settled(opened)
    assert first.read_bytes() == b"there"


def test_a_change_says_which_lines_it_changed(opened):
    told = []
    opened.table.subscribe(told.append)
    opened.table.decide("crop", turn=Fraction(2))
    opened.table.decide("crop", turn=Fraction(2))  # nothing is changed by that
    QTest.keyClick(opened, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    settled(opened)
    changes = [event for event in told if isinstance(event, DocketChanged)]
    assert changes == [DocketChanged(frozenset({"crop"}))] * 2


@pytest.fixture
def painted(opened):
    """Every part of the window that is painted, by its class, apart from those inside others."""
    seen = []

    class Watch(QObject):
        def eventFilter(self, watched, event):
            if event.type() == QEvent.Type.Paint and isinstance(watched, QWidget):
                seen.append(watched)
            return False

    watch = Watch(opened)
    QApplication.instance().installEventFilter(watch)
    yield seen
    QApplication.instance().removeEventFilter(watch)


def test_a_decision_paints_the_lines_that_it_changed_and_the_bench(opened, painted):
    """Pressing R swaps the size: its consequences change lines; the words and others stay."""
    table = opened.table
    table.decide("size", size=parse_size("18x12cm"))
    settled(opened)
    heads = {line: opened.margin.lines[line].head for line in LINES}
    before = {line: head.entry for line, head in heads.items()}
    painted.clear()
    QTest.keyClick(opened, Qt.Key.Key_R)
    settled(opened)
    changed = {line for line, head in heads.items() if head.entry != before[line]}
    assert "size" in changed and len(changed) < len(LINES)
    in_view = {line for line, head in heads.items() if not head.visibleRegion().isEmpty()}
    assert {line for line, head in heads.items() if head in painted} == changed & in_view
    assert opened.benches.ladder.nest in painted
    assert opened.margin.heading not in painted and opened.words not in painted
    assert not any(button in painted for button in opened.words.findChildren(QWidget))


def test_what_does_not_show_the_change_is_not_painted(opened, painted):
    """A look at the crop is none of the rack's business."""
    opened.table.open_line("crop")
    settled(opened)
    painted.clear()
    QTest.keyClick(opened, Qt.Key.Key_G)
    settled(opened)
    assert opened.rack.buttons[0] not in painted and opened.margin.foot not in painted
    assert opened.benches.crop in painted
    opened.table.decide("crop", turn=Fraction(1))
    settled(opened)
    assert opened.rack.buttons[0] in painted


def test_a_drag_is_one_step_back(opened):
    table = opened.table
    before = table.current.docket
    table.begin_drag()
    for turn in (1, 2, 3):
        table.slide(replace(before, crop=replace(before.crop, turn=Fraction(turn))))
    table.end_drag()
    settled(opened)
    assert table.current.docket.crop.turn == 3
    QTest.keyClick(opened, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert table.current.docket == before
    QTest.keyClick(opened, Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier)
    assert table.current.docket.crop.turn == 3


def test_a_broken_lab_is_said_and_the_window_starts(tmp_path, monkeypatch, qapp):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    path = own_folder("data") / "labs" / "kiln.json"
    path.parent.mkdir(parents=True)
    path.write_text('{"key": "lab:kiln", "ppi": "1e999999999"}')
    start()
    window = Window(Table("cm"))
    window.show()
    settled(window)
    assert "kiln.json does not describe a lab" in window.message.label.text()
    window.close()


def test_closed_lines_are_built_when_needed_and_survive_a_change_of_light(opened):
    margin = opened.margin
    built = [name for name, body in margin.bodies.items() if body.is_built]
    assert built == [opened.table.line]
    for line in ("crop", "file", "size"):
        opened.table.open_line(line)
        settled(opened)
    quality = margin.bodies["file"].quality
    opened.toggle_dim()
    settled(opened)
    assert [name for name, body in margin.bodies.items() if body.is_built] == ["size"]
    opened.toggle_dim()
    settled(opened)
    assert opened.updatesEnabled()
    opened.table.open_line("crop")
    settled(opened)
    before = opened.table.current.docket.crop
    QTest.keyClick(opened, "[")  # a key's action outlives the controls of its line
    settled(opened)
    assert opened.table.current.docket.crop != before
    opened.table.open_line("file")
    settled(opened)
    assert margin.bodies["file"].quality is not quality
    type_into(margin.bodies["file"].name, "kiln")
    settled(opened)
    assert opened.table.current.docket.file.name == "kiln"
    margin.bodies["file"].be_discarded()
    assert margin.bodies["file"].name.text() == ""  # a control is built when it is asked for
