"""A watched folder: only whole photos, each once; several presets over one batch."""

from __future__ import annotations

import signal
import subprocess
import sys
import time

from PIL import Image

from zinc_margin.commands import main
from zinc_margin.handoff.watching import Arrivals


def test_a_photo_counts_when_two_looks_find_it_alike(tmp_path, jpeg):
    data, folder = jpeg.read_bytes(), tmp_path / "in"
    folder.mkdir()
    arrivals, late = Arrivals(folder), folder / "late.jpg"
    late.write_bytes(data[:500])
    assert arrivals.look() == []
    late.write_bytes(data)  # still being copied
    assert arrivals.look() == []
    assert arrivals.look() == [late] and arrivals.look() == []
    late.write_bytes(data + b"\0")  # another file by now
    assert arrivals.look() == [] and arrivals.look() == [late]
    (folder / "notes.txt").write_text("clay")
    (folder / "empty.jpg").touch()
    assert arrivals.look() == [] and arrivals.look() == []


def test_a_folder_is_watched_until_it_is_stopped(tmp_path, jpeg):
    folder, out = tmp_path / "in", tmp_path / "out"
    folder.mkdir()
    command = [
        sys.executable,
        "-m",
        "zinc_margin.commands",
        "batch",
        "--watch",
        str(folder),
        "--preset",
        "Album print, 15 × 10 cm",
        "--out",
        str(out),
    ]
    with subprocess.Popen(
        command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True
    ) as run:
        assert "Watching" in run.stderr.readline()
        jpeg.rename(folder / "kiln.jpg")
        end = time.monotonic() + 120
        while not (out.exists() and list(out.glob("kiln*"))):
            assert time.monotonic() < end and run.poll() is None
            time.sleep(0.1)
        time.sleep(0.3)
        run.send_signal(signal.SIGINT)
        said, _ = run.communicate(timeout=60)
    assert run.returncode == 0 and "1 file made" in said


def test_what_would_watch_itself_is_refused(tmp_path, capsys):
    assert main(["batch", "--watch", str(tmp_path), "--out", str(tmp_path)]) == 2
    assert "would be made again" in capsys.readouterr().err
    assert main(["batch", "--watch", str(tmp_path / "none"), "--out", str(tmp_path)]) == 2
    assert main(["batch", "--out", str(tmp_path)]) == 2


def test_several_presets_make_every_photo_in_each_way(tmp_path, scene, capsys):
    photo, out = tmp_path / "kiln.png", tmp_path / "out"
    Image.fromarray(scene(1800, 1200)).save(photo)
    line = ["batch", str(photo), "--out", str(out), "--preset", "Album print, 15 × 10 cm"]
    assert main([*line, "--preset", "By email, 1600 px"]) == 0, capsys.readouterr().err
    sizes = {Image.open(path).size for path in out.iterdir() if path.stem.startswith("kiln")}
    assert len(sizes) == 2
