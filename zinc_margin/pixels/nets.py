"""The small networks that ship with the program, run on the processor.

How they were trained, on what, and what they are worth stands in ``models/card.md``.
"""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import Any

import numpy as np

from ..measure.errors import CannotDo
from ..plan import ability

_MODELS = Path(__file__).with_name("models")
Asked = tuple[str, ...]
"""Networks that are asked: the first for the picture, a second for its mirror image."""

_ENLARGERS: dict[tuple[str, str], Asked] = {
    ("learned", "photo"): ("twice",),
    ("learned-fine", "photo"): ("fine", "twice"),
    ("learned", "lettering"): ("letters",),
    ("learned-fine", "lettering"): ("letters",),
}
MUCH_CLEANED = 20
"""Strength of cleaning, of 100, from which the photo that it leaves is another kind of photo."""

_AFTER_CLEANING: dict[str, Asked] = {"learned": ("mended",), "learned-fine": ("mended", "mended")}

REACH = {"twice": 11, "fine": 12, "mended": 11, "letters": 8}
"""Source pixels that one output of an enlarger looks past its own place."""


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
        # each tile is worked on by one thread, so that its bits do not depend on how many there are
        options.intra_op_num_threads = 1
        options.inter_op_num_threads = 1
        options.log_severity_level = 3
        return onnxruntime.InferenceSession(
            str(_MODELS / f"{name}.onnx"), options, providers=["CPUExecutionProvider"]
        )
    except Exception as why:  # a missing library, a processor that it does not know, a lost file
        ability.tell_absent(str(why).splitlines()[0][:120])
        raise CannotDo(
            f"The learned enlarger could not be loaded ({ability.absent()}); nothing was written. "
            "Choose another method in Pixels."
        ) from None


def cleaners(method: str | None, noisy: bool) -> Asked:
    """Return which networks clean for a method of the plan: noise too, or JPEG alone."""
    if noisy:
        return ("clean",)
    return ("blocks", "blocks") if method == "learned-fine" else ("blocks",)


def agreed(asked: Asked, plane: np.ndarray, strengths: tuple[float, ...] = ()) -> np.ndarray:
    """Return the correction to a plane, or to its enlargement by two.

    Where a second network is asked, it is asked for the mirror image and the mean is taken: their
    mistakes differ, what they agree on stays.

    Parameters
    ----------
    asked : tuple of str
        As `enlargers` or `cleaners` give them.
    plane, strengths
        As of `corrected`.

    Returns
    -------
    ndarray (H, W) or (2H, 2W), float32
    """
    first = np.asarray(corrected(asked[0], plane, strengths))
    if len(asked) == 1:
        return first
    mirrored = corrected(asked[1], plane[:, ::-1], strengths)[:, ::-1]
    return np.asarray((first + mirrored) * np.float32(0.5))


def corrected(name: str, plane: np.ndarray, strengths: tuple[float, ...] = ()) -> Any:
    """Run a network on one plane.

    Parameters
    ----------
    plane : ndarray (H, W), float32
        0 to 1, in a perceptual encoding; even sides for ``clean``, whole squares of JPEG's grid
        for ``blocks``.
    strengths : tuple of float
        JPEG and noise, 0 to 1, for ``clean``; JPEG for ``blocks``.

    Returns
    -------
    ndarray (H, W) or (2H, 2W), float32
        What is to be added to the plane, or to its classical enlargement.
    """
    given: dict[str, np.ndarray] = {"plane": np.ascontiguousarray(plane[None, None], np.float32)}
    if strengths:
        given["strengths"] = np.array(strengths, np.float32).reshape(1, -1, 1, 1)
    return session(name).run(None, given)[0][0, 0]
