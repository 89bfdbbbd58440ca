"""Every command ends soon after SIGTERM or Ctrl+C, whatever it is waiting for."""

from __future__ import annotations

import functools
import os
import signal
import socket
import subprocess
import sys
import time

import pytest

COMMAND = [sys.executable, "-m", "zinc_margin.commands"]
BOTH = pytest.mark.parametrize("number", [signal.SIGTERM, signal.SIGINT])
SOON_S = 2 + 4  # the promise, and a busy machine


def started(arguments, **more):
    # a shell that runs the tests in the background lets them ignore interrupts, and so their children
    hear = functools.partial(signal.signal, signal.SIGINT, signal.default_int_handler)
    return subprocess.Popen(
        arguments,
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        text=True,
        preexec_fn=hear,
        **more,
    )


def ended(process, number):
    process.send_signal(number)
    begun = time.monotonic()
    out, err = process.communicate(timeout=20)
    assert time.monotonic() - begun < SOON_S
    return out, err


STUCK = """
import time
from pathlib import Path
from zinc_margin.commands.interrupts import end_on_signals
from zinc_margin.keeping.partials import partial_beside, record
end_on_signals(lambda: None)  # an orderly end that never comes
part = partial_beside(Path("reeds.tif"))
with record(part) as reserve:
    part.write_bytes(b"half")
    Path("reeds.tif").touch()
    reserve(Path("reeds.tif").absolute())
    print("ready", flush=True)
    time.sleep(600)
"""


def test_a_stuck_program_ends_and_removes_what_it_had_not_finished(tmp_path):
    code = STUCK.replace('Path("reeds.tif")', f"Path({str(tmp_path / 'reeds.tif')!r})")
    process = started([sys.executable, "-c", code])
    assert process.stdout.readline() == "ready\n"
    assert len(list(tmp_path.iterdir())) == 2
    _, err = ended(process, signal.SIGTERM)
    assert process.returncode == 130 and "unfinished ones removed" in err
    assert not list(tmp_path.iterdir())


@BOTH
def test_a_printing_system_that_never_answers(number, tmp_path):
    with socket.create_server(("127.0.0.1", 0)) as silent:
        place = f"127.0.0.1:{silent.getsockname()[1]}"
        process = started([*COMMAND, "printers"], env=os.environ | {"CUPS_SERVER": place})
        client, _ = silent.accept()
        with client:
            _, err = ended(process, number)
    assert process.returncode == 130 and err.startswith("zinc-margin: Stopped")
    assert "Traceback" not in err


@BOTH
def test_a_large_file_under_way(number, jpeg, tmp_path):
    goal = tmp_path / "out" / "large.tif"
    goal.parent.mkdir()
    asked = ["make", jpeg, "--size", "200x150cm", "--ppi", 300, "--method", "lanczos", "--out"]
    process = started([*COMMAND, *map(str, asked), str(goal)])
    while not list(goal.parent.iterdir()) and process.poll() is None:
        time.sleep(0.02)
    _, err = ended(process, number)
    assert process.returncode == 130 and "Stopped" in err
    assert not list(goal.parent.iterdir())


def test_the_window_ends_without_a_question(jpeg):
    process = started(
        [*COMMAND, "open", str(jpeg)], env=os.environ | {"QT_QPA_PLATFORM": "offscreen"}
    )
    time.sleep(3)
    _, err = ended(process, signal.SIGTERM)
    assert process.returncode == 130 and "Traceback" not in err


@pytest.mark.parametrize(
    "arguments",
    [
        ("check", "PIPE.pdf", "--against", "kiln-street"),
        ("make", "PIPE.jpg", "--size", "10x15", "--out", "o.tif"),
        ("plan", "PIPE.jpg", "--size", "10x15", "--docket", "PIPE.json"),
        ("inspect", "PIPE.tif"),
        ("check", "PIPE.jpg", "--against", "PIPE.json"),
    ],
)
def test_pipes_are_never_waited_for(arguments, tmp_path):
    for ending in ("pdf", "jpg", "json", "tif"):
        os.mkfifo(tmp_path / f"pipe.{ending}")
    named = [each.replace("PIPE", str(tmp_path / "pipe")) for each in arguments]
    done = subprocess.run([*COMMAND, *named], capture_output=True, text=True, timeout=60)
    assert done.returncode in (1, 2) and "pipe" in done.stderr
