"""Compile every loop, once per machine, by rendering a few small pictures.

``python -m zinc_margin.commands.compile_loops`` does it; set-up starts it, or the window if it was
not done before. Two processes share the work; others wait for the kinds of loop that they need
(`loop_cache.wait`).
"""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import numpy as np

from zinc_margin.docket.docket import Docket
from zinc_margin.facts.facts import Facts
from zinc_margin.facts.measurements import Measured
from zinc_margin.handoff.machine import this_machine
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.photo.colour import plain_grey, srgb
from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels import loop_cache
from zinc_margin.pixels.display import Screen
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.build import plan

_SIDE = 48


def _dockets() -> Iterator[Docket]:
    """Yield dockets that together need every loop, the most frequent ones first.

    A second process goes through them backwards, until the two meet.
    """
    plain = Docket()
    ppi, length = Fraction(300), Fraction(_SIDE * 254, 3000)
    size = replace(plain.size, size=PrintSize("", length, length), ppi=ppi)
    kept = replace(plain, size=size)
    sharp = replace(plain.sharpen, strength=Fraction(150))
    broad = replace(sharp, sigma_mm=Fraction(1, 5))
    yield replace(kept, sharpen=sharp)
    yield replace(kept, pixels=replace(plain.pixels, grain=Fraction(2)), sharpen=broad)
    for method, times, degrees in (
        ("lanczos", 1.7, 0),
        ("lanczos", 0.4, 0),
        ("lanczos", 1.7, 3),
        ("lanczos", 0.4, 3),
        ("ai", 2, 0),
    ):
        side = length * Fraction(times)
        yield replace(
            kept,
            size=replace(size, size=PrintSize("", side, side)),
            pixels=replace(plain.pixels, choice="resample", method=method),
            crop=replace(plain.crop, turn=Fraction(degrees)),
            sharpen=replace(plain.sharpen, strength=Fraction(0)),
        )


def _photos() -> Iterator[Photo]:
    """Yield photos of every depth and number of channels, the most frequent ones first."""
    noise = np.random.default_rng(1).integers(0, 65536, (_SIDE, _SIDE, 3))
    for kind, colour in (("RGB", srgb()), ("grey", plain_grey())):
        for bits in (8, 16):
            deep = noise[..., : 3 if kind == "RGB" else 1] >> (16 - bits)
            codes = np.ascontiguousarray(deep.astype(np.uint8 if bits == 8 else np.uint16))
            facts = Facts(Path("noise"), "TIFF", _SIDE, _SIDE, bits, kind, measured=Measured(0.0))
            yield Photo(facts, codes, colour)


def compile_all(backwards: bool = False) -> None:
    """Compile every loop that is not cached."""
    for photo in _photos():
        dockets = list(_dockets())
        for docket in reversed(dockets) if backwards else dockets:
            bits = photo.codes.itemsize * 8
            made = Renderer(photo, plan(photo.facts, docket, this_machine()), 1, bits)
            high, wide, _ = made.shape
            made.region(0, 0, wide, high)
            loop_cache.note_ready(made.loops)
        # loaded now, so the module's loop replaces the wrapper
        Screen(photo.colour, photo.codes.dtype).show(photo.codes)


_COMMAND = (sys.executable, "-m", "zinc_margin.commands.compile_loops")
_HELP = "--help-another"


def _run(*more: str) -> subprocess.Popen[bytes] | None:
    with suppress(OSError):
        return subprocess.Popen(
            [*_COMMAND, *more],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
        )
    return None


def start() -> subprocess.Popen[bytes] | None:
    """Start compiling in low-priority processes; None if it is already done."""
    return None if loop_cache.is_ready() else _run()


def main() -> None:
    """Compile, unless it is done or another process is doing it."""
    if loop_cache.is_ready():
        return
    helps = _HELP in sys.argv
    if not helps and not loop_cache.claim():
        return
    with suppress(OSError):
        os.nice(5)
    if helps:
        loop_cache.compiles_itself()
    elif (os.cpu_count() or 1) > 1:
        _run(_HELP)
    compile_all(backwards=helps)
    loop_cache.tell_ready()


if __name__ == "__main__":
    main()
