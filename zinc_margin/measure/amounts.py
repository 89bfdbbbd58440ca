"""Sizes of files, as they are typed."""

from __future__ import annotations

import re

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import parse_number, plain_text

_UNITS = {
    "": 1, "b": 1, "byte": 1, "bytes": 1,
    "k": 10**3, "kb": 10**3, "m": 10**6, "mb": 10**6, "g": 10**9, "gb": 10**9,
    "kib": 2**10, "mib": 2**20, "gib": 2**30,
}  # fmt: skip
LEAST_BYTES = 10_000


def parse_bytes(text: str) -> int:
    """Read ``2 MB``, ``500 kB``, ``1.5MB`` or ``800000``; thousands, so none is passed.

    Raises
    ------
    BadRequest
        When it is no size of a file, or under 10 kB.
    """
    plain = plain_text(text)
    match = re.fullmatch(r"(.*?\d)\s*([a-z]*)", plain)
    unit = _UNITS.get(match[2]) if match else None
    if match is None or unit is None:
        raise BadRequest(f"“{text}” is no size of a file; type one such as 2 MB or 500 kB.")
    count = int(parse_number(match[1], "size of a file") * unit)
    if count < LEAST_BYTES:
        raise BadRequest(f"“{text}” is less than any picture needs; the least is 10 kB.")
    return count
