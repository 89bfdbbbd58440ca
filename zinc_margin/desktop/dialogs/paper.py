"""Measure a paper: print a page, then read its scan."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from zinc_margin.desktop.dialogs.base import Dialog
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.parts import Field, accept_any, row, text
from zinc_margin.desktop.widgets.refusals import carry_out
from zinc_margin.handoff.paper_files import (
    USUAL_PPI,
    blur_sentence,
    keep_paper,
    read_scan,
    write_page,
)
from zinc_margin.measure.resolution import parse_ppi
from zinc_margin.measure.sizes import parse_size
from zinc_margin.photo.paper_scan import Blur

_STEPS = (
    "1. Write the page and print it at 100 % on the paper, at the printer's highest "
    "quality.\n2. When it is dry, place it on the scanner with a metal ruler's edge across "
    "the box at the bottom, at a slight angle.\n3. Scan the whole page in grey at 600 ppi or "
    "more, without corrections, and read the scan."
)


class PaperDialog(Dialog):
    """Writes the page, reads its scan, and saves the paper.

    Parameters
    ----------
    kept : callable
        Receives the name of a saved paper.
    """

    def __init__(self, parent: QWidget, table: Table, kept: Callable[[str], None]) -> None:
        super().__init__(parent, "Measure this paper")
        self.table, self._kept = table, kept
        self.blur: Blur | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 20, 24, 20)
        column.setSpacing(10)
        head = text("Measure this paper")
        head.setFont(theme.serif(18))
        column.addWidget(head)
        column.addWidget(text(_STEPS))
        self.sheet = Field("Sheet", accept_any, 110, "A4, Letter or larger")
        self.sheet.show_value("Letter" if table.units == "in" else "A4")
        self.ppi = Field("The printer's native resolution", accept_any, 80, "360, 300, 720 …")
        self.ppi.show_value(f"{USUAL_PPI} ppi")
        self.name = Field("Name of the paper", accept_any, 190)
        column.addLayout(row("Sheet", self.sheet, self.ppi))
        column.addLayout(row("Name", self.name))
        buttons = QHBoxLayout()
        self.write = QPushButton("Write the page …")
        self.read = QPushButton("Read a scan …")
        self.keep = QPushButton("Keep this paper")
        for button, style, act in (
            (self.write, "second", self._ask_page),
            (self.read, "second", self._ask_scan),
            (self.keep, "make", self._keep),
        ):
            button.setObjectName(style)
            button.setAutoDefault(False)
            button.clicked.connect(partial(carry_out, self, act))
            buttons.addWidget(button)
        buttons.addStretch(1)
        self.keep.setEnabled(False)
        column.addLayout(buttons)
        self.sentence.setMinimumHeight(44)
        column.addWidget(self.sentence)
        self.setMinimumWidth(560)

    def _ppi(self) -> float:
        return float(parse_ppi(self.ppi.text()))

    def _ask_page(self) -> None:
        path, _ = QFileDialog.getSaveFileName(
            self, "Write the page", str(Path.home() / "paper-page.tif"), "Pages (*.tif *.png)"
        )
        if path:
            self.write_to(Path(path))

    def write_to(self, path: Path) -> None:
        """Write the page in the background."""
        sheet, ppi = parse_size(self.sheet.text()), self._ppi()
        self.sentence.setText("Writing the page …")

        def done(out: Path) -> None:
            self.say(f"Written: {out}. Print it at 100 %.")

        self.lane.run(lambda job: write_page(path, sheet, ppi), done)

    def _ask_scan(self) -> None:
        path, _ = QFileDialog.getOpenFileName(
            self, "Read the scan", str(Path.home()), "Scans (*.tif *.tiff *.png *.jpg *.jpeg)"
        )
        if path:
            self.read_from(Path(path))

    def read_from(self, path: Path) -> None:
        """Measure a scan in the background."""
        ppi = self._ppi()
        self.sentence.setText("Measuring …")
        self.lane.run(lambda job: read_scan(path, ppi), self._show)

    def _show(self, blur: Blur) -> None:
        self.blur = blur
        self.sentence.setText(blur_sentence(blur))
        self.keep.setEnabled(not blur.too_fine)

    def _keep(self) -> None:
        if self.blur is None:
            return
        paper = keep_paper(self.name.text(), self.blur, self.table.papers)
        self._kept(paper.name)
        self.accept()
