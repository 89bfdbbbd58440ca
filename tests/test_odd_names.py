"""Photos and folders whose names are no UTF-8, or that no machine knows, in commands and window."""

from __future__ import annotations

import os
import pty
import subprocess
import sys
from contextlib import suppress
from pathlib import Path

import pyexiv2
import pytest
from PIL import Image

from tests.desktop.conftest import settled, type_into, until
from zinc_margin import commands
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.shell.window import Window
from zinc_margin.docket import presets, racks
from zinc_margin.docket.docket import Docket
from zinc_margin.handoff.formats import registry
from zinc_margin.keeping.folders import own_folder

CARD = ["--size", "6x4cm", "--ppi", "100", "--format", "jpeg"]


@pytest.fixture
def odd(jpeg, tmp_path):
    """A photo with an artist, under a name of bytes."""
    with pyexiv2.Image(str(jpeg)) as image:
        image.modify_exif({"Exif.Image.Artist": "Kiln keeper"})
    folder = tmp_path / os.fsdecode(b"fold\xe9r")
    folder.mkdir()
    return jpeg.rename(folder / os.fsdecode(b"k\xff\xfeln.jpg"))


@pytest.fixture
def said(capsysbinary):
    def call(*words):
        code = commands.main([str(word) for word in words])
        out, err = map(os.fsdecode, capsysbinary.readouterr())
        assert "Something went wrong" not in err and "Traceback" not in err, err
        return code, out, err

    return call


def test_every_command_takes_a_name_that_is_no_utf8(odd, said, monkeypatch):
    monkeypatch.chdir(odd.parent)
    assert said("inspect", odd.name)[0] == 0
    code, out, err = said("plan", odd.name, *CARD[:4], "--json", "--save-docket", "d.json")
    assert code == 0 and "metadata-damaged" not in out
    for ending in ("jpg", "tif", "png"):
        code, _, err = said(
            "make", odd.name, *CARD[:4], "--printing-notes", "--out", f"out.{ending}"
        )
        assert code == 0, err
        with pyexiv2.Image(f"out.{ending}") as image:
            assert image.read_exif()["Exif.Image.Artist"] == "Kiln keeper"
    assert said("ladder", odd.name)[0] == 0
    assert said("check", odd.name, "--against", "harbour", "--json")[0] == 1
    assert said("send", odd.name, "--to", "harbour", "--size", "6x4cm", "--box", "b")[0] == 1
    assert said("strip", odd.name, *CARD[:2], "--strip-sheet", "A5", "--out", "s.png")[0] == 0
    preset = presets.Preset("Card", "", Docket())
    presets.save(preset, Path("card.json"))
    code, _, err = said("batch", odd.name, "--preset", "./card.json", "--out", "made")
    assert code == 0, err
    assert said("batch", odd.name, "--preset", "./card.json", "--out", "made")[0] == 0
    assert len(list(Path("made").glob("*.tif"))) == 1  # found again by its name
    assert said("batch", odd.name, "--out", "more", "--look", "look.html")[0] == 0
    racks.save([(odd, [Docket()])], Path("all.rack.json"))
    ((photo, _),) = racks.load(Path("all.rack.json"))
    assert photo == odd


def test_the_window_takes_it_too(qapp, odd):
    window = Window(Table("cm"))
    window.show()
    try:
        window.open_photos([odd])
        settled(window)
        type_into(window.margin.bodies["size"].print_size, "7x5cm")
        settled(window)
        window.grab()
        window.keep_dockets()
        window.keep_rack(odd.parent / "all.rack.json")
        window.make()
        until(lambda: not window.making.under_way)
        assert window.making.written is not None and window.making.written.path.is_file()
    finally:
        window.close()
        window.deleteLater()


def test_a_folder_of_nobody_is_one_sentence(qapp, jpeg):
    window = Window(Table("cm"))
    window.show()
    try:
        window.open_photos([jpeg])
        settled(window)
        window.table.decide("file", folder="~nosuchuser/prints")
        settled(window)
        window.grab()
        window.make()
        until(lambda: not window.making.under_way)
        assert "There is no folder" in window.margin.foot.said.text()
        assert "nothing was written" in window.margin.foot.said.text()
    finally:
        window.close()
        window.deleteLater()


