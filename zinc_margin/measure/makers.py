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
        Pixels per inch that the file should have.
    native : Fraction or None
        Pixels per inch in which a device works by itself.
    untouched : bool
        Whether it enlarges by itself, and wants the photo's own pixels.
    process : str
        How it prints: a key of the processes.
    edges : tuple of four Fraction, or None
        Top, right, bottom and left of a sheet that a device cannot print on, in mm.
    edges_by : str
        The printer that told them; empty for a device's usual ones.
    setting : tuple of str
        What its driver has to be told so sizes stay true.
    papers : tuple of str
        What it prints on, the usual one first; ``screen`` for what is looked at on one.
    families : tuple of str
        Of the sizes that it sells.
    format, colour : str
        Of a file for it.
    bars_mm, fold_mm : Fraction
        The bars that it stretches a canvas on, and what it folds behind them; 0: it does not.
    size : Way or None
        What it takes where no one says how large.
    most_px, most_bytes : int or None
        The longest side and the largest file that it takes.
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
        When there is none; the sentence lists them.
    """
    wanted = plain_text(name)
    for maker in makers():
        if wanted in (maker.key, maker.name):
            return maker
    known = ", ".join(maker.key for maker in makers())
    raise BadRequest(f"Unknown maker “{name}”. Choose one of: {known}.")
