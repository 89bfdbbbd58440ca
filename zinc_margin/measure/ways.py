"""Ways to give a print's size without naming both sides."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from functools import cache

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import parse_length, parse_number, plain_text
from zinc_margin.measure.sizes import parse_size
from zinc_margin.measure.tables import table

WAYS: dict[str, tuple[str, ...]] = {
    "width": ("mm",),
    "height": ("mm",),
    "long-edge": ("mm",),
    "short-edge": ("mm",),
    "within": ("width_mm", "height_mm"),
    "mat": ("width_mm", "height_mm", "reveal_mm"),
    "sheet": ("width_mm", "height_mm", "border_mm"),
    "shape": ("ratio",),
    "reach": ("ppi",),
    "scale": ("factor",),
    "megapixels": ("megapixels",),
    "within-px": ("width_px", "height_px"),
    "screen": ("width_px", "height_px"),
    "long-edge-px": ("edge_px",),
}
"""Every way and its values; a negative reveal means that the mat overlaps the picture."""

IN_PIXELS = frozenset(("scale", "megapixels", "within-px", "screen", "long-edge-px"))
"""Ways that give pixels; the print size follows from the resolution."""

ON_SCREEN = frozenset(("within-px", "screen", "long-edge-px"))
"""Those that name a screen's pixels: the picture is viewed on a screen."""

TARGETS = ("scale", "megapixels", "long-edge-px", "reach")
"""Ways that can also set the pixel count of a print with a given size."""

_MOST_PIXELS = 1_000_000
_MOST_FACTOR = 100


@dataclass(frozen=True)
class Way:
    """A wish: its kind (a key of `WAYS`), the values of that kind and an optional name.

    Attributes
    ----------
    frame : (Fraction, Fraction) or None
        A mat's outer size in mm, which is the frame size.

    Raises
    ------
    BadRequest
        If a value is not allowed.
    """

    kind: str
    values: tuple[Fraction, ...]
    label: str = field(default="", compare=False)
    family: str = field(default="own", compare=False)
    frame: tuple[Fraction, Fraction] | None = field(default=None, compare=False)

    def __post_init__(self) -> None:
        names = WAYS.get(self.kind)
        if names is None or len(self.values) != len(names):
            raise BadRequest(f"“{self.kind}” is not a way to give a size.")
        for name, value in zip(names, self.values, strict=True):
            if name == "reveal_mm" or (name == "border_mm" and value == 0):
                continue
            if value <= 0:
                raise BadRequest("A size must be more than zero.")
            if name.endswith("px") and (value.denominator != 1 or value > _MOST_PIXELS):
                raise BadRequest(f"Pixel counts are whole numbers from 1 to {_MOST_PIXELS}.")
            if name == "factor" and value > _MOST_FACTOR:
                raise BadRequest("The largest scale is 10000 percent.")
            if name == "megapixels" and value > _MOST_PIXELS:
                raise BadRequest("No file can hold that many megapixels.")
        if self.kind == "sheet" and 2 * self.values[2] >= min(self.values[:2]):
            raise BadRequest("The border covers the whole sheet.")
        if self.kind == "mat":
            width, height, reveal = self.values
            if min(width, height) - 2 * reveal <= 0:
                raise BadRequest("The reveal covers the mat's whole opening.")
            if -reveal > max(width, height):
                raise BadRequest("The overlap is larger than the mat's opening.")


_WORDS: tuple[tuple[str, str], ...] = (
    ("width", r"(?:width|wide)\s+(?P<a>.+)|(?P<b>.+?)\s*(?:wide|width|across)"),
    ("height", r"(?:height|high)\s+(?P<a>.+)|(?P<b>.+?)\s*(?:high|tall|height)"),
    (
        "long-edge",
        r"(?:long(?:est)? (?:edge|side))\s+(?P<a>.+)|(?P<b>.+?)\s+long(?:est)? (?:edge|side)",
    ),
    (
        "short-edge",
        r"(?:short(?:est)? (?:edge|side))\s+(?P<a>.+)|(?P<b>.+?)\s+short(?:est)? (?:edge|side)",
    ),
)
_PAIR_OF_PIXELS = re.compile(r"(\d+)\s*(?:px)?\s*[x×*]\s*(\d+)\s*(?:px|pixels?)")
_SHEET = re.compile(
    r"(?:sheet\s+)?(?P<sheet>.+?)[\s,]+(?:with\s+)?(?:a\s+)?"
    r"(?:border\s+(?P<after>.+)|(?P<before>[\d.,/\s]+\w*)\s+border)"
)
_MAT = re.compile(r"mat\s+(.+?)(?:[\s,]+(reveal|overlap)\s+(.+))?")


@cache
def named_ways() -> tuple[Way, ...]:
    """Return the catalogue's sizes that depend on the photo's shape: rolls, mats, screens."""
    return tuple(
        Way(
            family["kind"],
            tuple(Fraction(value) for value in entry["values"]),
            entry["name"],
            family["name"],
            (Fraction(entry["frame"][0]), Fraction(entry["frame"][1]))
            if "frame" in entry
            else None,
        )
        for family in table("ways")["families"]
        for entry in family["sizes"]
    )


