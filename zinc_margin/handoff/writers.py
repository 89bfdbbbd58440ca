"""Writers: finished bands into TIFF, PNG, JPEG and PDF files."""

from __future__ import annotations

import io
import struct
import zlib
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
import tifffile
from PIL import Image

from zinc_margin.handoff import metadata
from zinc_margin.handoff.metadata import EXIF_IFD, GPS_IFD
from zinc_margin.handoff.pdf import Page, Picture, pdf_data
from zinc_margin.measure.errors import BadRequest, CannotDo
from zinc_margin.measure.words import size_in_bytes
from zinc_margin.photo.colour import srgb
from zinc_margin.photo.limits import memory_available
from zinc_margin.plan.model import Plan

Bands = Iterator[np.ndarray]
_BIG_TIFF_FROM = 4_000_000_000
_STRIP_BYTES = 1 << 20


def check(plan: Plan) -> None:
    """Refuse beforehand what a format cannot hold or this machine cannot write.

    Raises
    ------
    BadRequest, CannotDo
    """
    width, height = plan.leaf.width, plan.leaf.height
    if plan.file.format == "pdf":
        raw = width * height * plan.file.channels if plan.docket.file.pdf_jpeg else 0
        _check_memory(plan, plan.file.bytes_estimate * 2 + raw)
        return
    most = {"jpeg": 65535, "webp": 16383}.get(plan.file.format)
    if plan.file.channels == 4 and plan.file.format in ("png", "webp", "jxl"):
        raise BadRequest(
            f"{plan.file.format.upper()} holds no CMYK; write a TIFF, a JPEG or a PDF."
        )
    if plan.file.format not in ("jpeg", "webp", "jxl"):
        return
    if most is not None and max(width, height) > most:
        raise BadRequest(
            f"{plan.file.format.upper()} ends at {most} px a side and this print is "
            f"{width} × {height} px; write a TIFF."
        )
    _check_memory(plan, width * height * plan.file.channels * 2)


def _check_memory(plan: Plan, needed: int) -> None:
    if needed > 0.6 * memory_available():
        raise CannotDo(
            f"A {plan.file.format.upper()} of {plan.leaf.width} × {plan.leaf.height} px needs "
            f"{size_in_bytes(needed)} of memory, more than this machine can spare; write a TIFF, "
            "which needs little."
        )


def write(path: Path, bands: Bands, plan: Plan, icc: bytes, photo: Path) -> None:
    """Write a whole file, its tags and metadata in it.

    Parameters
    ----------
    path : Path
        A new file.
    bands : iterator of ndarray (rows, W, C), uint8 or uint16
        From the top, of the plan's size.
    icc : bytes
        Profile to embed.
    photo : Path
        Whose metadata is carried.
    """
    write_as = {
        "tiff": _tiff, "png": _png, "jpeg": _jpeg, "webp": _webp, "jxl": _jxl, "pdf": _pdf,
    }[plan.file.format]  # fmt: skip
    write_as(path, bands, plan, icc, photo)


