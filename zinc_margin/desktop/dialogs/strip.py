"""The test strip: preview it, write it, then ask which column looked right."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from contextlib import suppress
from fractions import Fraction
from pathlib import Path

import numpy as np
from PIL import Image
from PySide6.QtWidgets import QFileDialog, QWidget

from zinc_margin.desktop.dialogs.page import PageDialog, PagePreview
from zinc_margin.desktop.model.table import Print
from zinc_margin.desktop.widgets.parts import Field, Switch, image_of, row
from zinc_margin.docket import store
from zinc_margin.docket.docket import check_value
from zinc_margin.handoff.strip_files import render_strip, write_strip
from zinc_margin.keeping.job import Job
from zinc_margin.measure.errors import BadRequest, ZincError
from zinc_margin.measure.lengths import parse_number
from zinc_margin.measure.papers import find_paper
from zinc_margin.measure.sizes import parse_size
from zinc_margin.pixels.display import Screen
from zinc_margin.plan.sharpen.strip import STRENGTHS, Strip, lay_out, places_to_test


class StripDialog(PageDialog):
    """Lays out a strip for the current print.

    Parameters
    ----------
    places : sequence of (float, float)
        Places marked in the loupe, or its current place; more are added as needed.
    make : callable
        Receives the strengths once a strip has been written.
    """

    def __init__(
        self,
        parent: QWidget,
        one: Print,
        places: Sequence[tuple[float, float]],
        make: Callable[[Sequence[Fraction]], None],
    ) -> None:
        page = PagePreview("The test strip as a page")
        super().__init__(parent, "Test strip", page, "Write the strip …")
        self.one, self._made, self._marked = one, make, tuple(places)
        self.strip: Strip | None = None
        self.places = len(self._marked)
        self.strengths = Field(
            "Strengths", self._lay_typed, 200, "Percent each: 50, 75, 100, 125, 150"
        )
        self.strengths.show_value(", ".join(f"{strength}" for strength in STRENGTHS))
        self.papers = Field(
            "Or papers",
            self._lay_typed,
            200,
            ("lustre, matt, canvas: each with its automatic strength"),
        )
        self.paper_size = Field("Sheet", self._lay_typed, 90, "A5, A4, 20x15cm …")
        self.paper_size.show_value("A5")
        self.count = Switch(
            "Places", (("1", "one"), ("2", "two"), ("3", "three")), self._take_count
        )
        self.count.show_value(str(self.places))
        self.lay_out(
            (row("Strengths", self.strengths, "%"), row("Or papers", self.papers)),
            (row("Sheet", self.paper_size), row("Places", self.count)),
        )
        with suppress(BadRequest):
            self._lay()

    def _take_count(self, key: str) -> None:
        before, self.places = self.places, int(key)
        try:
            self._lay()
        except BadRequest:  # already reported; the last valid layout stays
            self.places = before
        self.count.show_value(str(self.places))

    def chosen(self) -> tuple[list[Fraction], list[str]]:
        """Return the typed strengths, or the typed papers."""
        papers = [find_paper(part).name for part in self.papers.text().split(",") if part.strip()]
        strengths = []
        for part in () if papers else self.strengths.text().split(","):
            value = parse_number(part.replace("%", "").strip(), "percentage")
            strengths.append(check_value("sharpen", "strength", str(value)))
        return strengths, papers

    def _lay_typed(self, typed: str) -> None:
        self._lay()

    def _lay(self) -> None:
        one = self.one
        strengths, papers = self.chosen()
        places = places_to_test(one.plan(), self._marked, self.places)
        docket = store.with_measured(one.docket, one.facts)
        try:
            paper = parse_size(self.paper_size.text())
            strip = lay_out(one.plan_of(docket), paper, places, strengths, papers)
        except BadRequest as why:
            self.sentence.setText(str(why))
            raise
        self.strip, self._laid = strip, (strengths, papers)
        self.sentence.setText(f"{strip.title}. {strip.width} × {strip.height} px.")
        photo = one.photo

        def work(job: Job) -> np.ndarray | None:
            if photo is None:
                return None
            codes = render_strip(photo, strip, job)
            shown = Screen(photo.colour, codes.dtype).show(codes)
            half = max(1, round(max(shown.shape) / 1600))
            return np.asarray(Image.fromarray(shown, "RGBA").reduce(half))

        def done(pixels: np.ndarray | None) -> None:
            self.page.show_image(None if pixels is None else image_of(pixels))

        self.lane.run(work, done)

    def ask_where(self) -> None:
        """Ask for the file, and write it."""
        near = self.one.facts.path.with_name(f"{self.one.name}-strip.pdf")
        path, _ = QFileDialog.getSaveFileName(
            self, "Write the test strip", str(near), "PDF, TIFF, PNG (*.pdf *.tif *.png)"
        )
        if path:
            self.write(Path(path))

    def write(self, path: Path) -> None:
        """Write the strip, and ask in the margin which of its columns looked right."""
        photo, strip = self.one.photo, self.strip
        if photo is None or strip is None:
            return
        strengths, papers = self._laid  # the fields may have changed meanwhile
        self.save.setEnabled(False)

        def done(out: Path) -> None:
            if not papers:
                self._made(strengths)
            self.accept()

        def failed(why: ZincError) -> None:
            self.save.setEnabled(True)
            self.sentence.setText(str(why))

        # The file dialog has already asked about replacing a file.
        self.lane.run(lambda job: write_strip(path, photo, strip, True, job), done, failed)
