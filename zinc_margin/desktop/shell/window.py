"""The window: rack at the top, margin on the left, bench on the right."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from contextlib import suppress
from functools import partial
from operator import methodcaller
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QRect, QSize, Qt, QTimer, QUrl
from PySide6.QtGui import QCloseEvent, QDesktopServices, QDragEnterEvent, QDropEvent
from PySide6.QtWidgets import (
    QApplication,
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QMainWindow,
    QVBoxLayout,
    QWidget,
)

from zinc_margin.desktop.dialogs.dialogs import Dialogs
from zinc_margin.desktop.margin.bodies import SizeBody
from zinc_margin.desktop.margin.column import Margin
from zinc_margin.desktop.margin.crop_body import CropBody
from zinc_margin.desktop.model.events import (
    ActiveChanged,
    DocketChanged,
    Event,
)
from zinc_margin.desktop.model.session import Remembered
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.model.view import GUIDES, OFF, SURROUNDS
from zinc_margin.desktop.services.clipboard import Clipboard
from zinc_margin.desktop.services.demo import DemoLane
from zinc_margin.desktop.services.drafts import Drafts
from zinc_margin.desktop.services.goal_names import GoalNames
from zinc_margin.desktop.services.making import Making
from zinc_margin.desktop.services.opening import Opening
from zinc_margin.desktop.services.preparation import GettingReady
from zinc_margin.desktop.services.work import Lane
from zinc_margin.desktop.shell import keys
from zinc_margin.desktop.shell.benches import Benches
from zinc_margin.desktop.shell.guidance import Guidance
from zinc_margin.desktop.shell.message import Failures, Message
from zinc_margin.desktop.shell.rack import Rack
from zinc_margin.desktop.shell.words_row import WordsRow
from zinc_margin.desktop.widgets import theme
from zinc_margin.docket import racks
from zinc_margin.docket.docket import LINES
from zinc_margin.docket.document import to_json
from zinc_margin.keeping import log
from zinc_margin.keeping.partials import sweep
from zinc_margin.measure import words
from zinc_margin.photo.endings import PHOTO_ENDINGS, with_both_cases
from zinc_margin.plan.crop.places import on_print

if TYPE_CHECKING:
    from zinc_margin.desktop.bench.loupe import LoupeBench
    from zinc_margin.photo.subject_detection import Found

_OPENABLE = (
    f"Photos ({with_both_cases(PHOTO_ENDINGS)});;"
    f"Lists of open photos (*{racks.ENDING});;All files (*)"
)
_LOOK_MS, _MOMENT_MS = 100, 300
"""Interval, in ms, between checks for pending work, and the delay before it is shown."""
_TITLE_PX = 40
"""Estimated height of the desktop's title bar, in px, before the window is shown."""


