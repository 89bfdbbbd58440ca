"""A few damaged pictures of every kind; thousands by `python -m tests.attacks.mutants`."""

from __future__ import annotations

import os
import subprocess
import sys

import pytest

from tests.attacks.mutants import attack, mutant
from tests.attacks.seeds import seeds
from zinc_margin.commands.program import main
from zinc_margin.handoff.checking import check
from zinc_margin.handoff.labs import find
from zinc_margin.measure.sizes import parse_size
from zinc_margin.photo.pixels import read_photo


def test_every_seed_opens_and_is_read_by_the_check(tmp_path):
    known = list(seeds())
    assert len(known) >= 20
    for name, data in known:
        path = tmp_path / name
        path.write_bytes(data)
        assert read_photo(path).facts.width, name
        found = [each.code for each in check(path, find("lab:harbour"), parse_size("9x6cm"))]
        assert "unreadable" not in found, name


def test_damaged_pictures_are_refused_in_a_sentence_or_printed():
    went, wrong, _ = attack(list(range(40)))
    assert not wrong, "\n".join(wrong)
    assert went["made"] and went["refused"] and sum(went.values()) == 40


def test_broken_files_do_not_fill_the_terminal(tmp_path):
    known, count = list(seeds()), 0
    for number in range(120):
        name, data = mutant(number, known)
        if name.endswith((".tif", ".png")):
            (tmp_path / f"{number}-{name}").write_bytes(data)
            count += 1
    command = [sys.executable, "-m", "zinc_margin.commands", "batch", str(tmp_path)]
    done = subprocess.run(
        [*command, "--out", str(tmp_path / "out"), "--look", str(tmp_path / "look.html")],
        capture_output=True,
        text=True,
        check=False,
    )
    assert count >= 30 and done.returncode == 0
    assert done.stdout.count("\n") == 1 and not done.stderr, done.stderr


@pytest.mark.parametrize("command", [["inspect"], ["plan", "--size", "6x4cm"], ["ladder"]])
def test_a_pipe_is_refused_and_not_waited_for(tmp_path, capsys, command):
    pipe = tmp_path / "pipe.jpg"
    os.mkfifo(pipe)
    assert main([command[0], str(pipe), *command[1:]]) == 2
    assert "is a pipe or a device" in capsys.readouterr().err


def test_no_pipe_is_read_for_anything_else(jpeg, tmp_path, capsys):
    pipe = tmp_path / "pipe"
    os.mkfifo(pipe)
    make = ["plan", str(jpeg), "--size", "6x4cm"]
    assert main([*make, "--docket", str(pipe)]) == 2
    assert main([*make, "--save-docket", str(pipe)]) == 1
    os.mkfifo(out := tmp_path / "print.tif")
    assert main(["make", *make[1:], "--out", str(out), "--overwrite"]) == 2
    assert out.is_fifo()
    assert main(["check", str(pipe), "--against", "harbour"]) == 2
    assert main(["inspect", "/dev/urandom"]) == 2
    assert main(["batch", str(jpeg), "--preset", f"{pipe}", "--out", str(tmp_path)]) == 2
    assert "Something went wrong" not in capsys.readouterr().err
