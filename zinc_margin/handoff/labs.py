"""Labs and their terms.

The shipped labs are invented; users describe real ones in files with the same fields.
"""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from fractions import Fraction
from functools import cache
from pathlib import Path
from typing import Any

from zinc_margin.keeping.folders import own_folder
from zinc_margin.measure.errors import BadRequest, ZincError
from zinc_margin.measure.formats import formats
from zinc_margin.measure.lengths import plain_text
from zinc_margin.measure.makers import Maker, makers
from zinc_margin.measure.plain import Wrong, number, text_from

_SHIPPED = Path(__file__).parent / "data" / "labs.json"


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


def _lab(raw: Mapping[str, Any], source: str) -> Lab:
    part = ""

    def read(name: str, reader: Callable[[Any], Any]) -> Any:
        nonlocal part
        part = name
        return reader(raw[name])

    def limit(name: str, most: int) -> int | None:
        return read(name, lambda held: int(number(1, most)(held))) if name in raw else None

    def texts(value: Any) -> tuple[str, ...]:
        if not isinstance(value, list):
            raise Wrong("must be a list of texts")
        return tuple(text_from(each) for each in value)

    resolution = number(1, 10_000)
    try:
        return Lab(
            read("key", text_from),
            read("title", text_from),
            read("ppi", resolution),
            read("floor", resolution),
            read("formats", lambda held: _some_of(tuple(formats()), texts(held))),
            read("bits", lambda held: _some_of((8, 16), held)),
            read("profiles", texts),
            read("most_bytes", lambda held: int(number(0, 10**13)(held))),
            read("enlarges", _is_true) if "enlarges" in raw else False,
            read("tolerance", number(0, 100)),
            read("bleed_mm", number(0, 1000)),
            read("name", _name_rule),
            limit("most_px", 10**6),
            limit("least_px", 10**6),
            read("least_megapixels", number(0, 10**6)) if "least_megapixels" in raw else None,
            limit("least_bytes", 10**13),
        )
    except (KeyError, TypeError, Wrong):
        raise BadRequest(f"{source} does not describe a lab: {part} is missing or wrong.") from None


def _some_of(known: tuple[Any, ...], held: Any) -> tuple[Any, ...]:
    """Return a list that is not empty and has only known members."""
    if not isinstance(held, (list, tuple)) or not held:
        raise Wrong("must be a list that is not empty")
    for each in held:
        if isinstance(each, bool) or each not in known:
            raise Wrong(f"must be of {', '.join(map(str, known))}")
    return tuple(held)


def _is_true(value: Any) -> bool:
    if not isinstance(value, bool):
        raise Wrong("must be true or false")
    return value


def _name_rule(value: Any) -> str:
    rule = text_from(value)
    try:
        re.compile(rule)
    except re.error:
        raise Wrong("must be a regular expression") from None
    return rule


@cache
def shipped_labs() -> tuple[Lab, ...]:
    """Return the invented labs that ship with the program."""
    raw = json.loads(_SHIPPED.read_text("utf-8"))
    labs = tuple(_lab(entry, "the shipped list") for entry in raw["labs"])
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
        try:
            raw = json.loads(Path(name).read_text("utf-8"))
        except (OSError, ValueError, RecursionError):
            raise BadRequest(f"{name} is not a readable description of a lab.") from None
        if not isinstance(raw, dict):
            raise BadRequest(f"{name} is not a readable description of a lab.")
        return _lab(raw, name)
    wanted = plain_text(name)
    known = every()
    for lab in known:
        short = lab.key.partition(":")[2]
        if wanted in (lab.key, short, plain_text(lab.name)):
            return lab
    keys = ", ".join(lab.key for lab in known)
    raise BadRequest(" ".join((f"Unknown lab “{name}”. Choose one of: {keys}.", *broken())))