class Window(QMainWindow):
    """The program's window."""

    def __init__(self, table: Table | None = None) -> None:
        super().__init__()
        self.remembered = Remembered.load()
        self.table = table or Table()
        if self.remembered.units is not None:
            self.table.use_units(self.remembered.units)
        say = self.table.say
        self.reading, self.rendering = Lane(keeps_all=True, say=say), Lane()
        # A printer that is switched off answers after twenty seconds; photos must open meanwhile.
        self.network = Lane(keeps_all=True, say=say)
        self.dialogs = Dialogs(self)
        self.goals = GoalNames(self.reading, self.table.name_changed)
        self.goal = self.goals.path
        self.drafts = Drafts(self, self.table)
        self.opening = Opening(self, self.table, self.reading, self.drafts, self.remembered)
        self.open_photos, self.ask_for_page = self.opening.open_photos, self.opening.ask_for_page
        self.demo = DemoLane(self.opening, self._demo_coming)
        self.look_at_demo = self.demo.look
        self.clipboard = Clipboard(self.table, self.reading, self.open_photos)
        self._asked = False
        self.setWindowTitle("Zinc Margin")
        self.setMinimumSize(QSize(960, 600))
        self._take_place()
        self.setAcceptDrops(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        with theme.without_style():
            self._build()
        self.failures = Failures(self.table.say)
        log.describe(self._docket_text)
        self.setFocus()
        application = QApplication.instance()
        assert isinstance(application, QApplication)
        application.focusChanged.connect(self._keep_focus)
        keys.bind(self, self._keyed())
        self.table.subscribe(self._on_change)
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(0)
        self._soon.timeout.connect(self.table.observers.draw_some)
        self.table.observers.schedule = self._soon.start
        self._waited = 0
        self._watch = QTimer(self)
        self._watch.setInterval(_LOOK_MS)
        self._watch.timeout.connect(self._say_working)
        self._watch.start()
        self.draw_all()
        self.table.say_broken()

    def draw_all(self) -> None:
        """Draw every view now."""
        self.table.observers.redraw()
        self.table.observers.draw()

    def show_refusal(self, why: str) -> None:
        """Show a refusal that no other part shows."""
        self.table.say(why)

    def _keep_focus(self, old: QWidget | None, new: QWidget | None) -> None:
        """Take the focus when its widget disappears: Qt would give it to the next one.

        What is then typed would end up there, for example in the file's name.
        """
        if old is None or new is None:
            return
        with suppress(RuntimeError):  # a widget that is being deleted
            if self.isAncestorOf(old) and self.isAncestorOf(new) and not old.isVisible():
                self.setFocus()

    def _say_working(self) -> None:
        """Show that work is pending after a short delay."""
        self._waited = self._waited + 1 if self.busy else 0
        self.words.working.setVisible(self._waited * _LOOK_MS > _MOMENT_MS)

    def _build(self) -> None:
        whole = QWidget()
        column = QVBoxLayout(whole)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.words = WordsRow(self.table, self)
        column.addWidget(self.words)
        row = QHBoxLayout()
        row.setSpacing(0)
        column.addLayout(row, 1)
        self.margin = Margin(self.table, self)
        self.making = Making(self.table, self.margin.foot, self.goals.forget)
        row.addWidget(self.margin)
        right = QVBoxLayout()
        right.setSpacing(0)
        self.rack = Rack(self.table, self)
        right.addWidget(self.rack)
        self.benches = Benches(self.table, self.rendering, self)
        right.addWidget(self.benches, 1)
        self.message = Message()
        self.table.subscribe(self.message.hear)
        right.addWidget(self.message)
        self.guidance = Guidance(self, self.table, self.margin)
        row.addLayout(right, 1)
        self.setCentralWidget(whole)

    # help

    def explain(self, line: str) -> None:
        self.guidance.explain(line)

    def explain_line(self) -> None:
        self.guidance.explain_line()

    def find_control(self) -> None:
        self.guidance.find_control()

    def show_keys(self) -> None:
        self.guidance.show_keys()

    def show_guide(self) -> None:
        self.guidance.show_guide()

    def show_log(self) -> None:
        self.guidance.show_log()

    def _take_place(self) -> None:
        """Restore the window's last position, as far as the screen allows."""
        free = self.screen().availableGeometry()
        most = free.adjusted(0, 0, 0, -_TITLE_PX)
        if self.remembered.place is not None:
            wanted = QRect(*self.remembered.place)
            self.resize(wanted.size().boundedTo(most.size()))
            if most.contains(wanted.center()):
                self.move(wanted.topLeft())
            return
        self.resize(QSize(1280, 800).boundedTo(most.size()))

    def unless_typing(self, call: Callable[[], object]) -> Callable[[], None]:
        """Leave single-key shortcuts to a field with focus."""

        def run() -> None:
            if not isinstance(QApplication.focusWidget(), QLineEdit):
                call()

        return run

    def _docket_text(self) -> str | None:
        """Return the current docket, for the log of failures."""
        one = self.table.current
        return None if one is None else to_json(one.docket)

    def _keyed(self) -> Mapping[str, Callable[[], object]]:
        """Return every action that has a key, by its name in `keys.KEYS`."""
        size, crop = self.margin.bodies["size"], self.margin.bodies["crop"]
        look, table, plain = self.table.look_next, self.table, self.unless_typing
        assert isinstance(size, SizeBody) and isinstance(crop, CropBody)
        lines = {
            f"line {number}": plain(partial(table.open_line, line))
            for number, line in enumerate(LINES, 1)
        }
        return lines | {
            "open": self.ask_for_photos,
            "make": self.make,
            "save": self.keep_dockets,
            "save list": self.ask_for_rack_file,
            "batch": self.dialogs.show_batch,
            "print": self.dialogs.print_it,
            "stop": self.stop_making,
            "undo": table.undo,
            "redo": table.redo,
            "close": self.close_photo,
            "photo before": partial(table.activate_next, -1),
            "photo after": partial(table.activate_next, 1),
            "choose all": plain(table.choose_all),
            "rotate size": plain(size.swap),
            "quarter left": self.in_crop(partial(crop.turn_quarter, False)),
            "quarter right": self.in_crop(partial(crop.turn_quarter, True)),
            "mirror": self.in_crop(crop.mirror_it),
            "straighten": plain(partial(self.begin_crop, "level")),
            "subject": plain(partial(self.begin_crop, "mark")),
            "guides": self.in_crop(partial(look, "guide", tuple(GUIDES))),
            "trimmed part": self.in_crop(partial(look, "off", tuple(OFF))),
            "surround": self.in_crop(partial(look, "surround", tuple(SURROUNDS))),
            "fit": plain(self.swap_fit),
            "units": plain(self.next_units),
            "keep to compare": self.in_loupe(methodcaller("keep_candidate")),
            "next place": self.in_loupe(methodcaller("look_next")),
            "strip place": self.in_loupe(methodcaller("mark_place")),
            "veil": self.in_loupe(methodcaller("toggle_veil")),
            "zoom": plain(self.next_zoom),
            "dim": plain(self.toggle_dim),
            "keys": plain(self.guidance.show_keys),
            "explain": self.guidance.explain_line,
            "copy": plain(self.clipboard.copy),
            "paste": plain(self.clipboard.paste),
            "move back": partial(table.move_on, -1),
            "move on": partial(table.move_on, 1),
            "find": self.guidance.find_control,
        }

    def _on_change(self, event: Event) -> None:
        if isinstance(event, DocketChanged) and not self.making.under_way:
            self.margin.foot.rest()
        if isinstance(event, ActiveChanged):
            self.opening.read_again()
            self.goals.forget()

    # opening

    def close_photo(self) -> None:
        if self.table.current is not None:
            self.table.close(self.table.active)

    def find_subject(self, tell: Callable[[Found | None], None]) -> None:
        """Detect the current photo's subject."""
        from zinc_margin.photo.subject_detection import found_subject

        one = self.table.current
        if one is None or one.photo is None:
            return
        codes = one.photo.codes

        def done(found: Found | None) -> None:
            if self.table.current is one:
                tell(found)

        self.reading.run(lambda job: found_subject(codes), done)

    def ask_for_photos(self) -> None:
        """Ask which photos to open."""
        paths, _ = QFileDialog.getOpenFileNames(self, "Open photos", self._folder(), _OPENABLE)
        self.open_photos(paths)

    def ask_for_folder(self) -> None:
        """Ask for a folder, and open the photos in it."""
        folder = QFileDialog.getExistingDirectory(self, "Open a folder of photos", self._folder())
        if folder:
            self.open_photos([folder])

    def _folder(self) -> str:
        one = self.table.current
        return str(one.facts.path.parent) if one else self.remembered.folder or str(Path.home())

    def stop_demo(self) -> None:
        """Stop drawing the demo; finished pictures are kept."""
        self.demo.stop()

    def _demo_coming(self, names: tuple[str, ...], share: float) -> None:
        """Show the demo pictures that are still being drawn."""
        self.rack.show_coming(names, share)

    def show_needs(self, there: bool) -> None:
        """Show the pixels that sizes need while no photo is open, or go back."""
        self.benches.shows_needs = there
        self.benches.refresh()

    def forget_recent(self) -> None:
        """Clear the list of recent photos."""
        self.remembered.forget_recent()
        self.benches.refresh()

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if event.mimeData().hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        self.open_photos(
            [url.toLocalFile() for url in event.mimeData().urls() if url.isLocalFile()]
        )
        event.acceptProposedAction()

    # making

    def make(self) -> None:
        """Make the file of the current print."""
        if self.table.current is not None:
            self._asked = False
            self.making.make(self.table.current)

    def keep_dockets(self) -> None:
        """Save the photo's dockets next to it."""
        one, write = self.table.current, self.table.keep()
        if one is None or write is None:
            return
        stands = one.versions

        def done(path: Path) -> None:
            self.drafts.keep(one, stands)
            self.table.say(f"The print settings are saved in {path.name}, next to the photo.")

        self.drafts.lane.run(lambda job: write(), done)

    def ask_for_rack_file(self) -> None:
        """Ask for a file for all open photos."""
        one = self.table.current
        if one is None:
            return
        start = str(one.facts.path.parent / f"photos{racks.ENDING}")
        path, _ = QFileDialog.getSaveFileName(
            self,
            "Save the open photos as one list",
            start,
            f"Lists of open photos (*{racks.ENDING})",
        )
        if path:
            self.keep_rack(Path(path))

    def keep_rack(self, path: Path) -> None:
        """Save all open photos with their versions to one file."""
        if not racks.is_rack(path):
            path = path.with_name(path.name.removesuffix(".json") + racks.ENDING)
        write = self.table.keep_rack(path)

        def done(path: Path) -> None:
            self.table.say(f"The open photos are listed in {path.name}. Open it like a photo.")

        self.drafts.lane.run(lambda job: write(), done)

    def stop_making(self) -> None:
        """Cancel a step in the crop, cancel the file being made, or close a message."""
        if not self.benches.leave_crop() and not self.making.stop() and not self.demo.stop():
            self.message.dismiss()

    def tidy_up(self) -> None:
        """Remove partial files left by a crash."""

        def done(gone: list[Path]) -> None:
            if gone:
                names_ = ", ".join(str(part.parent) for part in gone)
                self.table.say(
                    f"An incomplete file in {names_} was removed; its photo and print "
                    "settings are unchanged."
                )

        self.reading.run(lambda job: sweep(), done)

    def get_ready(self) -> None:
        """Compile in the background any loops not yet compiled on this machine."""
        GettingReady(self, self.table)

    @property
    def busy(self) -> bool:
        """Whether any work is in progress."""
        return any(lane.busy for lane in self._lanes)

    @property
    def _lanes(self) -> tuple[Lane, ...]:
        return (
            self.making.lane,
            self.rendering,
            *self.benches.lanes,
            self.reading,
            self.network,
            self.opening.measuring,
            self.drafts.lane,
            self.demo.lane,
        )

    def show_folder(self) -> None:
        written = self.making.written
        if written is not None:
            QDesktopServices.openUrl(QUrl.fromLocalFile(str(written.path.parent)))

    def choose_folder(self) -> None:
        one = self.table.current
        if one is not None:
            start = one.docket.file.folder or str(one.facts.path.parent)
            folder = QFileDialog.getExistingDirectory(self, "Folder for the file", start)
            if folder:
                self.table.decide("file", folder=folder)

    # the view

    def begin_crop(self, mode: str) -> None:
        """Start drawing a level line, or marking the subject."""
        if self.table.current is not None:
            self.table.open_line("crop")
            self.table.observers.draw()
            self.benches.crop.begin(mode)

    def in_crop(self, call: Callable[[], object]) -> Callable[[], None]:
        """Limit a key to the open crop bench."""

        def run() -> None:
            if self.table.line == "crop" and self.table.current is not None:
                call()

        return self.unless_typing(run)

    def in_loupe(self, call: Callable[[LoupeBench], object]) -> Callable[[], None]:
        """Limit a key to the loupe."""
        return self.unless_typing(lambda: call(self.benches.loupe))

    def show_place(self, x: int, y: int) -> None:
        """Show a place of the upright photo in the loupe."""
        one = self.table.current
        if one is None:
            return
        place = on_print(one.plan(), x, y)
        if place is None:
            self.table.say(
                "That place is outside the frame, so it is not on this print. You can see it "
                "in Crop."
            )
            return
        self.table.open_line("pixels")
        self.benches.loupe.look_at(*place)

    def swap_fit(self) -> None:
        one = self.table.current
        if one is not None:
            after = {"trim": "whole", "whole": "border", "border": "trim"}
            self.table.decide("crop", fit=after[one.docket.crop.fit])

    def next_units(self) -> None:
        at = words.UNITS_SHOWN.index(self.table.units)
        self.table.use_units(words.UNITS_SHOWN[(at + 1) % len(words.UNITS_SHOWN)])

    def next_zoom(self) -> None:
        if self.table.current is not None and self.table.line in ("pixels", "sharpen"):
            after = {"100": "200", "200": "400", "400": "800", "800": "whole"}
            loupe = self.benches.loupe
            loupe.set_scale(after.get(loupe.scale_name, "100"))

    def toggle_dim(self) -> None:
        """Switch between the light and dim themes."""
        self.use_dim(theme.tones() is theme.LIGHT)

    def use_dim(self, dim: bool) -> None:
        """Use the light or dim theme from now on."""
        application = QApplication.instance()
        assert isinstance(application, QApplication)
        self.remembered.dim = dim
        # Each of these turns of the event loop is short; the result appears in one piece.
        self.setUpdatesEnabled(False)
        self.margin.discard_closed()
        theme.choose(application, dim)
        QTimer.singleShot(0, self, partial(self._dress, application))

    def _dress(self, application: QApplication) -> None:
        theme.dress(application)
        self.table.observers.redraw()
        QTimer.singleShot(0, self, self._show_dressed)

    def _show_dressed(self) -> None:
        """Paint again once every view is drawn."""
        if self.table.observers.is_stale:
            QTimer.singleShot(0, self, self._show_dressed)
        else:
            self.setUpdatesEnabled(True)

    def end(self) -> None:
        """Close without a question: the program was told to end."""
        self._asked = True
        self.close()

    def closeEvent(self, event: QCloseEvent) -> None:
        batches = [each for each in self.findChildren(QDialog) if getattr(each, "under_way", False)]
        if (self.making.under_way or batches) and not self._asked:
            self._asked = True
            self.table.offer(
                "A file is being made. Closing stops it and removes it; your print settings "
                "are kept.",
                "stop it and close",
                self.close,
            )
            event.ignore()
            return
        for dialog in self.findChildren(QDialog):
            if dialog.isVisible():
                dialog.done(QDialog.DialogCode.Rejected)
        self._soon.stop()
        self._watch.stop()
        self.failures.close()
        self.drafts.close()
        self.benches.stop()
        for lane in self._lanes:
            lane.stop()
        if not self.isMaximized():
            place = self.geometry()
            self.remembered.place = [place.x(), place.y(), place.width(), place.height()]
        self.remembered.units = self.table.units_said
        self.remembered.save()
        super().closeEvent(event)
