"""Makers (labs, printers, presses, screens) and their requirements."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from functools import cache

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import plain_text
from zinc_margin.measure.papers import SCREEN
from zinc_margin.measure.tables import table
from zinc_margin.measure.ways import Way, parse_way


@dataclass(frozen=True)
class Maker:
    """A lab, a printer, a press or a screen.

    Attributes
    ----------
    key, name : str
    asks : Fraction
        Target resolution of the file, in ppi.
    native : Fraction or None
        Native resolution of a device, in ppi.
    untouched : bool
        Whether it enlarges itself and needs the photo's own pixels.
    process : str
        Key of its printing process.
    edges : tuple of four Fraction, or None
        Unprintable edges of a sheet: top, right, bottom and left, in mm.
    edges_by : str
        The printer that reported them; empty for a device's usual ones.
    setting : tuple of str
        Driver settings that keep the size exact.
    papers : tuple of str
        Its papers, default first; ``screen`` for a screen.
    families : tuple of str
        Families of the sizes on sale.
    format, colour : str
        Default format and colours of a file.
    bars_mm, fold_mm : Fraction
        Depth of its canvas bars, and the fold behind them; 0 without canvas.
    size : Way or None
        The default size, if it has one.
    most_px, most_bytes : int or None
        Limits of the longer side and of the file.
    """

    key: str
    name: str
    asks: Fraction
    native: Fraction | None = None
    untouched: bool = False
    process: str = "inkjet"
    edges: tuple[Fraction, Fraction, Fraction, Fraction] | None = None
    setting: tuple[str, ...] = ()
    papers: tuple[str, ...] = ("lustre",)
    families: tuple[str, ...] = ()
    format: str = "tiff"
    colour: str = "own"
    bars_mm: Fraction = Fraction(0)
    fold_mm: Fraction = Fraction(0)
    size: Way | None = None
    most_px: int | None = None
    most_bytes: int | None = None
    edges_by: str = ""

    @property
    def for_screen(self) -> bool:
        """Whether the maker is a screen."""
        return self.papers[0] == SCREEN

    @property
    def floor(self) -> Fraction:
        """Half of the device's native resolution, or of 360 ppi if that is unknown."""
        return (self.native or Fraction(360)) / 2


def _edges(texts: list[str] | None) -> tuple[Fraction, Fraction, Fraction, Fraction] | None:
    if texts is None:
        return None
    top, right, bottom, left = (Fraction(text) for text in texts)
    return top, right, bottom, left


@cache
def makers() -> tuple[Maker, ...]:
    """Return the shipped makers, in display order."""
    return tuple(
        Maker(
            entry["key"],
            entry["name"],
            Fraction(entry["asks"]),
            Fraction(entry["native"]) if "native" in entry else None,
            bool(entry.get("untouched")),
            entry.get("process", "inkjet"),
            _edges(entry.get("edges")),
            tuple(entry.get("setting", ())),
            tuple(entry["papers"]),
            tuple(entry["families"]),
            entry.get("format", "tiff"),
            entry.get("colour", "own"),
            Fraction(entry.get("bars_mm", 0)),
            Fraction(entry.get("fold_mm", 0)),
            parse_way(entry["size"]) if "size" in entry else None,
            entry.get("most_px"),
            entry.get("most_bytes"),
        )
        for entry in table("makers")["makers"]
    )


def usual_maker() -> Maker:
    """Return the default maker."""
    return find_maker(table("makers")["usual"])


def find_maker(name: str) -> Maker:
    """Return a maker by key or name.

    Raises
    ------
    BadRequest
        If it is unknown; the sentence lists the known ones.
    """
    wanted = plain_text(name)
    for maker in makers():
        if wanted in (maker.key, maker.name):
            return maker
    known = ", ".join(maker.key for maker in makers())
    raise BadRequest(f"Unknown maker “{name}”. Choose one of: {known}.")
