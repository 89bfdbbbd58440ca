"""The demo as a folder: photos as their authors would have saved them, with dockets."""

from __future__ import annotations

import io
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from fractions import Fraction
from importlib import import_module
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from zinc_margin.docket import store
from zinc_margin.docket.crop import CropLine
from zinc_margin.docket.docket import RENDERER, Docket
from zinc_margin.docket.file import FileLine
from zinc_margin.docket.finish import FinishLine, Margins
from zinc_margin.docket.pixels import PixelsLine
from zinc_margin.docket.sharpen import SharpenLine
from zinc_margin.docket.size import SizeLine
from zinc_margin.keeping.files import write_whole
from zinc_margin.keeping.folders import own_folder
from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.measure.distances import Seen
from zinc_margin.measure.errors import CannotDo
from zinc_margin.measure.sizes import parse_size
from zinc_margin.measure.ways import Way
from zinc_margin.photo.colour import srgb, wide_rgb

EDITION = f"7, renderer {RENDERER}"
"""Increase when the pictures change, so a cached demo is drawn again."""

_MARK = ".zinc-margin-demo"
Progress = Callable[[float], None]


_SMALL = 4
"""A quick small version has every fourth row and column."""


def _phone(progress: Progress, part: int) -> np.ndarray:
    """Draw an upright picture and store it sideways, as phones do."""
    from zinc_margin.demo import kiln

    upright = kiln.draw(progress, part, seed=79, size=(2448, 3264))
    return np.ascontiguousarray(np.rot90(upright))


def _jpegs(tag: int, title: str, orientation: int = 1) -> Callable[[np.ndarray], bytes]:
    return lambda picture: _jpeg(picture, 93, tag, title, orientation)


_Draw = Callable[[Progress, int], np.ndarray]


def _draw_function(name: str) -> _Draw:
    """Return a picture's draw function; import its module only now."""
    return lambda progress, part: import_module(f"zinc_margin.demo.{name}").draw(progress, part)


_PICTURES: dict[str, tuple[float, _Draw, Callable[[np.ndarray], bytes]]]
_PICTURES = {  # share of the work, function that draws, function that stores
    "glazed-wall.jpg": (18, _draw_function("tiles"), _jpegs(300, "glazed-tile wall")),
    "estuary-dawn.tif": (12, _draw_function("estuary"), lambda picture: _tiff(picture)),
    "kiln-lichen.jpg": (11, _draw_function("kiln"), _jpegs(240, "lichen on kiln brick")),
    "stacked-bowls.jpg": (7, _draw_function("bowls"), _jpegs(300, "stacked bowls")),
    "reeds.jpg": (20, _draw_function("reeds"), _jpegs(72, "reeds and wet grass")),
    "potters-bench.jpg": (7, _draw_function("bench"), _jpegs(72, "potter's bench")),
    "waterfront.jpg": (17, _draw_function("waterfront"), _jpegs(72, "the waterfront")),
    "phone-kiln-corner.jpg": (6, _phone, _jpegs(72, "a corner of the kiln", 6)),
}
WEB_COPY = "wall-web-copy.jpg"
HALL = "room/small-hall.jpg"
"""The hall of the show; it is not one of its photos, so it has its own folder."""
NAMES = (*_PICTURES, WEB_COPY)


def cache_folder() -> Path:
    """Return the demo's folder, kept between starts (XDG)."""
    return own_folder("cache") / "demo"


def _quickest_first() -> list[str]:
    return sorted(_PICTURES, key=lambda name: _PICTURES[name][0])


def in_order() -> tuple[str, ...]:
    """Return the photos' names in drawing order."""
    return (*_quickest_first(), WEB_COPY)


def is_there(folder: Path) -> bool:
    """Return whether a folder contains this edition of the demo, complete."""
    try:
        return (folder / _MARK).read_text("ascii") == EDITION and all(
            (folder / name).exists() for name in (*NAMES, HALL)
        )
    except OSError:
        return False


def write_demo(
    folder: Path,
    job: Job = IDLE,
    written: Callable[[Path], None] | None = None,
    small_first: bool = False,
) -> list[Path]:
    """Write the demo's photos and dockets if they are missing, fastest first.

    Parameters
    ----------
    written : callable, optional
        Receives each photo once it and its docket are written.
    small_first : bool
        First write small pictures, which are quick; the full ones replace them.
    """
    paths = [folder / name for name in NAMES]
    if is_there(folder):
        return paths
    shares = dict.fromkeys(_PICTURES, 0.0)
    total = sum(work for work, *_ in _PICTURES.values())
    of_show = dockets()

    def keep(name: str, data: bytes) -> None:
        write_whole(folder / name, data)
        store.save(of_show[name], store.beside(folder / name))
        if written is not None:
            written(folder / name)

    def make(name: str, part: int = 1) -> None:
        work, draw, stored = _PICTURES[name]

        def step(share: float) -> None:
            job.check()
            shares[name] = share * work / total if part == 1 else 0.0
            job.report(sum(shares.values()))

        picture = draw(step, part)
        keep(name, stored(picture))
        if name == "glazed-wall.jpg":
            small = Image.fromarray(picture).resize((640, 427), Image.Resampling.BOX)
            keep(WEB_COPY, _jpeg(np.asarray(small), 38, 72, None))

    try:
        folder.mkdir(parents=True, exist_ok=True)
        with ThreadPoolExecutor(2) as pool:
            for part in (_SMALL, 1) if small_first else (1,):
                for work in [pool.submit(make, name, part) for name in _quickest_first()]:
                    work.result()
        hall = folder / HALL
        hall.parent.mkdir(exist_ok=True)
        drawn = import_module("zinc_margin.demo.hall").draw()
        write_whole(hall, _jpeg(drawn, 90, 72, "the small hall"))
        write_whole(folder / _MARK, EDITION.encode())
    except OSError as why:
        raise CannotDo(f"The demo could not be written to {folder}: {why.strerror}.") from None
    return paths


