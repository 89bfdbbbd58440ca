"""Photos, decisions and presses for the promises: small, and of every kind."""

from __future__ import annotations

import io
from collections.abc import Mapping
from dataclasses import replace
from fractions import Fraction
from functools import cache
from pathlib import Path

import imagecodecs
import numpy as np
import pyexiv2
import tifffile
from hypothesis import strategies as st
from PIL import Image

from tests.attacks.seeds import seeds
from tests.dockets import dockets
from zinc_margin.docket.crop import Frame
from zinc_margin.docket.docket import FIELDS, Docket
from zinc_margin.measure.makers import makers
from zinc_margin.measure.papers import papers, processes
from zinc_margin.measure.sizes import parse_size
from zinc_margin.measure.ways import parse_way
from zinc_margin.photo.colour import wide_rgb

SIZES = (
    "6x4cm", "4x6cm", "5x5cm", "7.3x4.1cm", "62x47mm", "3x2in", "2x3in", "2 1/2 x 3 1/2 in",
    "2.2x1.7in", "9x6cm", "A6", "10x5cm",
)  # fmt: skip
WAYS = (
    "5cm wide", "2.5in wide", "45mm high", "long edge 7cm", "long edge 3in", "short edge 1.5in",
    "within 6x5cm", "within 3x2in", "mat 8x6cm reveal 4mm", "mat 3x2in overlap 0.1in", "3x2",
    "150%", "40%", "0.02MP", "160x120px", "within 200x200px", "180px", "sheet 9x7cm border 5mm",
)  # fmt: skip
TARGETS = ("150%", "60%", "0.02MP", "180px")
PPI = ("36", "72", "96.5", "120", "200/3", "150")

_sizes = st.sampled_from([parse_size(one) for one in SIZES])
SMALL: Mapping[str, st.SearchStrategy] = {
    "size.size": st.none() | _sizes,
    "size.way": st.none()
    | st.sampled_from([way for way in map(parse_way, WAYS) if way is not None]),
    "size.maker": st.none() | st.sampled_from([maker.key for maker in makers()]),
    "size.ppi": st.none() | st.sampled_from([Fraction(one) for one in PPI]),
    "size.floor": st.none() | st.sampled_from([Fraction(30), Fraction(90)]),
    "size.overspill_mm": st.none() | st.sampled_from([Fraction(1), Fraction(5, 2)]),
    "size.overspill_share": st.none() | st.just(Fraction(1, 50)),
    "crop.border_mm": st.none() | st.fractions(0, 12, max_denominator=4),
    "crop.frame": st.none()
    | st.builds(
        Frame, *(st.integers(0, 40).map(Fraction),) * 2, *(st.integers(10, 60).map(Fraction),) * 2
    ),
    "pixels.target": st.none()
    | st.sampled_from([way for way in map(parse_way, TARGETS) if way is not None]),
    "sharpen.paper": st.none() | st.sampled_from([paper.name for paper in papers()]),
    "sharpen.process": st.none() | st.sampled_from([one.key for one in processes()]),
    "finish.sheet": st.none() | st.sampled_from([parse_size(one) for one in ("10x8cm", "A6", "4x4in")]),
    "finish.pieces": st.none() | st.sampled_from([parse_size(one) for one in ("4x5cm", "2x2in")]),
    "finish.roll_mm": st.none() | st.just(Fraction(50)),
    "finish.margins": st.none(),
    "finish.line_mm": st.fractions(Fraction(1, 4), 3, max_denominator=4),
    "finish.line_gap_mm": st.fractions(0, 3, max_denominator=4),
    "finish.bleed_mm": st.fractions(0, 5, max_denominator=4),
    "finish.wrap_mm": st.none() | st.fractions(1, 10, max_denominator=4),
    "finish.tuck_mm": st.fractions(0, 6, max_denominator=4),
    "finish.edge_mm": st.none() | st.fractions(0, 6, max_denominator=4),
    "finish.join_mm": st.fractions(0, 8, max_denominator=4),
    "finish.caption": st.none() | st.just("Stacked bowls"),
    "finish.footer": st.none() | st.just("Kiln 4"),
    "finish.edition": st.none() | st.just("3/20"),
    "finish.printer": st.none(),
    "file.colour": st.sampled_from(("own", "srgb", "wide", "grey")),
    "file.watermark": st.none() | st.just("Tidewater"),
    "file.max_bytes": st.none() | st.sampled_from((12_000, 20_000, 60_000, 10**6)),
    "file.name": st.none() | st.just("bowls"),
    "file.rule": st.sampled_from((None, "{name}-{size}", "{name}-{ppi}-{paper}", "{version}")),
    "file.printing_notes": st.booleans(),
    "photo.page": st.none() | st.just(1),
}  # fmt: skip


