"""Digests of twelve prints of the demo: a change that only tidies must not change a bit.

    python -m tests.print_digests --write

stores the digests of this kind of processor in data/print_digests.json.
"""

from __future__ import annotations

import hashlib
import json
import sys
from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction
from functools import cache
from importlib import import_module
from pathlib import Path

import llvmlite.binding
import numba
import numpy as np
import onnxruntime
from PIL import Image

from zinc_margin.demo.folder import WEB_COPY, dockets
from zinc_margin.docket.docket import RENDERER, Docket
from zinc_margin.measure.sizes import parse_size
from zinc_margin.photo import colour as colours
from zinc_margin.photo.measuring import measure
from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels.sheets import page_of
from zinc_margin.plan.build import plan

PLACE = Path(__file__).parent / "data" / "print_digests.json"
SIDE = 160  # of the regions that are rendered
PART = 4  # every fourth row and column of the demo's pictures
DRAWN = {
    "glazed-wall.jpg": "tiles",
    "estuary-dawn.tif": "estuary",
    "kiln-lichen.jpg": "kiln",
    "stacked-bowls.jpg": "bowls",
    "reeds.jpg": "reeds",
    "potters-bench.jpg": "bench",
    "waterfront.jpg": "waterfront",
}


def processor() -> str:
    """The processor and the libraries that decide the last bits."""
    host = llvmlite.binding.get_host_cpu_name()
    return (
        f"{host}, NumPy {np.__version__}, Numba {numba.__version__}, ORT {onnxruntime.__version__}"
    )


@cache
def _codes(name: str) -> np.ndarray:
    if name == WEB_COPY:
        return np.ascontiguousarray(_codes("glazed-wall.jpg")[::2, ::2])
    if name == "phone-kiln-corner.jpg":
        upright = import_module("zinc_margin.demo.kiln").draw(
            lambda share: None, PART, seed=79, size=(2448, 3264)
        )
        return np.ascontiguousarray(np.rot90(upright))
    return import_module(f"zinc_margin.demo.{DRAWN[name]}").draw(lambda share: None, PART)


@cache
def photo(name: str) -> Photo:
    """A demo picture at a quarter of its size, measured."""
    from tests.conftest import facts_of

    codes = _codes(name)
    deep = codes.dtype == np.uint16
    colour = colours.wide_rgb() if deep else colours.srgb()
    known = {"measured": measure(codes, colour), "bits": 16 if deep else 8}
    if name == WEB_COPY:
        known |= {"format": "JPEG", "jpeg_quality": 38}
    return Photo(facts_of(codes.shape[1], codes.shape[0], **known), codes, colour)


def prints() -> dict[str, tuple[str, Docket]]:
    """Twelve prints by name: the photo and its docket."""
    result = {name: (name, docket) for name, docket in dockets().items()}
    plain = Docket()

    def of(size: str, **lines: dict[str, object]) -> Docket:
        docket = replace(plain, size=replace(plain.size, size=parse_size(size)))
        for line, fields in lines.items():
            docket = replace(docket, **{line: replace(getattr(docket, line), **fields)})
        return docket

    result["rotated"] = "stacked-bowls.jpg", of("60x40cm", crop={"turn": Fraction(-7, 2)})
    result["enlarged by AI, grained"] = (
        "reeds.jpg",
        of(
            "50x33cm",
            pixels={"method": "ai-fine", "choice": "resample", "grain": Fraction(40)},
            sharpen={"paper": "matt"},
        ),
    )
    result["reduced, 8-bit"] = (
        "glazed-wall.jpg",
        of("9x6cm", pixels={"choice": "resample"}, file={"bits": 8}),
    )
    return result


def rendered(name: str) -> list[np.ndarray]:
    """Two regions of a print: at its top left corner and in its middle."""
    source, docket = prints()[name]
    taken = photo(source)
    page = page_of(taken, plan(taken.facts, docket))
    height, width = page.shape[:2]
    high, wide = min(SIDE, height), min(SIDE, width)
    return [
        page.region(0, 0, wide, high),
        page.region((width - wide) // 2, (height - high) // 2, wide, high),
    ]


def digest(regions: list[np.ndarray]) -> str:
    """SHA-256 of the regions' samples."""
    whole = hashlib.sha256()
    for region in regions:
        whole.update(repr((region.shape, str(region.dtype))).encode())
        whole.update(np.ascontiguousarray(region).tobytes())
    return whole.hexdigest()


def thumbnail(regions: list[np.ndarray]) -> list[int]:
    """Means of 4 × 4 blocks of both regions, in 16-bit codes, which every machine must come near."""
    result = []
    for region in regions:
        scaled = region.astype(np.float64) * (65535 / np.iinfo(region.dtype).max)
        rows = np.array_split(scaled, 4)
        result += [round(block.mean()) for row in rows for block in np.array_split(row, 4, axis=1)]
    return result


def read() -> dict:
    """The stored digests."""
    return json.loads(PLACE.read_text("utf-8"))


def write(said: Callable[[str], None] = print) -> None:
    """Store the digests of this processor, and drop those of another renderer."""
    held = read() if PLACE.exists() else {}
    if held.get("renderer") != RENDERER:
        held = {"renderer": RENDERER, "digests": {}}
    made = {name: rendered(name) for name in prints()}
    held["thumbnails"] = {name: thumbnail(regions) for name, regions in made.items()}
    held["digests"][processor()] = {name: digest(regions) for name, regions in made.items()}
    text = json.dumps(held, indent=1)
    PLACE.write_text(text + "\n", "utf-8")
    said(f"{len(made)} prints stored for {processor()}")


if __name__ == "__main__" and sys.argv[1:] == ["--write"]:
    Image.MAX_IMAGE_PIXELS = None
    write()
