"""Nothing is told as written that the disk does not hold, whole."""

from __future__ import annotations

import io
import os
import zlib
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import docket_of
from tests.handoff.test_make import made
from zinc_margin.handoff.formats import jpeg as jpeg_format
from zinc_margin.handoff.formats import registry
from zinc_margin.handoff.make import make_file
from zinc_margin.handoff.outgoing import Outgoing
from zinc_margin.keeping.files import save_whole
from zinc_margin.measure.errors import CannotDo
from zinc_margin.measure.formats import formats
from zinc_margin.photo.pixels import read_photo
from zinc_margin.plan.build import plan

WRITES = st.lists(st.tuples(st.integers(0, 60), st.binary(max_size=40), st.booleans()), max_size=12)


@given(WRITES, st.integers(0, 200), st.integers(1, 255))
def test_any_writing_is_remembered(tmp_path_factory, writes, where, flip):
    path = tmp_path_factory.mktemp("out") / "a"
    held = io.BytesIO()
    with Outgoing(path) as out:
        for place, data, looked in writes:
            for file in (held, out):
                file.seek(place)
                if data:
                    file.write(data)
            if looked:
                out.let_go()
        whole = held.getvalue()
        out.check()
        assert path.read_bytes() == whole and out.size == len(whole)
        # what was looked at while more was written is not looked at again
        if whole and not any(looked for _, _, looked in writes):
            at = where % len(whole)
            os.pwrite(out.fd, bytes([whole[at] ^ flip]), at)
            with pytest.raises(OSError, match="did not store all"):
                out.check()
            os.pwrite(out.fd, whole[at : at + 1], at)
            os.truncate(path, at)
            with pytest.raises(OSError, match="did not store all"):
                out.check()


@pytest.mark.parametrize("seen", [0, 1, 2])
def test_what_is_spoilt_before_it_is_looked_at_is_found(tmp_path, seen):
    with Outgoing(tmp_path / "a") as out:
        for piece in range(3):
            out.write(b"glaze %d" % piece)
            if piece == seen:
                os.pwrite(out.fd, b"#", 7 * piece + 2)
            out.let_go()
        with pytest.raises(OSError, match="did not store all"):
            out.check()


def as_format(key):
    docket = docket_of("6x4cm")
    return replace(docket, file=replace(docket.file, format=key))


def spoilt_by(damage):
    """What a disk does that never says that it is full."""
    flushed = os.fsync

    def fsync(descriptor):
        flushed(descriptor)
        if os.fstat(descriptor).st_size:
            damage(descriptor)

    return fsync


def cut_short(descriptor):
    os.truncate(descriptor, os.fstat(descriptor).st_size * 9 // 10)


def emptied(descriptor):
    size = os.fstat(descriptor).st_size
    os.pwrite(descriptor, bytes(min(size, 64)), size // 2)


@pytest.mark.parametrize("damage", [cut_short, emptied])
@pytest.mark.parametrize("key", sorted(formats()))
def test_a_disk_that_keeps_less_than_it_says(jpeg, tmp_path, monkeypatch, key, damage):
    photo = read_photo(jpeg)
    docket = as_format(key)
    monkeypatch.setattr(os, "fsync", spoilt_by(damage))
    before = sorted(item.name for item in tmp_path.iterdir())
    with pytest.raises(CannotDo, match="did not store"):
        make_file(photo, plan(photo.facts, docket), tmp_path / f"out{formats()[key].endings[0]}")
    assert sorted(item.name for item in tmp_path.iterdir()) == before


def test_small_files_too(tmp_path, monkeypatch):
    goal = tmp_path / "a.docket.json"
    save_whole(goal, "is unchanged")
    monkeypatch.setattr(os, "fsync", spoilt_by(cut_short))
    with pytest.raises(CannotDo, match="is unchanged"):
        save_whole(goal, "new, and longer")
    assert goal.read_text() == "is unchanged" and list(tmp_path.iterdir()) == [goal]


@pytest.mark.parametrize("key", sorted(formats()))
def test_a_file_cut_anywhere_cannot_be_walked_to_its_end(jpeg, tmp_path, key):
    photo = read_photo(jpeg)
    worked = plan(photo.facts, as_format(key))
    path = tmp_path / f"out{formats()[key].endings[0]}"
    make_file(photo, worked, path)
    data = path.read_bytes()
    assert registry.Writer(worked).is_whole(io.BytesIO(data))
    for share in range(1, 20):
        cut = data[: len(data) * share // 20]
        assert not registry.Writer(worked).is_whole(io.BytesIO(cut)), share


def test_an_encoder_that_stops_early_is_found_out(jpeg, tmp_path, monkeypatch):
    kept = jpeg_format.write

    def short(out, *arguments):
        kept(out, *arguments)
        data = out.path.read_bytes()
        out.clear()
        out.write(data[:-40])

    monkeypatch.setattr(jpeg_format, "write", short)
    with pytest.raises(CannotDo, match="came out incomplete"):
        made(jpeg, docket_of("6x4cm"), tmp_path / "out.jpg")
    assert [item.name for item in tmp_path.iterdir()] == ["kiln.jpg"]


@given(st.lists(st.binary(min_size=1, max_size=300), min_size=1, max_size=8), st.data())
def test_checksums_of_written_parts_are_those_of_their_bytes(tmp_path_factory, parts, data):
    path = tmp_path_factory.mktemp("parts") / "file"
    first = data.draw(st.integers(0, len(parts) - 1))
    with Outgoing(path) as out:
        for part in parts:
            out.write(part)
        start = sum(map(len, parts[:first]))
        assert out.checksum(start, out.size) == zlib.crc32(b"".join(parts[first:]))
        assert out.checksum(start, out.size + 1) is None
        out.seek(start)
        out.write(b"#")
        assert out.checksum(start, out.size) is None
