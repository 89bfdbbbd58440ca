"""What is left of a run that ended badly, and what this machine remembers of its own pace."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import time

import numpy as np
import pytest
from PIL import Image

from tests.conftest import docket_of, photo_of
from zinc_margin.handoff import pace
from zinc_margin.handoff.make import make_file
from zinc_margin.keeping.partials import partial_beside, record, sweep
from zinc_margin.plan.build import plan


@pytest.fixture(autouse=True)
def state(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    return tmp_path / "state" / "zinc-margin"


def test_a_partial_is_noted_only_while_it_is_written(tmp_path, state):
    part = partial_beside(tmp_path / "print.tif")
    with record(part):
        part.write_bytes(b"half")
        entries = list((state / "partials").iterdir())
        assert json.loads(entries[0].read_text())["partial"] == str(part)
        assert sweep() == [] and part.exists()  # its owner lives
    assert list((state / "partials").iterdir()) == []


def test_an_orphan_is_taken_away_and_nothing_else(tmp_path, state):
    folder = state / "partials"
    folder.mkdir(parents=True)
    orphan = partial_beside(tmp_path / "print.tif")
    precious = tmp_path / "precious.tif"
    for path in (orphan, precious):
        path.write_bytes(b"x")
    for number, noted in enumerate((str(orphan), str(precious), "relative.part", 7)):
        (folder / f"{number}.json").write_text(json.dumps({"partial": noted}))
    (folder / "odd.json").write_text("{")
    assert sweep() == [orphan]
    assert precious.exists() and not orphan.exists() and list(folder.iterdir()) == []
    assert sweep() == []


def test_a_killed_run_leaves_a_partial_that_the_next_start_removes(tmp_path):
    photo = tmp_path / "kiln.png"
    Image.fromarray(
        np.random.default_rng(1).integers(0, 255, (900, 1400, 3)).astype(np.uint8)
    ).save(photo)
    out = tmp_path / "wall.tif"
    make = [
        sys.executable,
        "-m",
        "zinc_margin.commands",
        "make",
        str(photo),
        "--size",
        "2x1.3m",
        "--ppi",
        "200",
        "--out",
        str(out),
    ]
    process = subprocess.Popen(make, env=os.environ)
    try:
        end = time.monotonic() + 240
        while not list(tmp_path.glob(".wall.tif.*.part")) and time.monotonic() < end:
            time.sleep(0.02)
        assert sweep() == []  # it is still being written
    finally:
        process.send_signal(signal.SIGKILL)
        process.wait()
    left = list(tmp_path.glob(".wall.tif.*.part"))
    assert len(left) == 1 and not out.exists()
    assert sweep() == left
    assert list(tmp_path.glob(".wall*")) == []


def test_a_folder_that_cannot_be_noted_in_does_not_stop_the_work(tmp_path, monkeypatch):
    blocked = tmp_path / "blocked"
    blocked.write_text("")
    monkeypatch.setenv("XDG_STATE_HOME", str(blocked))
    photo = photo_of(np.full((60, 90, 3), 90, np.uint8))
    written = make_file(photo, plan(photo.facts, docket_of("9x6cm")), tmp_path / "a.tif")
    assert written.path.exists()
    assert pace.predict(written.plan) > 0 and sweep() == []


def test_a_partial_with_a_line_break_in_its_name_is_swept(tmp_path, state):
    part = partial_beside(tmp_path / "two\nlines.tif")
    part.write_bytes(b"half")
    folder = state / "partials"
    folder.mkdir(parents=True, exist_ok=True)
    (folder / "orphan.json").write_text(json.dumps({"partial": str(part)}))
    assert sweep() == [part] and not part.exists()


@pytest.mark.parametrize("name", ["a" * 250 + ".tif", "窯" * 83 + ".tif", "\udcff" * 240])
def test_a_partial_fits_where_its_goal_does(tmp_path, name):
    goal = tmp_path / name
    goal.write_bytes(b"")
    partial_beside(goal).write_bytes(b"half")


def test_a_state_folder_with_an_impossible_name_holds_nothing_to_sweep(monkeypatch):
    monkeypatch.setenv("XDG_STATE_HOME", "/" + "d" * 300)
    assert sweep() == []
