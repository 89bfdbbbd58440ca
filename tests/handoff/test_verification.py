"""A file is compared with its plan before it gets its name."""

from __future__ import annotations

import io
import zlib
from dataclasses import replace

import numpy as np
import pytest
import tifffile
from PIL import Image

from tests.conftest import docket_of
from zinc_margin.handoff import make as making
from zinc_margin.handoff.conversion import file_bands
from zinc_margin.handoff.formats import jpeg as jpeg_format
from zinc_margin.handoff.formats import png as png_format
from zinc_margin.handoff.formats import tiff as tiff_format
from zinc_margin.handoff.formats.bands import pack
from zinc_margin.handoff.make import make_file
from zinc_margin.handoff.outgoing import Received
from zinc_margin.handoff.verification import Checksum, differences_from_plan
from zinc_margin.keeping.job import IDLE
from zinc_margin.measure.errors import CannotDo
from zinc_margin.measure.formats import formats
from zinc_margin.photo.pixels import read_photo
from zinc_margin.plan.build import plan

KINDS = [
    {"format": "tiff"},
    {"format": "tiff", "bits": 16, "compression": "deflate"},
    {"format": "tiff", "compression": "lzw", "colour": "grey"},
    {"format": "tiff", "bits": 16, "compression": "zstd", "colour": "wide"},
    {"format": "jpeg", "quality": 83},
    {"format": "jpeg", "quality": 40, "subsampling": "4:2:0", "progressive": True},
    {"format": "jpeg", "colour": "grey"},
    {"format": "jpeg", "max_bytes": 12_000},
    {"format": "png"},
    {"format": "png", "bits": 16, "colour": "wide"},
    {"format": "png", "colour": "grey"},
    {"format": "webp"},
    {"format": "webp", "lossless": True},
    {"format": "jxl", "lossless": True},
    {"format": "pdf", "bits": 16},
    {"format": "pdf", "pdf_jpeg": True},
]


@pytest.fixture
def photo(tmp_path, scene):
    path = tmp_path / "photo.png"
    Image.fromarray(scene(300, 200)).save(path)
    return read_photo(path)


def written(photo, docket, tmp_path):
    made = plan(photo.facts, docket)
    out = tmp_path / f"out{formats()[docket.file.format].endings[0]}"
    result = make_file(photo, made, out)
    bands, icc = file_bands(photo, result.plan, IDLE)
    summed = Checksum(bands)
    list(summed)
    return out, result.plan, Received(icc, summed.value)


@pytest.mark.parametrize("kind", KINDS, ids=str)
def test_what_is_made_is_as_planned(photo, tmp_path, kind):
    out, made, received = written(photo, docket_of("6x4cm", file=kind), tmp_path)
    with out.open("rb") as file:
        assert differences_from_plan(file, made, received) == []


@pytest.mark.parametrize("kind", KINDS, ids=str)
def test_a_file_of_another_plan_is_found_out(photo, tmp_path, kind):
    out, made, received = written(photo, docket_of("6x4cm", file=kind), tmp_path)
    wider = replace(made, pixels=replace(made.pixels, width=made.pixels.width + 1))
    deeper = replace(made, file=replace(made.file, bits=24 - made.file.bits))
    form = made.file.format
    with out.open("rb") as file:

        def named(other, got=received):
            return set(differences_from_plan(file, other, got))

        assert "width" in named(wider) and "bits" in named(deeper)
        if form not in ("jxl", "webp"):
            assert "profile" in named(made, Received(received.icc + b"\0", received.samples))
        if form in ("tiff", "jpeg", "png"):
            above, below = made.pixels.tag_x
            tagged = replace(made, pixels=replace(made.pixels, tag_x=(above + below, below)))
            assert any(name.startswith("resolution") for name in named(tagged))
        if form == "jpeg":
            assert "quality" in named(replace(made, file=replace(made.file, quality=5)))
            assert "progressive" in named(
                replace(made, file=replace(made.file, progressive=not made.file.progressive))
            )
        if form == "jpeg" and made.file.channels == 3:
            assert "subsampling" in named(
                replace(made, file=replace(made.file, subsampling="4:2:2"))
            )
        lossless = form in ("tiff", "png") or made.file.lossless
        if lossless or (form == "pdf" and not made.file.pdf_jpeg):
            assert named(made, Received(received.icc, received.samples ^ 1)) == {"samples"}


