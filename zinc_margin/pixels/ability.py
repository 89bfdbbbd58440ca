"""What this machine can do, which a plan must know before it promises."""

from __future__ import annotations

from importlib.util import find_spec
from pathlib import Path

from zinc_margin.keeping.own_printers import OwnPrinters
from zinc_margin.measure.printer_papers import PrinterPapers
from zinc_margin.plan.model import Machine

_absent: list[str | None] = []
_printers: dict[Path, tuple[PrinterPapers, ...]] = {}


def absent() -> str | None:
    """Return why what was learned cannot be used here, or None when it can."""
    if not _absent:
        there = find_spec("onnxruntime") is not None
        _absent.append(None if there else "onnxruntime is not installed")
    return _absent[0]


def tell_absent(why: str | None) -> None:
    """Say, once it was tried, that it cannot be used; None forgets that.

    Parameters
    ----------
    why : str or None
        A few words; None forgets it.
    """
    _absent[:] = [] if why is None else [why]


def this_machine() -> Machine:
    """Return what this machine can do, as far as it is known by now."""
    return Machine(absent(), _asked_printers())


def _asked_printers() -> tuple[PrinterPapers, ...]:
    """Return the printers that were asked once; their file is read once, as plans are instant."""
    path = OwnPrinters.usual_file()
    if path not in _printers:
        _printers[path] = OwnPrinters(path).all
    return _printers[path]


def forget_printers() -> None:
    """Read anew what printers told: one of them was asked."""
    _printers.clear()
