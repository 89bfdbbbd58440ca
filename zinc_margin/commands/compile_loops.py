"""Compile every loop, once per machine, by rendering a few small pictures.

``python -m zinc_margin.commands.compile_loops`` does it; set-up starts it, or the window if it was
not done before. A process that needs a loop in the meantime waits (`loop_cache.wait`), which is
faster than compiling the same loops in parallel.
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
    """Yield dockets that together need every loop."""
    plain = Docket()
    ppi, length = Fraction(300), Fraction(_SIDE * 254, 3000)
    size = replace(plain.size, size=PrintSize("", length, length), ppi=ppi)
    strong = replace(plain.sharpen, strength=Fraction(150))
    grained = replace(plain.pixels, grain=Fraction(2))
    kept = replace(plain, size=size, pixels=grained, sharpen=strong)
    yield kept
    for method, times in (("lanczos", 0.4), ("lanczos", 1.7), ("edges", 1.7), ("ai", 2)):
        side = length * Fraction(times)
        pixels = replace(plain.pixels, choice="resample", method=method)
        turned = replace(plain.crop, turn=Fraction(3))
        sized = replace(size, size=PrintSize("", side, side))
        yield replace(kept, size=sized, pixels=pixels)
        if method != "ai":
            yield replace(kept, size=sized, pixels=pixels, crop=turned)


def compile_all() -> None:
    """Compile every loop that is not cached."""
    noise = np.random.default_rng(1).integers(0, 65536, (_SIDE, _SIDE, 3))
    for kind, colour in (("RGB", srgb()), ("grey", plain_grey())):
        for bits in (8, 16):
            deep = noise[..., : 3 if kind == "RGB" else 1] >> (16 - bits)
            codes = np.ascontiguousarray(deep.astype(np.uint8 if bits == 8 else np.uint16))
            facts = Facts(Path("noise"), "TIFF", _SIDE, _SIDE, bits, kind, measured=Measured(0.0))
            photo = Photo(facts, codes, colour)
            for docket in _dockets():
                made = Renderer(photo, plan(facts, docket, this_machine()), 1, bits)
                high, wide, _ = made.shape
                made.region(0, 0, wide, high)
            # loaded now, so the module's loop replaces the wrapper
            Screen(colour, codes.dtype).show(codes)


def start() -> subprocess.Popen[bytes] | None:
    """Start compiling in a low-priority process; None if it is already done."""
    if loop_cache.is_ready():
        return None
    with suppress(OSError):
        return subprocess.Popen(
            [sys.executable, "-m", "zinc_margin.commands.compile_loops"],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
        )
    return None


def main() -> None:
    """Compile, unless it is done or another process is doing it."""
    if loop_cache.is_ready() or not loop_cache.claim():
        return
    with suppress(OSError):
        os.nice(5)
    compile_all()
    loop_cache.tell_ready()


if __name__ == "__main__":
    main()
