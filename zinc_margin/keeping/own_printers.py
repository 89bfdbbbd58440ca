"""Printers and the papers that they reported, kept between starts."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

from zinc_margin.gate.values import Wrong, list_of, number, plain, record, text_from
from zinc_margin.keeping.own import OwnThings
from zinc_margin.measure.lengths import plain_text
from zinc_margin.measure.printer_papers import PrinterPapers

_MOST_MM = 100_000


def _paper(value: Any) -> tuple[Fraction, ...]:
    """Read width, height, and the unprintable edges at top, right, bottom and left, in mm."""
    lengths: tuple[Fraction, ...] = list_of(number(0, _MOST_MM), 6, 6)(value)
    if min(lengths[:2]) < 1:
        raise Wrong("has a paper without a size")
    return lengths


_PRINTER = record({"name": text_from, "title": text_from, "papers": list_of(_paper, most=1000)})


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
        fields = _PRINTER(entry)
        papers = tuple((wide, high, tuple(edges)) for wide, high, *edges in fields["papers"])
        return PrinterPapers(fields["name"], fields["title"], papers)

    @classmethod
    def _plain(cls, thing: PrinterPapers) -> Any:
        papers = [[plain(each) for each in (w, h, *edges)] for w, h, edges in thing.papers]
        return {"name": thing.name, "title": thing.title, "papers": papers}

    @classmethod
    def _name(cls, thing: PrinterPapers) -> str:
        return plain_text(thing.name)
