"""The few ways in which a request can fail, each with one sentence for the person who made it."""

from __future__ import annotations


class ZincError(Exception):
    """Anything that the program says no to; the text is one clear sentence."""


class BadRequest(ZincError):
    """What was asked for cannot be meant: a wrong word, an impossible number."""


class CannotDo(ZincError):
    """The request is sound, but it could not be carried out (files, memory, disk)."""


class Cancelled(ZincError):
    """The person stopped the work."""

    def __init__(self) -> None:
        super().__init__("Stopped; nothing was written.")
