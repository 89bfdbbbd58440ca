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

from zinc_margin.gate import values
from zinc_margin.gate.values import Wrong
from zinc_margin.measure.distances import parse_distance
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import LONGEST_MM, nothing_or, parse_length, parse_number

Typed = Callable[[str], Any]


@dataclass(frozen=True)
class Kind:
    """The allowed content of a field.

    Attributes
    ----------
    read : callable
        Converts a JSON value to the docket's; raises `Wrong`.
    constraint : str
        The constraint in the documentation: ``0–100``.
    unit : str
        ``mm``, ``%``, ``ppi`` …, or empty.
    words : tuple of str
        The allowed words, if only certain words are allowed.
    typed : callable or None
        Reads typed text; None uses the text unchanged.
    metavar : str
        Its placeholder in the help.
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
        Empty: the field's meaning.
    metavar : str
        Empty: the kind's.
    typed : callable or None
        Reads typed text, if not as the kind does.
    sets : bool or None
        The value that a switch writes; None if the option takes a value.
    words : tuple of str
        The accepted words of the kind; empty for all.
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
        The meaning of null; empty if null is not allowed.
    option : Option or None
        None if only a wide option writes it, or no option does.
    key : str
        Its key in JSON.
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
            A JSON value.
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
        The allowed content.
    meaning : str
        One line for the documentation and the option's help.
    default : object
        The default; if it is None, `nothing` must be given.
    nothing : str
        The meaning of null.
    option : Option or str, optional
        The option that writes only this field; a string is its flag.
    key : str
        Its key in JSON, if it differs from the field's name.
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
        If a field has no declaration, or may be null without a meaning for it.
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
        For error sentences.
    value : object
        A JSON value, or an exact fraction.

    Raises
    ------
    BadRequest
        If the value is not allowed; the sentence names the field.
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
        For the documentation.
    typed : Typed or None
        Reads typed text.
    """
    return Kind(
        values.number(low, high),
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
        return Kind(values.number(0, high), sentence, "mm", typed=nothing_or, metavar="LENGTH")
    return Kind(
        values.length_from,
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
        For the documentation.
    metavar : str
        Its placeholder in the help.
    """

    def read(value: Any) -> int:
        if isinstance(value, bool) or not isinstance(value, int) or not low <= value <= high:
            raise Wrong(f"must be a whole number from {low} to {high}")
        return value

    return Kind(read, f"integer, {low} to {high}", unit, typed=_whole_number, metavar=metavar)


def one_of(*words: str) -> Kind:
    """Return the kind of these words."""
    listed = ", ".join(f"`{word}`" for word in words)
    return Kind(values.one_of(*words), listed, words=words)


def text() -> Kind:
    """Return the kind of short texts."""
    return Kind(values.text_from, "a text", typed=lambda typed: typed or None)


def name_kind(read: Callable[[str], Any], what: str, metavar: str) -> Kind:
    """Return the kind of names that `read` accepts.

    Parameters
    ----------
    read : callable
        Converts a name to the docket's value; raises BadRequest.
    what : str
        ``a tone``.
    metavar : str
        Its placeholder in the help.
    """

    def look_up(value: Any) -> Any:
        try:
            return read(values.text_from(value))
        except BadRequest as why:
            raise Wrong(f"must be {what}: {why}") from None

    return Kind(look_up, what, typed=read, metavar=metavar)


def held(cls: type, read: Callable[[Mapping[str, Any]], Any], what: str) -> Kind:
    """Return the kind of values that are objects in JSON.

    Parameters
    ----------
    read : callable
        Converts a JSON object; raises `Wrong`.
    what : str
        The object's fields.
    """

    def look(value: Any) -> Any:
        if isinstance(value, cls):
            return value
        if not isinstance(value, Mapping):
            raise Wrong(f"must have {what}")
        return read(value)

    return Kind(look, what)


SWITCH = Kind(values.yes_or_no, "true or false")
SEEN = Kind(
    values.seen_from,
    "near and far: two lengths over 0",
    "mm",
    typed=parse_distance,
    metavar="LENGTH",
)
SIZE = Kind(values.size_from, "a size: `label`, `width_mm`, `height_mm`", metavar="SIZE")
WAY = Kind(values.way_from, "a way to give a size: `kind` and its values", metavar="SIZE")


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
        Unknown fields from a later version, kept unchanged.
    """

    title: ClassVar[str] = ""
    extra: Mapping[str, Any] = field(default_factory=dict, kw_only=True)


def short_mm(typed: str) -> Fraction:
    """Read a length, in millimetres if it has no unit."""
    return parse_length(typed, "mm")
