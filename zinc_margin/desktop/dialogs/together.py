"""Several prints on sheets: typed, laid out, moved by hand, then written or printed."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import replace
from fractions import Fraction
from functools import partial
from pathlib import Path

import numpy as np
from PySide6.QtWidgets import QFileDialog, QWidget

from zinc_margin.desktop.dialogs.page import PageDialog
from zinc_margin.desktop.dialogs.shared_preview import SharedPreview
from zinc_margin.desktop.model.prints import Print
from zinc_margin.desktop.widgets.parts import Choice, Field, Link, Switch, image_of, row, text
from zinc_margin.docket.finish_input import parse_grid
from zinc_margin.handoff import ipp
from zinc_margin.handoff.machine import this_machine
from zinc_margin.handoff.make import Written
from zinc_margin.handoff.shared_files import make_together, note_prints
from zinc_margin.handoff.to_paper import sheets_to_print
from zinc_margin.keeping.job import Job
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest, ZincError
from zinc_margin.measure.lengths import MM_PER_INCH, nothing_or
from zinc_margin.measure.sheet_input import parse_sheet, parse_typed_sheet
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.photo.pixels import Photo, read_photo
from zinc_margin.pixels.display import Screen
from zinc_margin.pixels.shared_pages import Together
from zinc_margin.plan.finish.moving import overlaps, paper_share
from zinc_margin.plan.finish.shared_sheet import (
    Laying,
    Places,
    Wanted,
    lay_out,
    page_mm,
    sheets_of,
    wanted_print,
)

_SEEN_PX = 1000
_ALL = "all"
_BEGUN = {
    "cm": ("two 13 x 18, four 9 x 13, eight passport", "one 13 x 18"),
    "in": ("two 5 x 7, four 4 x 6, eight passport", "one 5 x 7"),
}
"""The initial text: for one photo, and for each of several."""
_HAND = (
    "Drag a print to move it. Keys: Space selects one, arrows move it, R rotates it, "
    "Shift+Page Down moves it to the next sheet."
)


class TogetherDialog(PageDialog):
    """Lays out prints of the open photos on sheets: at their sizes with little waste, or in a grid.

    Parameters
    ----------
    prints : sequence of Print
        The prints with their current dockets.
    units : str
        Units of displayed sizes, and of numbers without a unit.
    """

    page: SharedPreview

    def __init__(self, parent: QWidget, prints: Sequence[Print], units: str) -> None:
        page = SharedPreview("The sheet with the prints", self._by_hand, self._looked)
        super().__init__(parent, "Several prints on a sheet", page, "Write the sheets …")
        self.prints, self._units = list(prints), units
        self._typed: dict[str, str] = {}
        self._wanted: list[Wanted] = []
        self.laying: Laying | None = None
        several = len(self.prints) > 1
        self.ways = Switch("Layout", (("sizes", "by size"), ("grid", "in a grid")), self._take_way)
        names = [(str(at), one.name) for at, one in enumerate(self.prints)]
        self.of = Choice("Photo", [(_ALL, "every photo"), *names], self._take_photo, 170)
        self.asked = Field(
            "Prints",
            self._take_prints,
            330,
            ("two 13 x 18, four 9 x 13; empty: one of each, at its own size"),
        )
        self.sheet = Field("Sheet or roll", self._again, 110, "A4, A3+, 61 cm roll")
        self.sheet.show_value("A3" if several else "A4" if units == "cm" else "Letter")
        self.grid = Field("Grid", self._again, 60, "Columns and rows, for example 4x3")
        self.grid.show_value(_grid_for(len(self.prints)))
        self.border = Field("Border", self._again, 64)
        self.gap = Field("Between them", self._again, 64)
        self.border.show_value("10 mm")
        self.gap.show_value("5 mm")
        self.captions = Switch(
            "Names",
            (("yes", "below"), ("no", "none")),
            partial(self._switch, "captions"),
        )
        self.turns = Switch(
            "Turn",
            (("yes", "to save paper"), ("no", "never")),
            partial(self._switch, "turns"),
        )
        self.marks = Switch(
            "Crop marks",
            (("yes", "yes"), ("no", "no")),
            partial(self._switch, "marks"),
        )
        self.told = text(_HAND, soft=True)
        self.number = text("", wrap=False)
        self.back = Link("previous", partial(page.turn_page, -1), "Page Up")
        self.on = Link("next", partial(page.turn_page, 1), "Page Down")
        self.turn = Link("rotate it", self.page.turn_print, "R")
        self.anew = Link("arrange again", self._anew, "Discard the moves made by hand")
        self.print = Link("print …", self._print, "Print the sheets on a printer of this system")
        absent = ipp.absent()
        if absent is not None:
            self.print.setToolTip(absent)
        self._printable = absent is None
        page.setMinimumSize(760, 380)
        asked: tuple[QWidget | str, ...] = (self.asked, "of", self.of) if several else (self.asked,)
        self.lay_out(
            (row("", self.number, self.back, self.on), row("", self.turn, self.anew)),
            (row("Layout", self.ways, self.grid), row("Prints", *asked)),
            (row("Sheet", self.sheet), row("Border", self.border), row("Between", self.gap)),
            (row("Names", self.captions), row("Turn", self.turns), row("Crop marks", self.marks)),
            beside=(self.print,),
            told=self.told,
        )
        self.captions.show_value("yes" if several else "no")
        self.turns.show_value("yes")
        self.marks.show_value("no")
        self._typed[_ALL] = _BEGUN[units][several]
        self.asked.show_value(self._typed[_ALL])
        self._take_way("grid" if several else "sizes")

    # The request.

    def _take_way(self, key: str) -> None:
        self.ways.show_value(key)
        self.grid.setVisible(key == "grid")
        for part in (self.asked, self.of, self.turns):
            part.setEnabled(key == "sizes")
        self._quietly()

    def _switch(self, name: str, key: str) -> None:
        switch: Switch = getattr(self, name)
        switch.show_value(key)
        self._quietly()

    def _take_photo(self, key: str) -> None:
        self.of.show_value(key)
        self.asked.show_value(self._typed.get(key, self._typed.get(_ALL, "")))

    def _take_prints(self, typed: str) -> None:
        told = parse_typed_sheet(typed, self._units)
        key = self.of.value or _ALL
        if key == _ALL:
            self._typed.clear()
        self._typed[key] = typed.strip()
        if told.sheet is not None:
            self.sheet.show_value(told.sheet.label)
        self._again()

    def _quietly(self) -> None:
        with suppress(BadRequest):  # the sentence already says so
            self._again()

    def _laying(self) -> Laying:
        sheet, roll = parse_sheet(self.sheet.text(), self._units)
        grid = parse_grid(self.grid.text()) if self.ways.value == "grid" else None
        return Laying(
            sheet,
            grid,
            nothing_or(self.border.text()),
            nothing_or(self.gap.text()),
            self.captions.value == "yes",
            machine=this_machine(),
            roll=roll,
            turns=self.turns.value == "yes",
            marks=self.marks.value == "yes",
        )

    def _asked(self) -> list[Wanted]:
        """Return the requested prints of each photo."""
        result = []
        for at, one in enumerate(self.prints):
            rows: tuple[tuple[int, PrintSize | None], ...] = ()
            if self.ways.value == "sizes":
                typed = self._typed.get(str(at), self._typed.get(_ALL, ""))
                rows = parse_typed_sheet(typed, self._units).prints
            for copies, size in rows or ((1, None),):
                result.append(wanted_print(at, one.facts, one.docket, size, copies))
        return result

    def _again(self, typed: str = "") -> None:
        """Lay out the sheets again."""
        try:
            self.laying, self._wanted = self._laying(), self._asked()
            places = lay_out(self._wanted, self.laying)
        except BadRequest as why:
            self.sentence.setText(str(why))
            self.page.show_places(None, ())
            self._allow(False)
            raise
        self.page.show_places(self.laying, places)
        self._show()

    def _anew(self) -> None:
        self.page.chosen = None
        self._quietly()

    def _by_hand(self, places: Places) -> None:
        self._show()

    # The preview.

    def _show(self) -> None:
        """Describe the sheets, and draw the current one."""
        laying, places = self.laying, self.page.places
        assert laying is not None
        size = words.pair(*page_mm(laying, places[self.page.sheet]), self._units)
        count, sheets = sum(map(len, places)), len(places)
        wrong = overlaps(places, laying)
        said = (
            f"{count} print{'' if count == 1 else 's'} on "
            f"{'one sheet' if sheets == 1 else f'{sheets} sheets'} of {size}; prints cover "
            f"{words.share(paper_share(places, laying))} of the paper."
        )
        if wrong is not None:
            said = f"Prints overlap on sheet {wrong}. Move one, or arrange them again."
        self.sentence.setText(said)
        self._allow(wrong is None)
        self._tell_place()
        self._draw()

    def _allow(self, good: bool) -> None:
        self.save.setEnabled(good)
        self.print.setEnabled(good and self._printable)

    def _tell_place(self) -> None:
        """Describe the selected print and its position."""
        number, count = self.page.sheet + 1, len(self.page.places)
        self.number.setText(f"Sheet {number} of {count}")
        self.back.setEnabled(number > 1)
        self.on.setEnabled(number < count)
        place = self.page.place
        self.turn.setEnabled(place is not None)
        if place is None:
            self.told.setText(_HAND)
        else:
            one = self._wanted[place.wanted]
            size = words.pair(place.size.width_mm, place.size.height_mm, self._units)
            left, top = (
                f"{words.side(side, self._units)} {words.unit(self._units)}"
                for side in (place.left, place.top)
            )
            self.told.setText(
                f"{one.facts.path.stem}, {size}: {left} from the left, {top} from the top."
            )
        self.page.setAccessibleDescription(f"{self.number.text()}. {self.told.text()}")

    def _looked(self) -> None:
        """Describe the current sheet; draw it if it has no picture yet."""
        self._tell_place()
        if self.page.image is None and self.page.places:
            self._draw()

    def _draw(self) -> None:
        laying, shown = self.laying, self.page.places[self.page.sheet]
        assert laying is not None
        longest = max(page_mm(laying, shown))
        small = replace(laying, ppi=Fraction(_SEEN_PX) * MM_PER_INCH / longest)
        asked = list(self._wanted)
        entries = [one.photo for one in self.prints]
        paths = [one.facts.path for one in self.prints]

        def work(job: Job) -> np.ndarray:
            (sheet,) = sheets_of(asked, small, (shown,))
            photos = _read(entries, paths, [cell.which for cell in sheet.cells])
            drawn = Together(photos, sheet, 8)
            height, width, _ = drawn.shape
            return Screen(drawn.colour, drawn.dtype).show(drawn.region(0, 0, width, height, job))

        def show(pixels: np.ndarray) -> None:
            if self.page.places and self.page.places[self.page.sheet] == shown:
                self.page.show_sheet(image_of(pixels), shown)

        self.lane.run(work, show, self._failed)

    def _failed(self, why: ZincError) -> None:
        self._allow(True)
        self.sentence.setText(str(why))

    # The output.

    def ask_where(self) -> None:
        """Ask for the file, and write it."""
        near = self.prints[0].facts.path.with_name("together.pdf")
        path, _ = QFileDialog.getSaveFileName(
            self, "Write the sheets", str(near), "PDF, TIFF, JPEG, PNG (*.pdf *.tif *.jpg *.png)"
        )
        if path:
            self.write(Path(path))

    def write(self, path: Path) -> None:
        """Write every sheet."""
        if self.laying is None:
            return
        asked, laying, places = list(self._wanted), self.laying, self.page.places
        entries = [one.photo for one in self.prints]
        paths = [one.facts.path for one in self.prints]
        self.save.setEnabled(False)

        def work(job: Job) -> list[Written]:
            photos = _read(entries, paths, range(len(paths)))
            sheets = sheets_of(asked, laying, places)
            # The file dialog has asked only about the file that was named.
            over = len(sheets) == 1 or path.suffix.lower() == ".pdf"
            result = make_together(photos, sheets, path, over, job)
            note_prints(sheets, path.name)
            return result

        self.lane.run(work, lambda _: self.accept(), self._failed)

    def _print(self) -> None:
        from zinc_margin.desktop.dialogs.printing import PrintDialog

        if self.laying is None:
            return
        sheets = sheets_of(self._wanted, self.laying, self.page.places)
        entries = [one.photo for one in self.prints]
        paths = [one.facts.path for one in self.prints]

        def read() -> list[Photo]:
            return _read(entries, paths, range(len(paths)))

        near = paths[0].with_name("together.png")
        PrintDialog(self, sheets_to_print(read, sheets), self._units, near).open()


def _grid_for(count: int) -> str:
    columns = next(n for n in range(1, 40) if n * max(1, -(-n * 3 // 4)) >= count)
    return f"{columns}x{max(1, -(-columns * 3 // 4))}"


def _read(
    decoded: Sequence[Photo | None], paths: Sequence[Path], wanted: Sequence[int]
) -> list[Photo]:
    """Return the photos; read the wanted ones that are not decoded."""
    photos = list(decoded)
    for at in wanted:
        photos[at] = photos[at] or read_photo(paths[at], measured=False)
    spare = next(photo for photo in photos if photo is not None)
    return [photo or spare for photo in photos]
