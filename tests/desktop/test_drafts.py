"""What is decided in the window is never lost: it is there again, and can be dropped."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import time
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.desktop.conftest import settled, type_into, until
from zinc_margin.desktop.dialogs.batch import BatchDialog
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.shell.window import Window
from zinc_margin.docket import drafts, store
from zinc_margin.docket.docket import Docket
from zinc_margin.handoff import make as making


def drafted(photo):
    return drafts.load(photo)


def width_of(window):
    return window.table.current.plan().size.width_mm


@pytest.fixture
def another(qapp):
    """Open one more window, as on another day."""
    windows = []

    def open_(*photos):
        windows.append(Window(Table("cm")))
        windows[-1].show()
        windows[-1].open_photos(photos)
        settled(windows[-1])
        return windows[-1]

    yield open_
    for window in windows:
        window.close()
        window.close()
        window.deleteLater()


@pytest.mark.parametrize("way", ["close", "Ctrl+W", "killed"])
def test_what_was_decided_comes_back(opened, jpeg, another, way):
    type_into(opened.margin.bodies["size"].print_size, "7x5cm")
    opened.table.decide("sharpen", strength=40)
    if way == "close":
        opened.close()
    elif way == "Ctrl+W":
        QTest.keyClick(opened, Qt.Key.Key_W, Qt.KeyboardModifier.ControlModifier)
        until(lambda: not opened.busy)
    else:  # nothing is asked of the window any more; it had half a second
        until(lambda: drafted(jpeg))
    later = another(jpeg)
    assert width_of(later) == 70 and later.table.current.docket.sharpen.strength == 40
    assert "Your print settings for kiln from last time are back." in later.message.label.text()
    assert later.message.offered.isVisible()
    assert not store.beside(jpeg).exists()  # nothing is written beside the photo unasked


def test_it_is_dropped_in_one_press_which_can_be_undone(opened, jpeg, another):
    type_into(opened.margin.bodies["size"].print_size, "7x5cm")
    opened.close()
    later = another(jpeg)
    usual = Docket()
    QTest.mouseClick(later.message.offered, Qt.MouseButton.LeftButton)
    assert later.table.current.docket == usual and not later.message.isVisible()
    later.table.undo()
    assert width_of(later) == 70
    later.table.redo()
    later.close()
    assert drafted(jpeg) == ()
    assert not another(jpeg).message.isVisible()


def test_what_is_kept_beside_the_photo_is_no_draft(opened, jpeg, another):
    type_into(opened.margin.bodies["size"].print_size, "7x5cm")
    until(lambda: drafted(jpeg))
    QTest.keyClick(opened, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    until(lambda: not drafted(jpeg))
    opened.table.decide("sharpen", strength=40)
    opened.table.undo()
    opened.close()
    assert drafted(jpeg) == ()
    later = another(jpeg)
    assert width_of(later) == 70 and not later.message.isVisible()


def test_what_was_kept_since_is_newer(opened, jpeg, another):
    type_into(opened.margin.bodies["size"].print_size, "7x5cm")
    opened.close()
    store.save(Docket(), store.beside(jpeg))
    assert another(jpeg).table.current.docket == Docket()


@pytest.mark.parametrize("clock_s", [-90_000, 90_000])
def test_a_clock_that_jumps_loses_no_decision(opened, jpeg, another, clock_s):
    """Whichever time the files have: the draft changes what is saved, so it is newer."""
    store.save(Docket(), store.beside(jpeg))
    opened.close_photo()
    opened.open_photos([jpeg])
    settled(opened)
    type_into(opened.margin.bodies["size"].print_size, "7x5cm")
    opened.close()
    os.utime(drafts.place_of(jpeg), (time.time() + clock_s,) * 2)
    assert width_of(another(jpeg)) == 70


def test_two_windows_with_one_photo_and_a_damaged_draft(opened, jpeg, another):
    """Each keeps its own decisions in memory; the later one is saved, whatever lay there."""
    other = another(jpeg)
    type_into(opened.margin.bodies["size"].print_size, "7x5cm")
    until(lambda: drafted(jpeg))
    drafts.place_of(jpeg).write_bytes(b"\0{")
    type_into(other.margin.bodies["size"].print_size, "8x6cm")
    until(lambda: drafted(jpeg))
    assert width_of(opened) == 70 and width_of(other) == 80
    assert drafted(jpeg)[0].size.size.width_mm == 80
    opened.close()
    assert drafted(jpeg)


def test_versions_come_back_with_their_names(opened, jpeg, another):
    opened.table.add_version()
    opened.table.decide("file", format="jpeg")
    opened.close()
    later = another(jpeg)
    assert [each.file.format for each in later.table.current.versions] == [None, "jpeg"]
    QTest.mouseClick(later.message.offered, Qt.MouseButton.LeftButton)
    assert len(later.table.current.versions) == 1


def test_a_photo_closed_and_opened_at_once_has_its_decisions(opened, jpeg):
    type_into(opened.margin.bodies["size"].print_size, "7x5cm")
    opened.close_photo()
    opened.open_photos([jpeg])
    settled(opened)
    assert width_of(opened) == 70


def test_a_draft_that_is_damaged_stops_nothing(jpeg, another):
    path = drafts.place_of(jpeg)
    path.parent.mkdir(parents=True)
    for text in ("{", "[]", '{"zinc_margin_docket": 1, "size": {"ppi": 1e999999999}}', "\0"):
        path.write_text(text)
        assert another(jpeg).table.current is not None
    drafts.keep(jpeg, [Docket(version="a")])
    assert drafted(jpeg)[0].version == "a"


def test_a_folder_that_keeps_nothing_is_said_once(opened, jpeg, monkeypatch, tmp_path):
    blocked = tmp_path / "blocked"
    blocked.write_text("")
    monkeypatch.setenv("XDG_STATE_HOME", str(blocked))
    for width in ("7x5cm", "8x6cm"):
        type_into(opened.margin.bodies["size"].print_size, width)
        time.sleep(0.5)
        settled(opened)
    said = opened.message.label.text()
    assert said.count("Save them with Ctrl+S") == 1


def test_two_photos_of_one_name_have_their_own(tmp_path, jpeg, another):
    other = tmp_path / "other" / jpeg.name
    other.parent.mkdir()
    other.write_bytes(jpeg.read_bytes())
    drafts.keep(jpeg, [Docket(version="a")])
    drafts.keep(other, [Docket(version="b")])
    assert [each.version for each in (*drafted(jpeg), *drafted(other))] == ["a", "b"]
    link = tmp_path / "link.jpg"
    link.symlink_to(jpeg)
    assert drafted(link) == drafted(jpeg)


def slowly(monkeypatch):
    """Let a file take as long as nobody stops it."""
    rendered = making._written_partial

    def slow(part, photo, plan, job):
        while not job.cancelled:
            time.sleep(0.02)
        return rendered(part, photo, plan, job)

    monkeypatch.setattr(making, "_written_partial", slow)


def test_closing_while_a_file_is_made_asks_once(opened, jpeg, monkeypatch):
    slowly(monkeypatch)
    type_into(opened.margin.bodies["size"].print_size, "7x5cm")
    opened.make()
    assert not opened.close() and opened.isVisible()
    assert "being made" in opened.message.label.text() and opened.making.under_way
    QTest.mouseClick(opened.message.offered, Qt.MouseButton.LeftButton)
    assert not opened.isVisible()
    assert [path.name for path in jpeg.parent.iterdir()] == [jpeg.name]
    assert drafted(jpeg)


def test_taking_a_photo_out_leaves_its_file_to_be_made(opened, jpeg):
    type_into(opened.margin.bodies["size"].print_size, "7x5cm")
    opened.make()
    opened.close_photo()
    until(lambda: not opened.making.under_way)
    assert opened.making.written is not None and opened.making.written.path.is_file()


def test_closing_a_batch_asks_once(opened, monkeypatch, jpeg):
    slowly(monkeypatch)
    opened.dialogs.show_batch()
    (dialog,) = opened.findChildren(BatchDialog)
    dialog.start.click()
    until(lambda: any(item.state == "making" for item in dialog.items))
    QTest.keyClick(dialog, Qt.Key.Key_Escape)
    assert dialog.isVisible() and "Close again to stop" in dialog.sentence.text()
    QTest.keyClick(dialog, Qt.Key.Key_Escape)
    until(lambda: not dialog.isVisible())


def test_closing_the_window_stops_its_batch(opened, monkeypatch, jpeg):
    slowly(monkeypatch)
    opened.dialogs.show_batch()
    (dialog,) = opened.findChildren(BatchDialog)
    dialog.start.click()
    until(lambda: any(item.state == "making" for item in dialog.items))
    assert not opened.close() and opened.close()
    assert not dialog.isVisible()
    assert not list(jpeg.parent.rglob("*.part"))


def test_a_window_that_is_killed_has_kept_what_was_decided(jpeg, tmp_path):
    """A process of its own, killed without a word half a second after the last decision."""
    words = f"""
import sys, time
from PySide6.QtCore import QTimer
from zinc_margin.desktop.shell.application import start
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.shell.window import Window
application = start()
window = Window(Table("cm"))
window.show()
window.open_photos([{str(jpeg)!r}])
def decide():
    if window.table.current is None or window.busy:
        QTimer.singleShot(50, decide)
        return
    window.table.decide("file", format="png")
    QTimer.singleShot(100, lambda: print("decided", flush=True))
decide()
application.exec()
"""
    process = subprocess.Popen([sys.executable, "-c", words], stdout=subprocess.PIPE, text=True)
    assert process.stdout.readline() == "decided\n"
    end = time.monotonic() + 60
    while not drafted(jpeg) and time.monotonic() < end:
        time.sleep(0.02)
    process.kill()
    process.wait()
    process.stdout.close()
    assert drafted(jpeg)[0].file.format == "png"
    assert json.loads(Path(drafts.place_of(jpeg)).read_text())["file"]["format"] == "png"


def test_nothing_is_left_of_a_window_without_decisions(opened, jpeg):
    opened.table.open_line("crop")
    opened.close()
    QApplication.processEvents()
    assert not drafts.place_of(jpeg).exists()
