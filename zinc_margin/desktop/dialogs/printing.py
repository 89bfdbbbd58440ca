"""Print a page: choose printer, paper and copies, and follow the job."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from zinc_margin.desktop.dialogs.base import Dialog
from zinc_margin.desktop.model.prints import Print
from zinc_margin.desktop.widgets.parts import Choice, Field, row, text
from zinc_margin.facts.facts import Facts
from zinc_margin.handoff.machine import this_machine
from zinc_margin.handoff.printer import print_simulated, simulated_queues
from zinc_margin.handoff.printing import MOST_COPIES
from zinc_margin.handoff.queues import QUALITIES, Medium, Queue, ask, queues, wants
from zinc_margin.handoff.to_paper import (
    LITTLE_MM,
    ToPrint,
    chosen_medium,
    photo_to_print,
    print_pdf,
)
from zinc_margin.handoff.to_paper import Choice as Chosen
from zinc_margin.keeping.files import copy_whole
from zinc_margin.keeping.job import Job
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest, ZincError
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.photo.pixels import Photo, measured_photo, read_photo
from zinc_margin.plan.build import plan as make_plan
from zinc_margin.plan.model import Plan

_ANY = ""
_SIMULATED = "simulated:"
_PDF = "pdf:"
"""Keys of printers that are none of the system's."""
_WIDE = 320
_last: list[str] = []
"""The printer chosen last, while the program is running."""


def to_print(one: Print) -> ToPrint:
    """Return the current photo, ready for a printer."""
    docket, stored, known = one.docket, one.photo, one.facts

    def planned(facts: Facts, form: str) -> Plan:
        return make_plan(
            facts, replace(docket, file=replace(docket.file, format=form)), this_machine()
        )

    def ready(form: str) -> tuple[Photo, Plan]:
        photo = measured_photo(stored) if stored else read_photo(known.path, page=known.page)
        return photo, planned(replace(photo.facts, subject=known.subject), form)

    return photo_to_print(ready, planned(known, "pdf"))


_MAKING = "Making the page …"
_CANCELLED = "Cancelled; no more pages are printed."


