"""The real window, offscreen."""

from __future__ import annotations

import time

import pytest
from PySide6.QtCore import QEvent, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from zinc_margin.desktop.dialogs import printing
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.shell import message
from zinc_margin.desktop.shell.application import start
from zinc_margin.desktop.shell.window import Window


def until(condition, seconds=240):
    """Let the window live until something is so."""
    end = time.monotonic() + seconds
    while not condition():
        assert time.monotonic() < end, "it did not come to be"
        QApplication.processEvents()
        time.sleep(0.001)
    QApplication.processEvents()
    QApplication.processEvents()


def settled(window):
    """Let the window come to rest."""
    quiet = 0
    end = time.monotonic() + 240
    while quiet < 4:
        assert time.monotonic() < end
        QApplication.processEvents()
        time.sleep(0.001)
        quiet = 0 if window.busy or window.table.observers.is_stale else quiet + 1


def type_into(field, text):
    """Put other words into a field, as hands do."""
    field.setFocus()
    field.selectAll()
    QTest.keyClick(field, Qt.Key.Key_Delete)
    QTest.keyClicks(field, text)
    QTest.keyClick(field, Qt.Key.Key_Return)
    QApplication.processEvents()


@pytest.fixture(autouse=True)
def _state_of_its_own(tmp_path_factory, monkeypatch):
    """What one test decides does not come back in another."""
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path_factory.mktemp("state")))
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path_factory.mktemp("data")))
    monkeypatch.setattr(printing, "_last", [])


@pytest.fixture(autouse=True)
def _nothing_is_left(qapp):
    """Take away the windows that a test opened: each one left would slow all later tests."""
    yield
    for widget in QApplication.topLevelWidgets():
        if isinstance(widget, Window) and not widget.close():
            widget.close()  # it asks once while a file is being made
        widget.deleteLater()
    # a window that is only meant to go would be dressed anew by every later test
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
    QApplication.processEvents()


@pytest.fixture
def window(qapp):
    start()
    window = Window(Table("cm"))
    window.resize(1280, 800)
    window.show()
    yield window
    # what was held down with a gesture is held no longer: a key without modifiers says so
    QTest.keyClick(window, Qt.Key.Key_F35)


@pytest.fixture
def opened(window, jpeg):
    """A window with one photo, at rest."""
    window.open_photos([jpeg])
    settled(window)
    assert window.table.current is not None and window.table.current.photo is not None
    return window


@pytest.fixture(autouse=True)
def told_elsewhere(monkeypatch):
    """What the desktop would have been asked to show."""
    told = []
    monkeypatch.setattr(message, "send", lambda *words: told.append(words))
    return told
