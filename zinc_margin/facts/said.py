"""What a photo's metadata say of it: title, date, author."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Said:
    """Words for captions; empty where the photo says nothing.

    Attributes
    ----------
    title, author : str
    date : str
        ``2026-05-09``.
    readable : bool
        False where its metadata are there and damaged, so that they cannot be carried.
    """

    title: str = ""
    date: str = ""
    author: str = ""
    readable: bool = True
