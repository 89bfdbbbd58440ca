"""Files take their names whole, flushed, and never another's."""

from __future__ import annotations

import ctypes
import errno
import os
import stat

import pytest

from zinc_margin.keeping import settling
from zinc_margin.keeping.files import write_whole
from zinc_margin.keeping.settling import settle_new


@pytest.fixture(params=["links", "no links", "no links, an old system"])
def disk(request, monkeypatch):
    """A disk with hard links; one without; one without, whose system cannot rename so either."""
    if request.param != "links":

        def refused(*_):
            raise OSError(errno.EPERM, "no links here")

        monkeypatch.setattr(os, "link", refused)
    if request.param.endswith("system"):

        def old(*_):
            ctypes.set_errno(errno.EINVAL)
            return -1

        monkeypatch.setattr(settling, "_renameat2", lambda: old)
    return request.param


def test_a_finished_file_takes_its_name(tmp_path, disk):
    part, goal = tmp_path / ".kiln.part", tmp_path / "kiln.tif"
    part.write_bytes(b"whole")
    settle_new(part, goal)
    assert goal.read_bytes() == b"whole" and not part.exists()
    assert list(tmp_path.iterdir()) == [goal]


def test_a_name_that_was_taken_meanwhile_is_kept(tmp_path, disk):
    part, goal = tmp_path / ".kiln.part", tmp_path / "kiln.tif"
    part.write_bytes(b"ours")
    goal.write_bytes(b"theirs")
    with pytest.raises(FileExistsError):
        settle_new(part, goal)
    assert goal.read_bytes() == b"theirs" and part.read_bytes() == b"ours"


def test_a_placeholder_goes_where_the_rename_fails(tmp_path, monkeypatch):
    def refused(*_):
        raise OSError(errno.EIO, "worn out")

    monkeypatch.setattr(os, "link", refused)
    monkeypatch.setattr(settling, "_renameat2", lambda: None)
    monkeypatch.setattr(os, "replace", refused)
    part = tmp_path / ".kiln.part"
    part.write_bytes(b"ours")
    with pytest.raises(OSError, match="worn out"):
        settle_new(part, tmp_path / "kiln.tif")
    assert list(tmp_path.iterdir()) == [part]


def test_small_files_keep_their_mode_and_their_links(tmp_path):
    true, link = tmp_path / "true.json", tmp_path / "link.json"
    true.write_bytes(b"before")
    true.chmod(0o640)
    link.symlink_to(true)
    write_whole(link, b"after")
    assert link.is_symlink() and true.read_bytes() == b"after"
    assert stat.S_IMODE(true.stat().st_mode) == 0o640
    assert sorted(tmp_path.iterdir()) == [link, true]


def test_small_files_are_on_the_disk_before_they_have_their_name(tmp_path, monkeypatch):
    told = []
    sync, replace = os.fsync, os.replace

    def synced(descriptor):
        told.append("folder" if stat.S_ISDIR(os.fstat(descriptor).st_mode) else "file")
        sync(descriptor)

    monkeypatch.setattr(os, "fsync", synced)
    monkeypatch.setattr(os, "replace", lambda *names: (told.append("name"), replace(*names)))
    write_whole(tmp_path / "a.json", b"{}")
    assert told == ["file", "name", "folder"]


def test_a_full_disk_leaves_what_was_there(tmp_path, monkeypatch):
    path = tmp_path / "a.json"
    path.write_bytes(b"before")

    def full(descriptor):
        raise OSError(errno.ENOSPC, "full")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(OSError, match="full"):
        write_whole(path, b"after")
    assert path.read_bytes() == b"before" and list(tmp_path.iterdir()) == [path]


def test_a_pipe_or_a_device_is_never_replaced(tmp_path):
    pipe, link = tmp_path / "pipe", tmp_path / "journal.json"
    os.mkfifo(pipe)
    link.symlink_to(pipe)
    with pytest.raises(OSError, match="pipe or a device"):
        write_whole(link, b"{}")
    assert stat.S_ISFIFO(pipe.stat().st_mode) and sorted(tmp_path.iterdir()) == [link, pipe]
