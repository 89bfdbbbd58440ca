"""The docket: every decision for one print, line by line, without any result."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from zinc_margin.docket.crop import CropLine
from zinc_margin.docket.fields import Line, Said, read_field, said_of
from zinc_margin.docket.file import FileLine
from zinc_margin.docket.finish import FinishLine
from zinc_margin.docket.photo import PhotoLine
from zinc_margin.docket.pixels import PixelsLine
from zinc_margin.docket.sharpen import SharpenLine
from zinc_margin.docket.size import SizeLine
from zinc_margin.measure.words import unit

VERSION = 1

RENDERER = 18
"""Increase when the same docket starts to produce different bits."""


@dataclass(frozen=True)
class Docket:
    """All seven lines.

    Attributes
    ----------
    version : str
        The name that the user gave this version; empty: named after its settings.
    renderer : int
        Number of the renderer that made its file.
    extra : Mapping
        Fields unknown to this version of the program, kept unchanged.
    """

    photo: PhotoLine = field(default_factory=PhotoLine)
    size: SizeLine = field(default_factory=SizeLine)
    crop: CropLine = field(default_factory=CropLine)
    pixels: PixelsLine = field(default_factory=PixelsLine)
    sharpen: SharpenLine = field(default_factory=SharpenLine)
    finish: FinishLine = field(default_factory=FinishLine)
    file: FileLine = field(default_factory=FileLine)
    version: str = ""
    renderer: int = RENDERER
    extra: Mapping[str, Any] = field(default_factory=dict, kw_only=True)


LINES: dict[str, type[Line]] = {
    "photo": PhotoLine,
    "size": SizeLine,
    "crop": CropLine,
    "pixels": PixelsLine,
    "sharpen": SharpenLine,
    "finish": FinishLine,
    "file": FileLine,
}
"""The lines by name, in the order of the work."""

FIELDS: dict[str, dict[str, Said]] = {name: said_of(line) for name, line in LINES.items()}
"""Every field's declaration, by line and field name."""


def fresh(units: str) -> Docket:
    """Return a docket without any decisions.

    Parameters
    ----------
    units : str
        The current units: ``cm``, ``in`` or ``px/cm``.
    """
    return Docket(size=SizeLine(units=unit(units)))


def in_units(docket: Docket, units: str) -> Docket:
    """Return a docket whose automatic sizes are round in other units.

    Parameters
    ----------
    units : str
        The current units: ``cm``, ``in`` or ``px/cm``.
    """
    if docket.size.units == unit(units):
        return docket
    return replace(docket, size=replace(docket.size, units=unit(units)))


def check_value(line: str, field: str, value: Any) -> Any:
    """Return one field's value, converted and checked.

    Parameters
    ----------
    line : str
        A key of `LINES`.
    field : str
        The field's name in the docket.
    value : object
        A JSON value, or an exact fraction.

    Raises
    ------
    BadRequest
        If the value is not allowed; the sentence names the field.
    """
    return read_field(line, FIELDS[line][field], value)
