"""Helpers for writing finished bands."""

from __future__ import annotations

import io
import struct
import zlib
from collections import deque
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from itertools import chain
from typing import TypeVar

import numpy as np
from PIL import Image

from zinc_margin.photo.arrays import Codes
from zinc_margin.plan.model import PrintPlan

Bands = Iterator[Codes]
T = TypeVar("T")


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


def strips(bands: Iterable[np.ndarray], rows: int) -> Iterator[np.ndarray]:
    """Cut bands into strips of `rows`, whatever the bands' heights; the last may have fewer."""
    rest: np.ndarray | None = None
    for band in bands:
        if rest is not None and len(rest):
            band = np.concatenate([rest, band])
        whole = len(band) // rows * rows
        for top in range(0, whole, rows):
            yield band[top : top + rows]
        rest = band[whole:]
    if rest is not None and len(rest):
        yield rest


_PIECE_BYTES = 1 << 20
_AHEAD = 3
"""Pieces being packed at once: one per core and one that waits."""


def in_order(work: Callable[[T], bytes], parts: Iterable[T]) -> Iterator[bytes]:
    """Yield the results of work on parts, done by two threads that run a little ahead."""
    coming = deque[Future[bytes]]()
    with ThreadPoolExecutor(2, "pack") as pool:
        for part in parts:
            coming.append(pool.submit(work, part))
            if len(coming) >= _AHEAD:
                yield coming.popleft().result()
        while coming:
            yield coming.popleft().result()


def pack(bands: Iterable[np.ndarray]) -> Iterator[bytes]:
    """Yield a zlib stream (RFC 1950) of rows as differences, in pieces.

    Two threads pack, and later unpack: each piece ends where the compressor was flushed, and refers
    to no other piece.

    Parameters
    ----------
    bands : iterable of ndarray (rows, W, C), uint8 or uint16
        From the top.
    """
    bands = iter(bands)
    first = next(bands)
    rows = max(1, _PIECE_BYTES // (first[0].nbytes + 1))
    summed, head = zlib.adler32(b""), b"\x78\x9c"

    def rows_as_bytes() -> Iterator[bytes]:
        nonlocal summed
        for raw in differences(strips(chain((first,), bands), rows)):
            summed = zlib.adler32(raw, summed)
            yield raw

    for packed in in_order(_pack_piece, rows_as_bytes()):
        yield head + packed
        head = b""
    yield b"\x03\0" + struct.pack(">I", summed)  # an empty last block


def _pack_piece(raw: bytes) -> bytes:
    packer = zlib.compressobj(6, wbits=-zlib.MAX_WBITS)
    return packer.compress(raw) + packer.flush(zlib.Z_FULL_FLUSH)


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
