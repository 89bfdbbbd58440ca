"""JPEG XL (ISO/IEC 18181): header, pixels and EXIF.

Size, depth and named colours are in the first bytes of the codestream, so the size is known before
anything is decoded. An embedded profile is compressed after them; a second reader, which decodes
the picture once, provides it.
"""

from __future__ import annotations

import io
import struct
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
from PIL import Image

from zinc_margin.measure.errors import CannotDo
from zinc_margin.photo.arrays import Codes
from zinc_margin.photo.colour import plain_grey
from zinc_margin.photo.named_colours import named_profile

_BARE, _BOXED = b"\xff\x0a", b"\0\0\0\x0cJXL "
_D65, _P3, _P3_D65 = 1, 11, 12
"""White points and primaries as JPEG XL numbers them; the last one is ITU-T H.273's number."""
_SRGB_PRIMARIES, _SRGB_CURVE = 1, 13
_RATIOS = {1: (1, 1), 2: (12, 10), 3: (4, 3), 4: (3, 2), 5: (16, 9), 6: (5, 4), 7: (2, 1)}
_GREY, _ALPHA, _SPOT, _CFA = 1, 0, 2, 5


@dataclass(frozen=True)
class Stream:
    """The header of a codestream.

    Attributes
    ----------
    width, height : int
        Upright.
    bits : int
    real : bool
        Whether samples are floating point.
    grey, alpha : bool
    colours : (int, int) or None
        Primaries and transfer as ITU-T H.273 numbers; None if not named.
    """

    width: int
    height: int
    bits: int
    real: bool
    grey: bool
    alpha: bool
    colours: tuple[int, int] | None


class _Bits:
    """Read a codestream bit by bit, lowest bit of each byte first (ISO/IEC 18181-1, annex B)."""

    def __init__(self, data: bytes) -> None:
        self._value, self._left = int.from_bytes(data, "little"), 8 * len(data)

    def take(self, count: int) -> int:
        if count > self._left:
            raise ValueError("the header is cut short")
        value = self._value & ((1 << count) - 1)
        self._value >>= count
        self._left -= count
        return value

    def flag(self) -> bool:
        return bool(self.take(1))

    def one_of(self, *choices: tuple[int, int]) -> int:
        """Read a number in one of four encodings, each with an offset and a count of extra bits."""
        offset, count = choices[self.take(2)]
        return offset + self.take(count)

    def named(self) -> int:
        return self.one_of((0, 0), (1, 0), (2, 4), (18, 6))


def stream_of(path: Path) -> Stream:
    """Read the header of a JPEG XL codestream.

    Raises
    ------
    ValueError
        If it is missing or damaged.
    """
    head = _codestream(path)
    if head[:2] != _BARE:
        raise ValueError("no codestream")
    bits = _Bits(head[2:])
    width, height = _size(bits)
    if bits.flag():  # all defaults
        return Stream(width, height, 8, False, False, False, (_SRGB_PRIMARIES, _SRGB_CURVE))
    turned = False
    if bits.flag():
        turned = bits.take(3) >= 4
        if bits.flag():
            _size(bits)
        if bits.flag():
            _preview(bits)
        if bits.flag():
            _animation(bits)
    depth, real = _depth(bits)
    bits.flag()
    extra = bits.one_of((0, 0), (1, 0), (2, 4), (1, 12))
    kinds = [_extra(bits) for _ in range(extra)]
    bits.flag()
    grey, colours = _colours(bits)
    size = (height, width) if turned else (width, height)
    return Stream(*size, depth, real, grey, _ALPHA in kinds, colours)


def _size(bits: _Bits) -> tuple[int, int]:
    in_eights = bits.flag()

    def side() -> int:
        if in_eights:
            return (bits.take(5) + 1) * 8
        return bits.one_of((1, 9), (1, 13), (1, 18), (1, 30))

    height = side()
    ratio = bits.take(3)
    if not ratio:
        return side(), height
    across, down = _RATIOS[ratio]
    return height * across // down, height


def _preview(bits: _Bits) -> None:
    in_eights = bits.flag()
    ways = ((16, 0), (32, 0), (1, 5), (33, 9)) if in_eights else (
        (1, 6), (65, 8), (321, 10), (1345, 12)
    )  # fmt: skip
    bits.one_of(*ways)
    if not bits.take(3):
        bits.one_of(*ways)


def _animation(bits: _Bits) -> None:
    bits.one_of((100, 0), (1000, 0), (1, 10), (1, 30))
    bits.one_of((1, 0), (1001, 0), (1, 8), (1, 10))
    bits.one_of((0, 0), (0, 3), (0, 16), (0, 32))
    bits.flag()


def _depth(bits: _Bits) -> tuple[int, bool]:
    if not bits.flag():
        return bits.one_of((8, 0), (10, 0), (12, 0), (1, 6)), False
    depth = bits.one_of((32, 0), (16, 0), (24, 0), (1, 6))
    bits.take(4)
    return depth, True


