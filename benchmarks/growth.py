"""How time and memory grow, as a chart: docs/growth.json and docs/plots/growth.svg.

    python benchmarks/growth.py          measure everything (about an hour), and draw
    python benchmarks/growth.py WHAT     measure one thing again that grows, and draw
    python benchmarks/growth.py draw     draw what was measured last
    python benchmarks/growth.py KIND N   measure one point, in a process of its own

Each point runs in its own process, so its peak of memory is its own. Peers do the same work: they
enlarge by two and sharpen, or sharpen and save a folder's photos one after the other.
"""

from __future__ import annotations

import json
import math
import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction
from pathlib import Path
from xml.sax.saxutils import escape

import numpy as np
from common import photo, picture
from PIL import Image, ImageFilter

DOCS = Path(__file__).resolve().parents[1] / "docs"
RESULTS, CHART = DOCS / "growth.json", DOCS / "plots" / "growth.svg"
MEGAPIXELS = (1, 6, 24, 96, 384, 1500)
GROWTH: dict[str, dict[str, tuple[int, ...]]] = {
    "megapixels of the file": {
        "pixels kept": MEGAPIXELS[:-1],
        "enlarged": MEGAPIXELS,
        "enlarged, sharpened": MEGAPIXELS,
        "AI": MEGAPIXELS[:-2],
        "Pillow": MEGAPIXELS[:-1],
        "libvips": MEGAPIXELS,
    },
    "photos in a batch": {"batch": (10, 50, 200, 1000, 2000), "Pillow's loop": (10, 200, 2000)},
    "open photos": {"window": (1, 10, 30, 100, 300)},
}
"""What grows, then each way to do it, and the points measured."""
TONES = ("#8e3b2e", "#1b1b1b", "#5b6f5a", "#b9812f", "#8a8a88", "#4a6a8a")
Image.MAX_IMAGE_PIXELS = None


def sides(megapixels: float) -> tuple[int, int]:
    return round((megapixels * 1.5e6) ** 0.5), round((megapixels * 1e6 / 1.5) ** 0.5)


def make_one(kind: str, megapixels: int, folder: Path) -> Callable[[], object]:
    """Our way: a file of so many megapixels."""
    from zinc_margin.docket.docket import Docket
    from zinc_margin.handoff.make import make_file
    from zinc_margin.measure.sizes import PrintSize
    from zinc_margin.plan.build import plan

    keeps = kind == "pixels kept"
    source = photo(picture(*sides(megapixels if keeps else megapixels / 4)))
    wide, high = (Fraction(side * (1 if keeps else 2)) for side in source.codes.shape[1::-1])
    size = PrintSize("", wide / 300 * Fraction("25.4"), high / 300 * Fraction("25.4"))
    lines = Docket()
    docket = replace(
        lines,
        size=replace(lines.size, size=size, ppi=Fraction(300)),
        pixels=replace(
            lines.pixels,
            choice="keep" if keeps else "resample",
            method=None if keeps else "ai" if kind == "AI" else "lanczos",
        ),
        sharpen=replace(lines.sharpen, on=kind == "enlarged, sharpened"),
    )
    made = plan(source.facts, docket)
    return lambda: make_file(source, made, folder / "print.tif")


def pillow_one(megapixels: int, folder: Path) -> Callable[[], object]:
    image = Image.fromarray(picture(*sides(megapixels / 4)))

    def work() -> None:
        large = image.resize((2 * image.width, 2 * image.height), Image.Resampling.LANCZOS)
        large.filter(ImageFilter.UnsharpMask(2, 80, 2)).save(folder / "print.tif")

    return work


def libvips_one(megapixels: int, folder: Path) -> Callable[[], object]:
    import pyvips

    codes = picture(*sides(megapixels / 4))
    image = pyvips.Image.new_from_array(codes)

    def work() -> None:
        large = image.resize(2, kernel="lanczos3").sharpen(sigma=1, x1=2, m2=3)
        large.write_to_file(f"{folder}/print.tif[bigtiff]")

    return work


