"""Read prints on a sheet: ``Two 13 × 18, four 9 × 13, eight passport, on A4 sheets``."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import parse_length, plain_text
from zinc_margin.measure.sizes import PrintSize, catalogue, parse_size

_NUMBERS = [
    "no",
    "one",
    "two",
    "three",
    "four",
    "five",
    "six",
    "seven",
    "eight",
    "nine",
    "ten",
    "eleven",
    "twelve",
    "thirteen",
    "fourteen",
    "fifteen",
    "sixteen",
    "seventeen",
    "eighteen",
    "nineteen",
    "twenty",
]
_MORE = {"a": 1, "an": 1, "a pair of": 2, "a dozen": 12, "two dozen": 24, "thirty": 30, "forty": 40}
_COUNTS = {**{name: at for at, name in enumerate(_NUMBERS)}, **_MORE}
_COUNTED = re.compile(r"(\d{1,4})(?:\s*(?:×|x|\*|times\b)\s*|\s+)(?=\S)")
_ROLL = re.compile(r"(?:an?\s+)?(?:roll\s+(?:of\s+)?(?P<behind>.+?)|(?P<before>.+?)[\s-]*rolls?)")


@dataclass(frozen=True)
class TypedSheet:
    """The prints and sheet that were typed.

    Attributes
    ----------
    prints : tuple of (int, PrintSize or None)
        Number and size; None: the print's own size.
    sheet : PrintSize or None
        None if it was not given.
    roll : bool
        Whether it is a roll.
    """

    prints: tuple[tuple[int, PrintSize | None], ...]
    sheet: PrintSize | None = None
    roll: bool = False


def parse_sheet(text: str, default_unit: str = "cm") -> tuple[PrintSize, bool]:
    """Read a sheet or a roll: ``A4``, ``A4 sheets``, ``61 cm roll``, ``a roll of 24 in``.

    Parameters
    ----------
    default_unit : str
        The unit of numbers without one, a key of `UNITS`.

    Returns
    -------
    PrintSize
        For a roll, a square of its width.
    bool
        Whether it is a roll.
    """
    plain = plain_text(text)
    roll = _ROLL.fullmatch(plain)
    if roll is not None:
        wide = parse_length(roll["behind"] or roll["before"], default_unit)
        shown = (roll["behind"] or roll["before"]).strip()
        label = (
            f"roll of {shown}"
            if any(map(str.isalpha, shown))
            else (f"roll of {shown} {default_unit}")
        )
        return PrintSize(label, wide, wide), True
    bare = re.sub(r"^(?:an?|one)\s+|\s*(?:sheets?|papers?|paper)$", "", plain)
    return parse_size(bare, default_unit), False


def parse_typed_sheet(text: str, default_unit: str = "cm") -> TypedSheet:
    """Read a sentence of prints with an optional sheet.

    Parameters
    ----------
    text : str
        ``two 13x18, four 9 × 13 and eight passport, on A4 sheets``.
    default_unit : str
        The unit of numbers without one, a key of `UNITS`.

    Raises
    ------
    BadRequest
        The sentence quotes the unreadable part.
    """
    whole, sheet, roll = text.strip().rstrip("."), None, False
    onto = re.split(r"[,;]?\s*\bon(?:to)?\b\s+", whole, maxsplit=1, flags=re.IGNORECASE)
    if len(onto) == 2:
        whole = onto[0]
        sheet, roll = parse_sheet(onto[1], default_unit)
    # A comma before a digit is a decimal sign.
    parts = re.split(r"\s*(?:[;\n]|,(?!\d)|\band\b)\s*", whole, flags=re.IGNORECASE)
    prints = tuple(_print(part, default_unit) for part in parts if part.strip())
    return TypedSheet(tuple(row for row in prints if row[0]), sheet, roll)


def _print(text: str, default_unit: str) -> tuple[int, PrintSize | None]:
    plain = plain_text(text)
    if plain in ("own size", "at its own size", "as it is"):
        return 1, None
    for name in sorted(_COUNTS, key=len, reverse=True):
        if plain.startswith(f"{name} "):
            return _COUNTS[name], _size(plain[len(name) :], default_unit, text)
    try:
        return 1, _find_size(plain, default_unit)
    except BadRequest:
        counted = _COUNTED.match(plain)
        if counted is None:
            raise
        return int(counted[1]), _size(plain[counted.end() :], default_unit, text)


def _size(text: str, default_unit: str, whole: str) -> PrintSize | None:
    bare = re.sub(r"^(?:prints?|copies|times)\s+(?:of\s+|at\s+)?|^(?:of|at)\s+", "", text.strip())
    bare = re.sub(r"\s+(?:prints?|copies|photos?|pictures?)$", "", bare)
    if bare in ("", "prints", "print", "copies", "own size", "at its own size", "as it is"):
        return None
    try:
        return _find_size(bare, default_unit)
    except BadRequest as why:
        raise BadRequest(f"“{whole.strip()}” cannot be read: {why}") from None


def _find_size(text: str, default_unit: str) -> PrintSize:
    """Return a size by its name, the first word of its name, or its sides."""
    try:
        return parse_size(text, default_unit)
    except BadRequest:
        word = text.strip().removesuffix("s")
        if not word.isalpha():
            raise
        named = [size for size in catalogue() if plain_text(size.label).split()[0] == word]
        if not named:
            raise
        return min(named, key=_by_units(default_unit))


def _by_units(unit: str) -> Callable[[PrintSize], bool]:
    """Return a sort key that puts sizes in the current units first.

    Sizes of whole tenths of an inch count as sizes in inches.
    """

    def key(size: PrintSize) -> bool:
        inches = (size.width_mm / Fraction(254, 100)).denominator == 1
        return inches != (unit == "in")

    return key
