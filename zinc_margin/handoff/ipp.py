"""The Internet Printing Protocol: requests and answers as bytes.

References
----------
RFC 8010 (2017): encoding. RFC 8011 (2017): operations, attributes, states.
"""

from __future__ import annotations

import struct
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from itertools import count
from pathlib import Path
from typing import Any

from zinc_margin.gate.environment import variable
from zinc_margin.measure.errors import CannotDo
from zinc_margin.measure.words import clean, shorten

PRINT_JOB, CANCEL_JOB, GET_JOB, GET_PRINTER, GET_QUEUES = 0x0002, 0x0008, 0x0009, 0x000B, 0x4002
"""Operations; the last one, which lists queues, is specific to CUPS."""
_OPERATION, _JOB, _END, _PRINTER, _FIRST_VALUE = 0x01, 0x02, 0x03, 0x04, 0x10
_LAST_SUCCESS = 0x00FF
NOT_FOUND, GONE = 0x0406, 0x0407
_INTEGER, _BOOLEAN, _ENUM, _RESOLUTION, _RANGE = 0x21, 0x22, 0x23, 0x32, 0x33
_BEGIN, _CLOSE, _MEMBER = 0x34, 0x37, 0x4A
_WITH_LANGUAGE = (0x35, 0x36)
NAME, KEYWORD, URI, CHARSET, LANGUAGE, MIME = 0x42, 0x44, 0x45, 0x47, 0x48, 0x49
SOCKETS = ("/run/cups/cups.sock", "/var/run/cups/cups.sock")
_MOST_DEPTH = 8
_numbers = count(1)


@dataclass(frozen=True)
class Keyed:
    """A value with an explicit IPP tag.

    Attributes
    ----------
    tag : int
    value : str or int
    """

    tag: int
    value: str | int


class Attributes:
    """The attributes of a printer or a job: typed values, whatever it has answered.

    Values of another type count as absent, and texts have no controls.
    """

    def __init__(self, held: Mapping[str, Sequence[Any]] | None = None) -> None:
        self._held = held or {}

    def texts(self, name: str) -> tuple[str, ...]:
        """Return an attribute's texts."""
        values = self._held.get(name, ())
        return tuple(clean(each) for each in values if isinstance(each, str))

    def text(self, name: str) -> str:
        """Return an attribute's first text; empty if there is none."""
        return next(iter(self.texts(name)), "")

    def numbers(self, name: str) -> tuple[int, ...]:
        """Return an attribute's numbers."""
        values = self._held.get(name, ())
        return tuple(each for each in values if type(each) is int)

    def number(self, name: str) -> int | None:
        """Return an attribute's first number; None if there is none."""
        return next(iter(self.numbers(name)), None)

    def flag(self, name: str, usual: bool) -> bool:
        """Return an attribute's first truth value."""
        return next((each for each in self._held.get(name, ()) if isinstance(each, bool)), usual)

    def dots_per_inch(self, name: str) -> tuple[int, ...]:
        """Return an attribute's resolutions, the finer of both directions."""
        rows = [each for each in self._held.get(name, ()) if isinstance(each, tuple)]
        return tuple(
            max(row[:2]) if row[2] == "dpi" else round(max(row[:2]) * 2.54)
            for row in rows
            if len(row) == 3
        )

    def parts(self, name: str) -> tuple[Attributes, ...]:
        """Return an attribute's collections."""
        values = self._held.get(name, ())
        return tuple(Attributes(each) for each in values if isinstance(each, Mapping))


@dataclass
class Answer:
    """A printer's answer.

    Attributes
    ----------
    status : int
    groups : list of (int, dict)
        The kind of each group, and its attributes by name, each a list of values.
    """

    status: int
    groups: list[tuple[int, dict[str, list[Any]]]] = field(default_factory=list)

    @property
    def accepted(self) -> bool:
        """Whether the request was carried out."""
        return self.status <= _LAST_SUCCESS

    @property
    def printers(self) -> tuple[Attributes, ...]:
        """The printers of the answer."""
        return tuple(Attributes(held) for kind, held in self.groups if kind == _PRINTER)

    @property
    def job(self) -> Attributes:
        """The job of the answer; empty if there is none."""
        jobs = (held for kind, held in self.groups if kind == _JOB)
        return Attributes(next(jobs, None))