def small_dockets() -> st.SearchStrategy[Docket]:
    """Dockets of small prints, with every kind of decision."""
    return st.builds(_limited, dockets(SMALL), st.sampled_from(PPI))


def _limited(docket: Docket, ppi: str) -> Docket:
    """Return a docket with a resolution, so that no print has millions of pixels."""
    if docket.size.ppi is None:
        docket = replace(docket, size=replace(docket.size, ppi=Fraction(ppi)))
    return docket


def picture(width: int, height: int, seed: int = 0) -> np.ndarray:
    """A slope, a hard edge and some texture, (H, W, 3) uint8."""
    rows, columns = np.mgrid[0:height, 0:width].astype(float)
    noise = np.random.default_rng(seed).normal(0, 4, (height, width, 3))
    rings = 30 * np.sin(np.hypot(columns - width / 3, rows - height / 2) / 4)
    base = np.stack([rows * 200 / height, columns * 220 / width, 128 + rings], 2)
    return np.clip(base + noise, 0, 255).astype(np.uint8)


def _saved(image: Image.Image, form: str, **known: object) -> bytes:
    held = io.BytesIO()
    image.save(held, form, **known)
    return held.getvalue()


def _turned(data: bytes, orientation: int) -> bytes:
    with pyexiv2.ImageData(data) as image:
        image.modify_exif({"Exif.Image.Orientation": str(orientation)})
        return bytes(image.get_bytes())


@cache
def photos() -> Mapping[str, bytes]:
    """Small photos of every kind by name: damaged-file seeds, and larger ones of every shape."""
    result = dict(seeds())
    rgb = picture(240, 160)
    image = Image.fromarray(rgb)
    icc = wide_rgb().icc
    result["wide.jpg"] = _saved(image, "JPEG", quality=93, dpi=(240, 240), icc_profile=icc)
    for turn in (3, 5, 6, 8):
        result[f"turned-{turn}.jpg"] = _turned(_saved(image, "JPEG", quality=90), turn)
    result["tall.png"] = _saved(Image.fromarray(picture(150, 267)), "PNG")
    result["square.png"] = _saved(Image.fromarray(picture(201, 201)), "PNG", dpi=(72, 72))
    result["panorama.tif"] = _tiff(picture(420, 90), photometric="rgb", iccprofile=icc)
    result["screen.jpg"] = _saved(Image.fromarray(picture(320, 180)), "JPEG", quality=75)
    deep = picture(180, 135).astype(np.uint16) * 257
    result["deep.tif"] = _tiff(deep, photometric="rgb", resolution=(180, 180), resolutionunit=2)
    result["deep-grey.tif"] = _tiff(deep[..., 0], photometric="minisblack")
    result["grey.png"] = _saved(image.convert("L"), "PNG")
    result["lossless.webp"] = _saved(image, "WEBP", lossless=True)
    result["large.jxl"] = bytes(imagecodecs.jpegxl_encode(rgb, level=95))
    return result


def write_photos(place: Path) -> Path:
    """Write all of `photos` into a folder, and return it."""
    for name, data in photos().items():
        (place / name).write_bytes(data)
    return place


def _tiff(codes: np.ndarray, **known: object) -> bytes:
    held = io.BytesIO()
    tifffile.imwrite(held, codes, metadata=None, **known)
    return held.getvalue()


# Options of the command line.

