"""What coding and enlarging keep of photographs, measured: `measure/data/enlarged.json`.

Known photographs are reduced (and coded as JPEG), enlarged by the program to what they were, not
sharpened, and compared frequency by frequency: `kept` is how much of the photo's own detail comes
out (the part that agrees with it), `energy` how much detail comes out in all, its own or not.

    python benchmarks/measure_response.py --folder FOLDER [--side 528] [--write]

The photographs are fetched into the folder (`photographs.json`). It takes about half an hour.
"""

from __future__ import annotations

import argparse
import json
from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import numpy as np
from common import reduced
from photographs import photographs

from zinc_margin.docket.docket import Docket
from zinc_margin.handoff.machine import this_machine
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.photo import colour as colours
from zinc_margin.photo.sample import lightness
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.build import plan
from zinc_margin.plan.pixels.repair import clean_for

FACTORS = (1, 2, 3, 4, 6)
QUALITIES = (None, 95, 90, 85, 75, 60, 40)
METHODS = ("ai", "lanczos")
STEPS = np.arange(0, 1.05, 0.05)
"""Cycles per pixel of the photo, at whose middles the tables stand."""
_REPAIRED_BY_KERNEL = 75
"""Quality up to which repair before a kernel is measured."""
PLACE = Path(__file__).parents[1] / "zinc_margin" / "measure" / "data" / "enlarged.json"

Case = tuple[str, int, int | None, bool]
"""Method, factor, quality or None, and whether it is repaired."""


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
    truth: np.ndarray,
    factor: int,
    quality: int | None,
    bits: int | None = None,
    repaired: bool = True,
    **pixels: object,
) -> Renderer:
    """What enlarges a photo that was reduced, and coded, to what it was, not sharpened."""
    high, wide = truth.shape[:2]
    photo = reduced(truth, factor, quality, "photo.jpg", "JPEG")
    known = photo.facts.jpeg_quality
    clean = Fraction(round(clean_for(known)) if repaired and known is not None else 0)
    lines = Docket()
    size = PrintSize("", Fraction(wide * 254, 3000), Fraction(high * 254, 3000))
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


def enlarged(truth: np.ndarray, case: Case) -> np.ndarray:
    """A photo reduced, coded, and enlarged by the program to what it was, not sharpened."""
    method, factor, quality, repaired = case
    high, wide = truth.shape[:2]
    made = renderer(truth, factor, quality, repaired=repaired, method=method)
    return made.region(0, 0, wide, high)[..., :3]


def cases() -> Iterator[Case]:
    """Every case that the tables have a row for."""
    for quality in QUALITIES:
        for factor in FACTORS:
            for method in METHODS if factor > 1 else ("lanczos",):
                yield method, factor, quality, False
                by_kernel = method == "lanczos" and factor > 1
                if quality is not None and not (by_kernel and quality > _REPAIRED_BY_KERNEL):
                    yield method, factor, quality, True


def middle(rows: list[np.ndarray]) -> list[float]:
    """The mean without the lowest and highest eighth: an odd picture counts no more than others."""
    rows = np.sort(np.array(rows), 0)
    apart = max(1, len(rows) // 8)
    return [round(float(one), 3) for one in rows[apart:-apart].mean(0)[:-1]]


def row_of(case: Case, truths: list[np.ndarray]) -> dict[str, object]:
    """One row of the tables."""
    method, factor, quality, repaired = case
    kept, energy = [], []
    for truth in truths:
        power, agrees, comes = compared(truth, enlarged(truth, case), factor)
        power = power + 1e-9 * power.max()
        kept.append(agrees / power)
        energy.append(comes / power)
    return {
        "method": method if factor > 1 else "file",
        "factor": factor,
        "quality": quality,
        "repaired": repaired if quality is not None else None,
        "kept": middle(kept),
        "energy": middle(energy),
    }


def main() -> None:
    asked = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    asked.add_argument("--folder", type=Path, required=True)
    asked.add_argument("--side", type=int, default=528)
    asked.add_argument("--write", action="store_true", help="write the tables")
    told = asked.parse_args()
    truths = list(photographs("tables", told.folder, told.side).values())
    rows = []
    for case in cases():
        rows.append(json.dumps(row_of(case, truths)))
        print(rows[-1], flush=True)
    if told.write:
        about = json.loads(PLACE.read_text("utf-8"))["about"]
        body = ",\n".join(f"    {row}" for row in rows)
        text = f'{{\n  "about": {json.dumps(about)},\n  "rows": [\n{body}\n  ]\n}}\n'
        PLACE.write_text(text, "utf-8")


if __name__ == "__main__":
    main()
