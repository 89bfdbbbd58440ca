"""Whatever hands decide in the window, its margin describes the file that is made."""

from __future__ import annotations

import json
import os
import shutil
import tempfile
from pathlib import Path

import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QRadioButton, QSlider, QWidget

from tests.desktop.conftest import settled, type_into
from tests.promises.cases import SIZES, WAYS, photos, write_photos
from tests.promises.promises import Told, broken, broken_name
from tests.promises.reading import found_in
from tests.promises.test_promises import is_small, made_files
from zinc_margin.commands.as_json import plan_report
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.shell.application import start
from zinc_margin.desktop.shell.window import Window
from zinc_margin.desktop.widgets.parts import Choice, Field, Link
from zinc_margin.docket.docket import LINES

CASES = int(os.environ.get("ZINC_PROMISES", "40"))
few = settings(
    max_examples=max(8, CASES // 4),
    suppress_health_check=[
        HealthCheck.too_slow,
        HealthCheck.filter_too_much,
        HealthCheck.function_scoped_fixture,
    ],
)
LEFT = Qt.MouseButton.LeftButton
WORDS = (
    *SIZES,
    *WAYS,
    "6x4cm 110 ppi",
    "3x2in matt",
    "96 ppi",
    "20",
    "3mm",
    "0.2 in",
    "60 cm",
    "20 kB",
    "Kiln 4",
    "12 x 9",
)
PRESSES = st.lists(
    st.tuples(st.sampled_from(tuple(LINES)), st.integers(0, 40), st.integers(0, len(WORDS) - 1)),
    max_size=7,
)


def controls(body: QWidget) -> list[QWidget]:
    """Everything that can be pressed, typed into or moved, from top to bottom."""
    rows = [
        each
        for each in body.findChildren(QWidget)
        if each.isVisible() and each.isEnabled() and _is_control(each)
    ]
    return sorted(rows, key=lambda each: each.mapTo(body, each.rect().topLeft()).toTuple()[::-1])


def _is_control(part: QWidget) -> bool:
    if isinstance(part, Link):
        return not part.text().endswith("…")  # what opens a dialog
    return isinstance(part, (QRadioButton, Field, QSlider, Choice))


def press(window: Window, line: str, which: int, word: int) -> None:
    """Open a line, and use one of its controls as hands do."""
    if window.table.line != line:
        QTest.mouseClick(window.margin.lines[line].head, LEFT)
    settled(window)
    rows = controls(window.margin.bodies[line])
    if not rows:
        return
    part = rows[which % len(rows)]
    if isinstance(part, Field):
        type_into(part, WORDS[word])
    elif isinstance(part, QSlider):
        QTest.keyClick(part, Qt.Key.Key_PageUp if word % 2 else Qt.Key.Key_Right)
    elif isinstance(part, Choice):
        for _ in range(word % 5):
            QTest.keyClick(part, Qt.Key.Key_Down)
    else:
        QTest.mouseClick(part, LEFT)
    settled(window)


def told_by(window: Window) -> Told:
    """What the margin shows, with the figures of its plan."""
    one, margin = window.table.current, window.margin
    lines = {
        name: (line.head.entry.decision, line.head.entry.consequence)
        for name, line in margin.lines.items()
    }
    report = json.loads(json.dumps(plan_report(one.facts, one.shown_plan())))
    parts = margin.foot.parts.text().partition(", about ")[0]
    return Told(report, (margin.foot.total.text(), parts), lines)


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    return write_photos(tmp_path_factory.mktemp("photos"))


@pytest.fixture
def no_dialogs(monkeypatch):
    """Dialogs of the system are left without an answer."""
    for name in ("getOpenFileName", "getSaveFileName"):
        monkeypatch.setattr(QFileDialog, name, staticmethod(lambda *asked, **known: ("", "")))
    monkeypatch.setattr(
        QFileDialog, "getExistingDirectory", staticmethod(lambda *asked, **known: "")
    )


@pytest.mark.usefixtures("no_dialogs")
@few
@given(
    st.sampled_from(sorted(photos())),
    st.sampled_from((*SIZES, *WAYS)),
    PRESSES,
    st.sampled_from(("cm", "in")),
)
def test_the_margin_keeps_its_promises(qapp, folder, name, size, presses, units):
    start()
    with tempfile.TemporaryDirectory() as place:
        photo = Path(place) / name
        shutil.copy(folder / name, photo)
        window = Window(Table(units))
        window.resize(1280, 800)
        window.show()
        try:
            wrong = by_hands(window, photo, size, presses)
        finally:
            window.close()
            window.close()
            window.deleteLater()
            QApplication.processEvents()
    assert not wrong, "\n".join(wrong)


def by_hands(window: Window, photo: Path, size: str, presses) -> list[str]:
    """Decide by hand, make the file, and return all promises that were broken."""
    window.open_photos([photo])
    settled(window)
    table = window.table
    type_into(window.margin.bodies["size"].print_size, size)
    settled(window)
    for line, which, word in presses:
        press(window, line, which, word)
    plan = table.current.plan()
    if not is_small(plan):
        table.decide("size", ppi=72)
        settled(window)
        plan = table.current.plan()
    assume(is_small(plan))
    assume(plan.file.format != "pdf" or plan.pieces is None)
    before = told_by(window)
    kept = set(photo.parent.rglob("*"))
    QTest.mouseClick(window.margin.foot.make, LEFT)
    settled(window)
    files = [path for path in made_files(photo.parent, plan.file.format) if path not in kept]
    said = window.margin.foot.said.text()
    if not files:
        assert said.endswith(".") and not said.startswith("Written")
        return []
    found = [found_in(path) for path in files]
    wrong = [] if before.uncertain else [f"before: {one}" for one in broken(before, found)]
    wrong += [f"after: {one}" for one in broken(told_by(window), found)]
    if plan.pieces is None:
        if files[0].name not in said:
            wrong.append(f"foot: {said}, found {files[0].name}")
        if plan.settled.file.name is None:
            wrong += broken_name(files[0], before, plan.settled.file.rule)
    return wrong
