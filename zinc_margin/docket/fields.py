"""Docket fields, each declared once: allowed content, unit, default and meaning.

The JSON reader, the command-line option with its help, and the tables in the documentation all use
this declaration; fields are not listed elsewhere. `number`, `length` and the other kinds define the
allowed content; `said` declares the field.
"""

from __future__ import annotations

import dataclasses
import json
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any, ClassVar

from zinc_margin.measure import plain
from zinc_margin.measure.distances import parse_distance
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import LONGEST_MM, nothing_or, parse_length, parse_number
from zinc_margin.measure.plain import Wrong

Typed = Callable[[str], Any]


@dataclass(frozen=True)
class Kind:
    """The allowed content of a field.

    Attributes
    ----------
    read : callable
        From JSON's value to the docket's; raises `Wrong`.
    constraint : str
        The constraint as the documents say it: ``0–100``.
    unit : str
        ``mm``, ``%``, ``ppi`` …; empty if there is none.
    words : tuple of str
        All that may be said, where only certain words may.
    typed : callable or None
        Reads what a person types for it; None takes the text as it is.
    metavar : str
        What represents it in the help.
    low, high : Fraction, int or None
        The bounds of a number, which its control shares.
    """

    read: Callable[[Any], Any]
    constraint: str
    unit: str = ""
    words: tuple[str, ...] = ()
    typed: Typed | None = None
    metavar: str = "TEXT"
    low: Fraction | int | None = None
    high: Fraction | int | None = None


@dataclass(frozen=True)
class Option:
    """A command-line option that writes one field.

    Attributes
    ----------
    flag : str
        Without its hyphens.
    help : str
        Empty: as the field's meaning.
    metavar : str
        Empty: as the kind has it.
    typed : callable or None
        Reads what is typed, where not as the kind does.
    sets : bool or None
        Of a switch: the value that it writes; None if something is typed.
    words : tuple of str
        Those of the kind's words that it takes; empty: all.
    """

    flag: str
    help: str = ""
    metavar: str = ""
    typed: Typed | None = None
    sets: bool | None = None
    words: tuple[str, ...] = ()


@dataclass(frozen=True)
class Said:
    """The declaration of one field.

    Attributes
    ----------
    kind : Kind
    meaning : str
        One line.
    nothing : str
        What null means; empty if it may not be null.
    option : Option or None
        None if an option that writes several fields writes it, or none does.
    key : str
        In JSON.
    """

    kind: Kind
    meaning: str
    nothing: str
    option: Option | None
    key: str

    def read(self, value: Any) -> Any:
        """Convert a JSON value to the docket's value.

        Parameters
        ----------
        value : Any
            As JSON has it.
        """
        if value is None and self.nothing:
            return None
        return self.kind.read(str(value) if isinstance(value, Fraction) else value)


def said(
    kind: Kind,
    meaning: str,
    default: Any = None,
    *,
    nothing: str = "",
    option: Option | str | None = None,
    key: str = "",
) -> Any:
    """Return a dataclass field with its declaration.

    Parameters
    ----------
    kind : Kind
        What it may hold.
    meaning : str
        One line, for the documents and the option's help.
    default : object
        The usual value; a field whose usual value is None has to say `nothing`.
    nothing : str
        What null represents.
    option : Option or str, optional
        The option that writes it alone; a text is its flag.
    key : str
        In JSON, where it is not the field's own name.
    """
    one = Option(option) if isinstance(option, str) else option
    # Only the class knows the field's name; `said_of` fills in an empty key.
    return dataclasses.field(
        default=default, metadata={"said": Said(kind, meaning, nothing, one, key)}
    )


def said_of(line: type) -> dict[str, Said]:
    """Return the declarations of a line's fields by name, in order.

    Parameters
    ----------
    line : type
        The line's class.

    Raises
    ------
    TypeError
        When a field says nothing of itself, or may be nothing without saying what that means.
    """
    fields = {}
    for item in dataclasses.fields(line):
        if item.name == "extra":
            continue
        one = item.metadata.get("said")
        if one is None or (item.default is None and not one.nothing):
            raise TypeError(f"{line.__name__}.{item.name} has an incomplete declaration")
        fields[item.name] = dataclasses.replace(one, key=one.key or item.name)
    return fields


def read_field(line: str, one: Said, value: Any) -> Any:
    """Return one field's value as stored in the docket.

    Parameters
    ----------
    line : str
        For the sentence.
    value : object
        As JSON has it; an exact fraction is taken, too.

    Raises
    ------
    BadRequest
        When it cannot be meant; the sentence names the field.
    """
    try:
        return one.read(value)
    except Wrong as why:
        shown = json.dumps(value, ensure_ascii=False, default=str)
        raise BadRequest(f"{line}.{one.key} {why}, not {shown[:60]}.") from None


