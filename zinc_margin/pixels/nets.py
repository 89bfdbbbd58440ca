"""The small networks that ship with the program, run on the processor.

Their training, training data and measured quality are described in ``models/card.md``.
"""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from functools import cache
from importlib.util import find_spec
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from zinc_margin.keeping import log
from zinc_margin.measure.errors import CannotDo
from zinc_margin.photo.arrays import Plane
from zinc_margin.plan.pixels.networks import TOLD, Asked

_MODELS = Path(__file__).with_name("models")
Seen = tuple[np.ndarray, ...]
"""Hidden output of each cleaning network, (planes, H/2, W/2), as input for an enlarger."""


class Answer(NamedTuple):
    """A network's result for a plane: the correction, and its hidden output."""

    change: np.ndarray
    seen: Seen


_WAYS = ((1, 1), (1, -1), (-1, 1), (-1, -1))

REACH = {"twice": 11, "fine": 12, "mended": 11, "letters": 8}
"""Source pixels around an output that an enlarger uses. ``mended`` uses more, but these change its
output by at most a thirtieth of an 8-bit step.
"""


_absent: list[str | None] = []


def absent() -> str | None:
    """Return why networks cannot run here; None if they can."""
    if not _absent:
        there = find_spec("onnxruntime") is not None
        _absent.append(None if there else "onnxruntime is not installed")
    return _absent[0]


def tell_absent(why: str | None) -> None:
    """Record why a network could not be loaded; None clears the record.

    Parameters
    ----------
    why : str or None
        The reason; None clears it.
    """
    _absent[:] = [] if why is None else [why]


@cache
def session(name: str) -> Any:
    """Return a loaded network; several threads may run it at the same time.

    Raises
    ------
    CannotDo
        If it cannot run here; from then on, `absent` returns the reason.
    """
    try:
        import onnxruntime  # type: ignore[import-untyped]

        options = onnxruntime.SessionOptions()
        # One thread per tile, so its bits do not depend on the number of threads.
        options.intra_op_num_threads = 1
        options.inter_op_num_threads = 1
        options.log_severity_level = 3
        return onnxruntime.InferenceSession(
            str(_MODELS / f"{name}.onnx"), options, providers=["CPUExecutionProvider"]
        )
    except Exception as why:  # a missing library, an unsupported processor, a lost file
        log.record(why)
        tell_absent(str(why).splitlines()[0][:120])
        raise CannotDo(
            f"AI enlarging could not be loaded ({absent()}); nothing was written. Choose "
            "another method in Pixels."
        ) from None


def mean_correction(
    asked: Asked,
    plane: NDArray[np.float32],
    strengths: tuple[float, ...] = (),
    seen: Seen = (),
    enough: float = 0.0,
    together: bool = False,
) -> Answer:
    """Return the correction to a plane, or to its enlargement by two.

    Several networks each process another mirror image, and their results are averaged: their errors
    differ, their agreement stays.

    Parameters
    ----------
    asked : tuple of str
        As returned by `enlargers` or `cleaners`.
    plane : ndarray (H, W), float32
        0 to 1, in a perceptual encoding; with even sides for cleaners and for enlargers that use
        hidden output, and whole JPEG squares for ``blocks``.
    strengths : tuple of float
        JPEG and noise, 0 to 1, for ``clean``; JPEG for ``blocks``.
    seen : tuple of ndarray
        Hidden output of the cleaners, one per network; empty if unknown.
    enough : float
        If the first network changes less than this (rms), skip the others.
    together : bool
        Run the networks at the same time.

    Returns
    -------
    Answer
        The correction to the plane, (H, W), or to its classical enlargement, (2H, 2W), float32.
    """

    def answer(at: int) -> list[np.ndarray]:
        down, across = (slice(None, None, step) for step in _WAYS[at])
        hint = seen[at][:, down, across] if seen else None
        found = _answers(asked[at], plane[down, across], strengths, hint)
        return [each[..., down, across] for each in found]

    changes, saw = [], []
    with _several(together) as run:
        for change, *more in run(answer, range(len(asked))):
            changes.append(change)
            saw += more
            if enough and np.sqrt(np.mean(np.square(change))) < enough:
                break
    return Answer(np.asarray(sum(changes) * np.float32(1 / len(changes))), tuple(saw))


@contextmanager
def _several(together: bool) -> Iterator[Callable[..., Iterable[list[np.ndarray]]]]:
    """Yield a function that works like `map`, if wanted with several threads."""
    if not together:
        yield map
        return
    with ThreadPoolExecutor(max(1, min(4, os.cpu_count() or 1)), "network") as pool:
        yield pool.map


def _answers(
    name: str, plane: Plane, strengths: tuple[float, ...], hint: Plane | None
) -> list[np.ndarray]:
    """Run a network on one plane; return its correction, then any hidden output (C, H, W)."""
    value = {"plane": np.ascontiguousarray(plane[None, None], np.float32)}
    if strengths:
        value["strengths"] = np.array(strengths, np.float32).reshape(1, -1, 1, 1)
    if name in TOLD:
        if hint is None:
            (planes,) = (at.shape[1] for at in session(name).get_inputs() if at.name == "seen")
            hint = np.zeros((planes, plane.shape[0] // 2, plane.shape[1] // 2), np.float32)
        value["seen"] = np.ascontiguousarray(hint[None])
    change, *seen = session(name).run(None, value)
    return [change[0, 0], *(each[0] for each in seen)]