class PrintDialog(Dialog):
    """Prints a page: a photo's print, or shared sheets.

    Parameters
    ----------
    units : str
        Units of displayed sizes.
    near : Path
        A simulated printer's picture is saved next to this file by default.
    """

    def __init__(self, parent: QWidget, what: ToPrint, units: str, near: Path) -> None:
        super().__init__(parent, "Print", "cancel the print")
        self._what, self._units, self._near = what, units, near
        self.queue: Queue | None = None
        self._media: dict[str, Medium] = {}
        self._simulated: dict[str, Queue] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 18, 20, 18)
        column.setSpacing(8)
        self.head = text(self._headline())
        column.addWidget(self.head)
        self.printer = Choice("Printer", (), self._take_printer, _WIDE)
        self.paper = Choice("Paper", (), self._take_paper, _WIDE)
        self.kind = Choice("Type of paper", (), self.kind_taken, _WIDE)
        self.tray = Choice("Tray", (), self._take_tray, _WIDE)
        self.quality = Choice("Quality", (), self._take_quality, _WIDE)
        self.copies = Field("Copies", self._take_copies, 52)
        self.copies.show_value("1")
        self._copies = 1
        self._rows = (
            ("Printer", self.printer),
            ("Paper", self.paper),
            ("Type of paper", self.kind),
            ("Tray", self.tray),
            ("Quality", self.quality),
            ("Copies", self.copies),
        )
        for name, part in self._rows:
            column.addLayout(row(name, part))
        self.say("Searching for printers …")
        column.addWidget(self.sentence, 1)
        column.addWidget(self.progress)
        below = QHBoxLayout()
        below.addStretch(1)
        below.addWidget(self.stop)
        self.send = QPushButton("Print")
        self.send.setObjectName("make")
        self.send.setAutoDefault(False)
        self.send.setEnabled(False)
        self.send.clicked.connect(self.begin)
        below.addWidget(self.send)
        column.addLayout(below)
        self.resize(560, 430)
        self.fixed = (*(part for _, part in self._rows), self.send)
        self._absent = ""
        self.lane.run(lambda job: queues(), self._list, self._list_others)

    def _headline(self) -> str:
        page = words.pair(*self._what.page, self._units)
        title = self._what.title
        return title if page in title else f"{title}, on a page of {page}"

    # The printer's reported abilities.

    def _list_others(self, why: ZincError) -> None:
        """List what works without a printing system."""
        self._absent = str(why)
        self._list(())

    def _list(self, found: tuple[Queue, ...]) -> None:
        for queue in found:
            self.printer.addItem(queue.title, queue.name)
        for queue in simulated_queues():
            self._simulated[_SIMULATED + queue.name] = queue
            self.printer.addItem(queue.title, _SIMULATED + queue.name)
        self.printer.addItem("a PDF, to print anywhere", _PDF)
        keys = [self.printer.itemData(at) for at in range(self.printer.count())]
        self._take_printer(_last[0] if _last and _last[0] in keys else keys[0])

    def _take_printer(self, key: str) -> None:
        self.printer.show_value(key)
        self.send.setEnabled(False)
        _last[:] = [key]
        if key in self._simulated:
            self._show_queue(self._simulated[key])
            return
        if key == _PDF:
            self._show_pdf()
            return
        self.sentence.setText("Asking the printer for its papers …")
        self.lane.run(lambda job: ask(key), self._show_queue)

    def _enable_rows(self) -> None:
        """Enable what can be chosen: a PDF has no paper and no copies, a simulated print one."""
        queue = self.queue
        for _, part in self._rows[1:]:
            part.setEnabled(queue is not None)
        self.copies.setEnabled(queue is not None and not queue.simulated)

    def _show_pdf(self) -> None:
        self.queue, self._media = None, {}
        self._enable_rows()
        said = "A PDF of the page at its true size. Print it at 100 %, without fitting."
        self.say(f"{self._absent} {said}".lstrip())
        self.send.setText("Save the PDF …")
        self.send.setEnabled(True)

    def _show_queue(self, queue: Queue) -> None:
        self.queue = queue
        self._enable_rows()
        page = self._what.page
        self._media = {}
        for medium in queue.media:
            if medium.holds(*page):
                edge = (
                    "borderless"
                    if medium.is_borderless
                    else (f"unprintable edges of up to {_most(medium)} mm")
                )
                self._media.setdefault(f"{medium.name}, {edge}", medium)
        _fill(self.paper, [(name, name) for name in self._media])
        _fill(self.kind, [(_ANY, "the printer's setting"), *((k, _plain(k)) for k in queue.kinds)])
        _fill(self.tray, [(_ANY, "the printer's setting"), *((k, _plain(k)) for k in queue.trays)])
        qualities = [(str(key), QUALITIES[key]) for key in queue.qualities]
        _fill(self.quality, [(_ANY, "the printer's setting"), *qualities])
        try:
            best = chosen_medium(queue, page, Chosen(anyway=True))
        except BadRequest as why:
            self.sentence.setText(str(why))
            return
        self._take_paper(next(key for key, each in self._media.items() if each == best))

    def _take_paper(self, name: str) -> None:
        self.paper.show_value(name)
        self._tell()

    def kind_taken(self, key: str) -> None:
        """Choose a type of paper."""
        self.kind.show_value(key)

    def _take_tray(self, key: str) -> None:
        self.tray.show_value(key)

    def _take_quality(self, key: str) -> None:
        self.quality.show_value(key)

    def _take_copies(self, typed: str) -> None:
        bare = typed.strip()
        if not bare.isdecimal() or not 1 <= int(bare) <= MOST_COPIES:
            raise BadRequest(f"“{bare}” copies is not possible. Type 1 to {MOST_COPIES}.")
        self._copies = int(bare)
        self.copies.show_value(bare)

    def _tell(self) -> None:
        """Describe the printed page, and the part lost at the unprintable edges."""
        medium, queue = self._media.get(self.paper.value), self.queue
        if medium is None or queue is None:
            return
        lost = self._what.lost(medium)
        want = wants(queue.reasons)
        said = ["It is printed at its true size, without scaling, centred on the paper."]
        if queue.simulated and self._absent:
            said.insert(0, self._absent)
        if lost > LITTLE_MM:
            said.append(
                f"{float(lost):.2g} mm of the picture would fall on the printer's reported "
                "unprintable edges. Choose borderless or larger paper."
            )
        if want is not None:
            said.append(f"The printer reports: {want}.")
        if not queue.colour:
            said.append("This printer prints only in black and white.")
        if self._what.colours_done:
            said.append(
                "Its colours are already converted to your profile; the system does not change "
                "them."
            )
        if queue.simulated:
            said.append("This printer is simulated: it prints a picture of the sheet, as a PNG.")
        self.sentence.setText(" ".join(said))
        self.send.setText("Print anyway" if lost > LITTLE_MM else "Print")
        self.send.setEnabled(True)

    # the print

    def begin(self) -> None:
        """Make the page and send it to the printer."""
        queue, medium = self.queue, self._media.get(self.paper.value)
        if self._job is not None:
            return
        if self.printer.value == _PDF:
            self._ask_pdf()
        if queue is None or medium is None:
            return
        kind = self.kind.value or None
        if queue.simulated:
            self._ask_where(queue, medium, kind)
            return
        quality = int(self.quality.value) if self.quality.value else None
        choice = Chosen(
            PrintSize(medium.name, medium.width_mm, medium.height_mm),
            medium.is_borderless,
            kind,
            self.tray.value or None,
            quality,
            self._copies,
            True,
        )
        what = self._what

        def tell(sentence: str) -> None:
            self.lane.post(partial(self.say, sentence))

        def work(job: Job) -> str:
            with what.made(".pdf", job) as pdf:
                print_pdf(queue, pdf, what.title, medium, choice, tell, job, what.colours_done)
            what.note(queue.name)
            return f"Printed on {queue.title}."

        self.do_work(work, self.say, _MAKING, _CANCELLED)

    def _ask_pdf(self) -> None:
        near = self._near.with_name(f"{self._near.stem}-page.pdf")
        path, _ = QFileDialog.getSaveFileName(self, "PDF of the page", str(near), "PDF (*.pdf)")
        if path:
            self.save_pdf(Path(path))

    def save_pdf(self, out: Path) -> None:
        """Save the page as a PDF, to print it elsewhere."""
        what = self._what

        def work(job: Job) -> str:
            with what.made(".pdf", job) as pdf:
                copy_whole(pdf, out)
            return f"Saved as {out.name}, in {out.parent.name}. Print it at 100 %."

        self.do_work(work, self.say, _MAKING)

    def _ask_where(self, queue: Queue, medium: Medium, kind: str | None) -> None:
        near = self._near.with_name(f"{self._near.stem}-on-{medium.name}.png")
        path, _ = QFileDialog.getSaveFileName(
            self, "Picture of the printed sheet", str(near), "PNG (*.png)"
        )
        if path:
            self.simulate(queue, medium, kind, Path(path))

    def simulate(self, queue: Queue, medium: Medium, kind: str | None, out: Path) -> None:
        """Print on a simulated printer."""
        what = self._what

        def work(job: Job) -> str:
            with what.made(".tif", job) as page:
                print_simulated(queue, page, medium, kind, out)
            return f"Printed as {out.name}, in {out.parent.name}."

        self.do_work(work, self.say, _MAKING, _CANCELLED)

    def show_work(self, is_it: bool) -> None:
        """Show whether a print is being made or followed."""
        super().show_work(is_it)
        if not is_it:
            self._enable_rows()


def _fill(choice: Choice, rows: list[tuple[str, str]]) -> None:
    choice.clear()
    for key, shown in rows:
        choice.addItem(shown, key)
    choice.show_value(rows[0][0] if rows else _ANY)


def _most(medium: Medium) -> str:
    return words.local(f"{float(max(medium.edges_mm)):g}")


def _plain(key: str) -> str:
    """Return a printer's keyword as readable text."""
    return key.replace("-", " ").replace("photographic", "photo")
