"""What the benchmarks share: one picture, fair timing, one line of result."""

from __future__ import annotations

import io
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from zinc_margin.facts.facts import Facts
from zinc_margin.photo import colour as colours
from zinc_margin.photo.jpeg_traces import quality_of
from zinc_margin.photo.measuring import measure
from zinc_margin.photo.pixels import Photo


def picture(width: int = 6000, height: int = 4000) -> np.ndarray:
    """A picture with edges, soft tones and a camera's grain: (height, width, 3) uint8."""
    rng = np.random.default_rng(7)
    codes = np.empty((height, width, 3), np.uint8)
    x = np.arange(width, dtype=np.float32)[None]
    for top in range(0, height, 200):  # in strips, so that the memory measured is not this one's
        y = np.arange(top, min(height, top + 200), dtype=np.float32)[:, None]
        rings = 40 * np.sin(np.hypot(x % 610 - 300, y % 610 - 300) / 30)
        tile = ((x // 310 + y // 230) % 2) * 60 + rings
        grain = rng.standard_normal(tile.shape, np.float32) * 1.2
        for channel in range(3):
            plane = tile + 90 + 20 * channel * np.sin(x / 900 + channel) + grain
            codes[top : top + 200, :, channel] = np.clip(plane, 0, 255)
    return codes


def photo(codes: np.ndarray) -> Photo:
    """The picture as a decoded photo."""
    facts = Facts(
        Path("picture.tif"),
        "TIFF",
        codes.shape[1],
        codes.shape[0],
        8,
        "RGB",
        # its tiles are no JPEG's: a camera's clean file, which nothing has to be mended in
        measured=replace(measure(codes, colours.srgb()), blocks=0.0, halo=0.0),
    )
    return Photo(facts, codes, colours.srgb())


def best(work: Callable[[], object], times: int = 3) -> float:
    """Return the seconds of the quickest of several runs."""
    found = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        found.append(time.perf_counter() - start)
    return min(found)


def say(what: str, ours: float, theirs: float, other: str, limit: float = 1.0) -> None:
    """Print one result: the ratio that counts, and both times."""
    verdict = "met" if ours / theirs <= limit else "NOT met"
    print(
        f"{what}: {ours / theirs:.2f} of {other} ({ours:.2f} s against {theirs:.2f} s); "
        f"at most {limit:g} is asked: {verdict}",
        flush=True,
    )


CODINGS = ("4:2:0", "4:4:4", "a phone's tables", "twice", "before reducing")
"""How people's JPEGs were coded: see `coded`."""


def coded(picture: Image.Image, quality: int, coding: str) -> Image.Image:
    """A picture coded as JPEG, at 4:2:0 unless it says otherwise.

    A phone's tables rise less towards fine detail than the standard's, with the same mean; *twice*
    is coded at a higher quality before; *before reducing* is for `reduced`.
    """
    if coding == "twice":
        picture = coded(picture, min(95, quality + 7), "4:2:0")
    options: dict[str, Any] = {"quality": quality, "subsampling": 2}
    if coding == "4:4:4":
        options["subsampling"] = 0
    if coding == "a phone's tables":
        usual = coded(picture, quality, "4:2:0").quantization  # type: ignore[attr-defined]
        flat = 1 + 0.2 * np.add.outer(np.arange(8), np.arange(8)).ravel()
        tables = [np.rint(np.mean(usual[at]) * flat / flat.mean()) for at in (0, 1)]
        options["qtables"] = [[int(step) for step in np.clip(each, 1, 255)] for each in tables]
        del options["quality"]
    held = io.BytesIO()
    picture.convert("RGB").save(held, "JPEG", **options)
    return Image.open(held)


def reduced(
    truth: np.ndarray, factor: int, quality: int | None, name: str, kind: str, coding: str = "4:2:0"
) -> Photo:
    """A known photo (H, W, 3), reduced by a factor and coded as JPEG where a quality is given."""
    high, wide = truth.shape[:2]
    small, goal = Image.fromarray(truth), (wide // factor, high // factor)
    if quality is not None and coding == "before reducing":
        between = (wide * 2 // factor, high * 2 // factor) if factor > 1 else (wide, high)
        small = coded(small.resize(between, Image.Resampling.BICUBIC), quality, "4:2:0")
        small, quality = small.convert("RGB"), 92
    small = small.resize(goal, Image.Resampling.BICUBIC)
    known = None
    if quality is not None:
        small = coded(small, quality, coding)
        known = quality_of(small.quantization[0])  # type: ignore[attr-defined]
    codes = np.asarray(small.convert("RGB"))
    facts = Facts(
        Path(name),
        kind,
        codes.shape[1],
        codes.shape[0],
        8,
        "RGB",
        measured=measure(codes, colours.srgb()),
        jpeg_quality=known,
    )
    return Photo(facts, codes, colours.srgb())
