"""Compare a finished file with its plan, using other readers than the code that wrote it."""

from __future__ import annotations

import os
import re
import struct
import zlib
from collections.abc import Callable, Iterator
from fractions import Fraction
from typing import Any, BinaryIO

import imagecodecs
import numpy as np
from PIL import Image, JpegImagePlugin

from zinc_margin.handoff.formats.bands import Bands, in_order
from zinc_margin.handoff.outgoing import Outgoing, Received
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.photo.arrays import Codes
from zinc_margin.plan.model import PrintPlan

_POINTS_PER_INCH = 72
_NEAR_PT = 0.02
"""A PDF's boxes are written with two decimals."""
_AT_ONCE = 1 << 20
_Bytes = bytes | memoryview


class Checksum:
    """Passes bands on and sums them up (CRC-32), as the writer receives them."""

    def __init__(self, bands: Bands) -> None:
        self._bands = bands
        self.value = 0

    def __iter__(self) -> Iterator[Codes]:
        for band in self._bands:
            self.value = _summed(band, self.value)
            yield band


def differences_from_plan(file: BinaryIO, plan: PrintPlan, received: Received) -> list[str]:
    """Return in which ways a file differs from its plan; empty if it is as planned.

    Parameters
    ----------
    file : file
        The finished file, open for reading.
    """
    file.seek(0)
    page, form = plan.page, plan.file.format
    found = _READERS.get(form, _look_at_picture)(file, plan, received)
    wanted: dict[str, Any] = {
        "width": page.width,
        "height": page.height,
        "channels": 3 if form == "webp" else plan.file.channels,
        "bits": plan.file.bits,
    }
    result = [name for name, value in wanted.items() if found[name] != value]
    return result + [name for name, fits in found.items() if fits is False]


def _look_at_tiff(file: BinaryIO, plan: PrintPlan, received: Received) -> dict[str, Any]:
    import tifffile

    with tifffile.TiffFile(file) as tiff:
        page = tiff.pages.first
        tags = page.tags
        total = _sum_of_strips(file, page)
        photometric = {1: 1, 3: 2, 4: 5}[plan.file.channels]  # TIFF 6.0, section 8
        return {
            "width": int(page.imagewidth),
            "height": int(page.imagelength),
            "channels": int(page.samplesperpixel),
            "bits": int(page.bitspersample),
            "pages": len(tiff.pages) == 1,
            "colour model": int(page.photometric) == photometric,
            "resolution across": Fraction(*tags.valueof(282)) == Fraction(*plan.page.tag_x),
            "resolution down": Fraction(*tags.valueof(283)) == Fraction(*plan.page.tag_y),
            "unit of resolution": tags.valueof(296) == 2,
            "profile": tags.valueof(34675) == received.icc,
            "samples": received.samples is None or total == received.samples,
        }


def _sum_of_strips(file: BinaryIO, page: Any) -> int:
    """Return the checksum of a TIFF's samples, from what was written if they are not compressed."""
    strips = list(zip(page.dataoffsets, page.databytecounts, strict=True))
    start, end = strips[0][0], strips[-1][0] + strips[-1][1]
    if isinstance(file, Outgoing) and page.compression == 1:
        known = file.checksum(start, end)
        if known is not None and sum(length for _, length in strips) == end - start:
            return known
    total = 0
    for segment, _, _ in page.segments(maxworkers=2):
        if segment is not None:
            total = _summed(segment, total)
    return total


def _look_at_png(file: BinaryIO, plan: PrintPlan, received: Received) -> dict[str, Any]:
    found = _look_at_picture(file, plan, received)
    file.seek(24)
    found["bits"] = file.read(1)[0]  # ISO/IEC 15948, 11.2.2; the library may reduce it
    wide = plan.page.width * plan.file.channels * plan.file.bits // 8
    total = _sum_of_stream(lambda: _data_of_png(file), wide, plan.file.bits)
    found["samples"] = received.samples is None or total == received.samples
    return found


