"""PSD and PSB: the composite of a layered file, if the file has one.

The layout follows the published file format specification: header, colour tables, resources,
layers, then the composite, plane by plane.
"""

from __future__ import annotations

import struct
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import BinaryIO

import imagecodecs
import numpy as np

from zinc_margin.measure.errors import CannotDo
from zinc_margin.photo.arrays import Codes

MARK = b"8BPS"
_KINDS = {1: "grey", 3: "RGB", 4: "CMYK", 8: "grey"}
_OTHERS = {0: "1-bit", 2: "palette", 7: "multichannel", 9: "Lab"}
_SAMPLES = {"grey": 1, "RGB": 3, "CMYK": 4}
_RESOLUTION, _ICC, _VERSION = 1005, 1039, 1057
_RAW, _PACKED = 0, 1


@dataclass(frozen=True)
class Master:
    """The header of a layered file.

    Attributes
    ----------
    width, height, bits, channels : int
    kind : str
        ``RGB``, ``grey`` or ``CMYK``.
    layered, alpha : bool
        Whether there are layers; whether the composite has alpha.
    icc : bytes or None
    ppi : (Fraction or None, Fraction or None)
    at : int
        Offset of the composite.
    wide_counts : bool
        Whether it is a PSB, with four-byte row lengths.
    """

    width: int
    height: int
    bits: int
    channels: int
    kind: str
    layered: bool
    alpha: bool
    icc: bytes | None
    ppi: tuple[Fraction | None, Fraction | None]
    at: int
    wide_counts: bool


def master_of(path: Path) -> Master:
    """Read the header of a PSD or PSB.

    Raises
    ------
    CannotDo
        If it has no composite, or an unsupported one.
    ValueError, struct.error
        If it is damaged.
    """
    with path.open("rb") as file:
        mark, version, channels, height, width, bits, mode = struct.unpack(
            ">4sH6xHIIHH", file.read(26)
        )
        if mark != MARK or version not in (1, 2) or not 1 <= channels <= 56:
            raise ValueError("not a PSD")
        if mode in _OTHERS or bits not in (8, 16):
            held = f"{_OTHERS[mode]} pixels" if mode in _OTHERS else f"{bits} bits per sample"
            raise CannotDo(f"{path.name} has {held}. Save it as 8- or 16-bit RGB.")
        kind = _KINDS[mode]
        _skip(file, 4)
        icc, ppi, merged = _resources(file)
        layers = _layers(file, 8 if version == 2 else 4)
        if not merged:
            raise CannotDo(
                f"{path.name} has no composite picture. Save it with one, or as a flat TIFF."
            )
        samples = _SAMPLES[kind]
        if channels < samples:
            raise ValueError("channels are missing")
        return Master(
            width,
            height,
            bits,
            channels,
            kind,
            layers != 0,
            layers < 0 and channels > samples,
            icc,
            ppi,
            file.tell(),
            version == 2,
        )


def _skip(file: BinaryIO, size: int) -> None:
    length = int.from_bytes(file.read(size), "big")
    file.seek(length, 1)


def _resources(
    file: BinaryIO,
) -> tuple[bytes | None, tuple[Fraction | None, Fraction | None], bool]:
    """Return the profile, the resolution, and whether the composite is real."""
    (length,) = struct.unpack(">I", file.read(4))
    end = file.tell() + length
    icc: bytes | None = None
    ppi: tuple[Fraction | None, Fraction | None] = (None, None)
    merged = True
    while file.tell() + 12 <= end:
        _, number, name = struct.unpack(">4sHB", file.read(7))
        file.seek(name + (name + 1) % 2, 1)
        (size,) = struct.unpack(">I", file.read(4))
        at = file.tell()
        if number == _ICC:
            icc = file.read(min(size, end - at))
        elif number == _RESOLUTION and size >= 16:
            across, down = struct.unpack(">I4xI4x", file.read(16))
            ppi = Fraction(across, 65536), Fraction(down, 65536)
        elif number == _VERSION and size >= 5:
            merged = file.read(5)[4] != 0
        file.seek(at + size + size % 2)
    file.seek(end)
    return icc, ppi, merged


def _layers(file: BinaryIO, wide: int) -> int:
    """Return the number of layers, negative if the composite has an alpha."""
    length = int.from_bytes(file.read(wide), "big")
    end, count = file.tell() + length, 0
    if length >= wide + 2 and int.from_bytes(file.read(wide), "big"):
        (count,) = struct.unpack(">h", file.read(2))
    file.seek(end)
    return count


def composite(path: Path, master: Master) -> Codes:
    """Return the composite, (H, W, C), uint8 or uint16, with straight (not premultiplied) alpha.

    Raises
    ------
    CannotDo
        If its compression is unsupported.
    ValueError
        If it is damaged.
    """
    count = _SAMPLES[master.kind] + master.alpha
    row, dtype = master.width * master.bits // 8, np.dtype(f">u{master.bits // 8}")
    with path.open("rb") as file:
        file.seek(master.at)
        (packing,) = struct.unpack(">H", file.read(2))
        rows = master.height * count
        if packing == _RAW:
            data = file.read(row * rows)
        elif packing == _PACKED:
            wide = 4 if master.wide_counts else 2
            counts = file.read(wide * master.height * master.channels)
            lengths = np.frombuffer(counts, f">u{wide}")[:rows]
            parts = [imagecodecs.packbits_decode(file.read(int(each))) for each in lengths]
            if any(len(part) != row for part in parts):
                raise ValueError("a row has the wrong length")
            data = b"".join(map(bytes, parts))
        else:
            raise CannotDo("its composite uses an unsupported compression. Save it as a TIFF")
    planes = np.frombuffer(data, dtype).reshape(count, master.height, master.width)
    codes = np.moveaxis(planes, 0, -1).astype(dtype.newbyteorder("="))
    if master.kind == "CMYK":  # stored inverted, as the amount of paper left white
        codes[..., :4] = np.iinfo(codes.dtype).max - codes[..., :4]
    return _straight(codes) if master.alpha else codes


def _straight(codes: Codes) -> np.ndarray:
    """Remove the white on which a transparent composite was blended."""
    top = np.iinfo(codes.dtype).max
    for part in codes:
        alpha = part[:, -1:].astype(np.float32)
        colour = part[:, :-1].astype(np.float32)
        straight = (colour - (top - alpha)) * top / np.maximum(alpha, 1)
        part[:, :-1] = np.rint(np.clip(straight, 0, top))
    return codes