def dockets() -> dict[str, Docket]:
    """Return the show's dockets, by photo."""
    plain = Docket()

    def hung(size: str, metres: str, **lines: Any) -> Docket:
        line = SizeLine(size=parse_size(size), distance=Seen.at(Fraction(metres) * 1000))
        return replace(plain, size=line, **lines)

    return {
        "glazed-wall.jpg": hung(
            "90x60cm",
            "1.1",
            sharpen=SharpenLine(paper="cotton rag", process="inkjet"),
            pixels=PixelsLine(choice="resample"),
        ),
        "estuary-dawn.tif": replace(plain, size=SizeLine(size=parse_size("50x40cm"))),
        # the large canvas
        "kiln-lichen.jpg": replace(
            hung("120x90cm", "2.5", sharpen=SharpenLine(paper="canvas")),
            size=SizeLine(size=parse_size("120x90cm"), maker="canvas", distance=Seen.at(2500)),
            finish=FinishLine(
                wrap_mm=Fraction(38),
                tuck_mm=Fraction(14),
                wrap_strip_mm=Fraction(22),
                wrap_soften_mm=Fraction(12),
                fold_marks=True,
            ),
        ),
        # the show's house size, in a bought mat
        "stacked-bowls.jpg": replace(
            plain,
            size=SizeLine(way=Way("mat", (Fraction(400), Fraction(400), Fraction(5)))),
            sharpen=SharpenLine(paper="matt", process="inkjet"),
        ),
        # for the projector at the opening
        "reeds.jpg": replace(
            plain,
            size=SizeLine(way=Way("screen", (Fraction(1920), Fraction(1080)))),
            file=FileLine(format="jpeg", quality=92),
        ),
        "potters-bench.jpg": replace(
            plain,
            size=SizeLine(size=parse_size("A3+"), maker="desk"),
            finish=FinishLine(
                sheet=parse_size("A3+"),
                scales=True,
                margins=Margins(Fraction(24), Fraction(24), Fraction(40), Fraction(24)),
                caption="{title}",
                footer="{name} · {edition}",
                edition="1 of 12",
            ),
            crop=CropLine(place_x=Fraction(1, 2), place_y=Fraction(3, 5)),
            sharpen=SharpenLine(paper="baryta", process="inkjet"),
        ),
        # the poster over the door
        "waterfront.jpg": replace(
            plain,
            size=SizeLine(size=parse_size("300x80cm"), maker="roll-half", distance=Seen.at(3000)),
            sharpen=SharpenLine(paper="matt", process="inkjet"),
            finish=FinishLine(pieces=parse_size("A2"), edge_mm=Fraction(10)),
        ),
        # the lab's order
        "phone-kiln-corner.jpg": replace(
            plain,
            size=SizeLine(size=parse_size("20x15cm"), maker="lab"),
            file=FileLine(format="jpeg", quality=95),
        ),
        WEB_COPY: replace(
            plain,
            size=SizeLine(size=parse_size("20x30cm")),
            file=FileLine(format="jpeg", quality=95),
        ),
    }


def _jpeg(
    picture: np.ndarray, quality: int, tag: int, title: str | None, orientation: int = 1
) -> bytes:
    buffer = io.BytesIO()
    exif = Image.Exif()
    exif[0x011A], exif[0x011B], exif[0x0128] = float(tag), float(tag), 2
    if title:
        exif[0x010E] = f"Tidewater Kilns, {title}"
        exif[0x013B] = "Tidewater Kilns"
        exif[0x8298] = "Generated for the demo; free to use"
        exif[0x0112] = orientation
    Image.fromarray(picture).save(
        buffer,
        "JPEG",
        quality=quality,
        subsampling=0 if title else 2,
        dpi=(tag, tag),
        exif=exif,
        **({"icc_profile": srgb().icc} if title else {}),
    )
    return buffer.getvalue()


def _tiff(picture: np.ndarray) -> bytes:
    import tifffile

    buffer = io.BytesIO()
    tifffile.imwrite(
        buffer,
        picture,
        photometric="rgb",
        resolution=(240, 240),
        resolutionunit=2,
        iccprofile=wide_rgb().icc,
        metadata=None,
        software=False,
        description="Tidewater Kilns, estuary at dawn",
        extratags=[(315, 2, 0, "Tidewater Kilns", True)],
    )
    return buffer.getvalue()
