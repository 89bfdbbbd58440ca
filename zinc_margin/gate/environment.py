"""Environment variables: printable text, or a folder."""

from __future__ import annotations

import os

_LONGEST = 4096


def variable(name: str) -> str:
    """Return an environment variable's text; empty if it is missing, very long or not printable.

    Bytes that are not UTF-8 become question marks.
    """
    value = os.environ.get(name, "").strip().encode("utf-8", "replace").decode("utf-8")
    return value if len(value) <= _LONGEST and value.isprintable() else ""


def folder(name: str) -> str:
    """Return the absolute path in an environment variable; empty if there is none.

    File names may be any bytes. The XDG specification says to ignore relative paths.
    """
    value = os.environ.get(name, "")
    return value if os.path.isabs(value) and len(value) <= _LONGEST else ""
