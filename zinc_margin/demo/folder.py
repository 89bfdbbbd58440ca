"""The demo as a folder: photos as their makers would have left them, and dockets beside them."""

from __future__ import annotations

import io
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import numpy as np
import tifffile
from PIL import Image

from ..docket import store
from ..docket.docket import CropLine, Docket, FileLine, PixelsLine, SharpenLine, SizeLine
from ..measure.errors import CannotDo
from ..measure.sizes import parse_size
from ..photo.colour import srgb, wide_rgb
from ..photo.keeping import own_folder, write_whole
from . import bench, estuary, tiles

EDITION = "3"
"""Goes up when the pictures change, so that a cached demo is drawn anew."""

NAMES = ("glazed-wall.jpg", "estuary-dawn.tif", "potters-bench.jpg", "wall-web-copy.jpg")
_MARK = ".zinc-margin-demo"


def cache_folder() -> Path:
    """Return where the demo is kept between starts (XDG)."""
    return own_folder("cache") / "demo"


def is_there(folder: Path) -> bool:
    """Tell whether a folder holds this edition of the demo, whole."""
    try:
        return (folder / _MARK).read_text("ascii") == EDITION and all(
            (folder / name).exists() for name in NAMES
        )
    except OSError:
        return False


def write_demo(folder: Path, progress: Callable[[float], None] | None = None) -> list[Path]:
    """Write the demo's photos and dockets, unless they are there.

    Raises
    ------
    CannotDo
    """
    paths = [folder / name for name in NAMES]
    if is_there(folder):
        return paths
    shares = {"wall": 0.0, "estuary": 0.0, "bench": 0.0}
    weights = {"wall": 0.5, "estuary": 0.3, "bench": 0.2}

    def report(part: str) -> Callable[[float], None]:
        def step(share: float) -> None:
            shares[part] = share
            if progress is not None:
                progress(sum(shares[name] * weights[name] for name in shares))

        return step

    try:
        folder.mkdir(parents=True, exist_ok=True)
        with ThreadPoolExecutor(2) as pool:
            wall_work = pool.submit(tiles.draw, report("wall"))
            estuary_work = pool.submit(estuary.draw, report("estuary"))
            bench_work = pool.submit(bench.draw, report("bench"))
            wall = wall_work.result()
            write_whole(paths[0], _jpeg(wall, 93, (300, 300), "glazed-tile wall"))
            small = Image.fromarray(wall).resize((640, 427), Image.Resampling.BOX)
            write_whole(paths[3], _jpeg(np.asarray(small), 38, (72, 72), None))
            write_whole(paths[1], _tiff(estuary_work.result()))
            write_whole(paths[2], _jpeg(bench_work.result(), 93, (72, 72), "potter's bench"))
        for name, docket in dockets().items():
            store.save(docket, store.beside(folder / name))
        write_whole(folder / _MARK, EDITION.encode())
    except OSError as why:
        raise CannotDo(f"The demo could not be written to {folder}: {why.strerror}.") from None
    return paths


def dockets() -> dict[str, Docket]:
    """Return the show's dockets by the photo that each belongs to."""
    print_of = Docket()
    return {
        "glazed-wall.jpg": replace(
            print_of,
            size=SizeLine(size=parse_size("90x60cm"), distance_mm=Fraction(1100)),
            sharpen=SharpenLine(paper="cotton rag"),
            pixels=PixelsLine(choice="resample"),
        ),
        "estuary-dawn.tif": replace(print_of, size=SizeLine(size=parse_size("50x40cm"))),
        "potters-bench.jpg": replace(
            print_of,
            size=SizeLine(size=parse_size("A3+")),
            crop=CropLine(place_x=Fraction(1, 2), place_y=Fraction(3, 5)),
            sharpen=SharpenLine(paper="baryta"),
        ),
        "wall-web-copy.jpg": replace(
            print_of,
            size=SizeLine(size=parse_size("20x30cm")),
            file=FileLine(format="jpeg", quality=95),
        ),
    }


def _jpeg(picture: np.ndarray, quality: int, tag: tuple[int, int], title: str | None) -> bytes:
    buffer = io.BytesIO()
    exif = Image.Exif()
    exif[0x011A], exif[0x011B], exif[0x0128] = float(tag[0]), float(tag[1]), 2
    if title:
        exif[0x010E] = f"Tidewater Kilns, {title}"
        exif[0x013B] = "Tidewater Kilns"
        exif[0x8298] = "Made up for the demo; free to use"
        exif[0x0112] = 1
    Image.fromarray(picture).save(
        buffer, "JPEG", quality=quality, subsampling=0 if title else 2, dpi=tag,
        exif=exif, **({"icc_profile": srgb().icc} if title else {}),
    )  # fmt: skip
    return buffer.getvalue()


def _tiff(picture: np.ndarray) -> bytes:
    buffer = io.BytesIO()
    tifffile.imwrite(
        buffer, picture, photometric="rgb", resolution=(240, 240), resolutionunit=2,
        iccprofile=wide_rgb().icc, metadata=None, software=False,
        description="Tidewater Kilns, estuary at dawn",
        extratags=[(315, 2, 0, "Tidewater Kilns", True)],
    )  # fmt: skip
    return buffer.getvalue()