def _tiff(path: Path, bands: Bands, plan: Plan, icc: bytes, photo: Path) -> None:
    width, height, channels = plan.leaf.width, plan.leaf.height, plan.file.channels
    dtype = np.uint8 if plan.file.bits == 8 else np.uint16
    total = width * height * channels * plan.file.bits // 8
    big = total > _BIG_TIFF_FROM
    own, directories = metadata.tiff_tags(photo, plan)
    extra: list[tuple[int, int, int, object, bool]] = [
        (tag.code, tag.kind, tag.count, tag.data, True) for tag in own if tag.code != 305
    ]
    # the library keeps pointers to itself, so each is written under the code before its own
    extra += [(code - 1, 16 if big else 4, 1, 0, True) for code in directories]
    row_bytes = width * channels * plan.file.bits // 8
    rows = max(1, min(height, _STRIP_BYTES // row_bytes))
    with tifffile.TiffWriter(path, bigtiff=big, byteorder="<") as tiff:
        tiff.write(
            _segments(_strips(bands, rows, channels), plan),
            shape=(height, width, channels) if channels > 1 else (height, width),
            dtype=dtype,
            photometric={1: "minisblack", 3: "rgb", 4: "separated"}[channels],
            **_packing(plan),
            rowsperstrip=rows,
            resolution=(plan.leaf.tag_x, plan.leaf.tag_y),
            resolutionunit=2,
            iccprofile=icc,
            metadata=None,
            software=f"Zinc Margin {metadata.__version__}",
            extratags=extra,
        )
    if directories:
        _append_directories(path, directories, big)


_TIFF_PACKING = {"deflate": "adobe_deflate", "lzw": "lzw", "zstd": "zstd"}


def _packing(plan: Plan) -> dict[str, Any]:
    compression = plan.docket.file.compression
    if compression == "none":
        return {}
    # rows as differences of neighbours: photographs pack by a third better
    return {"compression": _TIFF_PACKING[compression], "predictor": True}


def _segments(strips: Bands, plan: Plan) -> Iterator[np.ndarray] | Iterator[bytes]:
    """Pack strips as the docket asks; plain ones pass."""
    compression = plan.docket.file.compression
    if compression == "none":
        return strips
    pack = {
        "deflate": lambda data: imagecodecs.zlib_encode(data, level=6),
        "lzw": imagecodecs.lzw_encode,
        "zstd": lambda data: imagecodecs.zstd_encode(data, level=9),
    }[compression]
    return (
        bytes(pack(imagecodecs.delta_encode(strip, axis=1).tobytes())) for strip in strips
    )  # fmt: skip


def _strips(bands: Bands, rows: int, channels: int) -> Iterator[np.ndarray]:
    """Cut bands into strips of `rows`, whatever the bands' own heights."""
    rest: np.ndarray | None = None
    for band in bands:
        band = band if channels > 1 else band[..., 0]
        if rest is not None and len(rest):
            band = np.concatenate([rest, band])
        whole = len(band) // rows * rows
        for top in range(0, whole, rows):
            yield band[top : top + rows]
        rest = band[whole:]
    if rest is not None and len(rest):
        yield rest


def _append_directories(path: Path, directories: dict[int, list[metadata.Tag]], big: bool) -> None:
    with tifffile.TiffFile(path) as tiff:
        tags = tiff.pages[0].tags  # type: ignore[union-attr]
        places = {code: (tags[code - 1].offset, tags[code - 1].valueoffset) for code in directories}
    with path.open("r+b") as file:
        for code in (EXIF_IFD, GPS_IFD):
            if code in directories:
                start = file.seek(0, 2)
                if start % 2:
                    start += file.write(b"\0")
                file.write(metadata.pack_directory(directories[code], start, big))
                entry, value = places[code]
                file.seek(entry)
                file.write(struct.pack("<H", code))
                file.seek(value)
                file.write(struct.pack("<Q" if big else "<I", start))


def _png(path: Path, bands: Bands, plan: Plan, icc: bytes, photo: Path) -> None:
    """Stream a PNG; no library here takes 16-bit colour in bands."""
    width, height, channels = plan.leaf.width, plan.leaf.height, plan.file.channels
    with path.open("wb") as file:

        def chunk(kind: bytes, data: bytes) -> None:
            file.write(struct.pack(">I", len(data)) + kind + data)
            file.write(struct.pack(">I", zlib.crc32(kind + data)))

        file.write(b"\x89PNG\r\n\x1a\n")
        colour_type = 2 if channels == 3 else 0
        chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, plan.file.bits, colour_type, 0, 0, 0))
        chunk(b"iCCP", b"photo\0\0" + zlib.compress(icc, 9))
        across = metadata.per_metre(plan.leaf.tag_x)
        down = metadata.per_metre(plan.leaf.tag_y)
        chunk(b"pHYs", struct.pack(">IIB", across, down, 1))
        packer = zlib.compressobj(6)
        above = np.zeros(width * channels * plan.file.bits // 8, np.uint8)
        for band in bands:
            raw = band.astype(">u2").view(np.uint8) if plan.file.bits == 16 else band
            lines = np.ascontiguousarray(raw).reshape(len(band), -1)
            rows = np.empty((len(lines), lines.shape[1] + 1), np.uint8)
            rows[:, 0] = 2  # every row as its difference from the one above
            rows[0, 1:] = lines[0] - above
            rows[1:, 1:] = lines[1:] - lines[:-1]
            above = lines[-1].copy()
            packed = packer.compress(rows.tobytes())
            if packed:
                chunk(b"IDAT", packed)
        chunk(b"IDAT", packer.flush())
        chunk(b"IEND", b"")
    metadata.carry(photo, path, plan)


def _jpeg(path: Path, bands: Bands, plan: Plan, icc: bytes, photo: Path) -> None:
    path.write_bytes(jpeg_data(gathered(bands, plan), plan, icc))
    metadata.carry(photo, path, plan)


def _webp(path: Path, bands: Bands, plan: Plan, icc: bytes, photo: Path) -> None:
    codes = gathered(bands, plan)
    flat = codes if codes.shape[2] == 3 else np.repeat(codes, 3, axis=2)
    if codes.shape[2] == 1:
        icc = srgb().icc  # grey in three channels; its curve is sRGB's, or was converted to it
    exif, xmp = metadata.blocks_of(photo, plan)
    Image.fromarray(flat).save(
        path, "WEBP", quality=plan.file.quality, lossless=plan.docket.file.lossless, method=4,
        icc_profile=icc, exact=True, exif=exif, xmp=xmp,
    )  # fmt: skip


def _jxl(path: Path, bands: Bands, plan: Plan, icc: bytes, photo: Path) -> None:
    codes = gathered(bands, plan)
    flat = codes if codes.shape[2] == 3 else codes[..., 0]
    line = plan.docket.file
    how: dict[str, Any] = {"lossless": True} if line.lossless else {"level": plan.file.quality}
    stream = bytes(imagecodecs.jpegxl_encode(flat, usecontainer=True, numthreads=2, **how))
    path.write_bytes(with_boxes(stream, *metadata.blocks_of(photo, plan)))


def with_boxes(stream: bytes, exif: bytes, xmp: bytes) -> bytes:
    """Return a JPEG XL file with EXIF and XMP boxes before its codestream (ISO/IEC 18181-2)."""
    at = 0
    while stream[at + 4 : at + 8] not in (b"jxlc", b"jxlp", b""):
        at += struct.unpack(">I", stream[at : at + 4])[0]
    made = b""
    for kind, data in ((b"Exif", b"\0\0\0\0" + exif if exif else b""), (b"xml ", xmp)):
        if data:
            made += struct.pack(">I", 8 + len(data)) + kind + data
    return stream[:at] + made + stream[at:]


def _pdf(path: Path, bands: Bands, plan: Plan, icc: bytes, photo: Path) -> None:
    """Write one page as large as the sheet."""
    path.write_bytes(pdf_data([pdf_page(bands, plan, icc)], f"{photo.stem}, {plan.size.label}"))


def pdf_page(bands: Bands, plan: Plan, icc: bytes) -> Page:
    """Return a plan's page, its pixels without loss or as JPEG, with its boxes."""
    leaf, sheet = plan.leaf, plan.sheet
    if plan.docket.file.pdf_jpeg:
        data = jpeg_data(gathered(bands, plan), plan, b"")
        picture = Picture(leaf.width, leaf.height, plan.file.channels, 8, data, True)
    else:
        picture = Picture.of_bands(bands)
    page = Page.filled(leaf.width_mm, leaf.height_mm, picture, icc)
    line = plan.docket.finish
    if sheet is None or plan.cut is not None or not (line.marks or line.bleed_mm):
        return page
    top, right, bottom, left = sheet.margins_mm
    return page.cut_at((left, top, leaf.width_mm - left - right, leaf.height_mm - top - bottom),
                       line.bleed_mm)  # fmt: skip


def gathered(bands: Bands, plan: Plan) -> np.ndarray:
    """Return a whole picture from its bands."""
    width, height, channels = plan.leaf.width, plan.leaf.height, plan.file.channels
    whole = np.empty((height, width, channels), np.uint8 if plan.file.bits == 8 else np.uint16)
    top = 0
    for band in bands:
        whole[top : top + len(band)] = band
        top += len(band)
    return whole


def jpeg_data(
    codes: np.ndarray, plan: Plan, icc: bytes, tables: list[list[int]] | None = None
) -> bytes:
    """Return a picture as JPEG, without the photo's metadata.

    Parameters
    ----------
    codes : ndarray (H, W, C), uint8
    tables : list of two lists of 64, optional
        Quantisation tables in place of those of the plan's quality.
    """
    line = plan.docket.file
    ink = codes.shape[2] == 4
    flat = codes if codes.shape[2] > 1 else codes[..., 0]
    picture = Image.fromarray(flat, "CMYK") if ink else Image.fromarray(flat)
    how: dict[str, Any] = {"quality": plan.file.quality} if tables is None else {"qtables": tables}
    if codes.shape[2] == 3:
        how["subsampling"] = {"full": 0, "half": 1, "quarter": 2}[line.subsampling]
    if line.progressive:
        how["progressive"] = True
    near = tuple(round(n / d) for n, d in (plan.leaf.tag_x, plan.leaf.tag_y))
    buffer = io.BytesIO()
    picture.save(
        buffer, "JPEG", optimize=False, icc_profile=icc,
        dpi=near if max(near) <= 65535 else None, **how,
    )  # fmt: skip
    return buffer.getvalue()
