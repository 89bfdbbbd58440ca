"""What this machine can do, which a plan must know before it promises."""

from __future__ import annotations

from pathlib import Path

from zinc_margin.keeping.own_printers import OwnPrinters
from zinc_margin.measure.printer_papers import PrinterPapers
from zinc_margin.pixels.nets import absent
from zinc_margin.plan.model import Machine

_printers: dict[Path, tuple[PrinterPapers, ...]] = {}


def this_machine() -> Machine:
    """Return what this machine can do, if known by now."""
    return Machine(absent(), _asked_printers())


def _asked_printers() -> tuple[PrinterPapers, ...]:
    """Return the printers that were asked once; their file is read once, as plans are instant."""
    path = OwnPrinters.usual_file()
    if path not in _printers:
        _printers[path] = OwnPrinters(path).all
    return _printers[path]


def forget_printers() -> None:
    """Read again what printers told: one of them was asked."""
    _printers.clear()
