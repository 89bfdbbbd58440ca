"""Helpers for writing finished bands."""

from __future__ import annotations

import io
from collections.abc import Iterable, Iterator

import numpy as np
from PIL import Image

from zinc_margin.photo.arrays import Codes
from zinc_margin.plan.model import PrintPlan

Bands = Iterator[Codes]


def gather(bands: Bands, plan: PrintPlan) -> np.ndarray:
    """Return a whole picture from its bands.

    Parameters
    ----------
    bands : Bands
        (rows, W, C) each, from the top.
    """
    width, height, channels = plan.page.width, plan.page.height, plan.file.channels
    whole = np.empty((height, width, channels), np.uint8 if plan.file.bits == 8 else np.uint16)
    top = 0
    for band in bands:
        whole[top : top + len(band)] = band
        top += len(band)
    return whole


def differences(bands: Iterable[np.ndarray]) -> Iterator[bytes]:
    """Yield each band's rows as differences from the row above (PNG filter 2), as bytes.

    Parameters
    ----------
    bands : iterable of ndarray (rows, W, C), uint8 or uint16
        From the top.
    """
    above: np.ndarray | None = None
    for band in bands:
        raw = band if band.dtype == np.uint8 else band.astype(">u2").view(np.uint8)
        lines = np.ascontiguousarray(raw).reshape(len(band), -1)
        rows = np.empty((len(lines), lines.shape[1] + 1), np.uint8)
        rows[:, 0] = 2
        rows[0, 1:] = lines[0] if above is None else lines[0] - above
        rows[1:, 1:] = lines[1:] - lines[:-1]
        above = lines[-1].copy()
        yield rows.tobytes()


def plain_picture(codes: Codes, form: str, ppi: float | None, icc: bytes) -> bytes:
    """Return a picture as a small file without the photo's metadata.

    Parameters
    ----------
    codes : ndarray (H, W, C), uint8 or uint16
    form : str
        ``tiff``, or ``png`` (8 bits only).
    ppi : float or None
        None: no resolution tag.
    """
    import tifffile

    flat = codes if codes.shape[2] == 3 else codes[..., 0]
    held = io.BytesIO()
    if form == "png":
        eight = flat if flat.dtype == np.uint8 else ((flat.astype(np.uint32) + 128) // 257)
        noted = {} if ppi is None else {"dpi": (ppi, ppi)}
        Image.fromarray(eight.astype(np.uint8)).save(held, "PNG", icc_profile=icc, **noted)
    else:
        tifffile.imwrite(
            held,
            flat,
            photometric="rgb" if flat.ndim == 3 else "minisblack",
            resolution=None if ppi is None else (ppi, ppi),
            resolutionunit=2,
            iccprofile=icc,
            metadata=None,
        )
    return held.getvalue()
