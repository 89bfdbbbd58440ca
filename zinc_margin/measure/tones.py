"""Plain colours, typed as a name or in web notation."""

from __future__ import annotations

import re

from zinc_margin.measure.errors import BadRequest

WHITE = "#ffffff"
EDGE = "edge"
"""Replaces a colour: the mean of the picture's edge."""
NAMED = {
    "white": WHITE,
    "black": "#000000",
    "ivory": "#f6f1e4",
    "pale grey": "#e2e2e2",
    "grey": "#808080",
    "dark grey": "#3a3a3a",
}
"""Named paper and mat colours; any other colour is written as ``#rrggbb``."""


def parse_tone(text: str) -> str:
    """Return a colour as ``#rrggbb`` in sRGB."""
    plain = " ".join(text.lower().split()).replace("gray", "grey")
    if plain in NAMED:
        return NAMED[plain]
    digits = re.fullmatch(r"#?([0-9a-f]{6}|[0-9a-f]{3})", plain)
    if digits is None:
        known = ", ".join(NAMED)
        raise BadRequest(f"Unknown colour “{text}”. Type one of {known}, or #f4efe4.")
    code = digits[1]
    return "#" + (code if len(code) == 6 else "".join(2 * digit for digit in code))


def parse_tone_or_edge(text: str) -> str:
    """Return a colour as ``#rrggbb``, or ``edge`` for the mean of the picture's edge."""
    return EDGE if text.strip().lower() == EDGE else parse_tone(text)


def tone_name(tone: str) -> str:
    """Return a colour's name, or its ``#rrggbb``.

    Parameters
    ----------
    tone : str
        ``#rrggbb``.
    """
    return next((name for name, code in NAMED.items() if code == tone), tone)


def parts_of(tone: str) -> tuple[float, float, float]:
    """Return red, green and blue of ``#rrggbb``, 0 to 1, sRGB-encoded.

    Parameters
    ----------
    tone : str
        ``#rrggbb``.
    """
    red, green, blue = (int(tone[at : at + 2], 16) / 255 for at in (1, 3, 5))
    return red, green, blue