def _pair(sides: Sequence[str]) -> tuple[Fraction, Fraction]:
    return Fraction(sides[0]), Fraction(sides[1])


def parse_way(text: str, default_unit: str = "cm") -> Way | None:
    """Read a typed wish; None if the text is not a wish.

    Parameters
    ----------
    text : str
        ``1 m wide``, ``long edge 40 cm``, ``within 18x13 cm``, ``50 %``, ``12 MP``, ``1920x1080
        px``, ``within 1920x1080 px``, ``mat 36x27 cm reveal 6 mm`` …
    default_unit : str
        The unit of a number without one, a key of `UNITS`.

    Raises
    ------
    BadRequest
        If it begins like a wish but is not readable.

    Examples
    --------
    >>> way = parse_way("1 m wide", "cm")
    >>> way.kind, way.values
    ('width', (Fraction(1000, 1),))
    """
    plain = plain_text(text).replace("×", "x")
    for way in named_ways():
        if plain_text(way.label).replace("×", "x") == plain:
            return way
    if plain.startswith("within "):
        return within(plain.removeprefix("within "), default_unit)
    pixels = _PAIR_OF_PIXELS.fullmatch(plain)
    if pixels is not None:
        return Way("screen", (Fraction(pixels[1]), Fraction(pixels[2])))
    mat = _MAT.fullmatch(plain)
    if mat is not None:
        reveal = mat[3] if mat[2] == "reveal" else None
        return mat_of(mat[1], reveal, mat[3] if mat[2] == "overlap" else None, default_unit)
    sheet = _SHEET.fullmatch(plain)
    if sheet is not None:
        return sheet_of(sheet["sheet"], sheet["after"] or sheet["before"], default_unit)
    edge = re.fullmatch(r"(?:long edge )?(\d+)\s*(?:px|pixels)(?: long edge)?", plain)
    if edge is not None:
        return Way("long-edge-px", (Fraction(edge[1]),))
    if plain.endswith("%"):
        return Way("scale", (parse_number(plain[:-1].strip(), "percentage") / 100,))
    megapixels = re.fullmatch(r"(.+?)\s*(?:mp|mpx|megapixels?)", plain)
    if megapixels is not None:
        return Way("megapixels", (parse_number(megapixels[1], "number of megapixels"),))
    for kind, pattern in _WORDS:
        match = re.fullmatch(pattern, plain)
        if match is not None:
            return Way(kind, (parse_length(match["a"] or match["b"], default_unit),))
    return None


def within(text: str, default_unit: str = "cm") -> Way:
    """Read a box that the print must fit into: two lengths or two pixel counts.

    Parameters
    ----------
    default_unit : str
        The unit of a number without one, a key of `UNITS`.
    """
    pixels = _PAIR_OF_PIXELS.fullmatch(plain_text(text))
    if pixels is not None:
        return Way("within-px", (Fraction(pixels[1]), Fraction(pixels[2])))
    size = parse_size(text, default_unit)
    return Way("within", (size.width_mm, size.height_mm))


def screen(text: str) -> Way:
    """Read a screen's pixels: ``1920x1080``."""
    plain = plain_text(text)
    pixels = _PAIR_OF_PIXELS.fullmatch(plain if plain.endswith(("px", "s", "l")) else plain + " px")
    if pixels is None:
        raise BadRequest(f"“{text}” is not a screen. Type its pixels, for example 1920x1080.")
    return Way("screen", (Fraction(pixels[1]), Fraction(pixels[2])))


def mat_of(opening: str, reveal: str | None, overlap: str | None, default_unit: str = "cm") -> Way:
    """Read a mat: its opening, and a uniform reveal or overlap.

    Parameters
    ----------
    opening : str
        Two lengths.
    reveal, overlap : str or None
        A length, or None.
    default_unit : str
        The unit of a number without one, a key of `UNITS`.
    """
    if reveal is not None and overlap is not None:
        raise BadRequest("A mat has a reveal or an overlap, not both.")
    size = parse_size(opening, default_unit)
    round_it = Fraction(0)
    if reveal is not None:
        round_it = _or_nothing(reveal, default_unit)
    elif overlap is not None:
        round_it = -_or_nothing(overlap, default_unit)
    return Way("mat", (size.width_mm, size.height_mm, round_it))


def sheet_of(sheet: str, border: str | None, default_unit: str = "cm") -> Way:
    """Read a sheet of paper with a uniform border.

    Parameters
    ----------
    sheet : str
        Two lengths, or a name.
    border : str or None
        A length, or None.
    default_unit : str
        The unit of a number without one, a key of `UNITS`.
    """
    size = parse_size(sheet, default_unit)
    width = Fraction(0) if border is None else _or_nothing(border, default_unit)
    return Way("sheet", (size.width_mm, size.height_mm, width))


def _or_nothing(text: str, default_unit: str) -> Fraction:
    return Fraction(0) if text.strip() in ("0", "0mm", "0 mm") else parse_length(text, default_unit)
