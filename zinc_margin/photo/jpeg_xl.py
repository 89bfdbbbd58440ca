"""JPEG XL (ISO/IEC 18181): its pixels, and the profile and EXIF that go with them.

Two readers share the work: one gives pixels in their full depth, the other tells in which colours
they come, also where the file only names them (linear light, Display P3).
"""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
from PIL import Image

from zinc_margin.measure.errors import CannotDo


def decoded(path: Path) -> np.ndarray:
    """Return the pixels, (H, W) or (H, W, C), uint8 or uint16; of an animation the first.

    Parameters
    ----------
    path : Path

    Raises
    ------
    CannotDo
    """
    codes = np.asarray(imagecodecs.jpegxl_decode(path.read_bytes()))
    if codes.ndim == 4:
        codes = codes[0]
    if codes.dtype not in (np.uint8, np.uint16) or codes.ndim not in (2, 3):
        raise CannotDo(f"{path.name} holds pixels of a kind that is not read yet.")
    return codes


def noted(path: Path) -> tuple[bytes | None, Image.Exif]:
    """Return the ICC profile of the pixels that `decoded` gives, and the file's EXIF.

    Parameters
    ----------
    path : Path
    """
    import pillow_jxl  # few photos need it

    decoder: Any = pillow_jxl.Decoder(num_threads=2)
    from_jpeg, _, data, icc, boxes = decoder(path.read_bytes())
    exif = Image.Exif()
    if from_jpeg:  # a JPEG packed without loss: `data` is that JPEG
        with Image.open(io.BytesIO(data)) as image:
            return image.info.get("icc_profile") or icc or None, image.getexif()
    for box in boxes:
        if box.box_type == b"Exif":  # four bytes tell where it begins
            exif.load(bytes(box.data)[4:])
            break
    return icc or None, exif