_LENGTHS = ("3mm", "0.2in", "1cm", "0")
_OPTION_VALUES: Mapping[str, tuple[str, ...]] = {
    "by": tuple(maker.key for maker in makers()),
    "ground": ("white", "#f4efe4"),
    "paper-tone": ("white", "#f4efe4"),
    "distance": ("60cm", "25in", "across a room"),
    "rotate": ("90", "180", "-90", "2.5"),
    "process": tuple(one.key for one in processes()),
    "margins": ("5mm", "5mm,6mm,7mm,8mm"),
    "caption": ("Stacked bowls",),
    "footer": ("Kiln 4",),
    "edition": ("3/20",),
    "max-bytes": ("12kB", "20 kB", "60kB", "1MB"),
    "name": ("{name}-{size}", "{name}-{ppi}"),
    "folders": ("{date}",),
    "project": ("Glazes",),
    "note": ("second kiln",),
    "paper": ("lustre", "matt", "canvas"),
    "colour": ("own", "srgb", "wide", "grey"),
    "watermark": ("Tidewater",),
    "sheet": ("10x8cm", "A6", "4x4in"),
    "border": ("5mm", "0.3in"),
    "pieces": ("4x5cm", "2x2in"),
    "key-line": ("1mm", "0.5mm,#204080,2mm"),
    "wrap": ("8mm+4mm", "0.3in+0.2in"),
    "overspill": ("2mm", "2%"),
    "pixels": ("150%", "0.02MP", "180px"),
    "ppi": PPI[:-2],
    "place": ("0.2,0.5", "1,0"),
    "page": ("1",),
    "wrap-tone": ("edge", "#ffffff"),
    "units": ("cm", "in"),
    "floor": ("30", "90"),
    "bits": ("8", "16"),
}
SIZE_OPTIONS = (
    *(("--size", one) for one in (*SIZES, *WAYS)),
    ("--size", "6x4cm 110 ppi"),
    ("--size", "3x2in matt 16-bit tiff"),
    ("--size", "6x4cm sRGB jpeg"),
    ("--width", "5cm"),
    ("--width", "2.5in"),
    ("--height", "2in"),
    ("--long-edge", "3in"),
    ("--long-edge", "160px"),
    ("--within", "3x2in"),
    ("--within", "6x5cm"),
    ("--scale", "120%"),
    ("--megapixels", "0.03"),
    ("--screen", "160x120"),
    ("--mat", "8x6cm"),
    ("--reach", ""),
)[:-1]


def _fields_by_option() -> dict[str, tuple[str, ...] | None]:
    """Return the values of every option; None for one that takes none."""
    result: dict[str, tuple[str, ...] | None] = {}
    for fields in FIELDS.values():
        for said in fields.values():
            option, kind = said.option, said.kind
            if option is None or option.flag in ("edges-of",):
                continue
            if option.sets is not None:
                result[option.flag] = None
            elif kind.words:
                result[option.flag] = option.words or kind.words
            elif option.flag in _OPTION_VALUES:
                result[option.flag] = _OPTION_VALUES[option.flag]
            elif kind.unit == "mm":
                result[option.flag] = _LENGTHS
            elif kind.low is not None and kind.high is not None:
                low, high = float(kind.low), float(kind.high)
                result[option.flag] = tuple(
                    f"{low + (high - low) * share:.3g}" for share in (0, 0.3, 1)
                )
            elif option.flag == "quality":
                result[option.flag] = ("40", "83", "95")
    for flag in ("paper", "colour", "watermark", "sheet", "border", "pieces", "key-line", "wrap",
                 "overspill", "pixels", "ppi", "place", "units"):  # fmt: skip
        result[flag] = _OPTION_VALUES[flag]
    return result | {"keep-pixels": None, "sharpen": None, "no-sharpen": None}


@st.composite
def options(draw: st.DrawFn) -> list[str]:
    """Options of ``make``: a size, and up to six others."""
    every = _fields_by_option()
    result = [*draw(st.sampled_from(SIZE_OPTIONS))]
    for flag in draw(st.lists(st.sampled_from(sorted(every)), max_size=6, unique=True)):
        values = every[flag]
        result += [f"--{flag}"] if values is None else [f"--{flag}={draw(st.sampled_from(values))}"]
    if not any(one.startswith("--ppi") or one == "--keep-pixels" for one in result):
        result.append(f"--ppi={draw(st.sampled_from(PPI[:3]))}")
    return result
