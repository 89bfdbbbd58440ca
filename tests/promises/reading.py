"""Read finished files with other libraries than those that write and verify them."""

from __future__ import annotations

import ctypes
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import pypdfium2
import pyvips
from PIL import Image
from pypdfium2 import raw

FORMATS = {".tif": "tiff", ".jpg": "jpeg", ".png": "png", ".webp": "webp", ".jxl": "jxl"}
_BITS = {"uchar": 8, "ushort": 16}


@dataclass(frozen=True)
class Found:
    """What a reader finds in a file.

    Attributes
    ----------
    ppi : (float, float) or None
        As tagged; None if the format has no tag, or (PDF) as the page's size says.
    step : float
        How finely the format can state a resolution, in ppi.
    sides_mm : (float, float) or None
        From pixels and tag.
    """

    format: str
    width: int
    height: int
    bits: int
    channels: int
    bytes: int
    ppi: tuple[float, float] | None
    step: float

    @property
    def sides_mm(self) -> tuple[float, float] | None:
        if self.ppi is None:
            return None
        return self.width / self.ppi[0] * 25.4, self.height / self.ppi[1] * 25.4


def found_in(path: Path) -> Found:
    """Return what is in a file of one picture."""
    if path.suffix == ".pdf":
        return _found_in_pdf(path)
    form, size = FORMATS[path.suffix], path.stat().st_size
    if form == "jxl":
        import pillow_jxl  # noqa: F401

        with Image.open(path) as image:
            codes = np.asarray(image)
        channels = codes.shape[2] if codes.ndim == 3 else 1
        return Found(form, *codes.shape[1::-1], codes.itemsize * 8, channels, size, None, 0)
    image = pyvips.Image.new_from_file(str(path), access="sequential")
    image.avg()  # to the last pixel
    ppi = None if form == "webp" else (image.xres * 25.4, image.yres * 25.4)
    step = {"tiff": 1e-4 * image.xres, "jpeg": 0.51, "png": 0.0128, "webp": 0}[form]
    return Found(form, image.width, image.height, _BITS[image.format], image.bands, size, ppi, step)


def _found_in_pdf(path: Path) -> Found:
    pages = pypdfium2.PdfDocument(path)
    try:
        page = pages[0]
        wide, high = page.get_size()
        (picture,) = page.get_objects(filter=[raw.FPDF_PAGEOBJ_IMAGE])
        data = raw.FPDF_IMAGEOBJ_METADATA()
        raw.FPDFImageObj_GetImageMetadata(picture.raw, page.raw, ctypes.byref(data))
        ppi = data.width / wide * 72, data.height / high * 72
        # A page's sides are written in points with few decimals.
        step = 1e-3 * max(ppi)
        return Found("pdf", data.width, data.height, 0, 0, path.stat().st_size, ppi, step)
    finally:
        pages.close()
