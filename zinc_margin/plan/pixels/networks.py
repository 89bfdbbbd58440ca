"""The networks that process a plan's pixels, in order."""

from __future__ import annotations

from typing import NamedTuple

from zinc_margin.plan.parts import Pixels, Repair

Asked = tuple[str, ...]
"""Networks that are averaged: the first sees the picture, the second its mirror image, the third
and fourth these two upside down.
"""


_ENLARGERS: dict[tuple[str, str], Asked] = {
    ("ai", "photo"): ("twice",),
    ("ai-fine", "photo"): ("fine", "twice"),
    ("ai", "lettering"): ("letters",),
    ("ai-fine", "lettering"): ("letters",),
}
_MUCH_CLEANED = 20
"""Strength of cleaning, of 100, above which the cleaned photo needs an enlarger trained for it."""

_AFTER_CLEANING: dict[str, Asked] = {"ai": ("mended",), "ai-fine": ("mended", "mended")}

TOLD = ("mended",)
_TELL = ("blocks",)
_TIMES_ASKED = {"ai": 2, "ai-fine": 4}  # how often `blocks` runs
_MUCH_LOST = 50
"""Strength of cleaning from which it runs that often; below, half as often. A lightly compressed
photo is usually large and gains only 0.05 dB for twice the time.
"""
_SOON_DONE = 2_000_000
"""Below this pixel count, both methods clean with the effort of the finer one: it is fast enough.
"""


def enlargers(method: str, kind: str, cleaned: bool) -> Asked:
    """Return the networks that enlarge.

    A cleaned photo is smoother than an ordinary one and has its own enlarger, trained to restore
    the missing detail.

    Parameters
    ----------
    method, kind : str
        As in the plan's pixels.
    cleaned : bool
        Whether strong cleaning precedes it.
    """
    if cleaned and kind == "photo":
        return _AFTER_CLEANING[method]
    return _ENLARGERS[method, kind]


def cleaners(method: str | None, repair: Repair, pixels: int) -> Asked:
    """Return the networks that clean a photo of this size, of noise or of JPEG artefacts alone.

    Parameters
    ----------
    method : str or None
        A key of the kernels; None if pixels are kept.
    repair : Repair
        Earlier repairs.
    pixels : int
        Pixel count of the photo.
    """
    if repair.denoise:
        return ("clean",)
    times = _TIMES_ASKED.get(method or "", 1)
    if times > 1 and pixels <= _SOON_DONE:
        times = max(_TIMES_ASKED.values())
    return ("blocks",) * (times if repair.clean >= _MUCH_LOST else -(-times // 2))


def enlargers_with_seen(cleaning: Asked, enlarging: Asked) -> Asked:
    """Return the enlargers that use the cleaners' hidden output; empty if these have none.

    Parameters
    ----------
    cleaning : Asked
        The cleaners.
    enlarging : Asked
        The enlargers.
    """
    tells = cleaning[0] in _TELL and enlarging[0] in TOLD
    return enlarging[:1] * len(cleaning) if tells else ()


class Stages(NamedTuple):
    """The networks of a plan, in order.

    Attributes
    ----------
    cleaners : tuple of str
    with_seen : tuple of str
        Enlargers of the first ×2 step that use the cleaners' hidden output; empty if that step is
        separate.
    doublings : tuple of tuple of str
        Enlargers of each further ×2 step.
    """

    cleaners: Asked
    with_seen: Asked
    doublings: tuple[Asked, ...]


def stages(pixels: Pixels, size: int) -> Stages:
    """Return the networks of a plan.

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
