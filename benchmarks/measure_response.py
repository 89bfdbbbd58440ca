"""What enlarging keeps of photographs, measured: the tables in `measure/data/enlarged.json`.

Known photographs are reduced (and coded as JPEG), enlarged by the program to what they were, not
sharpened, and compared frequency by frequency: `kept` is how much of the photo's own detail comes
out (the part that agrees with it), `energy` how much detail comes out in all, its own or not.

    python benchmarks/measure_response.py PHOTO … [--side 768]
"""

from __future__ import annotations

import argparse
import json
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import numpy as np
from common import reduced
from PIL import Image

from zinc_margin.docket.docket import Docket
from zinc_margin.handoff.machine import this_machine
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.photo import colour as colours
from zinc_margin.photo.sample import lightness
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.build import plan

FACTORS = (2, 3, 4, 6, 8)
QUALITIES = (None, 75, 40)
METHODS = ("lanczos", "mitchell", "catmull-rom", "ai")
STEPS = np.arange(0, 1.05, 0.05)
"""Cycles per pixel of the photo, at whose middles the tables stand."""


def spectrum(codes: np.ndarray) -> np.ndarray:
    """The windowed spectrum of a picture's lightness."""
    light = lightness(codes, colours.srgb())
    light = light - light.mean()
    high, wide = light.shape
    window = np.hanning(high)[:, None] * np.hanning(wide)[None]
    return np.fft.rfft2(light * window)


def compared(truth: np.ndarray, out: np.ndarray, factor: int) -> tuple[np.ndarray, ...]:
    """Sums over rings of frequencies: the photo's power, what agrees, and what comes out."""
    a, b = spectrum(truth), spectrum(out)
    high, wide = truth.shape[:2]
    ring = np.hypot(np.fft.fftfreq(high)[:, None], np.fft.rfftfreq(wide)[None]) * factor
    at = np.digitize(ring.ravel(), STEPS) - 1
    sums = []
    for value in (np.abs(a) ** 2, (a * b.conj()).real, np.abs(b) ** 2):
        sums.append(np.bincount(at, value.ravel(), len(STEPS) + 400)[: len(STEPS)])
    return tuple(sums)


def renderer(
    truth: np.ndarray, factor: int, quality: int | None, bits: int | None = None, **pixels: object
) -> Renderer:
    """What enlarges a photo that was reduced, and coded, to what it was, not sharpened."""
    high, wide = truth.shape[:2]
    photo = reduced(truth, factor, quality, "photo.jpg", "JPEG")
    lines = Docket()
    size = PrintSize("", Fraction(wide * 254, 3000), Fraction(high * 254, 3000))
    clean = None if quality is not None else Fraction(0)
    docket = replace(
        lines,
        size=replace(lines.size, size=size, ppi=Fraction(300)),
        pixels=replace(
            lines.pixels,
            choice="resample",
            clean=clean,
            denoise=Fraction(0),
            dehalo=Fraction(0),
            **pixels,
        ),
        sharpen=replace(lines.sharpen, on=False),
    )
    return Renderer(photo, plan(photo.facts, docket, this_machine()), bits=bits)


def enlarged(truth: np.ndarray, factor: int, quality: int | None, method: str) -> np.ndarray:
    """A photo reduced, coded, and enlarged by the program to what it was, not sharpened."""
    high, wide = truth.shape[:2]
    return renderer(truth, factor, quality, method=method).region(0, 0, wide, high)[..., :3]


def crop(path: Path, side: int) -> np.ndarray:
    """The middle of a photograph, reduced to half so that its pixels are its own."""
    image = Image.open(path).convert("RGB")
    half = image.resize((image.width // 2, image.height // 2), Image.Resampling.BOX)
    side = min(side, half.width // 48 * 48, half.height // 48 * 48)
    left, top = (half.width - side) // 2, (half.height - side) // 2
    return np.asarray(half.crop((left, top, left + side, top + side)))


def main() -> None:
    asked = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    asked.add_argument("photos", nargs="+")
    asked.add_argument("--side", type=int, default=768)
    asked.add_argument("--method", action="append", choices=METHODS)
    told = asked.parse_args()
    truths = [crop(Path(one), told.side) for one in told.photos]
    rows = []
    for quality in QUALITIES:
        for method in told.method or METHODS:
            for factor in FACTORS:
                parts = []
                for truth in truths:
                    sums = compared(truth, enlarged(truth, factor, quality, method), factor)
                    power = sums[0] + 1e-9 * sums[0].max()
                    parts.append((sums[1] / power, sums[2] / power))
                # the middle of the photographs: one odd picture counts no more than another
                kept, energy = (np.median([part[at] for part in parts], 0)[:-1] for at in (0, 1))
                rows.append(
                    {
                        "method": method,
                        "factor": factor,
                        "quality": quality,
                        "kept": [round(float(one), 3) for one in kept],
                        "energy": [round(float(one), 3) for one in energy],
                    }
                )
                print(json.dumps(rows[-1]), flush=True)


if __name__ == "__main__":
    main()
