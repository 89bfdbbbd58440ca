"""Labs and their terms.

The shipped labs are invented; users describe real ones in files with the same fields.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from functools import cache
from pathlib import Path
from typing import Any

from zinc_margin.gate.documents import parse
from zinc_margin.gate.files import read_text
from zinc_margin.gate.values import (
    Wrong,
    list_of,
    number,
    one_of,
    record,
    text_from,
    whole,
    yes_or_no,
)
from zinc_margin.keeping.folders import own_folder
from zinc_margin.measure.errors import BadRequest, ZincError
from zinc_margin.measure.formats import formats
from zinc_margin.measure.lengths import plain_text
from zinc_margin.measure.makers import Maker, makers
from zinc_margin.measure.tables import shipped


@dataclass(frozen=True)
class Lab:
    """A lab's requirements.

    Attributes
    ----------
    key, name : str
    ppi, floor : Fraction
        Target and minimum resolution.
    formats, profiles : tuple of str
        Without profiles, any is accepted.
    bits : tuple of int
    most_bytes : int
    enlarges : bool
        Whether it enlarges itself and needs the photo's own pixels.
    tolerance : Fraction
        Allowed deviation of the shape.
    bleed_mm : Fraction
        Required bleed around the ordered size.
    name_rule : str
        A regular expression for file names without suffix.
    most_px, least_px : int or None
        Limits of the longer side.
    least_megapixels : Fraction or None
    least_bytes : int or None
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
    most_px: int | None = None
    least_px: int | None = None
    least_megapixels: Fraction | None = None
    least_bytes: int | None = None

    @property
    def takes_orders(self) -> bool:
        """Whether it accepts orders; devices and entries exist only for the check."""
        return not self.key.startswith(("device:", "entry:"))


_PART = re.compile(
    r"(?P<one>\\\D|\[\^?\]?(?:\\.|[^\]\\])*\]|[^][\\(){}*+?|])"
    r"(?P<times>\{\d{1,3}(?:,\d{0,3})?\}|[*+?])?|\((?:\?:)?|\)\??|\|"
)
_MOST_REPEATS = 3
"""Repeats of varying length: more of them could keep the search busy for hours."""


def _name_rule(value: Any) -> str:
    """Read a regular expression for names that is sure to be searched quickly."""
    rule, at, repeats = text_from(value), 0, 0
    while at < len(rule):
        part = _PART.match(rule, at)
        if part is None:
            raise Wrong("must be a plain regular expression: letters, classes, groups, repeats")
        times = part["times"] or "?"
        repeats += times != "?" and ("," in times or times in "*+")
        at = part.end()
    if repeats > _MOST_REPEATS:
        raise Wrong(f"must have at most {_MOST_REPEATS} repeats of varying length")
    try:
        re.compile(rule)
    except (re.error, RecursionError):
        raise Wrong("must be a regular expression") from None
    return rule


_ONE = number(1, 10_000)
_LAB = record(
    {
        "key": text_from,
        "title": text_from,
        "ppi": _ONE,
        "floor": _ONE,
        "formats": list_of(one_of(*formats()), 1, 50),
        "bits": list_of(one_of(8, 16), 1, 2),
        "profiles": list_of(text_from, most=100),
        "most_bytes": whole(0, 10**13),
        "tolerance": number(0, 100),
        "bleed_mm": number(0, 1000),
        "name": _name_rule,
    },
    {
        "enlarges": yes_or_no,
        "most_px": whole(1, 10**6),
        "least_px": whole(1, 10**6),
        "least_megapixels": number(0, 10**6),
        "least_bytes": whole(1, 10**13),
    },
)


def read_lab(raw: Any, source: str) -> Lab:
    """Read a lab from JSON data.

    Raises
    ------
    BadRequest
        If something is missing or wrong (named).
    """
    try:
        fields = _LAB(raw)
    except Wrong as why:
        raise BadRequest(f"{source} does not describe a lab: {why}.") from None
    name, rule = fields.pop("title"), fields.pop("name")
    return Lab(**fields | {"enlarges": bool(fields["enlarges"])}, name=name, name_rule=rule)


@cache
def shipped_labs() -> tuple[Lab, ...]:
    """Return the invented labs that ship with the program."""
    labs = tuple(read_lab(entry, "the shipped list") for entry in shipped(__file__, "labs")["labs"])
    return labs + tuple(_entry(maker) for maker in makers() if maker.most_px is not None)


def _entry(maker: Maker) -> Lab:
    """Return an entry's terms, from its maker: any shape, limits on pixels and bytes."""
    one = Fraction(1)
    return Lab(
        f"entry:{maker.key}",
        maker.name,
        one,
        one,
        (maker.format,),
        (8,),
        ("sRGB",),
        maker.most_bytes or 10**13,
        False,
        Fraction(100),
        Fraction(0),
        ".{1,200}",
        maker.most_px,
    )


def every() -> tuple[Lab, ...]:
    """Return the shipped labs and those that the user described."""
    return (*shipped_labs(), *(lab for lab in _own() if isinstance(lab, Lab)))


def broken() -> tuple[str, ...]:
    """Return a sentence for every unreadable lab file of the user."""
    return tuple(lab for lab in _own() if isinstance(lab, str))


def _own() -> Iterator[Lab | str]:
    """Yield the user's labs, or the errors of their files."""
    for path in sorted((own_folder("data") / "labs").glob("*.json")):
        try:
            yield find(str(path))
        except ZincError as why:
            yield str(why)


def find(name: str) -> Lab:
    """Return a lab by key or name, or from a file that describes it."""
    if name.endswith(".json"):
        return read_lab(parse(read_text(Path(name), "description of a lab"), name), name)
    wanted = plain_text(name)
    known = every()
    for lab in known:
        short = lab.key.partition(":")[2]
        if wanted in (lab.key, short, plain_text(lab.name)):
            return lab
    keys = ", ".join(lab.key for lab in known)
    raise BadRequest(" ".join((f"Unknown lab “{name}”. Choose one of: {keys}.", *broken())))
