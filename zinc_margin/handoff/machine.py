"""The machine's abilities, needed for planning."""

from __future__ import annotations

from pathlib import Path

from zinc_margin.keeping.own_printers import OwnPrinters
from zinc_margin.measure.printer_papers import PrinterPapers
from zinc_margin.pixels.nets import absent
from zinc_margin.plan.model import Machine

_printers: dict[Path, tuple[PrinterPapers, ...]] = {}


def this_machine() -> Machine:
    """Return the machine's abilities, as known so far."""
    return Machine(absent(), _asked_printers())


def _asked_printers() -> tuple[PrinterPapers, ...]:
    """Return the printers asked so far; their file is cached, as planning must be instant."""
    path = OwnPrinters.usual_file()
    if path not in _printers:
        _printers[path] = OwnPrinters(path).all
    return _printers[path]


def forget_printers() -> None:
    """Forget the cached printers, because one of them was asked again."""
    _printers.clear()
