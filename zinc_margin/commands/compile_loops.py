"""Compiles every loop, once for each machine: a few small pictures go through all of them.

``python -m zinc_margin.commands.compile_loops`` does it; the set-up starts that, and the window
where it was not done yet. Whoever needs a loop meanwhile waits for it (`loop_cache.wait`), which is
sooner than to compile the same ones next to it.
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
from zinc_margin.facts.measured import Measured
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
    """Yield dockets that between them ask for every loop."""
    plain = Docket()
    ppi, length = Fraction(300), Fraction(_SIDE * 254, 3000)
    size = replace(plain.size, size=PrintSize("", length, length), ppi=ppi)
    grain = replace(plain.sharpen, grain=Fraction(2), strength=Fraction(150))
    kept = replace(plain, size=size, sharpen=grain)
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
    """Compile every loop that is not kept from before."""
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
            Screen(colour, codes.dtype).show(codes)  # by its loop, now that it is loaded


def start() -> subprocess.Popen[bytes] | None:
    """Begin to compile, in a process of its own that gives way; None if it is done."""
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
    """Compile, unless it is done or another process does it."""
    if loop_cache.is_ready() or not loop_cache.claim():
        return
    with suppress(OSError):
        os.nice(5)
    compile_all()
    loop_cache.tell_ready()


if __name__ == "__main__":
    main()