@pytest.mark.parametrize("place", ["", "relative/state", "~nosuchuser/state"])
def test_a_place_that_is_none_is_passed_over(monkeypatch, place):
    monkeypatch.setenv("XDG_STATE_HOME", place)
    assert own_folder("state") == Path.home() / ".local" / "state" / "zinc-margin"


def test_a_photo_beside_a_broken_docket_still_opens(qapp, jpeg):
    """Whatever stands in it: one sentence, and the photo opens as a fresh one."""
    for text in (
        '{"zinc_margin_docket": 1, "photo": {"measured": {"places": []}}}',
        '{"zinc_margin_docket": 1, "photo": {"measured": {"grid": [Infinity, 1]}}}',
        '{"zinc_margin_docket": 1, "file": {"name": 5}}',
        '{"zinc_margin_docket": 1, "version": []}',
        '{"zinc_margin_docket": 1, "size": {"ppi": 1e999999999}}',
        "[" * 100_000,
        '{"zinc_margin_docket": 1, "file": {"name": "\\ud800"}}',
        '{"zinc_margin_docket": "1"}',
        '{"zinc_margin_versions": 1, "dockets": [[]]}',
        '{"zinc_margin_versions": 1, "dockets": 7}',
        '{"zinc_margin_docket": 1, "size": {"size": {"width_mm": "1/0", "height_mm": 1}}}',
    ):
        jpeg.with_name(jpeg.name + ".docket.json").write_text(text)
        window = Window(Table("cm"))
        window.show()
        try:
            window.open_photos([jpeg])
            settled(window)
            assert window.table.current is not None, text[:60]
            sentences = window.message.label.text().splitlines()
            assert len(sentences) == 1 and "left" in sentences[0], text[:60]
            window.grab()
        finally:
            window.close()
            window.deleteLater()


def test_names_of_every_format_with_odd_letters(jpeg, tmp_path, said):
    for key in registry.formats():
        name = os.fsdecode(b"o\xfft") + registry.formats()[key].endings[0]
        code, _, err = said("make", jpeg, *CARD[:4], "--out", tmp_path / name)
        assert code == 0 and (tmp_path / name).stat().st_size, err
    with Image.open(tmp_path / os.fsdecode(b"o\xfft.jpg")) as image:
        assert image.size == (236, 157)


HIDDEN = "bad\x1b[2J\x07\u202egpj"


def test_a_terminal_gets_no_hidden_commands_and_a_pipe_the_name_itself(jpeg):
    path = jpeg.rename(jpeg.with_name(f"{HIDDEN}.jpg"))
    line = [sys.executable, "-m", "zinc_margin.commands", "reach", str(path)]
    piped = subprocess.run(line, capture_output=True, check=True).stdout
    assert HIDDEN.encode() in piped
    master, slave = pty.openpty()
    subprocess.run(line, stdout=slave, stderr=slave, check=True)
    os.close(slave)
    seen = b""
    with suppress(OSError):  # the end of a terminal
        while part := os.read(master, 4096):
            seen += part
    os.close(master)
    assert b"\x1b" not in seen and b"\x07" not in seen and "\u202e".encode() not in seen
    assert "bad�[2J��gpj.jpg" in seen.decode()


@pytest.mark.parametrize("locale", ["POSIX", "C"])
def test_a_locale_of_plain_letters_gets_plain_letters(jpeg, tmp_path, locale):
    kept = dict(os.environ, LC_ALL=locale, PYTHONUTF8="0", PYTHONCOERCECLOCALE="0")
    out = tmp_path / "out.tif"
    line = [sys.executable, "-m", "zinc_margin.commands", "make", str(jpeg)]
    line += ["--size", "9x6cm", "--out", str(out)]
    done = subprocess.run(line, capture_output=True, env=kept)
    assert done.returncode == 0, done.stderr
    assert b"9 x 6 cm" in done.stdout and done.stdout.isascii() and out.exists()
    other = jpeg.rename(jpeg.with_name(os.fsdecode(b"k\xffln.jpg")))
    line = [sys.executable, "-m", "zinc_margin.commands", "reach", str(other)]
    assert b"k\xffln.jpg" in subprocess.run(line, capture_output=True, env=kept).stdout


def test_an_empty_goal_is_no_folder(said, jpeg):
    code, out, err = said("make", jpeg, "--size", "9x6cm", "--out", "")
    assert code == 2 and "--out is empty" in err and not out
    assert list(jpeg.parent.glob("*.tif")) == []
