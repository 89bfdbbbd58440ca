"""The networks that a plan's pixels go through, in order."""

from __future__ import annotations

from typing import NamedTuple

from zinc_margin.plan.parts import Pixels, Repair

Asked = tuple[str, ...]
"""Networks that are asked: the first for the picture, a second for its mirror image, a third and a
fourth for these upside down."""


_ENLARGERS: dict[tuple[str, str], Asked] = {
    ("ai", "photo"): ("twice",),
    ("ai-fine", "photo"): ("fine", "twice"),
    ("ai", "lettering"): ("letters",),
    ("ai-fine", "lettering"): ("letters",),
}
_MUCH_CLEANED = 20
"""Strength of cleaning, of 100, from which the photo that it leaves is another kind of photo."""

_AFTER_CLEANING: dict[str, Asked] = {"ai": ("mended",), "ai-fine": ("mended", "mended")}

TOLD = ("mended",)
_TELL = ("blocks",)
_TIMES_ASKED = {"ai": 2, "ai-fine": 4}  # that `blocks` is
_MUCH_LOST = 50
"""Strength of cleaning from which it is asked so often; under it half as often: what lost little to
JPEG is large, as a rule, and gains as little as a twentieth of a decibel by twice the time."""
_SOON_DONE = 2_000_000
"""A photo of fewer pixels is done soon, so both methods clean it with the finer one's effort."""


def enlargers(method: str, kind: str, cleaned: bool) -> Asked:
    """Return which networks enlarge.

    What cleaning leaves is calmer than a photo is: photographs out of it have an enlarger of their
    own, which knows what is missing there.

    Parameters
    ----------
    method, kind : str
        As the plan's pixels have them.
    cleaned : bool
        Whether much of JPEG's blocks or of noise was just taken away.
    """
    if cleaned and kind == "photo":
        return _AFTER_CLEANING[method]
    return _ENLARGERS[method, kind]


def cleaners(method: str | None, repair: Repair, pixels: int) -> Asked:
    """Return which networks clean a photo of so many pixels: of noise too, or of JPEG alone.

    Parameters
    ----------
    method : str or None
        A key of the kernels; None if pixels are kept.
    repair : Repair
        What was taken away before.
    pixels : int
        Of the photo.
    """
    if repair.denoise:
        return ("clean",)
    times = _TIMES_ASKED.get(method or "", 1)
    if times > 1 and pixels <= _SOON_DONE:
        times = max(_TIMES_ASKED.values())
    return ("blocks",) * (times if repair.clean >= _MUCH_LOST else -(-times // 2))


def enlargers_with_seen(cleaning: Asked, enlarging: Asked) -> Asked:
    """Return who enlarges by what each that cleans has to tell; none if they have nothing to.

    Parameters
    ----------
    cleaning : Asked
        The networks that clean.
    enlarging : Asked
        The networks that enlarge.
    """
    tells = cleaning[0] in _TELL and enlarging[0] in TOLD
    return enlarging[:1] * len(cleaning) if tells else ()


class Stages(NamedTuple):
    """The networks that a plan asks for, in order.

    Attributes
    ----------
    cleaners : tuple of str
    with_seen : tuple of str
        Those of the first doubling that are given what the cleaners saw; empty: it is done apart.
    doublings : tuple of tuple of str
        Those of each doubling that follows.
    """

    cleaners: Asked
    with_seen: Asked
    doublings: tuple[Asked, ...]


def stages(pixels: Pixels, size: int) -> Stages:
    """Return the networks that a plan asks for.

    Parameters
    ----------
    size : int
        Pixels of the photo.
    """
    repair = pixels.repair
    cleaned = max(repair.clean, repair.denoise) >= _MUCH_CLEANED
    doublings = tuple(
        enlargers(pixels.method or "", pixels.network or "", cleaned and not step)
        for step in range(pixels.doublings)
    )
    if not repair.any:
        return Stages((), (), doublings)
    asked = cleaners(pixels.method, repair, size)
    with_seen = enlargers_with_seen(asked, doublings[0]) if doublings else ()
    return Stages(asked, with_seen, doublings[1:] if with_seen else doublings)
