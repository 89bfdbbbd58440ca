"""Read anything that can be typed into the size field."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import parse_length, parse_number, plain_text
from zinc_margin.measure.resolution import parse_ppi
from zinc_margin.measure.sizes import PrintSize, parse_ratio, parse_size
from zinc_margin.measure.ways import TARGETS, Way, parse_way
from zinc_margin.measure.words import parse_bytes

_LYING = re.compile(r"(.+?)[\s,]+(landscape|lying|portrait|upright)")
_RATIO = re.compile(r"\d+(?:[.,]\d+)?\s*:\s*\d+(?:[.,]\d+)?|\d+\s*/\s*\d+")
_BYTES = re.compile(r"(?:(?:at )?most|under|max(?:imum)?)?\s*(.*\d\s*[kmg]i?b)")


@dataclass(frozen=True)
class Wish:
    """A typed wish: exactly one of `size`, `way` and `max_bytes`.

    Attributes
    ----------
    lie : str
        ``auto``: the photo's orientation; ``as-given``: the typed one.
    """

    size: PrintSize | None = None
    way: Way | None = None
    lie: str = "auto"
    max_bytes: int | None = None


def parse_wish(text: str, default_unit: str = "cm", own: Sequence[PrintSize | Way] = ()) -> Wish:
    """Read a typed size.

    Parameters
    ----------
    text : str
        Two sides, a name, one side, ``A3 landscape``, ``16:9`` (as large as possible), ``300 ppi``
        (all pixels), ``12 MP``, ``50 %``, ``2 MB``, a mat, a sheet with a border …
    default_unit : str
        The unit of a number without one, a key of `UNITS`.
    own : sequence of PrintSize or Way
        The user's sizes.

    Raises
    ------
    BadRequest
        The sentence quotes the unreadable part.
    """
    plain = plain_text(text)
    for one in own:
        if plain_text(one.label) == plain:
            return Wish(size=one) if isinstance(one, PrintSize) else Wish(way=one)
    lying = _LYING.fullmatch(plain)
    if lying is not None:
        result = parse_wish(lying[1], default_unit, own)
        if result.size is None or result.lie != "auto":
            raise BadRequest(
                f"“{text}” needs a size with two different sides to be upright or across."
            )
        upright = lying[2] in ("portrait", "upright")
        return Wish(size=result.size.lying(upright), lie="as-given")
    # Accept sizes as the screen shows them, so shown text can be typed again.
    plain = plain.removesuffix(" as large as possible").removeprefix("all of it ")
    plain = plain.removeprefix("at ").removeprefix("of ").removeprefix("screen ")
    weight = _BYTES.fullmatch(plain)
    if weight is not None:
        return Wish(max_bytes=parse_bytes(weight[1]))
    way = parse_way(plain, default_unit) or _one_number(text, plain, default_unit)
    if way is not None:
        return Wish(way=way)
    return Wish(size=parse_size(text, default_unit))


def _one_number(text: str, plain: str, default_unit: str) -> Way | None:
    times = re.fullmatch(r"(.*\d)[x×]", plain)
    if times is not None:
        return Way("scale", (parse_number(times[1], "factor"),))
    if _RATIO.fullmatch(plain):
        return Way("shape", (parse_ratio(plain),))
    if re.fullmatch(r".*\d\s*(?:ppi|dpi|px/in|px/cm|ppcm)", plain):
        return Way("reach", (parse_ppi(plain),))
    if re.fullmatch(r"\d+(?:[.,]\d+)?", plain):
        raise BadRequest(
            f"“{text}” is ambiguous. Type {plain} {default_unit} for the long side, {plain} "
            f"ppi, or two sides: {plain} x {plain}."
        )
    try:
        length: Fraction = parse_length(plain, default_unit)
    except BadRequest:
        return None
    return Way("long-edge", (length,))


TARGETS_TYPED = "12 MP, 50 %, 1.3 x, 2048 px (the long edge), 240 ppi"


def parse_target(text: str) -> Way:
    """Read the pixel count requested for a print's file.

    Raises
    ------
    BadRequest
        If it is not a number of pixels.
    """
    way = parse_wish(re.sub(r"\s+([x×])$", r"\1", plain_text(text))).way
    if way is None or way.kind not in TARGETS:
        raise BadRequest(f"“{text}” is not a number of pixels. Type {TARGETS_TYPED}.")
    return way
