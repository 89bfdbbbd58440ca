"""The loupe's first true pixels at a new place: 900 × 700, 24 and 100 megapixels, sharpened.

And the same of a small JPEG that is repaired and enlarged by networks, against the whole view.
"""

from __future__ import annotations

import statistics
import time
from dataclasses import replace
from fractions import Fraction

import numpy as np
from common import coded, picture
from common import photo as photo_of
from PIL import Image, ImageFilter

from zinc_margin.desktop.bench.views import Looking
from zinc_margin.docket.docket import Docket
from zinc_margin.docket.pixels import PixelsLine
from zinc_margin.docket.size import SizeLine
from zinc_margin.keeping.job import Job
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.pixels.display import Screen
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.build import plan

VIEW = (900, 700)


def main() -> None:
    rng = np.random.default_rng(4)
    for name, size in (("24 MP", (6000, 4000)), ("100 MP", (12240, 8160))):
        photo = photo_of(picture(*size))
        docket = Docket(
            size=SizeLine(size=PrintSize("", Fraction(900), Fraction(600)), ppi=Fraction(360)),
            pixels=PixelsLine("resample", method="lanczos"),
        )
        for turn in (0, 7):
            laid = replace(docket, crop=replace(docket.crop, turn=Fraction(turn)))
            made = plan(photo.facts, laid)
            renderer = Renderer(photo, made)
            screen = Screen(photo.colour, renderer.dtype)
            screen.show(renderer.region(0, 0, *VIEW))
            source = Image.fromarray(photo.codes)
            ours, theirs = [], []
            for x, y in rng.random((9, 2)):
                left = int(x * (made.pixels.width - VIEW[0]))
                top = int(y * (made.pixels.height - VIEW[1]))
                began = time.perf_counter()
                screen.show(renderer.region(left, top, *VIEW))
                ours.append(time.perf_counter() - began)
                scale = float(made.pixels.scale)
                box = [
                    min(side / scale, most)
                    for side, most in zip(
                        (left, top, left + VIEW[0], top + VIEW[1]), source.size * 2, strict=True
                    )
                ]
                began = time.perf_counter()
                part = source.resize(VIEW, Image.Resampling.LANCZOS, box=box)
                part.filter(ImageFilter.UnsharpMask(2, 80, 2))
                theirs.append(time.perf_counter() - began)
            mine, other = statistics.median(ours), statistics.median(theirs)
            print(
                f"{name}, turned {turn}°: {mine * 1e3:.0f} ms, {mine / other:.1f} of Pillow's "
                f"resize and unsharp mask of the same part; under 100 ms is asked: "
                f"{'met' if mine < 0.1 else 'NOT met'}"
            )


def networks() -> None:
    codes = coded(Image.fromarray(picture(640, 432)), 40, "4:2:0")
    photo = photo_of(np.asarray(codes))
    docket = Docket(
        size=SizeLine(size=PrintSize("", Fraction(300), Fraction(2025, 10)), ppi=Fraction(300)),
        pixels=PixelsLine("resample", method="ai", clean=Fraction(86)),
    )
    made = plan(photo.facts, docket)
    assert made.pixels.doublings and made.pixels.repair.any
    firsts, wholes = [], []
    for x, y in np.random.default_rng(5).random((5, 2)):
        left, top = (int(share * side) for share, side in zip(
            (x, y), (made.pixels.width - VIEW[0], made.pixels.height - VIEW[1]), strict=True
        ))  # fmt: skip
        looking, arrived = Looking(), []
        began = time.perf_counter()
        looking.shown(
            photo, made, (left, top, *VIEW), 1, Job(),
            show=lambda _, arrived=arrived: arrived.append(time.perf_counter()),
        )  # fmt: skip
        wholes.append(time.perf_counter() - began)
        firsts.append(arrived[0] - began)
    first, whole = statistics.median(firsts[1:]), statistics.median(wholes[1:])
    print(
        f"AI from a small JPEG: the middle after {first:.2f} s, {first / whole:.2f} of the whole "
        f"view ({whole:.1f} s); 1 s is asked: {'met' if first <= 1 else 'NOT met'}"
    )


if __name__ == "__main__":
    main()
    networks()
