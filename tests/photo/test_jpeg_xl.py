"""A JPEG XL's header, held against what decoding it gives."""

from __future__ import annotations

import struct

import imagecodecs
import numpy as np
import pillow_jxl
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from zinc_margin.measure.errors import CannotDo
from zinc_margin.photo import jpeg_xl
from zinc_margin.photo.colour import wide_rgb
from zinc_margin.photo.header import read_header
from zinc_margin.photo.pixels import read_photo


@pytest.mark.parametrize("boxed", [False, True])
@pytest.mark.parametrize("lossless", [False, True])
@pytest.mark.parametrize("dtype", [np.uint8, np.uint16])
@pytest.mark.parametrize("shape", [(64, 64), (64, 96, 3), (37, 51, 4), (300, 400, 3), (9, 800)])
def test_the_header_says_what_decoding_gives(tmp_path, shape, dtype, lossless, boxed):
    codes = np.random.default_rng(1).integers(0, np.iinfo(dtype).max, shape, dtype)
    path = tmp_path / "a.jxl"
    how = {"lossless": True} if lossless else {"level": 90}
    path.write_bytes(bytes(imagecodecs.jpegxl_encode(codes, usecontainer=boxed, **how)))
    held = imagecodecs.jpegxl_decode(path.read_bytes())
    stream = jpeg_xl.stream_of(path)
    assert (stream.height, stream.width) == held.shape[:2]
    assert stream.grey == (held.ndim == 2) and stream.alpha == (held.ndim == 3 and shape[2] == 4)
    assert (stream.bits > 8) == (held.dtype == np.uint16)
    photo = read_photo(path, measured=False)
    assert photo.codes.shape[:2] == shape[:2] and photo.facts.profile


@given(st.integers(1, 3000), st.integers(1, 3000))
def test_any_size(tmp_path_factory, width, height):
    path = tmp_path_factory.mktemp("jxl") / "a.jxl"
    flat = np.zeros((height, width), np.uint8)
    path.write_bytes(bytes(imagecodecs.jpegxl_encode(flat, effort=1, lossless=True)))
    stream = jpeg_xl.stream_of(path)
    assert (stream.width, stream.height) == (width, height)


def test_an_embedded_profile_is_had_and_asked_for_once(tmp_path, scene, monkeypatch):
    jpeg, path = tmp_path / "wide.jpg", tmp_path / "wide.jxl"
    Image.fromarray(scene(90, 60)).save(jpeg, icc_profile=wide_rgb().icc)
    path.write_bytes(bytes(imagecodecs.jpegxl_encode_jpeg(jpeg.read_bytes())))
    decodings = []
    real = pillow_jxl.Decoder

    def counted(*arguments, **known):
        decodings.append(1)
        return real(*arguments, **known)

    monkeypatch.setattr(pillow_jxl, "Decoder", counted)
    for _ in range(3):
        assert read_photo(path, measured=False).facts.profile == "Wide RGB"
    assert len(decodings) == 1


def test_nothing_is_decoded_for_named_colours(tmp_path, scene, monkeypatch):
    path = tmp_path / "plain.jxl"
    path.write_bytes(bytes(imagecodecs.jpegxl_encode(scene(90, 60), level=90)))
    decoded = []
    monkeypatch.setattr(
        imagecodecs,
        "jpegxl_decode",
        lambda data, real=imagecodecs.jpegxl_decode: decoded.append(1) or real(data),
    )
    monkeypatch.setattr(pillow_jxl, "Decoder", None)
    assert read_header(path).facts.width == 90 and not decoded
    read_photo(path, measured=False)
    assert len(decoded) == 1


def bomb(width, height):
    """A codestream that claims to be so large."""
    bits, at = 0, 0

    def put(value, count):
        nonlocal bits, at
        bits |= value << at
        at += count

    put(0, 1)
    put(3, 2)
    put(height - 1, 30)
    put(0, 3)
    put(3, 2)
    put(width - 1, 30)
    put(1, 1)
    return b"\xff\x0a" + bits.to_bytes(-(-at // 8), "little") + bytes(40)


def test_a_bomb_is_refused_before_it_is_decoded(tmp_path, monkeypatch):
    path = tmp_path / "bomb.jxl"
    path.write_bytes(bomb(900_000, 800_000))
    monkeypatch.setattr(imagecodecs, "jpegxl_decode", None)
    monkeypatch.setattr(pillow_jxl, "Decoder", None)
    with pytest.raises(CannotDo, match="900000 × 800000 px, but the file has only"):
        read_header(path)


@given(st.binary(max_size=80))
def test_any_bytes_are_one_sentence(tmp_path_factory, data):
    path = tmp_path_factory.mktemp("jxl") / "a.jxl"
    for start in (
        b"\xff\x0a",
        b"\0\0\0\x0cJXL \r\n\x87\n",
        b"\0\0\0\x0cJXL \r\n\x87\n" + struct.pack(">I4s", 8 + len(data), b"jxlc") + b"\xff\x0a",
    ):
        path.write_bytes(start + data)
        with pytest.raises(CannotDo, match=r"a\.jxl"):
            read_photo(path, measured=False)
