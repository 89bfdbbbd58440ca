"""The small networks that ship with the program, run on the processor.

How they were trained, on what, and what they are worth is in ``models/card.md``.
"""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from zinc_margin.keeping import log
from zinc_margin.measure.errors import CannotDo
from zinc_margin.pixels import ability
from zinc_margin.plan.parts import Pixels, Repair

_MODELS = Path(__file__).with_name("models")
Asked = tuple[str, ...]
"""Networks that are asked: the first for the picture, a second for its mirror image, a third and a
fourth for these upside down."""

Seen = tuple[np.ndarray, ...]
"""What each network that cleans saw, (planes, H/2, W/2): an enlarger can be told of it."""


class Answer(NamedTuple):
    """What networks say of a plane: the correction to it, and what else they saw."""

    change: np.ndarray
    seen: Seen


_ENLARGERS: dict[tuple[str, str], Asked] = {
    ("ai", "photo"): ("twice",),
    ("ai-fine", "photo"): ("fine", "twice"),
    ("ai", "lettering"): ("letters",),
    ("ai-fine", "lettering"): ("letters",),
}
MUCH_CLEANED = 20
"""Strength of cleaning, of 100, from which the photo that it leaves is another kind of photo."""

_AFTER_CLEANING: dict[str, Asked] = {"ai": ("mended",), "ai-fine": ("mended", "mended")}

_TOLD = ("mended",)
_TELL = ("blocks",)
_TIMES_ASKED = {"ai": 2, "ai-fine": 4}  # that `blocks` is
_MUCH_LOST = 50
"""Strength of cleaning from which it is asked so often; under it half as often: what lost little to
JPEG is large, as a rule, and gains as little as a twentieth of a decibel by twice the time."""
_SOON_DONE = 2_000_000
"""A photo of fewer pixels is done soon, so both methods clean it with the finer one's effort."""
_WAYS = ((1, 1), (1, -1), (-1, 1), (-1, -1))

REACH = {"twice": 11, "fine": 12, "mended": 11, "letters": 8}
"""Source pixels that one output of an enlarger looks past its own place; ``mended`` looks farther,
but what is there moves it by a thirtieth of an 8-bit step at most."""


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


@cache
def session(name: str) -> Any:
    """Return a network, loaded; several threads may run it at once.

    Raises
    ------
    CannotDo
        When it cannot be run here; `plan.ability` knows from then on.
    """
    try:
        import onnxruntime  # type: ignore[import-untyped]

        options = onnxruntime.SessionOptions()
        # each tile is worked on by one thread, so its bits do not depend on how many there are
        options.intra_op_num_threads = 1
        options.inter_op_num_threads = 1
        options.log_severity_level = 3
        return onnxruntime.InferenceSession(
            str(_MODELS / f"{name}.onnx"), options, providers=["CPUExecutionProvider"]
        )
    except Exception as why:  # a missing library, a processor that it does not know, a lost file
        log.record(why)
        ability.tell_absent(str(why).splitlines()[0][:120])
        raise CannotDo(
            f"AI enlarging could not be loaded ({ability.absent()}); nothing was written. "
            "Choose another method in Pixels."
        ) from None


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
    tells = cleaning[0] in _TELL and enlarging[0] in _TOLD
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
    cleaned = max(repair.clean, repair.denoise) >= MUCH_CLEANED
    doublings = tuple(
        enlargers(pixels.method or "", pixels.network or "", cleaned and not step)
        for step in range(pixels.doublings)
    )
    if not repair.any:
        return Stages((), (), doublings)
    asked = cleaners(pixels.method, repair, size)
    with_seen = enlargers_with_seen(asked, doublings[0]) if doublings else ()
    return Stages(asked, with_seen, doublings[1:] if with_seen else doublings)


def agreed(
    asked: Asked,
    plane: NDArray[np.float32],
    strengths: tuple[float, ...] = (),
    seen: Seen = (),
    enough: float = 0.0,
) -> Answer:
    """Return the correction to a plane, or to its enlargement by two.

    Several networks each get another mirror image, and the mean of their answers is used: their
    mistakes differ, their agreement stays.

    Parameters
    ----------
    asked : tuple of str
        As `enlargers` or `cleaners` give them.
    plane : ndarray (H, W), float32
        0 to 1, in a perceptual encoding; even sides for those that clean and those that are told,
        whole squares of JPEG's grid for ``blocks``.
    strengths : tuple of float
        JPEG and noise, 0 to 1, for ``clean``; JPEG for ``blocks``.
    seen : tuple of ndarray
        What those that cleaned saw, one for each that is asked; none if it is not known.
    enough : float
        Where the first changes less than this (rms), the others are not asked.

    Returns
    -------
    Answer
        The correction to the plane, (H, W), or to its classical enlargement, (2H, 2W), float32.
    """
    changes, saw = [], []
    for at, name in enumerate(asked):
        down, across = (slice(None, None, step) for step in _WAYS[at])
        hint = seen[at][:, down, across] if seen else None
        change, *more = _answers(name, plane[down, across], strengths, hint)
        changes.append(change[down, across])
        saw += [each[:, down, across] for each in more]
        if enough and np.sqrt(np.mean(np.square(change))) < enough:
            break
    return Answer(np.asarray(sum(changes) * np.float32(1 / len(changes))), tuple(saw))


def _answers(
    name: str, plane: np.ndarray, strengths: tuple[float, ...], hint: np.ndarray | None
) -> list[np.ndarray]:
    """Batch a network on one plane: its correction, then what it saw, (C, H, W) where it tells."""
    value = {"plane": np.ascontiguousarray(plane[None, None], np.float32)}
    if strengths:
        value["strengths"] = np.array(strengths, np.float32).reshape(1, -1, 1, 1)
    if name in _TOLD:
        if hint is None:
            (planes,) = (at.shape[1] for at in session(name).get_inputs() if at.name == "seen")
            hint = np.zeros((planes, plane.shape[0] // 2, plane.shape[1] // 2), np.float32)
        value["seen"] = np.ascontiguousarray(hint[None])
    change, *seen = session(name).run(None, value)
    return [change[0, 0], *(each[0] for each in seen)]
