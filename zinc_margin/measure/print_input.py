"""Read a print described in a few words: ``18x13 gloss jpeg``, ``60x45 cm canvas``, ``A3 matt``."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.formats import formats
from zinc_margin.measure.lengths import plain_text
from zinc_margin.measure.makers import makers
from zinc_margin.measure.papers import SCREEN, papers
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.ways import Way
from zinc_margin.measure.wish import Wish, parse_wish

_BETWEEN = {"on", "by", "as", "a", "an", "for", "the", "and"}
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
    """

    wish: Wish | None = None
    maker: str | None = None
    paper: str | None = None
    format: str | None = None


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
    return {}


def parse_print(
    text: str,
    default_unit: str = "cm",
    own: Sequence[PrintSize | Way] = (),
    own_papers: Sequence[str] = (),
) -> TypedPrint:
    """Read a size, followed by maker, paper and file format in any order.

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
        If the rest is not a size; the sentence quotes the whole text.
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
    if result == TypedPrint():
        raise whole
    if not left:
        return result
    try:
        return replace(result, wish=parse_wish(" ".join(left), default_unit, own))
    except BadRequest:
        raise whole from None
