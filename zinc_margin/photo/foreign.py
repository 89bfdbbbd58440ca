"""Pictures that cannot be opened: read only their header, for `inspect`."""

from __future__ import annotations

import warnings
from dataclasses import dataclass
from pathlib import Path

from PIL import Image

_NAMES = {"WEBP": "WebP", "JPEG2000": "JPEG 2000", "PPM": "netpbm picture"}
_MODES = {
    "1": "1-bit black and white",
    "L": "8-bit grey",
    "LA": "8-bit grey with transparency",
    "P": "8-bit palette",
    "PA": "8-bit palette with transparency",
    "RGB": "8-bit RGB",
    "RGBA": "8-bit RGB with transparency",
    "CMYK": "8-bit CMYK",
    "YCbCr": "8-bit YCbCr",
    "LAB": "8-bit Lab",
    "HSV": "8-bit HSV",
    "I": "32-bit grey",
    "F": "floating-point grey",
    "I;16": "16-bit grey",
    "I;16B": "16-bit grey",
}
_TINTS = {0: "grey", 1: "grey", 2: "RGB", 3: "palette", 5: "CMYK", 6: "YCbCr", 8: "Lab"}


@dataclass(frozen=True)
class Foreign:
    """A picture that the program cannot open.

    Attributes
    ----------
    format, kind : str
        ``GIF``; ``8-bit palette``.
    width, height : int
        Stored size.
    """

    format: str
    kind: str
    width: int
    height: int


def foreign(path: Path) -> Foreign | None:
    """Return a file's header from any available reader; None if no reader knows the file."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        for look in (_tiff, _pillow):
            try:
                result = look(path)
            except Exception:  # each reader fails in its own way on unknown files
                continue
            if result.width > 0 and result.height > 0:
                return result
    return None


def _tiff(path: Path) -> Foreign:
    import tifffile

    with tifffile.TiffFile(path) as file:
        page = file.pages.first
        bits = "floating-point" if page.sampleformat == 3 else f"{page.bitspersample}-bit"
        tint = _TINTS.get(int(page.photometric), "")
        return Foreign(
            "TIFF", f"{bits} {tint}".strip(), int(page.imagewidth), int(page.imagelength)
        )


def _pillow(path: Path) -> Foreign:
    with Image.open(path) as image:
        name = str(image.format)
        kind = _MODES.get(image.mode, f"{image.mode} pixels")
        return Foreign(_NAMES.get(name, name), kind, image.width, image.height)
