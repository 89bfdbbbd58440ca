"""Read a print in a few words: ``18x13 gloss jpeg``, ``60x45 cm canvas``, ``A3 matt 16-bit``."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Any

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.formats import formats
from zinc_margin.measure.lengths import plain_text
from zinc_margin.measure.makers import makers
from zinc_margin.measure.papers import SCREEN, papers
from zinc_margin.measure.resolution import parse_ppi
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.ways import Way
from zinc_margin.measure.wish import Wish, parse_wish

_BETWEEN = {"on", "by", "as", "a", "an", "at", "for", "the", "and"}
_COLOURS = {"srgb": "srgb", "grey": "grey", "gray": "grey", "wide": "wide"}
_BITS = re.compile(r"(8|16)[- ]bits?")
_PPI = re.compile(r"\d[\d.,]*\s*(?:ppi|dpi|px/in|px/cm|ppcm)")
_LONGEST = 4


@dataclass(frozen=True)
class TypedPrint:
    """The parts that were typed; None for parts left out.

    Attributes
    ----------
    wish : Wish or None
        The size.
    maker, paper, format : str or None
        A maker's and a format's key, a paper's name.
    bits : int or None
        8 or 16.
    colour : str or None
        ``srgb``, ``wide`` or ``grey``.
    ppi : Fraction or None
    """

    wish: Wish | None = None
    maker: str | None = None
    paper: str | None = None
    format: str | None = None
    bits: int | None = None
    colour: str | None = None
    ppi: Fraction | None = None


def _fields_of(words: str, own_papers: Sequence[str]) -> dict[str, Any]:
    """Return the fields of `TypedPrint` that these words name, with their values."""
    for maker in makers():
        if words in (maker.key, maker.name.replace(",", "")):
            return {"maker": maker.key}
    for name in (*own_papers, *(paper.name for paper in papers())):
        if words == plain_text(name).replace(",", "") and name != SCREEN:
            return {"paper": name}
    for form in formats().values():
        if words in (form.key, form.name.lower(), *(ending.lstrip(".") for ending in form.endings)):
            return {"format": form.key}
    if words in _COLOURS:
        return {"colour": _COLOURS[words]}
    bits = _BITS.fullmatch(words)
    if bits is not None:
        return {"bits": int(bits[1])}
    return {"ppi": parse_ppi(words)} if _PPI.fullmatch(words) else {}


def parse_print(
    text: str,
    default_unit: str = "cm",
    own: Sequence[PrintSize | Way] = (),
    own_papers: Sequence[str] = (),
) -> TypedPrint:
    """Read a size, followed in any order by maker, paper, resolution, format, colours and bits.

    Parameters
    ----------
    default_unit : str
        The unit of a number without one, a key of `UNITS`.
    own : sequence of PrintSize or Way
        The user's sizes.
    own_papers : sequence of str
        Names of the user's papers.

    Raises
    ------
    BadRequest
        If the rest is not a size; the sentence quotes the words that are not understood.
    """
    try:
        return TypedPrint(parse_wish(text, default_unit, own))
    except BadRequest as why:
        whole = why
    left, result = plain_text(text).replace(",", " ").split(), TypedPrint()
    while left:
        for count in range(min(_LONGEST, len(left)), 0, -1):
            named = _fields_of(" ".join(left[-count:]), own_papers)
            if named and all(getattr(result, field) is None for field in named):
                result, left = replace(result, **named), left[:-count]
                break
        else:
            if left[-1] not in _BETWEEN:
                break
            left.pop()
    if result != TypedPrint() and not left:
        return result
    for count in range(len(left), 0, -1):
        try:
            wish = parse_wish(" ".join(left[:count]), default_unit, own)
        except BadRequest:
            continue
        if count < len(left):
            raise BadRequest(
                f"“{' '.join(left[count:])}” is not understood. After a size you can type a maker, "
                "a paper, a resolution, a format, 8-bit or 16-bit, and sRGB, wide or grey."
            )
        return replace(result, wish=wish)
    raise whole
