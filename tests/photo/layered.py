"""Layered masters as they are saved, written by the published specification for the tests."""

from __future__ import annotations

import struct

import imagecodecs
import numpy as np

MODES = {"grey": 1, "RGB": 3, "CMYK": 4}


def master(
    codes: np.ndarray,
    kind: str = "RGB",
    packed: bool = True,
    big: bool = False,
    layers: int = 0,
    merged: bool = True,
    icc: bytes = b"",
    ppi: int | None = None,
) -> bytes:
    """Return a PSD (or PSB) whose composite is `codes`, (H, W, C) uint8 or uint16."""
    height, width, channels = codes.shape
    bits = codes.dtype.itemsize * 8
    planes = np.moveaxis(codes, -1, 0)
    if kind == "CMYK":
        planes = np.iinfo(codes.dtype).max - planes
    stored = np.ascontiguousarray(planes).astype(f">u{bits // 8}")
    rows = [row.tobytes() for plane in stored for row in plane]
    if packed:
        parts = [bytes(imagecodecs.packbits_encode(row)) for row in rows]
        lengths = b"".join(struct.pack(">I" if big else ">H", len(part)) for part in parts)
        data = struct.pack(">H", 1) + lengths + b"".join(parts)
    else:
        data = struct.pack(">H", 0) + b"".join(rows)

    def resource(number: int, held: bytes) -> bytes:
        padded = held + bytes(len(held) % 2)
        return struct.pack(">4sHHI", b"8BIM", number, 0, len(held)) + padded

    resources = resource(1057, struct.pack(">IB", 1, merged))
    if icc:
        resources += resource(1039, icc)
    if ppi:
        resources += resource(1005, struct.pack(">IHHIHH", ppi << 16, 1, 1, ppi << 16, 1, 1))
    wide = ">Q" if big else ">I"
    info = struct.pack(">h", layers) + bytes(30) if layers else b""
    section = struct.pack(wide, len(info)) + info if layers else b""
    return (
        struct.pack(
            ">4sH6xHIIHH", b"8BPS", 2 if big else 1, channels, height, width, bits, MODES[kind]
        )
        + struct.pack(">I", 0)
        + struct.pack(">I", len(resources))
        + resources
        + struct.pack(wide, len(section))
        + section
        + data
    )
