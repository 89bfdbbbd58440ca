"""Remake every picture in docs/screenshots from the demo data."""

from __future__ import annotations

import os
import shutil
import sys
import tempfile
import time
from dataclasses import replace
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("CUPS_SERVER", "localhost")  # a machine with a printing service
os.environ["LANG"] = "C.UTF-8"
os.environ["XDG_DATA_HOME"] = tempfile.mkdtemp()  # nothing of one's own is shown, or changed

from demo_window import empty_window, settle
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from zinc_margin.demo import folder as demo
from zinc_margin.demo import hall
from zinc_margin.desktop.dialogs.batch import BatchDialog
from zinc_margin.desktop.dialogs.page import PageDialog
from zinc_margin.desktop.dialogs.presets import PresetDialog
from zinc_margin.desktop.dialogs.strip import StripDialog
from zinc_margin.desktop.dialogs.together import TogetherDialog
from zinc_margin.desktop.dialogs.wall import WallDialog
from zinc_margin.desktop.shell.application import start
from zinc_margin.desktop.widgets.parts import Field
from zinc_margin.docket import store

SHOTS = Path(__file__).parent / "screenshots"


def seen(dialog: PageDialog) -> None:
    """Let a dialog's page be drawn."""
    until = time.monotonic() + 60
    while dialog.page.image is None and time.monotonic() < until:
        QApplication.processEvents()
        time.sleep(0.02)


def typed(field: Field, words: str) -> None:
    """Type into a field, and take it."""
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, words)
    QTest.keyClick(field, Qt.Key.Key_Return)


def as_new(folder: Path) -> None:
    """Copy the demo's photos, with the dockets that they come with, whatever became of them."""
    for photo in demo.write_demo(demo.cache_folder()):
        shutil.copy2(photo, folder)
        store.save(demo.dockets()[photo.name], store.beside(folder / photo.name))


def main(goal: Path) -> None:
    """Drive the real window through its lines and take its picture at each."""
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as folder:
        as_new(Path(folder))
        shown(Path(folder), goal)


def shown(folder: Path, goal: Path) -> None:
    """Take the pictures of the demo in a folder."""
    application = start()
    window = empty_window()
    goal.mkdir(parents=True, exist_ok=True)
    settle(window)
    window.grab().save(str(goal / "start.png"))
    window.open_photos([folder / name for name in demo.NAMES])
    settle(window)

    def shoot(name: str, photo: str, line: str, place: tuple[float, float] = (0.5, 0.5)) -> None:
        window.table.activate(demo.NAMES.index(photo))
        window.table.open_line(line)
        settle(window)
        window.benches.loupe.look_at(*place)
        settle(window)
        window.grab().save(str(goal / f"{name}.png"))

    shoot("photo", demo.WEB_COPY, "photo")
    shoot("size", "estuary-dawn.tif", "size")
    window.table.choose(window.table.prints)
    shoot("compare", "estuary-dawn.tif", "size")
    window.table.choose([])
    shoot("crop", "estuary-dawn.tif", "crop")
    shoot("pixels", demo.WEB_COPY, "pixels", (0.45, 0.4))
    window.table.activate(demo.NAMES.index(demo.WEB_COPY))
    window.benches.loupe.toggle_veil()
    shoot("invented", demo.WEB_COPY, "pixels", (0.45, 0.4))
    window.benches.loupe.toggle_veil()
    shoot("sharpen", "stacked-bowls.jpg", "sharpen", (0.33, 0.42))
    window.dialogs.make_strip()
    (strip,) = window.findChildren(StripDialog)
    strip.resize(980, 720)
    seen(strip)
    strip.grab().save(str(goal / "strip.png"))
    strip.reject()
    shoot("finish", "potters-bench.jpg", "finish")
    for name, photo, view in (
        ("folded", "kiln-lichen.jpg", "folded"),
        ("wall", "kiln-lichen.jpg", "wall"),
        ("pieces", "waterfront.jpg", "pieces"),
    ):
        window.table.activate(demo.NAMES.index(photo))
        settle(window)
        window.benches.sheet.show_view(view)
        shoot(name, photo, "finish")
    window.table.activate(demo.NAMES.index("kiln-lichen.jpg"))
    settle(window)
    window.benches.sheet.hang()
    (wall,) = window.findChildren(WallDialog)
    wall.open_room(demo.cache_folder() / demo.HALL)
    while wall.room is None:
        QApplication.processEvents()
    wall.page.marks = replace(wall.page.marks, corners=hall.door_corners())
    wall.page.middle = (860.0, 640.0)
    typed(wall.sides, "90 x 206 cm")
    wall.resize(1040, 760)
    shown_in = time.monotonic() + 3
    while time.monotonic() < shown_in:
        QApplication.processEvents()
    wall.grab().save(str(goal / "own-wall.png"))
    wall.reject()
    window.benches.sheet.show_view("sheet")
    window.table.choose([])
    window.table.activate(demo.NAMES.index("potters-bench.jpg"))
    window.dialogs.lay_together()
    (rack,) = window.findChildren(TogetherDialog)
    rack.ways.button("sizes").click()
    typed(rack.asked, "two 13 x 18, two 9 x 13, four passport on A3")
    rack.marks.button("yes").click()
    rack.resize(1040, 760)
    seen(rack)
    rack.grab().save(str(goal / "together.png"))
    rack.reject()
    shoot("file", "estuary-dawn.tif", "file")
    window.dialogs.show_presets()
    (preset,) = window.findChildren(PresetDialog)
    preset.list.setCurrentRow(1)
    settle(window)
    preset.grab().save(str(goal / "presets.png"))
    preset.reject()
    with tempfile.TemporaryDirectory() as made:
        window.dialogs.show_batch()
        (run,) = window.findChildren(BatchDialog)
        run.preset.setCurrentIndex(run.preset.findData("Lab order, 30 × 20 cm"))
        run.preset.activated.emit(run.preset.currentIndex())
        run.where.folder = Path(made)
        run.where.setText("prints")
        settle(window)
        run.grab().save(str(goal / "crops.png"))
        run.begin()
        end = time.monotonic() + 120
        while run.progress.value() < 4 and time.monotonic() < end:
            QApplication.processEvents()
            time.sleep(0.01)
        run.where.setText("prints")
        run.grab().save(str(goal / "batch.png"))
        run.reject()
    window.close()
    application.quit()


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else SHOTS)
