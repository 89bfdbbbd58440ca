"""What the program tells of a file beforehand, bytes and seconds, against what comes out.

Twenty dockets of a few photographs; the first file of all teaches the machine's pace and is not
counted. ``--ns`` fits the table of `handoff/data/pace.json` instead.

    python benchmarks/bench_estimates.py PHOTO … [--ns]
"""

from __future__ import annotations

import os
import sys
import tempfile
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

import numpy as np
from scipy.optimize import nnls

from zinc_margin.commands.program import main as command
from zinc_margin.handoff import pace
from zinc_margin.handoff.make import make_file
from zinc_margin.photo.pixels import Photo, read_photo
from zinc_margin.plan.build import plan as make_plan
from zinc_margin.plan.model import Plan

CASES = (
    ("--size 15x10cm --by lab-online", ".jpg"),
    ("--size 30x20cm", ".tif"),
    ("--size 30x20cm --ppi 300 --bits 16", ".tif"),
    ("--size 45x30cm --ppi 300 --method lanczos", ".tif"),
    ("--size 45x30cm --ppi 300 --method lanczos --quality 85", ".jpg"),
    ("--size 60x40cm --ppi 200 --method ai --clean 0", ".tif"),
    ("--size 60x40cm --ppi 200 --method ai --clean 0", ".jpg"),
    ("--size 40x27cm --ppi 200 --method ai --clean 60", ".tif"),
    ("--size 40x27cm --ppi 200 --method ai --clean 30 --denoise 20", ".tif"),
    ("--size 40x27cm --ppi 200 --method ai-fine --clean 0", ".tif"),
    ("--size 30x20cm --ppi 300 --rotate 3 --method lanczos", ".tif"),
    ("--size 30x20cm --ppi 250 --bits 8", ".png"),
    ("--size 30x20cm --ppi 250 --bits 16 --no-sharpen", ".png"),
    ("--size 30x20cm --ppi 250 --quality 60", ".jpg"),
    ("--size 30x20cm --ppi 250 --quality 98 --subsampling 4:2:0", ".jpg"),
    ("--long-edge 2048px", ".jpg"),
    ("--long-edge 1600px", ".webp"),
    ("--long-edge 1600px", ".jxl"),
    ("--size 30x20cm --ppi 250 --compression deflate", ".tif"),
    ("--size 20x13cm --ppi 250 --grain 20 --colour wide", ".tif"),
)


def planned(photo: Photo, options: str, out: Path) -> Plan:
    """The plan of one case; the command line reads its options."""
    held: list[Plan] = []
    from zinc_margin.commands import make_command
    from zinc_margin.handoff import delivery

    def keep(photo: Photo, plan: Plan, *_: object) -> None:
        held.append(plan)
        raise SystemExit

    usual, delivery.deliver = delivery.deliver, keep  # type: ignore[assignment]
    try:
        with suppress(SystemExit):
            command(["make", str(photo.facts.path), *options.split(), "--out", str(out)])
    finally:
        delivery.deliver = usual
    del make_command
    return make_plan(photo.facts, held[0].docket, held[0].machine)


def cases(paths: list[Path], folder: Path) -> Iterator[tuple[str, Photo, Plan, Path]]:
    """Every case in turn, each of the next photograph."""
    photos = [read_photo(path) for path in paths]
    for number, (options, ending) in enumerate(CASES):
        photo = photos[number % len(photos)]
        out = folder / f"{number}{ending}"
        yield f"{options} {ending}", photo, planned(photo, options, out), out


def tell(paths: list[Path], folder: Path) -> None:
    """Print the table: told and true."""
    print(f"{'docket':76} {'MB told':>8} {'true':>7} {'':>5} {'s told':>7} {'true':>6}")
    off_bytes, off_seconds = [], []
    for number, (name, photo, plan, out) in enumerate(cases(paths, folder)):
        if number == 0:  # the machine's first file
            make_file(photo, plan, folder / f"first{out.suffix}")
            rows = list(cases(paths, folder))[2]
            make_file(rows[1], rows[2], folder / "teaches.tif")
        seconds, size = pace.predict(plan), plan.file.bytes_estimate
        written = make_file(photo, plan, out)
        times = size / written.bytes, seconds / written.seconds
        off_bytes.append(times[0])
        off_seconds.append(times[1])
        print(
            f"{name:76} {size / 1e6:8.2f} {written.bytes / 1e6:7.2f} {times[0]:5.2f} "
            f"{seconds:7.1f} {written.seconds:6.1f} {times[1]:5.2f}",
            flush=True,
        )
    within = sum(2 / 3 <= one <= 4 / 3 for one in off_bytes)
    soon = sum(1 / 1.5 <= one <= 1.5 for one in off_seconds)
    print(f"bytes within a third: {within} of {len(CASES)}; time within 1.5: {soon}")


def fit(paths: list[Path], folder: Path) -> None:
    """Print the nanoseconds of every kind of work that explain what was measured."""
    works, seconds = [], []
    for _, photo, plan, out in cases(paths, folder):
        make_file(photo, plan, folder / f"warm{out.suffix}", overwrite=True)
        written = make_file(photo, plan, out)
        works.append(pace.work(plan))
        seconds.append(written.seconds)
    kinds = sorted({kind for work in works for kind in work})
    table = np.array([[work[kind] * 1e-9 for kind in kinds] for work in works])
    weights = 1 / np.array(seconds)[:, None]
    found, _ = nnls(table * weights, np.array(seconds) * weights[:, 0])
    for kind, ns in zip(kinds, found, strict=True):
        print(f'"{kind}": {ns:.3g},')
    for row, true in zip(table @ found, seconds, strict=True):
        print(f"{row:.2f} {true:.2f}")


if __name__ == "__main__":
    named = [Path(one) for one in sys.argv[1:] if not one.startswith("--")]
    with tempfile.TemporaryDirectory() as held:
        os.environ["XDG_STATE_HOME"] = held
        (fit if "--ns" in sys.argv else tell)(named, Path(held))