def _extra(bits: _Bits) -> int:
    """Skip an extra channel; return its type."""
    if bits.flag():
        return _ALPHA
    kind = bits.named()
    _depth(bits)
    bits.one_of((0, 0), (3, 0), (4, 0), (1, 3))
    bits.take(8 * bits.one_of((0, 0), (0, 4), (16, 5), (48, 10)))
    if kind == _ALPHA:
        bits.flag()
    elif kind == _SPOT:
        bits.take(64)
    elif kind == _CFA:
        bits.one_of((1, 0), (0, 2), (3, 4), (19, 8))
    return kind


def _colours(bits: _Bits) -> tuple[bool, tuple[int, int] | None]:
    """Return whether the picture is grey, and its primaries and transfer if they are named."""
    if bits.flag():
        return False, (_SRGB_PRIMARIES, _SRGB_CURVE)
    embedded = bits.flag()
    grey = bits.named() == _GREY
    if embedded:
        return grey, None
    is_named = bits.named() == _D65
    primaries = _SRGB_PRIMARIES
    if is_named and not grey:
        primaries = bits.named()
        is_named = primaries != 2
    if not is_named or bits.flag():  # custom points or gamma
        return grey, None
    return grey, (_P3_D65 if primaries == _P3 else primaries, bits.named())


_HEAD = 1 << 12


def _codestream(path: Path) -> bytes:
    """Return the first bytes of the codestream."""
    with path.open("rb") as file:
        start = file.read(_HEAD)
        if start[:2] == _BARE:
            return start
        result = b""
        for kind, at, size in _boxes(path):
            if kind in (b"jxlc", b"jxlp"):
                skip = 4 if kind == b"jxlp" else 0
                file.seek(at + skip)
                result += file.read(min(max(0, size - skip), _HEAD))
                if len(result) >= _HEAD:
                    break
    return result[:_HEAD]


def _boxes(path: Path) -> Iterator[tuple[bytes, int, int]]:
    """Yield the type, start and length of every box."""
    end, at = path.stat().st_size, 0
    with path.open("rb") as file:
        while at + 8 <= end:
            file.seek(at)
            size, kind = struct.unpack(">I4s", file.read(8))
            skip = 8
            if size == 1:
                (size,) = struct.unpack(">Q", file.read(8).ljust(8, b"\0"))
                skip = 16
            size = end - at if size == 0 else size
            if size < skip:
                return
            yield kind, at + skip, min(size, end - at) - skip
            at += size


def decode(path: Path) -> Codes:
    """Return the pixels, (H, W) or (H, W, C), uint8 or uint16; of an animation, the first frame."""
    codes = np.asarray(imagecodecs.jpegxl_decode(path.read_bytes()))
    if codes.ndim == 4:
        codes = codes[0]
    if codes.dtype not in (np.uint8, np.uint16) or codes.ndim not in (2, 3):
        raise CannotDo(f"{path.name} has an unsupported type of pixels.")
    return codes


def profile_of(path: Path, stream: Stream) -> bytes | None:
    """Return the ICC profile of the pixels that `decode` returns.

    Raises
    ------
    CannotDo
        For a high dynamic range picture.
    """
    if stream.colours is not None:
        if stream.grey:
            return plain_grey().icc if stream.colours[1] == _SRGB_CURVE else _embedded_profile(path)
        named = named_profile(path, *stream.colours)
        if named is not None:
            return named
    return _embedded_profile(path)


def _embedded_profile(path: Path) -> bytes | None:
    status = path.stat()
    return _decoded_profile(path, status.st_size, status.st_mtime_ns)


@lru_cache(16)
def _decoded_profile(path: Path, size: int, time: int) -> bytes | None:
    import pillow_jxl  # few photos need it

    decoder: Any = pillow_jxl.Decoder(num_threads=2)
    from_jpeg, _, data, icc, _ = decoder(path.read_bytes())
    if from_jpeg and not icc:  # a losslessly recompressed JPEG: `data` is that JPEG
        with Image.open(io.BytesIO(data)) as image:
            return image.info.get("icc_profile")
    return icc or None


def exif_of(path: Path) -> Image.Exif:
    """Return a file's EXIF; empty if it is missing or damaged."""
    exif = Image.Exif()
    with path.open("rb") as file:
        if file.read(2) == _BARE:
            return exif
        for kind, at, size in _boxes(path):
            file.seek(at)
            if kind == b"Exif":
                exif.load(file.read(size)[4:])  # four bytes give its offset
                break
            if kind == b"brob" and file.read(4) == b"Exif":
                exif.load(bytes(imagecodecs.brotli_decode(file.read(size - 4)))[4:])
                break
    return exif
