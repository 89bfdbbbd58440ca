"""24 MP to 54 × 36 cm at 508 ppi, sharpened, as a file: against Pillow's way in the same run.

Ours writes 16 bits, Pillow's 8; both start from decoded pixels.
"""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import pyvips
from common import best, photo, picture, say
from PIL import Image, ImageFilter

from zinc_margin.docket.docket import Docket
from zinc_margin.handoff.make import make_file
from zinc_margin.measure.sizes import parse_size
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.build import plan


def docket() -> Docket:
    lines = Docket()
    return replace(
        lines,
        size=replace(lines.size, size=parse_size("54x36cm"), ppi=Fraction(508)),
        pixels=replace(lines.pixels, choice="resample", method="lanczos"),
        file=replace(lines.file, bits=16),
    )


def ours(folder: Path) -> None:
    make_file(SOURCE, PLAN, folder / "ours.tif", overwrite=True)


def theirs(folder: Path) -> None:
    large = IMAGE.resize((10800, 7200), Image.Resampling.LANCZOS)
    sharp = large.filter(ImageFilter.UnsharpMask(radius=2.6, percent=80, threshold=2))
    sharp.save(folder / "theirs.tif")
    # ours is on the disk when it is done; so must this be
    with (folder / "theirs.tif").open("rb") as file:
        os.fsync(file.fileno())


def libvips(folder: Path, image: pyvips.Image) -> None:
    sharp = image.resize(1.8, kernel="lanczos3").sharpen(sigma=1.3, x1=2, m2=3)
    sharp.write_to_file(str(folder / "vips.tif"))
    with (folder / "vips.tif").open("rb") as file:
        os.fsync(file.fileno())


SOURCE = photo(picture())
PLAN = plan(SOURCE.facts, docket())

if __name__ == "__main__":
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        if len(sys.argv) > 1:  # alone, to see the memory of our way by itself
            ours(folder)
            # not getrusage: that still knows the memory of the process that started this one
            status = Path("/proc/self/status").read_text().splitlines()
            print(next(line.split()[1] for line in status if line.startswith("VmHWM")) + "000")
            sys.exit()
        Renderer(SOURCE, PLAN).region(0, 0, 64, 64)  # compiled once, then kept on the disk
        IMAGE = Image.fromarray(SOURCE.codes)
        mine = best(lambda: ours(folder))
        job = "24 MP to 78 MP, sharpened, all defaults on, 16-bit TIFF"
        say(job, mine, best(lambda: theirs(folder)), "Pillow (8-bit)", 0.42)
        source = pyvips.Image.new_from_array(SOURCE.codes).copy(interpretation="srgb")
        say(job, mine, best(lambda: libvips(folder, source)), "libvips (8-bit)", 0.32)
        peak = subprocess.run(
            [sys.executable, __file__, "alone"], capture_output=True, text=True, check=True
        )
        gigabytes = int(peak.stdout) / 1e9
        verdict = "met" if gigabytes <= 1.5 else "NOT met"
        print(f"peak memory: {gigabytes:.2f} GB; at most 1.5 is asked: {verdict}")
