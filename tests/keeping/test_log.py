"""The log of failures: what it holds, what it leaves out, and how it rotates."""

from __future__ import annotations

import json
import os
import random
import signal
import subprocess
import sys
import time

import pytest

from zinc_margin import __version__
from zinc_margin.commands import main
from zinc_margin.commands import program as commands
from zinc_margin.docket.docket import Docket
from zinc_margin.docket.document import to_json
from zinc_margin.keeping import log
from zinc_margin.keeping.folders import protect_own_folders


@pytest.fixture(autouse=True)
def own_state(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path))
    monkeypatch.setattr(log, "_docket", [])


def fail(sentence="the kiln is cold"):
    try:
        raise ValueError(sentence)
    except ValueError as why:
        return log.record(why, to_json(Docket()))


def test_an_entry_holds_the_sentence_the_traceback_versions_and_the_docket():
    sentence = fail()
    assert sentence.endswith("(ValueError: the kiln is cold). Details: zinc-margin log.")
    (entry,) = log.entries()
    assert entry.sentence == sentence
    assert "Traceback" in entry.traceback and "in fail" in entry.traceback
    assert f"Zinc Margin {__version__}" in entry.versions and "numpy" in entry.versions
    assert json.loads(entry.docket)["pixels"]["choice"] == "auto"
    assert sentence in log.entry_text(entry)


def test_no_path_and_no_home_folder_is_kept():
    home = os.path.expanduser("~")
    docket = json.dumps({"file": {"folder": f"{home}/wall", "name": "kiln", "rule": None}})
    log.record(OSError(f"{home}/photos/kiln.jpg"), docket)
    (entry,) = log.entries()
    assert home not in entry.traceback + entry.sentence + entry.docket
    assert json.loads(entry.docket) == {"file": {"folder": "…", "name": "kiln", "rule": None}}


def test_two_small_files_at_most_the_latest_first():
    for number in range(600):
        fail(f"failure {number} " + "x" * 300)
    files = sorted(log.place().parent.iterdir())
    assert len(files) == 2
    assert sum(path.stat().st_size for path in files) < 2 * log._LARGEST + 50_000
    found = log.entries()
    numbers = [int(entry.sentence.split("failure ")[1].split()[0]) for entry in found]
    assert numbers == list(range(599, 599 - len(numbers), -1))


def test_broken_lines_are_left_out_and_a_log_that_cannot_be_written_is_no_second_failure():
    fail()
    with log.place().open("a") as file:
        file.write('{"time": "never"}\nnot json\n[]\n')
    assert len(log.entries()) == 1
    log.clear()
    log.place().mkdir(parents=True)
    assert "the kiln is cold" in fail()
    assert log.entries() == []


def test_the_command_shows_and_clears_what_a_command_failed_with(monkeypatch, capsys, jpeg):
    def broken(*_):
        raise KeyError("glaze")

    monkeypatch.setattr("zinc_margin.commands.plan_commands.read_facts", broken)
    assert main(["plan", str(jpeg), "--size", "30x20cm"]) == 1
    said = capsys.readouterr().err
    assert "KeyError: 'glaze'). Details: zinc-margin log." in said and "Traceback" not in said
    assert main(["log"]) == 0
    shown = capsys.readouterr().out
    assert (
        "Traceback" in shown and "KeyError: 'glaze'" in shown and '"label": "30 × 20 cm"' in shown
    )
    assert main(["log", "--json"]) == 0
    (entry,) = json.loads(capsys.readouterr().out)["failures"]
    assert entry["traceback"] in shown
    assert main(["log", "--clear"]) == 0
    assert main(["log"]) == 0
    assert capsys.readouterr().out.endswith("No failure has been recorded.\n")
    assert commands.log is log


def test_nobody_else_reads_the_programs_folders(tmp_path, monkeypatch):
    kinds = ("cache", "config", "data", "state")
    for kind in kinds:
        monkeypatch.setenv(f"XDG_{kind.upper()}_HOME", str(tmp_path / kind))
    open_to_all = tmp_path / "data" / "zinc-margin"
    open_to_all.mkdir(parents=True, mode=0o777)
    open_to_all.chmod(0o777)
    before = os.umask(0)
    try:
        protect_own_folders()
    finally:
        os.umask(before)
    for kind in kinds:
        assert (tmp_path / kind / "zinc-margin").stat().st_mode & 0o777 == 0o700


def test_a_pipe_in_place_of_the_log_is_not_waited_for():
    log.place().parent.mkdir(parents=True)
    os.mkfifo(log.place())
    assert "the kiln is cold" in fail()


def test_a_process_killed_while_it_records_leaves_a_log_that_can_be_read(tmp_path):
    code = "from zinc_margin.keeping import log\nwhile True: log.record(ValueError('x' * 3000))"
    chance = random.Random(1)
    for _ in range(4):
        process = subprocess.Popen([sys.executable, "-c", code])
        until = time.monotonic() + 20
        while not log.place().exists() and time.monotonic() < until:
            time.sleep(0.01)
        time.sleep(chance.uniform(0.05, 0.4))
        process.send_signal(signal.SIGKILL)
        process.wait()
    count = len(log.entries())
    fail()
    assert count > 0 and log.entries()[0].sentence.startswith("Something went wrong")
    assert any("kiln" in entry.sentence for entry in log.entries()[:2])
