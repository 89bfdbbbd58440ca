"""The rack on one sheet: seen before it is written."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import numpy as np
from PySide6.QtWidgets import QFileDialog, QWidget

from zinc_margin.desktop.page_dialog import PageDialog
from zinc_margin.desktop.parts import Field, Switch, image_of, row
from zinc_margin.desktop.prints import Print
from zinc_margin.desktop.work import Job
from zinc_margin.docket.typed import parse_grid
from zinc_margin.handoff.make import Written
from zinc_margin.handoff.shared_files import make_together
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest, ZincError
from zinc_margin.measure.lengths import MM_PER_INCH, nothing_or
from zinc_margin.measure.sizes import parse_size
from zinc_margin.photo.pixels import Photo, read_photo
from zinc_margin.pixels.ability import this_machine
from zinc_margin.pixels.display import Screen
from zinc_margin.pixels.shared_pages import Together
from zinc_margin.plan.finish.shared import Laying, SharedSheet, together

_SEEN_PX = 1000


class TogetherDialog(PageDialog):
    """Lays the photos of the rack on one sheet, each at its own size or all in a grid.

    Parameters
    ----------
    prints : sequence of Print
        With the dockets that stand.
    """

    def __init__(self, parent: QWidget, prints: Sequence[Print]) -> None:
        super().__init__(
            parent,
            "Several photos on one sheet",
            "The sheet with the open photos",
            "Write the sheet …",
        )
        self.prints = list(prints)
        self.pages: tuple[SharedSheet, ...] = ()
        self.sheet = Field("Sheet", self._again, 110, "A3+, 50 x 40 cm")
        self.sheet.show_value("420 x 297 mm")
        self.grid = Field("Grid", self._again, 70, "Columns and rows: 4x3; empty: own sizes")
        self.grid.show_value(_grid_for(len(self.prints)))
        self.border = Field("Border", self._again, 70)
        self.border.show_value("10 mm")
        self.gap = Field("Between them", self._again, 70)
        self.gap.show_value("5 mm")
        self.captions = Switch(
            "Names", (("yes", "under them"), ("no", "none")), self._take_captions
        )
        self._captioned = True
        self.captions.show_value("yes")
        self.lay_out(
            (row("Sheet", self.sheet), row("Grid", self.grid, "empty: each at its size")),
            (row("Border", self.border), row("Between", self.gap), row("Names", self.captions)),
        )
        with suppress(BadRequest):
            self._again()

    def _take_captions(self, key: str) -> None:
        self._captioned = key == "yes"
        with suppress(BadRequest):
            self._again()

    def laying(self) -> Laying:
        """Return what the fields ask for.

        Raises
        ------
        BadRequest
        """
        grid = self.grid.text().strip()
        return Laying(
            parse_size(self.sheet.text()), parse_grid(grid) if grid else None,
            nothing_or(self.border.text()), nothing_or(self.gap.text()), self._captioned,
            machine=this_machine(),
        )  # fmt: skip

    def _laid(self, laying: Laying) -> tuple[SharedSheet, ...]:
        return together([(one.facts, one.docket) for one in self.prints], laying)

    def _again(self, typed: str = "") -> None:
        """Lay it out anew, and draw the first sheet."""
        try:
            laying = self.laying()
            self.pages = self._laid(laying)
        except BadRequest as why:
            self.sentence.setText(str(why))
            raise
        count = len(self.pages)
        page = self.pages[0].page
        sheets = "One sheet" if count == 1 else f"{count} sheets"
        self.sentence.setText(
            f"{sheets} of {words.pair(page.width_mm, page.height_mm, 'cm')} at "
            f"{words.ppi(laying.ppi)} ppi, {page.width} × {page.height} px."
        )
        longest = max(laying.sheet.width_mm, laying.sheet.height_mm)
        small = self._laid(replace(laying, ppi=Fraction(_SEEN_PX) * MM_PER_INCH / longest))
        entries = [one.photo for one in self.prints]
        paths = [one.facts.path for one in self.prints]

        def work(job: Job) -> np.ndarray:
            photos = _read(entries, paths, [cell.which for cell in small[0].cells])
            drawn = Together(photos, small[0], 8)
            height, width, _ = drawn.shape
            return Screen(drawn.colour, drawn.dtype).show(
                drawn.region(0, 0, width, height, job.cancel)
            )

        self.lane.run(work, lambda pixels: self.page.show_image(image_of(pixels)))

    def ask_where(self) -> None:
        """Ask for the file, and write it."""
        near = self.prints[0].facts.path.with_name("together.pdf")
        path, _ = QFileDialog.getSaveFileName(
            self, "Write the sheet", str(near), "PDF, TIFF, JPEG, PNG (*.pdf *.tif *.jpg *.png)"
        )
        if path:
            self.write(Path(path))

    def write(self, path: Path) -> None:
        """Write every sheet."""
        pages = self.pages
        if not pages:
            return
        entries = [one.photo for one in self.prints]
        paths = [one.facts.path for one in self.prints]
        self.save.setEnabled(False)

        def work(job: Job) -> list[Written]:
            photos = _read(entries, paths, range(len(paths)))
            # only the one file that was named has been asked about
            asked = len(pages) == 1 or path.suffix.lower() == ".pdf"
            return make_together(photos, pages, path, asked, None, job.cancel)

        def failed(why: ZincError) -> None:
            self.save.setEnabled(True)
            self.sentence.setText(str(why))

        self.lane.run(work, lambda _: self.accept(), failed)


def _grid_for(count: int) -> str:
    columns = next(n for n in range(1, 40) if n * max(1, -(-n * 3 // 4)) >= count)
    return f"{columns}x{max(1, -(-columns * 3 // 4))}"


def _read(
    decoded: Sequence[Photo | None], paths: Sequence[Path], wanted: Sequence[int]
) -> list[Photo]:
    """Return the photos; of those that are not decoded only what is wanted is read."""
    photos = list(decoded)
    for at in wanted:
        photos[at] = photos[at] or read_photo(paths[at], measured=False)
    spare = next(photo for photo in photos if photo is not None)
    return [photo or spare for photo in photos]
