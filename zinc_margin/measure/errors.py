"""The family of errors: each is one clear sentence for the user, and has an exit code.

=============  ====  ===========================================================
error          code  meaning
=============  ====  ===========================================================
BadRequest     2     the request makes no sense: a wrong word, an impossible number
CannotDo       1     the request is sound but cannot be carried out: files, memory, disk
NotReturned    3     the window was closed before it sent a picture back (`edit`)
Cancelled      130   the user stopped the work; as a shell reports an interrupt
=============  ====  ===========================================================

Success is 0. Every other exception is a fault of the program: exit code 1, and an entry in the log.
"""

from __future__ import annotations


class ZincError(Exception):
    """Base of the family; its text is one clear sentence."""

    code = 1


class BadRequest(ZincError):
    """The request makes no sense: a wrong word, an impossible number."""

    code = 2


class CannotDo(ZincError):
    """The request is sound but cannot be carried out."""


class NotReturned(ZincError):
    """The window was closed before it sent a picture back."""

    code = 3


class Cancelled(ZincError):
    """The user stopped the work."""

    code = 130

    def __init__(self) -> None:
        super().__init__("Stopped; nothing was written.")
