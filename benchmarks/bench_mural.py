"""From 10 megapixels to a mural of 2.4 × 4.6 m at 300 ppi: time per pixel, and peak memory.

A 16-bit source of 100 megapixels becomes a 16-bit BigTIFF, sharpened, all defaults on. Each size
runs in a process of its own. `bench_mural.py MP [TURN]` runs one.
"""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import numpy as np

from zinc_margin.docket.crop import CropLine
from zinc_margin.docket.docket import Docket
from zinc_margin.docket.pixels import PixelsLine
from zinc_margin.docket.size import SizeLine
from zinc_margin.facts.facts import Facts
from zinc_margin.facts.measurements import Measured
from zinc_margin.handoff.make import make_file
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.photo import colour as colours
from zinc_margin.photo.pixels import Photo
from zinc_margin.plan.build import plan

WIDE, HIGH = 8160, 12256
SIZES = (10, 80, 400, 1540)


def source() -> Photo:
    codes = np.empty((HIGH, WIDE, 3), np.uint16)
    x = np.arange(WIDE, dtype=np.float32)[None]
    for top in range(0, HIGH, 256):
        y = np.arange(top, min(HIGH, top + 256), dtype=np.float32)[:, None]
        wave = 0.5 + 0.2 * np.sin(x / 31) * np.cos(y / 47) + 0.2 * ((x // 300 + y // 410) % 2 - 0.5)
        for channel in range(3):
            codes[top : top + 256, :, channel] = (wave * (0.9 - 0.1 * channel)) * 65535
    facts = Facts(
        Path("mural.tif"), "TIFF", WIDE, HIGH, 16, "RGB", measured=Measured(0.1), digest="made up"
    )
    return Photo(facts, codes, colours.wide_rgb())


def one(megapixels: int, turn: str) -> None:
    photo = source()
    size = PrintSize("mural", Fraction(2400), Fraction(4600))
    ppi = Fraction(300) * Fraction(round((megapixels / 1540) ** 0.5 * 1000), 1000)
    docket = Docket(
        size=SizeLine(size=size, ppi=ppi), pixels=PixelsLine("resample", method="lanczos")
    )
    docket = replace(docket, crop=CropLine(turn=Fraction(turn)))
    made = plan(photo.facts, docket)
    with tempfile.TemporaryDirectory() as folder:
        began = time.monotonic()
        written = make_file(photo, made, Path(folder) / "mural.tif")
        seconds = time.monotonic() - began
    pixels = made.pixels.width * made.pixels.height
    status = Path("/proc/self/status").read_text().splitlines()
    peak = int(next(line.split()[1] for line in status if line.startswith("VmHWM"))) * 1024
    print(
        f"{made.pixels.width} × {made.pixels.height}, {pixels / 1e6:.0f} MP, turned {turn}°: "
        f"{seconds:.0f} s, {seconds / pixels * 1e9:.0f} ns a pixel, {written.bytes / 1e9:.1f} GB; "
        f"peak memory {peak / 1e9:.2f} GB; under 2 is asked: {'met' if peak < 2e9 else 'NOT met'}",
        flush=True,
    )


if __name__ == "__main__":
    if len(sys.argv) > 1:
        one(int(sys.argv[1]), sys.argv[2] if len(sys.argv) > 2 else "0")
    else:
        for megapixels in SIZES:
            subprocess.run([sys.executable, __file__, str(megapixels)], check=True)
        subprocess.run([sys.executable, __file__, "400", "7"], check=True)