def folder_of(count: int, folder: Path, side: int) -> Path:
    """A folder of photos, each a little different from the next."""
    (folder / "photos").mkdir()
    codes = picture(side * 3 // 2, side)
    for at in range(count):
        image = Image.fromarray(np.roll(codes, at, 1))
        image.save(folder / "photos" / f"photo-{at:04}.jpg", quality=92)
    return folder / "photos"


def batch(count: int, folder: Path) -> Callable[[], object]:
    from zinc_margin.commands import main

    photos = folder_of(count, folder, 400)
    words = ["batch", str(photos), "--size", "9x6cm", "--method", "lanczos"]
    return lambda: main([*words, "--out", str(folder / "prints")])


def pillow_loop(count: int, folder: Path) -> Callable[[], object]:
    photos = sorted(folder_of(count, folder, 400).iterdir())
    (folder / "prints").mkdir()

    def work() -> None:
        for path in photos:
            with Image.open(path) as image:
                sized = image.resize((1063, 709), Image.Resampling.LANCZOS)
            sized.filter(ImageFilter.UnsharpMask(2, 80, 2)).save(
                folder / "prints" / path.name, quality=95
            )

    return work


def window(count: int, folder: Path) -> Callable[[], object]:
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    sys.path.insert(0, str(DOCS))
    from demo_window import empty_window, settle

    photos = sorted(folder_of(count, folder, 1600).iterdir())
    shown = empty_window()
    settle(shown)

    def work() -> None:
        shown.open_photos(photos)
        settle(shown)
        while shown.busy:
            settle(shown)

    return work


def measure(kind: str, count: int) -> None:
    """Print the seconds of one point, and the process's peak of memory in MB."""
    ways: dict[str, Callable[[int, Path], Callable[[], object]]] = {
        "Pillow": pillow_one,
        "libvips": libvips_one,
        "batch": batch,
        "Pillow's loop": pillow_loop,
        "window": window,
    }
    os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()
    with tempfile.TemporaryDirectory() as name:
        way = ways.get(kind, lambda count, folder: make_one(kind, count, folder))
        work = way(count, Path(name))
        began = time.perf_counter()
        work()
        gone = time.perf_counter() - began
    status = Path("/proc/self/status").read_text().splitlines()
    memory = int(next(line.split()[1] for line in status if line.startswith("VmHWM")))
    print(f"\n{gone:.2f} {memory / 1000:.0f}", flush=True)
    os._exit(0)


def measure_each(ways: dict[str, tuple[int, ...]]) -> dict[str, list[list[float]]]:
    found: dict[str, list[list[float]]] = {kind: [] for kind in ways}
    for kind, counts in ways.items():
        for count in counts:
            run = [sys.executable, __file__, kind, str(count)]
            done = subprocess.run(
                run, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True, check=True
            )
            seconds, memory = map(float, done.stdout.split()[-2:])
            found[kind].append([count, seconds, memory])
            print(f"{kind}, {count}: {seconds:.2f} s, {memory:.0f} MB", flush=True)
    return found


WIDE, HIGH, LEFT, GAP = 340, 250, 56, 24


def panel(
    x: int, y: int, title: str, unit: str, lines: dict[str, list[tuple[float, float]]]
) -> list[str]:
    """One chart, both of its axes logarithmic."""
    points = [point for line in lines.values() for point in line]
    (x0, x1), (y0, y1) = (
        (
            math.floor(math.log10(min(point[at] for point in points))),
            math.ceil(math.log10(max(point[at] for point in points)) - 0.01),
        )
        for at in (0, 1)
    )

    def place(point: tuple[float, float]) -> tuple[float, float]:
        across, down = (math.log10(max(value, 1e-3)) for value in point)
        return (
            x + LEFT + (across - x0) / (x1 - x0) * WIDE,
            y + 30 + (1 - (down - y0) / (y1 - y0)) * HIGH,
        )

    out = [f'<text x="{x + 6}" y="{y + 18}" font-weight="600">{escape(unit)}</text>']
    for power in range(x0, x1 + 1):
        at = place((10.0**power, 10.0**y0))
        out.append(f'<path d="M{at[0]:.1f} {y + 30}V{y + 30 + HIGH}" stroke="#d8d8d6"/>')
        out.append(f'<text x="{at[0]:.1f}" y="{y + HIGH + 46}" text-anchor="middle">'
                   f"{10**power:g}</text>")  # fmt: skip
    for power in range(y0, y1 + 1):
        at = place((10.0**x0, 10.0**power))
        out.append(f'<path d="M{x + LEFT} {at[1]:.1f}H{x + LEFT + WIDE}" stroke="#d8d8d6"/>')
        out.append(f'<text x="{x + LEFT - 6}" y="{at[1] + 4:.1f}" text-anchor="end">'
                   f"{10.0**power:g}</text>")  # fmt: skip
    out.append(f'<text x="{x + LEFT + WIDE / 2}" y="{y + HIGH + 62}" text-anchor="middle">'
               f"{escape(title)}</text>")  # fmt: skip
    for (name, line), tone in zip(lines.items(), TONES, strict=False):
        path = "L".join("{:.1f} {:.1f}".format(*place(point)) for point in line)
        dashed = ' stroke-dasharray="5 3"' if name.startswith(("Pillow", "libvips")) else ""
        out.append(f'<path d="M{path}" stroke="{tone}" stroke-width="1.8" fill="none"{dashed}/>')
        out += [
            '<circle cx="{:.1f}" cy="{:.1f}" r="2.6" fill="{}"/>'.format(*place(point), tone)
            for point in line
        ]
    return out


def legend(x: int, y: int, names: list[str]) -> list[str]:
    out = []
    for at, (name, tone) in enumerate(zip(names, TONES, strict=False)):
        place = x + LEFT + at % 3 * 118, y + at // 3 * 18
        out.append(f'<path d="M{place[0]} {place[1]}h16" stroke="{tone}" stroke-width="2.4"/>')
        out.append(f'<text x="{place[0] + 21}" y="{place[1] + 4}">{escape(name)}</text>')
    return out


def draw(found: dict[str, dict[str, list[list[float]]]]) -> str:
    step = LEFT + WIDE + GAP
    across, down = step * len(found) + 10, 2 * (HIGH + 80) + 60
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{across}" height="{down}" '
        f'viewBox="0 0 {across} {down}" font-family="sans-serif" font-size="12">'
        f'<rect width="{across}" height="{down}" fill="#f7f7f6"/>'
    ]
    for at, (what, ways) in enumerate(found.items()):
        for row, unit in enumerate(("seconds", "peak memory, MB")):
            lines = {name: [(p[0], p[1 + row]) for p in points] for name, points in ways.items()}
            out += panel(step * at, 6 + row * (HIGH + 80), what, unit, lines)
        out += legend(step * at, 2 * (HIGH + 80) + 20, list(ways))
    return "\n".join([*out, "</svg>"]) + "\n"


def main() -> None:
    if len(sys.argv) > 2:
        measure(sys.argv[1], int(sys.argv[2]))
    found = json.loads(RESULTS.read_text("utf-8")) if RESULTS.exists() else {}
    for what, ways in GROWTH.items():
        if len(sys.argv) == 1 or sys.argv[1] == what:
            found[what] = measure_each(ways)
            RESULTS.write_text(json.dumps(found) + "\n", "utf-8")
    CHART.write_text(draw(found), "utf-8")


if __name__ == "__main__":
    main()
