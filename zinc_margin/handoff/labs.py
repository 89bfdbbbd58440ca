"""Labs: their terms. The labs that ship are stand-ins, made up; a person describes a real one in a
file of the same fields.
"""

from __future__ import annotations

import json
import re
from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from functools import cache
from pathlib import Path
from typing import Any

from zinc_margin.keeping.folders import own_folder
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import plain_text

_SHIPPED = Path(__file__).parent / "data" / "labs.json"


@dataclass(frozen=True)
class Lab:
    """What a lab takes.

    Attributes
    ----------
    key, name : str
    ppi, floor : Fraction
        What it asks, and the least that it prints from.
    formats, profiles : tuple of str
        No profiles: any that the file carries.
    bits : tuple of int
    most_bytes : int
    enlarges : bool
        Whether it wants the photo's own pixels and enlarges by itself.
    tolerance : Fraction
        By which the shape may be off.
    bleed_mm : Fraction
        That it wants round the ordered size.
    name_rule : str
        A regular expression that a file's name (without its ending) has to match.
    """

    key: str
    name: str
    ppi: Fraction
    floor: Fraction
    formats: tuple[str, ...]
    bits: tuple[int, ...]
    profiles: tuple[str, ...]
    most_bytes: int
    enlarges: bool
    tolerance: Fraction
    bleed_mm: Fraction
    name_rule: str

    @property
    def takes_orders(self) -> bool:
        """Whether orders can be sent to it; devices are there for the check alone."""
        return not self.key.startswith("device:")


def _lab(raw: Mapping[str, Any], source: str) -> Lab:
    try:
        re.compile(raw["name"])
        return Lab(
            str(raw["key"]), str(raw["title"]),
            Fraction(raw["ppi"]), Fraction(raw["floor"]), tuple(raw["formats"]),
            tuple(int(bits) for bits in raw["bits"]), tuple(raw["profiles"]),
            int(raw["most_bytes"]), bool(raw["enlarges"]), Fraction(raw["tolerance"]),
            Fraction(raw["bleed_mm"]), str(raw["name"]),
        )  # fmt: skip
    except (KeyError, TypeError, ValueError, ZeroDivisionError, re.error) as why:
        raise BadRequest(f"{source} describes no counter: {why} is missing or wrong.") from None


@cache
def shipped() -> tuple[Lab, ...]:
    """Return the stand-ins that come with the program."""
    raw = json.loads(_SHIPPED.read_text("utf-8"))
    return tuple(_lab(entry, "the shipped list") for entry in raw["counters"])


def every() -> tuple[Lab, ...]:
    """Return the stand-ins and the counters that a person has described."""
    own = sorted((own_folder("data") / "counters").glob("*.json"))
    return (*shipped(), *(find(str(path)) for path in own))


def find(name: str) -> Lab:
    """Return a counter by its key or name, or from a file that describes one.

    Parameters
    ----------
    name : str

    Raises
    ------
    BadRequest
    """
    if name.endswith(".json"):
        try:
            raw = json.loads(Path(name).read_text("utf-8"))
        except (OSError, ValueError):
            raise BadRequest(f"{name} is no readable description of a counter.") from None
        if not isinstance(raw, dict):
            raise BadRequest(f"{name} is no readable description of a counter.")
        return _lab(raw, name)
    wanted = plain_text(name)
    known = every()
    for lab in known:
        short = lab.key.partition(":")[2]
        if wanted in (lab.key, short, plain_text(lab.name)):
            return lab
    keys = ", ".join(lab.key for lab in known)
    raise BadRequest(f"“{name}” is no counter that I know; there are {keys}.")
