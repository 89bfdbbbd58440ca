"""Making that is killed without a word at random moments: nothing is lost, nothing is half.

``python -m tests.attacks.kills --count 40 --seed 1``. Each kill hits a process of its own somewhere
between its first step and the last; then what lies there is looked at, the same command is run
again to its end, and everything is looked at once more.
"""

from __future__ import annotations

import argparse
import hashlib
import os
import random
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from PIL import Image

from zinc_margin.handoff.checking import read_as_lab
from zinc_margin.measure.errors import ZincError

_PRINT = ["--size", "15x10cm", "--ppi", "75", "--method", "lanczos"]
_BEFORE = "before.jpg"


@dataclass(frozen=True)
class Work:
    """A command, and what is there when it has come to its end."""

    name: str
    words: tuple[str, ...]
    files: int


WORKS = (
    Work("a TIFF", ("make", "in/0.jpg", *_PRINT, "--out", "out/a.tif"), 1),
    Work("a PNG", ("make", "in/0.jpg", *_PRINT, "--out", "out/a.png"), 1),
    Work(
        "in place of another",
        ("make", "in/0.jpg", *_PRINT, "--overwrite", "--out", f"out/{_BEFORE}"),
        1,
    ),
    Work(
        "in pieces",
        ("make", "in/0.jpg", *_PRINT, "--pieces", "6x6cm", "--overwrite", "--out", "out/pieces/"),
        0,
    ),
    Work("a batch", ("batch", "in", "--preset", "card.json", "--out", "out"), 6),
)


def prepared(folder: Path) -> dict[str, str]:
    """Put photos, a preset and an older print there; return the digests of the photos."""
    (folder / "in").mkdir(parents=True)
    (folder / "out").mkdir()
    noise = np.random.default_rng(1).integers(90, 160, (350, 500, 3), np.uint8)
    for n in range(6):
        Image.fromarray(np.roll(noise, 100 * n, 1)).save(folder / "in" / f"{n}.jpg", quality=90)
    (folder / "card.json").write_text(
        '{"zinc_margin_preset": 1, "name": "Card", "docket": {"size": {"size": {"label": "card",'
        '"width_mm": 150, "height_mm": 100}, "ppi": 75}, "pixels": {"choice": "resample",'
        ' "method": "lanczos"},'
        '"file": {"format": "jpeg"}}}'
    )
    return {path.name: digest(path) for path in (folder / "in").iterdir()}


def digest(path: Path) -> str:
    """Return a file's SHA-256."""
    return hashlib.sha256(path.read_bytes()).hexdigest()


def wrongs(folder: Path, photos: dict[str, str], older: str | None, ended: bool) -> Iterator[str]:
    """Yield what is not as it has to be."""
    for name, was in photos.items():
        if digest(folder / "in" / name) != was:
            yield f"the photo {name} is another"
    for path in sorted((folder / "out").rglob("*")):
        if path.is_dir() or path.suffix in (".json", ".html", ".csv"):
            continue
        if path.name.startswith("."):
            if ended:
                yield f"{path.name} was left behind"
            continue
        if older is not None and path.name == _BEFORE and digest(path) == older:
            continue
        try:
            read_as_lab(path)
        except ZincError as why:
            yield f"{path.name} is not whole: {why}"


def command(words: tuple[str, ...]) -> list[str]:
    """Return a process's command."""
    return [sys.executable, "-m", "zinc_margin.commands", *words]


def run_once(work: Work, after: float | None) -> tuple[bool, list[str], float]:
    """Run a work, killed after so many seconds; return whether it was hit, and what is wrong."""
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place)
        photos = prepared(folder)
        older = None
        if work.name == "in place of another":
            Image.new("RGB", (30, 20), "gray").save(folder / "out" / _BEFORE)
            older = digest(folder / "out" / _BEFORE)
        home = {f"XDG_{kind}_HOME": str(folder / "home") for kind in ("DATA", "STATE")}
        known = os.environ | home | {"PYTHONPATH": str(Path(__file__).parents[2])}
        began = time.monotonic()
        process = subprocess.Popen(
            command(work.words),
            cwd=folder,
            env=known,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        hit = False
        try:
            if process.wait(after):
                return False, ["left alone, it failed"], 0.0
        except subprocess.TimeoutExpired:
            process.send_signal(signal.SIGKILL)
            process.wait()
            hit = True
        took = time.monotonic() - began
        wrong = [f"killed: {each}" for each in wrongs(folder, photos, older, not hit)]
        if hit:
            words = work.words
            if work.files == 1 and "--overwrite" not in words:
                words = (*words, "--overwrite")  # the kill may have come behind the name
            again = subprocess.run(command(words), cwd=folder, env=known, capture_output=True)
            if again.returncode:
                wrong.append(f"again: {again.stderr.decode()[-300:]}")
        wrong += [f"again: {each}" for each in wrongs(folder, photos, older, True)]
        made = [
            path
            for path in (folder / "out").rglob("*")
            if path.suffix in (".jpg", ".tif", ".png") and path.is_file()
        ]
        if work.files and len(made) != work.files:
            wrong.append(f"{len(made)} files where there have to be {work.files}")
        if older is not None and digest(folder / "out" / _BEFORE) == older:
            wrong.append("again: the older print is still there")
        left = list((folder / "home").rglob("partials/*.json"))
        if left:
            wrong.append(f"{len(left)} entries of partial files are left")
        return hit, wrong, took


def attack(count: int, seed: int, works: tuple[Work, ...] = WORKS) -> tuple[int, list[str]]:
    """Kill so many times; return how often one was hit under way, and what went wrong."""
    chance = random.Random(seed)
    # the first of each is left alone, which tells how long it takes
    long, hits, wrong = {}, 0, []
    for work in works:
        _, found, long[work.name] = run_once(work, None)
        wrong += [f"{work.name}, left alone: {each}" for each in found]
    for number in range(count):
        work = works[number % len(works)]
        # most of the time is the start of the program; the last two thirds are where it writes
        after = long[work.name] * chance.uniform(0.3, 1.0)
        hit, found, _ = run_once(work, after)
        hits += hit
        wrong += [
            f"{work.name}, killed after {after:.2f} s of {long[work.name]:.2f}: {each}"
            for each in found
        ]
    return hits, wrong


def main() -> int:
    """Attack, and say how it went."""
    parser = argparse.ArgumentParser(description="Kills at random moments.")
    parser.add_argument("--count", type=int, default=40)
    parser.add_argument("--seed", type=int, default=0)
    options = parser.parse_args()
    hits, wrong = attack(options.count, options.seed)
    print("\n".join(wrong))
    print(f"{options.count} kills, {hits} of them under way: {len(wrong)} things went wrong.")
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