def request(
    operation: int,
    uri: str,
    more: Mapping[str, Any] | None = None,
    job: Mapping[str, Any] | None = None,
) -> bytes:
    """Return a request as bytes.

    Parameters
    ----------
    uri : str
        The printer's address; empty for the scheduler.
    more : mapping
        The operation's attributes: keywords, numbers, `Keyed`, mappings, or lists of these.
    """
    head = struct.pack(">BBHI", 2, 0, operation, next(_numbers) % 2**31)
    given: dict[str, Any] = {
        "attributes-charset": Keyed(CHARSET, "utf-8"),
        "attributes-natural-language": Keyed(LANGUAGE, "en"),
    }
    if uri:
        given["printer-uri"] = Keyed(URI, uri)
    given["requesting-user-name"] = Keyed(NAME, shorten(clean(variable("USER"))) or "anonymous")
    parts = [head, bytes([_OPERATION]), _encode({**given, **(more or {})})]
    if job:
        parts += [bytes([_JOB]), _encode(job)]
    return b"".join([*parts, bytes([_END])])


def _encode(attributes: Mapping[str, Any]) -> bytes:
    out = []
    for name, value in attributes.items():
        values = value if isinstance(value, list) else [value]
        for at, one in enumerate(values):
            out.append(_attribute("" if at else name, one))
    return b"".join(out)


def _attribute(name: str, value: Any) -> bytes:
    if isinstance(value, Mapping):
        inner = [_field(_BEGIN, name, b"")]
        for key, one in value.items():
            inner += [_field(_MEMBER, "", key.encode()), _attribute("", one)]
        return b"".join([*inner, _field(_CLOSE, "", b"")])
    if isinstance(value, bool):
        return _field(_BOOLEAN, name, bytes([value]))
    if isinstance(value, int):
        return _field(_INTEGER, name, struct.pack(">i", value))
    tag, held = (value.tag, value.value) if isinstance(value, Keyed) else (KEYWORD, value)
    data = struct.pack(">i", held) if isinstance(held, int) else str(held).encode("utf-8")
    return _field(tag, name, data)


def enum(value: int) -> Keyed:
    """Return a number as an IPP enum."""
    return Keyed(_ENUM, value)


def _field(tag: int, name: str, value: bytes) -> bytes:
    key = name.encode("utf-8")
    return struct.pack(">BH", tag, len(key)) + key + struct.pack(">H", len(value)) + value


def parse(data: bytes) -> Answer:
    """Parse an answer.

    Raises
    ------
    CannotDo
        If it is not valid.
    """
    try:
        return _Reader(data).answer()
    except (struct.error, IndexError, UnicodeDecodeError, ValueError) as why:
        raise CannotDo("The printing system's answer is not valid IPP.") from why


class _Reader:
    def __init__(self, data: bytes) -> None:
        self._data, self._at = data, 8
        _, _, self._status, _ = struct.unpack_from(">BBHI", data)

    def answer(self) -> Answer:
        groups: list[tuple[int, dict[str, list[Any]]]] = []
        name = ""
        while self._data[self._at] != _END:
            tag = self._data[self._at]
            if tag < _FIRST_VALUE:
                groups.append((tag, {}))
                self._at += 1
                continue
            tag, key, value = self._next()
            name = key or name
            groups[-1][1].setdefault(name, []).append(self._value(tag, value, 0))
        return Answer(self._status, groups)

    def _next(self) -> tuple[int, str, bytes]:
        tag, length = struct.unpack_from(">BH", self._data, self._at)
        start = self._at + 3
        key = self._data[start : start + length].decode("utf-8")
        (size,) = struct.unpack_from(">H", self._data, start + length)
        begin = start + length + 2
        self._at = begin + size
        if self._at > len(self._data):
            raise ValueError("incomplete")
        return tag, key, self._data[begin : self._at]

    def _value(self, tag: int, data: bytes, depth: int) -> Any:
        if tag == _BEGIN:
            return self._collection(depth + 1)
        if tag in (_INTEGER, _ENUM):
            return struct.unpack(">i", data)[0]
        if tag == _BOOLEAN:
            return data != b"\0"
        if tag == _RESOLUTION:
            across, down, unit = struct.unpack(">iib", data)
            return (across, down, "dpi" if unit == 3 else "dpcm")
        if tag == _RANGE:
            return struct.unpack(">ii", data)
        if tag in _WITH_LANGUAGE:
            (skipped,) = struct.unpack_from(">H", data)
            return data[skipped + 4 :].decode("utf-8", "replace")
        if tag >= 0x40:
            return data.decode("utf-8", "replace")
        return None  # dates, and unknown types

    def _collection(self, depth: int) -> dict[str, list[Any]]:
        if depth > _MOST_DEPTH:
            raise ValueError("nested too deeply")
        result: dict[str, list[Any]] = {}
        member = ""
        while True:
            tag, _, value = self._next()
            if tag == _CLOSE:
                return result
            if tag == _MEMBER:
                member = value.decode("utf-8")
                continue
            result.setdefault(member, []).append(self._value(tag, value, depth))


def absent() -> str | None:
    """Return why printing is impossible here, without asking the scheduler; None if it may work."""
    if variable("CUPS_SERVER") or any(Path(path).exists() for path in SOCKETS):
        return None
    return "This system has no printing service (CUPS), or it is not running."
