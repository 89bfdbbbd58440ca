"""Printers and the papers that they reported, kept between starts."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

from zinc_margin.keeping.own import OwnThings
from zinc_margin.measure.lengths import plain_text
from zinc_margin.measure.plain import Wrong, number, plain, text_from
from zinc_margin.measure.printer_papers import PrinterPapers

_MOST_MM = 100_000


class OwnPrinters(OwnThings[PrinterPapers]):
    """Printers, each with its papers."""

    word = "printer"
    most = 100

    def keep(self, printer: PrinterPapers) -> None:
        """Add a printer, replacing one with the same name."""
        if self.find(printer.name) != printer:
            self._put(printer)

    @classmethod
    def _read(cls, entry: Any) -> PrinterPapers:
        side, edge = number(1, _MOST_MM), number(0, _MOST_MM)
        papers = []
        for row in entry["papers"]:
            if not isinstance(row, list) or len(row) != 6:
                raise Wrong("has a paper without six lengths")
            top, right, bottom, left = (Fraction(edge(each)) for each in row[2:])
            papers.append((side(row[0]), side(row[1]), (top, right, bottom, left)))
        return PrinterPapers(text_from(entry["name"]), text_from(entry["title"]), tuple(papers))

    @classmethod
    def _plain(cls, thing: PrinterPapers) -> Any:
        papers = [[plain(each) for each in (w, h, *edges)] for w, h, edges in thing.papers]
        return {"name": thing.name, "title": thing.title, "papers": papers}

    @classmethod
    def _name(cls, thing: PrinterPapers) -> str:
        return plain_text(thing.name)
