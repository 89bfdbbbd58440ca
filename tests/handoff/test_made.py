"""What was made is kept, found, made again to the bit, and forgotten."""

from __future__ import annotations

import json
import os
import sqlite3
import threading

import pytest

from zinc_margin.commands import main
from zinc_margin.handoff import print_log
from zinc_margin.measure.errors import CannotDo


@pytest.fixture(autouse=True)
def data(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))


def printed(capsys, *line):
    code = main([str(each) for each in line])
    told = capsys.readouterr()
    return code, told.out, told.err


def test_each_print_is_kept_and_found(jpeg, tmp_path, capsys):
    assert printed(capsys, "made")[1].startswith("The print log is empty")
    for size, paper in (("15x10cm", "gloss"), ("12x8cm", "matt")):
        out = tmp_path / f"{paper}.tif"
        assert (
            printed(
                capsys, "make", jpeg, "--ppi", "100", "--size", size, "--paper", paper, "--out", out
            )[0]
            == 0
        )
    latest, first = print_log.search()
    assert (latest.paper, first.paper) == ("matt", "gloss")
    assert first.file == str(tmp_path / "gloss.tif") and first.photo_digest
    assert first.digest == print_log.file_digest(tmp_path / "gloss.tif") and first.strength == 100
    assert [one.paper for one in print_log.search("GLOSS")] == ["gloss"]
    assert print_log.search("100%") == [] and len(print_log.search(digest=first.photo_digest)) == 2
    rows = json.loads(printed(capsys, "made", "matt", "--json")[1])["made"]
    assert [row["size"] for row in rows] == [latest.size]


def test_made_again_it_has_the_same_bits_or_says_why_not(jpeg, tmp_path, capsys):
    line = ("make", jpeg, "--size", "12x8cm", "--ppi", "120", "--out", tmp_path / "one.tif")
    assert printed(capsys, *line)[0] == 0
    (one,) = print_log.search()
    code, out, _ = printed(capsys, "made", "--again", one.number, "--out", tmp_path / "two.tif")
    assert code == 0 and "identical to the earlier file" in out
    assert (tmp_path / "two.tif").read_bytes() == (tmp_path / "one.tif").read_bytes()
    with jpeg.open("ab") as file:
        file.write(b"\0")
    out = printed(capsys, "made", "--again", one.number, "--out", tmp_path / "three.tif")[1]
    assert "the photo's file has changed" in out or "identical to the earlier" in out
    assert "three.tif" in out
    for wrong, told in (
        (("--again", one.number), "needs --out"),
        (("--again", 999, "--out", tmp_path / "x.tif"), "number 999"),
        (("--again", one.number, "--out", tmp_path / "one.tif"), "already exists"),
    ):
        code, _, err = printed(capsys, "made", *wrong)
        assert code == 2 and told in err
    assert print_log.why_other(one, one.photo_digest, one.renderer + 1).startswith(
        "the renderer has changed"
    )


def test_a_name_that_is_no_utf8_is_kept_too(jpeg, tmp_path, capsys):
    odd = jpeg.rename(tmp_path / "kiln-\udce9.jpg")
    assert (
        printed(
            capsys, "make", odd, "--size", "12x8cm", "--ppi", "100", "--out", tmp_path / "one.jpg"
        )[0]
        == 0
    )
    (one,) = print_log.search("kiln-")
    assert one.photo == str(odd)
    line = ("made", "--again", one.number, "--out", tmp_path / "two.jpg")
    assert "identical to the earlier file" in printed(capsys, *line)[1]


def test_one_word_forgets_and_files_stay(jpeg, tmp_path, capsys):
    out = tmp_path / "one.jpg"
    assert printed(capsys, "make", jpeg, "--size", "12x8cm", "--ppi", "100", "--out", out)[0] == 0
    assert "cleared: 1 print." in printed(capsys, "made", "--forget")[1]
    assert print_log.search() == [] and not print_log.place().exists() and out.exists()


def make(capsys, jpeg, out):
    return printed(capsys, "make", jpeg, "--size", "12x8cm", "--ppi", "100", "--out", out)


@pytest.fixture
def untold(monkeypatch):
    monkeypatch.setattr(print_log, "_told", set())


