"""The ladder for 200 sizes: planning, painting the nest, and the first sight of the whole bench."""

from __future__ import annotations

import json
import os
import statistics
import sys
import time
from fractions import Fraction
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["LANG"] = "C.UTF-8"

import numpy as np
from common import best, say
from PIL import Image, ImageDraw
from PySide6.QtGui import QPixmap
from PySide6.QtWidgets import QApplication

from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.shell.application import start
from zinc_margin.desktop.shell.window import Window
from zinc_margin.docket.docket import Docket
from zinc_margin.facts.facts import Facts
from zinc_margin.facts.measurements import Measured
from zinc_margin.keeping.own import OwnSizes
from zinc_margin.measure.sizes import PrintSize, catalogue
from zinc_margin.measure.ways import named_ways
from zinc_margin.plan.build import plan
from zinc_margin.plan.size.ladder import ladder

WANTED = 200


class Kept(OwnSizes):
    """Own sizes that fill the ladder up to 200; nothing is read or written."""

    def __init__(self) -> None:
        count = WANTED - len(catalogue()) - len(named_ways())
        self.all = tuple(
            PrintSize(f"own {n}", Fraction(105 + 11 * n), Fraction(80 + 7 * n), "mine")
            for n in range(count)
        )


def main() -> None:
    facts = Facts(Path("a.jpg"), "JPEG", 6000, 4000, 8, "RGB", measured=Measured(0.1))
    docket, own = Docket(), Kept()
    made = plan(facts, docket)
    rungs = ladder(facts, docket, made, own.all)
    assert len(rungs) == WANTED
    seconds = best(lambda: ladder(facts, docket, made, own.all), 20)
    rows = json.dumps([[rung.size.label, rung.effective_ppi, rung.grade] for rung in rungs])
    other = best(lambda: json.loads(rows), 20)
    print(
        f"{WANTED} sizes planned in {seconds * 1e3:.2f} ms, {seconds / other:.1f} times as long "
        f"as json reads their rows; under 10 ms is asked: {'met' if seconds < 0.01 else 'NOT met'}"
    )
    start()
    table = Table("cm", own)
    one = table.add(facts, docket)
    one.preview = np.full((1067, 1600, 4), 140, np.uint8)
    window = Window(table)
    bench = window.benches.ladder
    bench.family.show_value("")
    table.open_line("photo")
    window.show()
    settle()

    def opened() -> float:
        table.open_line("photo")
        settle()
        began = time.perf_counter()
        table.open_line("size")
        settle()
        return time.perf_counter() - began

    first = opened()
    later = statistics.median(opened() for _ in range(15))
    print(
        f"the ladder of {WANTED} sizes, and the whole window, painted {later * 1e3:.0f} ms after "
        f"its line was opened ({first * 1e3:.0f} ms the first time, with every letter still to be "
        f"drawn); under 50 ms is asked: {'met' if later < 0.05 else 'NOT met'}"
    )
    goal = QPixmap(bench.nest.size())
    painted = best(lambda: bench.nest.render(goal), 20)
    outlines = [outline.box for outline in bench.nest.layout_of(one).outlines]

    def by_pillow() -> None:
        picture = Image.new("RGB", (goal.width(), goal.height()), "#bcbcbc")
        photo = Image.fromarray(one.preview[..., :3]).resize((500, 333))
        picture.paste(photo, (44, 300))
        draw = ImageDraw.Draw(picture)
        for box in outlines:
            draw.rectangle([box.left(), max(0, box.top()), box.right(), box.bottom()])
        for spot in bench.nest.labels:
            draw.text((spot.left(), spot.top()), "40 × 30 cm")

    say(
        f"nest of {WANTED} sizes painted ({painted * 1e3:.1f} ms; 16.7 are a frame at 60 a second)",
        painted,
        best(by_pillow, 10),
        "Pillow's drawing of the same outlines and words",
        2.0,
    )
    window.close()


def settle() -> None:
    """Let everything be painted that waits to be."""
    for _ in range(4):
        QApplication.processEvents()


if __name__ == "__main__":
    sys.exit(main())