def _look_at_picture(file: BinaryIO, plan: PrintPlan, received: Received) -> dict[str, Any]:
    """Look at a JPEG, PNG or WebP, without decoding it unless it is lossless."""
    form = plan.file.format
    with Image.open(file) as image:
        found: dict[str, Any] = {
            "width": image.width,
            "height": image.height,
            "channels": len(image.getbands()),
            "bits": 8,
        }
        if form in ("jpeg", "png"):
            noted = image.info.get("dpi")
            step = 0.5 if form == "jpeg" else 0.0254 / 2  # whole px per inch, or per metre
            found["resolution"] = noted is None or all(
                abs(float(ppi) - tag[0] / tag[1]) <= step + 1e-3
                for ppi, tag in zip(noted, (plan.page.tag_x, plan.page.tag_y), strict=True)
            )
        if form != "webp" or plan.file.channels == 3:  # grey becomes sRGB in a WebP
            found["profile"] = image.info.get("icc_profile") == received.icc
        if isinstance(image, JpegImagePlugin.JpegImageFile):
            found |= _look_at_coding(image, plan)
        if form == "webp" and plan.file.lossless and plan.file.channels == 3:
            found["samples"] = received.samples in (None, _summed(np.asarray(image), 0))
    return found


def _look_at_coding(image: JpegImagePlugin.JpegImageFile, plan: PrintPlan) -> dict[str, Any]:
    found = {"progressive": ("progression" in image.info) == plan.file.progressive}
    if plan.file.channels == 3:
        sampling = {"4:4:4": 0, "4:2:2": 1, "4:2:0": 2}[plan.file.subsampling]
        found["subsampling"] = JpegImagePlugin.get_sampling(image) == sampling
    first = image.quantization[0]
    low, high = (
        np.asarray(_library_table(quality)) for quality in (plan.file.quality, _above(plan))
    )
    # A byte limit may use tables between those of two qualities.
    found["quality"] = bool(np.all((np.asarray(first) <= low) & (np.asarray(first) >= high)))
    return found


def _above(plan: PrintPlan) -> int:
    return min(100, plan.file.quality + (plan.file.max_bytes is not None))


