"""The command line explains itself: examples, lines, every option; and keeps quiet when asked."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from zinc_margin.commands import main
from zinc_margin.commands.help_text import EXAMPLES, every_parser
from zinc_margin.commands.program import program_parser
from zinc_margin.docket.docket import LINES

PARSERS = every_parser(program_parser())


@pytest.mark.parametrize("parser", PARSERS, ids=lambda one: one.name or "zinc-margin")
def test_every_option_and_every_place_is_explained(parser):
    for action in parser._actions:
        if action.dest not in ("help", "version") and not hasattr(action, "choices_actions"):
            assert action.help or action.choices, (parser.prog, action.dest)


def helped(capsys, *words):
    with pytest.raises(SystemExit) as ended:
        main([*words])
    assert ended.value.code == 0
    return capsys.readouterr().out


def test_make_begins_with_examples_and_fits_three_screens(capsys):
    text = helped(capsys, "make", "--help")
    assert text.startswith("examples:\n  zinc-margin make photo.jpg")
    assert len(text.splitlines()) <= 72
    assert "--help all" in text
    assert "--noise-floor" not in text


def test_help_all_shows_every_option_under_its_line(capsys):
    text = helped(capsys, "make", "--help", "all")
    heads = [text.index(f"{at} {line.title}:") for at, line in enumerate(LINES.values(), 1)]
    assert heads == sorted(heads)
    (make,) = (one for one in PARSERS if one.name == "make")
    for action in make.options:
        assert action.option_strings[-1] in text


@pytest.mark.parametrize("line", [line for lines in EXAMPLES.values() for line in lines])
def test_examples_can_be_typed(line):
    words = line.split(" > ")[0].replace("*.tif", "a.tif").replace("'", "").split()[1:]
    command = words[0]
    (parser,) = (one for one in PARSERS if one.name == command)
    known = {flag for action in parser.options for flag in action.option_strings}
    assert {word for word in words if word.startswith("--")} <= known


def test_abbreviations_are_refused(capsys, jpeg):
    assert main(["plan", str(jpeg), "--siz", "30x20cm"]) == 2
    assert "see zinc-margin" in capsys.readouterr().err


def test_quiet_prints_nothing_but_what_goes_wrong(capsys, jpeg, tmp_path):
    out = tmp_path / "out.tif"
    assert main(["make", str(jpeg), "--size", "5x3cm", "--out", str(out), "--quiet"]) == 0
    told = capsys.readouterr()
    assert out.exists() and told.out == "" and told.err == ""
    assert main(["make", str(jpeg), "--size", "5x3cm", "--out", str(out), "--quiet"]) != 0
    assert str(out) in capsys.readouterr().err


@pytest.mark.parametrize("shell", ["bash", "zsh", "fish"])
def test_a_shell_is_told_how_to_complete(capsys, shell):
    assert main(["completion", shell]) == 0
    code = capsys.readouterr().out
    assert "zinc-margin" in code
    if shell == "bash" and shutil.which("bash"):
        assert subprocess.run(["bash", "-n"], input=code, text=True, check=False).returncode == 0


def asked(line):
    """Ask as a shell does."""
    read, write = os.pipe()
    known = {
        **os.environ,
        "_ARGCOMPLETE": "1",
        "COMP_LINE": line,
        "COMP_POINT": str(len(line)),
        "_ARGCOMPLETE_IFS": "\n",
        "_ARGCOMPLETE_COMP_WORDBREAKS": " ",
        "COMP_TYPE": "9",
        "_ARGCOMPLETE_STDOUT_FILENAME": f"/dev/fd/{write}",
    }
    code = "import sys; sys.argv[0] = 'zinc-margin'; from zinc_margin.commands import main; main()"
    subprocess.run(
        [sys.executable, "-c", code], env=known, pass_fds=[write], check=False, timeout=120
    )
    os.close(write)
    with os.fdopen(read) as file:
        return file.read().split()


def test_commands_options_and_choices_are_completed():
    assert {"plan", "preset", "proof-print"} <= {word.strip() for word in asked("zinc-margin p")}
    assert "--paper-blur" in asked("zinc-margin make a.jpg --paper")
    assert "lanczos" in asked("zinc-margin make a.jpg --method l")


def test_a_polite_kill_leaves_nothing_and_says_so(jpeg, tmp_path):
    out = tmp_path / "large.tif"
    child = subprocess.Popen(
        [
            sys.executable,
            "-m",
            "zinc_margin.commands",
            "make",
            str(jpeg),
            "--size",
            "300x200cm",
            "--ppi",
            "300",
            "--method",
            "lanczos",
            "--out",
            str(out),
        ],
        stderr=subprocess.PIPE,
        stdout=subprocess.DEVNULL,
        text=True,
    )
    end = time.monotonic() + 120
    while not any(tmp_path.glob(".*")) and child.poll() is None:  # until it writes
        assert time.monotonic() < end
        time.sleep(0.02)
    child.send_signal(signal.SIGTERM)
    _, told = child.communicate(timeout=120)
    assert child.returncode == 130
    assert "Stopped; nothing was written." in told
    assert [path for path in Path(tmp_path).iterdir() if path.name != jpeg.name] == []