@pytest.mark.parametrize(
    ("module", "kind", "name"),
    [
        (tiff_format, {"format": "tiff"}, "samples"),
        (png_format, {"format": "png"}, "samples"),
        (jpeg_format, {"format": "jpeg"}, "height"),
    ],
)
def test_a_writer_at_fault_leaves_no_file(photo, tmp_path, monkeypatch, module, kind, name):
    kept = module.write

    def faulty(out, bands, made, icc, path):
        if name == "samples":
            return kept(out, (np.roll(band, 1, axis=1) for band in bands), made, icc, path)
        page = replace(made, pixels=replace(made.pixels, height=made.pixels.height - 1))
        return kept(out, (band[1:] for band in list(bands)[:1]), page, icc, path)

    monkeypatch.setattr(module, "write", faulty)
    monkeypatch.setattr(making.Writer, "is_whole", lambda self, file: True)
    made = plan(photo.facts, docket_of("6x4cm", file=kind))
    before = sorted(tmp_path.iterdir())
    with pytest.raises(CannotDo, match=rf"not as planned \([^)]*{name}.*report it"):
        make_file(photo, made, tmp_path / "out.file")
    assert sorted(tmp_path.iterdir()) == before


def test_other_readers_agree_with_the_check(photo, tmp_path):
    out, _, received = written(photo, docket_of("6x4cm", file={"format": "tiff"}), tmp_path)
    codes = tifffile.imread(out)
    summed = Checksum(iter([codes]))
    list(summed)
    assert summed.value == received.samples
    assert np.array_equal(np.asarray(Image.open(out)), codes)


def marked(width, height, mark):
    """Noise that cannot be packed, in which the end of a piece also occurs by chance."""
    steps = np.random.default_rng(3).integers(1, 255, (height, width * 3), np.uint8)
    if mark:
        steps[:, 300:304] = 0, 0, 255, 255
    return np.cumsum(steps, axis=0, dtype=np.uint8).reshape(height, width, 3)


@pytest.mark.parametrize("height", [1, 3, 700])
@pytest.mark.parametrize("mark", [False, True])
def test_pieces_that_are_packed_alone_are_one_stream(mark, height):
    codes = marked(900, height, mark)
    bands = [codes[: height // 2], codes[height // 2 :]] if height > 1 else [codes]
    pieces = list(pack(iter(bands)))
    rows = np.frombuffer(zlib.decompress(b"".join(pieces)), np.uint8).reshape(height, -1)
    assert np.array_equal(np.cumsum(rows[:, 1:], axis=0, dtype=np.uint8), codes.reshape(height, -1))
    assert len(pieces) == (3 if height == 700 else 2)
    assert b"".join(pieces).count(b"\0\0\xff\xff") == len(pieces) - 1 + mark * height


@pytest.mark.parametrize("mark", [False, True])
@pytest.mark.parametrize("spoilt", [False, True])
def test_a_wrong_sum_is_found_in_whole_pieces(tmp_path, mark, spoilt):
    path = tmp_path / "photo.png"
    Image.fromarray(marked(900, 700, mark)).save(path)
    photo = read_photo(path)
    docket = docket_of(
        "9x7cm", pixels={"method": "keep"}, sharpen={"strength": 0}, file={"format": "png"}
    )
    out, made, received = written(photo, docket, tmp_path)
    data = bytearray(out.read_bytes())
    at = data.rindex(b"IDAT") + 4 + 2  # behind the empty last block: the sum of all rows
    if spoilt:
        data[at] ^= 1
    assert differences_from_plan(io.BytesIO(data), made, received) == (
        ["samples"] if spoilt else []
    )