# Kinds of content.


def number(
    low: Fraction | int, high: Fraction | int, unit: str = "", typed: Typed | None = None
) -> Kind:
    """Return the kind of exact numbers from `low` to `high`, inclusive.

    Parameters
    ----------
    unit : str
        For the documents.
    typed : Typed or None
        Reads what a person types.
    """
    return Kind(
        plain.number(low, high),
        f"{_short(low)} to {_short(high)}",
        unit,
        typed=typed or (signed_number if low < 0 else plain_number),
        metavar="N",
        low=low,
        high=high,
    )


def length(high: Fraction | int = LONGEST_MM, none: bool = True) -> Kind:
    """Return the kind of lengths in mm up to `high`; with `none`, zero is allowed."""
    if none:
        sentence = f"0 to {_short(high)}"
        return Kind(plain.number(0, high), sentence, "mm", typed=nothing_or, metavar="LENGTH")
    return Kind(
        plain.length_from,
        (f"over 0, up to {_short(high)}"),
        "mm",
        typed=parse_length,
        metavar="LENGTH",
    )


def whole(low: int, high: int, unit: str = "", metavar: str = "N") -> Kind:
    """Return the kind of integers from `low` to `high`.

    Parameters
    ----------
    unit : str
        For the documents.
    metavar : str
        What represents it in the help.
    """

    def read(value: Any) -> int:
        if isinstance(value, bool) or not isinstance(value, int) or not low <= value <= high:
            raise Wrong(f"must be a whole number from {low} to {high}")
        return value

    return Kind(read, f"integer, {low} to {high}", unit, typed=_whole_number, metavar=metavar)


def one_of(*words: str) -> Kind:
    """Return the kind of these words."""

    def read(value: Any) -> str:
        if value not in words:
            raise Wrong("must be one of " + ", ".join(words))
        return str(value)

    return Kind(read, ", ".join(f"`{word}`" for word in words), words=words)


def text() -> Kind:
    """Return the kind of short texts."""
    return Kind(plain.text_from, "a text", typed=lambda typed: typed or None)


def known(read: Callable[[str], Any], what: str, metavar: str) -> Kind:
    """Return the kind of names that `read` accepts.

    Parameters
    ----------
    read : callable
        From a name to the docket's value; raises BadRequest.
    what : str
        ``a tone``.
    metavar : str
        What represents it in the help.
    """

    def look_up(value: Any) -> Any:
        try:
            return read(plain.text_from(value))
        except BadRequest as why:
            raise Wrong(f"must be {what}: {why}") from None

    return Kind(look_up, what, typed=read, metavar=metavar)


def held(cls: type, read: Callable[[Mapping[str, Any]], Any], what: str) -> Kind:
    """Return the kind of values that are objects in JSON.

    Parameters
    ----------
    read : callable
        From JSON's object; raises `Wrong`.
    what : str
        Which fields it holds.
    """

    def look(value: Any) -> Any:
        if isinstance(value, cls):
            return value
        if not isinstance(value, Mapping):
            raise Wrong(f"must hold {what}")
        return read(value)

    return Kind(look, what)


def _yes_or_no(value: Any) -> bool:
    if not isinstance(value, bool):
        raise Wrong("must be true or false")
    return value


SWITCH = Kind(_yes_or_no, "true or false")
SEEN = Kind(
    plain.seen_from,
    "near and far: two lengths over 0",
    "mm",
    typed=parse_distance,
    metavar="LENGTH",
)
SIZE = Kind(plain.size_from, "a size: `label`, `width_mm`, `height_mm`", metavar="SIZE")
WAY = Kind(plain.way_from, "a way to give a size: `kind` and its values", metavar="SIZE")


# Typed text.


def plain_number(typed: str) -> Fraction:
    """Read a non-negative number, with an optional percent sign."""
    return parse_number(typed.strip().removesuffix("%").strip())


def signed_number(typed: str) -> Fraction:
    """Read a signed number, with an optional percent sign."""
    bare = typed.strip()
    sign = -1 if bare.startswith(("-", "−")) else 1
    return sign * plain_number(bare.lstrip("-−+"))


def _whole_number(typed: str) -> int:
    try:
        return int(typed.strip().removesuffix("%"))
    except ValueError:
        raise BadRequest(f"“{typed}” is not a whole number.") from None


def _short(value: Fraction | int) -> str:
    return str(value) if value == int(value) else f"{float(value):g}"


@dataclass(frozen=True)
class Line:
    """One line of the margin.

    Attributes
    ----------
    extra : Mapping
        Fields that a later version wrote and this one does not know; kept as they are.
    """

    title: ClassVar[str] = ""
    extra: Mapping[str, Any] = field(default_factory=dict, kw_only=True)