@pytest.mark.usefixtures("untold")
def test_a_damaged_log_is_set_aside_whole_and_a_new_one_begins(jpeg, tmp_path, capsys):
    print_log.place().parent.mkdir(parents=True)
    print_log.place().write_bytes(b"clay" * 2000)
    code, _, err = make(capsys, jpeg, tmp_path / "one.jpg")
    assert code == 0 and (tmp_path / "one.jpg").exists()
    assert "kept as made-damaged-1.sqlite3" in err and err.count("\n") == 1
    kept = print_log.place().with_name("made-damaged-1.sqlite3")
    assert kept.read_bytes() == b"clay" * 2000
    assert make(capsys, jpeg, tmp_path / "two.jpg")[0] == 0
    assert [one.file for one in print_log.search()] == [str(tmp_path / "two.jpg")]
    # a table of other columns is as good as damaged
    print_log.place().unlink()
    with sqlite3.connect(print_log.place()) as base:
        base.execute("CREATE TABLE made (number INTEGER PRIMARY KEY, clay TEXT)")
    code, _, err = printed(capsys, "made")
    assert code == 1 and "made-damaged-2.sqlite3" in err
    assert printed(capsys, "made")[0] == 0


@pytest.mark.usefixtures("untold")
def test_a_newer_log_is_left_alone_and_said_once(jpeg, tmp_path, capsys):
    print_log.place().parent.mkdir(parents=True)
    with sqlite3.connect(print_log.place()) as base:
        base.execute("PRAGMA user_version = 99")
    before = print_log.place().read_bytes()
    code, _, err = make(capsys, jpeg, tmp_path / "one.jpg")
    assert code == 0 and "not in the print log" in err and "newer version" in err
    assert make(capsys, jpeg, tmp_path / "two.jpg")[2] == ""
    code, _, err = printed(capsys, "made")
    assert code == 1 and "newer version" in err
    assert print_log.place().read_bytes() == before


@pytest.mark.usefixtures("untold")
def test_writers_wait_for_each_other(jpeg, tmp_path, capsys, monkeypatch):
    assert make(capsys, jpeg, tmp_path / "one.jpg")[0] == 0
    other = sqlite3.connect(print_log.place(), isolation_level=None, check_same_thread=False)
    other.execute("BEGIN EXCLUSIVE")
    ends = threading.Timer(0.5, lambda: other.execute("COMMIT"))
    ends.start()
    assert make(capsys, jpeg, tmp_path / "two.jpg")[2] == ""
    ends.join()
    assert len(print_log.search()) == 2
    # one that holds it for too long is named, and its log stays
    monkeypatch.setattr(print_log, "_WAIT_S", 0.1)
    other.execute("BEGIN EXCLUSIVE")
    code, _, err = make(capsys, jpeg, tmp_path / "three.jpg")
    assert code == 0 and "Another program is using the print log" in err
    code, _, err = printed(capsys, "made")
    assert code == 1 and "Another program" in err
    other.execute("COMMIT")
    other.close()
    assert len(print_log.search()) == 2


def test_odd_cells_are_empty_and_a_damaged_log_can_be_cleared(jpeg, tmp_path, capsys):
    assert make(capsys, jpeg, tmp_path / "one.jpg")[0] == 0
    assert print_log.place().stat().st_mode & 0o077 == 0
    for cell in ("clay", 1e300, -5, None, b"clay", 10**18):
        with sqlite3.connect(print_log.place()) as base:
            names = ("made", "photo", "size", "ppi", "bytes", "strength", "docket", "renderer")
            base.execute(
                f"UPDATE made SET {', '.join(f'{name} = ?' for name in names)}", [cell] * 8
            )
        code, _, err = printed(capsys, "made")
        assert code == 0, err
        assert printed(capsys, "made", "--json")[0] == 0
        assert print_log.summary(print_log.search()).startswith("Made before")
    print_log.place().write_bytes(b"clay" * 2000)
    assert "cleared: 0 prints" in printed(capsys, "made", "--forget")[1]
    assert not print_log.place().exists()


def test_a_pipe_in_place_of_the_log_is_named_and_never_opened():
    print_log.place().parent.mkdir(parents=True, exist_ok=True)
    os.mkfifo(print_log.place())
    with pytest.raises(CannotDo, match="it is not a file"):
        print_log.search()