def _library_table(quality: int) -> list[int]:
    """Return the luminance table for a quality (ISO/IEC 10918-1, table K.1, scaled)."""
    scale = 5000 // quality if quality < 50 else 200 - 2 * quality
    return [min(255, max(1, (value * scale + 50) // 100)) for value in _LUMINANCE]


_LUMINANCE = (
    16, 11, 10, 16, 24, 40, 51, 61, 12, 12, 14, 19, 26, 58, 60, 55,
    14, 13, 16, 24, 40, 57, 69, 56, 14, 17, 22, 29, 51, 87, 80, 62,
    18, 22, 37, 56, 68, 109, 103, 77, 24, 35, 55, 64, 81, 104, 113, 92,
    49, 64, 78, 87, 103, 121, 120, 101, 72, 92, 95, 98, 112, 100, 103, 99,
)  # fmt: skip
"""Luminance quantisation for quality 50 (ISO/IEC 10918-1, table K.1)."""


def _look_at_jxl(file: BinaryIO, plan: PrintPlan, received: Received) -> dict[str, Any]:
    file.seek(0)
    codes = imagecodecs.jpegxl_decode(file.read(), numthreads=2)
    return {
        "width": codes.shape[1],
        "height": codes.shape[0],
        "channels": codes.shape[2] if codes.ndim == 3 else 1,
        "bits": codes.itemsize * 8,
        "samples": not plan.file.lossless or received.samples in (None, _summed(codes, 0)),
    }


def _look_at_pdf(file: BinaryIO, plan: PrintPlan, received: Received) -> dict[str, Any]:
    import pikepdf

    page, bits = plan.page, plan.file.bits
    with pikepdf.open(file) as pdf:
        box = [float(value) for value in pdf.pages[0].mediabox]
        ((_, picture),) = pdf.pages[0].get_images().items()
        profile = picture.ColorSpace[1]
        sides = (page.width_mm, page.height_mm)
        points = [float(side / MM_PER_INCH * _POINTS_PER_INCH) for side in sides]
        found = {
            "width": int(picture.Width),
            "height": int(picture.Height),
            "channels": int(profile.N),
            "bits": int(picture.BitsPerComponent),
            "pages": len(pdf.pages) == 1,
            "page's size": all(
                abs(end - start - side) < _NEAR_PT
                for start, end, side in zip(box[:2], box[2:], points, strict=True)
            ),
            "profile": profile.read_bytes() == received.icc,
        }
        if not plan.file.pdf_jpeg:
            wide = page.width * plan.file.channels * bits // 8
            packed = memoryview(picture.get_raw_stream_buffer())
            rows = _sum_of_stream(lambda: iter((packed,)), wide, bits)
            found["samples"] = received.samples in (None, rows)
    return found


_READERS: dict[str, Callable[[BinaryIO, PrintPlan, Received], dict[str, Any]]] = {
    "tiff": _look_at_tiff,
    "png": _look_at_png,
    "jxl": _look_at_jxl,
    "pdf": _look_at_pdf,
}


def _data_of_png(file: BinaryIO) -> Iterator[bytes]:
    end, at = file.seek(0, os.SEEK_END), 8
    while at < end:
        file.seek(at)
        length, kind = struct.unpack(">I4s", file.read(8))
        if kind == b"IDAT":
            yield file.read(length)
        at += length + 12


def _sum_of_stream(parts: Callable[[], Iterator[_Bytes]], wide: int, bits: int) -> int | None:
    """Return the checksum of rows in a zlib stream; see `_sum_of_rows`."""
    try:
        return _sum_of_rows(_unpack(parts()), wide, bits)
    except (ValueError, imagecodecs.DeflateError):
        pass  # a piece's end also occurs by chance, about once in 4 GB
    try:
        return _sum_of_rows(_inflate(parts()), wide, bits)
    except zlib.error:
        return None


_FLUSHED = b"\0\0\xff\xff"
"""The end of an empty stored block, where the compressor was flushed (RFC 1951, 3.2.4)."""
_ENDS = re.compile(re.escape(_FLUSHED))
_EMPTY = b"\x01\0\0\xff\xff"
"""The same as a last block."""


def _unpack(parts: Iterator[_Bytes]) -> Iterator[bytes]:
    """Yield the data of a zlib stream that was flushed between its pieces, by two threads.

    Raises
    ------
    ValueError, imagecodecs.DeflateError
        If the pieces cannot be unpacked one by one, or have another checksum.
    """
    pieces = _pieces(parts)
    try:
        first = zlib.decompress(next(pieces)[2:] + _EMPTY, -zlib.MAX_WBITS)
    except zlib.error as why:
        raise ValueError from why
    yield first
    summed, rest = zlib.adler32(first), b""

    def flushed() -> Iterator[bytes]:
        nonlocal rest
        for piece in pieces:
            if not piece.endswith(_FLUSHED):
                rest = piece
                return
            yield piece

    for data in in_order(lambda piece: _unpack_piece(piece, len(first)), flushed()):
        summed = zlib.adler32(data, summed)
        yield data
    if rest != b"\x03\0" + struct.pack(">I", summed):
        raise ValueError


def _pieces(parts: Iterator[_Bytes]) -> Iterator[bytes]:
    rest = b""
    for part in parts:
        data, start = rest + bytes(part) if rest else part, 0
        for found in _ENDS.finditer(data):
            yield bytes(data[start : found.end()])
            start = found.end()
        rest = bytes(data[start:])
    yield rest


def _unpack_piece(piece: bytes, most: int) -> bytes:
    return bytes(imagecodecs.deflate_decode(piece + _EMPTY, raw=True, out=most))


def _inflate(packed: Iterator[_Bytes]) -> Iterator[bytes]:
    unpacker = zlib.decompressobj()
    for data in packed:
        for start in range(0, len(data), _AT_ONCE):
            yield unpacker.decompress(data[start : start + _AT_ONCE])
    yield unpacker.flush()


def _sum_of_rows(unpacked: Iterator[bytes], wide: int, bits: int) -> int | None:
    """Return the checksum of rows that are stored as differences from the row above.

    Parameters
    ----------
    wide : int
        Bytes of a row, without its filter.

    Returns
    -------
    int or None
        None if a row has another filter, or is incomplete.
    """
    above, rest, total = np.zeros(wide, np.uint8), b"", 0
    for data in unpacked:
        rest += data
        count = len(rest) // (wide + 1)
        if not count:
            continue
        rows = np.frombuffer(rest, np.uint8, count * (wide + 1)).reshape(count, wide + 1)
        if np.any(rows[:, 0] != 2):
            return None
        plain = rows[:, 1:].copy()
        plain[0] += above
        for row in range(1, count):
            plain[row] += plain[row - 1]
        above, rest = plain[-1], rest[count * (wide + 1) :]
        total = _summed(plain if bits == 8 else plain.view(">u2").astype(np.uint16), total)
    return total if not rest else None


def _summed(codes: np.ndarray, before: int) -> int:
    return int(imagecodecs.deflate_crc32(np.ascontiguousarray(codes).data.cast("B"), before))  # type: ignore[arg-type]
